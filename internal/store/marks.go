package store

import (
	"context"
	"time"

	"mendry/internal/core/byhand"
)

// Mark is what a person said of a release by hand.
type Mark struct {
	StepID int64       `db:"step_id"`
	Kind   byhand.Mark `db:"kind"`
	About  string      `db:"about"` // the item's number, or what byhand.Key tells a difference by
	By     int64       `db:"marked_by"`
	At     time.Time   `db:"marked_at"`
}

// SetMark keeps what a person said; said once, it stays.
func (q Queries) SetMark(ctx context.Context, m Mark) error {
	_, err := q.do(ctx, `INSERT IGNORE INTO hand_mark (step_id, kind, about, marked_by, marked_at) VALUES (?, ?, ?, ?, ?)`,
		m.StepID, m.Kind, m.About, m.By, At(m.At))
	return err
}

// Marks are what was said of a release's items.
func (q Queries) Marks(ctx context.Context, release int64) (ms []Mark, err error) {
	return ms, q.all(ctx, &ms, `SELECT m.step_id, m.kind, m.about, m.marked_by, m.marked_at FROM hand_mark m
		JOIN release_step s ON s.id = m.step_id WHERE s.release_id = ?`, release)
}
