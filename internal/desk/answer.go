package desk

import (
	"context"
	"errors"
	"fmt"
	"strings"
	"unicode/utf16"

	"mendry/api"
	"mendry/internal/core/refusal"
	"mendry/internal/core/request"
	"mendry/internal/release"
	"mendry/internal/store"
)

func decode(u []uint16) string { return string(utf16.Decode(u)) }

// roundOf finds the round that a client's link opens.
func (d *Desk) roundOf(ctx context.Context, q store.Queries, t string) (store.Round, error) {
	r, err := q.RoundByToken(ctx, hash([]byte(t)))
	if errors.Is(err, store.ErrNone) || err == nil && r.ExpiresAt.Before(d.now()) {
		return r, refusal.New(refusal.Nothing, "This link is not valid, or no longer. Ask whoever sent it for a new one.")
	}
	return r, err
}

// Answer keeps what the client says to each change of a round. All right and signed clears the request, bound to the
// bytes that were shown; “not yet” sends it back to the bench.
func (d *Desk) Answer(ctx context.Context, t string, f api.AnswerForm) (api.ClientProof, error) {
	var roundID int64
	err := unlessMoved(func() error {
		r, err := d.roundOf(ctx, d.store.Queries, t)
		if err != nil {
			return err
		}
		roundID = r.ID
		p, err := d.proven(ctx, r.RequestID)
		if err != nil {
			return err
		}
		switch d.clientState(p, r) {
		case "answered", "signed":
			return stale("You have answered this already. Thank you.")
		case "stale":
			return stale("The changes are being worked on again. You will get a new link when they are ready.")
		}
		return d.store.Tx(ctx, func(q store.Queries) error {
			if err := p.stillSo(ctx, q); err != nil {
				return err
			}
			return d.answer(ctx, q, p, r, f)
		})
	})
	if err != nil {
		return api.ClientProof{}, err
	}
	d.jobs.Wake()
	return d.clientProof(ctx, roundID)
}

func (d *Desk) answer(ctx context.Context, q store.Queries, p *proven, r store.Round, f api.AnswerForm) error {
	rcs, err := q.RoundChanges(ctx, r.ID)
	if err != nil {
		return err
	}
	said := map[int64]api.ClientAnswer{}
	for _, a := range f.Answers {
		said[a.ChangeID] = a
	}
	notYet := 0
	e := event{Who: strings.TrimSpace(f.Name), What: "client answered"}
	changes := map[int64]store.Change{}
	for _, dr := range p.drafts {
		for _, c := range dr.changes {
			if c.Leads {
				changes[c.ID] = c
			}
		}
	}
	for _, rc := range rcs {
		a, ok := said[rc.ChangeID]
		if !ok || a.Verdict == api.VerdictEmpty {
			return refused("Say “right” or “not yet” to each of the %d changes.", len(rcs))
		}
		rc.Verdict = string(a.Verdict)
		if a.Note != nil {
			rc.Note = strings.TrimSpace(*a.Note)
		}
		if a.Verdict == api.VerdictNotYet {
			notYet++
			if rc.Note == "" {
				return refused("Say in a few words what should be different, so that it can be put right.")
			}
		}
		if err := q.SetVerdict(ctx, rc); err != nil {
			return err
		}
		ce := release.ChangeEvent(changes[rc.ChangeID], "")
		ce.Verdict = rc.Verdict
		if rc.Note != "" {
			ce.Verdict += ": " + rc.Note
		}
		e.Changes = append(e.Changes, ce)
	}
	name := strings.TrimSpace(f.Name)
	if notYet == 0 && name == "" {
		return refused("Write your name, as your signature.")
	}
	if e.Who == "" {
		e.Who = p.client.ContactName
	}
	signed := name
	state := request.Cleared
	if notYet > 0 {
		signed, state = "", request.InHand
	}
	ok, err := q.CloseRound(ctx, r.ID, signed, d.now())
	if err != nil {
		return err
	}
	if !ok {
		return stale("You have answered this already. Thank you.")
	}
	if notYet > 0 {
		if err := move(ctx, q, r.RequestID, state, request.Client); err != nil {
			return err
		}
		e.Say = fmt.Sprintf("Round %d: %d right, %d not yet", r.N, len(rcs)-notYet, notYet)
		return d.note(ctx, q, p.r.SiteID, &p.r.ID, nil, e)
	}
	if err := q.SignRequest(ctx, r.RequestID, name, d.now()); err != nil {
		return err
	}
	if err := move(ctx, q, r.RequestID, state, request.Client); err != nil {
		return err
	}
	e.What, e.Say = "client signed", fmt.Sprintf("Round %d: all is right (%d), signed %s", r.N, len(rcs), name)
	for _, o := range p.all() {
		e.Pages = append(e.Pages, eventPage{Address: o.row.Address, Before: o.row.Hash, After: o.hash})
	}
	if err := d.send(ctx, q, store.Mail{
		RequestID: &p.r.ID, ToAddress: p.client.ContactMail, Subject: p.site.Name + ": what you signed",
		Body: signedMail(p, e, name),
	}); err != nil {
		return err
	}
	return d.note(ctx, q, p.r.SiteID, &p.r.ID, nil, e)
}

func signedMail(p *proven, e event, name string) string {
	var b strings.Builder
	fmt.Fprintf(&b, "Dear %s,\n\nthank you. You signed these changes as %s:\n\n", p.client.ContactName, name)
	for i, c := range e.Changes {
		fmt.Fprintf(&b, "%d. %s\n", i+1, c.Say)
	}
	b.WriteString("\nThey now go live. These are the fingerprints (SHA-256) of the pages that you cleared:\n\n")
	for _, pg := range e.Pages {
		fmt.Fprintf(&b, "%s  %s\n", pg.After, pg.Address)
	}
	return b.String()
}
