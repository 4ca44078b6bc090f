package change

import (
	"bytes"
	"slices"
	"strings"

	"golang.org/x/net/html"
	"golang.org/x/net/html/atom"

	"mendry/internal/core/page"
	"mendry/internal/core/source"
)

// Form is what a block of words is: a paragraph, a heading of a level, a quote, or the item of a list.
type Form string

// The forms. A heading's form is "h1" to "h6".
const (
	Paragraph Form = "p"
	Quote     Form = "quote"
	Bullets   Form = "bullets"
	Numbers   Form = "numbers"
)

var forms = map[Form]string{Paragraph: "p", Quote: "blockquote", Bullets: "ul", Numbers: "ol", "h1": "h1", "h2": "h2", "h3": "h3", "h4": "h4", "h5": "h5", "h6": "h6"}

// FormOf tells the form of a block of words; empty where it has none that could be another.
func FormOf(part *page.Part) Form {
	n := part.Node
	if part.Kind == page.Cell && n.Is("td", "th") {
		return Form(n.Tag())
	}
	if part.Run != nil || !part.Kind.HasWords() || !n.Placed {
		return ""
	}
	switch {
	case n.Is("h1", "h2", "h3", "h4", "h5", "h6"):
		return Form(n.Tag())
	case n.Is("p") && extent(part) != n:
		return Quote
	case n.Is("p") && (n.Parent == nil || !n.Parent.Is("blockquote", "li", "td", "th")):
		return Paragraph
	case n.Is("li") && n.Parent != nil && n.Parent.Placed && n.Parent.Is("ul"):
		return Bullets
	case n.Is("li") && n.Parent != nil && n.Parent.Placed && n.Parent.Is("ol"):
		return Numbers
	}
	return ""
}

// FormsFor lists the forms that a part may be given: headings in the levels that the page allows where it stands,
// which is one of the first level, and no level skipped (WCAG 2.2, technique G141).
func FormsFor(p *page.Page, part *page.Part) (fs []Form) {
	if part.Kind == page.Cell && part.Locked == "" && part.Placed() && TableOf(part) != nil && p.Doc.Format != source.Markdown {
		return []Form{PlainCell, HeaderCell}
	}
	if part.Locked != "" || FormOf(part) == "" {
		return nil
	}
	first, above := false, 0
	for _, q := range p.Headings() {
		if q == part {
			continue
		}
		level := page.Level(q.Node)
		first = first || level == 1
		if q.Start < part.Start {
			above = level
		}
	}
	fs = append(fs, Paragraph)
	if !first {
		fs = append(fs, "h1")
	}
	for level := 2; level <= min(6, max(above+1, 2)); level++ {
		fs = append(fs, Form("h"+string(rune('0'+level))))
	}
	if own := FormOf(part); own[0] == 'h' && !slices.Contains(fs, own) {
		fs = append(fs, own)
	}
	return append(fs, Quote, Bullets, Numbers)
}

// Say names a form.
func (f Form) Say() string {
	switch f {
	case Paragraph:
		return "a paragraph"
	case Quote:
		return "a quote"
	case Bullets:
		return "an item of a bulleted list"
	case Numbers:
		return "an item of a numbered list"
	case HeaderCell:
		return "a cell that names its row or column"
	case PlainCell:
		return "a plain cell"
	}
	return "a heading of level " + string(f[1:])
}

// extent is the node that goes with a block's form: the quote or the list around it where nothing else stands in that,
// and otherwise its own.
func extent(part *page.Part) *source.Node {
	n := part.Node
	around := n.Parent
	if around == nil || !around.Placed || !(n.Is("p") && around.Is("blockquote") || n.Is("li") && around.Is("ul", "ol")) {
		return n
	}
	for _, k := range around.Kids {
		if k != n && (k.Tag() != "" || !k.Blank) {
			return n
		}
	}
	return around
}

// Extent is the range of bytes that goes with a block's form: of an item among others, the list.
func Extent(part *page.Part) source.Span {
	n := extent(part)
	if amongItems(part) {
		n = n.Parent
	}
	return source.Span{Start: n.Start(), End: n.End()}
}

func element(tag string, kids ...*html.Node) *html.Node {
	n := &html.Node{Type: html.ElementNode, Data: tag, DataAtom: atom.Lookup([]byte(tag))}
	for _, k := range kids {
		n.AppendChild(k)
	}
	return n
}

// recast gives a block another form. What stands in it keeps its bytes.
func (w *work) recast(part *page.Part, form Form) ([]source.Edit, error) {
	if part.Kind == page.Cell {
		return w.recastCell(part, form)
	}
	tag, known := forms[form]
	was := FormOf(part)
	switch {
	case !known:
		return nil, refuse("There is no form %q.", form)
	case was == "":
		return nil, refuse("“%s” stays in the form that it has: other things stand around it.", part.Name)
	case was == form:
		return nil, nil
	case amongItems(part) && (tag == "ul" || tag == "ol"):
		return w.relist(part, tag)
	case amongItems(part):
		return w.outOfList(part, tag)
	}
	out := extent(part)
	d := w.p.Doc
	inner := d.Bytes[part.InnerStart:part.InnerEnd]
	var open, end string
	var kids []*html.Node
	var err error
	if w.markdown() {
		open, end, kids, err = w.markdownForm(part, tag)
	} else {
		open, end = w.htmlForm(part, was, tag)
		kids, err = fragment(slices.Concat([]byte(open), inner, []byte(end)), out.Parent.HTML)
	}
	if err != nil {
		return nil, err
	}
	w.plan.InsertBefore(out.Parent.HTML, kids, out.HTML)
	if !w.plan.Remove(out.HTML) {
		return nil, refuse("“%s” is moved or removed twice.", part.Name)
	}
	edits := []source.Edit{source.Narrow(d.Bytes, source.Edit{Span: source.Span{Start: out.Start(), End: part.InnerStart}, New: []byte(open)})}
	if end := []byte(end); !bytes.Equal(end, d.Bytes[part.InnerEnd:out.End()]) {
		edits = append(edits, source.Narrow(d.Bytes, source.Edit{Span: source.Span{Start: part.InnerEnd, End: out.End()}, New: end}))
	}
	return edits, nil
}

// recastCell makes a cell one that names its row or column, or a plain one (WCAG 2.2, technique H63: scope).
func (w *work) recastCell(part *page.Part, form Form) ([]source.Edit, error) {
	n, d := part.Node, w.p.Doc
	switch {
	case form != HeaderCell && form != PlainCell:
		return nil, refuse("A cell cannot become that.")
	case w.markdown():
		return nil, refuse("In Markdown the first row of a table names its columns, and no other.")
	case n.Is(string(form)):
		return nil, nil
	}
	tag := d.Markup(d.Bytes[n.Start():n.InnerStart()])
	tag = "<" + string(form) + tag[1+len(n.Tag()):]
	if scope, ok := d.Attribute(n, "scope"); ok {
		tag = strings.Replace(tag, d.Markup(d.Bytes[scope.Whole.Start:scope.Whole.End]), "", 1)
	}
	if form == HeaderCell {
		scope := "row"
		if rows := rowsOf(TableOf(part)); len(rows) > 0 && rows[0] == part.Parent {
			scope = "col"
		}
		tag = strings.TrimSuffix(tag, ">") + ` scope="` + scope + `">`
	}
	open, end := []byte(tag), []byte("</"+string(form)+">")
	kids, err := fragment(slices.Concat(open, d.Bytes[part.InnerStart:part.InnerEnd], end), n.Parent.HTML)
	if err != nil {
		return nil, err
	}
	w.plan.InsertBefore(n.Parent.HTML, kids, n.HTML)
	w.plan.Remove(n.HTML)
	return []source.Edit{
		source.Narrow(d.Bytes, source.Edit{Span: source.Span{Start: n.Start(), End: part.InnerStart}, New: open}),
		source.Narrow(d.Bytes, source.Edit{Span: source.Span{Start: part.InnerEnd, End: n.End()}, New: end}),
	}, nil
}

// htmlForm gives the markup before and after a block's words in another form. Its attributes stay; a class that its
// like on the page share becomes the class that those of the other form share.
func (w *work) htmlForm(part *page.Part, was Form, tag string) (open, end string) {
	own := "p"
	if part.Node.Is("h1", "h2", "h3", "h4", "h5", "h6") {
		own = part.Node.Tag()
	}
	switch tag {
	case "ul", "ol":
		out, d := extent(part), w.p.Doc
		line := string(GapBefore(d, out.Start()))
		alone := out.End() < len(d.Bytes) && (d.Bytes[out.End()] == '\n' || d.Bytes[out.End()] == '\r')
		if line != "" && alone {
			return w.startTag(part.Node, nil, "", tag) + line + "  " + w.startTag(part.Node, part, own, "li"), "</li>" + line + "</" + tag + ">"
		}
		return w.startTag(part.Node, nil, "", tag) + w.startTag(part.Node, part, own, "li"), "</li></" + tag + ">"
	case "blockquote":
		return w.startTag(part.Node, nil, "", tag) + w.startTag(part.Node, part, own, "p"), "</p></blockquote>"
	}
	if was == Bullets || was == Numbers {
		own = "li"
	}
	return w.startTag(part.Node, part, own, tag), "</" + tag + ">"
}

// startTag writes the start tag of an element that takes over from part, nil for none, and stands near a node: a list
// of a menu is no example for one among the words of the page.
func (w *work) startTag(near *source.Node, part *page.Part, was, tag string) string {
	d := w.p.Doc
	within := frameAround(near)
	usual := func(tag string, but *source.Node) (class string, some bool) {
		for _, n := range d.Nodes {
			if !n.Placed || n == but || !n.Is(tag) || n.HTML.Namespace != "" || frameAround(n) != within {
				continue
			}
			if c := d.Value(n, "class"); !some {
				class, some = c, true
			} else if c != class {
				return "", true
			}
		}
		return class, some
	}
	class, _ := usual(tag, nil)
	if part == nil {
		if class == "" {
			return "<" + tag + ">"
		}
		return "<" + tag + ` class="` + escapeAttribute(class) + `">`
	}
	n := part.Node
	raw := string(d.Bytes[n.Start()+1+len(n.Tag()) : n.InnerStart()])
	has, carries := d.Attribute(n, "class")
	if shared, some := usual(was, n); carries && some && shared == has.Value || !carries {
		if carries {
			at := has.Whole.Start - n.Start() - 1 - len(n.Tag())
			raw = raw[:at] + raw[at+has.Whole.End-has.Whole.Start:]
		}
		if class != "" {
			raw = ` class="` + escapeAttribute(class) + `"` + raw
		}
	}
	return "<" + tag + raw
}

// frameAround is what of a page's frame a node stands in: menu, head or foot; empty for none.
func frameAround(n *source.Node) string {
	for ; n != nil; n = n.Parent {
		if n.Is("nav", "header", "footer") {
			return n.Tag()
		}
	}
	return ""
}

// markdownForm gives the signs before and after a block's words in another form, and the block as it will be read.
func (w *work) markdownForm(part *page.Part, tag string) (open, end string, kids []*html.Node, err error) {
	inner := string(w.p.Doc.Bytes[part.InnerStart:part.InnerEnd])
	if tag[0] == 'h' && strings.ContainsAny(inner, "\r\n") {
		return "", "", nil, refuse("In Markdown a heading is one line. Take the line break out first.")
	}
	if strings.ContainsAny(inner, "\r\n") && (tag != "p" || FormOf(part) != Paragraph) {
		return "", "", nil, refuse("“%s” goes over several lines. Write it in one line first.", part.Name)
	}
	words := clonesOf(part.Content())
	switch tag {
	case "ul":
		return w.writer(part).bullet + " ", "", []*html.Node{element("ul", element("li", words...))}, nil
	case "ol":
		return "1. ", "", []*html.Node{element("ol", element("li", words...))}, nil
	case "blockquote":
		return "> ", "", []*html.Node{element("blockquote", element("p", words...))}, nil
	case "p":
		return "", "", []*html.Node{element("p", words...)}, nil
	}
	return strings.Repeat("#", int(tag[1]-'0')) + " ", "", []*html.Node{element(tag, words...)}, nil
}
