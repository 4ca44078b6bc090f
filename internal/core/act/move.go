package act

import (
	"cmp"
	"fmt"

	"mendry/internal/core/change"
	"mendry/internal/core/page"
)

// Move moves a part beside another one.
type Move struct {
	Part   string       `json:"part"`
	Anchor string       `json:"anchor"`
	Where  change.Where `json:"where,omitempty"` // empty: after
}

var _ = register("move", func() Act { return &Move{} })

func (a *Move) do(w *work) error {
	part, anchor, err := w.beside(a.Part, a.Anchor)
	if err != nil {
		return err
	}
	part = w.draft.Page().Whole(part)
	defer w.takeUp()
	where := cmp.Or(a.Where, change.After)
	ops := []change.Op{{Op: change.Move, Part: part.ID, Anchor: anchor.ID, Where: where}}
	if m, ok := memberOf(w.draft.Page(), part); ok {
		if beside, ok := memberOf(w.draft.Page(), anchor); ok && beside.set == m.set {
			part, ops = m.item, m.move(beside, where)
		}
	}
	return w.settle(-1, w.draft.Page(), edit{
		kind: OfSection, part: part, name: part.Name, before: part.Text, after: part.Text,
		say: fmt.Sprintf("%s moves %s %s", part.Name, where, page.Quoted(anchor.Name)),
		ops: ops,
	})
}
