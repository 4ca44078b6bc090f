package act

import (
	"mendry/internal/core/change"
	"mendry/internal/core/page"
	"mendry/internal/core/thread"
)

// Join lets the words of a part, as the editor left them, go on in the block above it, and takes the part out.
type Join struct {
	Part string `json:"part"`
	HTML string `json:"html"`
}

var _ = register("join", func() Act { return &Join{} })

func (a *Join) do(w *work) error {
	p := w.draft.Page()
	part, ok := p.Part(a.Part)
	if !ok {
		return errGone()
	}
	words, err := change.Joined(p, part, a.HTML)
	if err != nil {
		return err
	}
	above := change.Above(p, part).ID // earlier on the page, so the ID stays
	if k := w.draft.PutIn(part.ID); k < 0 || w.drop(k) != nil {
		if err := (&Remove{Part: a.Part}).do(w); err != nil {
			return err
		}
	}
	w.made = above
	return w.keep(joined(words), above)
}

// joined are the words of a block with those of the next one after them, as markup for its inside.
type joined string

func (joined) renames() {}

func (joined) goesOn(d *thread.Draft, k int) bool { return wordsGoOn(d, k) }

func (j joined) inner(*thread.Draft, *page.Part) (string, error) { return string(j), nil }

func (j joined) edit(_ *work, at place) (edit, error) { return setWords(at.part, string(j)), nil }
