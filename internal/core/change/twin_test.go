package change_test

import (
	"testing"

	"mendry/internal/core/change"
	"mendry/internal/core/page"
)

func TestHowASharedPartDiffersIsSaid(t *testing.T) {
	read := func(s string) *page.Page {
		p, err := page.Parse([]byte("<html><body>"+s+"</body></html>"), "")
		if err != nil {
			t.Fatal(err)
		}
		return p
	}
	const footer = `<footer class="foot"><p>Old Ropeworks, Tanner Street</p><p><a href="tel:1">01632 960142</a></p></footer>`
	p := read("<h1>Fares</h1>" + footer)
	shared := p.OfKind(page.Section)[0]
	for other, want := range map[string]string{
		`<h1>A</h1><footer class="foot"><p>Old Ropeworks, Tanner Street</p><p><a href="tel:1">01632 960143</a></p></footer>`: "“960143” instead of “960142”",
		`<h1>A</h1><footer class="foot"><p>Old Ropeworks, Tanner Street</p></footer>`:                                        "without “01632 960142”",
		`<h1>A</h1><footer><p>Old Ropeworks, Tanner Street</p><p>01632 960142</p><p>Soup from noon</p></footer>`:             "“Soup from noon” besides",
		`<h1>A</h1><footer class="foot"><p>Old Ropeworks, Tanner Street</p><p><a href="tel:2">01632 960142</a></p></footer>`: "the same words, other markup or links",
		`<h1>A</h1><p>Nothing below.</p>`: "",
		`<main><footer class="foot"><p>An article’s own, with words of its own below it.</p></footer></main>`:    "",
		`<footer class="a"><p>One, and some words.</p></footer><footer class="b"><p>Two, and some.</p></footer>`: "",
	} {
		q := read(other)
		got := ""
		if twin := page.Twin(shared, q); twin != nil {
			got = change.ToldApart(shared, twin)
		}
		if got != want {
			t.Errorf("%s: %q, want %q", other, got, want)
		}
	}
}
