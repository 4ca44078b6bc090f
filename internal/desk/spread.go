package desk

import (
	"context"
	"slices"
	"strconv"
	"time"

	"golang.org/x/sync/errgroup"

	"mendry/internal/core/change"
	"mendry/internal/core/page"
	"mendry/internal/core/refusal"
	"mendry/internal/core/request"
	"mendry/internal/core/source"
	"mendry/internal/core/thread"
	"mendry/internal/store"
)

const (
	spreadJob  = "spread"
	spreadAt   = 2  // pages at a time: one for each processor of a small machine
	spreadSome = 40 // pages that are looked for at a time
)

// bringAnew lets what a request's changes from one on do on other pages be made anew, since one of them is another
// now.
func (d *Desk) bringAnew(ctx context.Context, q store.Queries, request, from int64) error {
	if err := q.MakeAnew(ctx, request, from); err != nil {
		return err
	}
	cs, err := q.Spreads(ctx, request)
	if err != nil || len(cs) == 0 {
		return err
	}
	return d.askSpread(ctx, q, request)
}

func (d *Desk) askSpread(ctx context.Context, q store.Queries, request int64) error {
	return q.AskJob(ctx, spreadJob, strconv.FormatInt(request, 10), spreadJob+" "+strconv.FormatInt(request, 10), d.now())
}

// spread does the job of bringing a request's changes of shared parts to all pages, so that nobody waits for it later.
func (d *Desk) spread(ctx context.Context, about string) (again time.Time, err error) {
	number, err := strconv.ParseInt(about, 10, 64)
	if err != nil {
		return again, nil
	}
	if err := d.followPages(ctx, number); err != nil {
		return again, err
	}
	if err := d.findDiffering(ctx, number); err != nil {
		return again, err
	}
	return again, d.makeStale(ctx, number)
}

// makeStale makes what a request's changes do on the pages where that is still to be made, and remembers it for the
// proof.
func (d *Desk) makeStale(ctx context.Context, number int64) error {
	for {
		ids, _, err := d.store.StalePages(ctx, number, spreadSome)
		if err != nil || len(ids) == 0 {
			return err
		}
		if err := d.eachPage(ctx, ids, func(ctx context.Context, id int64) error {
			dr, err := d.draftOf(ctx, d.store.Queries, number, id)
			if err == nil {
				d.remember(dr)
			}
			return err
		}); err != nil {
			return err
		}
	}
}

// followPages takes a request's changes of all pages off those that are gone, and puts them on those that have come
// since and have the part: while the client looks, and when they have cleared it, nothing is added to what they see.
func (d *Desk) followPages(ctx context.Context, number int64) error {
	cs, err := d.store.Spreads(ctx, number)
	if err != nil || len(cs) == 0 {
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
		shown := r.State == string(request.WithClient) || r.State == string(request.Cleared)
		for _, c := range cs {
			if c.TakesBack != nil {
				continue // it stands where what it takes back does
			}
			if err := q.DropGone(ctx, c); err != nil {
				return err
			}
			if shown {
				continue
			}
			if err := q.AddComers(ctx, c, r.SiteID); err != nil {
				return err
			}
		}
		return nil
	})
}

// eachPage does something for pages, a few at a time.
func (d *Desk) eachPage(ctx context.Context, ids []int64, do func(context.Context, int64) error) error {
	g, ctx := errgroup.WithContext(ctx)
	g.SetLimit(spreadAt)
	for _, id := range ids {
		g.Go(func() error { return do(ctx, id) })
	}
	return g.Wait()
}

// findDiffering notes for the changes of shared parts which pages have another part there, so that they are left.
func (d *Desk) findDiffering(ctx context.Context, request int64) error {
	cs, err := d.store.Spreads(ctx, request)
	if err != nil {
		return err
	}
	for _, c := range cs {
		if c.Chosen || c.TakesBack != nil {
			continue // they are known
		}
		dr, err := d.draftOf(ctx, d.store.Queries, request, c.PageID)
		if err != nil {
			return err
		}
		live := printed(d, dr, *c.Everywhere)
		if live == nil {
			continue
		}
		twins, _, err := d.twins(ctx, dr.row.SiteID, live, *c.Everywhere)
		if err != nil {
			return err
		}
		err = d.store.Tx(ctx, func(q store.Queries) error {
			for _, t := range twins {
				if err := q.LeavePage(ctx, c, t.row.ID, shorten(t.say, longestWhy)); err != nil {
					return err
				}
			}
			return ignoreNone(q.DifferingFound(ctx, c.ID, c.PageID))
		})
		if err != nil {
			return err
		}
	}
	return nil
}

const longestWhy = 480 // of a page that is left, in letters

// twin is a part of another page that stands there for a shared one, and differs.
type twin struct {
	row  store.Page
	part *page.Part
	say  string // how
}

// twins are the parts that stand for a shared one on the pages that do not have it; more says that not all pages were
// looked at.
func (d *Desk) twins(ctx context.Context, site int64, live *page.Part, print string) (all []twin, more bool, err error) {
	others, err := d.store.PagesWithout(ctx, site, print, mostTwins+1)
	if err != nil {
		return nil, false, err
	}
	if more = len(others) > mostTwins; more {
		others = others[:mostTwins]
	}
	for _, row := range others {
		other, err := d.parse(ctx, row)
		if err != nil || other.Doc.Format != source.HTML {
			continue
		}
		if part := page.Twin(live, other); part != nil {
			all = append(all, twin{row, part, change.ToldApart(live, part)})
		}
	}
	return all, more, nil
}

// bringOver makes, for the changes of a request that stand on a page which they do not lead, what they do there, and
// keeps it. It gives the changes of the page as they are then.
func (d *Desk) bringOver(ctx context.Context, request int64, row store.Page) (kept []store.Change, err error) {
	err = unlessMoved(func() error {
		if kept, err = d.store.DraftOn(ctx, request, row.ID); err != nil {
			return err
		}
		read := kept
		var made []store.Change
		var leads []*draft
		prints := map[int64]string{} // of changes whose part others changed
		kept = nil
		for _, c := range read {
			if c.Stale(row.Hash) {
				print := *c.Everywhere
				lead, err := d.makeThere(ctx, request, row, kept, &c)
				if err != nil {
					return err
				}
				if *c.Everywhere != print {
					prints[c.ID], c.Everywhere = *c.Everywhere, &print
				}
				made, leads = append(made, c), append(leads, lead)
			}
			if c.State != "left" {
				kept = append(kept, c)
			}
		}
		if len(made) == 0 {
			return nil
		}
		here := &draft{request: request, row: row, changes: standing(read)}
		return d.store.Tx(ctx, func(q store.Queries) error {
			if err := q.LockRequest(ctx, request); err != nil {
				return missing(err, "request")
			}
			for _, dr := range append(leads, here) {
				if err := dr.stillBegins(ctx, q); err != nil {
					return err
				}
			}
			for _, c := range made {
				if err := q.MadeHere(ctx, c); err != nil {
					return err
				}
				if print := prints[c.ID]; print != "" {
					if err := q.FollowShared(ctx, c, print); err != nil {
						return err
					}
				}
			}
			return nil
		})
	})
	return kept, err
}

// stillBegins ends with errMoved where the page of a draft, or one of its changes, is no longer what it was: later
// ones may be.
func (dr *draft) stillBegins(ctx context.Context, q store.Queries) error {
	hash, marks, err := q.DraftMarks(ctx, dr.request, dr.row.ID)
	if err != nil {
		return err
	}
	if n := len(dr.changes); hash != dr.row.Hash || len(marks) < n || !slices.EqualFunc(marks[:n], dr.changes, isStill) {
		return errMoved
	}
	return nil
}

// makeThere makes what a change does on a page that it does not lead, above the changes before it: c gets its
// operations, or is left with the reason. lead is the draft that it was made from.
func (d *Desk) makeThere(ctx context.Context, request int64, row store.Page, before []store.Change, c *store.Change) (lead *draft, err error) {
	led, err := d.store.Change(ctx, c.ID)
	if err != nil {
		return nil, err
	}
	leadRow, err := d.store.Page(ctx, led.PageID)
	if err != nil {
		return nil, err
	}
	if lead, err = d.draftUpTo(ctx, request, leadRow, c.ID); err != nil {
		return nil, err
	}
	other, err := d.draftFrom(ctx, row, before, nil)
	if err != nil {
		return nil, err
	}
	other.request = request
	changed := c.ChangedAt
	c.MadeFor, c.MadeOn = &changed, row.Hash
	k := slices.IndexFunc(lead.Kept, func(k thread.Kept) bool { return k.ID == c.ID })
	if other.Conflict != nil || k < 0 { // that is said of the page; or it is live where it was made, and stays as it was made here
		return lead, nil
	}
	var step change.Step
	switch {
	case lead.Conflict != nil && k >= lead.Fits():
		err = refused("It no longer fits where it was made, on %s.", leadRow.Address)
	case c.TakesBack != nil:
		step, err = d.takenBackOn(ctx, other, *c.TakesBack)
	default:
		step, err = d.spreadTo(ctx, lead, k, other, c)
	}
	if no := refusal.Of(err); no != nil {
		c.State, c.Why = "left", shorten(no.Say, longestWhy)
		return lead, nil
	}
	if err != nil {
		return lead, err
	}
	c.State, c.Why = "kept", ""
	c.Op, err = stepJSON(step)
	return lead, err
}

// draftUpTo is the draft of a page with a request's changes up to one.
func (d *Desk) draftUpTo(ctx context.Context, request int64, row store.Page, last int64) (*draft, error) {
	kept, err := d.store.DraftOn(ctx, request, row.ID)
	if err != nil {
		return nil, err
	}
	upTo := func() []store.Change {
		n := 0
		for n < len(kept) && kept[n].ID <= last {
			n++
		}
		return standing(kept[:n])
	}
	if slices.ContainsFunc(kept, func(c store.Change) bool { return c.ID <= last && c.Stale(row.Hash) }) {
		if kept, err = d.bringOver(ctx, request, row); err != nil {
			return nil, err
		}
	}
	dr, err := d.draftFrom(ctx, row, upTo(), d.stages)
	if err == nil {
		dr.request = request
	}
	return dr, err
}

// spreadTo makes for another page what step k of a draft does to a shared part. Where others changed that part since,
// c is about what it is now.
func (d *Desk) spreadTo(ctx context.Context, lead *draft, k int, other *draft, c *store.Change) (change.Step, error) {
	live := printed(d, lead, *c.Everywhere)
	if live == nil {
		now, beside, err := d.sharedBy(ctx, lead, lead.Draft, k)
		if err != nil {
			return nil, err
		}
		if now == nil {
			now = beside
		}
		if now == nil {
			return nil, refused("The part is no longer on other pages as it is on %s.", lead.row.Address)
		}
		live, c.Everywhere = now.live, &now.sum
	}
	twin := printed(d, other, *c.Everywhere)
	if twin == nil && c.Chosen {
		twin = page.Twin(live, other.Live)
	}
	if twin == nil {
		return nil, refused("The part is no longer the same there.")
	}
	shared, there := lead.Until(live, k), other.Now(twin, 0)
	if shared == nil || there == nil {
		return nil, refused("%s was taken out before.", page.Quoted(live.Name))
	}
	from := change.Shared{At: change.At{Page: lead.Before(k), Address: lead.row.Address}, Part: shared}
	to := change.Shared{At: change.At{Page: other.Page(), Address: other.row.Address}, Part: there}
	return lead.Spread(k, from, other.Draft, to)
}

// takenBackOn is what takes a live change back on a page.
func (d *Desk) takenBackOn(ctx context.Context, on *draft, id int64) (change.Step, error) {
	r, err := d.store.RequestRow(ctx, on.request)
	if err != nil {
		return nil, err
	}
	site, err := d.store.Site(ctx, on.row.SiteID)
	if err != nil {
		return nil, err
	}
	went, err := (&rest{ctx: ctx, d: d, r: r, dr: on, site: site}).Went(id)
	if err != nil {
		return nil, err
	}
	ops, err := change.TakeBack(on.Page(), went.Undo, slices.Concat(went.Later, on.Undos(0))...)
	if err != nil {
		return nil, err
	}
	alone, err := thread.Alone(on.Page(), ops)
	if err != nil {
		return nil, err
	}
	return alone.Kept[0].Step, nil
}

// printed finds the shared part of a print on the live page of a draft; nil where it has none.
func printed(d *Desk, dr *draft, print string) *page.Part {
	for _, p := range d.printsOf(dr) {
		if p.Sum == print {
			if live, ok := dr.Live.Part(p.Part); ok {
				return live
			}
		}
	}
	return nil
}

// restsElsewhere refuses to take out a change of a shared part where a later one stands on it on another page.
func (d *Desk) restsElsewhere(ctx context.Context, c store.Change) error {
	led, err := d.store.LedPages(ctx, c.RequestID)
	if err != nil {
		return err
	}
	for _, id := range led {
		if id == c.PageID {
			continue
		}
		dr, err := d.draftOf(ctx, d.store.Queries, c.RequestID, id)
		if err != nil {
			return err
		}
		rest := slices.DeleteFunc(slices.Clone(dr.changes), func(o store.Change) bool { return o.ID == c.ID })
		if len(rest) == len(dr.changes) || dr.Conflict != nil {
			continue
		}
		without, err := d.draftFrom(ctx, dr.row, rest, nil)
		if err != nil {
			return err
		}
		if without.Conflict != nil {
			return refused("A later change on %s stands on it. Undo that one first.", dr.row.Address)
		}
	}
	return nil
}
