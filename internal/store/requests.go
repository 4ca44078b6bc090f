package store

import (
	"context"
	"time"

	"mendry/internal/core/request"
)

// Request is what a client asks for in one letter or call. Its key is its number.
type Request struct {
	ID         int64      `db:"id"`
	SiteID     int64      `db:"site_id"`
	Subject    string     `db:"subject"`
	Letter     string     `db:"letter"`
	Kind       string     `db:"kind"`
	FromName   string     `db:"from_name"`
	State      string     `db:"state"`
	DueOn      *time.Time `db:"due_on"`
	ReceivedAt time.Time  `db:"received_at"`
	CreatedBy  int64      `db:"created_by"`
	SignedName string     `db:"signed_name"`
	SignedAt   *time.Time `db:"signed_at"`
}

// OpenRequest is a request whose pages can be changed.
type OpenRequest struct {
	ID     int64 `db:"id"`
	SiteID int64 `db:"site_id"`
}

// OpenRequests lists the requests that are being worked on, the newest first.
func (q Queries) OpenRequests(ctx context.Context) (rs []OpenRequest, err error) {
	return rs, q.all(ctx, &rs, `SELECT id, site_id FROM request WHERE state IN ('new', 'placed', 'in hand', 'with client', 'cleared') ORDER BY id DESC`)
}

// RequestRow is a request as a list shows it.
type RequestRow struct {
	Request
	SiteName  string     `db:"site_name"`
	PublicURL string     `db:"public_url"`
	Initials  string     `db:"initials"`
	Colour    string     `db:"colour"`
	ClientID  int64      `db:"client_id"`
	Pictures  int        `db:"pictures"`
	Wishes    int        `db:"wishes"`
	Placed    int        `db:"placed"`
	OpenWish  int        `db:"open_wishes"`
	Kept      int        `db:"kept"`
	Going     int        `db:"going"` // changes that a release carries
	Live      int        `db:"live"`
	Round     int        `db:"round"`
	OpenedAt  *time.Time `db:"opened_at"`
	RoundSent *time.Time `db:"round_sent"`
	Answered  *time.Time `db:"answered_at"`
	MayClear  bool       `db:"may_clear"`
}

// Wish is one phrase of a request that asks for one thing. Its offsets count UTF-16 units of the letter, as browsers
// do.
type Wish struct {
	ID         int64  `db:"id"`
	RequestID  int64  `db:"request_id"`
	StartAt    int    `db:"start_at"`
	EndAt      int    `db:"end_at"`
	Words      string `db:"words"`
	State      string `db:"state"`
	Why        string `db:"why"`
	PageID     *int64 `db:"page_id"`
	PartName   string `db:"part_name"`
	PartTarget string `db:"part_target"`
}

// Attachment is a file that came with a request.
type Attachment struct {
	ID        int64  `db:"id"`
	RequestID int64  `db:"request_id"`
	Name      string `db:"name"`
	Media     string `db:"media"`
	Width     int    `db:"width"`
	Height    int    `db:"height"`
	Size      int64  `db:"size"`
	Hash      string `db:"hash"` // of its bytes
}

// AddRequest takes in a request and returns its number.
func (q Queries) AddRequest(ctx context.Context, r Request) (int64, error) {
	return q.add(ctx, `INSERT INTO request (site_id, subject, letter, kind, from_name, state, due_on, received_at, created_by)
		VALUES (:site_id, :subject, :letter, :kind, :from_name, :state, :due_on, :received_at, :created_by)`, r)
}

const requestRows = `SELECT r.*, s.name site_name, s.public_url, s.initials, s.colour, s.client_id, c.may_clear,
	(SELECT COUNT(*) FROM attachment a WHERE a.request_id = r.id) pictures,
	(SELECT COUNT(*) FROM wish w WHERE w.request_id = r.id) wishes,
	(SELECT COUNT(*) FROM wish w WHERE w.request_id = r.id AND w.page_id IS NOT NULL) placed,
	(SELECT COUNT(*) FROM wish w WHERE w.request_id = r.id AND w.state = 'open') open_wishes,
	(SELECT COUNT(DISTINCT h.change_id) FROM change_page h WHERE h.request_id = r.id AND h.state = 'kept') kept,
	(SELECT COUNT(DISTINCT h.change_id) FROM change_page h WHERE h.request_id = r.id AND h.state = 'going') going,
	(SELECT COUNT(DISTINCT h.change_id) FROM change_page h WHERE h.request_id = r.id AND h.state IN ('live', 'sure')) live,
	(SELECT COALESCE(MAX(o.n), 0) FROM proof_round o WHERE o.request_id = r.id) round,
	(SELECT o.opened_at FROM proof_round o WHERE o.request_id = r.id ORDER BY o.n DESC LIMIT 1) opened_at,
	(SELECT o.sent_at FROM proof_round o WHERE o.request_id = r.id ORDER BY o.n DESC LIMIT 1) round_sent,
	(SELECT IF(o.sent_to = '', NULL, o.answered_at) FROM proof_round o WHERE o.request_id = r.id ORDER BY o.n DESC LIMIT 1) answered_at
	FROM request r JOIN site s ON s.id = r.site_id JOIN client c ON c.id = s.client_id`

// byDue is the order of the work: those due first at the top, those without a day at the end.
const byDue = ` ORDER BY due_on IS NULL, due_on, id`

// RequestsIn lists the requests in some states, those due first at the top; no more than most.
func (q Queries) RequestsIn(ctx context.Context, states []string, most int) (rs []RequestRow, err error) {
	return rs, q.in(ctx, &rs, `WITH first AS (SELECT id first_id FROM request WHERE state IN (?)`+byDue+` LIMIT ?) `+requestRows+
		` JOIN first ON first.first_id = r.id ORDER BY r.due_on IS NULL, r.due_on, r.id`, states, most)
}

// RequestsOf lists the requests of a site: all that are open, those due first at the top, and the newest of the
// others.
func (q Queries) RequestsOf(ctx context.Context, site int64, ended int) (rs []RequestRow, err error) {
	return rs, q.all(ctx, &rs, `WITH some AS (
		SELECT id some_id, 0 ended FROM request WHERE site_id = ? AND state NOT IN ('signed off', 'declined') UNION ALL
		(SELECT id, 1 FROM request WHERE site_id = ? AND state IN ('signed off', 'declined') ORDER BY id DESC LIMIT ?)) `+requestRows+
		` JOIN some ON some.some_id = r.id ORDER BY some.ended, IF(some.ended, NULL, r.due_on IS NULL), IF(some.ended, NULL, r.due_on), IF(some.ended, -r.id, r.id)`, site, site, ended)
}

// StateCount is how many requests are in a state, and on how many sites.
type StateCount struct {
	State string `db:"state"`
	N     int    `db:"n"`
}

// CountStates counts the requests that are neither signed off nor declined by their states, and the sites that they
// are on.
func (q Queries) CountStates(ctx context.Context) (cs []StateCount, sites int, err error) {
	if err := q.all(ctx, &cs, `SELECT state, COUNT(*) n FROM request WHERE state NOT IN ('signed off', 'declined') GROUP BY state`); err != nil {
		return nil, 0, err
	}
	return cs, sites, q.get(ctx, &sites, `SELECT COUNT(DISTINCT site_id) FROM request WHERE state NOT IN ('signed off', 'declined')`)
}

// DueRow is a request that is due.
type DueRow struct {
	ID       int64     `db:"id"`
	SiteID   int64     `db:"site_id"`
	SiteName string    `db:"site_name"`
	Initials string    `db:"initials"`
	Colour   string    `db:"colour"`
	Subject  string    `db:"subject"`
	State    string    `db:"state"`
	DueOn    time.Time `db:"due_on"`
}

// DueBy lists the open requests that are due by a day, the first at the top; no more than most.
func (q Queries) DueBy(ctx context.Context, day time.Time, most int) (rs []DueRow, err error) {
	return rs, q.all(ctx, &rs, `SELECT r.id, r.site_id, s.name site_name, s.initials, s.colour, r.subject, r.state, r.due_on FROM request r JOIN site s ON s.id = r.site_id
		WHERE r.due_on <= ? AND r.state NOT IN ('signed off', 'declined') ORDER BY r.due_on, r.id LIMIT ?`, day, most)
}

// RequestRow finds one request by its number.
func (q Queries) RequestRow(ctx context.Context, id int64) (r RequestRow, err error) {
	return r, q.get(ctx, &r, requestRows+` WHERE r.id = ?`, id)
}

// LockRequest holds a request against others until the transaction ends.
func (q Queries) LockRequest(ctx context.Context, id int64) error {
	var got int64
	return q.get(ctx, &got, `SELECT id FROM request WHERE id = ? FOR UPDATE`, id)
}

// RequestFacts are what the rules for moving a request look at, with the request. The error is ErrNone where there is
// none.
func (q Queries) RequestFacts(ctx context.Context, number int64) (request.Facts, RequestRow, error) {
	r, err := q.RequestRow(ctx, number)
	if err != nil {
		return request.Facts{}, r, err
	}
	f := request.Facts{
		State: request.State(r.State), Wishes: r.Wishes, Placed: r.Placed, Open: r.OpenWish, Kept: r.Kept, Going: r.Going, Live: r.Live,
		Signed: r.SignedAt != nil, MayClear: r.MayClear,
	}
	var said []struct {
		Verdict string `db:"verdict"`
		N       int    `db:"n"`
	}
	err = q.all(ctx, &said, `SELECT verdict, COUNT(*) n FROM round_change
		WHERE round_id = (SELECT id FROM proof_round WHERE request_id = ? ORDER BY n DESC LIMIT 1) GROUP BY verdict`, number)
	for _, v := range said {
		switch v.Verdict {
		case "right":
			f.Right = v.N
		case "not yet":
			f.NotYet = v.N
		}
	}
	return f, r, err
}

// MoveRequest moves a request, if the rules allow it; f are its facts, read in this transaction. The error is a
// refusal where they do not.
func (q Queries) MoveRequest(ctx context.Context, number int64, f request.Facts, to request.State, by request.By) error {
	if err := request.Move(f, to, by); err != nil || f.State == to {
		return err
	}
	return q.one(ctx, `UPDATE request SET state = ? WHERE id = ?`, string(to), number)
}

// SignRequest keeps the client's signature.
func (q Queries) SignRequest(ctx context.Context, id int64, name string, at time.Time) error {
	return q.one(ctx, `UPDATE request SET signed_name = ?, signed_at = ? WHERE id = ?`, name, at, id)
}

// UnsignRequest takes a signature back that no longer speaks of what would be published.
func (q Queries) UnsignRequest(ctx context.Context, id int64) error {
	return q.one(ctx, `UPDATE request SET signed_name = '', signed_at = NULL WHERE id = ?`, id)
}

// AddAttachment keeps a file that came with a request.
func (q Queries) AddAttachment(ctx context.Context, a Attachment) (int64, error) {
	return q.add(ctx, `INSERT INTO attachment (request_id, name, media, width, height, size, hash)
		VALUES (:request_id, :name, :media, :width, :height, :size, :hash)`, a)
}

// Attachments lists the files of a request.
func (q Queries) Attachments(ctx context.Context, request int64) (as []Attachment, err error) {
	return as, q.all(ctx, &as, `SELECT * FROM attachment WHERE request_id = ? ORDER BY id`, request)
}

// Attachment finds a file by key.
func (q Queries) Attachment(ctx context.Context, id int64) (a Attachment, err error) {
	return a, q.get(ctx, &a, `SELECT * FROM attachment WHERE id = ?`, id)
}

// AddWish marks a wish.
func (q Queries) AddWish(ctx context.Context, w Wish) (int64, error) {
	return q.add(ctx, `INSERT INTO wish (request_id, start_at, end_at, words, state, why) VALUES (:request_id, :start_at, :end_at, :words, :state, :why)`, w)
}

// Wishes lists the wishes of a request in the order of the letter.
func (q Queries) Wishes(ctx context.Context, request int64) (ws []Wish, err error) {
	return ws, q.all(ctx, &ws, `SELECT * FROM wish WHERE request_id = ? ORDER BY start_at, id`, request)
}

// Wish finds a wish of a request.
func (q Queries) Wish(ctx context.Context, request, id int64) (w Wish, err error) {
	return w, q.get(ctx, &w, `SELECT * FROM wish WHERE request_id = ? AND id = ?`, request, id)
}

// SetWish keeps the state and the place of a wish.
func (q Queries) SetWish(ctx context.Context, w Wish) error {
	return q.one(ctx, `UPDATE wish SET state = ?, why = ?, page_id = ?, part_name = ?, part_target = ? WHERE id = ? AND request_id = ?`,
		w.State, w.Why, w.PageID, w.PartName, w.PartTarget, w.ID, w.RequestID)
}

// DropWish takes a mark out of the letter.
func (q Queries) DropWish(ctx context.Context, request, id int64) error {
	return q.one(ctx, `DELETE FROM wish WHERE request_id = ? AND id = ?`, request, id)
}
