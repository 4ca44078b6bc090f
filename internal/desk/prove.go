package desk

import (
	"context"
	"errors"
	"fmt"
	"slices"
	"strings"

	"mendry/api"
	"mendry/internal/core/page"
	"mendry/internal/core/request"
	"mendry/internal/store"
)

// proven is a request's draft as a proof shows it.
type proven struct {
	r      store.RequestRow
	site   store.Site
	client store.Client
	drafts []*draft     // of the pages on which it has changes that they lead
	others []provenPage // on which it has none but those of shared parts
	round  *store.Round
	pages  map[int64]store.RoundPage // of the round, by page
	facts  request.Facts
}

// proven is not to be called in a transaction: pages are read and, by the checks, looked for outside.
func (d *Desk) proven(ctx context.Context, number int64) (*proven, error) {
	p := &proven{pages: map[int64]store.RoundPage{}}
	q := d.store.Queries
	var err error
	if p.facts, p.r, err = q.RequestFacts(ctx, number); err != nil {
		return nil, missing(err, "request")
	}
	if p.site, err = q.Site(ctx, p.r.SiteID); err != nil {
		return nil, err
	}
	if p.client, err = q.Client(ctx, p.site.ClientID); err != nil {
		return nil, err
	}
	if err := d.proveDrafts(ctx, p, number); err != nil {
		return nil, err
	}
	round, err := q.LastRound(ctx, number)
	if errors.Is(err, store.ErrNone) {
		return p, nil
	}
	if err != nil {
		return nil, err
	}
	p.round = &round
	rps, err := q.RoundPages(ctx, round.ID)
	for _, rp := range rps {
		p.pages[rp.PageID] = rp
	}
	return p, err
}

// stillSo takes hold of the request until the transaction ends, and ends with errMoved where it, its round or its
// drafts are no longer what was looked at.
func (p *proven) stillSo(ctx context.Context, q store.Queries) error {
	if err := q.LockRequest(ctx, p.r.ID); err != nil {
		return missing(err, "request")
	}
	f, _, err := q.RequestFacts(ctx, p.r.ID)
	if err != nil {
		return err
	}
	round, err := q.LastRound(ctx, p.r.ID)
	if ignoreNone(err) != nil {
		return err
	}
	ids, err := q.DraftPages(ctx, p.r.ID)
	if err != nil {
		return err
	}
	same := f == p.facts && (p.round == nil) == (round.ID == 0) && (p.round == nil || p.round.ID == round.ID) &&
		slices.Equal(ids, p.pageIDs())
	if !same {
		return errMoved
	}
	for _, dr := range p.drafts {
		if err := dr.stillSo(ctx, q); err != nil {
			return err
		}
	}
	return p.othersStillSo(ctx, q)
}

// rounds is how many rounds a request has had.
func (p *proven) rounds() int {
	if p.round == nil {
		return 0
	}
	return p.round.N
}

// cleared reports whether what would be published on this page is what was cleared, byte for byte.
func (p *proven) cleared(o provenPage) bool {
	return p.r.State == string(request.Cleared) && p.shown(o) && p.pages[o.row.ID].BeforeHash == o.row.Hash
}

// shown reports whether a page is what the last round showed.
func (p *proven) shown(o provenPage) bool {
	rp, ok := p.pages[o.row.ID]
	return ok && o.conflict == "" && rp.AfterHash == o.hash
}

// wishFindings says what is still open in the letter.
func (d *Desk) wishFindings(ctx context.Context, q store.Queries, p *proven) ([]api.Finding, error) {
	out := []api.Finding{}
	ws, err := q.Wishes(ctx, p.r.ID)
	if err != nil {
		return out, err
	}
	for _, dt := range badDates(p.r.Letter, ws) {
		u := units(p.r.Letter)
		words := decode(u[dt.Start:dt.End])
		var wish *int64
		for _, w := range ws {
			if w.StartAt < dt.End && w.EndAt > dt.Start {
				wish = &w.ID
			}
		}
		out = append(out, api.Finding{Rule: "letter-dates", Level: api.LevelStop, Words: words, WishID: wish, Say: fmt.Sprintf("The letter asks for “%s”. %s Mark the wish as impossible and say so to the client, or ask which day is meant.", words, dt.Problem)})
	}
	for i, w := range ws {
		if w.State == string(request.Open) {
			out = append(out, api.Finding{Rule: "wish-open", Level: api.LevelLook, Words: w.Words, WishID: &w.ID, Say: fmt.Sprintf("Wish %d is still open: “%s”.", i+1, page.Short(w.Words, 60))})
		}
	}
	return out, nil
}

// Proof shows what would change, with checks.
func (d *Desk) Proof(ctx context.Context, number int64) (api.Proof, error) {
	if spreading, err := d.spreading(ctx, number); err != nil || spreading != nil {
		return d.proofToCome(ctx, number, spreading, err)
	}
	p, err := d.proven(ctx, number)
	if err != nil {
		return api.Proof{}, err
	}
	v := api.Proof{Row: requestRow(p.r), Pages: []api.ProofPage{}, ContactName: p.client.ContactName, ContactMail: p.client.ContactMail}
	if v.Findings, err = d.wishFindings(ctx, d.store.Queries, p); err != nil {
		return v, err
	}
	changes, err := d.thread(ctx, number)
	if err != nil {
		return v, err
	}
	left, err := d.leftElsewhere(ctx, number, changes)
	if err != nil {
		return v, err
	}
	v.Findings = append(v.Findings, left...)
	for _, dr := range p.drafts {
		if !slices.ContainsFunc(dr.changes, func(c store.Change) bool { return c.State == "kept" }) {
			continue // all of it is going out
		}
		pp, err := d.proofPage(ctx, p, dr, changes)
		if err != nil {
			return v, err
		}
		v.Pages = append(v.Pages, pp)
	}
	if p.round != nil {
		rv, err := d.roundView(ctx, *p.round)
		if err != nil {
			return v, err
		}
		v.Round = &rv
	}
	if err := d.proveOthers(ctx, p, &v); err != nil {
		return v, err
	}
	v.WhyNotSend = d.whyNotSend(p, v)
	v.CanSend = v.WhyNotSend == ""
	v.CanRemind = d.mayRemind(p)
	if v.NotYet, err = d.notYet(ctx, d.store.Queries, p); err != nil {
		return v, err
	}
	v.WhyNotPublish = whyNotPublish(p, v)
	v.CanPublish = v.WhyNotPublish == ""
	v.CanClear = p.client.MayClear && v.CanSend && !v.CanPublish
	if v.Edited, err = d.edited(ctx, p); err != nil {
		return v, err
	}
	if v.Edited != nil && v.Edited.WhyNot == "" && stops(v) == 0 {
		v.WhyNotPublish = "Others edited " + v.Edited.Pages[0].Page.Address + " since it was cleared. Look at what they changed, and say whether the clearance stands."
	}
	v.ByHand, err = d.byHand(ctx, p.site.ID)
	return v, err
}

const mostLooked = 20 // changes whose old words are looked for elsewhere

// leftElsewhere says where old words still stand on the site, unless they were left on purpose.
func (d *Desk) leftElsewhere(ctx context.Context, number int64, changes []api.Change) (fs []api.Finding, err error) {
	said := map[string]bool{}
	for i, c := range changes {
		if i == mostLooked || c.State != api.ChangeStateKept || c.Kind != api.ChangeKindWords {
			continue
		}
		v, err := d.Elsewhere(ctx, number, c.ID, false)
		if err != nil {
			return fs, err
		}
		if v.LeftWhy != "" {
			said[v.Old] = true
		}
		v.Places = slices.DeleteFunc(v.Places, func(p api.ElsewherePlace) bool { return !p.Sure })
		if len(v.Places) == 0 || said[v.Old] {
			continue
		}
		said[v.Old] = true
		where := []string{}
		for _, p := range v.Places[:min(len(v.Places), 4)] {
			where = append(where, p.Address)
		}
		fs = append(fs, api.Finding{Rule: "same-elsewhere", Level: api.LevelLook, Words: v.Old, PageID: c.PageID, Part: c.Part, Say: fmt.Sprintf(
			"“%s” still stands in %s: %s. Change it there too, or say on the bench why it stays.", v.Old, places(len(v.Places)), strings.Join(slices.Compact(where), ", "))})
	}
	return fs, nil
}

func places(n int) string {
	if n == 1 {
		return "1 more place"
	}
	return itoa(n) + " more places"
}

func (d *Desk) proofPage(ctx context.Context, p *proven, dr *draft, changes []api.Change) (api.ProofPage, error) {
	number := p.r.ID
	made := madeOf(dr)
	pp := api.ProofPage{
		Page: rowOf(dr.row), Live: dr.row.Hash, Draft: made.hash, Changes: []api.Change{}, Conflict: made.conflict, Cleared: p.cleared(made),
	}
	ids := map[int64]string{}
	for i, id := range dr.Parts() {
		ids[dr.changes[i].ID] = id
	}
	for _, c := range changes {
		if c.PageID == dr.row.ID && c.State == api.ChangeStateKept {
			c.Part = ids[c.ID]
			pp.Changes = append(pp.Changes, c)
		}
	}
	var err error
	if pp.Findings, err = d.check(ctx, p, dr); err != nil {
		return pp, err
	}
	if pp.LiveURL, err = d.view(ctx, store.Preview{SiteID: p.site.ID, RequestID: &number, View: "live", Marked: true}, dr.row.Address); err != nil {
		return pp, err
	}
	pp.DraftURL, err = d.view(ctx, store.Preview{SiteID: p.site.ID, RequestID: &number, View: "draft", Marked: true}, dr.row.Address)
	return pp, err
}

func stops(v api.Proof) int {
	n := 0
	for _, f := range v.Findings {
		if f.Level == api.LevelStop {
			n++
		}
	}
	for _, p := range v.Pages {
		for _, f := range p.Findings {
			if f.Level == api.LevelStop {
				n++
			}
		}
	}
	return n
}

func (d *Desk) whyNotSend(p *proven, v api.Proof) string {
	switch n := stops(v); {
	case p.facts.Going > 0:
		return "A release of this request is under way. Finish it first."
	case p.facts.Kept == 0:
		return "Nothing is kept that could be shown."
	case p.r.State == string(request.OnHold) || p.r.State == string(request.Declined) || p.r.State == string(request.SignedOff):
		return "The request is " + p.r.State + "."
	case n == 1:
		return "A check says stop. Settle it first."
	case n > 1:
		return fmt.Sprintf("%d checks say stop. Settle them first.", n)
	}
	return ""
}

func whyNotPublish(p *proven, v api.Proof) string {
	if p.facts.Kept == 0 {
		return "Nothing is kept that could be published."
	}
	if p.r.State != string(request.Cleared) {
		if p.r.State == string(request.WithClient) {
			return "The client has not answered yet."
		}
		if p.client.MayClear {
			return "Not cleared yet. Send it to the client, or clear it yourself: the client’s terms allow it."
		}
		return "Not cleared yet. Send it to the client first."
	}
	for _, o := range p.all() {
		if !p.cleared(o) && slices.ContainsFunc(o.changes, func(c store.Change) bool { return c.State == "kept" }) {
			return "What is kept for " + o.row.Address + " is no longer what was cleared. Send a new round."
		}
	}
	if stops(v) > 0 {
		return "A check says stop. Settle it first."
	}
	return ""
}

// checksOf runs the rules on each page of a proof.
func (d *Desk) checksOf(ctx context.Context, p *proven) (said []string, err error) {
	var led []api.Finding
	for _, dr := range p.drafts {
		if dr.Conflict != nil {
			return nil, refused("%s", dr.ConflictSay())
		}
		fs, err := d.check(ctx, p, dr)
		if err != nil {
			return nil, err
		}
		led = append(led, fs...)
		for _, f := range fs {
			said = append(said, string(f.Level)+": "+f.Say)
		}
		seen, err := d.seenHashes(ctx, dr)
		if err != nil {
			return nil, err
		}
		said = append(said, seen...)
	}
	others, err := d.checkOthers(ctx, p, led)
	for _, f := range others {
		said = append(said, string(f.Level)+": "+f.Say)
	}
	return said, err
}
