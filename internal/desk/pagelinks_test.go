package desk

import (
	"context"
	"net/http"
	"net/http/httptest"
	"strings"
	"testing"

	"mendry/api"
)

func TestEveryLinkOfAPageIsTried(t *testing.T) {
	t.Parallel()
	ctx := context.Background()
	w := newWorld(t, true, "a", "b")
	outside := httptest.NewServer(http.HandlerFunc(func(rw http.ResponseWriter, r *http.Request) {
		switch r.URL.Path {
		case "/moved":
			http.Redirect(rw, r, "/there", http.StatusMovedPermanently)
		case "/gone":
			http.NotFound(rw, r)
		}
	}))
	t.Cleanup(outside.Close)
	w.write("links.html", strings.Replace(pricesPage, "A single", `<a href="/b.html">Bb</a> <a href="/none.html">Nn</a> <a href="OUT/moved" target="_blank">Mm</a> <a href="OUT/gone" target="_blank">Gg</a>
		<a href="/b.html">here</a> <a href="mailto:a@b.example">Aa</a> A single`, 1))
	w.write("links.html", strings.ReplaceAll(w.read("links.html"), "OUT", outside.URL))
	w.takeIn()
	n := w.request("x")
	got, err := w.d.PageLinks(ctx, n, w.pages["/links.html"])
	w.must(err)
	want := map[string]struct {
		level api.Level
		say   string
	}{
		"Bb": {api.LevelFine, ""}, "Nn": {api.LevelStop, "There is no page /none.html"}, "Mm": {api.LevelLook, "without encryption"},
		"Gg": {api.LevelStop, ""}, "here": {api.LevelLook, "tells nobody"}, "Aa": {api.LevelFine, ""},
	}
	if len(got) != len(want) {
		t.Errorf("%+v", got)
	}
	for _, l := range got {
		if l.Level != want[l.Words].level || !strings.Contains(l.Say, want[l.Words].say) {
			t.Errorf("%+v, want %+v", l, want[l.Words])
		}
	}
}

func TestSpellingIsLearntMendedAndForgotten(t *testing.T) {
	t.Parallel()
	ctx := context.Background()
	w := newWorld(t, true, "a", "b")
	n := w.request("x")
	w.must(w.keep(n, "/a.html", "On a lead.", "Seperate kennels at Wrothbury."))
	find := func(words string) *api.Finding {
		proof, err := w.d.Proof(ctx, n)
		w.must(err)
		for _, f := range proof.Pages[0].Findings {
			if f.Rule == "spelling" && f.Words == words {
				return &f
			}
		}
		return nil
	}
	slip, name := find("Seperate"), find("Wrothbury")
	if slip == nil || slip.Mend != "Separate kennels at Wrothbury." || name == nil || name.Learn != "Wrothbury" {
		t.Fatalf("%+v %+v", slip, name)
	}
	w.must(w.d.Mend(ctx, w.who, n, api.MendForm{PageID: slip.PageID, Part: slip.Part, Words: slip.Mend}))
	w.must(w.d.LearnWord(ctx, w.who, w.site.ID, "Wrothbury"))
	if find("Seperate") != nil || find("Wrothbury") != nil {
		t.Error("it is still said")
	}
	b, p := w.part(n, "/a.html", "words", "kennels")
	if p.Text != "Separate kennels at Wrothbury." || len(b.Changes) != 1 {
		t.Errorf("%+v", b.Changes)
	}
	w.must(w.d.ForgetWord(ctx, w.who, w.site.ID, "Wrothbury"))
	if find("Wrothbury") == nil {
		t.Error("forgotten, and not said")
	}
	w.write("b.html", strings.Replace(w.read("b.html"), "On a lead.", "From Wrothbury.", 1)) // a name on another page is learnt by itself
	w.takeIn()
	if find("Wrothbury") != nil {
		t.Error("a name of another page is not known")
	}
	for _, word := range []string{"", "two words", "<b>", strings.Repeat("a", 61), "x1"} {
		if err := w.d.LearnWord(ctx, w.who, w.site.ID, word); err == nil {
			t.Errorf("%q was learnt", word)
		}
	}
}

func TestWhoseSpellingIsNotLookedAtIsSaid(t *testing.T) {
	t.Parallel()
	w := newWorld(t, true, "a")
	w.write("a.html", strings.Replace(w.read("a.html"), `lang="en"`, `lang="de"`, 1))
	w.takeIn()
	n := w.request("x")
	w.must(w.keep(n, "/a.html", "On a lead.", "An der Leine."))
	proof, err := w.d.Proof(context.Background(), n)
	w.must(err)
	for _, f := range proof.Pages[0].Findings {
		if f.Rule != "spelling" {
			continue
		}
		if want := "Spelling was not looked at. The page is in “de”, and there is no word list for that."; f.Say != want || f.Level != api.LevelLook {
			t.Errorf("%s: %s", f.Level, f.Say)
		}
		return
	}
	t.Errorf("nothing is said of the spelling: %+v", proof.Pages[0].Findings)
}

func TestTheTreeFollowsTheMenuAndSaysHowPagesStand(t *testing.T) {
	t.Parallel()
	ctx := context.Background()
	w := newWorld(t, true, "index", "b")
	w.write("index.html", strings.Replace(w.read("index.html"), "<body>", `<body><nav><a href="/prices.html">P</a> <a href="/b.html">B</a></nav>`, 1))
	w.write("prices.html", strings.Replace(pricesPage, "<title>", `<meta name="robots" content="noindex"><meta property="article:published_time" content="2026-03-01"><title>`, 1))
	w.takeIn()
	v, err := w.d.Site(ctx, w.site.ID)
	w.must(err)
	var got []string
	for _, p := range v.Pages {
		got = append(got, p.Address)
		if p.Address == "/prices.html" && (!p.Hidden || p.Dated == nil || p.Dated.Format("2006-01-02") != "2026-03-01") {
			t.Errorf("%+v", p)
		}
	}
	if strings.Join(got, " ") != "/ /prices.html /b.html" {
		t.Errorf("%v", got)
	}
}
