package desk

import (
	"context"
	"fmt"
	"net/http"
	"net/http/httptest"
	"slices"
	"strings"
	"testing"

	"mendry/api"
	"mendry/internal/core/act"
	"mendry/internal/core/change"
	"mendry/internal/core/refusal"
)

// otherSite is a site with films: a page with a player, one without, a film itself, a page that lies.
func otherSite(t *testing.T) string {
	t.Helper()
	var base string
	s := httptest.NewServer(http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		switch r.URL.Path {
		case "/watch":
			w.Header().Set("Content-Type", "text/html; charset=utf-8")
			fmt.Fprint(w, `<link rel="alternate" type="application/json+oembed" href="/oembed?x=1">`)
		case "/oembed":
			w.Header().Set("Content-Type", "application/json")
			fmt.Fprintf(
				w,
				`{"type":"video","title":"A night","width":640,"height":360,"html":"<iframe src='%s/embed'></iframe>"}`,
				base,
			)
		case "/lying":
			w.Header().Set("Content-Type", "text/html")
			fmt.Fprint(w, `<link rel="alternate" type="application/json+oembed" href="/watch">`)
		case "/embed", "/page":
			w.Header().Set("Content-Type", "text/html")
			fmt.Fprint(w, `<p>A film</p>`)
		case "/film.mp4":
			w.Header().Set("Content-Type", "video/mp4")
			fmt.Fprint(w, "film")
		case "/run.exe":
			w.Header().Set("Content-Type", "application/octet-stream")
		default:
			http.NotFound(w, r)
		}
	}))
	t.Cleanup(s.Close)
	base = s.URL
	return base
}

func TestWhatPlaysAtAnAddress(t *testing.T) {
	t.Parallel()
	w := newWorld(t, true, "a")
	other := otherSite(t)
	for address, want := range map[string]api.VideoToldKind{
		other + "/watch": api.VideoKindPlayer, other + "/page": api.VideoKindPage, other + "/film.mp4": api.VideoKindFilm,
		other + "/lying": "", other + "/run.exe": "", other + "/nothing": "", "javascript:alert(1)": "", "file:///etc/passwd": "", "": "",
	} {
		v, err := w.d.Video(context.Background(), address)
		if v.Kind != want && err == nil || (err == nil) != (want != "") ||
			err != nil && refusal.Of(err) == nil && !strings.Contains(err.Error(), "nothing") {
			t.Errorf("%s: %+v, %v", address, v, err)
		}
	}
	v, err := w.d.Video(context.Background(), other+"/watch")
	if err != nil || v.Title != "A night" || v.Width != 640 || v.Height != 360 {
		t.Errorf("%+v, %v", v, err)
	}
}

// A film of one's own goes out with its cover and captions, files before the page; taken back, nothing is left behind.
func TestAFilmGoesOutWithItsCoverAndComesBack(t *testing.T) {
	t.Parallel()
	ctx := context.Background()
	w := newWorld(t, true, "a")
	before, had := w.read("a.html"), w.files()
	number := w.request("The film, please.")
	v, err := w.d.Bench(ctx, number, w.pages["/a.html"])
	w.must(err)
	at := slices.IndexFunc(v.Parts, func(p api.Part) bool { return p.Kind == "words" })
	film := "\x00\x00\x00\x18ftypmp42\x00\x00\x00\x00mp42isom\x00\x00\x00\x0cmoovxxxx"
	a := &act.PutVideo{
		Part: v.Parts[at].ID, Where: change.After, Attachment: w.attach(number, "Our Film.MP4", []byte(film)), Title: "Our film",
		Captions: w.attach(number, "words.vtt", []byte("WEBVTT\n\n00:01.000 --> 00:04.000\nWelcome.\n")),
		Cover:    act.Pick{Attachment: w.attach(number, "Cover.jpg", photo(t, 640, 480))},
	}
	_, err = w.d.Keep(ctx, w.who, number, w.pages["/a.html"], Ask{Draft: v.Draft, Act: a})
	w.must(err)
	cs, err := w.d.thread(ctx, number)
	w.must(err)
	if len(cs) != 1 || cs[0].Kind != "video" || cs[0].Film == nil || cs[0].AfterPicture == "" ||
		len(*cs[0].Files) != 2 {
		t.Fatalf("%+v", cs)
	}
	p, err := w.d.Proof(ctx, number)
	w.must(err)
	for _, f := range p.Pages[0].Findings {
		if f.Level == "stop" {
			t.Errorf("%+v", f)
		}
	}
	rel := w.goLive(number)
	now := w.read("a.html")
	for _, want := range []string{`poster="cover.jpg"`, `<source src="/files/our-film.mp4"`, `<track kind="captions" src="/files/words.vtt"`} {
		if !strings.Contains(now, want) {
			t.Errorf("it lacks %s: %s", want, now)
		}
	}
	if w.read("files/our-film.mp4") != film || len(w.files()) != len(had)+3 {
		t.Errorf("%v", w.files())
	}
	w.takeBack(rel, "a.html", before)
	if got := w.files(); !slices.Equal(got, had) {
		t.Errorf("left behind: %v", got)
	}
}
