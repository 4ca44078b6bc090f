package desk

import (
	"context"
	"slices"
	"strings"
	"testing"

	"mendry/api"
	"mendry/internal/core/act"
)

func TestAPartGetsAStyleOfItsSiteAndPaleWordsAreSaid(t *testing.T) {
	t.Parallel()
	ctx := context.Background()
	w := newWorld(t, true, "a")
	w.write("look.css", "body { color: #222 } .lead { font-size: 1.2em } .pale { color: #aaa } .box { display: flex } @media print { .gone { color: red } }")
	content := strings.Replace(pricesPage, "<title>", "<link rel=\"stylesheet\" href=\"/look.css\"><style>.centre { text-align: center }</style><title>", 1)
	w.write("prices.html", content)
	w.takeIn()
	n := w.request("x")
	_, p := w.part(n, "/prices.html", "words", "A single")
	looks, err := w.d.Looks(ctx, n, w.pages["/prices.html"], p.ID)
	w.must(err)
	var got []string
	for _, l := range looks {
		got = append(got, l.Called+" "+l.Say)
		if l.On != (l.Called == "lead") || l.Called == "pale" && (l.Contrast < 2.3 || l.Contrast > 2.4 || !l.Hard) { // #aaa on white, as WCAG 2.2 reckons
			t.Errorf("%+v", l)
		}
	}
	if want := "pale #aaaaaa, lead larger, centre centred"; strings.Join(got, ", ") != want {
		t.Errorf("%s, want %s", strings.Join(got, ", "), want)
	}
	styles, err := w.d.Styles(ctx, n, w.pages["/prices.html"], p.ID)
	w.must(err)
	if len(styles) != 3 || styles[0].Class != "lead" || styles[1].Say != "colour #aaaaaa" {
		t.Errorf("for chosen words: %+v", styles)
	}
	v := w.make(n, "/prices.html", &act.Look{Part: p.ID, Choice: "class class centre"})
	v = w.make(n, "/prices.html", &act.Look{Part: *v.Made, Choice: "class class pale"})
	if len(v.Changes) != 2 {
		t.Fatalf("%+v", v.Changes)
	}
	dr, err := w.d.draftOf(ctx, w.s.Queries, n, w.pages["/prices.html"])
	w.must(err)
	if want := strings.Replace(content, `class="lead"`, `class="lead centre pale"`, 1); string(dr.Page().Doc.Bytes) != want {
		t.Errorf("the draft is\n%s", dr.Page().Doc.Bytes)
	}
	proof, err := w.d.Proof(ctx, n)
	w.must(err)
	if !hasFinding(proof.Pages[0].Findings, "contrast", api.LevelLook) {
		t.Errorf("pale words pass: %+v", proof.Pages[0].Findings)
	}
	for _, class := range []string{"pale", "centre"} {
		_, p := w.part(n, "/prices.html", "words", "A single")
		v = w.make(n, "/prices.html", &act.Look{Part: p.ID, Choice: "class class " + class, Off: true})
	}
	if len(v.Changes) != 0 {
		t.Errorf("taken off again: %+v", v.Changes)
	}
	b, p := w.part(n, "/prices.html", "words", "A single")
	for _, class := range []string{"box", "gone", "x\" onclick=\"y", ""} {
		if _, err := w.d.Keep(ctx, w.who, n, w.pages["/prices.html"], Ask{Draft: b.Draft, Act: &act.Look{Part: p.ID, Choice: "class class " + class}}); err == nil {
			t.Errorf("look %q was put on", class)
		}
	}
}

const bandsPage = `<!doctype html>
<html lang="en"><head><title>Bands</title><link rel="stylesheet" href="/bands.css"><script src="/appear.js"></script></head>
<body>
<section class="band band--white"><h2>Fares</h2><p>A single is £6.90.</p></section>
<section class='band'><h2 class="lit">Winter</h2><p>From November.</p></section>
<section class="band band--night band--tall" data-appear="rise"><h2>Islands</h2><p>Seven of them.</p></section>
</body></html>`

// A section's background, space and motion and a heading's shadow are changes of their own: each is taken back alone,
// kept or live.
func TestLooksAreChangedEachAlone(t *testing.T) {
	t.Parallel()
	ctx := context.Background()
	w := newWorld(t, true, "a")
	w.write("bands.css", ".band{padding:2rem 0}.band--white{background:#fff}.band--night{background:#112;color:#fff}.band--grey{background:#777;color:#888}.band--tall{padding:6rem 0}.lit{text-shadow:0 0 4px #fc0}[data-appear]{opacity:0;transition:opacity 1s}[data-appear=rise]{transform:translateY(1em)}[data-appear].in{opacity:1}")
	w.write("appear.js", "new IntersectionObserver(es => es.forEach(e => e.target.classList.add('in'))).observe(document.querySelector('[data-appear]'))")
	w.write("bands.html", bandsPage)
	w.takeIn()
	w.write("bare.html", strings.Replace(bandsPage, `<script src="/appear.js"></script>`, "", 1))
	w.takeIn()
	n := w.request("Make it pretty")
	for address, offered := range map[string]bool{"/bands.html": true, "/bare.html": false} { // what no script shows would stay unseen
		_, p := w.part(n, address, "section", "Fares")
		looks, err := w.d.Looks(ctx, n, w.pages[address], p.ID)
		w.must(err)
		if slices.ContainsFunc(looks, func(l api.PartLook) bool { return l.Aspect == api.LookMotion }) != offered {
			t.Errorf("%s: %+v", address, looks)
		}
	}
	make := func(kind, words, choice string, off bool) api.Bench {
		t.Helper()
		b, p := w.part(n, "/bands.html", kind, words)
		v, err := w.d.Keep(ctx, w.who, n, w.pages["/bands.html"], Ask{Draft: b.Draft, Act: &act.Look{Part: p.ID, Choice: choice, Off: off}, Here: true})
		w.must(err)
		return v
	}
	make("section", "Fares", "class class band--night", false)
	make("section", "Fares", "class class band--grey", false) // instead: one change
	make("section", "Fares", "class class band--tall", false)
	make("section", "Fares", "attribute data-appear rise", false)
	make("section", "Winter", "class class band--white", false)
	v := make("heading", "Fares", "class class lit", false)
	if len(v.Changes) != 5 || v.Changes[0].Say != "Background of Fares: grey instead of white" {
		t.Fatalf("%+v", v.Changes)
	}
	want := strings.NewReplacer(`<section class="band band--white"><h2>`, `<section data-appear="rise" class="band band--grey band--tall"><h2 class="lit">`, `<section class='band'>`, `<section class='band band--white'>`).Replace(bandsPage)
	if got := w.drafted(n, "/bands.html"); got != want {
		t.Errorf("the draft is\n%s\nnot\n%s", got, want)
	}
	proof, err := w.d.Proof(ctx, n)
	w.must(err)
	if !hasFinding(proof.Pages[0].Findings, "contrast", api.LevelLook) {
		t.Errorf("grey on grey passes: %+v", proof.Pages[0].Findings)
	}
	w.goLive(n)
	if got := w.read("bands.html"); got != want {
		t.Errorf("live is\n%s", got)
	}
	for i, once := range []*strings.Replacer{
		strings.NewReplacer("band--grey", "band--white"), strings.NewReplacer(" band--tall\"><h2 class", "\"><h2 class"), strings.NewReplacer(` data-appear="rise" class="band band--grey`, ` class="band band--grey`),
		strings.NewReplacer(`'band band--white'`, `'band'`), strings.NewReplacer(` class="lit">Fares`, ">Fares"),
	} {
		b, err := w.d.Bench(ctx, n, w.pages["/bands.html"])
		w.must(err)
		b, err = w.d.Keep(ctx, w.who, n, w.pages["/bands.html"], Ask{Draft: b.Draft, Act: &act.TakeBack{Change: v.Changes[i].ID}})
		w.must(err)
		if got := w.drafted(n, "/bands.html"); got != once.Replace(want) {
			t.Errorf("without %s the draft is\n%s\nnot\n%s", v.Changes[i].Say, got, once.Replace(want))
		}
		_, err = w.d.Drop(ctx, w.who, n, b.Changes[len(b.Changes)-1].ID)
		w.must(err)
	}
}
