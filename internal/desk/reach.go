package desk

import (
	"context"
	"errors"
	"slices"

	"mendry/internal/core/act"
	"mendry/internal/core/change"
	"mendry/internal/core/page"
	"mendry/internal/core/thread"
	"mendry/internal/store"
)

// reach is on which pages a change is made besides the one where it was asked for; none where its print is empty.
type reach struct {
	print  string // of the shared part
	name   string
	others []int64
}

// reaches are those of changes, by their IDs.
type reaches map[int64]reach

// reachOf tells for each new change of an act on which pages it is made. It is refused where a change is about a
// shared part and nobody said yet whether on all pages or on one. beside says that what is put beside a shared part is
// put on all pages.
func (d *Desk) reachOf(ctx context.Context, dr *draft, done *act.Done, beside bool) (reaches, error) {
	all := reaches{}
	for _, e := range done.Effects {
		if e.What != act.New {
			continue
		}
		k := slices.IndexFunc(done.Draft.Kept, func(k thread.Kept) bool { return k.ID == e.Change.ID })
		if k < 0 {
			continue // another effect of the same act took it out again
		}
		r, err := d.reachOfOne(ctx, dr, done.Draft, k, e.Change, beside)
		if err != nil {
			return nil, err
		}
		if r.print != "" {
			all[e.Change.ID] = r
		}
	}
	return all, nil
}

func (d *Desk) reachOfOne(ctx context.Context, dr *draft, now *thread.Draft, k int, c act.Change, beside bool) (r reach, err error) {
	if c.TakesBack != 0 { // where it is taken back was said when it was made
		was, err := d.store.Change(ctx, c.TakesBack)
		if err != nil || was.Everywhere == nil {
			return r, err
		}
		r.print, r.name = *was.Everywhere, was.PartName
		r.others, err = d.store.PagesCarrying(ctx, was.ID, dr.row.ID)
		return r, err
	}
	shared, next, err := d.sharedBy(ctx, dr, now, k)
	switch {
	case err != nil:
		return r, err
	case beside && next == nil:
		return r, refused("It stands beside nothing that is on other pages, too.")
	case beside:
		return d.onAll(ctx, dr, next)
	case shared == nil:
		return r, nil
	}
	everywhere, err := d.store.SharedChoice(ctx, dr.request, shared.sum)
	switch {
	case errors.Is(err, store.ErrNone):
		return r, refused("%s is on %d pages. Say first whether this changes on all of them or on this page only.", page.Quoted(shared.live.Name), shared.on)
	case err != nil || !everywhere:
		return r, err
	}
	return d.onAll(ctx, dr, shared)
}

func (d *Desk) onAll(ctx context.Context, dr *draft, shared *sharedPart) (r reach, err error) {
	r.print, r.name = shared.sum, page.Quoted(shared.live.Name)
	r.others, err = d.store.PagesSharing(ctx, dr.row.SiteID, shared.sum, dr.row.ID)
	return r, err
}

// sharedBy is the shared part that step k of a draft changes, nil where it changes none, and the one that it puts
// something beside.
func (d *Desk) sharedBy(ctx context.Context, dr *draft, now *thread.Draft, k int) (in, beside *sharedPart, err error) {
	for _, t := range now.Kept[k].Step {
		for _, target := range []*page.Target{t.On, t.Beside} {
			if target == nil {
				continue
			}
			part, err := now.Before(k).Locate(*target)
			if err != nil {
				continue // it was changed in the same act
			}
			live := now.Origin(part, k)
			for up := part.Parent; live == nil && up != nil; up = up.Parent { // what the draft put in is where it was put
				live = now.Origin(up, k)
			}
			shared, err := d.sharedAround(ctx, dr, live)
			switch {
			case err != nil:
				return nil, nil, err
			case shared == nil:
			case target == t.Beside && shared.live == live && (t.Where == change.Before || t.Where == change.After):
				beside = shared // and not in it
			default:
				return shared, beside, nil
			}
		}
	}
	return nil, beside, nil
}
