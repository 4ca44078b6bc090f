package act

import (
	"cmp"
	"fmt"

	"mendry/internal/core/change"
	"mendry/internal/core/page"
	"mendry/internal/core/source"
)

// AddItem adds an item to a set, made like its fullest one, or like one that is named: with prompts in the place of
// its words and pictures, or as a copy.
type AddItem struct {
	Part   string       `json:"part"`             // the set, or an item of it
	Like   string       `json:"like,omitempty"`   // the item that it is made like; empty: the fullest
	Copied bool         `json:"copied,omitempty"` // with that one's words and pictures
	Anchor string       `json:"anchor,omitempty"` // the item that it stands beside; empty: the last
	Where  change.Where `json:"where,omitempty"`  // empty: after
}

// TakeOut takes several items out of a set, each with its other half.
type TakeOut struct {
	Parts []string `json:"parts"`
}

var (
	_ = register("add-item", func() Act { return &AddItem{} })
	_ = register("take-out", func() Act { return &TakeOut{} })
)

// member is an item of a set on a page.
type member struct {
	p     *page.Page
	set   *page.Part
	item  *page.Part
	half  *page.Part   // its tab or dot; nil where it has none
	items []*page.Part // all of the set
}

// memberOf finds the item that a part is, or is the other half of; false where it is none.
func memberOf(p *page.Page, part *page.Part) (m member, ok bool) {
	item, half := p.ItemOf(part)
	if item == nil || item.Parent == nil || item.Parent.Kind != page.Set {
		return m, false
	}
	return member{p, item.Parent, item, half, item.Parent.Items()}, true
}

// halves are the other halves of all items, in order; nil where one has none.
func (m member) halves() (all []*page.Part) {
	for _, item := range m.items {
		half, ok := m.p.Part(item.Half)
		if !ok {
			return nil
		}
		all = append(all, half)
	}
	return all
}

// numbered reports whether the other halves are told apart by their numbers alone, as dots are: they stay where they
// are, and the last one comes and goes.
func (m member) numbered() bool { return m.half != nil && change.Numbered(m.p, m.halves()) }

// stands reports whether an item is more than a part by itself: it has another half, or is the one of its likes that
// is shown.
func (m member) stands() bool { return m.half != nil || change.InState(m.item, m.items) }

// again are the operations that put an item made like m beside another one; of halves that are numbered the last is
// made again and stands behind itself.
func (m member) again(anchor member, where change.Where, emptied bool) ([]change.Op, error) {
	parts, likes := []*page.Part{m.item}, [][]*page.Part{m.items}
	half, side := anchor.half, where
	if m.half != nil {
		halves, made := m.halves(), m.half
		if change.Numbered(m.p, halves) {
			made = halves[len(halves)-1]
			half, side = made, change.After
		}
		parts, likes = append(parts, made), append(likes, halves)
	}
	markups, err := change.MakeAgain(m.p, parts, likes, emptied)
	if err != nil {
		return nil, err
	}
	ops := []change.Op{insertOp(m.p, anchor.item, where, markups[0])}
	if m.half != nil {
		ops = append(ops, insertOp(m.p, half, side, markups[1]))
	}
	return ops, nil
}

// insertOp puts markup beside a part or into it, on a line of its own where that has one.
func insertOp(p *page.Page, anchor *page.Part, where change.Where, markup string) change.Op {
	gap := p.Doc.Markup(change.GapBefore(p.Doc, change.WholeSpan(anchor).Start))
	b := p.Doc.Bytes
	switch {
	case where == change.First && (anchor.InnerStart >= len(b) || b[anchor.InnerStart] > ' '):
	case where == change.Last && (anchor.InnerEnd == 0 || b[anchor.InnerEnd-1] > ' '): // all of it stands on one line
	case where == change.After, where == change.First:
		markup = gap + markup
	default:
		markup += gap
	}
	return change.Op{Op: change.Insert, Anchor: anchor.ID, Where: where, HTML: markup}
}

// move are the operations that move an item beside another one.
func (m member) move(anchor member, where change.Where) []change.Op {
	ops := []change.Op{{Op: change.Move, Part: m.item.ID, Anchor: anchor.item.ID, Where: where}}
	if m.half != nil && anchor.half != nil && !m.numbered() {
		ops = append(ops, change.Op{Op: change.Move, Part: m.half.ID, Anchor: anchor.half.ID, Where: where})
	}
	return ops
}

// takenOut are the operations that take items out of a set, the state of the one that is shown handed over to one that
// stays.
func takenOut(gone []member) ([]change.Op, error) {
	m := gone[0]
	out := map[string]bool{}
	for _, g := range gone {
		out[g.item.ID] = true
	}
	stays, after := (*page.Part)(nil), false
	for _, item := range m.items {
		if !out[item.ID] && (stays == nil || !after) {
			stays = item
			after = item.Start > m.item.Start
		}
	}
	if stays == nil {
		return nil, refuse("All of “%s” would go. Take the whole of it out instead.", m.set.Name)
	}
	var ops []change.Op
	halves, numbered, handed := m.halves(), m.numbered(), m.p.OneShows(m.set)
	for i, g := range gone {
		ops = append(ops, change.Op{Op: change.Remove, Part: g.item.ID})
		switch {
		case numbered:
			ops = append(ops, change.Op{Op: change.Remove, Part: halves[len(halves)-1-i].ID})
		case g.half != nil:
			ops = append(ops, change.Op{Op: change.Remove, Part: g.half.ID})
		}
		if handed && change.InState(g.item, g.items) {
			ops = append(ops, change.HandOver(m.p, g.item, stays)...)
		}
		if half, ok := m.p.Part(stays.Half); ok && handed && g.half != nil && !numbered &&
			change.InState(g.half, halves) {
			ops = append(ops, change.HandOver(m.p, g.half, half)...)
		}
	}
	return ops, nil
}

// fullest is the item of a set in which most stands: with the most parts, and of those the one that says most.
func fullest(items []*page.Part) (full *page.Part) {
	most, longest := -1, 0
	for _, item := range items {
		n := 0
		item.Walk(func(*page.Part) { n++ })
		if item.Locked == "" && item.Placed() && (n > most || n == most && len(item.Text) > longest) {
			full, most, longest = item, n, len(item.Text)
		}
	}
	return full
}

func (a *AddItem) do(w *work) error {
	part, err := w.pointed(a.Part)
	if err != nil {
		return err
	}
	p := w.draft.Page()
	set := part
	if item, _ := p.ItemOf(part); item != nil {
		set = item.Parent
	}
	if p.Doc.Format != source.HTML {
		return refuse("A page in Markdown gets another item by typing it: go on at the end of the last one.")
	}
	if set.Kind != page.Set || len(set.Items()) == 0 {
		return refuse("“%s” is no set, so nothing can be added to it.", part.Name)
	}
	items := set.Items()
	like, anchor := fullest(items), items[len(items)-1]
	for id, to := range map[string]**page.Part{a.Like: &like, a.Anchor: &anchor} {
		if id == "" {
			continue
		}
		found, ok := p.Part(id)
		if !ok {
			return errGone()
		}
		if *to, _ = p.ItemOf(found); *to == nil || (*to).Parent != set {
			return refuse("“%s” is no item of “%s”.", found.Name, set.Name)
		}
	}
	if like == nil {
		return refuse("No item of “%s” can be made again: %s", set.Name, items[0].Locked)
	}
	m, _ := memberOf(p, like)
	beside, _ := memberOf(p, anchor)
	ops, err := m.again(beside, cmp.Or(a.Where, change.After), !a.Copied)
	if err != nil {
		return err
	}
	defer w.goIn()
	return w.settle(-1, p, edit{
		kind: OfSection, name: set.Name, say: fmt.Sprintf("%s gets one more, made like %s", set.Name, page.Quoted(like.Name)), ops: ops,
	})
}

func (a *TakeOut) do(w *work) error {
	p := w.draft.Page()
	var gone []member
	seen := map[string]bool{}
	names, words := "", ""
	for _, id := range a.Parts {
		part, err := w.pointed(id)
		if err != nil {
			return err
		}
		m, ok := memberOf(p, part)
		switch {
		case !ok || len(gone) > 0 && m.set != gone[0].set:
			return refuse("“%s” is no item of the same set.", part.Name)
		case seen[m.item.ID]:
			continue
		}
		seen[m.item.ID] = true
		gone = append(gone, m)
		if names != "" {
			names, words = names+", ", words+"\n"
		}
		names, words = names+m.item.Name, words+m.item.Text
	}
	if len(gone) == 0 {
		return refuse("Nothing is chosen.")
	}
	ops, err := takenOut(gone)
	if err != nil {
		return err
	}
	say := names + " is taken out"
	if len(gone) > 1 {
		say = fmt.Sprintf("%s: %d are taken out: %s", gone[0].set.Name, len(gone), page.Short(names, 120))
	}
	return w.settle(
		-1,
		p,
		edit{kind: OfSection, part: gone[0].item, name: gone[0].set.Name, before: words, say: say, ops: ops},
	)
}
