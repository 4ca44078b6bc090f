package desk

import (
	"context"
	"testing"
	"time"

	"mendry/api"
	"mendry/internal/core/act"
)

// Who has a page on the bench is told what others keep there, by which draft it is known, and where they are. What another
// process does is seen, too.
func TestOthersOnThePageAreTold(t *testing.T) {
	t.Parallel()
	ctx := t.Context()
	w := newWorld(t, true, "a")
	id, err := w.d.AddPerson(ctx, "tobias", "Tobias Reed", "maintainer", "harbour lane")
	w.must(err)
	tobias := Who{ID: id, Name: "Tobias Reed"}
	r, err := w.d.AddRequest(ctx, w.who, api.RequestForm{SiteID: w.site.ID, Letter: "Another fare", Kind: api.RequestKindMail})
	w.must(err)
	number, page := r.Row.Number, w.pages["/a.html"]
	told := make(chan api.BenchNews, 100)
	follow, leave := context.WithCancel(ctx)
	ended := make(chan error)
	go func() {
		ended <- w.d.Follow(follow, w.who, number, page, "tab-ines", func(n *api.BenchNews) error {
			if n != nil {
				told <- *n
			}
			return nil
		})
	}()
	until := func(right func(api.BenchNews) bool) {
		t.Helper()
		limit := time.After(time.Minute)
		for {
			select {
			case n := <-told:
				if right(n) {
					return
				}
			case <-limit:
				t.Fatal("that was not told")
			}
		}
	}
	b, err := w.d.Bench(ctx, number, page)
	w.must(err)
	until(func(n api.BenchNews) bool { return n.Draft == b.Draft })
	other := w.desk("other") // the database is all that it shares
	for i, d := range []*Desk{w.d, other, w.d} {
		fare := []string{"A single is £7.10.", "A single is £7.20.", "A single is £7.30."}[i]
		b, err = d.Keep(ctx, tobias, number, page, Ask{Draft: b.Draft, Act: &act.Words{Part: partWith(t, b, "words", "A single").ID, Words: fare}})
		w.must(err)
		until(func(n api.BenchNews) bool { return n.Draft == b.Draft })
	}
	_, err = w.d.Drop(ctx, tobias, number, b.Changes[0].ID)
	w.must(err)
	until(func(n api.BenchNews) bool { return n.Draft != b.Draft })
	leave()
	if err := <-ended; err != nil {
		t.Error(err)
	}
	if err := w.d.Follow(ctx, w.who, number, page+1000, "tab-ines", nil); err == nil {
		t.Error("a page that is not there is followed")
	}
}
