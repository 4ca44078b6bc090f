package store

import (
	"context"
	"encoding/json"
	"time"

	"mendry/internal/core/record"
)

// RecordRow is a record entry with what it is about.
type RecordRow struct {
	SiteID    int64  `db:"site_id"`
	N         int64  `db:"n"`
	At        string `db:"at"`
	Prev      string `db:"prev"`
	BodyHash  string `db:"body_hash"`
	Hash      string `db:"hash"`
	Body      string `db:"body"`
	RequestID *int64 `db:"request_id"`
	PageID    *int64 `db:"page_id"`
	SiteName  string `db:"site_name"`
}

// Entry is the row as the chain has it.
func (r RecordRow) Entry() record.Entry {
	return record.Entry{N: r.N, At: r.At, Prev: r.Prev, BodyHash: r.BodyHash, Hash: r.Hash, Body: json.RawMessage(r.Body)}
}

// LockSite takes hold of a site until the transaction ends.
func (q Queries) LockSite(ctx context.Context, site int64) error {
	var locked int64
	return q.get(ctx, &locked, `SELECT id FROM site WHERE id = ? FOR UPDATE`, site)
}

// AppendRecord adds an entry to a site's chain. It must run in a transaction, whose other changes it then vouches for.
func (q Queries) AppendRecord(ctx context.Context, site int64, request, page *int64, at time.Time, body any) error {
	if err := q.LockSite(ctx, site); err != nil {
		return err
	}
	var last []RecordRow
	if err := q.all(ctx, &last, `SELECT n, at, prev, body_hash, hash FROM record_entry WHERE site_id = ? ORDER BY n DESC LIMIT 1 LOCK IN SHARE MODE`, site); err != nil {
		return err
	}
	var prev *record.Entry
	if len(last) > 0 {
		e := last[0].Entry()
		prev = &e
	}
	e, err := record.Next(prev, at, body)
	if err != nil {
		return err
	}
	_, err = q.do(ctx, `INSERT INTO record_entry (site_id, n, at, prev, body_hash, hash, body, request_id, page_id) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?)`,
		site, e.N, e.At, e.Prev, e.BodyHash, e.Hash, string(e.Body), request, page)
	return err
}

// Chain lists a site's whole record.
func (q Queries) Chain(ctx context.Context, site int64) (rs []RecordRow, err error) {
	return rs, q.all(ctx, &rs, `SELECT e.*, s.name site_name FROM record_entry e JOIN site s ON s.id = e.site_id WHERE e.site_id = ? ORDER BY e.n`, site)
}

// Record lists what happened, newest first: everywhere, or of one site, request or page (0: any).
func (q Queries) Record(ctx context.Context, site, request, page int64, most int) (rs []RecordRow, err error) {
	return rs, q.all(ctx, &rs, `SELECT e.*, s.name site_name FROM record_entry e JOIN site s ON s.id = e.site_id
		WHERE (? = 0 OR e.site_id = ?) AND (? = 0 OR e.request_id = ?) AND (? = 0 OR e.page_id = ?) ORDER BY e.at DESC, e.n DESC LIMIT ?`,
		site, site, request, request, page, page, most)
}
