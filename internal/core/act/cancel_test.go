package act

import (
	"testing"

	"mendry/internal/core/change"
	"mendry/internal/core/page"
	"mendry/internal/core/thread"
)

// What is put in and taken out again, or moved and moved back, leaves no change, also where something else was changed
// in between; what another change stands in, or a release carries, stays.
func TestWhatCancelsOutLeavesNothing(t *testing.T) {
	t.Parallel()
	const body = `<p>One</p><p>Two</p><table><tr><td>a</td><td>b</td></tr><tr><td>c</td><td>d</td></tr></table>`
	words := func(id, words string) Act { return &Words{id, words} }
	for _, c := range []struct {
		name string
		acts []Act
		left int
	}{
		{"a copy taken out", []Act{&Copy{Part: "words-1"}, &Remove{"words-2"}}, 0},
		{"a move back", []Act{&Move{"words-2", "words-1", change.Before}, &Move{"words-1", "words-2", change.After}}, 0},
		{"a column in and out", []Act{&Table{"cell-1", change.ColumnAfter}, &Table{"cell-2", change.ColumnOut}}, 0},
		{"a row in and out", []Act{&Table{"cell-1", change.RowBelow}, &Table{"cell-3", change.RowOut}}, 0},
		{"with words changed in between", []Act{&Copy{Part: "words-1"}, words("words-3", "Two, and more"), &Remove{"words-2"}}, 1},
		{"taken out alone", []Act{&Remove{"words-1"}}, 1},
		{"another one taken out", []Act{&Copy{Part: "words-1"}, &Remove{"words-3"}}, 2},
		{"a copy that was reworded", []Act{&Copy{Part: "words-1"}, words("words-2", "Half"), &Remove{"words-2"}}, 3},
	} {
		p, err := page.Parse([]byte(body), "text/html; charset=utf-8")
		if err != nil {
			t.Fatal(err)
		}
		d, err := thread.Of(p, nil, nil)
		if err != nil {
			t.Fatal(err)
		}
		id := int64(0)
		for _, a := range c.acts {
			done, err := Do(d, a, nil)
			if err != nil {
				t.Fatalf("%s: %v", c.name, err)
			}
			d = done.Draft
			for i := range d.Kept {
				if d.Kept[i].ID < 0 {
					id++
					d.Kept[i].ID = id
				}
			}
		}
		if len(d.Kept) != c.left {
			t.Errorf("%s: %d changes are left, want %d", c.name, len(d.Kept), c.left)
		}
		if got := string(d.Page().Doc.Bytes); c.left == 0 && got != body {
			t.Errorf("%s: %s", c.name, got)
		}
	}
}
