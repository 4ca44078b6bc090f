package source

import (
	"bufio"
	"bytes"
	"errors"
	"fmt"
	"os"
	"os/exec"
	"path/filepath"
	"runtime"
	"strings"
	"testing"

	"mendry/internal/core/refusal"

	"golang.org/x/net/html"
)

// html5lib's tree-construction cases ship with golang.org/x/net (html/testdata/html5lib-tests); they are read where
// `go mod download` put them. The tree is the library's own, so what is checked is that ranges are sound on every
// case.
func html5lib(t testing.TB) []string {
	t.Helper()
	dir, err := exec.Command("go", "list", "-m", "-f", "{{.Dir}}", "golang.org/x/net").Output()
	if err != nil {
		t.Fatalf("where golang.org/x/net lies: %v", err)
	}
	files, _ := filepath.Glob(filepath.Join(strings.TrimSpace(string(dir)), "html/testdata/html5lib-tests/tree-construction/*.dat"))
	if len(files) < 10 {
		t.Fatalf("found %d html5lib files", len(files))
	}
	var cases []string
	for _, f := range files {
		b, err := os.ReadFile(f)
		if err != nil {
			t.Fatal(err)
		}
		sc := bufio.NewScanner(bytes.NewReader(b))
		var data []string
		in, fragment := false, false
		flush := func() {
			if data != nil && !fragment {
				cases = append(cases, strings.Join(data, "\n"))
			}
			data, fragment = nil, false
		}
		for sc.Scan() {
			switch line := sc.Text(); {
			case line == "#data":
				flush()
				in, data = true, []string{}
			case strings.HasPrefix(line, "#"):
				in = false
				fragment = fragment || line == "#document-fragment" || line == "#script-off"
			case in:
				data = append(data, line)
			}
		}
		flush()
	}
	return cases
}

func TestRangesAreSoundOnHTML5LibCases(t *testing.T) {
	cases := html5lib(t)
	placed, elements := 0, 0
	for _, c := range cases {
		d, err := Parse([]byte(c), "text/html; charset=utf-8")
		if err != nil {
			continue
		}
		sound(t, d)
		for _, n := range d.Nodes {
			if n.Tag() != "" {
				elements++
				if n.Placed {
					placed++
				}
			}
		}
	}
	t.Logf("%d cases, %d of %d elements placed", len(cases), placed, elements)
	if len(cases) < 1000 {
		t.Errorf("only %d cases read", len(cases))
	}
}

// sound checks what must hold of any placed node: its range lies in its nearest placed ancestor's, begins with its own
// start tag, and siblings follow one another.
func sound(t testing.TB, d *Doc) {
	t.Helper()
	for _, n := range d.Nodes {
		if !n.Placed || n == d.Root {
			continue
		}
		if n.Start() > n.InnerStart() || n.InnerStart() > n.InnerEnd() || n.InnerEnd() > n.End() || n.End() > len(d.Bytes) {
			t.Errorf("%q: %s has range %d %d %d %d", d.Bytes, n.HTML.Data, n.Start(), n.InnerStart(), n.InnerEnd(), n.End())
			continue
		}
		if tag := n.Tag(); tag != "" {
			want := "<" + lower([]byte(tag))
			if got := lower(d.Bytes[n.Start():min(n.End(), n.Start()+len(want))]); got != want && tag != "img" {
				t.Errorf("%q: %s begins with %q", d.Bytes, tag, got)
			}
		}
		if n.IsText() {
			got := ""
			for _, r := range n.Runs() {
				got += readText(d.Bytes[r.Start:r.End], n.isUnread())
			}
			if got != n.HTML.Data {
				t.Errorf("%q: text %q has bytes %q", d.Bytes, n.HTML.Data, got)
			}
		}
	}
}

func TestRangesOfAPlainPage(t *testing.T) {
	page := "<!doctype html>\r\n<html lang=en><head><title>A &amp; B</title></head>\r\n<body class='x'>\r\n" +
		"<h1 id=top>Fares</h1><p>One<br/>two <b>three</b>\r\n<p>Next<ul><li>a<li>b</ul>\r\n" +
		"<table><tr><th>Adult<td>&pound;6.90</table><img alt='' src=a.png>\r\n</body>\r\n</html>\r\n"
	d, err := Parse([]byte(page), "")
	if err != nil {
		t.Fatal(err)
	}
	sound(t, d)
	want := map[string]string{
		"title": "<title>A &amp; B</title>", "h1": "<h1 id=top>Fares</h1>", "b": "<b>three</b>",
		"td": "<td>&pound;6.90", "img": "<img alt='' src=a.png>", "li": "<li>a", "br": "<br/>",
		"body": page[strings.Index(page, "<body"):strings.Index(page, "\r\n</html>")],
	}
	for _, n := range d.Nodes {
		if w, ok := want[n.Tag()]; ok {
			if got := page[n.Start():n.End()]; got != w || !n.Placed {
				t.Errorf("%s: %q (placed %v), want %q", n.Tag(), got, n.Placed, w)
			}
			delete(want, n.Tag())
		}
	}
	if len(want) > 0 {
		t.Errorf("not found: %v", want)
	}
}

func TestEncodingsWithinASCIIAreReadAndWritten(t *testing.T) {
	page := append([]byte("<meta charset=windows-1252><p>Caf"), 0xE9, ' ', 0x80, '5', '<', '/', 'p', '>')
	d, err := Parse(page, "")
	if err != nil {
		t.Fatal(err)
	}
	var text string
	for _, n := range d.Nodes {
		if n.IsText() {
			text += d.Text(n)
		}
	}
	if text != "Café €5" { // WHATWG Encoding Standard, index windows-1252: 0xE9 é, 0x80 €
		t.Errorf("read %q", text)
	}
	got, err := d.Encode("é → ☃")
	if err != nil || string(got) != "\xe9 &#8594; &#9731;" {
		t.Errorf("wrote %q, %v", got, err)
	}
}

func TestUTF16IsRefusedInWords(t *testing.T) {
	for page, want := range map[string]string{
		"\xff\xfe<\x00p\x00>\x00": "written in UTF-16LE.", // its mark says so
		"\xfe\xff\x00<\x00p\x00>": "written in UTF-16BE.",
		"<\x00p\x00>\x00h\x00":    "written in UTF-16 without saying so.",
	} {
		if _, err := Parse([]byte(page), ""); err == nil || !strings.Contains(err.Error(), want) {
			t.Errorf("%q: %v", page, err)
		}
	}
}

func TestAttributesAsWritten(t *testing.T) {
	src := `<p><a  HREF = "a?b&amp;c" title='it"s' download data-x=1/2 href=second>x</a>`
	d, err := Parse([]byte(src), "")
	if err != nil {
		t.Fatal(err)
	}
	for _, n := range d.Nodes {
		if n.Tag() != "a" {
			continue
		}
		got := d.Attributes(n)
		want := []struct{ name, value, raw string }{
			{"href", "a?b&c", "a?b&amp;c"}, {"title", `it"s`, `it"s`}, {"download", "", ""}, {"data-x", "1/2", "1/2"},
		}
		if len(got) != len(want) {
			t.Fatalf("got %+v", got)
		}
		for i, w := range want {
			if got[i].Name != w.name || got[i].Value != w.value || src[got[i].Raw.Start:got[i].Raw.End] != w.raw {
				t.Errorf("%d: %+v, want %+v", i, got[i], w)
			}
		}
	}
}

func TestSpliceAndItsUndo(t *testing.T) {
	b := []byte("0123456789")
	out, undo, err := Splice(b, []Edit{{Span{8, 9}, []byte("E")}, {Span{2, 4}, nil}, {Span{2, 2}, []byte("in")}})
	if err != nil || string(out) != "01in4567E9" {
		t.Fatalf("%q %v", out, err)
	}
	back, _, err := Splice(out, undo)
	if err != nil || !bytes.Equal(back, b) {
		t.Errorf("undone %q %v", back, err)
	}
	if _, _, err := Splice(b, []Edit{{Span{2, 5}, nil}, {Span{4, 6}, nil}}); err != ErrOverlap {
		t.Errorf("overlap: %v", err)
	}
}

func FuzzParse(f *testing.F) {
	for _, s := range []string{"<p>a<b>b</p>c", "<table>x<tr><td>y", "<pre>\n\nx", "<svg><title>a</title></svg>", "</p></br>x"} {
		f.Add([]byte(s))
	}
	f.Fuzz(func(t *testing.T, b []byte) {
		d, err := Parse(b, "text/html; charset=utf-8")
		if err != nil {
			return
		}
		sound(t, d)
		tree, err := html.Parse(bytes.NewReader(b))
		if err == nil && !d.BOM && Difference(tree, d.Root.HTML) != "" {
			t.Errorf("tree differs")
		}
	})
}

// Formatting elements that are never closed are opened again in every block: a small page could grow to millions of
// elements. It has to be refused before the tree is made.
func TestAPageThatWouldGrowWithoutEndIsRefused(t *testing.T) {
	open := ""
	for i := range 400 {
		open += fmt.Sprintf("<b id=%d>", i)
	}
	for name, page := range map[string]string{
		"blocks begun":      open + strings.Repeat("<p>", 50_000),
		"blocks ended":      strings.Repeat("<div>", 500) + open + strings.Repeat("</div>x", 500) + strings.Repeat("<div>"+open+"</div>", 200),
		"cells":             "<table>" + strings.Repeat("<tr><td>"+open, 10) + strings.Repeat("</td></tr><tr><td>"+open+"<p>x<p>x<p>x", 200),
		"too many":          strings.Repeat("<i></i>", MaxElements+1),
		"too deep":          strings.Repeat("<div>", 2000),
		"attributes":        "<p " + strings.Repeat("a=b ", 2000) + ">",
		"attributes, tight": "<p " + strings.Repeat("a=''", 2000) + ">",
	} {
		var before, after runtime.MemStats
		runtime.ReadMemStats(&before)
		_, err := Parse([]byte(page), "text/html; charset=utf-8")
		runtime.ReadMemStats(&after)
		var refused *refusal.Refusal
		if !errors.As(err, &refused) {
			t.Errorf("%s: %v", name, err)
		}
		if used := after.TotalAlloc - before.TotalAlloc; used > 200<<20 {
			t.Errorf("%s: used %d MB", name, used>>20)
		}
	}
}
