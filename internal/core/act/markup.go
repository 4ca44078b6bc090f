package act

import (
	"mendry/internal/core/change"
	"mendry/internal/core/page"
	"mendry/internal/core/thread"
)

// Markup gives a part the words that an editor holds, as HTML.
type Markup struct {
	Part string `json:"part"`
	HTML string `json:"html"`
}

var _ = register("markup", func() Act { return &Markup{} })

func (a *Markup) do(w *work) error { return w.keep(a, a.Part) }

func (a *Markup) renames() {}

func (a *Markup) goesOn(d *thread.Draft, k int) bool { return wordsGoOn(d, k) }

func (a *Markup) inner(d *thread.Draft, now *page.Part) (string, error) {
	return change.Rewrite(d.Page(), now, a.HTML)
}

func (a *Markup) edit(_ *work, at place) (edit, error) {
	markup, err := change.RewriteSeen(at.base, at.part, a.HTML, change.Shown{On: at.draft.Page(), Part: at.now})
	return setWords(at.part, markup), err
}
