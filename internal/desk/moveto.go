package desk

import (
	"context"
	"fmt"

	"mendry/api"
	"mendry/internal/core/act"
	"mendry/internal/core/change"
	"mendry/internal/core/page"
	"mendry/internal/store"
)

// MoveToPage moves a section from the draft of one page to that of another one of the same site, as two changes that
// are kept together: it stands there, and it is taken out here.
func (d *Desk) MoveToPage(
	ctx context.Context,
	who Who,
	number, pageID int64,
	a api.MoveToPageForm,
) (v api.MovedToPage, err error) {
	err = unlessMoved(func() error {
		v, err = d.tryMoveToPage(ctx, who, number, pageID, a)
		return err
	})
	return v, err
}

func (d *Desk) tryMoveToPage(
	ctx context.Context,
	who Who,
	number, pageID int64,
	a api.MoveToPageForm,
) (v api.MovedToPage, err error) {
	if a.Page == pageID {
		return v, refused("That is the page that it stands on. Use “Move to…” there.")
	}
	r, from, dr, err := d.draftToChange(ctx, number, pageID, a.Draft)
	if err != nil {
		return v, err
	}
	_, to, there, err := d.draftToChange(ctx, number, a.Page, a.ToDraft)
	if err != nil {
		return v, err
	}
	part, err := dr.part(a.Part)
	if err != nil {
		return v, err
	}
	site, err := d.store.Site(ctx, r.SiteID)
	if err != nil {
		return v, err
	}
	goes := &rest{ctx: ctx, d: d, r: r, dr: dr, site: site}
	comes := &rest{ctx: ctx, d: d, r: r, dr: there, site: site, lender: &act.Lender{
		At: change.At{Page: dr.Page(), Address: from.Address}, Title: from.Title, Section: part, Code: goes.code,
	}}
	put, err := act.Do(there.Draft, &act.Borrow{Part: a.Anchor, Where: change.Where(a.Where), Kept: true}, comes)
	if err != nil {
		return v, err
	}
	out, err := act.Do(dr.Draft, &act.Remove{Part: a.Part}, goes)
	if err != nil {
		return v, err
	}
	says(put, fmt.Sprintf("%s moves here from %s", part.Name, from.Address))
	says(out, fmt.Sprintf("%s moves to %s", part.Name, to.Address))
	err = d.store.Tx(ctx, func(q store.Queries) error {
		if err := q.LockRequest(ctx, number); err != nil {
			return missing(err, "request")
		}
		if err := d.keepIn(ctx, q, who, there, put, nil, a.WishID); err != nil {
			return err
		}
		return d.keepIn(ctx, q, who, dr, out, nil, a.WishID)
	})
	return api.MovedToPage{Page: to.ID, Part: put.Made}, err
}

// says gives what an act did another wording, where it is new.
func says(done *act.Done, say string) {
	for i := range done.Effects {
		if e := &done.Effects[i]; e.What == act.New {
			e.Change.Say = page.Short(say, 250)
		}
	}
}
