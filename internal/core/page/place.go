package page

import "mendry/internal/core/source"

// HasPlace reports whether an element has this id, so that a link can lead to it.
func (p *Page) HasPlace(id string) bool {
	for _, n := range p.Doc.Nodes {
		if n.Tag() != "" && (p.Doc.Value(n, "id") == id || n.Is("a") && p.Doc.Value(n, "name") == id) {
			return true
		}
	}
	return id == "top"
}

// PlaceOf is the place that a link can name to lead to a heading: its own, one in it, or that of the section that it
// begins; empty where it has none (HTML, 7.4.6.4, the indicated part of the document).
func (p *Page) PlaceOf(heading *Part) string {
	if heading.Run != nil {
		return ""
	}
	if id := p.Doc.Value(heading.Node, "id"); id != "" {
		return id
	}
	for _, k := range heading.Node.Kids {
		if k.Tag() == "" {
			continue
		}
		if id := p.Doc.Value(k, "id"); id != "" {
			return id
		}
		if k.Is("a") && p.Doc.Value(k, "name") != "" {
			return p.Doc.Value(k, "name")
		}
	}
	up := heading.Node.Parent
	for _, q := range p.All {
		if q.Kind == Heading && q.Node.Parent == up {
			if q == heading && up.Is("section", "article", "div") {
				return p.Doc.Value(up, "id")
			}
			break
		}
	}
	return ""
}

// Beside finds the parts right before and after part, in the same element; nil where there is none.
func (p *Page) Beside(part *Part) (before, after *Part) {
	among := p.Parts
	if part.Parent != nil {
		among = part.Parent.Parts
	}
	in := topOf(part).Parent
	for _, q := range among {
		if q == part || q.Background || topOf(q).Parent != in || !q.Placed() {
			continue
		}
		if q.End <= part.Start {
			before = q
		} else if after == nil && q.Start >= part.End {
			after = q
		}
	}
	return before, after
}

// topOf is the node that a part stands at its place with: of a picture or film the one that holds nothing else.
func topOf(part *Part) *source.Node {
	if part.Held() {
		return Holder(part)
	}
	return part.Nodes()[0]
}

// Within lists the parts at and in a node, in document order.
func (p *Page) Within(n *source.Node) (all []*Part) {
	n.Walk(func(k *source.Node) bool {
		if part, ok := p.At(k); ok {
			all = append(all, part)
		}
		return true
	})
	return all
}

// Headings lists the page's headings in document order.
func (p *Page) Headings() []*Part {
	p.headOnce.Do(func() {
		for _, q := range p.All {
			if q.Kind == Heading {
				p.heads = append(p.heads, q)
			}
		}
	})
	return p.heads
}
