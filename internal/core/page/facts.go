package page

import (
	"strings"

	"mendry/internal/core/source"
)

// headFacts are the page facts by the elements that hold them.
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
	for _, fact := range []struct {
		name string
		to   *string
	}{{"title", &f.Title}, {"lang", &f.Lang}, {"description", &f.Description}, {"image", &f.Image}, {"canonical", &f.Canonical}, {"address", &f.Address}} {
		n := p.HeadNode(fact.name)
		if n == nil {
			continue
		}
		switch n.Tag() {
		case "title":
			*fact.to = collapse(p.raw(n))
		case "html":
			*fact.to = d.Value(n, "lang")
		case "link":
			*fact.to = d.Value(n, "href")
		default:
			*fact.to = d.Value(n, "content")
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
	p.Doc.Root.Walk(func(n *source.Node) bool {
		if found == nil && p.factOf(n) == fact {
			found = n
		}
		return found == nil && !n.Is("body")
	})
	return found
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
