package desk

import (
	"context"
	"crypto/sha256"
	"encoding/hex"
	"fmt"
	"strings"
	"sync"

	"mendry/api"
	"mendry/internal/core/change"
	"mendry/internal/core/page"
	"mendry/internal/core/refusal"
	"mendry/internal/core/request"
	"mendry/internal/store"
)

// edited are the pages of a cleared request that others edited since, and whether what was cleared holds for them. It
// is nil where there are none, or where the request changed since.
func (d *Desk) edited(ctx context.Context, p *proven) (*api.Edited, error) {
	if p.r.State != string(request.Cleared) || p.round == nil || p.facts.Going > 0 {
		return nil, nil
	}
	of, err := d.clearedIn(ctx, p)
	if err != nil {
		return nil, err
	}
	v := &api.Edited{Round: of.N, SignedName: of.SignedName, Pages: []api.EditedPage{}}
	key := sha256.New()
	fmt.Fprint(key, p.round.ID)
	for _, o := range p.all() {
		rp, shown := p.pages[o.row.ID]
		if shown && rp.BeforeHash == o.row.Hash {
			if !p.cleared(o) {
				return nil, nil // it is no longer what was cleared by our own work
			}
			continue
		}
		fmt.Fprint(key, " ", o.row.ID, o.row.Hash, o.hash)
		e, why, err := d.editedPage(ctx, o, rp, shown)
		if err != nil {
			return nil, err
		}
		if v.WhyNot == "" && why != "" {
			v.WhyNot = o.row.Address + ": " + why
		}
		v.Pages = append(v.Pages, e)
	}
	if len(v.Pages) == 0 {
		return nil, nil
	}
	v.Agreed = hex.EncodeToString(key.Sum(nil))
	return v, nil
}

// clearedIn is the round in which the client, or the studio, looked at what the last one holds.
func (d *Desk) clearedIn(ctx context.Context, p *proven) (store.Round, error) {
	if p.round.Carries == nil {
		return *p.round, nil
	}
	return d.store.Round(ctx, *p.round.Carries)
}

// editedPage is what others did to a page since a round, and why what was cleared does not hold for it.
func (d *Desk) editedPage(ctx context.Context, o provenPage, rp store.RoundPage, shown bool) (e api.EditedPage, why string, err error) {
	e = api.EditedPage{Page: rowOf(o.row), Theirs: []api.PageDifference{}}
	if !shown {
		return e, "It was not among what was cleared.", nil
	}
	before, err := d.parsed(ctx, o.row.Path, rp.BeforeHash, o.row.Media)
	if err != nil {
		return e, "", err
	}
	now, err := d.parse(ctx, o.row)
	if err != nil {
		return e, "", err
	}
	e.Theirs = between(before, now)
	if o.conflict != "" {
		return e, o.conflict, nil
	}
	after, err := d.parsed(ctx, o.row.Path, rp.AfterHash, o.row.Media)
	if err != nil {
		return e, "", err
	}
	made, err := page.ParseFile(o.row.Path, o.after, o.row.Media)
	if err != nil {
		return e, "", err
	}
	return e, change.Carries(before, after, now, made), nil
}

// CarryClearance lets what was cleared stand on pages that others edited since, where it holds for them: agreed names
// what somebody was shown of that.
func (d *Desk) CarryClearance(ctx context.Context, who Who, number int64, agreed string) (api.Proof, error) {
	v, err := d.Proof(ctx, number)
	if err != nil {
		return v, err
	}
	if !v.CanSend {
		return v, refused("%s", v.WhyNotSend)
	}
	err = unlessMoved(func() error {
		p, err := d.proven(ctx, number)
		if err != nil {
			return err
		}
		e, err := d.edited(ctx, p)
		switch {
		case err != nil:
			return err
		case e == nil || e.Agreed != agreed:
			return stale("The pages were changed again in the meantime. Look at the proof once more.")
		case e.WhyNot != "":
			return refused("%s Send a new round.", e.WhyNot)
		}
		checks, err := d.checksOf(ctx, p)
		if err != nil {
			return err
		}
		of, err := d.clearedIn(ctx, p)
		if err != nil {
			return err
		}
		return d.store.Tx(ctx, func(q store.Queries) error {
			if err := p.stillSo(ctx, q); err != nil {
				return err
			}
			return d.closedRound(ctx, q, p, &of.ID, event{
				Who: who.Name, What: "clearance carried over", Say: carriedSay(*e), Checks: checks,
			})
		})
	})
	if err != nil {
		return v, err
	}
	return d.Proof(ctx, number)
}

// carriedSay says what stands, and beside what.
func carriedSay(e api.Edited) string {
	var b strings.Builder
	fmt.Fprintf(&b, "What was cleared in round %d, signed %s, stands as it was. Others edited", e.Round, e.SignedName)
	for i, p := range e.Pages {
		if i > 0 {
			b.WriteString(";")
		}
		says := make([]string, len(p.Theirs))
		for i, t := range p.Theirs {
			says[i] = t.Say
		}
		fmt.Fprintf(&b, " %s (%s)", p.Page.Address, strings.Join(says, "; "))
	}
	return b.String()
}

// LookAtPages looks at the pages of a proof on their host: which of them others edited since Mendry last read them.
func (d *Desk) LookAtPages(ctx context.Context, number int64) (api.PagesLook, error) {
	v := api.PagesLook{Pages: []api.EditedPage{}}
	ids, err := d.store.DraftPages(ctx, number)
	if err != nil {
		return v, err
	}
	looked := make([]*api.EditedPage, len(ids))
	var mu sync.Mutex
	place := map[int64]int{}
	for i, id := range ids {
		place[id] = i
	}
	err = d.eachPage(ctx, ids, func(ctx context.Context, id int64) error {
		look, err := d.LookAtPage(ctx, id)
		if no := refusal.Of(err); no != nil { // the others are looked at all the same
			mu.Lock()
			defer mu.Unlock()
			v.Unseen, v.Why = v.Unseen+1, no.Say
			return nil
		}
		if err != nil || look.Same {
			return err
		}
		row, err := d.store.Page(ctx, id)
		if err != nil {
			return err
		}
		if len(look.Differences) == 0 {
			look.Differences = []api.PageDifference{{Say: look.Say, Words: []api.Run{}}}
		}
		looked[place[id]] = &api.EditedPage{Page: rowOf(row), Theirs: look.Differences}
		return nil
	})
	for _, e := range looked {
		if e != nil {
			v.Pages = append(v.Pages, *e)
		}
	}
	return v, err
}
