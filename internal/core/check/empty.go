package check

import (
	"fmt"
	"slices"
	"strings"

	"mendry/internal/core/page"
	"mendry/internal/core/source"
)

// within are the nodes of a part, the part's own among them.
func within(p *page.Part) (all []*source.Node) {
	for _, n := range p.Nodes() {
		all = append(all, n.All()...)
	}
	return all
}

// emptyElements are what may not stand there with nothing in it, and what is said of it. Headings, links and buttons
// are read to those who do not see the page (WCAG 2.2, 1.3.1, 2.4.4 and 4.1.2; failures F89 and H91).
var emptyElements = map[string]struct {
	level Level
	say   string
}{
	"h1": {Stop, "A heading has no words."}, "h2": {Stop, "A heading has no words."}, "h3": {Stop, "A heading has no words."},
	"h4": {Stop, "A heading has no words."}, "h5": {Stop, "A heading has no words."}, "h6": {Stop, "A heading has no words."},
	"a":          {Stop, "A link has no words: nobody can see or hear where it leads."},
	"button":     {Stop, "A button has no words: nobody can see or hear what it does."},
	"p":          {Look, "A paragraph without words was left. Take it out; space is the style sheet’s affair."},
	"li":         {Look, "An item without words was left in a list. Take it out."},
	"ul":         {Look, "A list without items was left. Take it out."},
	"ol":         {Look, "A list without items was left. Take it out."},
	"figure":     {Look, "The frame of a picture was left without its picture. Take it out."},
	"blockquote": {Look, "A quote without words was left. Take it out."},
	"figcaption": {Look, "A caption without words was left. Take it out."},
}

// nothingEmpty: nothing is left with nothing in it, and every picture has a file.
func nothingEmpty(s *Subject) (fs []Finding) {
	if s.After.Doc.Format == source.Markdown {
		return nil // where nothing stands, nothing is written
	}
	parts := s.parts()
	ids := map[*source.Node]string{}
	for _, p := range parts {
		if p.Run == nil {
			ids[p.Node] = p.ID
		}
	}
	look := func(n *source.Node) {
		rule, known := emptyElements[n.Tag()]
		part := ids[n]
		switch {
		case known && n.Placed && hollow(s.After, n):
			fs = append(fs, Finding{Level: rule.level, Part: part, Words: named(s.After, n), Say: rule.say})
		case n.Is("img") && s.After.Doc.Value(n, "src") == "" && s.After.Doc.Value(n, "srcset") == "" && !lazy(s.After, n):
			fs = append(fs, Finding{Level: Stop, Part: part, Words: s.After.Doc.Value(n, "alt"),
				Say: "A picture has no file. Put one in, or take the picture out."})
		}
	}
	if s.Changed == nil {
		for _, n := range s.After.Doc.Nodes {
			look(n)
		}
		return fs
	}
	seen := map[*source.Node]bool{}
	for _, p := range parts {
		for _, n := range within(p) {
			if !seen[n] {
				seen[n] = true
				look(n)
			}
		}
	}
	return fs
}

// named is where an element without words leads, or how it is called.
func named(p *page.Page, n *source.Node) string {
	for _, a := range []string{"href", "id", "class"} {
		if v := p.Doc.Value(n, a); v != "" {
			return v
		}
	}
	return ""
}

func lazy(p *page.Page, n *source.Node) bool {
	for _, a := range p.Doc.Attributes(n) {
		if strings.HasPrefix(a.Name, "data-") {
			return true // a script puts it in
		}
	}
	return false
}

// hollow reports whether an element holds nothing that is seen or read: words, a picture, a form, anything embedded,
// or something that a script or a style sheet fills.
func hollow(p *page.Page, n *source.Node) bool {
	if strings.TrimSpace(strings.ReplaceAll(p.TextOf(n), "\u00a0", " ")) != "" {
		return false
	}
	if n.Is("a") && p.Doc.Value(n, "href") == "" {
		return false // a place, not a link
	}
	for _, a := range []string{"aria-label", "aria-labelledby", "title", "aria-hidden", "hidden"} {
		if _, has := p.Doc.Attribute(n, a); has {
			return false
		}
	}
	if slices.ContainsFunc(n.Kids, func(k *source.Node) bool { return shows(p, k) }) {
		return false
	}
	// What has an identifier or a class of its own, and nothing in it, may be filled by a script.
	return n.Is("a") || n.Tag() == "button" || strings.HasPrefix(n.Tag(), "h") || p.Doc.Value(n, "id") == "" && p.Doc.Value(n, "class") == ""
}

// hollowTags are the elements that show nothing of their own.
var hollowTags = map[string]bool{"b": true, "strong": true, "em": true, "i": true, "u": true, "span": true, "br": true, "font": true, "small": true, "a": true}

// shows reports whether a node without words shows something of its own, or holds what does.
func shows(p *page.Page, n *source.Node) bool {
	icon := n.Is("i", "span") && p.Doc.Value(n, "class") != "" // it is drawn by its class
	return icon || n.Tag() != "" && !hollowTags[n.Tag()] || slices.ContainsFunc(n.Kids, func(k *source.Node) bool { return shows(p, k) })
}

// namesOnce: an identifier stands once on a page (HTML, 3.2.6); links to it, labels and scripts find the first.
func namesOnce(s *Subject) (fs []Finding) {
	times := map[string]int{}
	for _, n := range s.After.Doc.Nodes {
		if n.Tag() == "" {
			continue
		}
		if id := s.After.Doc.Value(n, "id"); id != "" {
			if times[id]++; times[id] == 2 {
				part := ""
				if p, ok := s.After.At(n); ok {
					part = p.ID
				}
				fs = append(fs, Finding{Level: Look, Part: part, Words: id,
					Say: fmt.Sprintf("The identifier “%s” stands on the page more than once: what leads to it finds the first.", id)})
			}
		}
	}
	return fs
}
