package change_test

import (
	"bytes"
	"errors"
	"testing"

	"mendry/internal/core/change"
	"mendry/internal/core/page"
	"mendry/internal/core/refusal"
)

// Any page, any operation on any part: applied and undone to the same bytes, or refused in words. Nothing panics.
func FuzzApply(f *testing.F) {
	f.Add([]byte("<h1><a id=x/>A</h1><p>b <b>c</p><table>x<tr><td>y<td>{{ z }}</table>"), "new <i>words</i>", uint8(0), uint8(1), uint8(2), false)
	f.Add([]byte("<div style='background:url(a.png)'><h2>a</h2>b<p>c</div><nav><ul><li><a href=1>1</a><li><a href=2>2</a></ul></nav>"), "x", uint8(4), uint8(3), uint8(1), false)
	f.Add([]byte(beans), "new <em>words</em> & 1. more", uint8(0), uint8(4), uint8(2), true)
	f.Add([]byte("---\ntitle: 'a'\n---\n> * a\n>   b\n\n![c](d \"e\")"), "f", uint8(2), uint8(1), uint8(0), true)
	f.Add([]byte("<ul><li>a</ul><blockquote><p class=x>b</blockquote><h3>c</h3><table><tr><td>d"), "", uint8(7), uint8(1), uint8(4), false)
	f.Add([]byte("# a\n\n> b\n\n1. c\n\nd *e*\n"), "", uint8(7), uint8(3), uint8(1), true)
	f.Add([]byte("<h1>t</h1>\n<ol start=3>\n <li>a b\n <li>c<i>d</i>\n <li>e</ol><p>f<p>g [x /]"), "", uint8(7), uint8(2), uint8(8), false)
	f.Add([]byte("t\n\n- a b\n- *c*\n- d\n\ne\n\nf"), "", uint8(8), uint8(5), uint8(8), true)
	kinds := []change.Kind{change.SetWords, change.SetAttribute, change.SetFact, change.Insert, change.Copy, change.Move, change.Remove, change.Recast}
	places := []change.Where{change.Before, change.After, change.First, change.Last}
	forms := []change.Form{change.Paragraph, "h2", "h6", change.Quote, change.Bullets, change.Numbers, change.HeaderCell, change.PlainCell}
	names := []string{"title", "alt", "href", "src", "description", "lang", "class"}
	f.Fuzz(func(t *testing.T, b []byte, words string, kind, part, anchor uint8, markdown bool) {
		if len(b) > 4000 || len(words) > 400 {
			return
		}
		parse := func(b []byte) (*page.Page, error) { return page.Parse(b, "text/html; charset=utf-8") }
		if markdown {
			parse = page.ParseMarkdown
		}
		p, err := parse(b)
		if err != nil || len(p.All) == 0 {
			return
		}
		on, beside := p.All[int(part)%len(p.All)], p.All[int(anchor)%len(p.All)]
		op := change.Op{
			Op: kinds[int(kind)%len(kinds)], Part: on.ID, Anchor: beside.ID, Where: places[int(anchor)%len(places)],
			Name: names[int(part)%len(names)], Value: &words, HTML: words, Form: forms[int(anchor)%len(forms)],
		}
		ops := []change.Op{op}
		r, err := change.Apply(p, ops)
		if err != nil {
			var refused *refusal.Refusal
			if !errors.As(err, &refused) || refused.Say == "" {
				t.Fatalf("%v", err)
			}
			return
		}
		back, err := change.Apply(r.Page, r.Undo)
		if err != nil || !bytes.Equal(back.Bytes, b) {
			t.Errorf("%+v on %q is not undone: %v", ops, b, err)
		}
		d := change.Compare(p, r.Page)
		if d.Same != bytes.Equal(b, r.Bytes) {
			t.Errorf("compare says same %v", d.Same)
		}
		if _, err := change.Merge(p, r.Page, p); err != nil {
			t.Errorf("merging with a side that did nothing: %v", err)
		}
	})
}
