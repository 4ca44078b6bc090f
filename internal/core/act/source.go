package act

import (
	"errors"

	"mendry/internal/core/change"
	"mendry/internal/core/source"
	"mendry/internal/core/thread"
)

// Source gives a part the markup that somebody wrote for it, by hand: whoever may.
type Source struct {
	Part   string `json:"part"`
	Markup string `json:"markup"`
}

var _ = register("source", func() Act { return &Source{} })

func (a *Source) do(w *work) error {
	part, err := w.pointed(a.Part)
	if err != nil {
		return err
	}
	before := w.draft
	if err := w.keep(a, a.Part); err != nil {
		if errors.Is(err, change.ErrLeak) {
			return refuse("It would reach beyond “%s”: a tag in it is not closed, or it closes what stands around it.", part.Name)
		}
		return err
	}
	w.stay(before, part)
	return w.noWorse(before.Page())
}

// goesOn: writing on in the same part is the same change.
func (a *Source) goesOn(d *thread.Draft, k int) bool {
	s := d.Kept[k].Step
	return len(s) == 1 && s[0].Op.Op == change.PutBack && s[0].Name == change.WrittenByHand
}

func (a *Source) edit(_ *work, at place) (edit, error) {
	if at.base.Doc.Format != source.HTML {
		return edit{}, refuse("On a page in Markdown, write the words: they are its markup.")
	}
	ops, err := change.ByHand(at.base, at.part, a.Markup)
	if err != nil {
		return edit{}, err
	}
	e := edit{kind: OfSection, part: at.part, name: at.part.Name, before: at.part.Text, ops: ops, say: "Markup by hand: " + at.part.Name}
	if len(ops) == 0 {
		e.ops = []change.Op{asItIs(at.part, "class")}
	}
	return e, nil
}
