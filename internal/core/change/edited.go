package change

import (
	"fmt"
	"regexp"
	"slices"
	"strconv"
	"strings"

	"golang.org/x/net/html"

	"mendry/internal/core/page"
)

// Editable is the words of a part for an editor: HTML of strong, em, u, s, code, sub, sup, a and br, and what words are
// said to be (abbr, mark, a span with a language) in tags that say nothing else. Wrappers that an editor does not know are span elements with data-keep, sealed things span elements with data-seal. An editor may put
// span elements with data-look around words, which give them a class of the site.
func Editable(p *page.Page, part *page.Part) string {
	in := inlineOf(p, part)
	var b strings.Builder
	n := nesting{
		end: func(w way) {
			switch {
			case w.name == "keep" && in.kept[w.number].spoken():
				w.name = in.kept[w.number].label
			case w.name == "keep":
				w.name = "span"
			}
			b.WriteString("</" + w.name + ">")
		},
		begin: func(w way) {
			switch w.name {
			case "keep":
				if s := in.kept[w.number]; s.spoken() {
					b.WriteString(s.open)
				} else {
					fmt.Fprintf(&b, `<span data-keep="%s">`, s.id(w.number))
				}
			case "a":
				b.WriteString(w.tag())
			default:
				b.WriteString("<" + w.name + ">")
			}
		},
	}
	for _, r := range in.runs {
		n.to(r.ways)
		switch {
		case r.breaks:
			b.WriteString("<br>")
		case r.seal >= 0:
			s := in.sealed[r.seal]
			fmt.Fprintf(&b, `<span data-seal="%s">%s</span>`, s.id(r.seal), EscapeText(s.label))
		default:
			b.WriteString(strings.ReplaceAll(EscapeText(r.text), "\u00a0", "&nbsp;"))
		}
	}
	n.to(nil)
	return b.String()
}

// tag writes a link's start tag.
func (w way) tag() string {
	s := `<a href="` + escapeAttribute(w.href) + `"`
	if w.title != "" {
		s += ` title="` + escapeAttribute(w.title) + `"`
	}
	if w.target != "" {
		s += ` target="` + escapeAttribute(w.target) + `"`
		if w.target == "_blank" {
			s += ` rel="noopener"`
		}
	}
	return s + ">"
}

// inlineFrom reads what an editor made of the words of a part. Sealed things and kept wrappers are those of old, or of
// seen, the version that the editor was shown. wraps says that the page can hold elements around words that say what
// they are: abbreviations, words of another language.
func inlineFrom(markup string, old, seen *inline, wraps bool) (*inline, error) {
	kids, err := fragment([]byte(markup), &html.Node{Type: html.ElementNode, Data: "div"})
	if err != nil {
		return nil, err
	}
	in := &inline{sealed: old.sealed, kept: old.kept, seen: seen, sealedAs: map[string]int{}, keptAs: map[string]int{}}
	for i, k := range kids {
		if i > 0 && k.Data == "p" && len(in.runs) > 0 {
			in.runs = append(in.runs, run{seal: -1, breaks: true})
		}
		if err := in.take(k, nil, wraps); err != nil {
			return nil, err
		}
	}
	in.tidy()
	in.orderBy(old)
	return in, nil
}

func (in *inline) take(n *html.Node, ws []way, wraps bool) error {
	if n.Type == html.TextNode {
		in.add(n.Data, ws) // a code that was typed is text like any other
		return nil
	}
	if n.Type != html.ElementNode {
		return nil
	}
	w := way{name: ways[n.Data]}
	switch n.Data {
	case "br":
		in.runs = append(in.runs, run{seal: -1, breaks: true, ways: ws})
		return nil
	case "a":
		w = way{name: "a", href: value(n, "href"), title: value(n, "title"), target: value(n, "target")}
	case "span":
		if v := attributeOf(n, "data-seal"); v != nil {
			i := number(*v, in.sealedAs, &in.sealed, in.seen.sealed)
			if i < 0 {
				return refuse("A sealed code came back that is not on the page.")
			}
			in.runs = append(in.runs, run{seal: i, ways: ws})
			return nil
		}
		if v := attributeOf(n, "data-keep"); v != nil {
			i := number(*v, in.keptAs, &in.kept, in.seen.kept)
			if i < 0 {
				return refuse("A wrapper came back that is not on the page.")
			}
			w = way{name: "keep", number: i}
		}
		if v := attributeOf(n, "data-look"); v != nil {
			if !className.MatchString(*v) {
				return refuse("“%s” is no name of a style.", *v)
			}
			w = way{name: "keep", number: in.wrap("span", html.Attribute{Key: "class", Val: *v})}
		}
		if as := spoken(n); len(as) > 0 && wraps {
			w = way{name: "keep", number: in.wrap("span", as...)}
		}
	case "abbr":
		if v := attributeOf(n, "title"); v != nil && wraps {
			w = way{name: "keep", number: in.wrap("abbr", html.Attribute{Key: "title", Val: *v})}
		}
	case "mark":
		if wraps {
			w = way{name: "keep", number: in.wrap("mark")}
		}
	case "script", "style", "iframe", "object", "img", "svg", "form", "input":
		return refuse("A <%s> cannot be written into words.", n.Data)
	}
	if w.name != "" && (w.name != "a" || w.href != "") && !slices.Contains(ws, w) {
		ws = append(slices.Clip(ws), w)
	}
	for c := n.FirstChild; c != nil; c = c.NextSibling {
		if err := in.take(c, ws, wraps); err != nil {
			return err
		}
	}
	return nil
}

// number is the place in list of what a name means, or -1; names are those that were met already. What is not in list
// comes from the list that the editor was shown. Two things that are alike keep places of their own. A name without a
// hash is a place in list.
func number(name string, names map[string]int, list *[]sealed, shown []sealed) int {
	if i, ok := names[name]; ok {
		return i
	}
	place, hash, full := strings.Cut(name, "-")
	at, err := strconv.Atoi(place)
	if err != nil || at < 0 {
		return -1
	}
	is := func(s sealed) bool { return !full || strings.HasSuffix(s.id(0), "-"+hash) }
	taken := map[int]bool{}
	for _, i := range names {
		taken[i] = true
	}
	found := -1
	if at < len(*list) && is((*list)[at]) && !taken[at] {
		found = at
	}
	for i := 0; full && found < 0 && i < len(*list); i++ {
		if is((*list)[i]) && !taken[i] {
			found = i
		}
	}
	if k := slices.IndexFunc(shown, is); full && found < 0 && k >= 0 {
		found = len(*list)
		*list = append(slices.Clip(*list), shown[k])
	}
	if found >= 0 {
		names[name] = found
	}
	return found
}

var className = regexp.MustCompile(`^-?[A-Za-z_][\w-]*$`)

// languageTag is what a language is named by (RFC 5646, 2.1), as far as its letters go.
var languageTag = regexp.MustCompile(`^[A-Za-z]{2,8}(-[A-Za-z0-9]{1,8})*$`)

// spoken is what an element says of the language of its words and the way they run.
func spoken(n *html.Node) (as []html.Attribute) {
	if v := attributeOf(n, "lang"); v != nil && languageTag.MatchString(*v) {
		as = append(as, html.Attribute{Key: "lang", Val: *v})
	}
	if v := attributeOf(n, "dir"); v != nil && (*v == "ltr" || *v == "rtl") {
		as = append(as, html.Attribute{Key: "dir", Val: *v})
	}
	return as
}

// spoken reports whether a wrapper says what its words are and nothing else, written as wrap writes it: editors know such
// tags themselves.
func (s sealed) spoken() bool {
	as := spoken(s.node)
	switch s.label {
	case "mark":
		as = nil
	case "abbr":
		as = s.node.Attr
		if len(as) != 1 || as[0].Key != "title" {
			return false
		}
	case "span":
		if len(as) == 0 {
			return false
		}
	default:
		return false
	}
	made := wrapper(s.label, as)
	return s.open == made.open && s.end == made.end
}

// wrap gives the number of a new wrapper around words: a style of the site, what an abbreviation stands for, a
// language, a mark.
func (in *inline) wrap(tag string, as ...html.Attribute) int {
	s := wrapper(tag, as)
	if i := slices.IndexFunc(in.kept, func(o sealed) bool { return o.open == s.open && o.end == s.end }); i >= 0 {
		return i
	}
	in.kept = append(slices.Clip(in.kept), s)
	return len(in.kept) - 1
}

func wrapper(tag string, as []html.Attribute) sealed {
	s := sealed{open: "<" + tag, end: "</" + tag + ">", label: tag}
	for _, a := range as {
		s.open += " " + a.Key + `="` + escapeAttribute(a.Val) + `"`
	}
	s.open += ">"
	return s
}

func value(n *html.Node, name string) string {
	if v := attributeOf(n, name); v != nil {
		return *v
	}
	return ""
}
