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
		"section Page header", "section Menu", "set Menu, 2 entries", "item “Home”", "link Home", "item “Fares”", "link Fares",
		"section Whole content",
		"heading Fares and passes", "words Opening words", "table Table under “Fares and passes”",
		"row row", "cell empty cell", "cell Single", "cell Day return",
		"row Adult", "cell Adult", "cell Adult, Single", "cell Adult, Day return",
		"row Child", "cell Child", "cell Child, Single", "cell Child, Day return",
		"section Passes", "heading Passes", "words “Ten trips.”", "button Buy one",
		"section “At the quay”", "picture Boat at the quay", "words Caption “At the quay”", "words “Sold in shops.”",
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

func names(p *Page) string {
	var all []string
	var walk func([]*Part, string)
	walk = func(ps []*Part, in string) {
		for _, q := range ps {
			all = append(all, in+string(q.Kind)+" "+q.Name)
			walk(q.Parts, in+"  ")
		}
	}
	walk(p.Parts, "")
	return strings.Join(all, "\n")
}

func TestCodesOfOtherProgramsAreNamed(t *testing.T) {
	p := parse(t, `<p>Sold in {{ shops }} shops [sic], see [1] and [tab title="Out"]Text[/tab].</p><p>[Note] call us</p>`)
	if got := strings.Join(p.All[0].Tokens, " "); got != `{{ shops }} [tab title="Out"] [/tab]` {
		t.Errorf("codes %q", got)
	}
	if got := p.All[1].Tokens; got != nil {
		t.Errorf("words taken for codes: %q", got)
	}
}

func TestWordsAmongBlocksAreParts(t *testing.T) {
	p := parse(t, `<ul><li>Outdoors <b>only</b><ul><li>in rain<li>in wind</ul><li>Indoors</ul><div>Before <p>in</p> after <i>it</i></div>`+
		`<table><tr><td>One<p>two</p></table>`)
	want := `words “Outdoors only”
words “in rain”
words “in wind”
words “Indoors”
words “Before”
words “in”
words “after it”
table “One two”
  row One two
    cell One two
      words “One”
      words “two”`
	if got := names(p); got != want {
		t.Errorf("got\n%s", got)
	}
	if got := p.All[6]; got.HTML != "after <i>it</i>" {
		t.Errorf("run is %q", got.HTML)
	}
}

func TestSetsTheirItemsAndSettings(t *testing.T) {
	p := parse(t, `<nav><ul><li><a href=/>Home</a><li><a href=/boats>Boats</a><ul><li><a href=/a>A</a><li><a href=/b>B</a></ul></ul></nav>
<main><section><h2>Our coaches</h2>
<div class=row><div class=card><img src=a.jpg alt=Anna><h3>Anna</h3><p>Ropes</p></div><div class=card><img src=b.jpg alt=Ben><h3>Ben</h3><p>Bouldering</p></div></div>
<div class=row><div class=card><img src=c.jpg alt=Cy><h3>Cy</h3><p>Kids</p></div><div class=card><img src=d.jpg alt=Di><h3>Di</h3><p>Trips</p></div></div></section>
<section><h2>Voices</h2><div class=slider data-seconds=6 data-dots=true data-effect=fade data-target="#x"><div class=track>
<blockquote>Good.</blockquote><blockquote>Very good.</blockquote><blockquote>Best.</blockquote></div></div></section>
<div><h2>Pictures</h2><img src=1.jpg alt=One><img src=2.jpg alt=Two><img src=3.jpg alt=Three></div>
<ul><li>a plain<li>list</ul><form><div class=f><label>Name</label><input></div><div class=f><label>Mail</label><input></div></form></main>`)
	var got []string
	for _, q := range p.All {
		if q.Kind == Set {
			got = append(got, q.Name)
		}
	}
	want := "Menu, 2 entries|Menu, 2 entries|4 cards under “Our coaches”|3 voices under “Voices”|3 pictures under “Pictures”"
	if strings.Join(got, "|") != want {
		t.Errorf("sets %q", got)
	}
	for _, q := range p.All {
		if q.Name == "3 voices under “Voices”" {
			var said []string
			for _, s := range q.Settings {
				on, _ := p.Part(s.Part)
				said = append(said, s.Name+"="+s.Value+" "+s.Is+" on "+on.Node.HTML.Attr[0].Val)
			}
			if got := strings.Join(said, ", "); got != "data-seconds=6 number on slider, data-dots=true yes-no on slider, data-effect=fade word on slider" {
				t.Errorf("settings %q", got)
			}
		}
		if q.Kind == Form && q.Name != "Form: Name, Mail" {
			t.Errorf("form %q", q.Name)
		}
	}
}

func TestPicturesInStylesAndSources(t *testing.T) {
	src := `<div style="color:red;background-image:url(&quot;img/sky%20b.jpg&quot;)"><h2>Open</h2><p>x</p></div><section style='background: #fff url("b.png") no-repeat'>` +
		`<picture><source media="(max-width: 600px)" srcset="n.jpg 1x, n2.jpg 2x"><img src=w.jpg alt=Wide></picture></section>`
	p := parse(t, src)
	var got []string
	for _, q := range p.All {
		if q.Kind == Picture {
			got = append(got, q.Name+"="+src[q.Start:q.End])
		}
	}
	want := `sky%20b.jpg, background=img/sky%20b.jpg|b.png, background=b.png|n.jpg, for (max-width: 600px)=<source media="(max-width: 600px)" srcset="n.jpg 1x, n2.jpg 2x">|Wide=<img src=w.jpg alt=Wide>`
	if strings.Join(got, "|") != want {
		t.Errorf("%q", strings.Join(got, "|"))
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

func TestASectionIsFoundAgainWhenItHasBecomeAnItem(t *testing.T) {
	card := func(name string) string { return "<div class=card><h3>" + name + "</h3><p>Ropes</p></div>" }
	old := parse(t, "<main><h1>Coaches</h1>"+card("Anna")+"</main>")
	part, _ := old.Part("section-2")
	newer := parse(t, "<main><h1>Coaches</h1>"+card("Anna")+card("Ben")+"</main>")
	if got, sure, err := newer.Find(old.TargetOf(part)); err != nil || got.Kind != Item || got.Name != "Anna" || sure != SamePlaceSameWords {
		t.Errorf("found %+v, %v, %v", got, sure, err)
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

func TestShortWithAndWithoutBuilding(t *testing.T) {
	for _, tt := range []struct {
		in   string
		n    int
		want string
	}{
		{"Fares", 10, "Fares"}, {"Fares and passes", 10, "Fares and…"}, {"Fares, and passes", 6, "Fares…"}, {"abcdefghijkl", 5, "abcde…"},
		{" Fares  and\npasses ", 10, "Fares and…"}, {"Café and passes", 9, "Café and…"}, {"", 3, ""}, {"Fares and", 9, "Fares and"},
	} {
		if got := Short(tt.in, tt.n); got != tt.want {
			t.Errorf("%q to %d: %q, want %q", tt.in, tt.n, got, tt.want)
		}
	}
}

// What stands in a film is read only where the film cannot be shown (HTML, 4.8.8): it is no words of the page.
func TestWordsInAFilmAreNoPart(t *testing.T) {
	p, err := Parse([]byte(`<main><h1>Hi</h1><p>Words.</p><figure><video src="a.mp4" title="The roof"><a href="a.mp4">The roof</a></video>`+
		`<figcaption>The roof</figcaption></figure></main>`), "")
	if err != nil {
		t.Fatal(err)
	}
	var got []string
	for _, q := range p.All {
		got = append(got, string(q.Kind)+" "+q.Name)
	}
	if want := "section Whole content, heading Hi, words Opening words, video The roof, words Caption “The roof”"; strings.Join(got, ", ") != want {
		t.Errorf("%q, want %q", strings.Join(got, ", "), want)
	}
}
