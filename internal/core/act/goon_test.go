package act_test

import (
	"slices"
	"testing"

	"mendry/internal/core/act"
	"mendry/internal/core/page"
	"mendry/internal/core/thread"
)

// What is taken out is followed by nothing in hand, never by another part of the page; what is put in, by its words.
func TestOneGoesOnInWhatAnActMade(t *testing.T) {
	const text = `<html><body><header><h2>Harbour</h2></header><main><h1>Fares</h1><p>From April on.</p>
<table><tr><th>Who</th><th>Single</th></tr><tr><td>Adult</td><td>£6.90</td></tr><tr><td>Dog</td><td>£1.50</td></tr></table>
<p>Ask.</p></main><footer><p>01632 960142</p></footer></body></html>`
	for _, tt := range []struct {
		name, kind, on string
		do             func(id string) act.Act
		goes           string // the kind of the part to go on in, and what it says; empty for none
	}{
		{"a row out", "cell", "Dog", func(id string) act.Act { return &act.Table{Part: id, Table: "row out"} }, ""},
		{"a column out", "cell", "£1.50", func(id string) act.Act { return &act.Table{Part: id, Table: "column out"} }, ""},
		{"words out", "words", "Ask.", func(id string) act.Act { return &act.Remove{Part: id} }, ""},
		{"hidden", "words", "Ask.", func(id string) act.Act { return &act.Hide{Part: id} }, ""},
		{"a row in", "cell", "Dog", func(id string) act.Act { return &act.Table{Part: id, Table: "row above"} }, "cell "},
		{"a table in", "words", "Ask.", func(id string) act.Act { return &act.Table{Part: id, Table: "new"} }, "cell New words"},
	} {
		t.Run(tt.name, func(t *testing.T) {
			p, err := page.Parse([]byte(text), "")
			if err != nil {
				t.Fatal(err)
			}
			d, err := thread.Of(p, nil, nil)
			if err != nil {
				t.Fatal(err)
			}
			i := slices.IndexFunc(p.All, func(q *page.Part) bool { return string(q.Kind) == tt.kind && q.Text == tt.on })
			done, err := act.Do(d, tt.do(p.All[i].ID), nil)
			if err != nil {
				t.Fatal(err)
			}
			goes := ""
			if made, ok := done.Draft.Page().Part(done.Made); ok {
				goes = string(made.Kind) + " " + made.Text
			} else if done.Made != "" {
				t.Errorf("%q is no part of the page", done.Made)
			}
			if goes != tt.goes {
				t.Errorf("one goes on in %q, want %q", goes, tt.goes)
			}
		})
	}
}
