package desk

import (
	"context"
	"strings"
	"testing"

	"mendry/api"
	"mendry/internal/core/act"
)

func TestAPartGetsAStyleOfItsSiteAndPaleWordsAreSaid(t *testing.T) {
	ctx := context.Background()
	w := newWorld(t, true, "a")
	w.write("look.css", "body { color: #222 } .lead { font-size: 1.2em } .pale { color: #aaa } .box { display: flex } @media print { .gone { color: red } }")
	content := strings.Replace(pricesPage, "<title>", "<link rel=\"stylesheet\" href=\"/look.css\"><style>.centre { text-align: center }</style><title>", 1)
	w.write("prices.html", content)
	w.takeIn()
	n := w.request("x")
	_, p := w.part(n, "/prices.html", "words", "A single")
	styles, err := w.d.Styles(ctx, n, w.pages["/prices.html"], p.ID)
	w.must(err)
	var got []string
	for _, s := range styles {
		got = append(got, s.Class+" "+s.Say)
		if s.Carried != (s.Class == "lead") || s.Class == "pale" && (s.Contrast < 2.3 || s.Contrast > 2.4) { // #aaa on white, as WCAG 2.2 reckons
			t.Errorf("%+v", s)
		}
	}
	if want := "lead larger, pale colour #aaaaaa, centre centred"; strings.Join(got, ", ") != want {
		t.Errorf("%s, want %s", strings.Join(got, ", "), want)
	}
	v := w.make(n, "/prices.html", &act.Style{Part: p.ID, Class: "centre"})
	v = w.make(n, "/prices.html", &act.Style{Part: *v.Made, Class: "pale"})
	if len(v.Changes) != 1 {
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
		v = w.make(n, "/prices.html", &act.Style{Part: *v.Made, Class: class})
	}
	if len(v.Changes) != 0 {
		t.Errorf("taken off again: %+v", v.Changes)
	}
	b, p := w.part(n, "/prices.html", "words", "A single")
	for _, class := range []string{"box", "gone", "x\" onclick=\"y", ""} {
		if _, err := w.d.Keep(ctx, w.who, n, w.pages["/prices.html"], Ask{Draft: b.Draft, Act: &act.Style{Part: p.ID, Class: class}}); err == nil {
			t.Errorf("style %q was put on", class)
		}
	}
}
