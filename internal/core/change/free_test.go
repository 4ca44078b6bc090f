package change_test

import (
	"cmp"
	"maps"
	"os"
	"slices"
	"strings"
	"testing"

	"mendry/internal/core/change"
	"mendry/internal/core/page"
	"mendry/internal/foreign"
)

// free reports whether a part can be changed, or all that stands in it can.
func free(part *page.Part) bool {
	if part.Locked == "" {
		return true
	}
	return part.Kind == page.Cell && len(part.Parts) > 0 && !slices.ContainsFunc(part.Parts, func(q *page.Part) bool { return !free(q) })
}

// Of the text parts of pages that nobody here wrote, at least 99 in 100 can be changed; MENDRY_CORPUS tries more
// pages.
func TestAlmostEveryTextPartCanBeChanged(t *testing.T) {
	all, can := 0, 0
	why, where := map[string]int{}, map[string]int{}
	for source, files := range foreign.Pages(t) {
		for _, f := range files {
			b, err := os.ReadFile(f)
			if err != nil {
				t.Fatal(err)
			}
			p, err := page.Parse(b, "")
			if err != nil {
				continue
			}
			for _, part := range p.All {
				if !part.Kind.HasWords() {
					continue
				}
				if all++; free(part) {
					can++
				} else {
					why[part.Locked]++
					where[source]++
				}
			}
		}
	}
	t.Logf("%d of %d text parts can be changed: %.3f %%", can, all, 100*float64(can)/float64(all))
	for _, k := range slices.SortedFunc(maps.Keys(why), func(a, b string) int { return cmp.Compare(why[b], why[a]) }) {
		t.Logf("%6d %s", why[k], k)
	}
	t.Logf("by source: %v", where)
	if 100*can < 99*all {
		t.Errorf("only %d of %d can be changed", can, all)
	}
}

// What locked whole pages, or offered what is no words: each is edited part by part, nothing else changes, and undone.
func TestOddPagesAreEditedPartByPart(t *testing.T) {
	for name, tt := range map[string]struct {
		page   string
		locked []string // texts of the parts that stay locked
	}{
		"a cache's comments after the body": {"<!doctype html><html><head><title>x</title></head><body>\n<h1>A</h1><p>words</p>\n</body>\n<!-- kept -->\n</html>\n\n<!-- by a cache -->\n", nil},
		"words in the head":                 {`<!doctype html><html><head><title>x</title>[code]</head><body class="home"><h1>A</h1><p>words</p></body></html>`, nil},
		"an element in the head":            {`<!doctype html><html><head><title>x</title><div>x</div></head><body class="home" id="b"><h1>A</h1><p>words</p></body></html>`, nil},
		"a template in the head":            {"<!doctype html><html><head><title>x</title>\n{% block head %}{% endblock %}\n<link rel=stylesheet href=x></head><body class=\"home\"><h1>A</h1><p>words</p></body></html>", nil},
		"words in a table":                  {"<h1>A</h1><table>[rows]<tr><td>one</td><td>two</td></tr></table><p>words</p>", nil},
		"a template in a table":             {"<h1>A</h1><table>{% for r in rows %}<tr><td>one</td></tr>{% endfor %}</table><p>words</p>", nil},
		"an element in a table":             {"<h1>A</h1><table><div class=x>above</div><tr><td>one</td></tr></table><p>words</p>", nil},
		"NUL between blocks":                {"<h1>A</h1>\x00<p>words</p>\x00\n<p>more</p>", nil},
		"a line break after pre":            {"<h1>A</h1><pre>\n\nline</pre><p>words</p><pre>\n<b>x</b>y</pre><p>more</p>", nil},
		"an unclosed anchor":                {`<html><body><h1><a id="x"/>Heading</h1><p>words</p><h2><a name="y"/>Two</h2><p>more</p></body></html>`, nil},
		"elements in upper case":            {"<H1>x</H1><P><A HREF=x><B>bold</A> more</P><P>words</P>", nil},
		"a code that ends a tag":            {`<p <?php if($a>1){ ?>class="x"<?php } ?>>words</p><p>more</p>`, []string{`1){ ?>class="x">words`}},
		"a code at the end of a tag":        {"<html><body <?php body_class(); ?>>\n<h1>A</h1><p>words</p></body></html>", []string{">"}},
		"markup in a code":                  {`<h1>A</h1><?php echo "<p>hi</p>"; ?><p>words</p>`, []string{`hi`, `"; ?>`}},
		"codes in attributes":               {`<p class="{{ x }}">one</p><a href="<?php echo $x->y > 2 ?>">two</a><p>words {{ a > b }}</p>`, nil},
	} {
		p, err := page.Parse([]byte(tt.page), "text/html; charset=utf-8")
		if err != nil {
			t.Errorf("%s: %v", name, err)
			continue
		}
		var locked []string
		for _, part := range p.All {
			if !part.Kind.HasWords() || part.Text == "" {
				continue
			}
			if part.Locked != "" {
				locked = append(locked, part.Text)
				continue
			}
			markup, err := change.Retext(p, part, part.Text+" more")
			if err != nil {
				t.Errorf("%s: %q: %v", name, part.Text, err)
				continue
			}
			r, err := change.Apply(p, []change.Op{{Op: change.SetWords, Part: part.ID, HTML: markup}})
			if err != nil {
				t.Errorf("%s: %q: %v", name, part.Text, err)
				continue
			}
			if want := tt.page[:part.InnerStart] + markup + tt.page[part.InnerEnd:]; string(r.Bytes) != want || !strings.Contains(markup, " more") {
				t.Errorf("%s: %q\n%q, want\n%q", name, part.Text, r.Bytes, want)
			}
			back, err := change.Apply(r.Page, r.Undo)
			if err != nil || string(back.Bytes) != tt.page {
				t.Errorf("%s: undone: %v", name, err)
			}
		}
		if !slices.Equal(locked, tt.locked) {
			t.Errorf("%s: locked are %q, want %q", name, locked, tt.locked)
		}
	}
}

func TestBytesThatAreNoPageAreRefusedWithTheReason(t *testing.T) {
	for b, why := range map[string]string{
		"\x1f\x8b\x08\x00\x00": "gzip",
		"\x89PNG\r\n\x1a\n":    "PNG",
		"%PDF-1.7":             "PDF",
		"<\x00p\x00>\x00h\x00i\x00<\x00/\x00p\x00>":          "UTF-16",
		"<meta charset=iso-2022-jp><p>\x1b$BF|K\\\x1b(B</p>": "ISO-2022",
		"<p>\x1b$BF|K\\\x1b(B words</p>":                     "ISO-2022",
		"\x01\x02\x03\x04\x05\x06":                           "no text",
	} {
		if _, err := page.Parse([]byte(b), ""); err == nil || !strings.Contains(err.Error(), why) {
			t.Errorf("%q: %v", b, err)
		}
	}
	if p, err := page.Parse(nil, ""); err != nil || len(p.All) != 0 {
		t.Errorf("an empty page: %v", err)
	}
}
