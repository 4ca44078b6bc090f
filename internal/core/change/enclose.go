package change

import (
	"bytes"

	"golang.org/x/net/html"

	"mendry/internal/core/page"
	"mendry/internal/core/source"
)

// enclose puts a picture or film into the element that markup is, in front of what is in that. A figure takes the
// place of a paragraph that holds nothing else; where there is a figure already, what markup has in its own goes into
// it.
func (w *work) enclose(part *page.Part, markup string) ([]source.Edit, error) {
	if !part.Held() || !part.Placed() {
		return nil, refuse(
			"“%s” stays as it stands: only a picture or a film is put into a link or a figure.",
			part.Name,
		)
	}
	raw, err := w.encode(markup)
	if err != nil {
		return nil, err
	}
	n := part.Node
	ctx := element("div")
	if n.Parent != nil && n.Parent.Tag() != "p" {
		ctx = n.Parent.HTML
	}
	kids, err := fragment(raw, ctx)
	if err != nil {
		return nil, err
	}
	if len(kids) != 1 || kids[0].Type != html.ElementNode {
		return nil, refuse("A picture is put into one element, and this is none.")
	}
	around := kids[0]
	t := html.NewTokenizer(bytes.NewReader(raw))
	t.Next()
	open := bytes.Clone(t.Raw())
	rest := raw[len(open):]
	if w.markdown() {
		return w.encloseMarkdown(part, around)
	}
	if up := n.Parent; up != nil && up.Is("picture") && up.Placed {
		n = up
	}
	if around.Data == "a" && stands(n, "a") {
		return nil, refuse("“%s” stands in a link already. Change where that leads.", part.Name)
	}
	if around.Data != "figure" {
		w.wrap(n, around)
		return beside(n, open, rest), nil
	}
	for up := n.Parent; up != nil && up.Placed && up.Is("a", "span") && page.HoldsOnly(up, n); up = n.Parent {
		n = up
	}
	up := n.Parent
	switch {
	case up != nil && !up.Is("p") && stands(n, "p"):
		return nil, refuse("“%s” stands among the words of a paragraph. Put it between two blocks first.", part.Name)
	case up == nil || !up.Is("p", "figure") || !up.Placed:
		w.wrap(n, around)
		return beside(n, open, rest), nil
	case !page.HoldsOnly(up, n):
		return nil, refuse("“%s” stands among the words of a paragraph. Put it between two blocks first.", part.Name)
	case up.Is("figure"):
		within := bytes.TrimSuffix(rest, []byte("</figure>"))
		last := n.End()
		w.plan.InsertBefore(up.HTML, w.plan.Kids(around), n.HTML.NextSibling)
		return []source.Edit{{Span: source.Span{Start: last, End: last}, New: within}}, nil
	}
	d := w.p.Doc
	if own := d.Bytes[up.Start()+len("<p") : up.InnerStart()]; len(
		own,
	) > len(
		">",
	) { // what the paragraph was told of its look
		open = append([]byte("<figure"), own...)
		around.Attr = append([]html.Attribute(nil), w.plan.Attributes(up.HTML)...)
	}
	w.plan.SetKids(around, append(w.plan.Kids(up.HTML), w.plan.Kids(around)...))
	w.plan.InsertBefore(up.Parent.HTML, []*html.Node{around}, up.HTML)
	w.plan.Remove(up.HTML)
	return []source.Edit{
		{Span: source.Span{Start: up.Start(), End: up.InnerStart()}, New: open},
		{Span: source.Span{Start: up.InnerEnd(), End: up.End()}, New: rest},
	}, nil
}

// stands reports whether a node stands in an element.
func stands(n *source.Node, tag string) bool {
	for up := n.Parent; up != nil; up = up.Parent {
		if up.Is(tag) {
			return true
		}
	}
	return false
}

// wrap plans that an element stands in another one, in front of what is in that.
func (w *work) wrap(n *source.Node, around *html.Node) {
	w.plan.SetKids(around, append([]*html.Node{n.HTML}, w.plan.Kids(around)...))
	w.plan.InsertBefore(n.HTML.Parent, []*html.Node{around}, n.HTML)
	w.plan.Remove(n.HTML)
}

// beside are edits that put bytes before an element and behind it.
func beside(n *source.Node, before, behind []byte) []source.Edit {
	return []source.Edit{
		{Span: source.Span{Start: n.Start(), End: n.Start()}, New: before},
		{Span: source.Span{Start: n.End(), End: n.End()}, New: behind},
	}
}

// encloseMarkdown puts a picture into a link.
func (w *work) encloseMarkdown(part *page.Part, around *html.Node) ([]source.Edit, error) {
	if around.Data != "a" || w.p.Doc.Bytes[part.Start] == '<' {
		return nil, refuse("In Markdown a picture has a link and nothing else around it.")
	}
	target, err := w.encode("]" + w.writer(part).target(around))
	if err != nil {
		return nil, err
	}
	w.wrap(part.Node, around)
	return beside(part.Node, []byte("["), target), nil
}

// openUp takes the tags of a link away; what is in it stays.
func (w *work) openUp(part *page.Part) ([]source.Edit, error) {
	n := part.Node
	if part.Run != nil || !n.Is("a") || !n.Placed || n.Parent == nil {
		return nil, refuse("“%s” is no link.", part.Name)
	}
	w.plan.InsertBefore(n.Parent.HTML, w.plan.Kids(n.HTML), n.HTML)
	w.plan.Remove(n.HTML)
	return []source.Edit{
		{Span: source.Span{Start: n.Start(), End: part.InnerStart}},
		{Span: source.Span{Start: part.InnerEnd, End: n.End()}},
	}, nil
}
