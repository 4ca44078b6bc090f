package desk

import (
	"context"
	"fmt"
	"strings"
	"testing"

	"mendry/api"
	"mendry/internal/core/act"
	"mendry/internal/core/refusal"
	"mendry/internal/store"
)

// Every version of a page is known, also of what others did before the first release, and comes back: a part, a
// section, the whole page.
func TestAPageComesBackAsItWas(t *testing.T) {
	t.Parallel()
	ctx := context.Background()
	w := newWorld(t, true, "a")
	start := w.read("a.html")
	w.write("a.html", strings.Replace(start, "On a lead.", "On a lead, always.", 1)) // somebody else, before anything was published
	w.must(w.d.TakeInPage(ctx, w.who, w.pages["/a.html"]))
	one := w.release("A single is £6.90.", "A single is £7.10.")
	w.write("a.html", strings.Replace(w.read("a.html"), "<h2>Dogs</h2>", "<h2>Dogs and cats</h2>", 1)) // and again
	w.must(w.d.TakeInPage(ctx, w.who, w.pages["/a.html"]))
	n := w.request("as it was")
	_, p := w.part(n, "/a.html", "section", "Dogs")
	w.make(n, "/a.html", &act.Remove{Part: p.ID})
	w.goLive(n)
	now := w.read("a.html")

	n = w.request("all as it was")
	page := w.pages["/a.html"]
	vs, err := w.d.Versions(ctx, n, page)
	w.must(err)
	var got []string
	for _, v := range vs {
		got = append(got, fmt.Sprintf("%s %s %t %t", v.Say, v.Who, v.Now, v.Start))
	}
	want := []string{
		fmt.Sprintf("published for request %d Ines Oakley true false", n-1), "changed elsewhere, not through Mendry  false false",
		fmt.Sprintf("published for request %d Ines Oakley false false", one), "changed elsewhere, not through Mendry  false false",
		"the starting state, as Mendry first knew it  false true",
	}
	if strings.Join(got, "\n") != strings.Join(want, "\n") {
		t.Fatalf("%s\nnot\n%s", strings.Join(got, "\n"), strings.Join(want, "\n"))
	}
	first := vs[len(vs)-1].ID
	told, err := w.d.CompareVersion(ctx, n, page, first)
	w.must(err)
	if len(told.Rows) != 2 || told.Same || !told.Version.Start {
		t.Fatalf("%+v", told)
	}
	for _, row := range told.Rows { // the fare, and the section that is gone: each alone
		b, err := w.d.Bench(ctx, n, page)
		w.must(err)
		b, err = w.d.Keep(ctx, w.who, n, page, Ask{Draft: b.Draft, Act: &act.Restore{Version: first, Row: row.Key}})
		w.must(err)
		alone := strings.Replace(now, "£7.10", "£6.90", 1)
		if row.Kind == api.ChangeKindSection {
			alone = strings.Replace(start, "£6.90", "£7.10", 1)
		}
		if got := w.drafted(n, "/a.html"); got != alone {
			t.Errorf("%s: the draft is\n%q\nnot\n%q", row.Key, got, alone)
		}
		if b.Made == nil || len(b.Changes) != 1 || !strings.HasSuffix(b.Changes[0].Say, " as it was at the start") {
			t.Errorf("%+v", b.Changes)
		}
		_, err = w.d.Drop(ctx, w.who, n, b.Changes[0].ID)
		w.must(err)
	}
	b, err := w.d.Bench(ctx, n, page)
	w.must(err)
	for _, no := range []act.Restore{{Version: first + 100}, {Version: first, Row: "words changed nothing-1"}, {Version: first, Part: "section-99"}} {
		if _, err := w.d.Keep(ctx, w.who, n, page, Ask{Draft: b.Draft, Act: &no}); refusal.Of(err) == nil {
			t.Errorf("%+v: %v", no, err)
		}
	}
	_, err = w.d.Keep(ctx, w.who, n, page, Ask{Draft: b.Draft, Act: &act.Restore{Version: first}})
	w.must(err)
	if told, err = w.d.CompareVersion(ctx, n, page, first); err != nil || !told.Same || len(told.Rows) != 0 {
		t.Errorf("%+v, %v", told, err)
	}
	rel := w.goLive(n)
	if got := w.read("a.html"); got != start {
		t.Errorf("live is\n%s", got)
	}
	w.takeBack(rel, "a.html", now)
	if vs, err = w.d.Versions(ctx, n, page); err != nil || len(vs) != 7 || vs[0].Say != fmt.Sprintf("taken back, request %d", n) {
		t.Errorf("%+v, %v", vs, err)
	}
}

// A section whose parts changed comes back whole; an earlier version is shown in the view of a draft, and none of
// another page.
func TestASectionComesBackAndAnEarlierVersionIsShown(t *testing.T) {
	t.Parallel()
	ctx := context.Background()
	w := newWorld(t, true, "a", "b")
	start := w.read("a.html")
	n := w.request("dogs")
	w.must(w.keep(n, "/a.html", "Dogs", "Hounds"))
	w.must(w.keep(n, "/a.html", "On a lead.", "On a long lead."))
	w.must(w.keep(n, "/a.html", "A single is £6.90.", "A single is £7.10."))
	w.goLive(n)
	n = w.request("as it was")
	page := w.pages["/a.html"]
	vs, err := w.d.Versions(ctx, n, page)
	w.must(err)
	first := vs[len(vs)-1].ID
	told, err := w.d.CompareVersion(ctx, n, page, first)
	w.must(err)
	sections := map[string]int{}
	for _, row := range told.Rows {
		if row.Section != nil {
			sections[*row.Section]++
		}
	}
	b, p := w.part(n, "/a.html", "section", "Hounds")
	if len(told.Rows) != 3 || sections[p.ID] != 2 {
		t.Fatalf("%+v", told)
	}
	_, err = w.d.Keep(ctx, w.who, n, page, Ask{Draft: b.Draft, Act: &act.Restore{Version: first, Part: p.ID}, Here: true})
	w.must(err)
	if got, want := w.drafted(n, "/a.html"), strings.Replace(start, "£6.90", "£7.10", 1); got != want {
		t.Errorf("the draft is\n%q\nnot\n%q", got, want)
	}
	view := store.Preview{SiteID: w.site.ID, RequestID: &n, View: "draft", Marked: true}
	for query, want := range map[string]string{fmt.Sprintf("mendry-version=%d", first): start, "mendry-version=x": ""} {
		c, err := w.d.ViewFile(ctx, view, "/a.html", query)
		w.must(err)
		if want != "" && string(c.Bytes) != want || want == "" && string(c.Bytes) == start {
			t.Errorf("%s shows\n%s", query, c.Bytes)
		}
	}
	if c, err := w.d.ViewFile(ctx, view, "/b.html", fmt.Sprintf("mendry-version=%d", first)); err != nil || strings.Contains(string(c.Bytes), "Page a") {
		t.Errorf("another page's version is shown: %v", err)
	}
}
