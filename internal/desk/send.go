package desk

import (
	"context"
	"crypto/hmac"
	"crypto/sha256"
	"encoding/base32"
	"fmt"
	"strings"
	"time"

	"mendry/api"
	"mendry/internal/core/request"
	"mendry/internal/release"
	"mendry/internal/store"
)

// roundToken is what a client's link to a round opens it by. It is made of the house's secret, so that the same link can
// be written again though nothing is kept of it but its hash.
func (d *Desk) roundToken(request int64, n int) string {
	m := hmac.New(sha256.New, d.Secret)
	fmt.Fprintf(m, "the link to round %d of request %d", n, request)
	return strings.ToLower(base32.StdEncoding.WithPadding(base32.NoPadding).EncodeToString(m.Sum(nil)))[:26]
}

// roundAddress is the link to a round.
func (d *Desk) roundAddress(r store.Round) string {
	return d.PublicURL + "/p/" + d.roundToken(r.RequestID, r.N)
}

// SendProof opens a round: the client gets a link that needs no account.
func (d *Desk) SendProof(ctx context.Context, who Who, number int64) (api.Proof, error) {
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
		if p.facts.Kept == 0 {
			return stale("The changes were taken back in the meantime.")
		}
		checks, err := d.checksOf(ctx, p)
		if err != nil {
			return err
		}
		return d.sendRound(ctx, who, p, checks)
	})
	if err != nil {
		return v, err
	}
	d.jobs.Wake()
	return d.Proof(ctx, number)
}

func (d *Desk) sendRound(ctx context.Context, who Who, p *proven, checks []string) error {
	number := p.r.ID
	r := d.newRound(p)
	r.SentTo = p.client.ContactMail
	return d.store.Tx(ctx, func(q store.Queries) error {
		if err := p.stillSo(ctx, q); err != nil {
			return err
		}
		_, err := d.openRound(ctx, q, p, r, event{
			Who: who.Name, What: "proof sent", Say: fmt.Sprintf("Round %d to %s", r.N, r.SentTo), Checks: checks,
		})
		if err != nil {
			return err
		}
		if p.r.SignedAt != nil {
			if err := q.UnsignRequest(ctx, number); err != nil {
				return err
			}
		}
		if err := move(ctx, q, number, request.WithClient, request.Work); err != nil {
			return err
		}
		return d.send(ctx, q, store.Mail{
			RequestID: &number, ToAddress: r.SentTo,
			Subject: fmt.Sprintf("%s: changes ready for you to see", p.site.Name),
			Body:    proofMail(p, r.N, d.roundAddress(r), who.Name),
		})
	})
}

func proofMail(p *proven, round int, address, from string) string {
	again := ""
	if round > 1 {
		again = " We have worked on what you wrote."
	}
	return fmt.Sprintf("Dear %s,\n\nwhat you asked for, “%s”, is ready for you to look at.%s\nNothing is live yet. Please open this page, on a phone or a computer, and say of each change whether it is right:\n\n%s\n\nThe link is for you; it needs no account and works for %d days.\n\n%s\n",
		p.client.ContactName, p.r.Subject, again, address, linkDays, from)
}

// RemindClient writes to the client again of a round that they have not answered, with the same link.
func (d *Desk) RemindClient(ctx context.Context, who Who, number int64) (api.Proof, error) {
	err := unlessMoved(func() error {
		p, err := d.proven(ctx, number)
		if err != nil {
			return err
		}
		if !d.mayRemind(p) {
			return refused("There is no round that waits for an answer. Send the proof.")
		}
		return d.store.Tx(ctx, func(q store.Queries) error {
			if err := p.stillSo(ctx, q); err != nil {
				return err
			}
			now := d.now()
			until := now.AddDate(0, 0, linkDays)
			if err := q.RemindRound(ctx, p.round.ID, now, until); err != nil {
				return err
			}
			err := d.note(ctx, q, p.r.SiteID, &number, nil, event{
				Who: who.Name, What: "client reminded", Say: fmt.Sprintf("Of round %d, %s", p.round.N, p.round.SentTo),
			})
			if err != nil {
				return err
			}
			return d.send(ctx, q, store.Mail{
				RequestID: &number, ToAddress: p.round.SentTo,
				Subject: fmt.Sprintf("%s: changes that wait for your answer", p.site.Name),
				Body:    reminderMail(p, until, d.roundAddress(*p.round), who.Name),
			})
		})
	})
	if err != nil {
		return api.Proof{}, err
	}
	d.jobs.Wake()
	return d.Proof(ctx, number)
}

// mayRemind reports whether a round waits for the client's answer, and can be opened by the link that they have.
func (d *Desk) mayRemind(p *proven) bool {
	return p.round != nil && d.clientState(p, *p.round) == "open" &&
		p.round.TokenHash == hash([]byte(d.roundToken(p.r.ID, p.round.N))) // rounds of older versions have other links
}

func reminderMail(p *proven, until time.Time, address, from string) string {
	at := p.site.Clock()
	return fmt.Sprintf("Dear %s,\n\non %s we wrote to you about “%s”. It waits for your answer: none of it goes live before. It is on this page, on a phone or a computer; say of each change whether it is right:\n\n%s\n\nIt is the same link as before. It works until %s.\n\n%s\n",
		p.client.ContactName, p.round.SentAt.In(at).Format("Monday 2 January"), p.r.Subject, address, until.In(at).Format("2 January 2006"), from)
}

func (d *Desk) roundView(ctx context.Context, r store.Round) (api.RoundView, error) {
	v := api.RoundView{
		N: r.N, SentTo: r.SentTo, SentAt: r.SentAt, OpenedAt: r.OpenedAt, AnsweredAt: r.AnsweredAt, SignedName: r.SignedName,
		AnsweredBy: r.AnsweredBy, RemindedAt: r.RemindedAt, Answers: []api.RoundAnswer{}, Late: []api.LateAnswer{},
	}
	if r.Carries != nil { // what was said in that one holds
		of, err := d.store.Round(ctx, *r.Carries)
		if err != nil {
			return v, err
		}
		v.Carries, r = &of.N, of
	}
	v.More = r.More
	cs, err := d.store.RoundChanges(ctx, r.ID)
	if err != nil {
		return v, err
	}
	for _, c := range cs {
		v.Answers = append(v.Answers, api.RoundAnswer{ChangeID: c.ChangeID, Verdict: api.Verdict(c.Verdict), Note: c.Note})
	}
	late, err := d.store.LateAnswers(ctx, r.ID)
	for _, l := range late {
		v.Late = append(v.Late, api.LateAnswer{ChangeID: l.ChangeID, Verdict: api.Verdict(l.Verdict), Note: l.Note, Name: l.Name, At: l.At})
	}
	return v, err
}

// linkDays is for how many days a client's link works.
const linkDays = 30

// newRound is the round that comes after the last one, as it begins now.
func (d *Desk) newRound(p *proven) store.Round {
	r := store.Round{RequestID: p.r.ID, N: p.rounds() + 1, SentAt: d.now()}
	r.TokenHash, r.ExpiresAt = hash([]byte(d.roundToken(r.RequestID, r.N))), r.SentAt.AddDate(0, 0, linkDays)
	return r
}

// openRound writes down what is shown: each page by the hash of its bytes, each change. It gives the round its key. A
// round that goes to nobody is cleared at once; e says what of that.
func (d *Desk) openRound(ctx context.Context, q store.Queries, p *proven, r store.Round, e event) (_ store.Round, err error) {
	if r.ID, err = q.AddRound(ctx, r); err != nil {
		return r, err
	}
	if err := q.KeepBlobs(ctx, p.after()); err != nil {
		return r, err
	}
	for _, o := range p.all() {
		if err := q.AddRoundPage(ctx, store.RoundPage{RoundID: r.ID, PageID: o.row.ID, BeforeHash: o.row.Hash, AfterHash: o.hash}); err != nil {
			return r, err
		}
		e.Pages = append(e.Pages, eventPage{Address: o.row.Address, Before: o.row.Hash, After: o.hash})
	}
	i := 0
	for _, dr := range p.drafts {
		for k, c := range dr.changes {
			if !c.Leads {
				continue
			}
			i++
			if err := q.AddRoundChange(ctx, store.RoundChange{RoundID: r.ID, ChangeID: c.ID, N: i, Place: dr.Whereabouts(k)}); err != nil {
				return r, err
			}
			e.Changes = append(e.Changes, release.ChangeEvent(c, dr.row.Address))
		}
	}
	return r, d.note(ctx, q, p.r.SiteID, &p.r.ID, nil, e)
}
