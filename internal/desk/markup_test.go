package desk

import (
	"context"
	"strings"
	"testing"

	"mendry/api"
	"mendry/internal/core/act"
	"mendry/internal/core/may"
	"mendry/internal/core/refusal"
)

// The markup of a section is written by hand by the lead alone; what a browser reads otherwise is said before, what
// would make the page worse is refused, and what stands around stays as it is, line ends with it.
func TestMarkupIsWrittenByHandByWhoMay(t *testing.T) {
	t.Parallel()
	ctx := context.Background()
	w := newWorld(t, true, "a")
	start := w.read("a.html")
	n := w.request("A class on the dogs")
	page := w.pages["/a.html"]
	b, p := w.part(n, "/a.html", "section", "Dogs")
	if _, err := w.d.Markup(ctx, w.who, n, page, p.ID); refusal.Of(err) == nil {
		t.Errorf("anybody reads markup: %v", err)
	}
	better := "<section class=\"dogs\">\n<h2>Dogs</h2><p>On a lead.</p>\n<p>Or in a basket.</p></section>"
	if _, err := w.d.Keep(ctx, w.who, n, page, Ask{Draft: b.Draft, Act: &act.Source{Part: p.ID, Markup: better}}); refusal.Of(err) == nil {
		t.Errorf("anybody writes markup: %v", err)
	}
	lead := w.who
	lead.Role = may.Lead
	m, err := w.d.Markup(ctx, lead, n, page, p.ID)
	w.must(err)
	if m.Markup != "<section><h2>Dogs</h2><p>On a lead.</p></section>" || m.Line != 6 {
		t.Errorf("%+v", m)
	}
	for _, c := range []struct{ markup, reads, refused string }{
		{better, "", ""},
		{"<section><h2>Dogs</h2><div><p>On a lead.</p></section>", "1 “<div>” is closed here, though it is not written.", "A browser reads it otherwise than it is written, in line 1."},
		{"<section><h2>Dogs</h2><h4>Skipped</h4></section>", "", "That is left as it is."},
		{"<section><h2>Dogs</h2><p>On a lead.</p>", "", "A browser reads it otherwise"},
		{"</body><section>", "", ""},
		{"", "", "Nothing is left of it."},
	} {
		v, err := w.d.TryMarkup(ctx, lead, n, page, api.MarkupForm{Part: p.ID, Markup: c.markup})
		w.must(err)
		said := ""
		if len(v.Readings) > 0 {
			said = itoa(v.Readings[0].Line) + " " + v.Readings[0].Say
		}
		if c.reads != "" && said != c.reads || (c.refused == "") != (v.Refused == "") && c.markup != "</body><section>" || !strings.Contains(v.Refused, c.refused) {
			t.Errorf("%q: %+v", c.markup, v)
		}
		if c.markup == "</body><section>" && v.Refused == "" {
			t.Errorf("markup reaches over the frame of the page: %+v", v)
		}
	}
	v, err := w.d.TryMarkup(ctx, lead, n, page, api.MarkupForm{Part: p.ID, Markup: better})
	w.must(err)
	if len(v.Differs) == 0 || v.Same {
		t.Errorf("%+v", v)
	}
	b, err = w.d.Keep(ctx, lead, n, page, Ask{Draft: b.Draft, Act: &act.Source{Part: p.ID, Markup: better}})
	w.must(err)
	again := strings.Replace(better, "basket", "bag", 1)
	b, err = w.d.Keep(ctx, lead, n, page, Ask{Draft: b.Draft, Act: &act.Source{Part: *b.Made, Markup: again}})
	w.must(err)
	if len(b.Changes) != 1 {
		t.Errorf("writing on is another change: %+v", b.Changes)
	}
	w.must(w.keep(n, "/a.html", "A single is £6.90.", "A single is £7.10."))
	want := strings.NewReplacer("<section><h2>Dogs</h2><p>On a lead.</p></section>", strings.ReplaceAll(again, "\n", "\r\n"), "£6.90", "£7.10").Replace(start)
	if got := w.drafted(n, "/a.html"); got != want {
		t.Errorf("the draft is\n%q\nnot\n%q", got, want)
	}
	w.goLive(n)
	b, err = w.d.Bench(ctx, n, page)
	w.must(err)
	_, err = w.d.Keep(ctx, w.who, n, page, Ask{Draft: b.Draft, Act: &act.TakeBack{Change: b.Changes[0].ID}})
	w.must(err)
	if got, want := w.drafted(n, "/a.html"), strings.Replace(start, "£6.90", "£7.10", 1); got != want {
		t.Errorf("taken back alone the draft is\n%q\nnot\n%q", got, want)
	}
}
