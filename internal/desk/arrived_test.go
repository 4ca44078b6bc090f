package desk

import (
	"strings"
	"testing"

	"mendry/internal/core/act"
	"mendry/internal/core/refusal"
)

// Whoever got no answer is told by the page whether what they sent was kept, and it is kept once, also where the draft is
// what it was when it was sent.
func TestWhatArrivedIsToldAndKeptOnce(t *testing.T) {
	t.Parallel()
	ctx := t.Context()
	w := newWorld(t, true, "a")
	n, page := w.request("x"), w.pages["/a.html"]
	see := func(outbox string) (draft string, arrived int64) {
		t.Helper()
		b, err := w.d.BenchFor(ctx, n, page, outbox)
		w.must(err)
		return b.Draft, b.Arrived
	}
	keep := func(draft, words, outbox string, number int64) error {
		_, err := w.d.Keep(ctx, w.who, n, page, Ask{Draft: draft, Act: &act.Words{Part: "heading-1", Words: words}, Sent: &Sent{outbox, number}})
		return err
	}
	first, none := see("outbox-one")
	w.must(keep(first, "One", "outbox-one", 3))
	second, three := see("outbox-one")
	if _, other := see("outbox-two"); none != 0 || three != 3 || other != 0 {
		t.Errorf("arrived: %d before, %d after, %d of another outbox", none, three, other)
	}
	if err := keep(first, "Two", "outbox-one", 4); !refusal.Is(err, refusal.Stale) {
		t.Errorf("on a draft of before: %v", err)
	}
	if _, still := see("outbox-one"); still != 3 {
		t.Errorf("%d arrived after a refusal", still)
	}
	c, err := w.d.store.DraftOn(ctx, n, page)
	w.must(err)
	if _, err := w.d.Drop(ctx, w.who, n, c[0].ID); err != nil {
		t.Fatal(err)
	}
	if again, _ := see("outbox-one"); again != first || second == first {
		t.Fatal("the draft is not what it was")
	}
	if err := keep(first, "One", "outbox-one", 3); !refusal.Is(err, refusal.Stale) || !strings.Contains(err.Error(), "kept already") {
		t.Errorf("the same once more: %v", err)
	}
	w.must(keep(first, "One", "outbox-two", 1))
}
