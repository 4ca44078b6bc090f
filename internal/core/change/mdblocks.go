package change

import (
	"bytes"
	"strconv"
	"strings"

	"golang.org/x/net/html"

	"mendry/internal/core/page"
	"mendry/internal/core/source"
)

// blockOf is the block that stands for a part: a picture alone in its paragraph is moved with it.
func (w *work) blockOf(part *page.Part) (*source.Node, error) {
	n := part.Node
	if part.Run != nil {
		return nil, refuse("“%s” stands in a list item together with other parts. Change the item.", part.Name)
	}
	for n.Parent != nil && n.Is("img", "a", "em", "strong", "del", "code") {
		if len(n.Parent.Kids) > 1 {
			return nil, refuse("“%s” stands among words. Change the words around it.", part.Name)
		}
		n = n.Parent
	}
	if !n.Placed || n.Parent == nil || n.Is("td", "th") {
		return nil, refuse("“%s” cannot be moved alone in Markdown.", part.Name)
	}
	return n, nil
}

// linePrefix is what a line begins with that goes on where n begins: marks of quotes, and blanks for marks of lists.
func linePrefix(d *source.Doc, at int) string {
	start := bytes.LastIndexByte(d.Bytes[:at], '\n') + 1
	return strings.Map(func(r rune) rune {
		if r == '>' || r == ' ' || r == '\t' {
			return r
		}
		return ' '
	}, string(d.Bytes[start:at]))
}

func siblings(n *source.Node) (before, after *source.Node) {
	ks := n.Parent.Kids
	for i, k := range ks {
		if k != n {
			continue
		}
		for j := i - 1; j >= 0 && before == nil; j-- {
			if ks[j].Placed {
				before = ks[j]
			}
		}
		for j := i + 1; j < len(ks) && after == nil; j++ {
			if ks[j].Placed {
				after = ks[j]
			}
		}
	}
	return before, after
}

func (w *work) placeMarkdown(part, anchor *page.Part, op Op) ([]source.Edit, error) {
	n, err := w.blockOf(part)
	if err != nil {
		return nil, err
	}
	a, err := w.blockOf(anchor)
	if err != nil {
		return nil, err
	}
	d := w.p.Doc
	if n.Is("li", "tr") != a.Is("li", "tr") || n.Is("tr") != a.Is("tr") {
		return nil, refuse("“%s” can stand beside parts of its own kind only.", part.Name)
	}
	raw := string(d.Bytes[n.Start():n.End()])
	if was, is := linePrefix(d, n.Start()), linePrefix(d, a.Start()); was != is {
		raw = strings.ReplaceAll(raw, "\n"+was, "\n"+is)
	}
	edits := w.besideBlock(a, op.Where, []byte(raw), []*html.Node{clone(n.HTML)})
	if op.Op == Copy {
		return edits, nil
	}
	gone, err := w.removeMarkdown(part)
	return append(edits, gone...), err
}

// marksBeside gives the marks of items that are put before or after another one: its own, or the numbers that follow.
func (w *work) marksBeside(li *source.Node, where Where) func(int) string {
	mark := itemMark.FindSubmatch(w.p.Doc.Bytes[li.Start():li.End()])
	if mark == nil {
		return nil
	}
	own, number := string(mark[1]), string(mark[2])
	first, err := strconv.Atoi(number)
	if err != nil {
		return func(int) string { return own }
	}
	if where == After {
		first++
	}
	return func(n int) string { return strconv.Itoa(first+n) + own[len(number):] }
}

// besideBlock puts raw beside a block, a blank line between them unless both are lines of one list or table.
func (w *work) besideBlock(a *source.Node, where Where, raw []byte, kids []*html.Node) []source.Edit {
	d := w.p.Doc
	end := d.LineEnd()
	prefix := linePrefix(d, a.Start())
	gap := end + strings.TrimRight(prefix, " \t") + end + prefix
	if a.Is("li", "tr") && !w.loose(a) {
		gap = end + prefix
	}
	if where == Before {
		w.plan.InsertBefore(a.Parent.HTML, kids, a.HTML)
		return []source.Edit{{Span: source.Span{Start: a.Start(), End: a.Start()}, New: append(raw, gap...)}}
	}
	w.plan.InsertBefore(a.Parent.HTML, kids, a.HTML.NextSibling)
	return []source.Edit{{Span: source.Span{Start: a.End(), End: a.End()}, New: append([]byte(gap), raw...)}}
}

// loose reports whether blank lines stand between the items of a list.
func (w *work) loose(li *source.Node) bool {
	for _, k := range li.Kids {
		if k.Is("p") {
			return true
		}
	}
	return false
}

func (w *work) removeMarkdown(part *page.Part) ([]source.Edit, error) {
	n, err := w.blockOf(part)
	if err != nil {
		return nil, err
	}
	before, after := siblings(n)
	span := source.Span{Start: n.Start(), End: n.End()}
	switch {
	case after != nil && !n.Is("tr"):
		span.End = after.Start()
	case before != nil:
		span.Start = before.End()
	case n.Parent.Is("body"):
	default:
		return nil, refuse("Nothing would be left around “%s”. Take out what it stands in.", part.Name)
	}
	if !w.plan.Remove(n.HTML) {
		return nil, refuse("“%s” is moved or removed twice.", part.Name)
	}
	return []source.Edit{{Span: span}}, nil
}

func (w *work) insertMarkdown(anchor *page.Part, op Op) ([]source.Edit, error) {
	if op.Where != Before && op.Where != After {
		return nil, refuse("On a Markdown page, content is put before or after a part.")
	}
	a, err := w.blockOf(anchor)
	if err != nil {
		return nil, err
	}
	if around := standing(anchor, op.Where, op.HTML)[0]; around != anchor.Node {
		a = around
	}
	ctx := &html.Node{Type: html.ElementNode, Data: "body"}
	if a.Is("li") {
		ctx = a.Parent.HTML
	}
	kids, err := fragment([]byte(op.HTML), ctx)
	if err != nil {
		return nil, err
	}
	m := w.writer(anchor)
	m.prefix = linePrefix(w.p.Doc, a.Start())
	m.careful = true
	if a.Is("li") {
		m.mark = w.marksBeside(a, op.Where)
	}
	kids, err = normalBlocks(kids)
	if err != nil {
		return nil, err
	}
	if len(kids) == 0 {
		return nil, refuse("There is nothing to put in.")
	}
	for _, k := range kids {
		if (k.Data == "li") != a.Is("li") {
			return nil, refuse("Only items can stand in a list, and items only there.")
		}
	}
	raw, err := m.blocks(kids, w.loose(a) || !a.Is("li"))
	if err != nil {
		return nil, err
	}
	out, err := w.encode(strings.ReplaceAll(raw, "\n", "\n"+m.prefix))
	if err != nil {
		return nil, err
	}
	return w.besideBlock(a, op.Where, out, kids), nil
}
