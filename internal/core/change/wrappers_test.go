package change

import (
	"strings"
	"testing"
)

// What a section's, an item's or a figure's own tag says is a change with words, and nothing differs outside of it.
func TestWhatATagOfASectionSaysIsAChange(t *testing.T) {
	const old = `<main><h1>T</h1><section class="one wide"><h2>A</h2><p>Words here.</p></section><a class="card" href="/one.html"><h3>Card</h3><p>Go there.</p></a>
<figure class="left"><img src="q.jpg" alt="Q"><figcaption>Cap</figcaption></figure><ul><li>One</li><li data-on="1">Two</li></ul><table><tr><td>a</td><td>b</td></tr></table></main>`
	for _, tt := range []struct{ from, to, want string }{
		{`class="one wide"`, `class="two wide"`, "A: class “one” becomes “two”"},
		{`class="one wide"`, `class="one"`, "A: class “wide” is gone"},
		{` class="one wide"`, ``, "A: class “one wide” is gone"},
		{`class="one wide"`, `class="wide one"`, "A: its classes in another order"},
		{`<section class="one wide">`, `<section  class="one wide">`, "A: the same, written otherwise"},
		{`href="/one.html"`, `href="/two.html"`, "Card: leads to /two.html instead of /one.html"},
		{`class="left"`, `class="left" id="f"`, "“Cap”: id “f” is new"},
		{`<tr>`, `<tr class="x">`, "a: class “x” is new"},
	} {
		got := Compare(parse(t, old), parse(t, strings.Replace(old, tt.from, tt.to, 1)))
		if len(got.Changes) != 0 || len(got.Tags) != 1 || got.Tags[0].Say != tt.want || !got.OutsideSame {
			t.Errorf("%s: %v, outside the same: %v", tt.to, got.All(), got.OutsideSame)
		}
	}
	both := strings.NewReplacer(`class="left"`, `class="right"`, "Words here", "Other words").Replace(old)
	if got := Compare(parse(t, old), parse(t, both)); len(got.All()) != 2 || !got.OutsideSame {
		t.Errorf("%+v", got)
	}
}
