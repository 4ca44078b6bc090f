package desk

import (
	"context"
	"errors"
	"time"

	"mendry/internal/post"
	"mendry/internal/store"
)

// mailTries is how often a letter is tried before a person has to look.
const mailTries = 8

// SendMail sends waiting letters until ctx ends.
func (d *Desk) SendMail(ctx context.Context) {
	for {
		for d.sendNext(ctx) {
		}
		select {
		case <-ctx.Done():
			return
		case <-d.mail:
		case <-time.After(5 * time.Second):
		}
	}
}

func (d *Desk) sendNext(ctx context.Context) bool {
	m, err := d.store.NextMail(ctx, store.Now(), 2*time.Minute)
	if err != nil {
		if !errors.Is(err, store.ErrNone) && ctx.Err() == nil {
			d.Log.Error("look for mail to send", "err", err)
		}
		return false
	}
	state, said, next := "sent", "", store.Now()
	if err := d.Mail.Send(ctx, post.Letter{To: m.ToAddress, Subject: m.Subject, Text: m.Body}); err != nil {
		d.Log.Warn("send mail", "mail", m.ID, "try", m.Tries, "err", err)
		state, said = "waiting", "The mail server did not take the letter. It is tried again."
		next = store.Now().Add(time.Duration(m.Tries) * 30 * time.Second)
		if m.Tries >= mailTries {
			state, said = "failed", "The mail server did not take the letter. Check the mail settings and send the proof again."
		}
	}
	if err := d.store.SetMail(ctx, m.ID, state, said, next); err != nil {
		d.Log.Error("note a sent mail", "mail", m.ID, "err", err)
		return false
	}
	return true
}
