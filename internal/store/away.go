package store

import (
	"context"
	"time"
)

// Away is a file of a site that was taken away, is on its way, or was brought back.
type Away struct {
	ID       int64     `db:"id"`
	SiteID   int64     `db:"site_id"`
	Path     string    `db:"path"`
	Size     int64     `db:"size"`
	Hash     string    `db:"hash"` // of its bytes; empty until they are kept
	State    string    `db:"state"`
	Said     string    `db:"said"` // how far it is, or why it stays
	PersonID int64     `db:"person_id"`
	Person   string    `db:"person"`
	At       time.Time `db:"at"` // of the last move
}

// The states of a file that is taken away.
const (
	Going  = "going"
	Gone   = "away"
	Coming = "coming"
	Back   = "back"
	Stayed = "stayed"
)

const awayRows = `SELECT a.*, p.name person FROM taken_away a JOIN person p ON p.id = a.person_id`

// AddAway notes that a file is to be taken away.
func (q Queries) AddAway(ctx context.Context, a Away) (id int64, err error) {
	a.State = Going
	return q.add(ctx, `INSERT INTO taken_away (site_id, path, size, hash, state, said, person_id, at)
		VALUES (:site_id, :path, :size, :hash, :state, :said, :person_id, :at)`, a)
}

// Away finds a file that is taken away by key.
func (q Queries) Away(ctx context.Context, id int64) (a Away, err error) {
	return a, q.get(ctx, &a, awayRows+` WHERE a.id = ?`, id)
}

// AwayUnderWay reports whether a file of a site is on its way.
func (q Queries) AwayUnderWay(ctx context.Context, site int64, path string) (is bool, err error) {
	return is, q.get(
		ctx,
		&is,
		`SELECT EXISTS (SELECT 1 FROM taken_away WHERE site_id = ? AND path = ? AND state IN ('going', 'coming'))`,
		site,
		path,
	)
}

// TakenAway lists the files of a site that were taken away or are on their way, and those that stayed or came back
// since a time; the newest first.
func (q Queries) TakenAway(ctx context.Context, site int64, since time.Time) (as []Away, err error) {
	return as, q.all(
		ctx,
		&as,
		awayRows+` WHERE a.site_id = ? AND (a.state IN ('going', 'away', 'coming') OR a.at > ?) ORDER BY a.at DESC LIMIT 200`,
		site,
		since,
	)
}

// KeepAway notes the bytes of a file that is about to be taken away.
func (q Queries) KeepAway(ctx context.Context, id int64, hash string, size int64) error {
	return q.one(ctx, `UPDATE taken_away SET hash = ?, size = ? WHERE id = ?`, hash, size, id)
}

// MoveAway moves a file from one state to another. The error is ErrNone where it is not in that.
func (q Queries) MoveAway(ctx context.Context, id int64, from, to, said string, at time.Time) error {
	return q.one(
		ctx,
		`UPDATE taken_away SET state = ?, said = ?, at = ? WHERE id = ? AND state = ?`,
		to,
		said,
		at,
		id,
		from,
	)
}

// TookAway notes who moves a file.
func (q Queries) TookAway(ctx context.Context, id, person int64) error {
	return q.one(ctx, `UPDATE taken_away SET person_id = ? WHERE id = ?`, person, id)
}

// SayAway says how far the taking away of a file is.
func (q Queries) SayAway(ctx context.Context, id int64, said string) error {
	_, err := q.do(ctx, `UPDATE taken_away SET said = ? WHERE id = ?`, said, id)
	return err
}

// ForgetPicture takes a picture file out of what was seen of a site.
func (q Queries) ForgetPicture(ctx context.Context, site int64, path string) error {
	_, err := q.do(ctx, `DELETE FROM site_picture WHERE site_id = ? AND path = ?`, site, path)
	return err
}

// Kept lists what the kept changes of a site are made of, as it is stored, each with its request: what they will
// write, and the paths of the files that they bring.
func (q Queries) Kept(ctx context.Context, site int64) (all []KeptText, err error) {
	return all, q.all(
		ctx,
		&all,
		`SELECT c.request_id, CONCAT(c.op, ' ', COALESCE((SELECT GROUP_CONCAT(CONCAT('"/', f.path, '"')) FROM change_picture p
			JOIN picture_file f ON f.id = p.picture_id WHERE p.change_id = c.id), ''), ' ',
			COALESCE((SELECT GROUP_CONCAT(CONCAT('"/', f.path, '"')) FROM change_file f WHERE f.change_id = c.id), '')) text
		FROM page_change c JOIN request r ON r.id = c.request_id WHERE r.site_id = ? AND EXISTS (SELECT 1 FROM change_page h WHERE h.change_id = c.id AND h.state IN ('kept', 'going'))`,
		site,
	)
}

// KeptText is what a kept change is made of.
type KeptText struct {
	RequestID int64  `db:"request_id"`
	Text      string `db:"text"`
}
