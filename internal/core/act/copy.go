package act

import (
	"cmp"
	"fmt"

	"mendry/internal/core/change"
	"mendry/internal/core/page"
)

// Copy puts a copy of a part beside another one, or beside itself.
type Copy struct {
	Part   string       `json:"part"`
	Anchor string       `json:"anchor,omitempty"` // empty: the part itself
	Where  change.Where `json:"where,omitempty"`  // empty: after
}

var _ = register("copy", func() Act { return &Copy{} })

func (a *Copy) do(w *work) error {
	part, anchor, err := w.beside(a.Part, a.Anchor)
	if err != nil {
		return err
	}
	if anchor == part {
		anchor = w.draft.Page().Whole(part)
	}
	part = w.draft.Page().Whole(part)
	where := cmp.Or(a.Where, change.After)
	if m, ok := memberOf(w.draft.Page(), part); ok && m.stands() {
		if beside, ok := memberOf(w.draft.Page(), anchor); ok && beside.set == m.set {
			return w.copyItem(m, beside, where)
		}
	}
	defer w.takeUp()
	return w.settle(-1, w.draft.Page(), edit{
		kind: OfSection, part: part, name: part.Name, after: part.Text,
		say: fmt.Sprintf("%s: a copy stands %s %s", part.Name, where, page.Quoted(anchor.Name)),
		ops: []change.Op{{Op: change.Copy, Part: part.ID, Anchor: anchor.ID, Where: where}},
	})
}

// copyItem puts a copy of an item beside another one, with its other half and without the state of being the one that
// is shown.
func (w *work) copyItem(m, beside member, where change.Where) error {
	ops, err := m.again(beside, where, false)
	if err != nil {
		return err
	}
	defer w.takeUp()
	return w.settle(-1, m.p, edit{
		kind: OfSection, name: m.item.Name, after: m.item.Text,
		say: fmt.Sprintf("%s: a copy stands %s %s", m.item.Name, where, page.Quoted(beside.item.Name)), ops: ops,
	})
}

// beside finds a part that somebody pointed at, and the one that it is to stand beside.
func (w *work) beside(id, anchor string) (*page.Part, *page.Part, error) {
	part, err := w.pointed(id)
	if err != nil || anchor == "" {
		return part, part, err
	}
	to, ok := w.draft.Page().Part(anchor)
	if !ok {
		return nil, nil, errGone()
	}
	return part, to, nil
}
