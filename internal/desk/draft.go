package desk

import (
	"context"
	"encoding/json"
	"errors"

	"mendry/internal/core/change"
	"mendry/internal/core/check"
	"mendry/internal/core/page"
	"mendry/internal/store"
)

// draft is a page with the kept changes of one request. It is always made from the last known live bytes and the kept
// changes in order; it is stored nowhere.
type draft struct {
	row     store.Page
	live    *page.Page
	changes []store.Change
	steps   []change.Step
	at      []*page.Page // the page before each change, and after the last that fits
	// conflict says in words which change no longer fits the live page; the changes from it on are not in the draft.
	conflict string
}

func (dr *draft) page() *page.Page { return dr.at[len(dr.at)-1] }

func (dr *draft) hash() string { return hash(dr.page().Doc.Bytes) }

// draftOf makes the draft of a page for a request.
func (d *Desk) draftOf(ctx context.Context, q store.Queries, request, pageID int64) (*draft, error) {
	row, err := q.Page(ctx, pageID)
	if err != nil {
		return nil, missing(err, "page")
	}
	kept, err := q.KeptOn(ctx, request, pageID)
	if err != nil {
		return nil, err
	}
	return d.draftFrom(row, kept)
}

func (d *Desk) draftFrom(row store.Page, kept []store.Change) (*draft, error) {
	live, err := d.parse(row)
	if err != nil {
		return nil, err
	}
	dr := &draft{row: row, live: live, changes: kept}
	for _, c := range kept {
		var s change.Step
		if err := json.Unmarshal([]byte(c.Op), &s); err != nil {
			return nil, err
		}
		dr.steps = append(dr.steps, s)
	}
	dr.at, err = d.chain(row.Hash, live, dr.changes, dr.steps)
	var conflict *change.Conflict
	var refusal *change.Refusal
	switch {
	case errors.As(err, &conflict):
		dr.conflict = conflictWords(conflict)
	case errors.As(err, &refusal):
		dr.conflict = refusal.Reason
	case err != nil:
		return nil, err
	}
	return dr, nil
}

// chain is change.Chain with every stage remembered by what led to it.
func (d *Desk) chain(key string, p *page.Page, changes []store.Change, steps []change.Step) ([]*page.Page, error) {
	at := []*page.Page{p}
	for i, s := range steps {
		key = hash([]byte(key + changes[i].Op))
		if got, ok := d.pages.Get("draft" + key); ok {
			at = append(at, got)
			continue
		}
		next, err := change.Chain(at[i], []change.Step{s})
		if err != nil {
			return at, err
		}
		at = append(at, next[1])
		d.pages.Add("draft"+key, next[1])
	}
	return at, nil
}

func conflictWords(c *change.Conflict) string {
	switch {
	case errors.Is(c.Reason, page.ErrElsewhere):
		return "“" + c.Part + "” was changed elsewhere and now says “" + page.Short(c.Now, 80) + "”. Look at both and decide: keep theirs by undoing your change, or undo and make it again."
	case errors.Is(c.Reason, page.ErrTwoPlaces):
		return "“" + c.Part + "” now fits two places on the page. Undo this change and make it again at the right one."
	}
	return "“" + c.Part + "” is no longer on the live page. Undo this change, or make it again somewhere else."
}

// parts finds, for each change, the part that it made or changed on the finished draft: its ID, or "" where that
// cannot be told.
func (dr *draft) parts() []string {
	ids := make([]string, len(dr.changes))
	for i := range dr.changes {
		if i+1 >= len(dr.at) {
			break
		}
		t := dr.steps[i][0]
		on := t.On
		if on == nil {
			continue
		}
		id := made(t, dr.at[i], dr.at[i+1])
		for k := i + 1; k+1 < len(dr.at) && id != ""; k++ {
			p, ok := dr.at[k].Part(id)
			if !ok {
				id = ""
				break
			}
			id = follow(dr.at[k], p, dr.steps[k], dr.at[k+1])
		}
		ids[i] = id
	}
	return ids
}

// made is the part that an operation changed or made, on the page after it.
func made(t change.Targeted, before, after *page.Page) string {
	part, err := before.Locate(*t.On)
	if err != nil {
		return ""
	}
	switch t.Op.Op {
	case change.Remove:
		return ""
	case change.Copy, change.Move:
		anchor, err := before.Locate(*t.Beside)
		if err != nil {
			return ""
		}
		return placed(part, anchor, t.Op, before, after)
	}
	return sameOrder(part, before, after)
}

// sameOrder finds a part on a page that has the same parts in the same order.
func sameOrder(part *page.Part, before, after *page.Page) string {
	if len(before.All) != len(after.All) {
		return ""
	}
	for i, q := range before.All {
		if q == part && after.All[i].Kind == part.Kind {
			return after.All[i].ID
		}
	}
	return ""
}

// placed finds the copy, or the part at its new place.
func placed(part, anchor *page.Part, op change.Op, before, after *page.Page) string {
	shift := 0
	if op.Op == change.Move && part.Start < anchor.Start {
		shift = len(after.Doc.Bytes) - len(before.Doc.Bytes) - (part.End - part.Start) // what was taken out before it
	}
	best, far := "", 1<<30
	want := anchor.Start + shift
	if op.Where == change.After {
		want = anchor.End + shift
	}
	for _, q := range after.All {
		if q.Kind == part.Kind && q.HTML == part.HTML {
			if dist := abs(q.Start - want); dist < far {
				best, far = q.ID, dist
			}
		}
	}
	return best
}

func abs(n int) int { return max(n, -n) }

// follow finds part, of the page before a step, on the page after it.
func follow(before *page.Page, part *page.Part, s change.Step, after *page.Page) string {
	if !s.Structural() {
		return sameOrder(part, before, after)
	}
	found, err := after.Locate(before.TargetOf(part))
	if err != nil {
		return ""
	}
	return found.ID
}

// edits are the draft's changes as the rules look at them.
func (dr *draft) edits() []check.Edit {
	var es []check.Edit
	for i, s := range dr.steps {
		if i+1 >= len(dr.at) {
			break
		}
		e := check.Edit{Before: dr.at[i], After: dr.at[i+1], Say: dr.changes[i].Say}
		if s[0].On == nil {
			e.Fact = s[0].Name
		} else {
			if part, err := e.Before.Locate(*s[0].On); err == nil && s[0].Op.Op != change.Copy {
				e.Was = part
			}
			e.Now, _ = e.After.Part(made(s[0], e.Before, e.After))
		}
		es = append(es, e)
	}
	return es
}
