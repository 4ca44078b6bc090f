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
	SentAt    *time.Time `db:"sent_at"`
}

// AddMail puts a letter into the outbox and returns its key.
func (q Queries) AddMail(ctx context.Context, m Mail) (int64, error) {
	return q.add(ctx, `INSERT INTO mail_out (request_id, to_address, subject, body, state, said, made_at)
		VALUES (:request_id, :to_address, :subject, :body, 'waiting', '', :made_at)`, m)
}

// Mail finds a letter by key.
func (q Queries) Mail(ctx context.Context, id int64) (m Mail, err error) {
	return m, q.get(ctx, &m, `SELECT * FROM mail_out WHERE id = ?`, id)
}

// SetMail keeps what became of a letter after another try.
func (q Queries) SetMail(ctx context.Context, id int64, state, said string, now time.Time) error {
	return q.one(ctx, `UPDATE mail_out SET state = ?, said = ?, tries = tries + 1, sent_at = IF(? = 'sent', ?, NULL) WHERE id = ?`, state, said, state, now, id)
}

// MailsOf lists the letters of a request, newest first.
func (q Queries) MailsOf(ctx context.Context, request int64) (ms []Mail, err error) {
	return ms, q.all(ctx, &ms, `SELECT * FROM mail_out WHERE request_id = ? ORDER BY id DESC`, request)
}
