package style

import (
	"fmt"
	"regexp"
	"slices"
	"strings"

	"golang.org/x/net/html"
)

// Attribute is the one that a choice stands in.
func (c Choice) Attribute() string {
	if c.By == ByAttribute {
		return c.Name
	}
	return string(c.By)
}

// Worn is what a choice puts there: a class, a declaration, or what the attribute says.
func (c Choice) Worn() string {
	if c.By == ByStyle {
		return c.Name + ":" + c.Value
	}
	return c.Value
}

// carried is what the attribute in which a choice stands says of an element that gets it; what competes with it is
// taken off.
func (c Choice) carried(n *html.Node, all []Choice) string {
	now, _ := attribute(n, c.Attribute())
	switch c.By {
	case ByClass:
		return Dress(now, c.Rivals(all, false), c.Worn())
	case ByStyle:
		return Declare(now, []string{c.Name}, c.Worn())
	}
	return c.Worn()
}

// Rivals are the classes that leave an element with a choice: those that compete with it, and where it is taken off
// itself.
func (c Choice) Rivals(all []Choice, off bool) (classes []string) {
	if off {
		return []string{c.Value}
	}
	for _, other := range all {
		if other.By == ByClass && other.Value != c.Value && other.Competes(c) {
			classes = append(classes, other.Value)
		}
	}
	return classes
}

// Dress is a class attribute without some classes and with another, which stands where the first of them stood, or at
// the end; all else in it stays as it is written.
func Dress(class string, without []string, with string) string {
	if slices.Contains(strings.Fields(class), with) {
		with = ""
	}
	out, left, lead := "", false, ""
	for _, at := range aWordOf.FindAllStringIndex(class, -1) {
		blank, word := class[at[0]:at[1]], ""
		if i := strings.LastIndexAny(blank, blanks); i >= 0 {
			blank, word = blank[:i+1], blank[i+1:]
		} else {
			blank, word = "", blank
		}
		if slices.Contains(without, word) {
			if word, with = with, ""; word == "" {
				if !left {
					left, lead = true, blank
				}
				continue
			}
		}
		if out == "" && left {
			blank = lead // it stands first now
		}
		out += blank + word
	}
	if with != "" {
		out = strings.TrimLeft(out+" "+with, blanks)
	}
	if trailing := class[len(strings.TrimRight(class, blanks)):]; out != "" && with == "" {
		out += trailing
	}
	return out
}

const blanks = " \t\n\f\r" // ASCII white space (Infra, 4.6)

var aWordOf = regexp.MustCompile(`[ \t\n\f\r]*[^ \t\n\f\r]+`)

func isBlank(r rune) bool { return strings.ContainsRune(blanks, r) }

// Declare is a style attribute with other declarations in the place of those of some properties, or at the end; none
// takes them out. All else in it stays as it is written.
func Declare(style string, properties []string, declarations string) string {
	var kept []string
	for _, raw := range strings.Split(style, ";") {
		name, _, ok := strings.Cut(raw, ":")
		if !ok || !slices.Contains(properties, strings.ToLower(strings.TrimSpace(name))) {
			kept = append(kept, raw)
			continue
		}
		if declarations != "" {
			kept = append(kept, raw[:len(raw)-len(strings.TrimLeft(raw, blanks))]+declarations)
			declarations = ""
		}
	}
	if declarations != "" {
		for len(kept) > 0 && strings.TrimSpace(kept[len(kept)-1]) == "" {
			kept = kept[:len(kept)-1]
		}
		kept = append(kept, declarations)
		if strings.HasSuffix(strings.TrimSpace(style), ";") {
			kept = append(kept, "")
		}
	}
	if out := strings.Join(kept, ";"); strings.Trim(out, ";"+blanks) != "" {
		return out
	}
	return ""
}

// With is a node within n, or n itself, as it would be if n carried a choice: a copy that stands where it stands.
// Nothing is changed.
func (c Choice) With(n, within *html.Node, all []Choice) *html.Node {
	name, value := c.Attribute(), c.carried(n, all)
	top := *n
	top.Attr = slices.DeleteFunc(slices.Clone(n.Attr), func(a html.Attribute) bool { return a.Key == name })
	if value != "" {
		top.Attr = append(top.Attr, html.Attribute{Key: name, Val: value})
	}
	if within == n {
		return &top
	}
	var path []*html.Node
	for p := within; p != nil && p != n; p = p.Parent {
		path = append(path, p)
	}
	up := &top
	for _, p := range slices.Backward(path) {
		copied := *p
		copied.Parent = up
		up = &copied
	}
	return up
}

var usesVar = regexp.MustCompile(`var\(\s*(--[\w-]+)\s*(?:,((?:[^()]|\([^()]*\))*))?\)`)

// meant is what a value says on a node, with its custom properties (CSS Custom Properties 1, 3).
func (s *Sheet) meant(n *html.Node, value string) string {
	for range 5 { // custom properties that stand for each other
		if !strings.Contains(value, "var(") {
			break
		}
		value = usesVar.ReplaceAllStringFunc(value, func(use string) string {
			m := usesVar.FindStringSubmatch(use)
			for p := n; p != nil && p.Type == html.ElementNode; p = p.Parent {
				if v := s.Own(p, m[1]); v != "" {
					return v
				}
			}
			if v := s.vars[m[1]]; v != "" {
				return v
			}
			return strings.TrimSpace(m[2])
		})
	}
	return value
}

// Color is the colour that a choice gives what is behind an element, or its words; n is the element as it would be
// with it.
func (s *Sheet) Color(c Choice, n *html.Node) (Color, bool) {
	property := "background-color"
	if c.Aspect != Ground {
		property = "color"
	}
	return s.color(s.meant(n, s.Own(n, property)))
}

// Shown is what a choice's own property says on n, for a sample of it: the shadow, the space.
func (s *Sheet) Shown(n *html.Node, property string) string { return s.meant(n, s.Own(n, property)) }

// Tell says in words what a choice does to n, which carries it.
func (s *Sheet) Tell(c Choice, n *html.Node) string {
	switch c.Aspect {
	case Ground:
		if v := s.Own(n, "background-image"); v != "" && v != "none" && c.Says["background-image"] != "" {
			if !inURL.MatchString(v) && strings.Contains(v, "gradient") {
				return "one colour runs into another"
			}
			return "a picture"
		}
		if color, ok := s.Color(c, n); ok {
			if color.A == 0 {
				return "none"
			}
			return color.String()
		}
	case Ink:
		if color, ok := s.Color(c, n); ok {
			return color.String()
		}
	case Letters:
		return s.say(c.Says)
	case Space:
		return s.tellSpace(c, n)
	case Shadow:
		for _, property := range []string{"box-shadow", "text-shadow", "filter"} {
			if v := s.Shown(n, property); c.tells(property) {
				if v == "none" {
					return "none"
				}
				return "a shadow"
			}
		}
	case Motion:
		if c.Hides {
			return "comes in as it is reached"
		}
		return "moves as it appears"
	}
	return ""
}

// tells reports whether a choice says something of a property, or of a custom one, which may be for it.
func (c Choice) tells(property string) bool {
	if c.Says[property] != "" {
		return true
	}
	for name := range c.Says {
		if strings.HasPrefix(name, "--") {
			return true
		}
	}
	return false
}

// tellSpace says how much space there is by a choice: above and below, which is what one sees of a section.
func (s *Sheet) tellSpace(c Choice, n *html.Node) string {
	for _, box := range []string{"padding", "margin"} {
		above, below := inWords(s.Side(n, box, "top")), inWords(s.Side(n, box, "bottom"))
		if above == "" && below == "" || !strings.HasPrefix(c.Name, "--") && !says(c.Says, box) {
			continue
		}
		switch {
		case above == below:
			return above + " above and below"
		case below == "":
			return above + " above"
		case above == "":
			return below + " below"
		}
		return fmt.Sprintf("%s above, %s below", above, below)
	}
	return ""
}

var between = regexp.MustCompile(`^clamp\(\s*([\d.]+[a-z]+)\s*,[^,]+,\s*([\d.]+[a-z]+)\s*\)$`)

// inWords is a length as one says it: between the bounds of a clamp (CSS Values 4, 10.5).
func inWords(length string) string {
	if m := between.FindStringSubmatch(length); m != nil {
		return m[1] + " to " + m[2]
	}
	return length
}

func says(all map[string]string, prefix string) bool {
	for property := range all {
		if strings.HasPrefix(property, prefix) || strings.HasPrefix(property, "--") {
			return true
		}
	}
	return false
}

// Side is the padding or the margin of n at its top or bottom, as it is written.
func (s *Sheet) Side(n *html.Node, box, side string) string {
	if v := s.Shown(n, box+"-"+side); v != "" {
		return v
	}
	if all := values(s.Shown(n, box+"-block")); len(all) > 0 {
		return all[min(len(all)-1, map[string]int{"top": 0, "bottom": 1}[side])]
	}
	if all := values(s.Shown(n, box)); len(all) > 0 {
		return all[map[string]int{"top": 0, "bottom": min(2, (len(all)-1)/2*2)}[side]]
	}
	return ""
}

// values are those of a property that takes several, at the blanks between them.
func values(value string) (all []string) {
	depth, start := 0, 0
	for i, r := range value + " " {
		switch {
		case r == '(':
			depth++
		case r == ')':
			depth--
		case isBlank(r) && depth == 0:
			if i > start {
				all = append(all, value[start:i])
			}
			start = i + 1
		}
	}
	return all
}

// Called is what a choice is called: the last word of the class, the value, or the name of the custom property that it
// is.
func (c Choice) Called() string {
	name := c.Value
	if c.By == ByStyle {
		if m := usesVar.FindStringSubmatch(c.Value); m != nil && m[0] == c.Value {
			name = strings.TrimPrefix(m[1], "--")
		} else if inURL.MatchString(c.Value) {
			return "a picture"
		} else {
			return c.Value
		}
	} else if c.By == ByClass {
		if last := class(name); last != "" {
			name = last
		}
	}
	return strings.TrimSpace(strings.NewReplacer("-", " ", "_", " ").Replace(name))
}

// class is what is said by the end of a class's name, where it is called after something: white of block--white.
func class(name string) string {
	for _, sep := range []string{"--", "__", "_"} {
		if i := strings.LastIndex(name, sep); i > 0 {
			return name[i+len(sep):]
		}
	}
	return name
}
