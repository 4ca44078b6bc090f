package act

import (
	"fmt"

	"mendry/internal/core/change"
	"mendry/internal/core/page"
	"mendry/internal/core/thread"
)

// Form gives a block another form: paragraph, heading, quote, list.
type Form struct {
	Part string      `json:"part"`
	Form change.Form `json:"form"`
}

var _ = register("form", func() Act { return &Form{} })

func (a *Form) do(w *work) error {
	defer w.goIn()
	return w.keep(a, a.Part)
}

func (a *Form) renames() {}

func (a *Form) goesOn(d *thread.Draft, k int) bool { return d.Kept[k].Step[0].Op.Op == change.Recast }

func (a *Form) edit(_ *work, at place) (edit, error) {
	return edit{
		kind: OfSection, part: at.part, name: at.part.Name, before: at.part.Text, after: at.part.Text,
		say: fmt.Sprintf("%s becomes %s", page.Quoted(at.part.Name), a.Form.Say()),
		ops: []change.Op{{Op: change.Recast, Part: at.part.ID, Form: a.Form}},
	}, nil
}
