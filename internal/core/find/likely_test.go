package find

import (
	"testing"

	"mendry/internal/core/page"
)

const boat = `<title>Alder | Pennyfield Canal Hire</title><h1>Alder</h1><p><img src="/alder.jpg" alt="At her mooring"></p>
<table><tr><th>Length</th><td>57 ft</td></tr><tr><th>Berths</th><td>4</td></tr></table><p>A week costs from £640.</p><p>Ask <a href="/ask">about Alder</a>.</p>`

// Which part of a page a letter means is a judgement: these were read by eye (no source).
func TestAPhraseMeansAPartOfThePageThatItNames(t *testing.T) {
	p, err := page.Parse([]byte(boat), "text/html; charset=utf-8")
	if err != nil {
		t.Fatal(err)
	}
	for phrase, want := range map[string]string{
		"Alder is 58 ft":                         "57 ft",
		"Alder has 5 berths now":                 "4",
		"a week on Alder costs £680":             "A week costs from £640.",
		"please use the new photo of the Alder":  "",
		"Alder was painted":                      "none",
		"Elm 4 Maple has 5 berths now":           "4",
		"a week on the Alder is lovely, I think": "none",
	} {
		got := "none"
		if part := Likely(p, phrase, "Alder | Pennyfield Canal Hire", "/boats/alder.html"); part != nil {
			got = part.Text
		}
		if got != want {
			t.Errorf("%q means %q, want %q", phrase, got, want)
		}
	}
	for _, c := range []struct {
		phrase, title, address string
		want                   int
	}{
		{"Alder is 58 ft", "Alder | Pennyfield Canal Hire", "/boats/alder.html", 1},
		{"at the top of the fares page", "Fares and passes | Larkspur Ferries", "/fares.html", 1},
		{"the three islands", "Three islands, one small ferry", "/", 0},
		{"in the article on broad beans", "Broad beans", "/articles/broad-beans", 2},
		{"nothing of the kind", "Visit", "/visit/", 0},
	} {
		if got := Names(c.phrase, c.title, c.address); got != c.want {
			t.Errorf("%q names %s: %d, want %d", c.phrase, c.address, got, c.want)
		}
	}
}
