package desk

import (
	"context"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"testing"

	"mendry/api"
	"mendry/internal/core/act"
	"mendry/internal/core/refusal"
)

// sectionsOf has the sections of the world's site found, and lists them.
func (w *world) sectionsOf() api.SiteSections {
	w.t.Helper()
	ctx := context.Background()
	w.must(w.d.AskSections(ctx, w.site.ID))
	var v api.SiteSections
	w.until("the sections are found", func() bool {
		w.d.DoNext(ctx)
		var err error
		v, err = w.d.Sections(ctx, w.site.ID)
		w.must(err)
		return v.Left == 0
	})
	return v
}

func (w *world) act(number int64, address string, do func(b api.Bench) act.Act) (api.Bench, error) {
	w.t.Helper()
	ctx := context.Background()
	b, err := w.d.Bench(ctx, number, w.pages[address])
	w.must(err)
	return w.d.Keep(ctx, w.who, number, w.pages[address], Ask{Draft: b.Draft, Act: do(b), Here: true})
}

func partWith(t testing.TB, b api.Bench, kind, text string) api.Part {
	t.Helper()
	i := slices.IndexFunc(b.Parts, func(p api.Part) bool { return p.Kind == kind && strings.Contains(p.Text, text) })
	if i < 0 {
		t.Fatalf("no %s says %q", kind, text)
	}
	return b.Parts[i]
}

// A section goes from a page in a folder to one at the top, is published and taken back to the bytes; alike ones are
// listed once; a page that was edited since is looked through again, and what it lent before is refused.
func TestASectionIsBorrowedFromAnotherPage(t *testing.T) {
	t.Parallel()
	w := newWorld(t, true, "a", "b")
	w.must(os.Mkdir(filepath.Join(w.dir, "crew"), 0o700))
	crew := "<!doctype html><html lang=en><head><title>Crew</title><script src=\"turn.js\"></script></head><body><h1>Crew</h1><section class=\"band\" data-turns><h2>Seven of us</h2><p>See the <a href=\"boats.html\">boats</a>.</p></section><p>Words.</p></body></html>"
	w.write("crew/index.html", crew)
	w.write("crew/turn.js", "document.querySelectorAll('[data-turns]').forEach(turn)")
	w.write(
		"crew/boats.html",
		"<!doctype html><html lang=en><head><title>Boats</title></head><body><h1>Boats</h1><p>Two.</p></body></html>",
	)
	w.takeIn()
	before := w.read("a.html")
	v := w.sectionsOf()
	at := slices.IndexFunc(v.Sections, func(s api.LentSection) bool { return s.Name == "Seven of us" })
	dogs := slices.IndexFunc(v.Sections, func(s api.LentSection) bool { return s.Name == "Dogs" })
	if at < 0 || dogs < 0 || v.Sections[dogs].Alike != 2 || v.Sections[dogs].Pages != 2 || len(v.Sections) != 2 {
		t.Fatalf("%+v", v.Sections)
	}
	lent := v.Sections[at]
	if lent.Holds != "a heading and words" || lent.Sample != api.SampleWords || lent.Address != "/crew/" {
		t.Errorf("%+v", lent)
	}
	borrow := func(b api.Bench) act.Act {
		return &act.Borrow{
			Part:    *partWith(t, b, "words", "On a lead").Around,
			Page:    lent.PageID,
			Of:      lent.Of,
			Section: lent.Part,
			Kept:    true,
		}
	}
	number := w.request("Put the crew on the first page, too.")
	b, err := w.act(number, "/a.html", borrow)
	w.must(err)
	if c := b.Changes[0]; c.Kind != api.ChangeKindSection || !strings.Contains(c.Say, "with turn.js, which it needs") {
		t.Errorf("%+v", c)
	}
	rel := w.goLive(number)
	want := strings.Replace(
		before,
		"</section>\r\n",
		"</section>\r\n<section class=\"band\" data-turns><h2>Seven of us</h2><p>See the <a href=\"crew/boats.html\">boats</a>.</p><script src=\"crew/turn.js\"></script></section>\r\n",
		1,
	)
	if got := w.read("a.html"); got != want {
		t.Errorf("%s\ninstead of\n%s", got, want)
	}
	w.takeBack(rel, "a.html", before)

	w.write("crew/index.html", strings.Replace(crew, `class="band" data-turns`, `class="strip"`, 1))
	w.takeIn()
	if _, err := w.act(w.request("Once more."), "/a.html", borrow); !refusal.Is(err, refusal.Stale) {
		t.Errorf("a section that is no longer so: %v", err)
	}
	other := newWorld(t, true, "x")
	other.onDeskOf(w)
	_, err = w.act(w.request("And theirs."), "/a.html", func(b api.Bench) act.Act {
		return &act.Borrow{
			Part:    *partWith(t, b, "words", "On a lead").Around,
			Page:    other.pages["/x.html"],
			Section: "section-1",
		}
	})
	if !refusal.Is(err, refusal.Nothing) {
		t.Errorf("a section of another site: %v", err)
	}
}

// What is hidden is listed on its page until it is shown again, by whichever request: in the draft, live, and after
// either is undone.
func TestWhatIsHiddenIsRemembered(t *testing.T) {
	t.Parallel()
	w := newWorld(t, true, "a", "b")
	ctx, before := context.Background(), w.read("a.html")
	number := w.request("No dogs this winter.")
	b, err := w.act(
		number,
		"/a.html",
		func(b api.Bench) act.Act { return &act.Hide{Part: partWith(t, b, "section", "On a lead").ID} },
	)
	w.must(err)
	if len(b.Hidden) != 1 || b.Hidden[0].Name != "Dogs" || b.Hidden[0].State != api.ChangeStateKept {
		t.Fatalf("%+v", b.Hidden)
	}
	elsewhere := w.request("Something else.")
	if other, err := w.d.Bench(ctx, elsewhere, w.pages["/a.html"]); err != nil || len(other.Hidden) != 0 {
		t.Errorf("another request's draft has the section, and lists %+v %v", other.Hidden, err)
	}
	b, err = w.act(number, "/a.html", func(b api.Bench) act.Act { return &act.Show{Change: b.Hidden[0].ChangeID} })
	w.must(err)
	if len(b.Hidden) != 0 || w.drafted(number, "/a.html") != before {
		t.Errorf("shown again in the draft: %+v", b.Hidden)
	}

	_, err = w.act(
		number,
		"/a.html",
		func(b api.Bench) act.Act { return &act.Hide{Part: partWith(t, b, "section", "On a lead").ID} },
	)
	w.must(err)
	w.goLive(number)
	if got := w.read("a.html"); strings.Contains(got, "Dogs") {
		t.Errorf("it is still live\n%s", got)
	}
	w.must(w.keep(elsewhere, "/a.html", "A single is £6.90.", "A single is £7.40."))
	b, err = w.act(elsewhere, "/a.html", func(b api.Bench) act.Act {
		if len(b.Hidden) != 1 || b.Hidden[0].By != "Ines Oakley" {
			t.Fatalf("%+v", b.Hidden)
		}
		return &act.Show{Change: b.Hidden[0].ChangeID}
	})
	w.must(err)
	if last := b.Changes[len(b.Changes)-1]; len(b.Hidden) != 0 || last.Say != "Dogs is shown again, where it stood" {
		t.Errorf("%+v %+v", b.Hidden, last)
	}
	rel := w.goLive(elsewhere)
	if got := w.read("a.html"); got != strings.Replace(before, "£6.90", "£7.40", 1) {
		t.Errorf("not where it stood\n%s", got)
	}
	back, err := w.d.Steer(ctx, w.who, rel.ID, api.ReleaseActTakeBack)
	w.must(err)
	w.settle(back.ID)
	if b, err := w.d.Bench(ctx, number, w.pages["/a.html"]); err != nil || len(b.Hidden) != 1 {
		t.Errorf("the showing was taken back: %+v %v", b.Hidden, err)
	}
}

// A section moves to another page with what the request has kept in it, as two changes that are live together; each is
// taken back alone.
func TestASectionMovesToAnotherPage(t *testing.T) {
	t.Parallel()
	w := newWorld(t, true, "a", "b")
	ctx, a, b := context.Background(), w.read("a.html"), w.read("b.html")
	number := w.request("The dogs belong on the other page.")
	w.must(w.keep(number, "/a.html", "On a lead.", "On a leash."))
	form := func() api.MoveToPageForm {
		from, err := w.d.Bench(ctx, number, w.pages["/a.html"])
		w.must(err)
		to, err := w.d.Bench(ctx, number, w.pages["/b.html"])
		w.must(err)
		return api.MoveToPageForm{
			Draft: from.Draft, ToDraft: to.Draft, Part: partWith(t, from, "section", "leash").ID, Page: w.pages["/b.html"],
			Anchor: partWith(t, to, "section", "On a lead").ID, Where: api.Before,
		}
	}
	old := form()
	w.must(w.keep(number, "/b.html", "A single is £6.90.", "A single is £7.40."))
	if _, err := w.d.MoveToPage(ctx, w.who, number, w.pages["/a.html"], old); !refusal.Is(err, refusal.Stale) {
		t.Errorf("over a draft that has changed: %v", err)
	}
	moved, err := w.d.MoveToPage(ctx, w.who, number, w.pages["/a.html"], form())
	w.must(err)
	v, err := w.d.Bench(ctx, number, w.pages["/b.html"])
	w.must(err)
	if moved.Page != w.pages["/b.html"] ||
		!slices.ContainsFunc(v.Parts, func(p api.Part) bool { return p.ID == moved.Part }) {
		t.Errorf("%+v", moved)
	}
	w.goLive(number)
	section := "<section><h2>Dogs</h2><p>On a lead.</p></section>"
	wantA := strings.Replace(a, "\r\n"+section, "", 1)
	wantB := strings.NewReplacer("£6.90", "£7.40", section, strings.Replace(section, "lead", "leash", 1)+"\r\n"+section).
		Replace(b)
	if gotA, gotB := w.read("a.html"), w.read("b.html"); gotA != wantA || gotB != wantB {
		t.Errorf("%s\n%s", gotA, gotB)
	}
	for _, c := range v.Changes {
		if !strings.Contains(c.Say, "moves") {
			continue
		}
		now, err := w.d.Bench(ctx, number, c.PageID)
		w.must(err)
		_, err = w.d.Keep(ctx, w.who, number, c.PageID, Ask{Draft: now.Draft, Act: &act.TakeBack{Change: c.ID}})
		w.must(err)
	}
	w.goLive(number)
	if gotA, gotB := w.read("a.html"), w.read("b.html"); gotA != strings.Replace(a, "lead", "leash", 1) ||
		gotB != strings.Replace(b, "£6.90", "£7.40", 1) {
		t.Errorf("taken back alone\n%s\n%s", gotA, gotB)
	}
}
