package page_test

import (
	"bytes"
	"fmt"
	"math/rand/v2"
	"os"
	"reflect"
	"testing"

	"golang.org/x/net/html"

	"mendry/internal/core/page"
	"mendry/internal/core/source"
	"mendry/internal/foreign"
	"mendry/internal/tries"
)

// typed is what is put into pages.
var typed = []string{
	"x", " ", "é", "“No”", "&amp;", "&", "<", "</", "<b>bold</b>", "<b>bold", "bold</b>", "<i><b>x</i></b>", "<a href=\"/x\">x</a>", "</p>", "<p>", "<p>x</p>",
	"<br>", "</div>", "<div>x</div>", "<div>", "<!-- x -->", "<!--", "-->", "<?php x ?>", "{{ x }}", "{{", "<form>", "<td>", "</td>", "</table>", "<table>", "<li>x",
	"<select>", "<svg><p>", "<textarea>", "<script>", "<h2>x</h2>", "</body>", "<body class=x>", "<html lang=x>", "\r\n", "\x00", "\xff", "<img src=x>", "|", "?", "<nobr>", "<button>", "<plaintext>",
}

// oddPages are read in ways of their own: with elements left open, in the wrong places, or by a program's codes.
var oddPages = []string{
	"<!doctype html><p><b>left open</p><p></p>",
	"<!doctype html><body><p><b>left open<p>goes on</p><div><p>there</p></div></body>",
	"<table><tr><td>a</td><td>b <i>c</td></tr></table><p>d</p><p></p>",
	"<body><div><table><td>a<td>b</table><p>c</div><ul><li>d<li>e</ul><p>f</p></body>",
	"<div><table><tbody><tr><td>a</td><td>b</td></tr></tbody></table>c</div><p>d and more than a few words of it, so that the block is not most of the page</p>",
	"<div><a href=x><p>a</p></a><p>b</p></div><nobr>c<p>d</p>",
	"<form><div><p>a</p></form><p>b</p></div><form><p>c</p></form>",
	"<div>x<p>a</p>|<p>b</p></div><section><h2>c</h2><p>d {{ e }} f</p></section><svg><title>g</title></svg>",
	"<body><pre>\n\na</pre><div><pre>b</pre></div><details><summary>c</summary>d</details><dl><dt>e<dd>f</dl></body></html>\n<!-- g -->",
}

// Odd pages, with everything that is typed put in at every place.
func TestABlockOfAnOddPageReadAgainIsThePageReadAgain(t *testing.T) {
	t.Parallel()
	alone := 0
	for _, odd := range oddPages {
		p, err := page.Parse([]byte(odd), "text/html; charset=utf-8")
		if err != nil {
			t.Fatal(err)
		}
		for at := range len(odd) + 1 {
			for i, s := range typed {
				if !tries.Some(at+i, 5) {
					continue
				}
				e := source.Edit{Span: source.Span{Start: at, End: at}, New: []byte(s)}
				out, _, err := source.Splice(p.Doc.Bytes, []source.Edit{e})
				if err != nil {
					t.Fatal(err)
				}
				got, err := p.Edited(out, []source.Edit{e})
				if err != nil || got.Was == nil {
					continue
				}
				alone++
				want, err := p.Again(out)
				if err != nil {
					t.Fatalf("%s: %v", out, err)
				}
				if where := differ(want, got.Page); where != "" {
					t.Errorf("%s: %s", out, where)
				}
			}
		}
	}
	if alone < tries.Number("", 200, 1000) {
		t.Errorf("only %d edits were read in their block alone", alone)
	}
}

// A page of which one block was read again is the page that x/net/html makes of all its bytes: the same nodes at the
// same places, the same parts with the same names. What is typed is words, references, tags in and out of order, and
// marks of templates, at places of all kinds.
func TestABlockReadAgainIsThePageReadAgain(t *testing.T) {
	t.Parallel()
	r := rand.New(rand.NewPCG(1, 2))
	tried, alone := 0, 0
	for _, path := range everyPage(t) {
		b, err := os.ReadFile(path)
		if err != nil {
			t.Fatal(err)
		}
		p, err := page.Parse(b, "text/html; charset=utf-8")
		if err != nil {
			continue
		}
		for range tries.Number("MENDRY_EDITS", 12, 100) {
			out, edits := b, []source.Edit(nil)
			n := p.Doc.Nodes[r.IntN(len(p.Doc.Nodes))]
			if !n.Placed {
				continue
			}
			at := n.Start() + r.IntN(n.End()-n.Start()+1)
			if r.IntN(3) == 0 {
				at = n.InnerEnd()
			}
			e := source.Edit{Span: source.Span{Start: at, End: min(len(b), at+r.IntN(2)*r.IntN(12))}, New: []byte(typed[r.IntN(len(typed))])}
			edits = append(edits, e)
			if out, _, err = source.Splice(b, edits); err != nil {
				t.Fatal(err)
			}
			tried++
			got, err := p.Edited(out, edits)
			if err != nil || got.Was == nil {
				continue
			}
			alone++
			want, err := p.Again(out)
			if err != nil {
				t.Fatalf("%s: %q at %d was read, and all of the page is not: %v", path, e.New, at, err)
			}
			if where := differ(want, got.Page); where != "" {
				t.Fatalf("%s: %q for %q at %d: %s", path, e.New, b[e.Start:e.End], at, where)
			}
		}
	}
	t.Logf("%d edits, %d of them with one block read again", tried, alone)
	if alone < tried/5 {
		t.Errorf("only %d of %d edits were read in their block alone", alone, tried)
	}
}

// differ says where two pages differ.
func differ(want, got *page.Page) string {
	if where := source.Difference(want.Doc.Root.HTML, got.Doc.Root.HTML); where != "" {
		return "tree at " + where
	}
	var w, g bytes.Buffer
	if err := html.Render(&w, want.Doc.Root.HTML); err == nil { // goes through the links of the tree
		if err := html.Render(&g, got.Doc.Root.HTML); err != nil || w.String() != g.String() {
			return "tree as rendered"
		}
	}
	if len(want.Doc.Nodes) != len(got.Doc.Nodes) {
		return "count of nodes"
	}
	for i, a := range want.Doc.Nodes {
		b := got.Doc.Nodes[i]
		if a.Start() != b.Start() || a.End() != b.End() || a.InnerStart() != b.InnerStart() || a.InnerEnd() != b.InnerEnd() || a.Placed != b.Placed || a.Torn != b.Torn ||
			a.Blank != b.Blank || a.Index != b.Index || !reflect.DeepEqual(a.Runs(), b.Runs()) || a.HTML.Data != b.HTML.Data || (a.Parent == nil) != (b.Parent == nil) ||
			a.Parent != nil && a.Parent.Index != b.Parent.Index || len(a.Kids) != len(b.Kids) {
			return fmt.Sprintf("node %d, %q: %s and %s", i, a.HTML.Data, standing(a), standing(b))
		}
		if want.TextOf(a) != got.TextOf(b) {
			return fmt.Sprintf("text of node %d: %q and %q", i, want.TextOf(a), got.TextOf(b))
		}
		x, is := want.At(a)
		y, was := got.At(b)
		if is != was || is && x.ID != y.ID {
			return fmt.Sprintf("part at node %d", i)
		}
	}
	if !reflect.DeepEqual(want.Facts, got.Facts) || want.Doc.Newline != got.Doc.Newline || len(want.All) != len(got.All) || len(want.Parts) != len(got.Parts) {
		return "facts, line ends or count of parts"
	}
	for i, a := range want.All {
		b := got.All[i]
		if x, y := plain(a), plain(b); !reflect.DeepEqual(x, y) {
			return fmt.Sprintf("part %d:\n%+v\n%+v", i, x, y)
		}
		for j := range a.Parts {
			if a.Parts[j].ID != b.Parts[j].ID || b.Parts[j].Parent != b {
				return "what is in part " + a.ID
			}
		}
		if found, ok := got.Part(a.ID); !ok || found != b {
			return "part by its ID " + a.ID
		}
	}
	return ""
}

// plain is what can be compared of a part.
func plain(part *page.Part) any {
	c := *part
	parent, nodes := "", []int32{}
	if c.Parent != nil {
		parent = c.Parent.ID
	}
	for _, n := range c.Nodes() {
		nodes = append(nodes, n.Index)
	}
	var settings []string
	for _, s := range c.Settings {
		settings = append(settings, s.Part+" "+s.Name+" "+s.Value)
	}
	return []any{
		c.ID, c.Kind, c.Name, c.Start, c.End, c.InnerStart, c.InnerEnd, c.Text, c.HTML, len(c.Attributes), c.Locked, c.Tokens, len(c.Parts), parent, nodes, settings, c.Background,
	}
}

// standing says where a node stands.
func standing(n *source.Node) string {
	return fmt.Sprintf("%d–%d in %d–%d, placed %v, torn %v, blank %v, runs %v", n.InnerStart(), n.InnerEnd(), n.Start(), n.End(), n.Placed, n.Torn, n.Blank, n.Runs())
}

// everyPage lists the pages of Files, and the templates.
func everyPage(t *testing.T) []string {
	t.Helper()
	all := foreign.Files(t)
	names, files := foreign.Templates(t)
	for _, name := range names {
		all = append(all, files[name])
	}
	return all
}
