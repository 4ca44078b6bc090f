package page

import (
	"strings"

	"mendry/internal/core/source"
)

// factOf is the page fact that an element holds, empty where it holds none.
func (p *Page) factOf(n *source.Node) string {
	d := p.Doc
	switch n.Tag() {
	case "title":
		return "title"
	case "html":
		return "lang"
	case "meta":
		switch {
		case strings.EqualFold(d.Value(n, "name"), "description"):
			return "description"
		case d.Value(n, "property") == "og:image":
			return "image"
		case d.Value(n, "property") == "og:url":
			return "address"
		}
	case "link":
		if strings.EqualFold(d.Value(n, "rel"), "canonical") {
			return "canonical"
		}
	}
	return ""
}

func (p *Page) facts() {
	if p.Doc.Format == source.Markdown {
		p.frontFacts()
		return
	}
	d, f := p.Doc, &p.Facts
	at := map[string]*source.Node{} // the first of each fact counts
	p.walkHead(func(n *source.Node) bool {
		if fact := p.factOf(n); fact != "" && at[fact] == nil {
			at[fact] = n
		}
		return true
	})
	for fact, n := range at {
		switch fact {
		case "title":
			f.Title = collapse(p.raw(n))
		case "lang":
			f.Lang = d.Value(n, "lang")
		case "canonical":
			f.Canonical = d.Value(n, "href")
		case "description":
			f.Description = d.Value(n, "content")
		case "image":
			f.Image = d.Value(n, "content")
		case "address":
			f.Address = d.Value(n, "content")
		}
	}
	if f.Address == "" {
		f.Address = f.Canonical
	}
}

func (p *Page) raw(n *source.Node) string {
	s := ""
	for _, k := range n.Kids {
		if k.IsText() {
			s += p.Doc.Text(k)
		}
	}
	return s
}

// HeadNode finds the node that holds a page fact, nil where the page has none.
func (p *Page) HeadNode(fact string) *source.Node {
	var found *source.Node
	p.walkHead(func(n *source.Node) bool {
		if p.factOf(n) == fact {
			found = n
		}
		return found == nil
	})
	return found
}

// walkHead calls f for every node before the body in document order, until f returns false.
func (p *Page) walkHead(f func(*source.Node) bool) {
	for _, n := range p.Doc.Nodes {
		if n.Is("body") || !f(n) {
			return
		}
	}
}

// FrontFactLine is the line of the front matter that a fact of a Markdown page stands on.
func (p *Page) FrontFactLine(fact string) (source.Span, bool) {
	for _, key := range frontKeys[fact] {
		if s, ok := p.Doc.FrontLine(key); ok {
			return s, true
		}
	}
	return source.Span{}, false
}

// FrontFact is a fact of a Markdown page: what stands for it in the front matter, and where.
func (p *Page) FrontFact(fact string) (source.Scalar, bool) {
	for _, key := range frontKeys[fact] {
		if s, ok := p.Doc.FrontScalar(key); ok {
			return s, true
		}
	}
	return source.Scalar{}, false
}

// frontKeys are the names that builders of sites commonly read page facts from; the first is used for a new one
// (common practice, no source).
var frontKeys = map[string][]string{
	"title": {"title"}, "description": {"description", "summary"}, "lang": {"lang", "language"},
	"canonical": {"canonical", "canonical_url"}, "image": {"image", "cover"}, "address": {"permalink", "url", "slug"},
}

// FrontKey is the name under which a new fact is written into front matter, empty where there is no such fact.
func FrontKey(fact string) string {
	if keys := frontKeys[fact]; len(keys) > 0 {
		return keys[0]
	}
	return ""
}

func (p *Page) frontFacts() {
	for fact, to := range map[string]*string{
		"title": &p.Facts.Title, "description": &p.Facts.Description, "lang": &p.Facts.Lang,
		"canonical": &p.Facts.Canonical, "image": &p.Facts.Image, "address": &p.Facts.Address,
	} {
		if s, ok := p.FrontFact(fact); ok {
			*to = s.Value
		}
	}
	if p.Facts.Title == "" {
		for _, part := range p.All {
			if part.Node.Is("h1") {
				p.Facts.Title = collapse(part.Text)
				break
			}
		}
	}
}
