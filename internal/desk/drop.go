package desk

import (
	"context"

	"mendry/api"
	"mendry/internal/core/refusal"
	"mendry/internal/core/request"
	"mendry/internal/store"
)

// drop takes a kept change out and opens its wish again where nothing else was done for it.
func (d *Desk) drop(ctx context.Context, q store.Queries, who Who, r store.RequestRow, id int64) error {
	c, err := q.Change(ctx, id)
	if err != nil {
		return err
	}
	if err := q.DropChange(ctx, c.ID); err != nil {
		return err
	}
	if c.WishID != nil {
		rest, err := q.Thread(ctx, r.ID)
		if err != nil {
			return err
		}
		others := false
		for _, o := range rest {
			others = others || o.WishID != nil && *o.WishID == *c.WishID
		}
		if !others {
			if err := wishDone(ctx, q, r.ID, c.WishID, request.Open); err != nil {
				return err
			}
		}
	}
	return d.note(ctx, q, r.SiteID, &r.ID, &c.PageID, event{Who: who.Name, What: "change taken back", Say: c.Say})
}

// Drop takes back a change that is not live, wherever it stands in the thread, if no later one builds upon it.
func (d *Desk) Drop(ctx context.Context, who Who, number, id int64) (api.Request, error) {
	err := unlessMoved(func() error {
		c, err := d.changeOf(ctx, number, id)
		if err != nil {
			return err
		}
		if c.State != "kept" && c.State != "going" {
			return refused("The change is %s. Take it back from its knot on the thread, as a change of its own.", c.State)
		}
		dr, err := d.draftOf(ctx, d.store.Queries, number, c.PageID)
		if err != nil {
			return err
		}
		rest, err := dr.Without(id)
		if err == nil && c.Everywhere != nil {
			err = d.restsElsewhere(ctx, c)
		}
		if err != nil {
			if refusal.Is(err, refusal.Nothing) {
				return errMoved // it went live, or was taken back, since it was looked at
			}
			return err
		}
		return d.store.Tx(ctx, func(q store.Queries) error {
			if err := q.LockRequest(ctx, number); err != nil {
				return missing(err, "request")
			}
			r, err := q.RequestRow(ctx, number)
			if err != nil {
				return err
			}
			if err := dr.stillSo(ctx, q); err != nil {
				return err
			}
			if err := d.drop(ctx, q, who, r, id); err != nil {
				return err
			}
			for _, k := range rest.AimedSince(dr.Draft) {
				if err := d.aim(ctx, q, k.ID, c.PageID, k.Step); err != nil {
					return err
				}
			}
			if err := d.bringAnew(ctx, q, number, id); err != nil {
				return err
			}
			return d.touch(ctx, q, who, r)
		})
	})
	if err != nil {
		return api.Request{}, err
	}
	return d.Request(ctx, number)
}
