package desk

import (
	"context"
	"os"
	"path/filepath"
	"strings"
	"testing"

	"mendry/api"
	"mendry/internal/core/act"
	"mendry/internal/core/refusal"
)

const footed = `<!doctype html>
<html lang="en"><head><title>%</title></head><body><h1>%</h1>
<footer class="foot"><p>Old Ropeworks, Tanner Street</p><p><a href="contact.html">01632 960142</a></p></footer></body></html>`

// A link in a footer tells at once on how many pages that footer is, and on which another one stands in its place.
func TestALinkInAFooterTellsOnHowManyPagesItIs(t *testing.T) {
	t.Parallel()
	ctx := context.Background()
	w := newWorld(t, true)
	w.must(os.Mkdir(filepath.Join(w.dir, "deep"), 0o755))
	for _, name := range []string{"one", "two", "three", "deep/four"} {
		page := strings.ReplaceAll(footed, "%", name)
		if strings.HasPrefix(name, "deep") {
			page = strings.Replace(page, `href="contact`, `href="../contact`, 1) // the same link, written otherwise
		}
		w.write(name+".html", page)
	}
	w.write("other.html", strings.Replace(strings.ReplaceAll(footed, "%", "other"), "960142", "960999", 1))
	w.write("bare.html", "<html><head><title>Bare</title></head><body><h1>Bare</h1></body></html>")
	w.takeIn()
	n := w.request("the phone")
	for _, c := range []struct{ address, kind, words string }{{"/one.html", "link", "01632"}, {"/deep/four.html", "section", "Tanner"}} {
		_, p := w.part(n, c.address, c.kind, c.words)
		v, err := w.d.Shared(ctx, n, w.pages[c.address], p.ID)
		w.must(err)
		if v.Pages != 4 || len(v.Differing) != 1 || v.Differing[0].Address != "/other.html" || v.Differing[0].Say != "“960999” instead of “960142”" || v.Part == "" {
			t.Errorf("%s: %+v", c.address, v)
		}
	}
	_, p := w.part(n, "/one.html", "heading", "one")
	if v, err := w.d.Shared(ctx, n, w.pages["/one.html"], p.ID); err != nil || v.Part != "" || v.Pages != 0 {
		t.Errorf("a heading of its own: %+v, %v", v, err)
	}
}

// footedWorld is a site of four pages with the same footer, one in a folder, one whose footer has another phone
// number, and one whose footer has a line more.
func footedWorld(t *testing.T) (w *world, before map[string]string) {
	t.Helper()
	w = newWorld(t, true)
	w.must(os.Mkdir(filepath.Join(w.dir, "deep"), 0o755))
	before = map[string]string{}
	for _, name := range []string{"one", "two", "three", "deep/four", "other", "more"} {
		page := strings.ReplaceAll(footed, "%", name)
		switch name {
		case "deep/four":
			page = strings.Replace(page, `href="contact`, `href="../contact`, 1)
		case "other":
			page = strings.Replace(page, "960142", "960999", 1)
		case "more":
			page = strings.Replace(page, "Tanner Street</p>", "Tanner Street</p><p>Parking behind the house</p>", 1)
		}
		before[name+".html"] = page
		w.write(name+".html", page)
	}
	w.write("contact.html", "<html lang=\"en\"><head><title>Contact</title></head><body><h1>Contact</h1></body></html>")
	w.takeIn()
	return w, before
}

// everywhere keeps other words in a shared part, on all pages that have it.
func (w *world) everywhere(n int64, address, old, new string) int64 {
	w.t.Helper()
	ctx := context.Background()
	_, p := w.part(n, address, "link", old)
	_, err := w.d.ChooseShared(ctx, w.who, n, w.pages[address], p.ID, true)
	w.must(err)
	w.must(w.reword(n, address, old, new, false))
	v, err := w.d.Bench(ctx, n, w.pages[address])
	w.must(err)
	return v.Changes[len(v.Changes)-1].ID
}

// spreads does jobs until a change stands on all its pages.
func (w *world) spreads(n, id int64) (v api.ChangePages) {
	w.t.Helper()
	w.until("the change is on all pages", func() bool {
		w.d.DoNext(context.Background())
		var err error
		v, err = w.d.ChangePages(context.Background(), n, id)
		w.must(err)
		return v.Coming == 0 && len(v.Left) > 0
	})
	return v
}

func addresses(ps []api.ChangePage) (all []string) {
	for _, p := range ps {
		all = append(all, p.Address)
	}
	return all
}

func TestASharedPartIsChangedOnAllPagesAsOneChange(t *testing.T) {
	t.Parallel()
	ctx := context.Background()
	w, before := footedWorld(t)
	n := w.request("The phone is 01632 960143 now")
	if err := w.reword(n, "/one.html", "01632 960142", "01632 960143", false); !refusal.Is(err, refusal.Rule) || !strings.Contains(err.Error(), "is on 4 pages. Say first") {
		t.Fatalf("before it is said where: %v", err)
	}
	id := w.everywhere(n, "/one.html", "01632 960142", "01632 9601")
	w.must(w.reword(n, "/one.html", "01632 9601", "01632 960143", false)) // typed on
	v := w.spreads(n, id)
	if got := strings.Join(addresses(v.Pages), " "); got != "/deep/four.html /three.html /two.html" {
		t.Errorf("on %s", got)
	}
	if len(v.Left) != 2 || v.Left[0].Address != "/more.html" || v.Left[0].Why != "“Parking behind the house” besides" || v.Left[1].Why != "“960999” instead of “960142”" {
		t.Errorf("left %+v", v.Left)
	}
	swapped := func(file string) string { return strings.Replace(before[file], "960142", "960143", 1) }
	for _, file := range []string{"one.html", "two.html", "three.html", "deep/four.html"} {
		if got := w.drafted(n, "/"+file); got != swapped(file) {
			t.Errorf("the draft of %s is\n%s", file, got)
		}
	}

	// A page that differs: where its phone is another one, the change cannot be made; where it is the same, it can.
	v, err := w.d.ChoosePage(ctx, w.who, n, id, w.pages["/other.html"], true)
	w.must(err)
	if len(v.Left) != 2 || !strings.Contains(v.Left[1].Why, "does not stand there") {
		t.Errorf("%+v", v.Left)
	}
	v, err = w.d.ChoosePage(ctx, w.who, n, id, w.pages["/more.html"], true)
	w.must(err)
	if got := strings.Join(addresses(v.Pages), " "); got != "/deep/four.html /more.html /three.html /two.html" || w.drafted(n, "/more.html") != swapped("more.html") {
		t.Errorf("on %s", got)
	}
	v, err = w.d.ChoosePage(ctx, w.who, n, id, w.pages["/two.html"], false)
	w.must(err)
	if len(v.Left) != 2 || w.drafted(n, "/two.html") != before["two.html"] {
		t.Errorf("two.html is not left: %+v", v.Left)
	}
	_, err = w.d.ChoosePage(ctx, w.who, n, id, w.pages["/two.html"], true)
	w.must(err)

	p, err := w.d.Proof(ctx, n)
	w.must(err)
	if len(p.Pages) != 1 || p.OtherPages != 4 || len(p.Pages[0].Changes) != 1 || p.Pages[0].Changes[0].OnPages != 5 || p.Pages[0].Changes[0].LeftOn != 1 || !p.CanSend {
		t.Errorf("the proof: %d pages, %d others, %+v, %s", len(p.Pages), p.OtherPages, p.Pages[0].Changes, p.WhyNotSend)
	}
	for _, f := range p.Findings {
		if f.Level == api.LevelStop {
			t.Errorf("%s", f.Say)
		}
	}
	rel := w.goLive(n)
	for file := range before {
		want := swapped(file)
		if file == "other.html" {
			want = before[file]
		}
		if got := w.read(file); got != want {
			t.Errorf("live, %s is\n%s", file, got)
		}
	}
	if len(rel.Steps) != 5 {
		t.Errorf("%d steps", len(rel.Steps))
	}

	// Taken back alone, on all pages where it is live, though others changed one of them since.
	w.write("three.html", strings.Replace(w.read("three.html"), "<h1>three", "<h1>The third", 1))
	w.takeIn()
	b, err := w.d.Bench(ctx, n, w.pages["/one.html"])
	w.must(err)
	_, err = w.d.Keep(ctx, w.who, n, w.pages["/one.html"], Ask{Draft: b.Draft, Act: &act.TakeBack{Change: id}})
	w.must(err)
	w.goLive(n)
	for file, want := range before {
		if file == "three.html" {
			want = strings.Replace(want, "<h1>three", "<h1>The third", 1)
		}
		if got := w.read(file); got != want {
			t.Errorf("taken back, %s is\n%s", file, got)
		}
	}
}

func TestASharedPartIsChangedOnOnePage(t *testing.T) {
	t.Parallel()
	ctx := context.Background()
	w, before := footedWorld(t)
	n := w.request("Only on the first page")
	_, p := w.part(n, "/one.html", "link", "01632")
	b, err := w.d.ChooseShared(ctx, w.who, n, w.pages["/one.html"], p.ID, false)
	w.must(err)
	said := 0
	for _, p := range b.Parts {
		if p.Reach == api.ReachThis {
			said++
		}
	}
	if said != 1 {
		t.Errorf("%d parts say that they change on this page only", said)
	}
	w.must(w.reword(n, "/one.html", "01632 960142", "01632 960143", false))
	if got := w.drafted(n, "/two.html"); got != before["two.html"] {
		t.Errorf("two.html changes too:\n%s", got)
	}

	// Said otherwise, the change follows; and back.
	id := b.Changes
	b, err = w.d.ChooseShared(ctx, w.who, n, w.pages["/one.html"], p.ID, true)
	w.must(err)
	if len(id) != 0 || len(b.Changes) != 1 || b.Changes[0].OnPages != 4 {
		t.Errorf("%+v", b.Changes)
	}
	if got := w.drafted(n, "/two.html"); !strings.Contains(got, "960143") {
		t.Errorf("two.html does not change:\n%s", got)
	}
	b, err = w.d.ChooseShared(ctx, w.who, n, w.pages["/one.html"], p.ID, false)
	w.must(err)
	if got := w.drafted(n, "/two.html"); got != before["two.html"] || b.Changes[0].OnPages != 1 {
		t.Errorf("two.html changes still")
	}
}

func TestLaterChangesOfASharedPartStandOnEarlierOnes(t *testing.T) {
	t.Parallel()
	ctx := context.Background()
	w, before := footedWorld(t)
	n := w.request("The phone, and the street")
	first := w.everywhere(n, "/one.html", "01632 960142", "01632 960143")
	// Another page leads the next one, in the same part.
	w.must(w.reword(n, "/two.html", "Old Ropeworks, Tanner Street", "New Ropeworks, Tanner Street", false))
	w.must(w.reword(n, "/two.html", "01632 960143", "01632 960144", false))
	want := strings.NewReplacer("960142", "960144", "Old Rope", "New Rope").Replace(before["deep/four.html"])
	if got := w.drafted(n, "/deep/four.html"); got != want {
		t.Errorf("the draft is\n%s", got)
	}
	if _, err := w.d.Drop(ctx, w.who, n, first); !refusal.Is(err, refusal.Rule) || !strings.Contains(err.Error(), "A later change stands in") {
		t.Errorf("taken out below a later one: %v", err)
	}
	b, err := w.d.Bench(ctx, n, w.pages["/two.html"])
	w.must(err)
	if len(b.Changes) != 3 {
		t.Fatalf("%d changes", len(b.Changes))
	}
	_, err = w.d.Drop(ctx, w.who, n, b.Changes[2].ID)
	w.must(err)
	_, err = w.d.Drop(ctx, w.who, n, first)
	w.must(err)
	for _, file := range []string{"one.html", "two.html", "deep/four.html"} {
		if got, want := w.drafted(n, "/"+file), strings.Replace(before[file], "Old Rope", "New Rope", 1); got != want {
			t.Errorf("the draft of %s is\n%s", file, got)
		}
	}
	// A page that others changed in the meantime is left, and said so; one that they changed elsewhere is not.
	w.write("three.html", strings.Replace(before["three.html"], "Tanner Street", "Tanner Lane", 1))
	w.write("deep/four.html", strings.Replace(before["deep/four.html"], "<h1>deep", "<h1>Deep", 1))
	w.takeIn()
	if got := w.drafted(n, "/three.html"); got != w.read("three.html") {
		t.Errorf("three.html is changed:\n%s", got)
	}
	if got := w.drafted(n, "/deep/four.html"); got != strings.NewReplacer("Old Rope", "New Rope", "<h1>deep", "<h1>Deep").Replace(before["deep/four.html"]) {
		t.Errorf("deep/four.html is\n%s", got)
	}
	v, err := w.d.ChangePages(ctx, n, b.Changes[1].ID)
	w.must(err)
	if !strings.Contains(strings.Join(addresses(v.Left), " "), "/three.html") {
		t.Errorf("left: %+v", v.Left)
	}
}

// What is put beside a shared part is put there on this page alone, or on every page that has it, as it was asked for.
func TestSomethingIsPutBesideASharedPart(t *testing.T) {
	t.Parallel()
	ctx := context.Background()
	w, before := footedWorld(t)
	n := w.request("A notice above the footer, on all pages")
	put := func(beside bool, part string) error {
		b, p := w.part(n, "/one.html", "section", part)
		a := &act.Insert{Part: p.ID, Where: "before", HTML: `<p>Closed on Monday, <a href="contact.html">ask us</a>.</p>`}
		_, err := w.d.Keep(ctx, w.who, n, w.pages["/one.html"], Ask{Draft: b.Draft, Act: a, Beside: beside})
		return err
	}
	w.must(put(false, "Old Ropeworks"))
	if w.drafted(n, "/deep/four.html") != before["deep/four.html"] {
		t.Error("it stands on another page, too")
	}
	w.dropAll(n, "/one.html")
	w.must(put(true, "Old Ropeworks"))
	got := w.drafted(n, "/deep/four.html")
	if !strings.Contains(got, "<p>Closed on Monday, <a href=\"../contact.html\">ask us</a>.</p>") || strings.Index(got, "Closed") > strings.Index(got, "<footer") {
		t.Errorf("the draft is\n%s", got)
	}
	w.goLive(n)
	for _, file := range []string{"one.html", "two.html", "three.html", "deep/four.html"} {
		if !strings.Contains(w.read(file), "Closed on Monday") {
			t.Errorf("%s has it not", file)
		}
	}
	if w.read("other.html") != before["other.html"] {
		t.Error("a page that differs has it")
	}
}
