package desk

import (
	"cmp"
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

// roundOf finds the round that a client's link opens: the newest that they were sent, whichever of their links it is.
func (d *Desk) roundOf(ctx context.Context, q store.Queries, t string) (store.Round, error) {
	r, err := q.RoundByToken(ctx, hash([]byte(t)))
	if errors.Is(err, store.ErrNone) || err == nil && r.ExpiresAt.Before(d.now()) {
		return r, refusal.New(refusal.Nothing, "This link is not valid, or no longer. Ask whoever sent it for a new one.")
	}
	return r, err
}

// Answer keeps what the client says to each change of a round. All right and signed clears the request, bound to the
// bytes that were shown; “not yet” sends it back to the bench. What comes when the round is answered, or overtaken, is
// passed on.
func (d *Desk) Answer(ctx context.Context, t string, f api.AnswerForm) (api.ClientProof, error) {
	var newest store.Round
	passedOn := false
	err := unlessMoved(func() error {
		r, err := d.roundOf(ctx, d.store.Queries, t)
		if err != nil {
			return err
		}
		newest = r
		p, err := d.proven(ctx, r.RequestID)
		if err != nil {
			return err
		}
		if f.Round != r.N {
			if r, err = d.store.RoundN(ctx, r.RequestID, f.Round); err != nil || r.SentTo != newest.SentTo {
				return missing(cmp.Or(err, store.ErrNone), "round")
			}
		}
		if r.ID != newest.ID || d.clientState(p, r) != "open" {
			passedOn, err = d.answerLate(ctx, p, r, f)
			return err
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
	v, err := d.clientProof(ctx, newest.ID)
	v.PassedOn = passedOn
	return v, err
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
	name := e.Who
	switch {
	case name == "" && notYet > 0:
		return refused("Write your name, so that we know whose notes these are.")
	case name == "":
		return refused("Write your name, as your signature.")
	}
	r.AnsweredBy, r.SignedName, r.More = name, name, strings.TrimSpace(f.More)
	more := ""
	if r.More != "" {
		more = ". One thing more: “" + r.More + "”"
	}
	state := request.Cleared
	if notYet > 0 {
		r.SignedName, state = "", request.InHand
	}
	ok, err := q.CloseRound(ctx, r, d.now())
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
		e.Say = fmt.Sprintf("Round %d: %d right, %d not yet", r.N, len(rcs)-notYet, notYet) + more
		return d.note(ctx, q, p.r.SiteID, &p.r.ID, nil, e)
	}
	if err := q.SignRequest(ctx, r.RequestID, name, d.now()); err != nil {
		return err
	}
	if err := move(ctx, q, r.RequestID, state, request.Client); err != nil {
		return err
	}
	e.What, e.Say = "client signed", fmt.Sprintf("Round %d: all is right (%d), signed %s", r.N, len(rcs), name)+more
	for _, o := range p.all() {
		e.Pages = append(e.Pages, eventPage{Address: o.row.Address, Before: o.row.Hash, After: o.hash})
	}
	wishes, err := wishWords(ctx, q, r.RequestID)
	if err != nil {
		return err
	}
	if err := d.send(ctx, q, store.Mail{
		RequestID: &p.r.ID, ToAddress: p.client.ContactMail, Subject: p.site.Name + ": what you signed",
		Body: signedMail(p, r, rcs, changes, wishes, e.Pages),
	}); err != nil {
		return err
	}
	return d.note(ctx, q, p.r.SiteID, &p.r.ID, nil, e)
}

// wishWords are the words of a request's wishes.
func wishWords(ctx context.Context, q store.Queries, request int64) (map[int64]string, error) {
	ws, err := q.Wishes(ctx, request)
	words := map[int64]string{}
	for _, w := range ws {
		words[w.ID] = w.Words
	}
	return words, err
}

func signedMail(p *proven, r store.Round, rcs []store.RoundChange, changes map[int64]store.Change, wishes map[int64]string, pages []eventPage) string {
	var b strings.Builder
	fmt.Fprintf(&b, "Dear %s,\n\nthank you. You signed these changes as %s:\n\n", p.client.ContactName, r.SignedName)
	for i, rc := range rcs {
		c := changes[rc.ChangeID]
		fmt.Fprintf(&b, "%d. %s\n", i+1, cmp.Or(rc.Place, c.PartName))
		if c.WishID != nil && wishes[*c.WishID] != "" {
			fmt.Fprintf(&b, "   You asked: “%s”\n", strings.Join(strings.Fields(wishes[*c.WishID]), " "))
		}
		fmt.Fprintf(&b, "   %s\n", c.Say)
	}
	if r.More != "" {
		fmt.Fprintf(&b, "\nAnd one thing more: “%s”. We come back to you about it.\n", r.More)
	}
	b.WriteString("\nThey are not live yet: they go live next, and the page that you signed on says when they are.\nThese are the fingerprints (SHA-256) of the pages that you cleared:\n\n")
	for _, pg := range pages {
		fmt.Fprintf(&b, "%s  %s\n", pg.After, pg.Address)
	}
	return b.String()
}
