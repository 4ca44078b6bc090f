package change

import (
	"bytes"
	"regexp"
	"slices"
	"strconv"
	"strings"

	"golang.org/x/net/html"

	"mendry/internal/core/page"
	"mendry/internal/core/source"
)

// amongItems reports whether a part is an item of a list that has others.
func amongItems(part *page.Part) bool {
	n := part.Node
	return part.Run == nil && n.Is("li") && n.Parent != nil && n.Parent.Placed && n.Parent.Is("ul", "ol") && extent(part) == n
}

// itemsAround are the items of a list before and after one of them.
func itemsAround(n *source.Node) (before, after []*source.Node) {
	for _, k := range n.Parent.Kids {
		switch {
		case !k.Is("li") || k == n:
		case k.Index < n.Index:
			before = append(before, k)
		default:
			after = append(after, k)
		}
	}
	return before, after
}

// outOfList makes an item among others a block of its own: the list ends before it and goes on after it. The other
// items keep their bytes.
func (w *work) outOfList(part *page.Part, tag string) ([]source.Edit, error) {
	if w.markdown() {
		return w.outOfMarkdownList(part, tag)
	}
	n, d := part.Node, w.p.Doc
	list := n.Parent
	before, after := itemsAround(n)
	gap := d.Markup(GapBefore(d, list.Start()))
	open, end := w.htmlForm(part, FormOf(part), tag)
	out := source.Span{Start: list.Start(), End: list.End()}
	var want []string
	if len(before) > 0 {
		open = gap + "</" + list.Tag() + ">" + gap + open
		out.Start = before[len(before)-1].End()
		want = append(want, list.Tag())
	}
	want = append(want, tag)
	if len(after) > 0 {
		end += gap + w.listTag(list, list.Tag(), len(before))
		out.End = n.End()
		want = append(want, list.Tag())
	}
	return w.swapList(list, []source.Edit{
		{Span: source.Span{Start: out.Start, End: part.InnerStart}, New: []byte(open)},
		{Span: source.Span{Start: part.InnerEnd, End: out.End}, New: []byte(end)},
	}, want)
}

// relist makes the list around an item one of the other kind. Its items keep their bytes.
func (w *work) relist(part *page.Part, tag string) ([]source.Edit, error) {
	if w.markdown() {
		return w.relistMarkdown(part, tag)
	}
	list := part.Node.Parent
	edits := []source.Edit{{Span: source.Span{Start: list.Start(), End: list.InnerStart()}, New: []byte(w.listTag(list, tag, 0))}}
	if list.InnerEnd() < list.End() {
		edits = append(edits, source.Edit{Span: source.Span{Start: list.InnerEnd(), End: list.End()}, New: []byte("</" + tag + ">")})
	}
	return w.swapList(list, edits, []string{tag})
}

// swapList makes edits in a list of an HTML page, which are to leave elements of the given names in its place.
func (w *work) swapList(list *source.Node, edits []source.Edit, want []string) ([]source.Edit, error) {
	d := w.p.Doc
	var whole []byte
	at := list.Start()
	for i, e := range edits {
		whole = append(append(whole, d.Bytes[at:e.Start]...), e.New...)
		at = e.End
		edits[i] = source.Narrow(d.Bytes, e)
	}
	kids, err := fragment(append(whole, d.Bytes[at:list.End()]...), list.Parent.HTML)
	if err != nil {
		return nil, err
	}
	var got []string
	for _, k := range kids {
		if k.Type == html.ElementNode {
			got = append(got, k.Data)
		}
	}
	if !slices.Equal(got, want) {
		return nil, refuse("The list cannot be parted here: its markup would be read differently.")
	}
	return edits, w.takeOver(list, kids)
}

// takeOver puts kids in the place of a list in the plan.
func (w *work) takeOver(list *source.Node, kids []*html.Node) error {
	w.plan.InsertBefore(list.Parent.HTML, kids, list.HTML)
	if !w.plan.Remove(list.HTML) {
		return refuse("Two changes touch the same list. Apply one after the other.")
	}
	return nil
}

// listTag is a list's start tag for a list of a kind that takes over from it after so many of its items: without what
// a page has once, and a numbered one counts on.
func (w *work) listTag(list *source.Node, tag string, counted int) string {
	d := w.p.Doc
	raw := d.Markup(d.Bytes[list.Start():list.InnerStart()])
	raw = "<" + tag + raw[1+len(list.Tag()):]
	var drop []string
	if counted > 0 {
		drop = append(drop, "id", "start")
	}
	if tag != list.Tag() {
		drop = append(drop, "start", "type", "reversed")
	}
	for _, name := range drop {
		if a, ok := d.Attribute(list, name); ok {
			raw = strings.Replace(raw, d.Markup(d.Bytes[a.Whole.Start:a.Whole.End]), "", 1)
		}
	}
	if _, back := d.Attribute(list, "reversed"); counted > 0 && tag == "ol" && !back {
		raw = strings.TrimSuffix(raw, ">") + ` start="` + strconv.Itoa(firstNumber(d, list)+counted) + `">`
	}
	return raw
}

// firstNumber is the number of a numbered list's first item (HTML, 4.4.5).
func firstNumber(d *source.Doc, list *source.Node) int {
	if n, err := strconv.Atoi(strings.TrimSpace(d.Value(list, "start"))); err == nil {
		return n
	}
	return 1
}

// itemMark is the sign or number that an item of a Markdown list begins with (CommonMark 0.31.2, 5.2), and its number.
var itemMark = regexp.MustCompile(`^([-+*]|(\d{1,9})[.)])[ \t]+`)

// ownLines reports whether a Markdown list stands by itself, each of its items in one line.
func (w *work) ownLines(list *source.Node) bool {
	d := w.p.Doc
	if linePrefix(d, list.Start()) != "" {
		return false
	}
	for _, k := range list.Kids {
		if !k.Is("li") || k.InnerStart() <= k.Start() || bytes.ContainsAny(d.Bytes[k.Start():k.End()], "\r\n") || !itemMark.Match(d.Bytes[k.Start():k.End()]) {
			return false
		}
	}
	return true
}

func (w *work) outOfMarkdownList(part *page.Part, tag string) ([]source.Edit, error) {
	n, d := part.Node, w.p.Doc
	list := n.Parent
	if !w.ownLines(list) {
		return nil, refuse("“%s” stays an item: its list has items of several lines, or stands in something else.", part.Name)
	}
	open, _, kids, err := w.markdownForm(part, tag)
	if err != nil {
		return nil, err
	}
	before, after := itemsAround(n)
	apart := d.LineEnd() + d.LineEnd()
	listOf := func(like []*source.Node, start int) *html.Node {
		of := element(list.Tag())
		if list.Is("ol") && start != 1 {
			of.Attr = []html.Attribute{{Key: "start", Val: strconv.Itoa(start)}}
		}
		for _, k := range clonesOf(like) {
			of.AppendChild(k)
		}
		return of
	}
	e := source.Edit{Span: source.Span{Start: n.Start(), End: part.InnerStart}, New: []byte(open)}
	if len(before) > 0 {
		e.Start, e.New = before[len(before)-1].End(), []byte(apart+open)
		kids = append([]*html.Node{listOf(before, firstNumber(d, list))}, kids...)
	}
	edits := []source.Edit{source.Narrow(d.Bytes, e)}
	if len(after) > 0 {
		start := firstNumber(d, list) + len(before)
		edits = append(edits, source.Edit{Span: source.Span{Start: part.InnerEnd, End: after[0].Start()}, New: []byte(apart)})
		if m := itemMark.FindSubmatchIndex(d.Bytes[after[0].Start():after[0].End()]); m[4] >= 0 {
			number := source.Span{Start: after[0].Start() + m[4], End: after[0].Start() + m[5]}
			edits = append(edits, source.Edit{Span: number, New: []byte(strconv.Itoa(start))})
		}
		kids = append(kids, listOf(after, start))
	}
	return edits, w.takeOver(list, kids)
}

func (w *work) relistMarkdown(part *page.Part, tag string) ([]source.Edit, error) {
	d := w.p.Doc
	list := part.Node.Parent
	if !w.ownLines(list) {
		return nil, refuse("“%s” stays an item of this list: it has items of several lines, or stands in something else.", part.Name)
	}
	mark := w.writer(part).bullet
	of := element(tag)
	var edits []source.Edit
	for i, k := range list.Kids {
		m := itemMark.FindSubmatchIndex(d.Bytes[k.Start():k.End()])
		if tag == "ol" {
			mark = strconv.Itoa(i+1) + "."
		}
		edits = append(edits, source.Edit{Span: source.Span{Start: k.Start() + m[2], End: k.Start() + m[3]}, New: []byte(mark)})
		of.AppendChild(clone(k.HTML))
	}
	return edits, w.takeOver(list, []*html.Node{of})
}
