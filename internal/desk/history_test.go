package desk

import (
	"context"
	"strings"
	"testing"

	"mendry/internal/core/act"
)

// release publishes a change of words of its own request.
func (w *world) release(old, new string) int64 {
	w.t.Helper()
	n := w.request(new)
	w.must(w.keep(n, "/a.html", old, new))
	w.goLive(n)
	return n
}

func TestEveryWordingOfAPartIsKnownAndComesBackWithOneAct(t *testing.T) {
	t.Parallel()
	ctx := context.Background()
	w := newWorld(t, true, "a")
	first := w.read("a.html")
	one := w.release("A single is £6.90.", "A single is £7.10.")
	w.release("On a lead.", "On a short lead.")
	w.write("a.html", strings.Replace(w.read("a.html"), "£7.10", "£7.20", 1)) // somebody else
	w.must(w.d.TakeInPage(ctx, w.who, w.pages["/a.html"]))
	three := w.release("A single is £7.20.", "A single is £7.40.")
	n := w.request("as it was")
	_, p := w.part(n, "/a.html", "words", "A single")
	ws, err := w.d.History(ctx, n, w.pages["/a.html"], p.ID)
	w.must(err)
	type line struct{ words, say string }
	var got []line
	for _, h := range ws {
		got = append(got, line{h.Words, h.Say})
	}
	want := []line{
		{"A single is £7.40.", "published for request " + itoa(int(three))}, {"A single is £7.20.", "changed elsewhere, not through Mendry"},
		{"A single is £7.10.", "published for request " + itoa(int(one))}, {"A single is £6.90.", "as Mendry first knew it"},
	}
	if len(got) != len(want) {
		t.Fatalf("%+v", got)
	}
	for i := range want {
		if got[i] != want[i] {
			t.Errorf("%d: %+v, want %+v", i, got[i], want[i])
		}
	}
	if ws[0].Who != "Ines Oakley" || ws[0].At == nil || ws[3].At != nil {
		t.Errorf("%+v", ws)
	}
	w.must(w.keep(n, "/a.html", "A single is £7.40.", "A single is £9."))
	_, p = w.part(n, "/a.html", "words", "A single")
	v := w.make(n, "/a.html", &act.Back{Part: p.ID, Version: ws[3].Version})
	if len(v.Changes) != 1 || v.Changes[0].AfterWords != "A single is £6.90." {
		t.Fatalf("%+v", v.Changes)
	}
	w.clear(n)
	rel, err := w.d.Publish(ctx, w.who, n, nil)
	w.must(err)
	w.settle(rel.ID)
	if want := strings.Replace(first, "On a lead.", "On a short lead.", 1); w.read("a.html") != want {
		t.Errorf("the host has\n%s", w.read("a.html"))
	}
	if _, err := w.d.Keep(ctx, w.who, n, w.pages["/a.html"], Ask{Draft: v.Draft, Act: &act.Back{Part: p.ID, Version: "after 99"}}); err == nil {
		t.Error("a wording that is not known came back")
	}
}
