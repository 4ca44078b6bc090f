package change

import (
	"errors"
	"testing"

	"mendry/internal/core/refusal"
)

func TestAnItemAmongOthersTakesAnotherForm(t *testing.T) {
	t.Parallel()
	for _, c := range []struct{ name, file, before, words, form, after string }{
		{
			"in the middle", "a.html", "<h1>t</h1>\r\n<ul class=\"k\" id=\"x\">\r\n  <li>A b</li>\r\n  <li>C <i>d</i></li>\r\n  <li>E f</li>\r\n</ul>\r\n", "C d", "p",
			"<h1>t</h1>\r\n<ul class=\"k\" id=\"x\">\r\n  <li>A b</li>\r\n</ul>\r\n<p>C <i>d</i></p>\r\n<ul class=\"k\">\r\n  <li>E f</li>\r\n</ul>\r\n",
		},
		{"the first", "a.html", "<div>\n <ul>\n  <li>A b</li>\n  <li>C d</li>\n </ul></div>", "A b", "p", "<div>\n <p>A b</p>\n <ul>\n  <li>C d</li>\n </ul></div>"},
		{"the last", "a.html", "<h1>t</h1>\n<ul>\n  <li>A b</li>\n  <li>C d</li>\n</ul>\n", "C d", "quote", "<h1>t</h1>\n<ul>\n  <li>A b</li>\n</ul>\n<blockquote><p>C d</p></blockquote>\n"},
		{"all in one line", "a.html", "<h1>t</h1><ul><li>A b</li><li>C d</li><li>E f</li></ul>", "C d", "h2", "<h1>t</h1><ul><li>A b</li></ul><h2>C d</h2><ul><li>E f</li></ul>"},
		{"numbers go on", "a.html", "<ol start=4 type=a><li>A b</li><li>C d</li><li>E f</li></ol>", "C d", "p", "<ol start=4 type=a><li>A b</li></ol><p>C d</p><ol type=a start=\"5\"><li>E f</li></ol>"},
		{"numbers go down", "a.html", "<ol reversed><li>A b</li><li>C d</li><li>E f</li></ol>", "C d", "p", "<ol reversed><li>A b</li></ol><p>C d</p><ol reversed><li>E f</li></ol>"},
		{"items without end tags", "a.html", "<ul><li>A b<li>C d<li>E f</ul>", "C d", "p", "<ul><li>A b</ul><p>C d</p><ul><li>E f</ul>"},
		{"one that holds more beside it", "a.html", "<ul><li>A b</li><li>C d<ul><li>x y</li></ul></li></ul>", "A b", "p", "<p>A b</p><ul><li>C d<ul><li>x y</li></ul></li></ul>"},
		{"the whole list numbered", "a.html", "<UL class=k>\n<li>A b\n<li>C d</UL>", "C d", "numbers", "<ol class=k>\n<li>A b\n<li>C d</ol>"},
		{"the whole list bulleted", "a.html", "<ol start=\"3\" class=\"k\"><li>A b</li><li>C d</li></ol>", "A b", "bullets", "<ul class=\"k\"><li>A b</li><li>C d</li></ul>"},
		{"Markdown, in the middle", "a.md", "# T\r\n\r\n* A *b*\r\n* C d\r\n* E f\r\n", "C d", "p", "# T\r\n\r\n* A *b*\r\n\r\nC d\r\n\r\n* E f\r\n"},
		{"Markdown, the first, numbered", "a.md", "1. A b\n2. C d\n3. E f\n\nx\n", "A b", "h1", "# A b\n\n1. C d\n3. E f\n\nx\n"},
		{"Markdown, numbers go on", "a.md", "3) A b\n4) C d\n5) E f\n", "C d", "p", "3) A b\n\nC d\n\n4) E f\n"},
		{"Markdown, the last", "a.md", "- A b\n- C d\n\nx\n", "C d", "quote", "- A b\n\n> C d\n\nx\n"},
		{"Markdown, the whole list numbered", "a.md", "- A b\n- C d\n\nx\n", "C d", "numbers", "1. A b\n2. C d\n\nx\n"},
		{"Markdown, the whole list bulleted", "a.md", "7. A b\n8. C d\n\nx\n", "C d", "bullets", "- A b\n- C d\n\nx\n"},
	} {
		t.Run(c.name, func(t *testing.T) {
			t.Parallel()
			p := formPage(t, c.file, c.before)
			r := makes(t, p, c.after, Op{Op: Recast, Part: saying(t, p, c.words).ID, Form: Form(c.form)})
			if now := FormOf(saying(t, r.Page, c.words)); now != Form(c.form) {
				t.Errorf("its form is %q", now)
			}
		})
	}
}

func TestAnItemThatCannotLeaveItsListSaysWhy(t *testing.T) {
	t.Parallel()
	for _, c := range []struct{ file, before, words string }{
		{"a.md", "- A b\n- C d\n  - E f\n  - G h\n", "E f"},
		{"a.md", "> - A b\n> - C d\n", "C d"},
		{"a.md", "- A b\n- C d\n  goes on\n", "A b"},
	} {
		p := formPage(t, c.file, c.before)
		for _, form := range []Form{Paragraph, Numbers} {
			var refused *refusal.Refusal
			if r, err := Apply(p, []Op{{Op: Recast, Part: saying(t, p, c.words).ID, Form: form}}); !errors.As(err, &refused) {
				t.Errorf("%q becomes %s: %v %v", c.before, form, r, err)
			}
		}
	}
}
