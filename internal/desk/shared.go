package desk

import (
	"context"
	"fmt"
	"slices"

	"mendry/api"
	"mendry/internal/core/page"
	"mendry/internal/core/request"
	"mendry/internal/store"
)

// mostTwins is how many pages that lack a shared part are looked at to tell how theirs differs.
const mostTwins = 200

// Shared tells of a part, or of what it stands in, on which pages it is the same, and on which another one stands in
// its place.
func (d *Desk) Shared(ctx context.Context, number, pageID int64, id string) (api.PartShared, error) {
	v := api.PartShared{Differing: []api.SharedDiffers{}}
	dr, site, err := d.draftAndSite(ctx, number, pageID)
	if err != nil {
		return v, err
	}
	part, err := dr.part(id)
	if err != nil {
		return v, err
	}
	shared, err := d.sharedAround(ctx, dr, dr.First(part))
	if err != nil || shared == nil {
		return v, err
	}
	v.Name, v.Pages = shared.live.Name, shared.on
	if now := dr.Now(shared.live, 0); now != nil {
		v.Part = now.ID
	}
	all, more, err := d.twins(ctx, site.ID, shared.live, shared.sum)
	v.More = more
	for _, t := range all {
		v.Differing = append(v.Differing, api.SharedDiffers{PageID: t.row.ID, Address: t.row.Address, Title: t.row.Title, Part: t.part.ID, Say: t.say})
	}
	return v, err
}

// ChooseShared says whether what is done in a request to the shared part that a part is, or stands in, is done on all
// pages that have it, or on this one alone. The changes of it that are kept and were made here follow.
func (d *Desk) ChooseShared(ctx context.Context, who Who, number, pageID int64, id string, everywhere bool) (api.Bench, error) {
	err := unlessMoved(func() error {
		r, row, err := d.onBench(ctx, number, pageID)
		if err != nil {
			return err
		}
		if err := atWork(r); err != nil {
			return err
		}
		dr, err := d.draftOn(ctx, d.store.Queries, number, row, d.stages)
		if err != nil {
			return err
		}
		part, err := dr.part(id)
		if err != nil {
			return err
		}
		live := dr.First(part)
		for up := part.Parent; live == nil && up != nil; up = up.Parent {
			live = dr.First(up)
		}
		shared, err := d.sharedAround(ctx, dr, live)
		if err != nil {
			return err
		}
		if shared == nil {
			return stale("%s is no longer on other pages. The page was loaded again.", page.Quoted(part.Name))
		}
		follow, err := d.followChoice(ctx, dr, shared, everywhere)
		if err != nil {
			return err
		}
		others, err := d.store.PagesSharing(ctx, row.SiteID, shared.sum, row.ID)
		if err != nil {
			return err
		}
		err = d.store.Tx(ctx, func(q store.Queries) error {
			if err := q.LockRequest(ctx, number); err != nil {
				return missing(err, "request")
			}
			if err := dr.stillSo(ctx, q); err != nil {
				return err
			}
			if err := q.SetSharedChoice(ctx, number, shared.sum, everywhere, who.ID, d.now()); err != nil {
				return err
			}
			for _, c := range follow {
				if err := d.setReach(ctx, q, c, shared.sum, everywhere, others); err != nil {
					return err
				}
			}
			say := fmt.Sprintf("%s, as on %s: changed on this page only", page.Quoted(shared.live.Name), row.Address)
			if everywhere {
				say = fmt.Sprintf("%s, as on %s: changed on all %d pages", page.Quoted(shared.live.Name), row.Address, shared.on)
			}
			if err := d.note(ctx, q, r.SiteID, &r.ID, &row.ID, event{Who: who.Name, What: "pages chosen", Say: say}); err != nil || len(follow) == 0 {
				return err
			}
			if err := d.bringAnew(ctx, q, number, follow[0].ID); err != nil {
				return err
			}
			return d.touch(ctx, q, who, r)
		})
		return err
	})
	if err != nil {
		return api.Bench{}, err
	}
	d.jobs.Wake()
	r, row, err := d.onBench(ctx, number, pageID)
	if err != nil {
		return api.Bench{}, err
	}
	return d.bench(ctx, r, row, d.stages, nil)
}

// followChoice are the kept changes of a page about a shared part whose pages have to change with what is said of it.
func (d *Desk) followChoice(ctx context.Context, dr *draft, shared *sharedPart, everywhere bool) (cs []store.Change, err error) {
	for k, c := range dr.changes {
		if k >= dr.Fits() || !c.Leads || c.State != "kept" || c.Out || c.TakesBack != nil || (c.Everywhere != nil) == everywhere {
			continue
		}
		of, _, err := d.sharedBy(ctx, dr, dr.Draft, k)
		if err != nil {
			return nil, err
		}
		if of != nil && of.sum == shared.sum {
			cs = append(cs, c)
		}
	}
	return cs, nil
}

// setReach makes a kept change one of all pages that have the shared part, or of its own page alone.
func (d *Desk) setReach(ctx context.Context, q store.Queries, c store.Change, print string, everywhere bool, others []int64) error {
	if !everywhere {
		return q.SetEverywhere(ctx, c.ID, nil)
	}
	if err := q.SetEverywhere(ctx, c.ID, &print); err != nil {
		return err
	}
	return q.AddChangePages(ctx, c.ID, c.RequestID, others)
}

// ChangePages tells on which other pages a change of a shared part is made, and on which it is not.
func (d *Desk) ChangePages(ctx context.Context, number, id int64) (api.ChangePages, error) {
	v := api.ChangePages{Pages: []api.ChangePage{}, Left: []api.ChangePage{}}
	if _, err := d.changeOf(ctx, number, id); err != nil {
		return v, err
	}
	ps, err := d.store.OtherPages(ctx, id)
	for _, p := range ps {
		one := api.ChangePage{PageID: p.PageID, Address: p.Address, Title: p.Title, State: api.ChangeState(p.State), Why: p.Why, Chosen: p.Chosen}
		if p.Stale {
			v.Coming++
		}
		if p.State == "left" {
			v.Left = append(v.Left, one)
		} else {
			v.Pages = append(v.Pages, one)
		}
	}
	if err == nil && v.Coming > 0 { // others changed the pages since
		if err = d.askSpread(ctx, d.store.Queries, number); err == nil {
			d.jobs.Wake()
		}
	}
	return v, err
}

// ChoosePage makes a change of a shared part on a page too, or leaves the page. It is refused where it cannot be made
// there.
func (d *Desk) ChoosePage(ctx context.Context, who Who, number, id, pageID int64, made bool) (api.ChangePages, error) {
	c, err := d.changeOf(ctx, number, id)
	if err != nil {
		return api.ChangePages{}, err
	}
	if c.State != "kept" || c.Out {
		return api.ChangePages{}, refused("The change is on its way or live. What differs on that page is a change of its own.")
	}
	row, err := d.store.Page(ctx, pageID)
	if err != nil {
		return api.ChangePages{}, missing(err, "page")
	}
	state, why := "left", "Left, as "+who.Name+" said."
	if made {
		state, why = "kept", ""
	}
	err = d.store.Tx(ctx, func(q store.Queries) error {
		if err := q.LockRequest(ctx, number); err != nil {
			return missing(err, "request")
		}
		r, err := q.RequestRow(ctx, number)
		if err != nil {
			return err
		}
		if err := atWork(r); err != nil {
			return err
		}
		if err := q.ChoosePage(ctx, id, pageID, state, why); err != nil {
			return missing(err, "page with that change")
		}
		say := fmt.Sprintf("%s: %s", row.Address, map[bool]string{true: "made there too", false: "left"}[made])
		if err := d.note(ctx, q, r.SiteID, &r.ID, &pageID, event{Who: who.Name, What: "pages chosen", Say: c.Say + ": " + say}); err != nil {
			return err
		}
		if err := d.bringAnew(ctx, q, number, id); err != nil {
			return err
		}
		return d.touch(ctx, q, who, r)
	})
	if err != nil {
		return api.ChangePages{}, err
	}
	d.jobs.Wake()
	if made {
		if _, err := d.draftOf(ctx, d.store.Queries, number, pageID); err != nil {
			return api.ChangePages{}, err
		}
	}
	return d.ChangePages(ctx, number, id)
}

// atWork refuses where a request is not one that anything is changed for.
func atWork(r store.RequestRow) error {
	switch request.State(r.State) {
	case request.SignedOff, request.Declined, request.OnHold:
		return refused("The request is %s. Take it up again before you change anything.", r.State)
	}
	return nil
}

// sharedAround finds the outermost shared part that a part of the live page is, or stands in; nil where there is none.
func (d *Desk) sharedAround(ctx context.Context, dr *draft, live *page.Part) (*sharedPart, error) {
	all, err := d.sharedParts(ctx, dr)
	var outer *sharedPart
	for up := live; up != nil; up = up.Parent {
		if i := slices.IndexFunc(all, func(s sharedPart) bool { return s.live == up }); i >= 0 {
			outer = &all[i]
		}
	}
	return outer, err
}
