package desk

import (
	"context"
	"errors"

	"mendry/api"
	"mendry/internal/core/refusal"
	"mendry/internal/watch"
)

// Follow tells a tab of somebody's browser how the draft of a page stands, and who else has it on the bench: at once and
// whenever that changes, until ctx ends; nil where nothing happened for a while.
func (d *Desk) Follow(ctx context.Context, who Who, number, pageID int64, tab string, tell func(*api.BenchNews) error) error {
	if _, _, err := d.onBench(ctx, number, pageID); err != nil {
		return err
	}
	err := d.watched.Follow(ctx, watch.Page{Request: number, ID: pageID}, who.ID, who.Name, tab, func(n *watch.News) error {
		if n == nil {
			return tell(nil)
		}
		v := api.BenchNews{Draft: n.Draft, Here: make([]api.BenchGuest, len(n.Here))}
		for i, g := range n.Here {
			v.Here[i] = api.BenchGuest{Name: g.Name, Part: g.Part}
		}
		return tell(&v)
	})
	if errors.Is(err, watch.ErrTooMany) {
		return refusal.New(refusal.TooMany, "You have this many pages on the bench at once that others' changes are no longer shown here. Close some of the tabs.")
	}
	return err
}

// Sit says which part of a page a tab of somebody's browser has in hand; none where it is empty.
func (d *Desk) Sit(who Who, number, pageID int64, tab, part string) {
	d.watched.At(watch.Page{Request: number, ID: pageID}, who.ID, tab, part)
}

func (d *Desk) markOf(ctx context.Context, at watch.Page) (string, error) {
	return d.store.DraftMark(ctx, at.Request, at.ID)
}

func (d *Desk) hashOf(ctx context.Context, at watch.Page) (string, error) {
	done, err := d.turn(ctx)
	if err != nil {
		return "", err
	}
	defer done()
	dr, err := d.draftOf(ctx, d.store.Queries, at.Request, at.ID)
	if err != nil {
		return "", err
	}
	return dr.Hash(), nil
}
