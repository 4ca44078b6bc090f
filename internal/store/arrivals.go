package store

import (
	"context"
	"errors"
)

// Arrived is the number of the last act that was kept out of an outbox; 0 where none was.
func (q Queries) Arrived(ctx context.Context, request, page int64, outbox string) (number int64, err error) {
	err = q.get(ctx, &number, `SELECT number FROM arrival WHERE request_id = ? AND page_id = ? AND outbox = ?`, request, page, outbox)
	if errors.Is(err, ErrNone) {
		return 0, nil
	}
	return number, err
}

// SetArrived notes that an act was kept out of an outbox.
func (q Queries) SetArrived(ctx context.Context, request, page int64, outbox string, number int64) error {
	_, err := q.do(ctx, `INSERT INTO arrival (request_id, page_id, outbox, number) VALUES (?, ?, ?, ?)
		ON DUPLICATE KEY UPDATE number = VALUES(number)`, request, page, outbox, number)
	return err
}
