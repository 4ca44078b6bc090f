package desk

import (
	"context"
	"encoding/json"
	"slices"

	"mendry/internal/core/page"
	"mendry/internal/core/thread"
	"mendry/internal/store"
)

// draft is a page with the kept changes of one request, and the rows that it was made of.
type draft struct {
	*thread.Draft
	request int64
	row     store.Page
	changes []store.Change
}

// draftOf makes the draft of a page for a request.
func (d *Desk) draftOf(ctx context.Context, q store.Queries, request, pageID int64) (*draft, error) {
	for {
		row, err := q.Page(ctx, pageID)
		if err != nil {
			return nil, missing(err, "page")
		}
		dr, draftErr := d.draftOn(ctx, q, request, row, d.stages)
		// A release that wrote the page in between has taken its changes out of those that were read: both or neither.
		now, err := q.Page(ctx, pageID)
		if err != nil {
			return nil, missing(err, "page")
		}
		if now.Hash == row.Hash {
			return dr, draftErr
		}
	}
}

// draftOn is draftOf for a page that is known already; memory holds stages of it.
func (d *Desk) draftOn(ctx context.Context, q store.Queries, request int64, row store.Page, memory thread.Memory) (*draft, error) {
	kept, err := q.DraftOn(ctx, request, row.ID)
	if err != nil {
		return nil, err
	}
	if slices.ContainsFunc(kept, func(c store.Change) bool { return c.Stale(row.Hash) }) {
		if kept, err = d.bringOver(ctx, request, row); err != nil {
			return nil, err
		}
	}
	dr, err := d.draftFrom(ctx, row, standing(kept), memory)
	if err == nil {
		dr.request = request
	}
	return dr, err
}

// standing are those of some changes that stand on their page, and are not left there.
func standing(cs []store.Change) []store.Change {
	return slices.DeleteFunc(slices.Clone(cs), func(c store.Change) bool { return c.State == "left" })
}

// draftAndSite is draftOf with the site that the page is of.
func (d *Desk) draftAndSite(ctx context.Context, request, pageID int64) (*draft, store.Site, error) {
	dr, err := d.draftOf(ctx, d.store.Queries, request, pageID)
	if err != nil {
		return nil, store.Site{}, err
	}
	site, err := d.store.Site(ctx, dr.row.SiteID)
	return dr, site, err
}

// part finds a part of the draft that somebody pointed at.
func (dr *draft) part(id string) (*page.Part, error) {
	part, ok := dr.Page().Part(id)
	if !ok {
		return nil, stale("The part is no longer on the draft. It was loaded again.")
	}
	return part, nil
}

func (d *Desk) draftFrom(ctx context.Context, row store.Page, kept []store.Change, memory thread.Memory) (*draft, error) {
	live, err := d.parse(ctx, row)
	if err != nil {
		return nil, err
	}
	steps := make([]thread.Kept, len(kept))
	for i, c := range kept {
		steps[i] = thread.Kept{ID: c.ID, Say: c.Say, Fixed: c.State == "going" || !c.Leads || c.Out}
		if err := json.Unmarshal([]byte(c.Op), &steps[i].Step); err != nil {
			return nil, err
		}
	}
	made, err := thread.Of(live, steps, memory)
	if err != nil {
		return nil, err
	}
	return &draft{Draft: made, row: row, changes: kept}, nil
}
