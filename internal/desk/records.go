package desk

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"time"

	"mendry/api"
	"mendry/internal/core/diff"
	"mendry/internal/core/record"
	"mendry/internal/store"
)

// Record shows what happened, newest first, and whether the chains that it comes from are whole.
func (d *Desk) Record(ctx context.Context, site, number, page int64) (api.RecordView, error) {
	v := api.RecordView{Entries: []api.RecordEntry{}, Whole: true}
	rows, err := d.store.Record(ctx, site, number, page, 400)
	if err != nil {
		return v, err
	}
	sites := map[int64]bool{}
	for _, r := range rows {
		e, err := recordEntry(r)
		if err != nil {
			return v, err
		}
		v.Entries = append(v.Entries, e)
		sites[r.SiteID] = true
	}
	for id := range sites {
		chain, err := d.chainOf(ctx, id)
		if err != nil {
			return v, err
		}
		if err := record.Verify(chain); err != nil {
			v.Whole, v.Fault = false, err.Error()
		}
	}
	return v, nil
}

func (d *Desk) chainOf(ctx context.Context, site int64) ([]record.Entry, error) {
	rows, err := d.store.Chain(ctx, site)
	es := make([]record.Entry, len(rows))
	for i, r := range rows {
		es[i] = r.Entry()
	}
	return es, err
}

func recordEntry(r store.RecordRow) (api.RecordEntry, error) {
	var b event
	if err := json.Unmarshal([]byte(r.Body), &b); err != nil {
		return api.RecordEntry{}, fmt.Errorf("read record entry %d of site %d: %w", r.N, r.SiteID, err)
	}
	at, err := time.Parse(record.TimeForm, r.At)
	e := api.RecordEntry{
		SiteID: r.SiteID, SiteName: r.SiteName, N: r.N, At: at, Who: b.Who, What: b.What, Say: b.Say, Request: r.RequestID,
		Page: r.PageID, Hash: r.Hash, Changes: []api.RecordChange{},
	}
	for _, c := range b.Changes {
		name := c.Part
		if c.Verdict != "" {
			name += " (" + c.Verdict + ")"
		}
		e.Changes = append(e.Changes, api.RecordChange{Name: name, Address: c.Address, Words: runs(diff.Words(c.Before, c.After))})
	}
	return e, err
}

// ExportRecord writes a site's chain as a file. Where it is about one request, the bodies of all other entries are
// left out; their hashes stay, so that the chain can be checked.
func (d *Desk) ExportRecord(ctx context.Context, site, number int64) (api.RecordFile, error) {
	f := api.RecordFile{Format: record.Format, Made: d.now().Format(record.TimeForm), Entries: []api.RecordFileEntry{}, About: "the whole site"}
	if number > 0 {
		r, err := d.store.RequestRow(ctx, number)
		if err != nil {
			return f, missing(err, "request")
		}
		site, f.About = r.SiteID, fmt.Sprintf("request %d, %s", number, r.Subject)
	}
	s, err := d.store.Site(ctx, site)
	if errors.Is(err, store.ErrNone) {
		return f, refused("Choose a site or a request.")
	}
	if err != nil {
		return f, err
	}
	f.Site = s.Name
	rows, err := d.store.Chain(ctx, site)
	for _, r := range rows {
		e := api.RecordFileEntry{N: r.N, At: r.At, Prev: r.Prev, BodyHash: r.BodyHash, Hash: r.Hash}
		if number == 0 || r.RequestID != nil && *r.RequestID == number {
			body := json.RawMessage(r.Body)
			e.Body = &body
		}
		f.Entries = append(f.Entries, e)
	}
	if err != nil {
		return f, err
	}
	raw, err := json.Marshal(f)
	if err != nil {
		return f, err
	}
	f.Digest, err = record.Digest(raw)
	return f, err
}
