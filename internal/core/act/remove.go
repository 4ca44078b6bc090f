package act

import "mendry/internal/core/change"

// Remove takes a part out.
type Remove struct {
	Part string `json:"part"`
}

var _ = register("remove", func() Act { return &Remove{} })

func (a *Remove) do(w *work) error {
	part, err := w.pointed(a.Part)
	if err != nil {
		return err
	}
	ops := []change.Op{{Op: change.Remove, Part: part.ID}}
	if m, ok := memberOf(w.draft.Page(), part); ok && m.stands() && len(m.items) > 1 {
		part = m.item
		if ops, err = takenOut([]member{m}); err != nil {
			return err
		}
	}
	return w.settle(-1, w.draft.Page(), edit{
		kind: OfSection, part: part, name: part.Name, before: part.Text, say: part.Name + " is taken out",
		ops: ops,
	})
}
