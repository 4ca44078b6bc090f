package store

import (
	"context"
	"time"
)

// ChangeOn finds a change as it stands on one of its pages.
func (q Queries) ChangeOn(ctx context.Context, id, page int64) (c Change, err error) {
	return c, q.get(ctx, &c, `SELECT `+changeColumns+` `+changes+` WHERE h.id = ? AND n.page_id = ?`, id, page)
}

// PagesSharing lists the pages of a site that have a shared part of this print and can be changed, but for one.
func (q Queries) PagesSharing(ctx context.Context, site int64, print string, but int64) (ids []int64, err error) {
	return ids, q.all(ctx, &ids, `SELECT p.id FROM shared_part s JOIN page p ON p.id = s.page_id
		WHERE s.site_id = ? AND s.print = ? AND p.gone_at IS NULL AND p.locked = '' AND p.id <> ? ORDER BY p.id`, site, print, but)
}

// PagesCarrying lists the pages, but for one, on which a change is live.
func (q Queries) PagesCarrying(ctx context.Context, change, but int64) (ids []int64, err error) {
	return ids, q.all(ctx, &ids, `SELECT page_id FROM change_page WHERE change_id = ? AND page_id <> ? AND state IN ('live', 'sure') ORDER BY page_id`, change, but)
}

// AddChangePages puts a change on other pages, where what it does is still to be made.
func (q Queries) AddChangePages(ctx context.Context, id, request int64, pages []int64) error {
	var rows []any
	for _, p := range pages {
		rows = append(rows, id, p, request)
	}
	return q.fill(ctx, `INSERT INTO change_page (change_id, page_id, request_id, state, leads) VALUES `, "(?,?,?,'kept',0)", rows)
}

// AddComers puts a change on the pages that have its shared part and have come since it was made.
func (q Queries) AddComers(ctx context.Context, c Change, site int64) error {
	_, err := q.do(ctx, `INSERT IGNORE INTO change_page (change_id, page_id, request_id, state, leads)
		SELECT ?, p.id, ?, 'kept', 0 FROM shared_part s JOIN page p ON p.id = s.page_id
		WHERE s.site_id = ? AND s.print = ? AND p.gone_at IS NULL AND p.locked = ''
		AND NOT EXISTS (SELECT 1 FROM change_page n WHERE n.change_id = ? AND n.page_id = p.id)`, c.ID, c.RequestID, site, c.Everywhere, c.ID)
	return err
}

// DropGone takes a change off pages that are gone from the host. One that comes back gets it again.
func (q Queries) DropGone(ctx context.Context, c Change) error {
	_, err := q.do(ctx, `DELETE n FROM change_page n JOIN page p ON p.id = n.page_id
		WHERE n.change_id = ? AND NOT n.leads AND n.state IN ('kept', 'left') AND p.gone_at IS NOT NULL`, c.ID)
	return err
}

// SetEverywhere makes a kept change one of all pages that have a shared part of this print, or of its own page alone.
func (q Queries) SetEverywhere(ctx context.Context, id int64, print *string) error {
	if _, err := q.do(ctx, `DELETE FROM change_page WHERE change_id = ? AND NOT leads`, id); err != nil {
		return err
	}
	_, err := q.do(ctx, `UPDATE page_change SET everywhere = ? WHERE id = ?`, print, id)
	if err == nil {
		_, err = q.do(ctx, `UPDATE change_page SET chosen = 0 WHERE change_id = ? AND leads`, id)
	}
	return err
}

// LeavePage notes that a change is not made on a page that has another part in the place of the shared one. A page
// that it stands on already stays as it is.
func (q Queries) LeavePage(ctx context.Context, c Change, page int64, why string) error {
	_, err := q.do(ctx, `INSERT IGNORE INTO change_page (change_id, page_id, request_id, state, leads, why, made_for) VALUES (?, ?, ?, 'left', 0, ?, ?)`,
		c.ID, page, c.RequestID, why, c.ChangedAt)
	return err
}

// DifferingFound notes that the pages which have another part in the place of the one that a change is about are
// known.
func (q Queries) DifferingFound(ctx context.Context, id, page int64) error {
	return q.one(ctx, `UPDATE change_page SET chosen = 1 WHERE change_id = ? AND page_id = ? AND leads AND NOT chosen`, id, page)
}

// MadeHere keeps what a change does on a page that it does not lead: its operations, or why the page is left.
func (q Queries) MadeHere(ctx context.Context, c Change) error {
	return q.one(ctx, `UPDATE change_page SET op = ?, state = ?, why = ?, made_for = ?, made_on = ?
		WHERE change_id = ? AND page_id = ? AND NOT leads AND state IN ('kept', 'left')`,
		c.Op, c.State, c.Why, c.MadeFor, c.MadeOn, c.ID, c.PageID)
}

// FollowShared notes that the part which a change is about is known by another print, since others changed it: what
// was said of it holds on.
func (q Queries) FollowShared(ctx context.Context, c Change, print string) error {
	if _, err := q.do(ctx, `INSERT IGNORE INTO shared_choice (request_id, print, everywhere, chosen_by, chosen_at)
		SELECT request_id, ?, everywhere, chosen_by, chosen_at FROM shared_choice WHERE request_id = ? AND print = ?`, print, c.RequestID, c.Everywhere); err != nil {
		return err
	}
	_, err := q.do(ctx, `UPDATE page_change SET everywhere = ? WHERE id = ?`, print, c.ID)
	return err
}

// ChoosePage notes what a person says of a change on a page that it does not lead: that it is made there, or left.
func (q Queries) ChoosePage(ctx context.Context, id, page int64, state, why string) error {
	return q.one(ctx, `UPDATE change_page SET state = ?, why = ?, chosen = 1, made_for = NULL
		WHERE change_id = ? AND page_id = ? AND NOT leads AND state IN ('kept', 'left')`, state, why, id, page)
}

// MakeAnew lets what a request's changes from one on do on pages that they do not lead be made anew, also on those
// that were left since it could not be made, not since a person or the part there said so.
func (q Queries) MakeAnew(ctx context.Context, request, from int64) error {
	_, err := q.do(ctx, `UPDATE change_page SET made_for = NULL, state = 'kept' WHERE request_id = ? AND NOT leads AND (
		state = 'kept' AND change_id > ? AND made_for IS NOT NULL OR state = 'left' AND change_id >= ? AND NOT chosen AND made_on <> '')`, request, from, from)
	return err
}

// again are changes that were left on a page by nobody's word: they could not be made there.
const again = `NOT n.leads AND n.state = 'left' AND NOT n.chosen AND n.made_on <> ''`

const stale = `(NOT n.leads AND n.state = 'kept' AND (n.made_for IS NULL OR n.made_for <> h.changed_at OR n.made_on <> p.hash)
	OR ` + again + ` AND n.made_on <> p.hash)`

// StalePages lists pages on which what a request's changes do is still to be made, at most so many, and how many there
// are.
func (q Queries) StalePages(ctx context.Context, request int64, most int) (ids []int64, of int, err error) {
	from := changes + ` JOIN page p ON p.id = n.page_id WHERE n.request_id = ? AND ` + stale
	if err = q.get(ctx, &of, `SELECT COUNT(DISTINCT n.page_id) `+from, request); err != nil || of == 0 {
		return nil, of, err
	}
	return ids, of, q.all(ctx, &ids, `SELECT DISTINCT n.page_id `+from+` ORDER BY n.page_id LIMIT ?`, request, most)
}

// Spreads lists the changes of a request that are kept and stand on all pages, as they stand where they were made.
func (q Queries) Spreads(ctx context.Context, request int64) (cs []Change, err error) {
	return cs, q.all(ctx, &cs, `SELECT `+changeColumns+` `+changes+` WHERE n.request_id = ? AND n.leads AND h.everywhere IS NOT NULL AND n.state = 'kept' ORDER BY h.id`, request)
}

// OtherPage is a page that a change stands on, or is left on, without leading it.
type OtherPage struct {
	PageID  int64  `db:"page_id"`
	Address string `db:"address"`
	Title   string `db:"title"`
	State   string `db:"state"`
	Why     string `db:"why"`
	Chosen  bool   `db:"chosen"`
	Stale   bool   `db:"stale"`
	Failed  bool   `db:"failed"` // it is left since the change could not be made there
}

// OtherPages lists the pages that a change stands on, or is left on, but for the one that it leads.
func (q Queries) OtherPages(ctx context.Context, id int64) (ps []OtherPage, err error) {
	return ps, q.all(ctx, &ps, `SELECT n.page_id, p.address, p.title, n.state, n.why, n.chosen, `+stale+` stale, `+again+` failed `+changes+`
		JOIN page p ON p.id = n.page_id WHERE h.id = ? AND NOT n.leads AND n.state <> 'dropped' ORDER BY p.address`, id)
}

// LedPages lists the pages on which a request has changes that they lead, kept or going out.
func (q Queries) LedPages(ctx context.Context, request int64) (ids []int64, err error) {
	return ids, q.all(ctx, &ids, `SELECT DISTINCT page_id FROM change_page WHERE request_id = ? AND leads AND state IN ('kept', 'going')`, request)
}

// SharedChoice is what was said of a shared part in a request: whether it is changed on all pages. The error is
// ErrNone where it was not asked yet.
func (q Queries) SharedChoice(ctx context.Context, request int64, print string) (everywhere bool, err error) {
	return everywhere, q.get(ctx, &everywhere, `SELECT everywhere FROM shared_choice WHERE request_id = ? AND print = ?`, request, print)
}

// SharedChoices are all that was said of shared parts in a request, by their prints.
func (q Queries) SharedChoices(ctx context.Context, request int64) (map[string]bool, error) {
	var rows []struct {
		Print      string `db:"print"`
		Everywhere bool   `db:"everywhere"`
	}
	err := q.all(ctx, &rows, `SELECT print, everywhere FROM shared_choice WHERE request_id = ?`, request)
	all := map[string]bool{}
	for _, r := range rows {
		all[r.Print] = r.Everywhere
	}
	return all, err
}

// SetSharedChoice keeps what is said of a shared part.
func (q Queries) SetSharedChoice(ctx context.Context, request int64, print string, everywhere bool, by int64, at time.Time) error {
	_, err := q.do(ctx, `INSERT INTO shared_choice (request_id, print, everywhere, chosen_by, chosen_at) VALUES (?, ?, ?, ?, ?)
		ON DUPLICATE KEY UPDATE everywhere = VALUES(everywhere), chosen_by = VALUES(chosen_by), chosen_at = VALUES(chosen_at)`, request, print, everywhere, by, at)
	return err
}

// MarksOn are what the drafts of some pages are made of: the hashes of the pages, held against others until the
// transaction ends, and their changes in order, by page.
func (q Queries) MarksOn(ctx context.Context, request int64, pages []int64) (map[int64]string, map[int64][]DraftMark, error) {
	hashes, marks := map[int64]string{}, map[int64][]DraftMark{}
	var rows []struct {
		ID   int64  `db:"id"`
		Hash string `db:"hash"`
	}
	if err := q.in(ctx, &rows, `SELECT id, hash FROM page WHERE id IN (?) ORDER BY id LOCK IN SHARE MODE`, pages); err != nil {
		return nil, nil, err
	}
	for _, r := range rows {
		hashes[r.ID] = r.Hash
	}
	var all []struct {
		DraftMark
		PageID int64 `db:"page_id"`
	}
	err := q.all(ctx, &all, `SELECT n.page_id, h.id, h.changed_at, n.state `+changes+`
		WHERE n.request_id = ? AND n.state IN ('kept', 'going') ORDER BY h.id`, request)
	for _, m := range all {
		marks[m.PageID] = append(marks[m.PageID], m.DraftMark)
	}
	return hashes, marks, err
}
