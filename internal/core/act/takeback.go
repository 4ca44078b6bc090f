package act

import (
	"slices"

	"mendry/internal/core/change"
	"mendry/internal/core/page"
)

// TakeBack takes one live change back, wherever later ones stand, as a change of its own.
type TakeBack struct {
	Change int64 `json:"change"`
}

var _ = register("take-back", func() Act { return &TakeBack{} })

// Went is a change that went live, and all that was done to its page since.
type Went struct {
	Change Change
	Undo   []change.Op   // what takes it back on the page right after it
	Later  [][]change.Op // the same of each change after it, in order, up to the live page
}

func (a *TakeBack) do(w *work) error {
	went, err := w.rest.Went(a.Change)
	if err != nil {
		return err
	}
	return w.takeBack(went, backSay(went.Change))
}

// backSay says what becomes of a part where a change of it is taken back.
func backSay(c Change) string {
	switch words := c.Kind == OfWords || c.Kind == OfFacts; {
	case words && c.BeforeWords != c.AfterWords:
		return "Taken back: " + change.Becomes(c.Name, c.AfterWords, c.BeforeWords)
	case c.Kind == OfSection && c.BeforeWords != "" && c.AfterWords == "":
		return page.Quoted(c.Name) + " is put back"
	case c.Kind == OfSection && c.BeforeWords == "" && c.AfterWords != "":
		return page.Quoted(c.Name) + " is taken out again"
	}
	return "Taken back: " + c.Say
}

// takeBack takes back a change that went live; say is what that is called.
func (w *work) takeBack(went Went, say string) error {
	c := went.Change
	ops, err := change.TakeBack(w.draft.Page(), went.Undo, slices.Concat(went.Later, w.draft.Undos(0))...)
	if err != nil {
		return err
	}
	if len(ops) == 0 && len(c.Files) > 0 { // the page stayed as it was: what stood behind its link was replaced
		if ops, err = sameAddress(w, c.Step[0]); err != nil {
			return err
		}
	}
	if op := c.Step[0].Op; op.Op == change.SetFact && op.Name == "lang" && c.BeforeWords != "" { // it stands in the frame of the page
		return w.keep(&Fact{Name: op.Name, Words: c.BeforeWords}, "")
	}
	err = w.settle(-1, w.draft.Page(), edit{
		kind: c.Kind, name: c.Name, before: c.AfterWords, after: c.BeforeWords, say: say,
		ops: ops, markup: &[2]string{c.AfterHTML, c.BeforeHTML}, shape: c.Shape, files: putBack(c.Files),
	})
	if err != nil {
		return err
	}
	if n := len(w.effects); n > 0 && w.effects[n-1].What == New {
		if w.effects[n-1].Change.TakesBack = c.ID; c.Hides {
			w.effects[n-1].Change.Shows = c.ID
		}
	}
	w.takeUp()
	return nil
}

// sameAddress leaves the link or picture that a step was of as it is.
func sameAddress(w *work, s change.Targeted) ([]change.Op, error) {
	op, _, err := s.Find(w.draft.Page())
	if err != nil {
		return nil, err
	}
	part, ok := w.draft.Page().Part(op.Part)
	if !ok {
		return nil, errGone()
	}
	value := part.Attributes.Get(op.Name)
	op.Value = &value
	return []change.Op{op}, nil
}

// putBack are files that stood on the site before others took their place.
func putBack(files []Brought) (back []Brought) {
	for _, f := range files {
		if f.WasHash == "" {
			continue
		}
		f.Info, f.Was, f.Hash, f.WasHash = f.Was, f.Info, f.WasHash, f.Hash
		back = append(back, f)
	}
	return back
}
