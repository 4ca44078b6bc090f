package desk

import (
	"bytes"
	"context"
	"fmt"
	"image"
	"image/jpeg"
	"image/png"
	"net/http"
	"slices"
	"strings"
	"testing"
	"time"

	"mendry/api"
	"mendry/internal/core/act"
	"mendry/internal/core/picture"
	"mendry/internal/shots"
)

// withCamera gives a world a real browser that sees its previews.
func (w *world) withCamera() {
	w.t.Helper()
	chromium := shots.Find()
	if chromium == "" {
		w.t.Fatal("the tests need Debian's chromium")
	}
	w.d.Camera = &shots.Camera{
		Chromium: chromium,
		Patience: 10 * time.Minute, // every other test comes before the browser
		Previews: http.HandlerFunc(func(out http.ResponseWriter, r *http.Request) {
			token, _, _ := strings.Cut(r.Host, ".")
			v, err := w.d.View(r.Context(), token)
			if err != nil {
				http.NotFound(out, r)
				return
			}
			c, err := w.d.ViewFile(r.Context(), v, r.URL.Path, "")
			if err != nil {
				http.NotFound(out, r)
				return
			}
			out.Header().Set("Content-Security-Policy", "sandbox allow-scripts")
			out.Header().Set("Content-Type", c.Media)
			_, _ = out.Write(c.Bytes)
		}),
	}
}

// shotsOf asks for the pictures of a draft and waits for them.
func (w *world) shotsOf(number int64, address string) (v api.PageShots) {
	w.t.Helper()
	ctx := context.Background()
	v, err := w.d.AskShots(ctx, number, w.pages[address])
	w.must(err)
	if v.State != api.ShotsStateWaiting && v.State != api.ShotsStateReady {
		w.t.Fatalf("asked for: %+v", v)
	}
	w.until("the pictures are taken", func() bool {
		w.d.DoNext(ctx)
		v, err = w.d.Shots(ctx, number, w.pages[address])
		w.must(err)
		return v.State == api.ShotsStateReady || v.State == api.ShotsStateFailed
	})
	return v
}

const seenPage = `<!doctype html><html lang="en"><head><title>Page a</title><style>
body{margin:20px;font:16px sans-serif} .cards{display:flex;gap:20px} .cards div{flex:1;background:#eef;padding:10px;border-bottom:3px solid #000}
%s</style></head>
<body><h1>Fares</h1>
<p>A single is £6.90.</p>
<div class="cards"><div><h2>Dogs</h2><p>On a lead.</p></div><div><h2>Bikes</h2><p>Free of charge.</p></div></div>
<p class="last">We sail at nine.</p>
%s</body></html>`

func seenWorld(t *testing.T, css, more string) *world {
	t.Helper()
	w := newWorld(t, true, "a")
	w.withCamera()
	page := strings.Replace(seenPage, "%s", css, 1)
	w.write("a.html", strings.Replace(page, "%s", more, 1))
	w.takeIn()
	return w
}

// A change is seen where it was made and nowhere else, at each width: what it pushes down and the card beside it,
// which grows too, are no difference.
func TestAnIntendedChangeIsSeenWhereItWasMade(t *testing.T) {
	t.Parallel()
	w := seenWorld(t, "", "")
	number := w.request("Dogs, please.")
	w.must(
		w.keep(
			number,
			"/a.html",
			"On a lead.",
			strings.Repeat("Dogs are welcome on a short lead, at the stern, whatever the weather. ", 5),
		),
	)
	v := w.shotsOf(number, "/a.html")
	if v.State != api.ShotsStateReady || len(v.Shots) != 3 {
		t.Fatalf("%+v", v)
	}
	for i, s := range v.Shots {
		if s.Width != shotWidths[i] || len(s.Regions) == 0 || s.Moving != 0 || s.Cut {
			t.Errorf("%+v", s)
		}
		for _, r := range s.Regions {
			if !r.Intended {
				t.Errorf("at %d: %s looks different: %+v %+v", s.Width, r.Name, r.Before, r.After)
			}
		}
		b, err := w.d.ShotOf(context.Background(), number, s.After)
		w.must(err)
		m, err := png.Decode(bytes.NewReader(b))
		if err != nil || m.Bounds().Dx() != s.Width || m.Bounds().Dy() != s.AfterHeight {
			t.Errorf("%v %v", m.Bounds(), err)
		}
	}
	p, err := w.d.Proof(context.Background(), number)
	w.must(err)
	if f := seenFindings(p); len(f) != 1 || f[0].Level != api.LevelFine {
		t.Errorf("%+v", f)
	}
	// Another wording is another draft: what was seen says nothing of it.
	w.must(w.keep(number, "/a.html", "A single is £6.90.", "A single is £7.20."))
	if v, err := w.d.Shots(context.Background(), number, w.pages["/a.html"]); err != nil ||
		v.State != api.ShotsStateNone {
		t.Errorf("%+v %v", v, err)
	}
	// Asked for that one and dropped it before it was taken: the first draft's pictures are there still; and where the
	// first was never taken, it is.
	_, err = w.d.AskShots(context.Background(), number, w.pages["/a.html"])
	w.must(err)
	cs, err := w.d.thread(context.Background(), number)
	w.must(err)
	_, err = w.d.Drop(context.Background(), w.who, number, cs[len(cs)-1].ID)
	w.must(err)
	if v := w.shotsOf(number, "/a.html"); v.State != api.ShotsStateReady {
		t.Errorf("back at the first draft: %+v", v)
	}
	// Pictures of one request are nobody else's.
	if _, err := w.d.ShotOf(context.Background(), w.request("Another."), v.Shots[0].After); err == nil {
		t.Error("another request sees the picture")
	}
}

func seenFindings(p api.Proof) (fs []api.Finding) {
	for _, f := range p.Pages[0].Findings {
		if f.Rule == "looks-same" {
			fs = append(fs, f)
		}
	}
	return fs
}

// What a change does elsewhere on the page, though no byte there differs, is found and named: here a style that
// follows how many paragraphs there are.
func TestAnUnintendedChangeIsFound(t *testing.T) {
	t.Parallel()
	w := seenWorld(t, "body:has(h1 + p + p) .last{color:#fff;background:#b00}", "")
	number := w.request("One more line, please.")
	w.must(w.insert(number, "/a.html", "A single is £6.90.", "<p>Children go free.</p>"))
	v := w.shotsOf(number, "/a.html")
	for _, s := range v.Shots {
		intended := slices.ContainsFunc(s.Regions, func(r api.ShotRegion) bool { return r.Intended })
		found := slices.ContainsFunc(
			s.Regions,
			func(r api.ShotRegion) bool { return !r.Intended && strings.Contains(r.Name, "We sail at nine") },
		)
		if !intended || !found {
			t.Errorf("at %d: %+v", s.Width, s.Regions)
		}
	}
	p, err := w.d.Proof(context.Background(), number)
	w.must(err)
	if f := seenFindings(p); len(f) != 1 || f[0].Level != api.LevelLook ||
		!strings.Contains(f[0].Say, "We sail at nine") ||
		!strings.Contains(f[0].Say, "390, 768, 1280") {
		t.Errorf("%+v", f)
	}
}

// What moves by itself raises no alarm, and the change is seen beside it.
func TestMovingPartsAreNoAlarm(t *testing.T) {
	t.Parallel()
	const clock = `<p id="clock" style="height:24px"></p><canvas id="noise" width="200" height="60"></canvas><script>
		document.getElementById('clock').textContent = 'It is ' + performance.timeOrigin.toFixed(3) + Math.random();
		const c = document.getElementById('noise').getContext('2d');
		for (let i = 0; i < 500; i++) { c.fillStyle = 'hsl(' + 360 * Math.random() + ' 80% 50%)'; c.fillRect(200 * Math.random(), 60 * Math.random(), 9, 9); }
	</script>`
	w := seenWorld(t, "", clock)
	number := w.request("The fare, please.")
	w.must(w.keep(number, "/a.html", "A single is £6.90.", "A single is £7.20 from May."))
	v := w.shotsOf(number, "/a.html")
	for _, s := range v.Shots {
		if s.Moving == 0 || len(s.Regions) == 0 {
			t.Errorf("at %d: %d move; %+v", s.Width, s.Moving, s.Regions)
		}
		for _, r := range s.Regions {
			if !r.Intended {
				t.Errorf("at %d: %s: %+v %+v", s.Width, r.Name, r.Before, r.After)
			}
		}
	}
}

// Without a browser everything else works, and it is said; a page that the browser cannot draw says so, too.
func TestWithoutPictures(t *testing.T) {
	t.Parallel()
	ctx := context.Background()
	w := newWorld(t, true, "a")
	number := w.request("The fare, please.")
	w.must(w.keep(number, "/a.html", "A single is £6.90.", "A single is £7.20."))
	v, err := w.d.AskShots(ctx, number, w.pages["/a.html"])
	if err != nil || v.State != api.ShotsStateOff || !strings.Contains(v.Say, "chromium") {
		t.Errorf("%+v %v", v, err)
	}
	w.d.Camera = &shots.Camera{Chromium: "/nowhere/chromium", Previews: http.NotFoundHandler()}
	if v := w.shotsOf(number, "/a.html"); v.State != api.ShotsStateFailed || v.Say == "" {
		t.Errorf("%+v", v)
	}
	p, err := w.d.Proof(ctx, number)
	w.must(err)
	if len(seenFindings(p)) != 0 {
		t.Errorf("%+v", seenFindings(p))
	}
	w.goLive(number)
}

// flat is a JPEG of one grey.
func flat(t *testing.T, w, h int, grey uint8) []byte {
	t.Helper()
	m := image.NewGray(image.Rect(0, 0, w, h))
	for i := range m.Pix {
		m.Pix[i] = grey
	}
	var b bytes.Buffer
	if err := jpeg.Encode(&b, m, nil); err != nil {
		t.Fatal(err)
	}
	return b.Bytes()
}

// White words over a dark picture are fine; over a bright one they are not, and it is said.
func TestWordsOverAPicture(t *testing.T) {
	t.Parallel()
	for grey, want := range map[uint8]bool{20: false, 210: true} {
		t.Run(fmt.Sprintf("grey of %d", grey), func(t *testing.T) {
			t.Parallel()
			ctx := context.Background()
			w := newWorld(t, true, "a")
			w.withCamera()
			w.write("dark.jpg", string(flat(t, 1300, 400, 30)))
			w.write("a.html", `<!doctype html><html lang="en"><head><title>Page a</title></head><body style="margin:0">`+
				`<div style="background-image:url('dark.jpg');background-size:cover;color:#fff;padding:60px"><h1>An open roof</h1><p>Bring a coat.</p></div><p>We sail at nine.</p></body></html>`)
			w.takeIn()
			number := w.request("A new picture, please.")
			v, err := w.d.Bench(ctx, number, w.pages["/a.html"])
			w.must(err)
			at := slices.IndexFunc(v.Parts, func(p api.Part) bool { return p.Kind == "picture" })
			a := &act.Picture{Part: v.Parts[at].ID, Attachment: w.attach(number, "new.jpg", flat(t, 1300, 400, grey))}
			_, err = w.d.Keep(ctx, w.who, number, w.pages["/a.html"], Ask{Draft: v.Draft, Act: a})
			w.must(err)
			if got := w.shotsOf(number, "/a.html"); got.State != api.ShotsStateReady {
				t.Fatalf("%+v", got)
			}
			p, err := w.d.Proof(ctx, number)
			w.must(err)
			var said []string
			for _, f := range p.Pages[0].Findings {
				if f.Rule == "words-over-picture" {
					said = append(said, f.Say)
				}
			}
			if (len(said) > 0) != want ||
				want && (len(said) != 2 || !strings.Contains(strings.Join(said, " "), "An open roof hardly stands out")) {
				t.Errorf("over %d: %q", grey, said)
			}
		})
	}
}

// Every page of a site gets a small picture, once; a page that changed gets another one.
func TestSmallPicturesOfPages(t *testing.T) {
	t.Parallel()
	ctx := context.Background()
	w := newWorld(t, true, "a", "b")
	w.must(w.d.AskSmallPages(ctx, w.site.ID)) // without a browser nothing is asked for
	w.withCamera()
	taken := func(what string) (all []string) {
		w.must(w.d.AskSmallPages(ctx, w.site.ID))
		w.until(what, func() bool {
			w.d.DoNext(ctx)
			v, err := w.d.Site(ctx, w.site.ID)
			w.must(err)
			all = nil
			for _, p := range v.Pages {
				all = append(all, p.Small)
			}
			return !v.Picturing && !slices.Contains(all, "")
		})
		return all
	}
	first := taken("the pictures are taken")
	b, err := w.d.SmallPage(ctx, w.pages["/a.html"])
	w.must(err)
	if i, err := picture.Check(b); err != nil || i.Media != "image/jpeg" || i.Width != 320 || i.Height != 200 {
		t.Errorf("%+v %v", i, err)
	}
	w.write("a.html", strings.Replace(w.read("a.html"), "<h1>Page a</h1>", "<h1>Another page</h1>", 1))
	w.takeIn()
	if again := taken("the pictures are taken again"); again[0] == first[0] || again[1] != first[1] {
		t.Errorf("%v, before: %v", again, first)
	}
	if _, err := w.d.SmallPage(ctx, 99999); err == nil {
		t.Error("a page that is not there has a picture")
	}
}

// The list of sites shows each site's start page, and asks for no other page.
func TestSmallPicturesOfStartPages(t *testing.T) {
	t.Parallel()
	ctx := context.Background()
	w := newWorld(t, true, "index", "b")
	w.must(w.d.AskSmallFronts(ctx)) // without a browser nothing is asked for
	w.withCamera()
	w.must(w.d.AskSmallFronts(ctx))
	var sites []api.Site
	w.until("the start page is drawn", func() bool {
		w.d.DoNext(ctx)
		var err error
		sites, err = w.d.Sites(ctx)
		w.must(err)
		return sites[0].Front != nil
	})
	if sites[0].Front.ID != w.pages["/"] {
		t.Errorf("%+v, pages %v", sites[0].Front, w.pages)
	}
	if _, err := w.d.SmallPage(ctx, w.pages["/b.html"]); err == nil {
		t.Error("another page was drawn, too")
	}
}

// A picture whose file is replaced under its address looks otherwise though no byte of the page differs: that is
// meant.
func TestAPictureThatIsReplacedEverywhereIsNoAlarm(t *testing.T) {
	t.Parallel()
	ctx := context.Background()
	w := seenWorld(t, "", `<img src="quay.jpg" alt="Boats in the rain" width="600" height="300">`)
	w.write("quay.jpg", string(flat(t, 600, 300, 40)))
	number := w.request("A new quay, please.")
	v, err := w.d.Bench(ctx, number, w.pages["/a.html"])
	w.must(err)
	at := slices.IndexFunc(v.Parts, func(p api.Part) bool { return p.Kind == "picture" })
	a := &act.Picture{Part: v.Parts[at].ID, Attachment: w.attach(number, "new.jpg", flat(t, 900, 450, 200)), Everywhere: true}
	_, err = w.d.Keep(ctx, w.who, number, w.pages["/a.html"], Ask{Draft: v.Draft, Act: a})
	w.must(err)
	for _, s := range w.shotsOf(number, "/a.html").Shots {
		if len(s.Regions) == 0 {
			t.Errorf("at %d nothing is seen", s.Width)
		}
		for _, r := range s.Regions {
			if !r.Intended {
				t.Errorf("at %d: %s", s.Width, r.Name)
			}
		}
	}
}
