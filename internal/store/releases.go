package store

import (
	"context"
	"errors"
	"time"

	"mendry/internal/core/release"
)

// Release is one act of publishing.
type Release struct {
	ID        int64         `db:"id"`
	RequestID int64         `db:"request_id"`
	SiteID    int64         `db:"site_id"`
	Undoes    *int64        `db:"undoes"`
	State     release.State `db:"state"`
	Said      string        `db:"said"`
	MadeBy    int64         `db:"made_by"`
	MadeAt    time.Time     `db:"made_at"`
	DoneAt    *time.Time    `db:"done_at"`
	LookAt    *time.Time    `db:"look_at"` // when the live pages are looked at next
	ByHand    bool          `db:"by_hand"` // a person puts it in
}

// Step is one file of a release.
type Step struct {
	ID         int64             `db:"id"`
	ReleaseID  int64             `db:"release_id"`
	N          int               `db:"n"`
	Kind       release.StepKind  `db:"kind"`
	Path       string            `db:"path"`
	PageID     *int64            `db:"page_id"`
	PictureID  *int64            `db:"picture_id"`
	BeforeHash string            `db:"before_hash"` // empty: no file before
	AfterHash  string            `db:"after_hash"`
	State      release.StepState `db:"state"`
	HostSeen   string            `db:"host_seen"`
	PublicSeen string            `db:"public_seen"`
	Said       string            `db:"said"`
	LiveHash   string            `db:"live_hash"` // by hand: what stood there at the last look; empty for no file
	SeenAt     *time.Time        `db:"seen_at"`   // by hand: of the last look
}

// Stands is the hash of what the step made of its file: what it was to become or, where a person put it in, what was
// seen there.
func (s Step) Stands() string {
	if s.LiveHash != "" {
		return s.LiveHash
	}
	return s.AfterHash
}

// AddRelease opens a release.
func (q Queries) AddRelease(ctx context.Context, r Release) (int64, error) {
	return q.add(ctx, `INSERT INTO site_release (request_id, site_id, undoes, state, said, made_by, made_at, by_hand)
		VALUES (:request_id, :site_id, :undoes, :state, :said, :made_by, :made_at, :by_hand)`, r)
}

// AddStep adds a file to a release's journal.
func (q Queries) AddStep(ctx context.Context, s Step) (int64, error) {
	return q.add(ctx, `INSERT INTO release_step (release_id, n, kind, path, page_id, picture_id, before_hash, after_hash, state, said)
		VALUES (:release_id, :n, :kind, :path, :page_id, :picture_id, :before_hash, :after_hash, :state, :said)`, s)
}

// Release finds a release by key.
func (q Queries) Release(ctx context.Context, id int64) (r Release, err error) {
	return r, q.get(ctx, &r, `SELECT * FROM site_release WHERE id = ?`, id)
}

// Releases lists the releases of a request, newest first.
func (q Queries) Releases(ctx context.Context, request int64) (rs []Release, err error) {
	return rs, q.all(ctx, &rs, `SELECT * FROM site_release WHERE request_id = ? ORDER BY id DESC`, request)
}

// Steps lists the journal of a release in order.
func (q Queries) Steps(ctx context.Context, release int64) (ss []Step, err error) {
	return ss, q.all(ctx, &ss, `SELECT * FROM release_step WHERE release_id = ? ORDER BY n`, release)
}

// Progress is how far a release has come.
type Progress struct {
	State   release.State `db:"state"`
	Written int           `db:"written"`
	Of      int           `db:"files"`
	Seen    int           `db:"seen"`
}

// Progress tells how far a release has come.
func (q Queries) Progress(ctx context.Context, id int64) (p Progress, err error) {
	return p, q.get(ctx, &p, `SELECT r.state, COUNT(s.id) files, COALESCE(SUM(s.state = 'written'), 0) written, COALESCE(SUM(s.public_seen IN ('right', 'later')), 0) seen
		FROM site_release r LEFT JOIN release_step s ON s.release_id = r.id WHERE r.id = ? GROUP BY r.id, r.state`, id)
}

// SetStep keeps how far a step has come.
func (q Queries) SetStep(ctx context.Context, s Step) error {
	return q.one(ctx, `UPDATE release_step SET state = ?, before_hash = ?, after_hash = ?, host_seen = ?, public_seen = ?, said = ?, live_hash = ?, seen_at = ? WHERE id = ?`,
		s.State, s.BeforeHash, s.AfterHash, s.HostSeen, s.PublicSeen, s.Said, s.LiveHash, s.SeenAt, s.ID)
}

// SetRelease keeps how far a release has come.
func (q Queries) SetRelease(ctx context.Context, r Release) error {
	return q.one(ctx, `UPDATE site_release SET state = ?, said = ?, done_at = ?, look_at = ? WHERE id = ?`, r.State, r.Said, r.DoneAt, r.LookAt, r.ID)
}

// LaterStep reports whether a release after this one wrote a file too, or began to.
func (q Queries) LaterStep(ctx context.Context, site int64, path string, release int64) (bool, error) {
	err := q.get(ctx, new(int), `SELECT 1 FROM release_step s JOIN site_release r ON r.id = s.release_id
		WHERE s.path = ? AND s.state IN ('writing', 'written', 'taken back') AND r.site_id = ? AND r.id > ? LIMIT 1`, path, site, release)
	if errors.Is(err, ErrNone) {
		return false, nil
	}
	return err == nil, err
}

// OddRelease is a release that is not settled.
type OddRelease struct {
	RequestID int64         `db:"request_id"`
	SiteID    int64         `db:"site_id"`
	SiteName  string        `db:"site_name"`
	State     release.State `db:"state"`
}

// OddReleases lists releases that stopped, run, or are live without being seen right.
func (q Queries) OddReleases(ctx context.Context) (rs []OddRelease, err error) {
	return rs, q.all(ctx, &rs, `SELECT r.request_id, r.site_id, s.name site_name, r.state FROM site_release r JOIN site s ON s.id = r.site_id
		WHERE r.state IN ('waiting', 'running', 'stopped', 'by hand', 'live') ORDER BY r.id DESC LIMIT 20`)
}

// PageStep is a release of one page.
type PageStep struct {
	ID         int64     `db:"id"`
	ReleaseID  int64     `db:"release_id"`
	RequestID  int64     `db:"request_id"`
	Undoes     *int64    `db:"undoes"`
	Who        string    `db:"who"`
	At         time.Time `db:"at"`
	BeforeHash string    `db:"before_hash"`
	AfterHash  string    `db:"after_hash"`
}

// PageSteps lists what was written to a page, the newest first.
func (q Queries) PageSteps(ctx context.Context, page int64, most int) (ss []PageStep, err error) {
	return ss, q.all(ctx, &ss, `SELECT s.id, s.release_id, r.request_id, r.undoes, p.name who, COALESCE(r.done_at, r.made_at) at, s.before_hash, s.after_hash
		FROM release_step s JOIN site_release r ON r.id = s.release_id JOIN person p ON p.id = r.made_by
		WHERE s.page_id = ? AND s.kind = 'page' AND s.state IN ('written', 'taken back') AND s.before_hash <> '' ORDER BY s.id DESC LIMIT ?`, page, most)
}
