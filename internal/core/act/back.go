package act

import (
	"mendry/internal/core/change"
	"mendry/internal/core/source"
	"mendry/internal/core/thread"
)

// Back brings a wording back that the part had on the live page.
type Back struct {
	Part    string `json:"part"`
	Version string `json:"version"`
}

var _ = register("back", func() Act { return &Back{} })

func (a *Back) do(w *work) error { return w.keep(a, a.Part) }

func (a *Back) renames() {}

func (a *Back) goesOn(d *thread.Draft, k int) bool { return d.Kept[k].Step[0].Op.Op == change.SetWords }

func (a *Back) edit(w *work, at place) (edit, error) {
	then, part, err := w.rest.Wording(at.draft, at.now, a.Version)
	if err != nil {
		return edit{}, err
	}
	markup := then.Doc.Markup(then.Doc.Bytes[part.InnerStart:part.InnerEnd])
	if then.Doc.Format == source.Markdown {
		if markup, err = change.Rewrite(then, part, change.Editable(then, part)); err != nil {
			return edit{}, err
		}
	}
	return setWords(at.part, markup), nil
}
