package change

import (
	"bytes"
	"strings"
	"testing"

	"mendry/internal/core/page"
)

func formPage(t *testing.T, name, content string) *page.Page {
	t.Helper()
	p, err := page.ParseFile(name, []byte(content), "text/html")
	if err != nil {
		t.Fatal(err)
	}
	return p
}

func saying(t *testing.T, p *page.Page, words string) *page.Part {
	t.Helper()
	for _, part := range p.All {
		if part.Text == words && part.Kind.HasWords() {
			return part
		}
	}
	t.Fatalf("no part says %q", words)
	return nil
}

// makes applies operations, holds the page that they make against what is wanted, and undoes them to the same bytes.
func makes(t *testing.T, p *page.Page, want string, ops ...Op) *Result {
	t.Helper()
	r, err := Apply(p, ops)
	if err != nil {
		t.Fatal(err)
	}
	if got := string(r.Bytes); got != want {
		t.Errorf("got  %q\nwant %q", got, want)
	}
	if back, err := Apply(r.Page, r.Undo); err != nil || !bytes.Equal(back.Bytes, p.Doc.Bytes) {
		t.Errorf("it is not undone: %v", err)
	}
	return r
}

func TestABlockTakesAnotherFormAndItsWordsKeepTheirBytes(t *testing.T) {
	t.Parallel()
	const head = "<!doctype html><html><head><title>t</title></head><body><main>\r\n"
	for _, c := range []struct{ name, before, words, form, after string }{
		{"heading up", "<h1>T</h1>\r\n<H3 id=x>A &amp; <b >b</b></H3>\r\n", "A & b", "h2", "<h1>T</h1>\r\n<h2 id=x>A &amp; <b >b</b></h2>\r\n"},
		{"its class with it", `<h2 class="big">One</h2><h2 class="big">Two</h2><h3 class="mid">C</h3>`, "Two", "h3", `<h2 class="big">One</h2><h3 class="mid">Two</h3><h3 class="mid">C</h3>`},
		{"a class of its own stays", `<h2 class="big">One</h2><h2 class="odd">Two</h2><h3 class="mid">C</h3>`, "Two", "h3", `<h2 class="big">One</h2><h3 class="odd">Two</h3><h3 class="mid">C</h3>`},
		{"heading to words", "<h2 class='s'>A</h2><p>B</p>", "A", "p", "<p class='s'>A</p><p>B</p>"},
		{"words to a heading", "<p>A</p>\r\n<h2 class=\"s\">B</h2>", "A", "h2", "<h2 class=\"s\">A</h2>\r\n<h2 class=\"s\">B</h2>"},
		{"words to a quote", "<p>A <i>b</i></p><p>c</p>", "A b", "quote", "<blockquote><p>A <i>b</i></p></blockquote><p>c</p>"},
		{"a quote to words", "<blockquote>\r\n<p>A</p>\r\n</blockquote><p>c</p>", "A", "p", "<p>A</p><p>c</p>"},
		{"words to a list", "<div>\r\n  <p>A</p>\r\n  <p>c</p>\r\n</div>", "A", "bullets", "<div>\r\n  <ul>\r\n    <li>A</li>\r\n  </ul>\r\n  <p>c</p>\r\n</div>"},
		{"a list like the others", `<p>A</p><ul class="k"><li class="i">b c</li></ul>`, "A", "bullets", `<ul class="k"><li class="i">A</li></ul><ul class="k"><li class="i">b c</li></ul>`},
		{"a menu is no list like it", `<nav><ul class="menu"><li class="m"><a href=/>H</a></li></ul></nav><p>A</p>`, "A", "bullets", `<nav><ul class="menu"><li class="m"><a href=/>H</a></li></ul></nav><ul><li>A</li></ul>`},
		{"numbers", "<p>A</p>", "A", "numbers", "<ol><li>A</li></ol>"},
		{"a list of one to words", "<ul><li>A b c</li></ul><p>c</p>", "A b c", "p", "<p>A b c</p><p>c</p>"},
		{"bullets to numbers", "<ul><li>A b c</li></ul><p>c</p>", "A b c", "numbers", "<ol><li>A b c</li></ol><p>c</p>"},
	} {
		t.Run(c.name, func(t *testing.T) {
			p := formPage(t, "a.html", head+c.before+"</main></body></html>\r\n")
			r := makes(t, p, head+c.after+"</main></body></html>\r\n", Op{Op: Recast, Part: saying(t, p, c.words).ID, Form: Form(c.form)})
			if now := FormOf(saying(t, r.Page, c.words)); now != Form(c.form) {
				t.Errorf("its form is %q", now)
			}
		})
	}
}

func TestAMarkdownBlockTakesAnotherForm(t *testing.T) {
	t.Parallel()
	const content = "---\r\ntitle: x\r\n---\r\n# T\r\n\r\nSecond\r\n------\r\n\r\nOne *two*\r\n\r\n* a\r\n* b\r\n\r\n> Q\r\n\r\n### Third ###\r\n\r\nlong\r\nlines\r\n"
	for _, c := range []struct{ words, form, was, now string }{
		{"Third", "h2", "### Third ###", "## Third"},
		{"Third", "p", "### Third ###", "Third"},
		{"Second", "h3", "Second\r\n------", "### Second"},
		{"One two", "h3", "One *two*", "### One *two*"},
		{"One two", "quote", "One *two*", "> One *two*"},
		{"One two", "numbers", "One *two*", "1. One *two*"},
		{"Q", "p", "> Q", "Q"},
	} {
		p := formPage(t, "a.md", content)
		r, err := Apply(p, []Op{{Op: Recast, Part: saying(t, p, c.words).ID, Form: Form(c.form)}})
		if err != nil {
			t.Errorf("%s to %s: %v", c.words, c.form, err)
			continue
		}
		if want := strings.Replace(content, c.was, c.now, 1); string(r.Bytes) != want {
			t.Errorf("%s to %s: %q", c.words, c.form, r.Bytes)
		}
	}
	p := formPage(t, "a.md", content)
	if _, err := Apply(p, []Op{{Op: Recast, Part: saying(t, p, "long lines").ID, Form: "h2"}}); err == nil || !strings.Contains(err.Error(), "one line") {
		t.Errorf("a heading over two lines: %v", err)
	}
}

func TestHeadingsAreOfferedInTheLevelsThatThePageAllows(t *testing.T) {
	t.Parallel()
	p := formPage(t, "a.html", "<!doctype html><title>t</title><body><p>lead</p><h1>One</h1><p>under one</p><h2>Two</h2><p>under two</p><h4>Four</h4>")
	for words, want := range map[string]string{
		"lead": "p h2 quote bullets numbers", "One": "p h1 h2 quote bullets numbers", "under one": "p h2 quote bullets numbers",
		"under two": "p h2 h3 quote bullets numbers", "Four": "p h2 h3 h4 quote bullets numbers",
	} {
		var got []string
		for _, f := range FormsFor(p, saying(t, p, words)) {
			got = append(got, string(f))
		}
		if strings.Join(got, " ") != want {
			t.Errorf("%q may be %q, want %q", words, got, want)
		}
	}
}

func TestWhatCannotTakeAFormSaysWhy(t *testing.T) {
	t.Parallel()
	p := formPage(t, "a.html", "<!doctype html><title>t</title><body><dl><dt>x<dd>one two three</dl><table><tr><td>cell</table>")
	for _, words := range []string{"one two three", "cell"} {
		part := saying(t, p, words)
		if f := FormOf(part); f != "" && f != PlainCell {
			t.Errorf("%q has the form %q", words, f)
		}
		if _, err := Apply(p, []Op{{Op: Recast, Part: part.ID, Form: "h2"}}); err == nil {
			t.Errorf("%q became a heading", words)
		}
	}
}

func TestMarkupThatIsPutInIsWrittenAsThePageWritesIt(t *testing.T) {
	t.Parallel()
	for before, want := range map[string]string{
		"<p>a <b>b</b> c</p>":           "<p><b>x</b> <i>y</i></p>",
		"<p>a <em>b</em> c</p>":         "<p><strong>x</strong> <em>y</em></p>",
		"<p>a <i class=icon></i> c</p>": "<p><strong>x</strong> <em>y</em></p>",
	} {
		p := formPage(t, "a.html", "<!doctype html><title>t</title><body>"+before)
		if got := AsWritten(p, "<p><strong>x</strong> <em>y</em></p>"); got != want {
			t.Errorf("%s: %s", before, got)
		}
	}
}

func TestChosenWordsGetAStyleOfTheSite(t *testing.T) {
	t.Parallel()
	const head = "<!doctype html><title>t</title><body>"
	for _, c := range []struct{ before, edited, after string }{
		{`<p>Call us now</p>`, `Call <span data-look="hot">us</span> now`, `<p>Call <span class="hot">us</span> now</p>`},
		{`<p>Call <b>us now</b></p>`, `Call <strong>us <span data-look="hot">now</span></strong>`, `<p>Call <b>us <span class="hot">now</span></b></p>`},
		{`<p><span class="x">Call</span> us <span class="y">now</span></p>`, `<span data-keep="0">Call</span> <span data-look="hot">us</span> <span data-keep="1">now</span>`, `<p><span class="x">Call</span> <span class="hot">us</span> <span class="y">now</span></p>`},
		{`<p>Call us</p>`, `<span data-look="hot">Call</span> <span data-look="cold">us</span>`, `<p><span class="hot">Call</span> <span class="cold">us</span></p>`},
		{`<p>Call <span class="hot">us</span> now</p>`, `Call us now`, `<p>Call us now</p>`},
	} {
		p := formPage(t, "a.html", head+c.before)
		part := p.All[len(p.All)-1]
		for part.Kind != page.Words {
			part = part.Parent
		}
		markup, err := Rewrite(p, part, c.edited)
		if err != nil {
			t.Errorf("%s: %v", c.edited, err)
			continue
		}
		r, err := Apply(p, []Op{{Op: SetWords, Part: part.ID, HTML: markup}})
		if err != nil || string(r.Bytes) != head+c.after {
			t.Errorf("%s: %v %s", c.edited, err, r.Bytes)
			continue
		}
		if c.after == `<p>Call <span class="hot">us</span> now</p>` {
			if say := Between(part, saying(t, r.Page, "Call us now")).Say; !strings.HasSuffix(say, "“us” is now in the style “hot”") {
				t.Errorf("it is said: %s", say)
			}
		}
	}
	p := formPage(t, "a.html", head+"<p>Call us</p>")
	if got, err := Rewrite(p, saying(t, p, "Call us"), `<span data-look='x" onclick="y'>Call</span> us`); err == nil {
		t.Errorf("written: %s", got)
	}
	md := formPage(t, "a.md", "Call us\n")
	if got, err := Rewrite(md, saying(t, md, "Call us"), `<span data-look="hot">Call</span> us`); err == nil {
		t.Errorf("written into Markdown: %s", got)
	}
}
