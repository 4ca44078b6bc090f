package desk

import (
	"context"
	"crypto/sha256"
	"encoding/hex"
	"fmt"
	"slices"
	"strings"
	"sync"
	"time"

	"mendry/api"
	"mendry/internal/core/check"
	"mendry/internal/core/page"
	"mendry/internal/store"
)

// provenPage is what a request makes of one page.
type provenPage struct {
	row      store.Page
	changes  []store.Change
	after    []byte // its bytes with them
	hash     string // of these
	conflict string // why they do not fit any more
	with     int64  // the page that leads its first change: it is published with that one
}

// spreadPage is a page as its changes make it, and what the rules say of it, as it is remembered.
type spreadPage struct {
	after    []byte
	hash     string
	conflict string
	findings []api.Finding
	checked  time.Time
}

// keepChecked is how long what the rules say of a page on which a shared part is changed holds: they are asked at each
// step of a proof, and look at other pages and files too.
const keepChecked = time.Minute

func madeOf(dr *draft) provenPage {
	return provenPage{row: dr.row, changes: dr.changes, after: dr.Page().Doc.Bytes, hash: dr.Hash(), conflict: dr.ConflictSay()}
}

// all are the pages of a proof, those first on which it has changes that they lead.
func (p *proven) all() []provenPage {
	all := make([]provenPage, 0, len(p.drafts)+len(p.others))
	for _, dr := range p.drafts {
		all = append(all, madeOf(dr))
	}
	return append(all, p.others...)
}

// pageIDs are the keys of the pages of a proof, in order.
func (p *proven) pageIDs() []int64 {
	var ids []int64
	for _, o := range p.all() {
		ids = append(ids, o.row.ID)
	}
	slices.Sort(ids)
	return ids
}

// after are the bytes of the pages of a proof, by their hash.
func (p *proven) after() map[string][]byte {
	all := map[string][]byte{}
	for _, o := range p.all() {
		all[o.hash] = o.after
	}
	return all
}

// proveDrafts makes the drafts of a request's pages. Of those on which it has none but changes of shared parts, what
// they become is kept, not the draft: there may be hundreds.
func (d *Desk) proveDrafts(ctx context.Context, p *proven, number int64) error {
	q := d.store.Queries
	if err := d.followPages(ctx, number); err != nil {
		return err
	}
	if err := d.makeStale(ctx, number); err != nil { // on some of them nothing stands before
		return err
	}
	ids, err := q.DraftPages(ctx, number)
	if err != nil {
		return err
	}
	led, err := q.LedPages(ctx, number)
	if err != nil {
		return err
	}
	var others []int64
	for _, id := range ids {
		if !slices.Contains(led, id) {
			others = append(others, id)
			continue
		}
		dr, err := d.draftOf(ctx, q, number, id)
		if err != nil {
			return err
		}
		p.drafts = append(p.drafts, dr)
	}
	leads := map[int64]int64{} // the page that leads a change
	for _, dr := range p.drafts {
		for _, c := range dr.changes {
			if c.Leads {
				leads[c.ID] = dr.row.ID
			}
		}
	}
	var mu sync.Mutex
	err = d.eachPage(ctx, others, func(ctx context.Context, id int64) error {
		o, err := d.otherPage(ctx, number, id)
		if err != nil || len(o.changes) == 0 { // all of them are left there
			return err
		}
		o.with = leads[o.changes[0].ID]
		mu.Lock()
		defer mu.Unlock()
		p.others = append(p.others, o)
		return nil
	})
	slices.SortFunc(p.others, func(a, b provenPage) int { return int(a.row.ID - b.row.ID) })
	return err
}

// otherPage is a page on which a request has changes of shared parts only.
func (d *Desk) otherPage(ctx context.Context, request, id int64) (o provenPage, err error) {
	row, err := d.store.Page(ctx, id)
	if err != nil {
		return o, err
	}
	kept, err := d.store.DraftOn(ctx, request, id)
	if err != nil {
		return o, err
	}
	if !slices.ContainsFunc(kept, func(c store.Change) bool { return c.Stale(row.Hash) }) {
		kept = standing(kept)
		if made, ok := d.spreads.Get(madeKey(row, kept)); ok {
			return provenPage{row: row, changes: kept, after: made.after, hash: made.hash, conflict: made.conflict}, nil
		}
	}
	dr, err := d.draftOf(ctx, d.store.Queries, request, id)
	if err != nil {
		return o, err
	}
	return d.remember(dr), nil
}

// remember keeps what a page becomes, for the proof that is made next.
func (d *Desk) remember(dr *draft) provenPage {
	o := madeOf(dr)
	d.spreads.Add(madeKey(dr.row, dr.changes), spreadPage{after: o.after, hash: o.hash, conflict: o.conflict})
	return o
}

// madeKey is what a page is remembered by with its changes.
func madeKey(row store.Page, changes []store.Change) string {
	h := sha256.New()
	fmt.Fprint(h, row.ID, row.Address, row.Hash)
	for _, c := range changes {
		fmt.Fprint(h, c.ID, c.State, c.Op)
	}
	return hex.EncodeToString(h.Sum(nil))
}

// othersStillSo ends with errMoved where one of the pages on which only shared parts change is no longer what was
// looked at.
func (p *proven) othersStillSo(ctx context.Context, q store.Queries) error {
	if len(p.others) == 0 {
		return nil
	}
	ids := make([]int64, len(p.others))
	for i, o := range p.others {
		ids[i] = o.row.ID
	}
	hashes, marks, err := q.MarksOn(ctx, p.r.ID, ids)
	if err != nil {
		return err
	}
	for _, o := range p.others {
		if hashes[o.row.ID] != o.row.Hash || !slices.EqualFunc(marks[o.row.ID], o.changes, isStill) {
			return errMoved
		}
	}
	return nil
}

// findingsOf is what the rules say of each page of a proof.
func (d *Desk) findingsOf(ctx context.Context, p *proven) (map[int64][]api.Finding, error) {
	said, err := d.findingsOfOthers(ctx, p)
	if err != nil {
		return nil, err
	}
	for _, dr := range p.drafts {
		if said[dr.row.ID], err = d.check(ctx, p, dr); err != nil {
			return nil, err
		}
	}
	return said, nil
}

// findingsOfOthers is what the rules say of each page on which only shared parts change.
func (d *Desk) findingsOfOthers(ctx context.Context, p *proven) (map[int64][]api.Finding, error) {
	said := map[int64][]api.Finding{}
	var mu sync.Mutex
	byID := map[int64]provenPage{}
	var ids []int64
	for _, o := range p.others {
		byID[o.row.ID] = o
		ids = append(ids, o.row.ID)
	}
	err := d.eachPage(ctx, ids, func(ctx context.Context, id int64) error {
		fs, err := d.checkOther(ctx, p, byID[id])
		mu.Lock()
		defer mu.Unlock()
		said[id] = fs
		return err
	})
	return said, err
}

// checkOther runs the rules on a page on which only shared parts change.
func (d *Desk) checkOther(ctx context.Context, p *proven, o provenPage) ([]api.Finding, error) {
	key := madeKey(o.row, o.changes)
	if made, ok := d.spreads.Get(key); ok && d.now().Sub(made.checked) < keepChecked {
		return made.findings, nil
	}
	dr, err := d.draftOf(ctx, d.store.Queries, p.r.ID, o.row.ID)
	if err != nil {
		return nil, err
	}
	fs, err := d.checkBy(ctx, p, dr, check.Touched)
	if err != nil {
		return nil, err
	}
	d.spreads.Add(key, spreadPage{after: o.after, hash: o.hash, conflict: o.conflict, findings: fs, checked: d.now()})
	return fs, nil
}

// checkOthers is what the rules say of the pages on which only shared parts change, with their addresses: what is
// fine, and what is said of a page that leads too, which are the findings led, is left out.
func (d *Desk) checkOthers(ctx context.Context, p *proven, led []api.Finding) (fs []api.Finding, err error) {
	said, err := d.findingsOfOthers(ctx, p)
	if err != nil {
		return nil, err
	}
	known := map[string]bool{}
	for _, f := range led {
		known[f.Rule+f.Say] = true
	}
	for _, o := range p.others {
		for _, f := range said[o.row.ID] {
			if f.Level == api.LevelFine || known[f.Rule+f.Say] {
				continue
			}
			f.Say = o.row.Address + ": " + f.Say
			fs = append(fs, f)
		}
	}
	slices.SortStableFunc(fs, func(a, b api.Finding) int { // what stops first
		return level(a) - level(b)
	})
	return fs, nil
}

// leftOn says on which pages a change that was asked for on all of them could not be made, unless a person said to
// leave them. Where that is every page but the one where it was made, it is not what was asked for.
func (d *Desk) leftOn(ctx context.Context, dr *draft) (fs []api.Finding, err error) {
	for i, c := range dr.changes {
		if !c.Leads || c.Everywhere == nil || c.State != "kept" {
			continue
		}
		others, err := d.store.OtherPages(ctx, c.ID)
		if err != nil {
			return nil, err
		}
		made, where, why := 0, []string{}, ""
		for _, o := range others {
			switch {
			case o.Failed:
				where, why = append(where, o.Address), o.Why
			case o.State != "left":
				made++
			}
		}
		if len(where) == 0 {
			continue
		}
		f := api.Finding{Rule: "all-pages", Level: api.LevelLook, Part: dr.Parts()[i], PageID: dr.row.ID}
		some := strings.Join(where[:min(len(where), 4)], ", ")
		if len(where) > 4 {
			some += " …"
		}
		f.Say = fmt.Sprintf("%s was to change on all pages and cannot on %d of them: %s. %s Look at them, and leave them or change them by hand.", page.Quoted(c.PartName), len(where), some, why)
		if made == 0 {
			f.Level = api.LevelStop
			f.Say = fmt.Sprintf("%s was to change on all pages and can be changed on none but %s: %s Undo it and make it again there, or say at the change which pages are left.", page.Quoted(c.PartName), dr.row.Address, why)
		}
		fs = append(fs, f)
	}
	return fs, nil
}

func level(f api.Finding) int {
	if f.Level == api.LevelStop {
		return 0
	}
	return 1
}

// mostSaid is how many findings about pages on which only shared parts change are shown one by one.
const mostSaid = 20

// proveOthers shows what is to be said of the pages on which only shared parts change.
func (d *Desk) proveOthers(ctx context.Context, p *proven, v *api.Proof) error {
	var led []api.Finding
	for _, pp := range v.Pages {
		led = append(led, pp.Findings...)
	}
	fs, err := d.checkOthers(ctx, p, led)
	if err != nil {
		return err
	}
	if len(fs) > mostSaid {
		more := fs[mostSaid]
		more.Say = fmt.Sprintf("And %d more like these on other pages.", len(fs)-mostSaid)
		fs = append(fs[:mostSaid:mostSaid], more)
	}
	v.Findings = append(v.Findings, fs...)
	v.OtherPages = len(p.others)
	return nil
}

// fewStale is how many pages are made while somebody waits for a proof, without a word.
const fewStale = 8

// spreading is how far a request's changes of shared parts have come to all pages; nil where they are there, or
// nearly.
func (d *Desk) spreading(ctx context.Context, number int64) (*api.Spreading, error) {
	_, left, err := d.store.StalePages(ctx, number, 0)
	if err != nil || left <= fewStale {
		return nil, err
	}
	of, err := d.store.DraftPages(ctx, number)
	if err != nil {
		return nil, err
	}
	if err := d.askSpread(ctx, d.store.Queries, number); err != nil {
		return nil, err
	}
	d.jobs.Wake()
	return &api.Spreading{Left: left, Of: len(of)}, nil
}

// proofToCome is a proof whose pages are still being made.
func (d *Desk) proofToCome(ctx context.Context, number int64, s *api.Spreading, err error) (api.Proof, error) {
	v := api.Proof{Findings: []api.Finding{}, Pages: []api.ProofPage{}, NotYet: []api.NotYet{}, Spreading: s}
	if err != nil {
		return v, err
	}
	r, err := d.store.RequestRow(ctx, number)
	if err != nil {
		return v, missing(err, "request")
	}
	v.Row = requestRow(r)
	v.WhyNotSend = "The change is still being brought to all pages."
	v.WhyNotPublish = v.WhyNotSend
	return v, nil
}
