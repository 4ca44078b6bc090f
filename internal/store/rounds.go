package store

import (
	"context"
	"time"
)

// Round is one showing of a proof to the client.
type Round struct {
	ID         int64      `db:"id"`
	RequestID  int64      `db:"request_id"`
	N          int        `db:"n"`
	TokenHash  string     `db:"token_hash"`
	SentTo     string     `db:"sent_to"`
	SentAt     time.Time  `db:"sent_at"`
	ExpiresAt  time.Time  `db:"expires_at"`
	OpenedAt   *time.Time `db:"opened_at"`
	AnsweredAt *time.Time `db:"answered_at"`
	SignedName string     `db:"signed_name"`
	AnsweredBy string     `db:"answered_by"`
	Carries    *int64     `db:"carries"` // the round whose clearance it carries onto pages that others edited
	RemindedAt *time.Time `db:"reminded_at"`
	More       string     `db:"more"` // one thing more that the client asked for with the answer
}

// RoundPage is what a page was in a round, by the hash of its bytes.
type RoundPage struct {
	RoundID    int64  `db:"round_id"`
	PageID     int64  `db:"page_id"`
	BeforeHash string `db:"before_hash"`
	AfterHash  string `db:"after_hash"`
}

// RoundChange is a change in a round and what the client said to it.
type RoundChange struct {
	RoundID  int64  `db:"round_id"`
	ChangeID int64  `db:"change_id"`
	N        int    `db:"n"`
	Verdict  string `db:"verdict"`
	Note     string `db:"note"`
	Place    string `db:"place"` // where it is, as the client was told
}

// LateAnswer is what came of a round that was answered, or overtaken, already. Without a change it is one thing more.
type LateAnswer struct {
	ID       int64     `db:"id"`
	RoundID  int64     `db:"round_id"`
	ChangeID *int64    `db:"change_id"`
	Verdict  string    `db:"verdict"`
	Note     string    `db:"note"`
	Name     string    `db:"name"`
	At       time.Time `db:"at"`
}

// AddLateAnswer keeps what came too late to be the answer.
func (q Queries) AddLateAnswer(ctx context.Context, a LateAnswer) error {
	_, err := q.add(ctx, `INSERT INTO late_answer (round_id, change_id, verdict, note, name, at) VALUES (:round_id, :change_id, :verdict, :note, :name, :at)`, a)
	return err
}

// LateAnswers lists what came of a round too late to be its answer.
func (q Queries) LateAnswers(ctx context.Context, round int64) (all []LateAnswer, err error) {
	return all, q.all(ctx, &all, `SELECT * FROM late_answer WHERE round_id = ? ORDER BY id`, round)
}

// AddRound opens a round.
func (q Queries) AddRound(ctx context.Context, r Round) (int64, error) {
	return q.add(ctx, `INSERT INTO proof_round (request_id, n, token_hash, sent_to, sent_at, expires_at, carries)
		VALUES (:request_id, :n, :token_hash, :sent_to, :sent_at, :expires_at, :carries)`, r)
}

// AddRoundPage notes a page of a round.
func (q Queries) AddRoundPage(ctx context.Context, p RoundPage) error {
	_, err := q.add(ctx, `INSERT INTO round_page (round_id, page_id, before_hash, after_hash) VALUES (:round_id, :page_id, :before_hash, :after_hash)`, p)
	return err
}

// AddRoundChange notes a change of a round.
func (q Queries) AddRoundChange(ctx context.Context, c RoundChange) error {
	_, err := q.add(ctx, `INSERT INTO round_change (round_id, change_id, n, verdict, note, place) VALUES (:round_id, :change_id, :n, :verdict, :note, :place)`, c)
	return err
}

// LastRound finds the newest round of a request.
func (q Queries) LastRound(ctx context.Context, request int64) (r Round, err error) {
	return r, q.get(ctx, &r, `SELECT * FROM proof_round WHERE request_id = ? ORDER BY n DESC LIMIT 1`, request)
}

// RoundByToken finds the newest round that was sent to whom a link was sent, by the hash of that link's token.
func (q Queries) RoundByToken(ctx context.Context, hash string) (r Round, err error) {
	return r, q.get(ctx, &r, `SELECT o.* FROM proof_round t JOIN proof_round o ON o.request_id = t.request_id AND o.sent_to = t.sent_to
		WHERE t.token_hash = ? ORDER BY o.n DESC LIMIT 1`, hash)
}

// Round finds a round by key.
func (q Queries) Round(ctx context.Context, id int64) (r Round, err error) {
	return r, q.get(ctx, &r, `SELECT * FROM proof_round WHERE id = ?`, id)
}

// RoundPages lists the pages of a round.
func (q Queries) RoundPages(ctx context.Context, round int64) (ps []RoundPage, err error) {
	return ps, q.all(ctx, &ps, `SELECT * FROM round_page WHERE round_id = ?`, round)
}

// RoundChanges lists the changes of a round.
func (q Queries) RoundChanges(ctx context.Context, round int64) (cs []RoundChange, err error) {
	return cs, q.all(ctx, &cs, `SELECT * FROM round_change WHERE round_id = ? ORDER BY n`, round)
}

// EarlierVerdict is what the client said to a change in the last round before one that they answered.
type EarlierVerdict struct {
	ChangeID   int64     `db:"change_id"`
	N          int       `db:"n"`
	Verdict    string    `db:"verdict"`
	Note       string    `db:"note"`
	AnsweredAt time.Time `db:"answered_at"`
	ChangedAt  time.Time `db:"changed_at"` // when the change was last reworded
}

// EarlierVerdicts lists what the client said in the rounds of a request before one, the last of each change.
func (q Queries) EarlierVerdicts(ctx context.Context, request int64, before int) (vs []EarlierVerdict, err error) {
	return vs, q.all(ctx, &vs, `SELECT c.change_id, o.n, c.verdict, c.note, o.answered_at, h.changed_at FROM round_change c
		JOIN proof_round o ON o.id = c.round_id JOIN page_change h ON h.id = c.change_id
		WHERE o.request_id = ? AND o.n < ? AND o.answered_at IS NOT NULL AND c.verdict <> '' ORDER BY o.n`, request, before)
}

// SetVerdict keeps what the client said to a change.
func (q Queries) SetVerdict(ctx context.Context, c RoundChange) error {
	return q.one(ctx, `UPDATE round_change SET verdict = ?, note = ? WHERE round_id = ? AND change_id = ?`, c.Verdict, c.Note, c.RoundID, c.ChangeID)
}

// OpenRound notes when the client first opened the link.
func (q Queries) OpenRound(ctx context.Context, id int64, at time.Time) error {
	_, err := q.do(ctx, `UPDATE proof_round SET opened_at = ? WHERE id = ? AND opened_at IS NULL`, at, id)
	return err
}

// CloseRound keeps who answered a round, the name under it where it was signed, and what more they asked for. It reports
// false where it was answered already.
func (q Queries) CloseRound(ctx context.Context, r Round, at time.Time) (bool, error) {
	n, err := q.do(ctx, `UPDATE proof_round SET answered_at = ?, answered_by = ?, signed_name = ?, more = ? WHERE id = ? AND answered_at IS NULL`,
		at, r.AnsweredBy, r.SignedName, r.More, r.ID)
	return n > 0, err
}

// RemindRound notes that the client was reminded of a round; its link holds until a day.
func (q Queries) RemindRound(ctx context.Context, id int64, at, expires time.Time) error {
	return q.one(ctx, `UPDATE proof_round SET reminded_at = ?, expires_at = ? WHERE id = ? AND answered_at IS NULL`, at, expires, id)
}

// RoundN finds a round of a request by its number.
func (q Queries) RoundN(ctx context.Context, request int64, n int) (r Round, err error) {
	return r, q.get(ctx, &r, `SELECT * FROM proof_round WHERE request_id = ? AND n = ?`, request, n)
}

// Preview is a view of a site that a frame may show for a while.
type Preview struct {
	TokenHash string    `db:"token_hash"`
	SiteID    int64     `db:"site_id"`
	RequestID *int64    `db:"request_id"`
	RoundID   *int64    `db:"round_id"`
	View      string    `db:"view"`
	Marked    bool      `db:"marked"` // parts carry their IDs, so that they can be pointed at
	ExpiresAt time.Time `db:"expires_at"`
}

// AddPreview opens a view and forgets those that expired.
func (q Queries) AddPreview(ctx context.Context, p Preview, now time.Time) error {
	q = q.quiet()
	if _, err := q.do(ctx, `DELETE FROM preview WHERE expires_at < ? LIMIT 200`, now); err != nil {
		return err
	}
	_, err := q.add(ctx, `INSERT INTO preview (token_hash, site_id, request_id, round_id, view, marked, expires_at)
		VALUES (:token_hash, :site_id, :request_id, :round_id, :view, :marked, :expires_at)`, p)
	return err
}

// Preview finds a view by the hash of its token.
func (q Queries) Preview(ctx context.Context, hash string, now time.Time) (p Preview, err error) {
	return p, q.get(ctx, &p, `SELECT * FROM preview WHERE token_hash = ? AND expires_at > ?`, hash, now)
}
