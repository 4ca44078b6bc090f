package change

import (
	"errors"
	"testing"

	"mendry/internal/core/refusal"
)

func TestWordsGoOnInTheBlockAbove(t *testing.T) {
	t.Parallel()
	for _, c := range []struct{ name, file, before, words, edited, after string }{
		{"paragraphs", "a.html", "<p>A <b >x</b>.</p>\r\n<p class=q>B &amp; <i>c</i></p>\r\n<p>d</p>", "B & c", "B &amp; <em>c</em>", "<p>A <b >x</b>. B &amp; <i>c</i></p>\r\n<p>d</p>"},
		{"as it was typed on", "a.html", "<p>A.</p><p>B c</p>", "B c", "Bb c", "<p>A. Bb c</p>"},
		{"blanks around", "a.html", "<p>\n  A.\n</p>\n<p>\n  B c\n</p>\n", "B c", "B c", "<p>\n  A. B c\n</p>\n"},
		{"a wrapper goes with its words", "a.html", `<p>A.</p><p>B <small class="k">c</small></p>`, "B c", `B <span data-keep="0">c</span>`, `<p>A. B <small class="k">c</small></p>`},
		{"items of a list", "a.html", "<ul>\n<li>A b</li>\n<li>C d</li>\n<li>E f</li>\n</ul>", "C d", "C d", "<ul>\n<li>A b C d</li>\n<li>E f</li>\n</ul>"},
		{"up into a heading", "a.html", "<h2>A</h2><p>B c</p>", "B c", "B c", "<h2>A B c</h2>"},
		{"an empty one", "a.html", "<p>A.</p><p>B c</p>", "B c", "", "<p>A.</p>"},
		{"Markdown", "a.md", "# T\n\nA *x*.\n\nB **c**\n\nd\n", "B c", "B <strong>c</strong>", "# T\n\nA *x*. B **c**\n\nd\n"},
	} {
		t.Run(c.name, func(t *testing.T) {
			t.Parallel()
			p := formPage(t, c.file, c.before)
			part := saying(t, p, c.words)
			words, err := Joined(p, part, c.edited)
			if err != nil {
				t.Fatal(err)
			}
			makes(t, p, c.after, Op{Op: SetWords, Part: Above(p, part).ID, HTML: words}, Op{Op: Remove, Part: part.ID})
		})
	}
}

func TestWordsDoNotGoOnOverOtherThings(t *testing.T) {
	t.Parallel()
	for _, c := range []struct{ name, before, words string }{
		{"the first", "<p>B c</p><p>d</p>", "B c"},
		{"a picture between", `<p>A.</p><img src="x.png" alt="x"><p>B c</p>`, "B c"},
		{"loose words between", `<p>A.</p>loose words<p>B c</p>`, "B c"},
		{"a comment between", `<p>A.</p><!-- x --><p>B c</p>`, "B c"},
		{"another element around", `<div><p>A.</p></div><p>B c</p>`, "B c"},
		{"a form above", `<form><label>A <input></label></form><p>B c</p>`, "B c"},
		{"a cell", `<table><tr><td>A</td><td>B c</td></tr></table>`, "B c"},
	} {
		p := formPage(t, "a.html", c.before)
		part := saying(t, p, c.words)
		if above := Above(p, part); above != nil {
			t.Errorf("%s: its words would go on in %q", c.name, above.Text)
		}
		var refused *refusal.Refusal
		if _, err := Joined(p, part, "B c"); !errors.As(err, &refused) {
			t.Errorf("%s: %v", c.name, err)
		}
	}
}
