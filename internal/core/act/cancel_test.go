package act_test

import (
	"testing"

	"mendry/internal/core/act"
	"mendry/internal/core/change"
)

// What is put in and taken out again, or moved and moved back, leaves no change, also where something else was changed
// in between; what another change stands in, or a release carries, stays.
func TestWhatCancelsOutLeavesNothing(t *testing.T) {
	t.Parallel()
	const body = `<p>One</p><p>Two</p><table><tr><td>a</td><td>b</td></tr><tr><td>c</td><td>d</td></tr></table>`
	words := func(id, words string) act.Act { return &act.Words{id, words} }
	for _, c := range []struct {
		name string
		acts []act.Act
		left int
	}{
		{"a copy taken out", []act.Act{&act.Copy{Part: "words-1"}, &act.Remove{"words-2"}}, 0},
		{"a move back", []act.Act{&act.Move{"words-2", "words-1", change.Before}, &act.Move{"words-1", "words-2", change.After}}, 0},
		{"a column in and out", []act.Act{&act.Table{"cell-1", change.ColumnAfter}, &act.Table{"cell-2", change.ColumnOut}}, 0},
		{"a row in and out", []act.Act{&act.Table{"cell-1", change.RowBelow}, &act.Table{"cell-3", change.RowOut}}, 0},
		{"with words changed in between", []act.Act{&act.Copy{Part: "words-1"}, words("words-3", "Two, and more"), &act.Remove{"words-2"}}, 1},
		{"taken out alone", []act.Act{&act.Remove{"words-1"}}, 1},
		{"another one taken out", []act.Act{&act.Copy{Part: "words-1"}, &act.Remove{"words-3"}}, 2},
		{"a copy that was reworded", []act.Act{&act.Copy{Part: "words-1"}, words("words-2", "Half"), &act.Remove{"words-2"}}, 0},
		{"a copy that was moved and reworded", []act.Act{&act.Copy{Part: "words-1"}, &act.Move{"words-2", "words-3", change.After}, words("words-3", "Half"), &act.Remove{"words-3"}}, 0},
		{"something else before", []act.Act{words("words-2", "Two, and more"), &act.Copy{Part: "words-1"}, words("words-2", "Half"), &act.Remove{"words-2"}}, 1},
	} {
		d := draft(t, body)
		id := int64(0)
		for _, a := range c.acts {
			done, err := act.Do(d, a, nil)
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
