package store

import (
	"context"
	"time"
)

// Mail is a letter that Mendry sends.
type Mail struct {
	ID        int64      `db:"id"`
	RequestID *int64     `db:"request_id"`
	ToAddress string     `db:"to_address"`
	Subject   string     `db:"subject"`
	Body      string     `db:"body"`
	State     string     `db:"state"`
	Tries     int        `db:"tries"`
	Said      string     `db:"said"`
	MadeAt    time.Time  `db:"made_at"`
	NextTryAt time.Time  `db:"next_try_at"`
	SentAt    *time.Time `db:"sent_at"`
}

// AddMail puts a letter into the outbox.
func (q Queries) AddMail(ctx context.Context, m Mail) error {
	_, err := q.add(ctx, `INSERT INTO mail_out (request_id, to_address, subject, body, state, said, made_at, next_try_at)
		VALUES (:request_id, :to_address, :subject, :body, 'waiting', '', :made_at, :made_at)`, m)
	return err
}

// NextMail takes a letter that is to be sent; it is not given out again before its next try.
func (s *Store) NextMail(ctx context.Context, now time.Time, hold time.Duration) (m Mail, err error) {
	err = s.Tx(ctx, func(q Queries) error {
		if err := q.get(ctx, &m, `SELECT * FROM mail_out WHERE state = 'waiting' AND next_try_at <= ? ORDER BY id LIMIT 1 FOR UPDATE SKIP LOCKED`, now); err != nil {
			return err
		}
		return q.one(ctx, `UPDATE mail_out SET next_try_at = ?, tries = tries + 1 WHERE id = ?`, now.Add(hold), m.ID)
	})
	m.Tries++
	return m, err
}

// SetMail keeps what became of a letter.
func (q Queries) SetMail(ctx context.Context, id int64, state, said string, next time.Time) error {
	return q.one(ctx, `UPDATE mail_out SET state = ?, said = ?, next_try_at = ?, sent_at = IF(? = 'sent', UTC_TIMESTAMP(6), NULL) WHERE id = ?`, state, said, next, state, id)
}

// MailsOf lists the letters of a request, newest first.
func (q Queries) MailsOf(ctx context.Context, request int64) (ms []Mail, err error) {
	return ms, q.all(ctx, &ms, `SELECT * FROM mail_out WHERE request_id = ? ORDER BY id DESC`, request)
}
