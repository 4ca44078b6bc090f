package act

import (
	"slices"

	"mendry/internal/core/change"
	"mendry/internal/core/thread"
)

// Hide takes a part out of the page, for visitors and search engines alike, and remembers where it stood.
type Hide struct {
	Part string `json:"part"`
}

// Show brings a part back that a change has hidden, to where it stood.
type Show struct {
	Change int64 `json:"change"`
}

var (
	_ = register("hide", func() Act { return &Hide{} })
	_ = register("show", func() Act { return &Show{} })
)

func (a *Hide) do(w *work) error {
	part, err := w.pointed(a.Part)
	if err != nil {
		return err
	}
	if err := (&Remove{Part: a.Part}).do(w); err != nil {
		return err
	}
	if n := len(w.effects); n > 0 &&
		w.effects[n-1].What == New { // otherwise it was put in by this draft, and is gone with that
		c := &w.effects[n-1].Change
		c.Hides, c.Say = true, part.Name+" is hidden: out of the page, its place remembered"
		w.draft.Kept[w.last].Say = c.Say
	}
	return nil
}

func (a *Show) do(w *work) error {
	if k := slices.IndexFunc(w.draft.Kept, func(k thread.Kept) bool { return k.ID == a.Change }); k >= 0 {
		if w.draft.Kept[k].Step[0].Op.Op != change.Remove {
			return refuse("That change hides nothing.")
		}
		if w.draft.Kept[k].Fixed {
			return refuse("It is being published as hidden just now. Show it again when that is done.")
		}
		return w.drop(k)
	}
	went, err := w.rest.Went(a.Change)
	if err != nil {
		return err
	}
	if !went.Change.Hides {
		return refuse("That change hides nothing.")
	}
	return w.takeBack(went, went.Change.Name+" is shown again, where it stood")
}
