package store

import (
	"context"
	"time"
)

// Job is work that Mendry does by itself.
type Job struct {
	ID    int64     `db:"id"`
	Kind  string    `db:"kind"`
	About string    `db:"about"` // what it is about, by key: one job of a kind a key
	Lane  string    `db:"lane"`  // of which only one job is under way at a time
	Due   time.Time `db:"due"`
	Asked int64     `db:"asked"` // how often it was asked for
	Tries int       `db:"tries"` // that failed or were cut off with their process, one after the other
	Said  string    `db:"said"`  // by the last one that failed
}

const jobColumns = `id, kind, about, lane, due, asked, tries, said`

// AskJob asks for a job at a time, or for one that is there already to be done by then. One that is under way is done
// once more.
func (q Queries) AskJob(ctx context.Context, kind, about, lane string, due time.Time) error {
	_, err := q.do(ctx, `INSERT INTO job (kind, about, lane, due) VALUES (?, ?, ?, ?)
		ON DUPLICATE KEY UPDATE due = LEAST(due, VALUES(due)), asked = asked + 1, tries = 0`, kind, about, lane, due)
	return err
}

// ClaimJob gives out a job that is due and whose lane is free, until a time; ErrNone where there is none. Of those
// that nobody holds any more, the lanes are freed first. kinds are those that the caller can do.
func (s *Store) ClaimJob(ctx context.Context, by string, kinds []string, now, until time.Time) (j Job, err error) {
	err = s.freeLanes(ctx, now)
	if err == nil {
		err = s.once(ctx, func(q Queries) error {
			var due []Job
			err := q.in(ctx, &due, `SELECT `+jobColumns+` FROM job j WHERE due <= ? AND claimed_until IS NULL AND kind IN (?)
				AND NOT EXISTS (SELECT 1 FROM job o WHERE o.busy_lane = j.lane) ORDER BY due, id LIMIT 1 FOR UPDATE SKIP LOCKED`, now, kinds)
			if err != nil {
				return err
			}
			if len(due) == 0 {
				return ErrNone
			}
			j = due[0]
			return q.one(ctx, `UPDATE job SET claimed_by = ?, claimed_until = ?, busy_lane = lane WHERE id = ?`, by, until, j.ID)
		})
	}
	if met(err) {
		return j, ErrNone // another process took the lane at the same moment; it is asked again soon
	}
	return j, err
}

// freeLanes gives back what processes held that died. It takes only the rows that it means: an UPDATE by time alone
// would lock what others are claiming beside them, and one of the two would be thrown out.
func (s *Store) freeLanes(ctx context.Context, now time.Time) error {
	var ids []int64
	if err := s.all(ctx, &ids, `SELECT id FROM job WHERE claimed_until < ?`, now); err != nil || len(ids) == 0 {
		return err
	}
	return s.once(ctx, func(q Queries) error {
		ids = ids[:0]
		err := q.all(ctx, &ids, `SELECT id FROM job WHERE claimed_until < ? FOR UPDATE SKIP LOCKED`, now)
		if err != nil {
			return err
		}
		for _, id := range ids {
			if err := q.one(ctx, `UPDATE job SET busy_lane = NULL, claimed_by = '', claimed_until = NULL, tries = tries + 1 WHERE id = ?`, id); err != nil {
				return err
			}
		}
		return nil
	})
}

// HoldJob keeps a claim alive. The error is ErrNone where another process took the job over.
func (q Queries) HoldJob(ctx context.Context, id int64, by string, until time.Time) error {
	return q.quiet().one(ctx, `UPDATE job SET claimed_until = ? WHERE id = ? AND claimed_by = ?`, until, id, by)
}

// EndJob ends a claim: the job is done for good, unless it was asked for again since it was claimed.
func (q Queries) EndJob(ctx context.Context, j Job, by string) error {
	n, err := q.quiet().do(ctx, `DELETE FROM job WHERE id = ? AND claimed_by = ? AND asked = ?`, j.ID, by, j.Asked)
	if err != nil || n > 0 {
		return err
	}
	return q.LetJob(ctx, j, by, j.Due, 0, "")
}

// LetJob gives a claim back; the job is due again at a time, or at the time it was asked for since it was claimed, if
// that is earlier.
func (q Queries) LetJob(ctx context.Context, j Job, by string, due time.Time, tries int, said string) error {
	_, err := q.quiet().do(ctx, `UPDATE job SET claimed_by = '', claimed_until = NULL, busy_lane = NULL, due = IF(asked = ?, ?, LEAST(due, ?)), tries = ?, said = ?
		WHERE id = ? AND claimed_by = ?`, j.Asked, due, due, tries, said, j.ID, by)
	return err
}

// LetAllJobs gives every claim of a process back.
func (q Queries) LetAllJobs(ctx context.Context, by string) error {
	_, err := q.quiet().do(ctx, `UPDATE job SET claimed_by = '', claimed_until = NULL, busy_lane = NULL WHERE claimed_by = ?`, by)
	return err
}

// JobOf finds a job; ErrNone where it is done or was never asked for.
func (q Queries) JobOf(ctx context.Context, kind, about string) (j Job, err error) {
	return j, q.get(ctx, &j, `SELECT `+jobColumns+` FROM job WHERE kind = ? AND about = ?`, kind, about)
}
