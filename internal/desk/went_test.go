package desk

import (
	"context"
	"slices"
	"strings"
	"testing"

	"mendry/api"
	"mendry/internal/core/act"
	"mendry/internal/core/refusal"
)

// A live change of structure is taken back alone: after another request went live on the same page, after somebody
// else edited it by hand, and under words that are kept and not live.
func TestALiveChangeIsTakenBackAlone(t *testing.T) {
	t.Parallel()
	ctx := context.Background()
	w := newWorld(t, true, "a")
	before := w.read("a.html")
	first := w.request("Take the dogs out")
	v, err := w.d.Bench(ctx, first, w.pages["/a.html"])
	w.must(err)
	section := slices.IndexFunc(v.Parts, func(p api.Part) bool { return p.Kind == "section" && strings.Contains(p.Text, "On a lead.") })
	w.make(first, "/a.html", &act.Remove{Part: v.Parts[section].ID})
	w.must(w.keep(first, "/a.html", "Page a", "Fares"))
	w.goLive(first)
	second := w.request("Fares rise")
	w.must(w.keep(second, "/a.html", "A single is £6.90.", "A single is £7.40."))
	w.goLive(second)
	w.write("a.html", strings.Replace(w.read("a.html"), "<body>", "<body>\r\n<p>Closed on Monday.</p>", 1))
	w.takeIn()
	w.must(w.keep(first, "/a.html", "Fares", "All fares"))

	v, err = w.d.Bench(ctx, first, w.pages["/a.html"])
	w.must(err)
	gone := v.Changes[0]
	other := w.request("Somebody else’s")
	o, err := w.d.Bench(ctx, other, w.pages["/a.html"])
	w.must(err)
	if _, err := w.d.Keep(ctx, w.who, other, w.pages["/a.html"], Ask{Draft: o.Draft, Act: &act.TakeBack{Change: gone.ID}}); !refusal.Is(err, refusal.Nothing) {
		t.Errorf("another request takes it back: %v", err)
	}
	v, err = w.d.Keep(ctx, w.who, first, w.pages["/a.html"], Ask{Draft: v.Draft, Act: &act.TakeBack{Change: gone.ID}})
	w.must(err)
	last := v.Changes[len(v.Changes)-1]
	if last.State != "kept" || last.Say != "“Dogs” is put back" || v.Made == nil {
		t.Errorf("%+v, made %v", last, v.Made)
	}
	if _, err := w.d.Keep(ctx, w.who, first, w.pages["/a.html"], Ask{Draft: v.Draft, Act: &act.TakeBack{Change: gone.ID}}); !refusal.Is(err, refusal.Rule) {
		t.Errorf("taken back twice: %v", err)
	}
	w.goLive(first)
	want := strings.NewReplacer("<h1>Page a", "<h1>All fares", "£6.90", "£7.40", "<body>", "<body>\r\n<p>Closed on Monday.</p>").Replace(before)
	if got := w.read("a.html"); got != want {
		t.Errorf("the host has\n%s\nnot\n%s", got, want)
	}
}
