package change

import (
	"bytes"

	"golang.org/x/net/html"

	"mendry/internal/core/page"
	"mendry/internal/core/source"
)

// TakeBack gives the operations on a page that take one change of its past back, so that they can be kept and applied
// to other versions of it. undo and later are as for Revert, and so is the error.
func TakeBack(now *page.Page, undo []Op, later ...[]Op) ([]Op, error) {
	ops, err := reverting(now, undo, Settled(later))
	if err != nil {
		return nil, err
	}
	for i := range ops {
		if ops[i], err = within(now, ops[i]); err != nil {
			return nil, err
		}
	}
	return ops, nil
}

// within says where the bytes that op puts back stand by the words that hold them, or else by the part that stands
// next to them, so that they are found on other versions of the page. What lies between that part and them has to be
// there, too.
func within(p *page.Page, op Op) (Op, error) {
	start, end := op.At, op.At+len(op.Gone)
	if in := partAt(p, start, end); in != nil && (leaf(in) || in.Start == start && in.End == end) {
		op.Part, op.At = in.ID, start-in.Start
		return op, nil
	}
	var before, after *page.Part
	for _, part := range p.All {
		switch {
		case !part.Placed():
		case part.End <= start && (before == nil || part.End >= before.End):
			before = part
		case part.Start >= end && (after == nil || part.Start < after.Start):
			after = part
		}
	}
	b := p.Doc.Bytes
	switch {
	case before != nil && (after == nil || start-before.End <= after.Start-end):
		op.Anchor, op.Where, op.At, op.Between = before.ID, After, 0, b[before.End:start]
	case after != nil:
		op.Anchor, op.Where, op.At, op.Between = after.ID, Before, 0, b[end:after.Start]
	default:
		return op, refuse("The page has no part beside which this change could be taken back.")
	}
	return op, nil
}

// Stands is where on a page the bytes stand that a PutBack is about. It reports false where they are not there, or
// where something else stands between them and the part that they are found by.
func (op Op) Stands(p *page.Page) (at source.Span, ok bool) {
	b := p.Doc.Bytes
	at.Start = op.At
	if id := first(op.Part, op.Anchor); id != "" {
		part, ok := p.Part(id)
		if !ok {
			return at, false
		}
		switch {
		case op.Part != "":
			at.Start += part.Start
		case op.Where == After:
			at.Start = part.End + len(op.Between)
			ok = bytes.HasPrefix(b[part.End:], op.Between)
		default:
			at.Start = part.Start - len(op.Between) - len(op.Gone)
			ok = bytes.HasSuffix(b[:part.Start], op.Between)
		}
		if !ok {
			return at, false
		}
	}
	at.End = at.Start + len(op.Gone)
	return at, at.Start >= 0 && at.End <= len(b) && bytes.Equal(b[at.Start:at.End], op.Gone)
}

// putBack gives the edits of operations that put bytes back. What says where by offsets alone brings back what was a
// page before: any page that it makes is right, and held is nil. Otherwise held is the innermost element that holds
// all of the bytes, and with them all that may differ.
func (w *work) putBack(ops []Op) (edits []source.Edit, held *source.Node, err error) {
	from, to, aimed := len(w.p.Doc.Bytes), 0, false
	for _, op := range ops {
		at, ok := op.Stands(w.p)
		if !ok {
			return nil, nil, refuse("The page is no longer what this undo speaks of.")
		}
		from, to = min(from, at.Start), max(to, at.End)
		edits = append(edits, source.Edit{Span: at, New: op.Back})
		aimed = aimed || op.Part != "" || op.Anchor != ""
	}
	if !aimed || w.markdown() {
		return edits, nil, nil
	}
	var in *source.Node
	for _, n := range w.p.Doc.Nodes {
		holds := n.Tag() != "" && n.Placed && !n.Torn && n.InnerStart() <= from && to <= n.InnerEnd()
		if holds && (to < n.InnerEnd() || n.InnerEnd() < n.End()) { // at the end of what has no end tag nobody can say
			in = n // the later ones are the inner ones
		}
	}
	if in == nil {
		return nil, nil, refuse("This change reaches over the frame of the page and cannot be taken back alone.")
	}
	return edits, in, nil
}

// putInto gives an element in the plan what its new bytes are read as, and leaves what stands in it before and after
// them. It reports false where they cannot be told.
func (w *work) putInto(in *source.Node, edits []source.Edit) bool {
	from, to := edits[0].Start, edits[0].End
	for _, e := range edits {
		from, to = min(from, e.Start), max(to, e.End)
	}
	var before *html.Node
	var gone []*source.Node
	for _, k := range in.Kids {
		at := source.Span{Start: k.Start(), End: k.End()}
		if runs := k.Runs(); k.IsText() && len(runs) > 0 { // more than one, where it goes on after a tag that is ignored
			at.Start, at.End = runs[0].Start, runs[len(runs)-1].End
		} else if !k.Placed { // an element that has no tag here, as a table's body: all is read again
			from, to, before = in.InnerStart(), in.InnerEnd(), nil
			gone = in.Kids
			break
		}
		switch {
		case at.End < from || at.End == from && from < to:
		case at.Start > to || at.Start == to && from < to:
			if before == nil {
				before = k.HTML
			}
		default:
			gone = append(gone, k)
			from, to = min(from, at.Start), max(to, at.End)
		}
	}
	moved := make([]source.Edit, len(edits))
	for i, e := range edits {
		moved[i] = source.Edit{Span: source.Span{Start: e.Start - from, End: e.End - from}, New: e.New}
	}
	raw, _, err := source.Splice(w.p.Doc.Bytes[from:to], moved)
	if err != nil {
		return false
	}
	kids, err := fragment(raw, in.HTML)
	if err != nil {
		return false
	}
	w.plan.InsertBefore(in.HTML, kids, before)
	for _, k := range gone {
		w.plan.Remove(k.HTML)
	}
	return true
}
