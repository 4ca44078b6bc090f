package desk

import (
	"context"
	"fmt"
	"math"
	"strings"

	"mendry/api"
	"mendry/internal/core/page"
	"mendry/internal/core/request"
	"mendry/internal/store"
)

// clear lets the maintainer clear what the client's terms leave to the studio: a round that is answered at once. Over what
// the client said it is done with a reason only.
func (d *Desk) clear(ctx context.Context, who Who, number int64, why string) error {
	return unlessMoved(func() error {
		p, err := d.proven(ctx, number)
		if err != nil {
			return err
		}
		if err := request.Move(p.facts, request.Cleared, request.Studio); err != nil {
			return err
		}
		checks, err := d.checksOf(ctx, p)
		if err != nil {
			return err
		}
		return d.store.Tx(ctx, func(q store.Queries) error {
			if err := p.stillSo(ctx, q); err != nil {
				return err
			}
			said, err := d.notYet(ctx, q, p)
			if err != nil {
				return err
			}
			if len(said) > 0 && why == "" {
				return refused("The client said “not yet” to this. Say why it is cleared all the same: it stands in the record.")
			}
			e := event{Who: who.Name, What: "cleared by the maintainer", Say: clearedOver(p.client.ContactName, said, why), Checks: checks}
			if err := d.closedRound(ctx, q, p, nil, e); err != nil {
				return err
			}
			return move(ctx, q, number, request.Cleared, request.Studio)
		})
	})
}

// closedRound writes down a round that nobody is asked about: it is answered at once, by who made it. It carries what
// was said in another one, or nothing.
func (d *Desk) closedRound(ctx context.Context, q store.Queries, p *proven, carries *int64, e event) error {
	r := d.newRound(p)
	r.Carries = carries
	r, err := d.openRound(ctx, q, p, r, e)
	if err != nil {
		return err
	}
	r.SignedName, r.AnsweredBy = e.Who, e.Who
	_, err = q.CloseRound(ctx, r, r.SentAt)
	return err
}

// notYet is what the client said last of changes that are kept, where that was “not yet”.
func (d *Desk) notYet(ctx context.Context, q store.Queries, p *proven) ([]api.NotYet, error) {
	out := []api.NotYet{}
	vs, err := q.EarlierVerdicts(ctx, p.r.ID, math.MaxInt32)
	if err != nil {
		return out, err
	}
	last := map[int64]store.EarlierVerdict{} // they come in the order of the rounds
	for _, v := range vs {
		last[v.ChangeID] = v
	}
	for _, dr := range p.drafts {
		for _, c := range dr.changes {
			if v := last[c.ID]; c.Leads && v.Verdict == string(api.VerdictNotYet) {
				out = append(out, api.NotYet{ChangeID: c.ID, Round: v.N, Say: c.Say, Note: v.Note})
			}
		}
	}
	return out, nil
}

// clearedOver says by what right a request was cleared, and over what.
func clearedOver(contact string, said []api.NotYet, why string) string {
	s := "The client’s terms allow it"
	for _, n := range said {
		s += fmt.Sprintf(". %s said “not yet” in round %d of “%s”: “%s”", contact, n.Round, page.Short(n.Say, 80), page.Short(strings.Join(strings.Fields(n.Note), " "), 200))
	}
	if len(said) > 0 {
		s += ". Cleared all the same: " + why
	}
	return s
}
