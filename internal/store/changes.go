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
	Hides       bool      `db:"hides"`     // it takes a part out whose place is remembered
	Shows       *int64    `db:"shows"`     // the change that had hidden what it brings back

	// Of a change of a shared part on all pages, see everywhere.go.
	Everywhere *string    `db:"everywhere"` // the print of the shared part; nil for a change of one page
	TakesBack  *int64     `db:"takes_back"` // the change that it takes back
	Leads      bool       `db:"leads"`      // the page is the one where it was made
	MadeFor    *time.Time `db:"made_for"`   // the change as it was changed then is what Op does on this page; nil where Op is to be made
	MadeOn     string     `db:"made_on"`    // the hash of this page's bytes that Op was made for
	Why        string     `db:"why"`        // this page is left
	Chosen     bool       `db:"chosen"`     // a person said that it is made here, or left
	Out        bool       `db:"went_out"`   // it went out on some of its pages
}

// Stale reports whether what the change does on its page is still to be made.
func (c Change) Stale(hash string) bool {
	switch {
	case c.Leads || c.State == "going":
		return false
	case c.State == "left": // it could not be made on the page as it was
		return !c.Chosen && c.MadeOn != "" && c.MadeOn != hash
	}
	return c.MadeFor == nil || !c.MadeFor.Equal(c.ChangedAt) || c.MadeOn != hash
}

// ChangeRow is a change with the page that it is on.
type ChangeRow struct {
	Change
	Address string `db:"address"`
	Title   string `db:"title"`
	MadeOf  string `db:"made_name"`
	OnPages int    `db:"on_pages"` // that it is made on
	LeftOn  int    `db:"left_on"`  // pages with the part on which it is not
}

// AddChange logs a change of one page.
func (q Queries) AddChange(ctx context.Context, c Change) (int64, error) {
	id, err := q.add(ctx, `INSERT INTO page_change (request_id, wish_id, kind, part_name, op, before_html, after_html, before_words, after_words, made_from, say, made_by, made_at, changed_at, shape_width, shape_height, shape_fit, hides, shows, everywhere, takes_back)
		VALUES (:request_id, :wish_id, :kind, :part_name, :op, :before_html, :after_html, :before_words, :after_words, :made_from, :say, :made_by, :made_at, :changed_at, :shape_width, :shape_height, :shape_fit, :hides, :shows, :everywhere, :takes_back)`, c)
	if err != nil {
		return 0, err
	}
	_, err = q.do(ctx, `INSERT INTO change_page (change_id, page_id, request_id, state) VALUES (?, ?, ?, 'kept')`, id, c.PageID, c.RequestID)
	return id, err
}

// RewriteChange keeps a newer wording of a change that is not live yet.
func (q Queries) RewriteChange(ctx context.Context, c Change) error {
	return q.one(ctx, `UPDATE page_change SET part_name = ?, op = ?, after_html = ?, after_words = ?, made_from = ?, say = ?, wish_id = ?, changed_at = ?, shape_width = ?, shape_height = ?, shape_fit = ?
		WHERE id = ? AND NOT EXISTS (SELECT 1 FROM change_page WHERE change_id = page_change.id AND state NOT IN ('kept', 'left'))`,
		c.PartName, c.Op, c.AfterHTML, c.AfterWords, c.MadeFrom, c.Say, c.WishID, c.ChangedAt, c.ShapeWidth, c.ShapeHeight, c.ShapeFit, c.ID)
}

// AimChange keeps what a change that is not live yet does on a page with other targets.
func (q Queries) AimChange(ctx context.Context, id, page int64, op string, at time.Time) error {
	n, err := q.do(ctx, `UPDATE change_page SET op = ? WHERE change_id = ? AND page_id = ? AND leads = 0 AND state = 'kept'`, op, id, page)
	if err != nil || n > 0 {
		return err
	}
	return q.one(ctx, `UPDATE page_change SET op = ?, changed_at = ?
		WHERE id = ? AND NOT EXISTS (SELECT 1 FROM change_page WHERE change_id = page_change.id AND state NOT IN ('kept', 'left'))`, op, at, id)
}

// SetLeftWhy notes why the old words of a change stay in other places.
func (q Queries) SetLeftWhy(ctx context.Context, id int64, why string) error {
	return q.one(ctx, `UPDATE page_change SET left_why = ? WHERE id = ?`, why, id)
}

const (
	changeColumns = `h.*, COALESCE(n.op, h.op) op, n.page_id, n.state, n.release_id, n.leads, n.made_for, n.made_on, n.why, n.chosen,
		EXISTS (SELECT 1 FROM change_page o WHERE o.change_id = h.id AND h.everywhere IS NOT NULL AND o.state IN ('going', 'live', 'sure')) went_out`
	changes    = `FROM change_page n JOIN page_change h ON h.id = n.change_id`
	changeRows = `SELECT ` + changeColumns + `, p.address, p.title, o.name made_name,
		(SELECT COUNT(*) FROM change_page m WHERE m.change_id = h.id AND m.state NOT IN ('dropped', 'left')) on_pages,
		(SELECT COUNT(*) FROM change_page m WHERE m.change_id = h.id AND m.state = 'left') left_on ` + changes + ` JOIN page p ON p.id = n.page_id JOIN person o ON o.id = h.made_by`
)

// Thread lists the changes of a request in order, without those that were dropped before they went live.
func (q Queries) Thread(ctx context.Context, request int64) (cs []ChangeRow, err error) {
	return cs, q.all(ctx, &cs, changeRows+` WHERE n.request_id = ? AND n.leads AND n.state <> 'dropped' ORDER BY h.id`, request)
}

// DraftOn lists the changes that make a request's draft of a page, in order: those that a release carries, and those
// that are kept; and those that are left since they could not be made on the page as it was, which is another now.
func (q Queries) DraftOn(ctx context.Context, request, page int64) (cs []Change, err error) {
	return cs, q.all(ctx, &cs, `SELECT `+changeColumns+` `+changes+` WHERE n.request_id = ? AND n.page_id = ?
		AND (n.state IN ('kept', 'going') OR `+again+` AND n.made_on <> (SELECT hash FROM page WHERE id = n.page_id)) ORDER BY h.id`, request, page)
}

// CarriedOn lists the changes of a page that a release carried and that are live, in order.
func (q Queries) CarriedOn(ctx context.Context, release, page int64) (cs []Change, err error) {
	return cs, q.all(ctx, &cs, `SELECT `+changeColumns+` `+changes+` WHERE n.release_id = ? AND n.page_id = ? AND n.state IN ('live', 'sure') ORDER BY h.id`, release, page)
}

// Hidden lists the changes by which parts of a page are hidden, as a request's draft of it has them: those that are
// live, and its own that are kept.
func (q Queries) Hidden(ctx context.Context, request, page int64) (cs []ChangeRow, err error) {
	return cs, q.all(ctx, &cs, changeRows+` WHERE n.page_id = ? AND h.hides = 1 AND (n.state IN ('live', 'sure') OR n.request_id = ? AND n.state IN ('kept', 'going'))
		AND NOT EXISTS (SELECT 1 FROM page_change s JOIN change_page m ON m.change_id = s.id AND m.page_id = n.page_id
			WHERE s.shows = h.id AND (m.state IN ('live', 'sure') OR m.request_id = ? AND m.state IN ('kept', 'going'))) ORDER BY h.id`, page, request, request)
}

// DraftMark tells whether a change of a draft is still what it was.
type DraftMark struct {
	ID        int64     `db:"id"`
	ChangedAt time.Time `db:"changed_at"`
	State     string    `db:"state"`
}

// DraftMarks are what a draft is made of: the hash of its page, held against others until the transaction ends, and
// its changes in order.
func (q Queries) DraftMarks(ctx context.Context, request, page int64) (hash string, ms []DraftMark, err error) {
	if err := q.get(ctx, &hash, `SELECT hash FROM page WHERE id = ? LOCK IN SHARE MODE`, page); err != nil {
		return "", nil, err
	}
	return hash, ms, q.all(ctx, &ms, `SELECT h.id, h.changed_at, n.state `+changes+`
		WHERE n.request_id = ? AND n.page_id = ? AND n.state IN ('kept', 'going') ORDER BY h.id`, request, page)
}

// DraftMark is another one whenever DraftMarks of a page are: it is asked often, and holds nobody up.
func (q Queries) DraftMark(ctx context.Context, request, page int64) (mark string, err error) {
	return mark, q.get(ctx, &mark, `SELECT CONCAT_WS(' ', p.hash, COUNT(h.id), BIT_XOR(CRC32(CONCAT_WS(' ', h.id, h.changed_at, n.state))))
		FROM page p LEFT JOIN (change_page n JOIN page_change h ON h.id = n.change_id)
			ON n.page_id = p.id AND n.request_id = ? AND n.state IN ('kept', 'going')
		WHERE p.id = ? GROUP BY p.id`, request, page)
}

// DraftPages lists the pages that a request has a draft of.
func (q Queries) DraftPages(ctx context.Context, request int64) (ids []int64, err error) {
	return ids, q.all(ctx, &ids, `SELECT DISTINCT page_id FROM change_page WHERE request_id = ? AND state IN ('kept', 'going') ORDER BY page_id`, request)
}

// Change finds a change by key, with the page where it was made.
func (q Queries) Change(ctx context.Context, id int64) (c Change, err error) {
	return c, q.get(ctx, &c, `SELECT `+changeColumns+` `+changes+` WHERE h.id = ? AND n.leads`, id)
}

// DropChange takes a change that is kept out of the draft, on every page. The error is ErrNone where it is not kept.
func (q Queries) DropChange(ctx context.Context, id int64) error {
	return q.one(ctx, `UPDATE change_page SET state = 'dropped' WHERE change_id = ? AND state IN ('kept', 'left')`, id)
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
