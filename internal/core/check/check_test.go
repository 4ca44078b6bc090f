package check

import (
	"strings"
	"testing"
	"time"

	"mendry/internal/core/page"
)

type site map[string]string // path to ids

func (s site) Has(p string) bool { _, ok := s[p]; return ok }

func (s site) HasPlace(p, id string) bool {
	for _, have := range strings.Fields(s[p]) {
		if have == id {
			return true
		}
	}
	return false
}

func (s site) Titled(title string) []string {
	if title == "Fares" {
		return []string{"/prices.html"}
	}
	return nil
}

func (s site) Answers(address string) string {
	if strings.Contains(address, "gone.example") {
		return "There is no such host."
	}
	return ""
}

func run(t *testing.T, html string) map[string]string {
	t.Helper()
	p, err := page.Parse([]byte(html), "text/html; charset=utf-8")
	if err != nil {
		t.Fatal(err)
	}
	got := map[string]string{}
	for _, f := range Run(&Subject{
		After: p, Address: "/fares.html", Public: "http://ferry.example", Site: site{"/": "", "/islands/heron.html": "getting"},
		On: time.Date(2026, 11, 24, 9, 0, 0, 0, time.UTC),
	}) {
		got[f.Rule] += string(f.Level) + " " + f.Words + ";"
	}
	return got
}

func TestEachRuleFindsItsFaultAndOnlyIt(t *testing.T) {
	tests := []struct{ rule, html, want string }{
		{"date-exists", "<p>The extra sailing on 31 November.</p>", "stop 31 November;"},
		{"date-exists", "<p>Until Monday 30 November 2026.</p>", "fine ;"},
		{"date-exists", "<p>Call us.</p>", ""},
		{"date-past", "<p>Open until 8 November.</p>", "look 8 November;"},
		{"date-past", "<p>From 1 December.</p>", ""},
		{"link-leads", `<p>See <a href="islands/heron.html#getting">Heron</a> now</p>`, "fine ;"},
		{"link-leads", `<p>See <a href="islands/heron.html#nowhere">Heron</a> now</p>`, "stop Heron;"},
		{"link-leads", `<p>See <a href="/gone.html">Gone</a> now</p>`, "stop Gone;"},
		{"link-leads", `<p>See <a href="#adult">Adult</a> <b id=adult>x</b></p>`, "fine ;"},
		{"link-leads", `<p>See <a href="javascript:x()">Odd</a> now</p>`, "stop Odd;"},
		{"link-leads", `<p><a href="https://tide.example/">Tides</a></p>`, "fine ;"},
		{"picture-alternative", `<img src="quay.jpg">`, "stop quay.jpg;"},
		{"picture-alternative", `<img src="a/quay.jpg" alt="quay">`, "stop quay;"},
		{"picture-alternative", `<img src="quay.jpg" alt="">`, "look quay.jpg;"},
		{"picture-alternative", `<img src="quay.jpg" alt="Boat at the quay">`, "fine ;"},
		{"link-words", `<p>Read <a href="/">here</a>.</p>`, "look here;"},
		{"link-words", `<p>Read <a href="/">the fares</a>.</p>`, ""},
		{"fillers-gone", `<p>Lorem ipsum dolor</p>`, "stop Lorem ipsum;"},
		{"fillers-gone", `<p>Hours TBC</p>`, "stop TBC;"},
		{"signs-whole", `<p>Our cafÃ© opens</p>`, "stop Our cafÃ© opens;"},
		{"signs-whole", `<p>Our café’s Ñandú opens</p>`, ""},
		{"slips", `<p>at the the quay</p>`, "look the the;"},
		{"slips", `<p>at&nbsp; the quay</p>`, "look at the quay;"},
		{"slips", `<p>THE WINTER FARES START</p>`, "look THE WINTER FARES START;"},
		{"slips", `<p>RSPCA and BBC in the UK</p>`, ""},
		{"headings-in-order", `<h1>A</h1><h3>B</h3>`, "look B;"},
		{"headings-in-order", `<h1>A</h1><h2>B</h2><h1>C</h1>`, "look C;"},
		{"headings-in-order", `<h2>A</h2><h3>B</h3>`, "look ;"}, // none of the first level,
	}
	for _, tt := range tests {
		if got := run(t, tt.html)[tt.rule]; got != tt.want {
			t.Errorf("%s on %s: %q, want %q", tt.rule, tt.html, got, tt.want)
		}
	}
}

func TestABytePutOutsideThePartsStops(t *testing.T) {
	before := "<div class=a><h2>Dogs</h2><p>On a lead.</p></div>"
	for after, want := range map[string]Level{
		strings.Replace(before, "lead", "leash", 1):    Fine,
		strings.Replace(before, "class=a", "class", 1): Stop,
	} {
		a, errA := page.Parse([]byte(before), "")
		b, errB := page.Parse([]byte(after), "")
		if errA != nil || errB != nil {
			t.Fatal(errA, errB)
		}
		was, _ := a.Part("words-1")
		now, _ := b.Part("words-1")
		if fs := outsideSame(&Subject{Before: a, After: b, Edits: []Edit{{Before: a, After: b, Was: was, Now: now}}}); len(fs) != 1 || fs[0].Level != want {
			t.Errorf("%s: %+v", after, fs)
		}
	}
}

func TestALostCodeStops(t *testing.T) {
	before, errA := page.Parse([]byte(`<p>[tab title="A"]one[/tab]</p><p>{{ price }}</p>`), "")
	moved, errB := page.Parse([]byte(`<p>{{ price }}</p><p>[tab title="A"]two[/tab]</p>`), "")
	lost, errC := page.Parse([]byte(`<p>[tab title="A"]one</p><p>{{ price }}</p>`), "")
	if errA != nil || errB != nil || errC != nil {
		t.Fatal(errA, errB, errC)
	}
	if fs := codesWhole(&Subject{Before: before, After: moved}); len(fs) != 1 || fs[0].Level != Fine {
		t.Errorf("moved: %+v", fs)
	}
	if fs := codesWhole(&Subject{Before: before, After: lost}); len(fs) != 1 || fs[0].Level != Stop || fs[0].Words != "[/tab]" {
		t.Errorf("lost: %+v", fs)
	}
}
