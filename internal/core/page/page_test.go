package page

import (
	"errors"
	"strings"
	"testing"
)

const fares = `<!doctype html><html lang="en"><head><title>Fares  and
passes</title><meta name="description" content="All fares"></head><body>
<header><nav><ul><li><a href="/">Home</a></li><li><a href="/fares.html">Fares</a></li></ul></nav></header>
<main><h1>Fares and passes</h1>
<p>Fares below apply to <b>all</b> sailings.<br>Bicycles travel&nbsp;free.</p>
<table><tr><th></th><th>Single</th><th>Day return</th></tr>
<tr><td>Adult</td><td>£6.90</td><td>£12.60</td></tr>
<tr><td>Child</td><td>£3.45</td><td>£6.30</td></tr></table>
<div class="wrap"><div class="card"><h2>Passes</h2><p>Ten trips.</p><a class="btn" href="/buy">Buy one</a></div></div>
<figure><img src="/img/quay.jpg" alt="Boat at the quay"><figcaption>At the quay</figcaption></figure>
<p>Sold in {{ shops }} shops.</p>
</main><footer><p>Call 01632 960110</p></footer></body></html>`

func parse(t *testing.T, s string) *Page {
	t.Helper()
	p, err := Parse([]byte(s), "text/html; charset=utf-8")
	if err != nil {
		t.Fatal(err)
	}
	return p
}

func TestPartsHaveKindsAndNamesThatAPersonUnderstands(t *testing.T) {
	p := parse(t, fares)
	var got []string
	for _, part := range p.All {
		got = append(got, string(part.Kind)+" "+part.Name)
	}
	want := []string{
		"section Page header", "section Menu", "link Home", "link Fares", "section Whole content",
		"heading Fares and passes", "words Opening words", "table Table under “Fares and passes”",
		"row row", "cell empty cell", "cell Single", "cell Day return",
		"row Adult", "cell Adult", "cell Adult, Single", "cell Adult, Day return",
		"row Child", "cell Child", "cell Child, Single", "cell Child, Day return",
		"section Passes", "heading Passes", "words “Ten trips.”", "button Buy one",
		"section “At the quay”", "picture Boat at the quay", "words “At the quay”", "words “Sold in {{ shops }} shops.”",
		"section Footer", "words “Call 01632 960110”",
	}
	if strings.Join(got, "\n") != strings.Join(want, "\n") {
		t.Errorf("got\n%s", strings.Join(got, "\n"))
	}
	if p.Facts.Title != "Fares and passes" || p.Facts.Description != "All fares" || p.Facts.Lang != "en" {
		t.Errorf("facts %+v", p.Facts)
	}
}

func TestTextIsWhatAVisitorReads(t *testing.T) {
	p := parse(t, fares)
	part, _ := p.Part("words-1")
	if part.Text != "Fares below apply to all sailings.\nBicycles travel\u00a0free." {
		t.Errorf("%q", part.Text)
	}
}

func TestCodesOfOtherProgramsAreLocked(t *testing.T) {
	p := parse(t, fares)
	for _, part := range p.All {
		if strings.Contains(part.Text, "{{") && part.Kind == Words && part.Locked == "" {
			t.Errorf("%s is not locked", part.Name)
		}
	}
}

func TestAPartIsFoundAgainAfterEditsAroundIt(t *testing.T) {
	old := parse(t, fares)
	adult, _ := old.Part("cell-5")
	target := old.TargetOf(adult)
	newer := parse(t, strings.Replace(fares, "<main>", "<main><p>News: a table <table><tr><td>x</td></tr></table>", 1))
	part, err := newer.Locate(target)
	if err != nil || part.Text != "£6.90" {
		t.Errorf("found %v, %v", part, err)
	}
	if _, err := parse(t, strings.Replace(fares, "£6.90", "£7.00", 1)).Locate(target); !errors.Is(err, ErrElsewhere) {
		t.Errorf("changed by others: %v", err)
	}
	if _, err := parse(t, "<p>nothing</p>").Locate(target); !errors.Is(err, ErrGone) {
		t.Errorf("gone: %v", err)
	}
}

func TestTwoEqualPlacesAreRefused(t *testing.T) {
	old := parse(t, "<p>a</p><p>Call us</p>")
	part, _ := old.Part("words-2")
	target := old.TargetOf(part)
	if _, err := parse(t, "<div><p>Call us</p><hr><p>Call us</p></div>").Locate(target); !errors.Is(err, ErrTwoPlaces) {
		t.Errorf("err = %v", err)
	}
}
