package change

import (
	"bytes"

	"golang.org/x/net/html"

	"mendry/internal/core/page"
	"mendry/internal/core/source"
)

// redraw puts another icon in the place of one within a part: that whose bytes are Gone; of several alike it is the
// one that is At so many icons from the first, if it is one of them.
func (w *work) redraw(part *page.Part, op Op) ([]source.Edit, error) {
	if w.markdown() || part.Run != nil {
		return nil, refuse("“%s” has no icon.", part.Name)
	}
	var at *source.Node
	k := 0
	part.Node.Walk(func(n *source.Node) bool {
		if n.Tag() == "" || !n.Placed {
			return true
		}
		if bytes.Equal(w.p.Doc.Bytes[n.Start():n.End()], op.Gone) {
			if at == nil || k == op.At {
				at = n
			}
			k++
			return false
		}
		return true
	})
	if at == nil {
		return nil, refuse("The icon of “%s” is another one by now.", part.Name)
	}
	raw, err := w.encode(op.HTML)
	if err != nil {
		return nil, err
	}
	kids, err := fragment(raw, at.HTML.Parent)
	if err != nil {
		return nil, err
	}
	if len(kids) != 1 || kids[0].Type != html.ElementNode || at.HTML.Parent == nil {
		return nil, refuse("An icon is one element, and this is none.")
	}
	w.plan.InsertBefore(at.HTML.Parent, kids, at.HTML)
	w.plan.Remove(at.HTML)
	return []source.Edit{
		source.Narrow(w.p.Doc.Bytes, source.Edit{Span: source.Span{Start: at.Start(), End: at.End()}, New: raw}),
	}, nil
}
