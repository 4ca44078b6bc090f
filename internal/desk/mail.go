package desk

import (
	"context"
	"strconv"
	"time"

	"mendry/internal/core/refusal"
	"mendry/internal/post"
	"mendry/internal/store"
)

// mailTries is how often a letter is tried before a person has to look.
const mailTries = 8

// send puts a letter into the outbox, in the transaction of what it speaks of.
func (d *Desk) send(ctx context.Context, q store.Queries, m store.Mail) error {
	m.MadeAt = d.now()
	id, err := q.AddMail(ctx, m)
	if err != nil {
		return err
	}
	return q.AskJob(ctx, "mail", strconv.FormatInt(id, 10), "mail", d.now())
}

// sendMail does the job of a letter.
func (d *Desk) sendMail(ctx context.Context, about string) (again time.Time, err error) {
	id, err := strconv.ParseInt(about, 10, 64)
	if err != nil {
		return again, nil
	}
	m, err := d.store.Mail(ctx, id)
	if refusal.Is(err, refusal.Nothing) || err == nil && m.State != "waiting" {
		return again, nil
	}
	if err != nil {
		return again, err
	}
	state, said := "sent", ""
	if err := d.Mail.Send(ctx, post.Letter{To: m.ToAddress, Subject: m.Subject, Text: m.Body}); err != nil {
		if ctx.Err() != nil {
			return again, err
		}
		d.Log.Warn("send mail", "mail", m.ID, "try", m.Tries+1, "err", err)
		state, said = "waiting", "The mail server did not take the letter. It is tried again."
		again = d.now().Add(time.Duration(m.Tries+1) * 30 * time.Second)
		if m.Tries+1 >= mailTries {
			again = time.Time{}
			state, said = "failed", "The mail server did not take the letter. Check the mail settings and send the proof again."
		}
	}
	return again, d.store.SetMail(context.WithoutCancel(ctx), m.ID, state, said, d.now())
}
