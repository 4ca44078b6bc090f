package desk

import (
	"context"
	"fmt"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"testing"

	"mendry/api"
	"mendry/internal/core/act"
	"mendry/internal/core/change"
)

// part finds a part of the draft by what it says.
func (w *world) part(number int64, address, kind, words string) (api.Bench, api.Part) {
	w.t.Helper()
	b, err := w.d.Bench(context.Background(), number, w.pages[address])
	w.must(err)
	for _, p := range b.Parts {
		if p.Kind == kind && strings.Contains(p.Text, words) {
			return b, p
		}
	}
	w.t.Fatalf("no %s says %q on %s", kind, words, address)
	return b, api.Part{}
}

func TestTheEditorsMarkupIsKeptAndWhatStandsBackIsTakenOut(t *testing.T) {
	t.Parallel()
	ctx := context.Background()
	w := newWorld(t, true, "a")
	n := w.request("x")
	b, p := w.part(n, "/a.html", "words", "A single")
	if p.Edit != "A single is £6.90." {
		t.Errorf("the editor gets %q", p.Edit)
	}
	v, err := w.d.Keep(ctx, w.who, n, w.pages["/a.html"], Ask{Draft: b.Draft, Act: &act.Markup{Part: p.ID, HTML: `A <strong>single</strong> is £6.90.`}})
	w.must(err)
	if len(v.Changes) != 1 || v.Changes[0].Say != "Opening words: “single” is now bold" {
		t.Errorf("%+v", v.Changes)
	}
	b, p = w.part(n, "/a.html", "words", "A single")
	if v, err = w.d.Keep(ctx, w.who, n, w.pages["/a.html"], Ask{Draft: b.Draft, Act: &act.Markup{Part: p.ID, HTML: `A single is £6.90.`}}); err != nil || len(v.Changes) != 0 {
		t.Errorf("typed back: %+v %v", v.Changes, err)
	}
	b, p = w.part(n, "/a.html", "words", "A single")
	if _, err = w.d.Keep(ctx, w.who, n, w.pages["/a.html"], Ask{Draft: b.Draft, Act: &act.Markup{Part: p.ID, HTML: `<img src=x onerror=alert(1)>`}}); err == nil {
		t.Error("a picture was taken for words")
	}
}

func TestPastedParagraphsArePutBelowAndPublished(t *testing.T) {
	t.Parallel()
	ctx := context.Background()
	w := newWorld(t, true, "a")
	before := w.read("a.html")
	n := w.request("x")
	b, p := w.part(n, "/a.html", "words", "A single")
	_, err := w.d.Keep(ctx, w.who, n, w.pages["/a.html"], Ask{Draft: b.Draft, Act: &act.Insert{Part: p.ID, Where: change.After, HTML: `<p class=x onclick=y>More <b style="color:red">words</b></p><script>z</script>`}})
	w.must(err)
	proof, err := w.d.Proof(ctx, n)
	w.must(err)
	for _, f := range append(proof.Findings, proof.Pages[0].Findings...) {
		if f.Level == api.LevelStop {
			t.Errorf("%+v", f)
		}
	}
	w.goLive(n)
	if want := strings.Replace(before, "£6.90.</p>", "£6.90.</p><p>More <strong>words</strong></p>", 1); w.read("a.html") != want {
		t.Errorf("the host has\n%s", w.read("a.html"))
	}
}

// The number that is shown, the one that a link dials without showing it, and the page's sentence: all follow; a
// number that counts something else and the words of a copy are let alone.
func TestTheSameElsewhereRightly(t *testing.T) {
	t.Parallel()
	ctx := context.Background()
	w := newWorld(t, true, "a", "b", "c")
	swap := func(file, old, new string) {
		t.Helper()
		w.write(file, strings.Replace(w.read(file), old, new, 1))
	}
	swap("a.html", "A single is £6.90.", `Call 01632 960199. Dogs are welcome on a lead.</p><p>The Alder has 14 berths.`)
	swap("b.html", "A single is £6.90.", `Call <a href="tel:+441632960199">01632 960 199</a> or <a href="tel:+441632960199">the quay</a>. Dogs are welcome on a lead.`)
	swap("c.html", "A single is £6.90.", `KW-14 has 14 berths and 14 lights. Ring 960199.`)
	w.takeIn()
	n := w.request("x")
	reword := func(says, from, to string) api.Elsewhere {
		t.Helper()
		b, p := w.part(n, "/a.html", "words", says)
		v, err := w.d.Keep(ctx, w.who, n, w.pages["/a.html"], Ask{Draft: b.Draft, Act: &act.Words{Part: p.ID, Words: strings.Replace(p.Text, from, to, 1)}})
		w.must(err)
		i := slices.IndexFunc(v.Changes, func(c api.Change) bool { return c.PageID == w.pages["/a.html"] && c.Part == p.ID })
		e, err := w.d.Elsewhere(ctx, n, v.Changes[i].ID, false)
		w.must(err)
		return e
	}
	listed := func(e api.Elsewhere) (all []string) {
		for _, p := range e.Places {
			all = append(all, fmt.Sprintf("%s %s %v", p.Address, p.Old, p.Sure))
		}
		return all
	}
	e := reword("Call 01632", "01632 960199", "01632 960110")
	if got := fmt.Sprint(listed(e)); got != "[/b.html 01632 960 199 true /b.html +441632960199 true /c.html 960199 true]" {
		t.Errorf("a phone number: %s", got)
	}
	var picks []api.ElsewherePick
	for _, p := range e.Places[:2] {
		picks = append(picks, api.ElsewherePick{PageID: p.PageID, Part: p.Part})
	}
	b, _ := w.part(n, "/a.html", "words", "Call 01632")
	if _, err := w.d.ChangeElsewhere(ctx, w.who, n, b.Changes[0].ID, api.ElsewhereForm{Places: picks}); err != nil {
		t.Fatal(err)
	}
	if got := w.drafted(n, "/b.html"); !strings.Contains(got, `Call <a href="tel:+441632960110">01632 960110</a> or <a href="tel:+441632960110">the quay</a>. Dogs are welcome on a lead.`) {
		t.Errorf("b.html says %s", got)
	}
	e = reword("The Alder", "14", "15")
	if got := fmt.Sprint(listed(e)); got != "[/c.html 14 true]" || !strings.Contains(e.Places[0].Around[0].Text, "KW-14 has") {
		t.Errorf("a number: %s", got)
	}
	e = reword("Call 01632", "Dogs are welcome on a lead", "Dogs travel free")
	if got := fmt.Sprint(listed(e)); got != "[/b.html Dogs are welcome on a lead. true /c.html 960199 true]" || e.New != "Dogs travel free." {
		t.Errorf("a sentence: %s, to be %q", got, e.New)
	}
	b, p := w.part(n, "/c.html", "words", "KW-14")
	v, err := w.d.Keep(ctx, w.who, n, w.pages["/c.html"], Ask{Draft: b.Draft, Act: &act.Copy{Part: p.ID}})
	w.must(err)
	copied := v.Changes[len(v.Changes)-1].Part
	v, err = w.d.Keep(ctx, w.who, n, w.pages["/c.html"], Ask{Draft: v.Draft, Act: &act.Words{Part: copied, Words: "KW-15 has 15 berths. Ring 960199."}})
	w.must(err)
	if e, err = w.d.Elsewhere(ctx, n, v.Changes[len(v.Changes)-1].ID, false); err != nil || len(e.Places) != 0 {
		t.Errorf("a copy: %v %v", listed(e), err)
	}
}

// The word of a link may mean anything, but where it is the whole of a link to the same page; such come first.
func TestTheSameLinkElsewhereIsSureAndComesFirst(t *testing.T) {
	t.Parallel()
	ctx := context.Background()
	w := newWorld(t, true)
	for _, f := range []string{"a.html", "b.html", "way/c.html"} {
		to := map[bool]string{false: "fares.html", true: "../fares.html"}[strings.Contains(f, "/")]
		w.must(os.MkdirAll(filepath.Join(w.dir, "way"), 0o750))
		w.write(f, "<!doctype html><title>"+f+"</title><main><h1>"+f+"</h1><p>Fares of "+f+" are fair.</p><p><a href=\""+to+"\">Fares</a></p><p>See <a href=\"other.html\">Fares</a>.</p></main>")
	}
	w.takeIn()
	n := w.request("Call the fares prices.")
	b, p := w.part(n, "/a.html", "link", "Fares")
	v, err := w.d.Keep(ctx, w.who, n, w.pages["/a.html"], Ask{Draft: b.Draft, Act: &act.Words{Part: p.ID, Words: "Prices"}, Here: true})
	w.must(err)
	e, err := w.d.Elsewhere(ctx, n, v.Changes[0].ID, false)
	w.must(err)
	var got []string
	for _, p := range e.Places {
		got = append(got, fmt.Sprintf("%s %v", p.Address, p.Sure))
	}
	if want := "/b.html true /way/c.html true /a.html false /a.html false /b.html false /b.html false /way/c.html false /way/c.html false"; strings.Join(got, " ") != want {
		t.Errorf("%v\n%+v", got, e.Places)
	}
}

func TestOldWordsElsewhereAreChangedOrLeftWithAReason(t *testing.T) {
	t.Parallel()
	ctx := context.Background()
	w := newWorld(t, true, "a", "b", "c")
	n := w.request("£7.40 on all pages")
	w.must(w.keep(n, "/a.html", "A single is £6.90.", "A single is £7.40."))
	b, _ := w.part(n, "/a.html", "words", "A single")
	id := b.Changes[0].ID
	v, err := w.d.Elsewhere(ctx, n, id, false)
	if err != nil || v.Old != "£6.90" || v.New != "£7.40" || len(v.Places) != 2 {
		t.Fatalf("%+v %v", v, err)
	}
	proof, err := w.d.Proof(ctx, n)
	w.must(err)
	if len(proof.Findings) != 1 || proof.Findings[0].Rule != "same-elsewhere" || proof.Findings[0].Level != api.LevelLook {
		t.Errorf("checks say %+v", proof.Findings)
	}
	v, err = w.d.ChangeElsewhere(ctx, w.who, n, id, api.ElsewhereForm{Places: []api.ElsewherePick{{PageID: v.Places[0].PageID, Part: v.Places[0].Part}}})
	if err != nil || len(v.Places) != 1 {
		t.Fatalf("%+v %v", v, err)
	}
	if _, p := w.part(n, "/b.html", "words", "A single"); p.Text != "A single is £7.40." || p.ChangeID == nil {
		t.Errorf("b.html says %q", p.Text)
	}
	why := "Old prices stay in the archive"
	if v, err = w.d.ChangeElsewhere(ctx, w.who, n, id, api.ElsewhereForm{Places: []api.ElsewherePick{}, LeaveWhy: &why}); err != nil || v.LeftWhy != why {
		t.Errorf("%+v %v", v, err)
	}
	if proof, err = w.d.Proof(ctx, n); err != nil || len(proof.Findings) != 0 {
		t.Errorf("left on purpose, and still said: %+v %v", proof.Findings, err)
	}
	if _, err := w.d.ChangeElsewhere(ctx, w.who, n, id, api.ElsewhereForm{Places: []api.ElsewherePick{{PageID: w.pages["/c.html"], Part: "words-99"}}}); err == nil {
		t.Error("a place that is not there was accepted")
	}
	other := w.request("another letter")
	if _, err := w.d.Elsewhere(ctx, other, id, false); err == nil {
		t.Error("a change of another request was shown")
	}
}

func TestAPriceIsFoundInAnySpelling(t *testing.T) {
	t.Parallel()
	w := newWorld(t, true, "a")
	found, err := w.d.Find(context.Background(), Sought{Words: "6.90 GBP", Site: w.site.ID})
	if err != nil || len(found) != 1 || found[0].PartName != "Opening words" {
		t.Errorf("%+v %v", found, err)
	}
}

func TestALettersWishesAreProposedWithTheirPlaces(t *testing.T) {
	t.Parallel()
	w := newWorld(t, true, "a", "b")
	n := w.request("Dear Ines,\n\nplease change “On a lead” to “On a short lead”. Thank you 🙂")
	ps, err := w.d.Proposals(context.Background(), n)
	if err != nil || len(ps) != 1 || len(ps[0].Places) != 2 || ps[0].Places[0].Part != "words-2" {
		t.Fatalf("%+v %v", ps, err)
	}
	r, err := w.d.AddWish(context.Background(), n, api.WishForm{Start: ps[0].Start, End: ps[0].End})
	if err != nil || r.Wishes[0].Words != ps[0].Words {
		t.Errorf("%+v %v", r.Wishes, err)
	}
	if ps, err = w.d.Proposals(context.Background(), n); err != nil || len(ps) != 0 {
		t.Errorf("a wish is proposed again: %+v %v", ps, err)
	}
}

// The number at the foot of all pages is one place, whether the letter says how it was, calls it by its name, or says
// the new one alone.
func TestANumberAtTheFootOfEveryPageIsProposedThere(t *testing.T) {
	t.Parallel()
	w := newWorld(t, true)
	for _, name := range []string{"index", "fares", "boats"} {
		w.write(name+".html", "<!doctype html><title>"+name+"</title><main><h1>"+name+"</h1><p>Words of "+name+".</p></main><footer><p>Ring us</p><ul><li><a href=\"tel:01632960110\">01632 960110</a></li></ul></footer>")
	}
	w.takeIn()
	for _, letter := range []string{
		"Our telephone number is 01632 960777 now instead of 01632 960110.", "Please change the phone at the foot of every page to 01632 960777.", "New telephone: 01632 960777, please use it.",
	} {
		ps, err := w.d.Proposals(context.Background(), w.request(letter))
		if err != nil || len(ps) == 0 || len(ps[0].Places) != 1 || !strings.Contains(fmt.Sprint(ps[0].Places[0].Around), "960110") {
			t.Errorf("%s: %+v %v", letter, ps, err)
		}
	}
}

const article = "---\ntitle: Beans\n---\n\n# Beans\n\nSow *early*,\ntwo to a hole.\n\n- one\n- two\n  - three\n"

func TestAMarkdownPageIsShownAsItsHostBuildsItAndPublishedAsMarkdown(t *testing.T) {
	t.Parallel()
	ctx := context.Background()
	w := newWorld(t, true, "a")
	w.write("beans.md", article)
	w.write("_layout.html", "<!doctype html><title>{{title}}</title><header>Bramble Row</header><main><article>{{body}}</article></main>")
	w.must(w.d.TakeIn(ctx, w.site.ID))
	w.until("the article is taken in", func() bool {
		w.d.DoNext(ctx)
		v, err := w.d.Site(ctx, w.site.ID)
		w.must(err)
		for _, p := range v.Pages {
			w.pages[p.Address] = p.ID
		}
		return v.Site.State == api.SiteStateReady && w.pages["/beans"] != 0
	})
	if w.pages["/_layout.html"] != 0 {
		t.Error("the builder's layout was taken for a page")
	}
	n := w.request("late, not early")
	b, p := w.part(n, "/beans", "words", "Sow early")
	_, err := w.d.Keep(ctx, w.who, n, w.pages["/beans"], Ask{Draft: b.Draft, Act: &act.Markup{Part: p.ID, HTML: `Sow <em>late</em>, two to a hole.`}})
	w.must(err)
	b, err = w.d.Bench(ctx, n, w.pages["/beans"])
	w.must(err)
	token := strings.TrimPrefix(strings.SplitN(b.DraftURL, ".", 2)[0], "http://")
	view, err := w.d.View(ctx, token)
	w.must(err)
	shown, err := w.d.ViewFile(ctx, view, "/beans", "")
	w.must(err)
	for _, want := range []string{"<header>Bramble Row</header>", `<h1 data-mendry="heading-1">Beans</h1>`, "Sow <em>late</em>", `<span data-mendry="words-3">two</span>`} {
		if !strings.Contains(string(shown.Bytes), want) {
			t.Errorf("the draft does not hold %s:\n%s", want, shown.Bytes)
		}
	}
	w.goLive(n)
	if got := w.read("beans.md"); got != strings.Replace(article, "early", "late", 1) {
		t.Errorf("the host has\n%s", got)
	}
	if _, err := os.Stat(filepath.Join(w.dir, "beans.html")); err == nil {
		t.Error("a built page was written to the host")
	}
}

func TestTryingALink(t *testing.T) {
	t.Parallel()
	w := newWorld(t, true, "a")
	for address, want := range map[string]string{
		w.site.PublicURL + "a.html":     "It answers",
		w.site.PublicURL + "nowhere":    "",
		"javascript:alert(1)":           "no outside address",
		"ftp://x.example/":              "no outside address",
		"http://169.254.169.254/latest": "",
	} {
		v, err := w.d.TryLink(context.Background(), address)
		if err != nil || !strings.Contains(v.Say, want) || v.Ok != (want == "It answers") || v.Say == "" {
			t.Errorf("%s: %+v %v", address, v, err)
		}
	}
}

func TestWordsAreReplacedAllOverASite(t *testing.T) {
	t.Parallel()
	ctx := context.Background()
	w := newWorld(t, true, "a", "b", "c")
	w.write("d.html", strings.Replace(w.read("a.html"), "On a lead.", "Dogs on a lead; no dogs below. Hotdogs are fine.", 1))
	w.takeIn()
	n := w.request("x")
	v, err := w.d.Everywhere(ctx, n, "dogs")
	w.must(err)
	if len(v.Places) != 5 { // the heading on each page, and the words on one
		t.Fatalf("%d places: %+v", len(v.Places), v.Places)
	}
	var picks []api.ElsewherePick
	for _, p := range v.Places {
		if p.Address != "/c.html" {
			picks = append(picks, api.ElsewherePick{PageID: p.PageID, Part: p.Part})
		}
	}
	v, err = w.d.ReplaceEverywhere(ctx, w.who, n, api.EverywhereForm{Old: "dogs", New: "pets", Places: picks})
	if err != nil || len(v.Places) != 1 || v.Places[0].Address != "/c.html" {
		t.Fatalf("left: %+v %v", v.Places, err)
	}
	for address, want := range map[string]string{"/b.html": "<h2>Pets</h2>", "/d.html": "<p>Pets on a lead; no pets below. Hotdogs are fine.</p>", "/c.html": "<h2>Dogs</h2>"} {
		dr, err := w.d.draftOf(ctx, w.s.Queries, n, w.pages[address])
		w.must(err)
		if !strings.Contains(string(dr.Page().Doc.Bytes), want) {
			t.Errorf("%s has\n%s", address, dr.Page().Doc.Bytes)
		}
	}
	for _, f := range []api.EverywhereForm{{Old: " ", New: "x", Places: picks}, {Old: "a", New: "a", Places: picks}, {Old: "dogs", New: "x", Places: picks}} {
		if _, err := w.d.ReplaceEverywhere(ctx, w.who, n, f); err == nil {
			t.Errorf("%+v was done", f)
		}
	}
}
