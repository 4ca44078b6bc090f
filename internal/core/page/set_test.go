package page

import (
	"fmt"
	"strings"
	"testing"
)

// setsOf lists the sets of a page by how many items they have.
func setsOf(p *Page) (sizes []int) {
	for _, q := range p.All {
		if q.Kind == Set {
			sizes = append(sizes, len(q.Parts))
		}
	}
	return sizes
}

// Where a set begins to be one: at half of its items, at three of a kind without a class, at an item like one of the
// last three. What a person would call a set: common practice, no source.
func TestWhereASetBegins(t *testing.T) {
	card := `<div class="c"><h3>Name</h3><p>Words of it</p></div>`
	link, words := `<li><a href="/a">Link</a></li>`, `<li>plain words</li>`
	picture := `<li><img src="a.jpg" alt="A"></li>`
	several, single := `<li><p>One</p><p>thing</p></li>`, `<li><p>One thing</p></li>`
	bare := `<div><h3>Name</h3><p>Words of it</p></div>`
	list := func(items ...string) string { return "<ul>" + strings.Join(items, "") + "</ul>" }
	for _, tt := range []struct {
		name, markup string
		sets         int
	}{
		{"half of a list are links", list(link, link, words, words), 1},
		{"fewer than half of a list are links", list(link, link, words, words, words), 0},
		{"half of a list are pictures", list(picture, picture, words, words), 1},
		{"fewer than half of a list are pictures", list(picture, picture, words, words, words), 0},
		{"half of a list hold several things", list(several, several, single, single), 1},
		{"fewer than half of a list hold several things", list(several, several, single, single, single), 0},
		{"two without a class", bare + bare, 0},
		{"two of one class", card + card, 1},
		{"two of other classes", card + strings.Replace(card, "c", "d", 1), 0},
		{"three without a class", bare + bare + bare, 1},
		{"one alone", list(link), 0},
		{"words between them", card + "and then" + card, 0},
		{"a sign between them", `<a href="/a">A</a> · <a href="/b">B</a> | <a href="/c">C</a>`, 1},
	} {
		p := parse(t, "<!doctype html><body><main><h1>A</h1><div>"+tt.markup+"</div><p>End</p></main>")
		if got := setsOf(p); len(got) != tt.sets {
			t.Errorf("%s: sets of %v", tt.name, got)
		}
	}
}

// An item goes on with a set if it is built like one of the last three, not only like one before them.
func TestAnItemIsComparedWithTheLastThree(t *testing.T) {
	// b is like a (half of the paths) and like c, but a and c are not alike.
	a := `<div class="x"><h3>N</h3><p>w</p></div>`
	b := `<div class="x y"><h3>N</h3><p>w</p><ul><li>1</li></ul><hr></div>`
	c := `<div class="y"><ul><li>1</li></ul><hr><blockquote>q</blockquote><pre>p</pre><h3>N</h3></div>`
	for between, want := range map[int]int{1: 1, 2: 1, 3: 2} {
		markup := b + strings.Repeat(a, between) + c
		got := setsOf(parse(t, "<main><h1>A</h1><div>"+markup+"</div></main>"))
		if whole := len(got) == 1 && got[0] == between+2; whole != (want == 1) {
			t.Errorf("%d between two alike: sets of %v", between, got)
		}
	}
}

// Settings are those of the set's element and of three around it.
func TestHowFarSettingsOfASetReach(t *testing.T) {
	for depth, want := range []int{1, 1, 1, 1, 0} {
		markup := `<ul class="s"%s><li><img src="a.jpg" alt="A"></li><li><img src="b.jpg" alt="B"></li></ul>`
		own := ""
		if depth == 0 {
			own = ` data-seconds="5"`
		}
		markup = fmt.Sprintf(markup, own)
		for i := 1; i <= 5; i++ {
			attribute := ""
			if i == depth {
				attribute = ` data-seconds="5"`
			}
			markup = fmt.Sprintf("<div%s>%s</div>", attribute, markup)
		}
		p := parse(t, "<main><h1>A</h1>"+markup+"<p>End</p></main>")
		found := -1
		for _, q := range p.All {
			if q.Kind == Set {
				found = len(q.Settings)
			}
		}
		if found != want {
			t.Errorf("a setting %d elements around the set: %d settings", depth, found)
		}
	}
}
