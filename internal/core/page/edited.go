package page

import (
	"slices"
	"unicode/utf8"
	"unsafe"

	"mendry/internal/core/source"
	"mendry/internal/core/text"
)

// Edited is a page that was read again after edits.
type Edited struct {
	*Page
	// Was and Is are the block that was read again, on the page before and on this one; nil where all of it was read.
	Was, Is *source.Node
}

// Edited reads the page with edits made, of which out are the bytes. Of a large page only the block that the edits lie
// in is read again, where that tells as much. The error is a *refusal.Refusal.
func (p *Page) Edited(out []byte, edits []source.Edit) (Edited, error) {
	doc, was, is := p.Doc.Edited(out, edits)
	if doc == nil {
		now, err := p.Again(out)
		return Edited{Page: now}, err
	}
	if now := p.reworded(doc, was, is); now != nil {
		return Edited{now, was, is}, nil
	}
	return Edited{Of(doc), was, is}, nil
}

// reworded is the page where nothing but the words of a block are others: then the parts are the same, and only what
// is said of those in and around the block is worked out again. It is nil where other parts may have come of it.
func (p *Page) reworded(doc *source.Doc, was, is *source.Node) *Page {
	now := &Page{Doc: doc, Facts: p.Facts, at: p.at, whole: p.whole, codes: p.codes, marks: p.marks, orphans: p.orphans}
	now.markup = unsafe.String(unsafe.SliceData(doc.Bytes), len(doc.Bytes)) // no copy: a Doc's bytes never change
	if !sameShape(was, is) || !p.whole || !utf8.Valid(doc.Bytes) || p.codes != text.MayHoldTokens(now.markup) {
		return nil
	}
	if p.codes {
		if now.marks = text.Marks(now.markup); !sameMarks(p, now, was, is) {
			return nil
		}
	}
	now.text = p.text.with(doc, was, is)
	now.copyParts(p)
	for _, part := range now.All {
		now.measure(part)
	}
	now.renameAround(is)
	return now
}

// sameShape reports whether two nodes are the same but for what is read in their texts.
func sameShape(a, b *source.Node) bool {
	if a.HTML.Type != b.HTML.Type || len(a.Kids) != len(b.Kids) || a.Blank != b.Blank || a.Placed != b.Placed || a.Torn != b.Torn {
		return false
	}
	if a.IsText() {
		return saidBy(a.HTML.Data) == saidBy(b.HTML.Data) && len(a.Runs()) == len(b.Runs())
	}
	if a.HTML.Data != b.HTML.Data || a.HTML.Namespace != b.HTML.Namespace || !slices.Equal(a.HTML.Attr, b.HTML.Attr) {
		return false
	}
	for i := range a.Kids {
		if !sameShape(a.Kids[i], b.Kids[i]) {
			return false
		}
	}
	return true
}

// SameShape reports whether two pages have the same nodes, but for what is read in their texts, and with that the same
// parts.
func SameShape(p, q *Page) bool {
	return len(p.Doc.Nodes) == len(q.Doc.Nodes) && len(p.All) == len(q.All) && p.Doc.Format == q.Doc.Format && sameShape(p.Doc.Root, q.Doc.Root)
}

// Same reports whether nothing about a part is other than about one of the same ID: its words, markup and name, and
// whether it can be changed.
func (p *Part) Same(q *Part) bool {
	return p.ID == q.ID && p.Name == q.Name && p.Text == q.Text && p.HTML == q.HTML && p.Locked == q.Locked
}

// sameMarks reports whether the template marks of two pages stand in the same places, none of them in the block.
func sameMarks(p, now *Page, was, is *source.Node) bool {
	longer := is.End() - was.End()
	return slices.EqualFunc(p.marks, now.marks, func(m, n text.Token) bool {
		if m.Start >= was.End() {
			m.Start, m.End = m.Start+longer, m.End+longer
		} else if m.End > was.Start() {
			return false
		}
		return m == n
	})
}

// with is what a visitor reads of the page with other words in a block.
func (r *rendered) with(doc *source.Doc, was, is *source.Node) *rendered {
	first, all := is.Index, is.All()
	behind := first + int32(len(all))
	start, end := r.from[first], r.to[first]
	w := textWriter{d: doc, traits: traitsOf(all), base: first, from: slices.Clone(r.from), to: slices.Clone(r.to)}
	w.b.Grow(len(r.all) + is.End() - was.End() + 64)
	w.b.WriteString(r.all[:start])
	if start > 0 {
		w.last = r.all[start-1]
	}
	w.write(is)
	longer := int32(w.b.Len()) - end
	w.b.WriteString(r.all[end:])
	for i := range w.from[behind:] {
		w.from[behind+int32(i)] += longer
		w.to[behind+int32(i)] += longer
	}
	for up := is.Parent; up != nil; up = up.Parent {
		w.to[up.Index] += longer
	}
	freeTraits(w.traits)
	return &rendered{w.b.String(), w.from, w.to}
}

// copyParts takes over the parts of a page whose nodes are the same, one by one.
func (p *Page) copyParts(old *Page) {
	parts := make([]Part, len(old.All))
	p.All = make([]*Part, len(parts))
	lists := make([]*Part, 0, len(parts)) // of what parts hold
	of := func(part *Part) *Part {
		if part == nil {
			return nil
		}
		return &parts[part.order]
	}
	list := func(from []*Part) []*Part {
		start := len(lists)
		for _, part := range from {
			lists = append(lists, of(part))
		}
		return lists[start:len(lists):len(lists)]
	}
	for i, was := range old.All {
		part := &parts[i]
		*part = *was
		part.Node, part.Parent, part.Parts = p.Doc.Nodes[was.Node.Index], of(was.Parent), list(was.Parts)
		if was.Run != nil {
			first := was.Run[0].Index
			siblings := p.Doc.Nodes[was.Run[0].Parent.Index].Kids
			at := slices.IndexFunc(siblings, func(n *source.Node) bool { return n.Index == first })
			part.Run = siblings[at : at+len(was.Run) : at+len(was.Run)]
		}
		if was.Settings != nil {
			part.Settings = slices.Clone(was.Settings)
			for j := range part.Settings {
				part.Settings[j].node = p.Doc.Nodes[was.Settings[j].node.Index]
			}
		}
		p.All[i] = part
	}
	for _, part := range old.Parts {
		p.Parts = append(p.Parts, of(part))
	}
	p.sortByKind()
}

// renameAround names the parts in a block and around it anew, and those that are named after one of them.
func (p *Page) renameAround(block *source.Node) {
	var some []*Part
	for _, part := range p.All {
		switch {
		case part.End <= block.Start() || part.Start >= block.End():
			continue
		case part.Kind == Heading, part.Kind == Cell, part.Kind == Row, part.Half != "":
			p.nameAll() // tables, sets, rows and cells elsewhere may be named after it, and a panel after its tab
			return
		}
		some = append(some, part)
	}
	p.nameThese(some, p.HeadingBefore)
}

// HeadingBefore is what the last heading before a part says; empty where there is none.
func (p *Page) HeadingBefore(part *Part) string {
	for i := int(part.order) - 1; i >= 0; i-- {
		if p.All[i].Kind == Heading {
			return p.All[i].Text
		}
	}
	return ""
}
