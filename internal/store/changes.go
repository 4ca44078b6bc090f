package store

import (
	"context"
	"time"
)

// Change is one logged edit. Op is a change.Targeted as JSON.
type Change struct {
	ID          int64     `db:"id"`
	RequestID   int64     `db:"request_id"`
	WishID      *int64    `db:"wish_id"`
	PageID      int64     `db:"page_id"` // one of the pages that it stands on: the one that was asked for
	Kind        string    `db:"kind"`
	PartName    string    `db:"part_name"`
	Op          string    `db:"op"`
	BeforeHTML  string    `db:"before_html"`
	AfterHTML   string    `db:"after_html"`
	BeforeWords string    `db:"before_words"`
	AfterWords  string    `db:"after_words"`
	MadeFrom    string    `db:"made_from"` // what a new picture was made of, as JSON; empty for other changes
	Say         string    `db:"say"`
	State       string    `db:"state"`      // on that page
	ReleaseID   *int64    `db:"release_id"` // that carried it last
	MadeBy      int64     `db:"made_by"`
	MadeAt      time.Time `db:"made_at"`
	ChangedAt   time.Time `db:"changed_at"`
	LeftWhy     string    `db:"left_why"`    // why the old words stay in other places
	ShapeWidth  int       `db:"shape_width"` // of a picture's place, in CSS pixels; 0 where it has none of its own
	ShapeHeight int       `db:"shape_height"`
	ShapeFit    string    `db:"shape_fit"` // CSS object-fit
}

// ChangeRow is a change with the page that it is on.
type ChangeRow struct {
	Change
	Address string `db:"address"`
	Title   string `db:"title"`
	MadeOf  string `db:"made_name"`
}

// AddChange logs a change of one page.
func (q Queries) AddChange(ctx context.Context, c Change) (int64, error) {
	id, err := q.add(ctx, `INSERT INTO page_change (request_id, wish_id, kind, part_name, op, before_html, after_html, before_words, after_words, made_from, say, made_by, made_at, changed_at, shape_width, shape_height, shape_fit)
		VALUES (:request_id, :wish_id, :kind, :part_name, :op, :before_html, :after_html, :before_words, :after_words, :made_from, :say, :made_by, :made_at, :changed_at, :shape_width, :shape_height, :shape_fit)`, c)
	if err != nil {
		return 0, err
	}
	_, err = q.do(ctx, `INSERT INTO change_page (change_id, page_id, request_id, state) VALUES (?, ?, ?, 'kept')`, id, c.PageID, c.RequestID)
	return id, err
}

// RewriteChange keeps a newer wording of a change that is not live yet.
func (q Queries) RewriteChange(ctx context.Context, c Change) error {
	return q.one(ctx, `UPDATE page_change SET part_name = ?, op = ?, after_html = ?, after_words = ?, made_from = ?, say = ?, wish_id = ?, changed_at = ?, shape_width = ?, shape_height = ?, shape_fit = ?
		WHERE id = ? AND NOT EXISTS (SELECT 1 FROM change_page WHERE change_id = page_change.id AND state <> 'kept')`,
		c.PartName, c.Op, c.AfterHTML, c.AfterWords, c.MadeFrom, c.Say, c.WishID, c.ChangedAt, c.ShapeWidth, c.ShapeHeight, c.ShapeFit, c.ID)
}

// AimChange keeps the operations of a change that is not live yet with other targets.
func (q Queries) AimChange(ctx context.Context, id int64, op string, at time.Time) error {
	return q.one(ctx, `UPDATE page_change SET op = ?, changed_at = ?
		WHERE id = ? AND NOT EXISTS (SELECT 1 FROM change_page WHERE change_id = page_change.id AND state <> 'kept')`, op, at, id)
}

// SetLeftWhy notes why the old words of a change stay in other places.
func (q Queries) SetLeftWhy(ctx context.Context, id int64, why string) error {
	return q.one(ctx, `UPDATE page_change SET left_why = ? WHERE id = ?`, why, id)
}

const (
	changeColumns = `h.*, n.page_id, n.state, n.release_id`
	changes       = `FROM change_page n JOIN page_change h ON h.id = n.change_id`
	changeRows    = `SELECT ` + changeColumns + `, p.address, p.title, o.name made_name ` + changes + ` JOIN page p ON p.id = n.page_id JOIN person o ON o.id = h.made_by`
)

// Thread lists the changes of a request in order, without those that were dropped before they went live.
func (q Queries) Thread(ctx context.Context, request int64) (cs []ChangeRow, err error) {
	return cs, q.all(ctx, &cs, changeRows+` WHERE n.request_id = ? AND n.state <> 'dropped' ORDER BY h.id`, request)
}

// DraftOn lists the changes that make a request's draft of a page, in order: those that a release carries, and those that
// are kept.
func (q Queries) DraftOn(ctx context.Context, request, page int64) (cs []Change, err error) {
	return cs, q.all(ctx, &cs, `SELECT `+changeColumns+` `+changes+` WHERE n.request_id = ? AND n.page_id = ? AND n.state IN ('kept', 'going') ORDER BY h.id`, request, page)
}

// CarriedOn lists the changes of a page that a release carried and that are live, in order.
func (q Queries) CarriedOn(ctx context.Context, release, page int64) (cs []Change, err error) {
	return cs, q.all(ctx, &cs, `SELECT `+changeColumns+` `+changes+` WHERE n.release_id = ? AND n.page_id = ? AND n.state IN ('live', 'sure') ORDER BY h.id`, release, page)
}

// DraftMark tells whether a change of a draft is still what it was.
type DraftMark struct {
	ID        int64     `db:"id"`
	ChangedAt time.Time `db:"changed_at"`
	State     string    `db:"state"`
}

// DraftMarks are what a draft is made of: the hash of its page, held against others until the transaction ends, and its
// changes in order.
func (q Queries) DraftMarks(ctx context.Context, request, page int64) (hash string, ms []DraftMark, err error) {
	if err := q.get(ctx, &hash, `SELECT hash FROM page WHERE id = ? LOCK IN SHARE MODE`, page); err != nil {
		return "", nil, err
	}
	return hash, ms, q.all(ctx, &ms, `SELECT h.id, h.changed_at, n.state `+changes+`
		WHERE n.request_id = ? AND n.page_id = ? AND n.state IN ('kept', 'going') ORDER BY h.id`, request, page)
}

// DraftPages lists the pages that a request has a draft of.
func (q Queries) DraftPages(ctx context.Context, request int64) (ids []int64, err error) {
	return ids, q.all(ctx, &ids, `SELECT DISTINCT page_id FROM change_page WHERE request_id = ? AND state IN ('kept', 'going') ORDER BY page_id`, request)
}

// Change finds a change by key, with one of the pages that it stands on.
func (q Queries) Change(ctx context.Context, id int64) (c Change, err error) {
	return c, q.get(ctx, &c, `SELECT `+changeColumns+` `+changes+` WHERE h.id = ? ORDER BY n.page_id LIMIT 1`, id)
}

// DropChange takes a change that is kept out of the draft, on every page. The error is ErrNone where it is not kept.
func (q Queries) DropChange(ctx context.Context, id int64) error {
	return q.one(ctx, `UPDATE change_page SET state = 'dropped' WHERE change_id = ? AND state = 'kept'`, id)
}

// CarryChange gives a kept change of a page to a release. The error is ErrNone where it is not kept.
func (q Queries) CarryChange(ctx context.Context, id, page, release int64) error {
	return q.one(ctx, `UPDATE change_page SET state = 'going', release_id = ? WHERE change_id = ? AND page_id = ? AND state = 'kept'`, release, id, page)
}

// SetReleaseChanges moves all changes of a release.
func (q Queries) SetReleaseChanges(ctx context.Context, release int64, from, to string) error {
	_, err := q.do(ctx, `UPDATE change_page SET state = ? WHERE release_id = ? AND state = ?`, to, release, from)
	return err
}

// SetPageChanges moves the changes of a release on one page.
func (q Queries) SetPageChanges(ctx context.Context, release, page int64, from, to string) error {
	_, err := q.do(ctx, `UPDATE change_page SET state = ? WHERE release_id = ? AND page_id = ? AND state = ?`, to, release, page, from)
	return err
}

// KeptNotLive counts the changes that are kept and not live, over all requests, with those that are going out.
func (q Queries) KeptNotLive(ctx context.Context) (n int, err error) {
	return n, q.get(ctx, &n, `SELECT COUNT(DISTINCT change_id) FROM change_page WHERE state IN ('kept', 'going')`)
}

// ChangesSaid are the changes that a release carries, in words.
func (q Queries) ChangesSaid(ctx context.Context, release int64) (says []string, err error) {
	return says, q.all(ctx, &says, `SELECT DISTINCT c.say FROM page_change c JOIN change_page h ON h.change_id = c.id WHERE h.release_id = ? ORDER BY c.id`, release)
}
