package desk

import (
	"context"

	"mendry/api"
	"mendry/internal/store"
)

// BenchFor is Bench for whoever sends acts out of an outbox, with the number of the last one that was kept of it.
func (d *Desk) BenchFor(ctx context.Context, number, pageID int64, outbox string) (api.Bench, error) {
	for {
		before, err := d.store.Arrived(ctx, number, pageID, outbox)
		if err != nil {
			return api.Bench{}, err
		}
		v, err := d.Bench(ctx, number, pageID)
		if err != nil {
			return v, err
		}
		if v.Arrived, err = d.store.Arrived(ctx, number, pageID, outbox); err != nil || v.Arrived == before {
			return v, err // an act that was kept between the two may or may not be in the draft
		}
	}
}

// arrives notes that an act is kept; one that was kept before ends it.
func arrives(ctx context.Context, q store.Queries, dr *draft, sent *Sent) error {
	if sent == nil {
		return nil
	}
	last, err := q.Arrived(ctx, dr.request, dr.row.ID, sent.Outbox)
	if err != nil {
		return err
	}
	if sent.Number <= last {
		return stale("That was kept already. The page was loaded again; look whether it is as you want it.")
	}
	return q.SetArrived(ctx, dr.request, dr.row.ID, sent.Outbox, sent.Number)
}
