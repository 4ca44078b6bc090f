package page

import (
	"encoding/json"
	"regexp"
	"strconv"
	"strings"

	"mendry/internal/core/source"
)

// Setting is a setting of a set that the site's markup offers, such as the seconds between slides: a number, yes or
// no, or a word. It is an attribute, or one of several in an attribute: as "key: value; key: value", or as a JSON
// object.
type Setting struct {
	Part  string `json:"part"` // the part that has the attribute
	Name  string `json:"name"`
	Key   string `json:"key,omitempty"` // in an attribute that holds several
	Value string `json:"value"`
	Is    string `json:"is"` // number, yes-no, word

	node *source.Node
}

// The kinds of settings.
const (
	IsNumber = "number"
	IsYesNo  = "yes-no"
	IsWord   = "word"
)

const holdersAbove = 3 // elements around a set that may carry its settings

var (
	aNumber = regexp.MustCompile(`^-?\d{1,7}(\.\d{1,4})?$`)
	aYesNo  = regexp.MustCompile(`^(?i:true|false|yes|no|on|off)$`)
	aWord   = regexp.MustCompile(`^[a-z][a-z-]{1,23}$`)
	// wiring are data attributes by which scripts find their elements.
	wiring = regexp.MustCompile(
		`^data-(.*-)?(toggle|target|dismiss|src|srcset|id|url|href|key|title|index|parent|slide-to|spy|path|icon|type|name|tabs|tab)$`,
	)
	// several are settings of one attribute, as scripts read them (common practice, no source).
	several = regexp.MustCompile(
		`^\s*[a-zA-Z][\w-]{0,39}\s*:\s*[^:;{}]{1,60}(;\s*[a-zA-Z][\w-]{0,39}\s*:\s*[^:;{}]{1,60})*;?\s*$`,
	)
	oneOf = regexp.MustCompile(`([a-zA-Z][\w-]{0,39})\s*:\s*([^:;{}]{1,60})`)
)

// HowManyShown is what a setting says that is how many items are shown at once.
const HowManyShown = "How many are shown"

const longestSettings = 2000 // bytes of an attribute that holds several

// kindOf is what kind of setting a value is; empty where it is none.
func kindOf(value string) string {
	switch {
	case aNumber.MatchString(value):
		return IsNumber
	case aYesNo.MatchString(value):
		return IsYesNo
	case aWord.MatchString(value):
		return IsWord
	}
	return ""
}

// settingsAt are the settings that an element carries itself.
func (p *Page) settingsAt(n *source.Node) (all []Setting) {
	for _, a := range n.HTML.Attr {
		dash := strings.IndexByte(a.Key, '-')
		if dash < 0 || strings.HasPrefix(a.Key, "aria-") || len(a.Val) > longestSettings || wiring.MatchString(a.Key) {
			continue
		}
		data := strings.HasPrefix(a.Key, "data-")
		switch is := kindOf(a.Val); {
		case is != "" && data:
			all = append(all, Setting{Name: a.Key, Value: a.Val, Is: is, node: n})
		case is != "":
		case strings.HasPrefix(strings.TrimSpace(a.Val), "{"):
			for _, m := range members(a.Val) {
				all = append(all, Setting{Name: a.Key, Key: m.key, Value: m.value, Is: m.is, node: n})
			}
		case strings.Contains(a.Val, ":") && several.MatchString(a.Val):
			for _, m := range oneOf.FindAllStringSubmatch(a.Val, -1) {
				value := strings.TrimSpace(m[2])
				if is := kindOf(value); is != "" {
					all = append(all, Setting{Name: a.Key, Key: m[1], Value: value, Is: is, node: n})
				}
			}
		}
	}
	return all
}

// jsonMember is a member of a JSON object with a plain value, and where that stands.
type jsonMember struct {
	key, value, is string
	start, end     int
	quoted         bool
}

// members are those of an object whose values are settings.
func members(object string) (all []jsonMember) {
	d := json.NewDecoder(strings.NewReader(object))
	d.UseNumber()
	if t, err := d.Token(); err != nil || t != json.Delim('{') {
		return nil
	}
	for d.More() {
		key, err := d.Token()
		if err != nil {
			return nil
		}
		from := int(d.InputOffset())
		var value any
		if d.Decode(&value) != nil {
			return nil
		}
		end := int(d.InputOffset())
		start := from + strings.IndexByte(object[from:end], ':') + 1
		start += len(object[start:end]) - len(strings.TrimLeft(object[start:end], " \t\r\n"))
		m := jsonMember{key: key.(string), start: start, end: end}
		switch v := value.(type) {
		case json.Number:
			m.value, m.is = v.String(), IsNumber
		case bool:
			m.value, m.is = strconv.FormatBool(v), IsYesNo
		case string:
			m.value, m.is, m.quoted = v, kindOf(v), true
		}
		if m.is != "" {
			all = append(all, m)
		}
	}
	if _, err := d.Token(); err != nil {
		return nil
	}
	return all
}

// Allows says in words why a setting cannot be given a value; empty where it can.
func (s Setting) Allows(value string) string {
	switch {
	case s.Is == IsNumber && (!aNumber.MatchString(value) || strings.HasPrefix(value, "-") && !strings.HasPrefix(s.Value, "-")):
		return "A number is wanted here, such as " + s.Value + "."
	case s.Is == IsNumber && !strings.Contains(s.Value, ".") && strings.Contains(value, ".") && !strings.Contains(s.Name+s.Key, "second"):
		return "A whole number is wanted here, such as " + s.Value + "."
	case s.Is == IsYesNo && !aYesNo.MatchString(value):
		return "Yes or no is wanted here."
	case s.Is == IsWord && !aWord.MatchString(value):
		return "A word in small letters is wanted here, such as " + s.Value + "."
	}
	return ""
}

// With is the attribute with another value of the setting; attribute is what it says now. The bytes around stay as
// they are.
func (s Setting) With(attribute, value string) string {
	if s.Key == "" {
		return value
	}
	for _, m := range members(attribute) {
		if m.key == s.Key {
			if m.quoted {
				value = strconv.Quote(value)
			}
			return attribute[:m.start] + value + attribute[m.end:]
		}
	}
	for _, at := range oneOf.FindAllStringSubmatchIndex(attribute, -1) {
		if attribute[at[2]:at[3]] == s.Key {
			was := attribute[at[4]:at[5]]
			return attribute[:at[4]] + value + was[len(strings.TrimRight(was, " \t\r\n")):] + attribute[at[5]:]
		}
	}
	return attribute
}

// YesNo are the words for yes and no in the way that a setting writes them now.
func (s Setting) YesNo() (yes, no string) {
	for _, pair := range [][2]string{{"true", "false"}, {"yes", "no"}, {"on", "off"}} {
		for _, word := range pair {
			switch s.Value {
			case word:
				return pair[0], pair[1]
			case strings.ToUpper(word[:1]) + word[1:]:
				return strings.ToUpper(pair[0][:1]) + pair[0][1:], strings.ToUpper(pair[1][:1]) + pair[1][1:]
			}
		}
	}
	return "true", "false"
}

// Choices are the words that sets of the page use for a setting, in their order, its own first, and those that code
// knows for it: style sheets that ask for an attribute with a word, and scripts that compare it with one.
func (p *Page) Choices(s Setting, code ...[]byte) []string {
	all := []string{s.Value}
	seen := map[string]bool{s.Value: true}
	for _, set := range p.OfKind(Set) {
		for _, other := range set.Settings {
			if other.Name == s.Name && other.Key == s.Key && !seen[other.Value] && other.Is == IsWord {
				seen[other.Value] = true
				all = append(all, other.Value)
			}
		}
	}
	if s.Is != IsWord {
		return all
	}
	for _, known := range knownIn(s) {
		for _, c := range code {
			for _, m := range known.FindAllSubmatch(c, -1) {
				if word := string(m[1]); !seen[word] && aWord.MatchString(word) {
					seen[word] = true
					all = append(all, word)
				}
			}
		}
	}
	return all
}

// knownIn are the ways in which code asks whether a setting is a word: as an attribute selector (Selectors 4, 6.1), or
// in a script, by its attribute, its dataset (HTML, 3.2.6.6) or a member of what was read of it.
func knownIn(s Setting) []*regexp.Regexp {
	word := "[\"'`]([a-z][a-z-]{1,23})[\"'`]"
	member := first(s.Key, camel(strings.TrimPrefix(s.Name, "data-")))
	return []*regexp.Regexp{
		regexp.MustCompile(`\[` + regexp.QuoteMeta(s.Name) + `\s*=\s*["']?([a-z][a-z-]{1,23})["']?\s*\]`),
		regexp.MustCompile(`\b` + regexp.QuoteMeta(member) + `(?:["'` + "`" + `]?[\])])?\s*[=!]==?\s*` + word),
		regexp.MustCompile(regexp.QuoteMeta(s.Name) + "[\"'`]\\)\\s*[=!]==?\\s*" + word),
	}
}

// camel is the name of a data attribute as scripts have it.
func camel(name string) string {
	parts := strings.Split(name, "-")
	for i, part := range parts[1:] {
		if part != "" {
			parts[i+1] = strings.ToUpper(part[:1]) + part[1:]
		}
	}
	return strings.Join(parts, "")
}

// settingWords are what settings are about, by words in their names, in the order in which they are looked for (common
// practice, no source).
var settingWords = []struct{ words, say string }{
	{"seconds interval delay pause wait", "Time between slides"},
	{"duration speed velocity", "Time that a change takes"},
	{"dots dot pagination bullets indicators", "Dots"},
	{"arrows arrow nav controls", "Arrows"},
	{"author", "Author shown"},
	{"autoplay auto ride", "Goes on by itself"},
	{"show shown items visible perview perpage count columns", HowManyShown},
	{"loop infinite wrap", "Begins again at the end"},
	{"finite", "Ends at the last"},
	{"effect animation transition fade mode", "Effect"},
	{"center centre centered", "Shown one in the middle"},
	{"gap margin space spacing", "Space between"},
}

// Says is what a setting sets, in words, and the unit of its number.
func (s Setting) Says() (say, unit string) {
	name := first(s.Key, strings.TrimPrefix(s.Name, "data-"))
	var parts []string
	for i := 0; i < len(name); { // at hyphens, underscores and where a capital begins a word
		from := i
		for i++; i < len(name) && name[i] != '-' && name[i] != '_' && (name[i] < 'A' || name[i] > 'Z'); i++ {
		}
		parts = append(parts, strings.ToLower(strings.Trim(name[from:i], "-_")))
	}
	for _, about := range settingWords {
		list := strings.Fields(about.words)
		for _, part := range parts {
			for _, word := range list {
				if part == word && say == "" {
					say = about.say
				}
			}
		}
	}
	if say == "" {
		say = strings.Join(parts, " ")
		if say != "" {
			say = strings.ToUpper(say[:1]) + say[1:]
		}
	}
	if s.Is == IsNumber && (say == settingWords[0].say || say == settingWords[1].say) {
		unit = "milliseconds"
		if v, err := strconv.ParseFloat(s.Value, 64); err == nil && v < 60 {
			unit = "seconds"
		}
	}
	return say, unit
}

// settingsOf gathers the settings of a set from its element and the ones around it.
func (p *Page) settingsOf(n *source.Node) (all []Setting) {
	all = p.settingsAt(n)
	for up, i := n.Parent, 0; up != nil && i < holdersAbove; up, i = up.Parent, i+1 {
		if p.traits[up.Index].is(isHolder) {
			all = append(all, p.settingsAt(up)...)
		}
	}
	return all
}

// markHolders notes the elements around a set that carry settings and hold no other heading of a section.
func (p *Page) markHolders(n *source.Node) {
	for up, i := n.Parent, 0; up != nil && i < holdersAbove && !up.Is("body", "main", "html"); up, i = up.Parent, i+1 {
		if len(p.settingsAt(up)) > 0 {
			p.traits[up.Index].bits |= isHolder
		}
	}
}
