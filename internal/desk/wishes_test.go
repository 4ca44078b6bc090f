package desk

import (
	"strings"
	"testing"
	"unicode/utf16"

	"mendry/api"
	"mendry/internal/core/act"
)

// wish marks words of a letter as a wish, and places it on the part that says what it says.
func (w *world) wish(n int64, letter, words, address, part string) int64 {
	w.t.Helper()
	ctx := w.t.Context()
	at := len(utf16.Encode([]rune(letter[:strings.Index(letter, words)])))
	r, err := w.d.AddWish(ctx, n, api.WishForm{Start: at, End: at + len(utf16.Encode([]rune(words)))})
	w.must(err)
	id := r.Wishes[len(r.Wishes)-1].ID
	b, err := w.d.Bench(ctx, n, w.pages[address])
	w.must(err)
	for _, p := range b.Parts {
		if p.Text == part && p.Kind != "section" {
			page := w.pages[address]
			_, err = w.d.SetWish(ctx, w.who, n, id, api.WishSet{PageID: &page, Part: &p.ID})
			w.must(err)
			return id
		}
	}
	w.t.Fatalf("no part says %q", part)
	return 0
}

func (w *world) wishes(n int64) (states []string) {
	w.t.Helper()
	r, err := w.d.Request(w.t.Context(), n)
	w.must(err)
	for _, x := range r.Wishes {
		states = append(states, string(x.State))
	}
	return states
}

// A wish is done by what changes the part that it is placed on, in hand or not; one that something goes is not done by
// what is put in beside that.
func TestWhatFulfilsAWish(t *testing.T) {
	t.Parallel()
	ctx := t.Context()
	w := newWorld(t, false, "a")
	const letter = "The single is £7.40 now. Please remove the words about the lead."
	n := w.request(letter)
	w.wish(n, letter, "The single is £7.40", "/a.html", "A single is £6.90.")
	gone := w.wish(n, letter, "remove the words about the lead", "/a.html", "On a lead.")
	w.must(w.keep(n, "/a.html", "A single is £6.90.", "A single is £7.40."))
	if got := strings.Join(w.wishes(n), " "); got != "done open" {
		t.Errorf("the words of the first are changed: %s", got)
	}
	keep := func(of func(part string) act.Act) {
		t.Helper()
		b, err := w.d.Bench(ctx, n, w.pages["/a.html"])
		w.must(err)
		for _, p := range b.Parts {
			if p.Text == "On a lead." {
				_, err := w.d.Keep(ctx, w.who, n, w.pages["/a.html"], Ask{Draft: b.Draft, Act: of(p.ID), Wish: &gone, Here: true})
				w.must(err)
				return
			}
		}
		t.Fatal("the words are gone")
	}
	keep(func(part string) act.Act { return &act.Insert{Part: part, Where: "after", HTML: "<p>Or carried.</p>"} })
	if got := strings.Join(w.wishes(n), " "); got != "done open" {
		t.Errorf("something was put below what was to go: %s", got)
	}
	keep(func(part string) act.Act { return &act.Remove{Part: part} })
	if got := strings.Join(w.wishes(n), " "); got != "done done" {
		t.Errorf("it is gone: %s", got)
	}
}
