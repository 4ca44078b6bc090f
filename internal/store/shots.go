package store

import (
	"context"
	"time"
)

// ShotsState is how far the pictures of a page before and after a draft have come.
type ShotsState string

// The states.
const (
	ShotsWaiting ShotsState = "waiting"
	ShotsTaking  ShotsState = "taking"
	ShotsReady   ShotsState = "ready"
	ShotsFailed  ShotsState = "failed"
)

// ShotSet are the pictures of a page before and after a draft, at several widths.
type ShotSet struct {
	ID         int64      `db:"id"`
	RequestID  int64      `db:"request_id"`
	PageID     int64      `db:"page_id"`
	Mark       string     `db:"mark"` // which draft
	BeforeHash string     `db:"before_hash"`
	AfterHash  string     `db:"after_hash"`
	State      ShotsState `db:"state"`
	Said       string     `db:"said"` // how far it has come, or why it failed
	At         time.Time  `db:"at"`
}

// PageShot is the page at one width of the window; lengths are in points.
type PageShot struct {
	SetID        int64  `db:"set_id"`
	Width        int    `db:"width"`
	BeforePNG    string `db:"before_png"` // hash of its bytes
	AfterPNG     string `db:"after_png"`
	BeforeHeight int    `db:"before_height"`
	AfterHeight  int    `db:"after_height"`
	Regions      string `db:"regions"` // what looks different, as JSON
	Faint        string `db:"faint"`   // words that hardly stand out from the picture behind them, as JSON
	Moving       int    `db:"moving"`  // spots that move by themselves
	Cut          bool   `db:"cut"`     // the page goes on below
}

// AskShots notes that pictures of a draft are wanted; where they failed, they are taken again. It reports whether they
// are still to be taken.
func (q Queries) AskShots(ctx context.Context, l ShotSet) (wanted bool, err error) {
	_, err = q.quiet().do(ctx, `INSERT INTO shot_set (request_id, page_id, mark, before_hash, after_hash, state, said, at)
		VALUES (?, ?, ?, ?, ?, 'waiting', '', ?)
		ON DUPLICATE KEY UPDATE said = IF(state = 'failed', '', said), state = IF(state = 'failed', 'waiting', state)`,
		l.RequestID, l.PageID, l.Mark, l.BeforeHash, l.AfterHash, l.At)
	if err != nil {
		return false, err
	}
	now, err := q.ShotSet(ctx, l.RequestID, l.PageID, l.Mark)
	return now.State != ShotsReady, err
}

// ShotSet finds the pictures of a draft.
func (q Queries) ShotSet(ctx context.Context, request, page int64, mark string) (l ShotSet, err error) {
	return l, q.get(
		ctx,
		&l,
		`SELECT * FROM shot_set WHERE request_id = ? AND page_id = ? AND mark = ?`,
		request,
		page,
		mark,
	)
}

// ShownShots finds the newest pictures of what a round showed of a page.
func (q Queries) ShownShots(ctx context.Context, request int64, p RoundPage) (l ShotSet, err error) {
	return l, q.get(
		ctx,
		&l,
		`SELECT * FROM shot_set WHERE request_id = ? AND page_id = ? AND before_hash = ? AND after_hash = ? AND state = 'ready'
		ORDER BY id DESC LIMIT 1`,
		request,
		p.PageID,
		p.BeforeHash,
		p.AfterHash,
	)
}

// SayShots notes how far pictures have come.
func (q Queries) SayShots(ctx context.Context, id int64, state ShotsState, said string, at time.Time) error {
	return q.quiet().one(ctx, `UPDATE shot_set SET state = ?, said = ?, at = ? WHERE id = ?`, state, said, at, id)
}

// SetShots notes the pictures of a set, which is ready then. Those of earlier drafts of the page that no round showed
// are forgotten.
func (q Queries) SetShots(ctx context.Context, l ShotSet, shots []PageShot, at time.Time) error {
	if _, err := q.quiet().do(ctx, `DELETE FROM page_shot WHERE set_id = ?`, l.ID); err != nil {
		return err
	}
	for _, s := range shots {
		s.SetID = l.ID
		if _, err := q.quiet().add(ctx, `INSERT INTO page_shot (set_id, width, before_png, after_png, before_height, after_height, regions, faint, moving, cut)
			VALUES (:set_id, :width, :before_png, :after_png, :before_height, :after_height, :regions, :faint, :moving, :cut)`, s); err != nil {
			return err
		}
	}
	if err := q.SayShots(ctx, l.ID, ShotsReady, "", at); err != nil {
		return err
	}
	const old = `FROM shot_set WHERE request_id = ? AND page_id = ? AND id < ? AND NOT EXISTS (SELECT 1 FROM round_page p JOIN proof_round r ON r.id = p.round_id
		WHERE r.request_id = shot_set.request_id AND p.page_id = shot_set.page_id AND p.before_hash = shot_set.before_hash AND p.after_hash = shot_set.after_hash)`
	if _, err := q.quiet().do(ctx, `DELETE FROM page_shot WHERE set_id IN (SELECT id `+old+`)`, l.RequestID, l.PageID, l.ID); err != nil {
		return err
	}
	_, err := q.quiet().do(ctx, `DELETE `+old, l.RequestID, l.PageID, l.ID)
	return err
}

// Shots lists the pictures of a set, the narrowest first.
func (q Queries) Shots(ctx context.Context, set int64) (ss []PageShot, err error) {
	return ss, q.all(ctx, &ss, `SELECT * FROM page_shot WHERE set_id = ? ORDER BY width`, set)
}

// HasShot reports whether a picture is one of a request.
func (q Queries) HasShot(ctx context.Context, request int64, png string) (has bool, err error) {
	return has, q.get(ctx, &has, `SELECT EXISTS (SELECT 1 FROM page_shot s JOIN shot_set l ON l.id = s.set_id
		WHERE l.request_id = ? AND (s.before_png = ? OR s.after_png = ?))`, request, png, png)
}
