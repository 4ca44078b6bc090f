package change

import (
	"errors"
	"fmt"

	"mendry/internal/core/page"
	"mendry/internal/core/refusal"
)

// Refused is an operation that cannot be brought onto another version of its page.
type Refused struct {
	Index int    `json:"index"` // in the list of operations
	Part  string `json:"part"`  // its ID on the old page; empty where it has none
	Why   string `json:"why"`
}

// Rebase applies operations whose IDs speak of old to now, another version of the page: each finds its own part again,
// or says why not. Where any is refused, nothing is applied.
func Rebase(old *page.Page, ops []Op, now *page.Page) (*Result, []Refused) {
	var no []Refused
	found := make([]Op, len(ops))
	sure := page.SamePlaceSameWords
	for i, op := range ops {
		refuse := func(err error) { no = append(no, Refused{i, first(op.Part, op.Anchor), whyNot(err)}) }
		if op.Op == PutBack {
			refuse(refusal.New(refusal.Rule, "An undo speaks of the bytes of one version; it can only be applied to that one."))
			continue
		}
		t, err := Aim(old, op)
		if err != nil {
			refuse(err)
			continue
		}
		var s page.Sure
		if found[i], s, err = t.Find(now); err != nil {
			refuse(err)
			continue
		}
		sure = min(sure, s)
	}
	if len(no) > 0 {
		return nil, no
	}
	r, err := Apply(now, found)
	if err == nil {
		r.Sure = sure
		return r, nil
	}
	for i, op := range found {
		if _, alone := Apply(now, []Op{op}); alone != nil {
			no = append(no, Refused{i, first(ops[i].Part, ops[i].Anchor), whyNot(alone)})
		}
	}
	if len(no) == 0 { // each alone could be applied
		for i := range ops {
			no = append(no, Refused{i, first(ops[i].Part, ops[i].Anchor), whyNot(err)})
		}
	}
	return nil, no
}

// whyNot says in words why an operation was refused, with both places where there are two.
func whyNot(err error) string {
	var c *Conflict
	if !errors.As(err, &c) {
		return err.Error()
	}
	like := ""
	if c.Like != "" {
		like = fmt.Sprintf(" The same words stand in %s, but nothing says that it is the same place.", c.Like)
	}
	switch {
	case errors.Is(c.Reason, page.ErrElsewhere):
		return fmt.Sprintf("“%s” was changed elsewhere; its place now says “%s”.%s", c.Part, page.Short(c.Now, 80), like)
	case errors.Is(c.Reason, page.ErrTwoPlaces):
		return fmt.Sprintf("“%s” now fits two places: %s.", c.Part, c.Like)
	}
	return fmt.Sprintf("“%s” is no longer on the page, or can no longer be told from others.%s", c.Part, like)
}
