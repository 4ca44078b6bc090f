// Package style reads the style sheets of a site: how a node of a page looks by them, which classes only say how words
// look, and whether words stand out from what is behind them (WCAG 2.2). Sheets are read as a visitor on a wide screen
// gets them; rules for other media are left out.
package style

import (
	"regexp"
	"slices"
	"strings"

	"github.com/andybalholm/cascadia"
	"github.com/tdewolff/parse/v2"
	"github.com/tdewolff/parse/v2/css"
	"golang.org/x/net/html"
)

// Limits of what is read: what lies beyond stays unknown.
const (
	MaxBytes = 2 << 20 // of a style sheet
	maxRules = 20_000
)

// Sheet is the style sheets of a page, read in order. It is for one goroutine at a time.
type Sheet struct {
	rules []rule
	vars  map[string]string // custom properties of :root
	by    map[string][]int  // rules by property
	known map[asked]said    // answers of Own
	from  string            // the sheet that is read

	drawn    map[string]bool   // classes before whose elements the sheet puts something
	roots    []string          // the custom properties of :root, in order
	uses     map[string]Aspect // answers of usedFor
	arranges map[string]bool   // the answer of arranging
}

// said is what sheets say of a property, and which of them does; empty for the page itself.
type said struct{ value, from string }

type asked struct {
	n        *html.Node
	property string
}

type rule struct {
	selector cascadia.Sel
	written  string
	compound *compound // of a selector of one element by its classes and attributes; nil of others
	weight   [3]int    // specificity (Selectors Level 4, 17)
	class    string    // of a selector that is a class, with or without a tag
	tag      string
	says     map[string]string
	from     string
}

var plainClass = regexp.MustCompile(`^([a-z][a-z0-9]*)?\.(-?[A-Za-z_][\w-]*)$`)

// ReadFrom is Read of a sheet that stands in a file of its own, at a public path of its site.
func (s *Sheet) ReadFrom(path string, sheet []byte) {
	s.from = path
	s.Read(sheet)
	s.from = ""
}

// Read adds a style sheet to s. What cannot be read is left out, as a browser does (CSS Syntax Level 3, 2.2).
func (s *Sheet) Read(sheet []byte) {
	if len(sheet) > MaxBytes {
		return
	}
	if s.vars == nil {
		s.vars, s.by, s.drawn = map[string]string{}, map[string][]int{}, map[string]bool{}
	}
	s.known, s.uses, s.arranges = nil, nil, nil
	p := css.NewParser(parse.NewInputBytes(slices.Clone(sheet)), false)
	var selectors []string
	var says map[string]string
	away := 0 // inside rules for other media
	for {
		kind, _, data := p.Next()
		switch kind {
		case css.ErrorGrammar:
			if p.HasParseError() {
				continue
			}
			return
		case css.BeginAtRuleGrammar:
			if away > 0 || !forScreens(string(data), p.Values()) {
				away++
			}
		case css.EndAtRuleGrammar:
			away = max(0, away-1)
		case css.QualifiedRuleGrammar:
			selectors = append(selectors, written(p.Values()))
		case css.BeginRulesetGrammar:
			selectors, says = append(selectors, written(p.Values())), map[string]string{}
		case css.DeclarationGrammar:
			if says != nil {
				s.declare(says, strings.ToLower(string(data)), written(p.Values()))
			}
		case css.CustomPropertyGrammar:
			value := strings.TrimSpace(written(p.Values()))
			if says != nil {
				says[string(data)] = value
			}
			if away == 0 && slices.Contains(selectors, ":root") {
				if _, known := s.vars[string(data)]; !known {
					s.roots = append(s.roots, string(data))
				}
				s.vars[string(data)] = value
			}
		case css.EndRulesetGrammar:
			if away == 0 {
				s.add(selectors, says)
			}
			selectors, says = nil, nil
		}
	}
}

// forScreens reports whether an at-rule's content holds for a wide screen.
func forScreens(name string, values []css.Token) bool {
	switch name {
	case "@supports", "@layer":
		return true
	case "@media":
		query := strings.ToLower(written(values))
		return !strings.Contains(query, "(") && (strings.Contains(query, "screen") || strings.Contains(query, "all")) && !strings.Contains(query, "not ")
	}
	return false
}

func written(values []css.Token) string {
	var b strings.Builder
	for _, v := range values {
		b.Write(v.Data)
	}
	return strings.TrimSpace(b.String())
}

// declare notes a declaration; those that set several things at once are noted as the one that is asked for.
func (s *Sheet) declare(says map[string]string, name, value string) {
	value = strings.TrimSpace(strings.TrimSuffix(strings.TrimSpace(value), "!important"))
	switch name {
	case "background":
		if _, ok := s.color(value); !ok && usesVar.FindString(value) != value {
			says["background-image"] = value
			for _, word := range strings.Fields(value) {
				if _, ok := s.color(word); ok {
					says["background-color"] = word
				}
			}
			return
		}
		name = "background-color"
	}
	says[name] = value
}

func (s *Sheet) add(selectors []string, says map[string]string) {
	for _, written := range selectors {
		if len(s.rules) >= maxRules {
			return
		}
		selector, err := cascadia.Parse(written)
		if err != nil {
			if m := draws.FindStringSubmatch(written); m != nil && says["content"] != "" {
				s.drawn[m[1]] = true
			}
			continue // a state such as :hover, or newer than what is known
		}
		r := rule{selector: selector, written: written, compound: readCompound(written), weight: selector.Specificity(), says: says, from: s.from}
		if m := plainClass.FindStringSubmatch(written); m != nil {
			r.tag, r.class = m[1], m[2]
		}
		for property := range says {
			s.by[property] = append(s.by[property], len(s.rules))
		}
		s.rules = append(s.rules, r)
	}
}

// draws is a selector of what stands before the elements of a class (CSS Pseudo-Elements 4, 3.1).
var draws = regexp.MustCompile(`^\.(-?[A-Za-z_][\w-]*):{1,2}before$`)

// Drawn are the classes before whose elements the sheets put something, as icon fonts do.
func (s *Sheet) Drawn() map[string]bool { return s.drawn }

// Own is what the sheets and the node's style attribute say of a property on the node itself, empty where they say
// nothing (CSS Cascading Level 4, 6, without !important).
func (s *Sheet) Own(n *html.Node, property string) string {
	if n.Type != html.ElementNode {
		return ""
	}
	for _, a := range n.Attr {
		if a.Key == "style" {
			says := map[string]string{}
			for _, d := range Declarations(a.Val) {
				if d.Property != "" {
					s.declare(says, d.Property, d.Value)
				}
			}
			if v := says[property]; v != "" {
				return v
			}
		}
	}
	return s.cascaded(n, property).value
}

// cascaded is what the sheets say of a property on the node itself.
func (s *Sheet) cascaded(n *html.Node, property string) (best said) {
	if v, ok := s.known[asked{n, property}]; ok {
		return v
	}
	weight := [3]int{-1}
	for _, i := range s.by[property] {
		if r := s.rules[i]; !less(r.weight, weight) && r.selector.Match(n) {
			weight, best = r.weight, said{r.says[property], r.from}
		}
	}
	if s.known == nil {
		s.known = map[asked]said{}
	}
	s.known[asked{n, property}] = best
	return best
}

// Declaration is one of a style attribute.
type Declaration struct {
	Property, Value string // the property in lower case; empty for what is no declaration
	Raw             string // as it is written, without the white space around it
}

// Declarations are those of a style attribute (CSS Style Attributes, 3), in order.
func Declarations(attribute string) (all []Declaration) {
	for _, raw := range strings.Split(attribute, ";") {
		d := Declaration{Raw: strings.TrimSpace(raw)}
		if property, value, ok := strings.Cut(raw, ":"); ok {
			d.Property, d.Value = strings.ToLower(strings.TrimSpace(property)), strings.TrimSpace(value)
		}
		if d.Raw != "" {
			all = append(all, d)
		}
	}
	return all
}

func less(a, b [3]int) bool { return slices.Compare(a[:], b[:]) < 0 }

// Style is a class of the site that only says how words look.
type Style struct {
	Class string
	Say   string // what it does, in words
	Like  int    // parts of the same kind on the page that carry it
}

// look are the properties that only say how words look.
var look = []string{
	"text-align", "color", "background-color", "font-size", "font-weight", "font-style", "font-family", "font-variant", "letter-spacing",
	"line-height", "text-transform", "text-decoration", "text-indent", "word-spacing", "hyphens",
}

// Styles lists the classes that words of a tag may be given: those that say nothing but how words look, and those that
// their like on the page carry already, of which carried says how many.
func (s *Sheet) Styles(tag string, carried map[string]int) (all []Style) {
	says := map[string]map[string]string{}
	var order []string
	for _, r := range s.rules {
		if r.class == "" || r.tag != "" && r.tag != tag {
			continue
		}
		if says[r.class] == nil {
			says[r.class] = map[string]string{}
			order = append(order, r.class)
		}
		for k, v := range r.says {
			says[r.class][k] = v
		}
	}
	for _, class := range order {
		only := len(says[class]) > 0
		for property := range says[class] {
			only = only && slices.Contains(look, property)
		}
		say := s.say(says[class])
		if say != "" && (only || carried[class] > 0) {
			all = append(all, Style{class, say, carried[class]})
		}
	}
	slices.SortStableFunc(all, func(a, b Style) int { return b.Like - a.Like })
	return all
}

// say tells in words what a class does to words.
func (s *Sheet) say(says map[string]string) string {
	var all []string
	add := func(words string) {
		if words != "" && !slices.Contains(all, words) {
			all = append(all, words)
		}
	}
	add(map[string]string{"center": "centred", "right": "at the right", "left": "at the left", "justify": "both edges straight"}[says["text-align"]])
	add(size(says["font-size"]))
	add(map[string]string{"bold": "bold", "bolder": "bold", "600": "bold", "700": "bold", "800": "bold", "900": "bold", "normal": "not bold", "400": "not bold", "300": "light"}[says["font-weight"]])
	add(map[string]string{"italic": "italic", "oblique": "italic", "normal": "upright"}[says["font-style"]])
	add(map[string]string{"uppercase": "in capitals"}[says["text-transform"]])
	if c, ok := s.color(says["color"]); ok {
		add("colour " + c.String())
	}
	if c, ok := s.color(says["background-color"]); ok {
		add("on " + c.String())
	}
	return strings.Join(all, ", ")
}
