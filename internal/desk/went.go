package desk

import (
	"context"
	"encoding/json"
	"slices"

	"mendry/internal/core/act"
	"mendry/internal/core/change"
	"mendry/internal/core/page"
	"mendry/internal/core/thread"
	"mendry/internal/store"
)

// Went implements act.Rest.
func (r *rest) Went(id int64) (act.Went, error) {
	q := r.d.store.Queries
	c, err := q.ChangeOn(r.ctx, id, r.dr.row.ID)
	if err != nil || c.RequestID != r.r.ID && !c.Hides {
		return act.Went{}, missing(store.ErrNone, "change on this page")
	}
	if c.ReleaseID == nil || c.State != "live" && c.State != "sure" {
		return act.Went{}, refused("The change is %s. Only what is live is taken back.", c.State)
	}
	w := act.Went{Change: act.Change{
		ID: c.ID, Kind: act.Kind(c.Kind), Name: c.PartName, Say: c.Say, BeforeWords: c.BeforeWords, AfterWords: c.AfterWords,
		BeforeHTML: c.BeforeHTML, AfterHTML: c.AfterHTML, Hides: c.Hides,
	}}
	if c.ShapeWidth > 0 {
		w.Change.Shape = &act.Shape{Width: c.ShapeWidth, Height: c.ShapeHeight, Fit: c.ShapeFit}
	}
	if err := json.Unmarshal([]byte(c.Op), &w.Change.Step); err != nil {
		return w, err
	}
	files, err := q.ChangeFiles(r.ctx, id)
	if err != nil {
		return w, err
	}
	w.Change.Files = broughtFiles(files)
	steps, err := q.PageSteps(r.ctx, r.dr.row.ID, mostReleases)
	if err != nil {
		return w, err
	}
	at := slices.IndexFunc(steps, func(s store.PageStep) bool { return s.ReleaseID == *c.ReleaseID })
	if at < 0 {
		return w, refused("The page was published more than %d times since. Change the part by hand.", mostReleases)
	}
	went, err := r.d.carried(r.ctx, q, r.dr.row, steps[at])
	if err != nil {
		return w, err
	}
	k := -1
	if went != nil {
		k = slices.IndexFunc(went.Kept, func(k thread.Kept) bool { return k.ID == id })
	}
	if k < 0 {
		return w, refused("What was published with this change is not what it says alone. Change the part by hand.")
	}
	w.Undo = went.Undo(k)
	w.Later, err = r.d.since(r.ctx, q, r.dr, went.Page(), steps[:at], slices.Clone(went.Undos(k+1)))
	return w, err
}

// since adds what was done to a page from one version of it to the live one: steps are what was written to it since,
// the newest first. What others did between them is told by both versions.
func (d *Desk) since(ctx context.Context, q store.Queries, dr *draft, at *page.Page, steps []store.PageStep, later [][]change.Op) ([][]change.Op, error) {
	for _, s := range slices.Backward(steps) {
		before, err := d.parsed(ctx, dr.row.Path, s.BeforeHash, dr.row.Media)
		if err != nil {
			return nil, err
		}
		later = append(later, change.Steps(at, before))
		went, err := d.carried(ctx, q, dr.row, s)
		switch {
		case err != nil:
			return nil, err
		case went != nil:
			later = append(later, went.Undos(0)...)
			at = went.Page()
		default:
			if at, err = d.parsed(ctx, dr.row.Path, s.AfterHash, dr.row.Media); err != nil {
				return nil, err
			}
			later = append(later, change.Steps(before, at))
		}
	}
	return append(later, change.Steps(at, dr.Live)), nil
}

// carried is the draft that a release wrote to a page; nil where the bytes that it wrote are not those of its changes
// alone, as when it put another release back.
func (d *Desk) carried(ctx context.Context, q store.Queries, row store.Page, s store.PageStep) (*thread.Draft, error) {
	cs, err := q.CarriedOn(ctx, s.ReleaseID, row.ID)
	if err != nil {
		return nil, err
	}
	row.Hash = s.BeforeHash
	dr, err := d.draftFrom(ctx, row, cs, d.stages)
	if err != nil {
		return nil, err
	}
	if dr.Conflict != nil || dr.Hash() != s.AfterHash {
		return nil, nil
	}
	return dr.Draft, nil
}
