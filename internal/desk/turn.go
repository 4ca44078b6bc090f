package desk

import "context"

// workedAtOnce is how many drafts are worked on at the same time. A page that is read takes some fifty times its bytes
// while it is in hand, and two processors are busy with two of them; the others of the turns ask the database.
const workedAtOnce = 6

// turn waits until a draft may be worked on, which must not ask hosts: a slow one would hold up everybody. The error
// is that of ctx, where whoever asks has gone away.
func (d *Desk) turn(ctx context.Context) (done func(), err error) {
	select {
	case d.turns <- struct{}{}:
		return func() { <-d.turns }, nil
	case <-ctx.Done():
		return nil, ctx.Err()
	}
}
