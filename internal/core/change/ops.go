package change

import (
	"bytes"
	"slices"
	"strings"

	"golang.org/x/net/html"
	"golang.org/x/net/html/atom"

	"mendry/internal/core/page"
	"mendry/internal/core/source"
	"mendry/internal/core/text"
)

// markdown reports whether the page is written in Markdown.
func (w *work) markdown() bool { return w.p.Doc.Format == source.Markdown }

// fragment reads raw as the inner content of an element like ctx.
func fragment(raw []byte, ctx *html.Node) ([]*html.Node, error) {
	kids, err := html.ParseFragment(bytes.NewReader(raw), &html.Node{
		Type: html.ElementNode, Data: ctx.Data, DataAtom: atom.Lookup([]byte(ctx.Data)), Namespace: ctx.Namespace,
	})
	if err != nil {
		return nil, refuse("The markup cannot be read: %v", err)
	}
	return kids, nil
}

func (w *work) encode(markup string) ([]byte, error) {
	raw, err := w.p.Doc.Encode(markup)
	if err != nil {
		return nil, refuse("This cannot be written in %s, the encoding of the page.", w.p.Doc.Encoding.Name)
	}
	return raw, nil
}

func (w *work) setWords(part *page.Part, markup string) ([]source.Edit, error) {
	if !part.Kind.HasWords() {
		return nil, refuse("A %s has no words of its own; change the parts in it.", part.Kind)
	}
	if mark := text.Broken(markup); mark != "" && text.Broken(part.HTML) == "" {
		if len(text.Tokens(part.HTML)) == 0 {
			return nil, refuse("“%s” is how codes of other programs begin or end, and it stands here alone: on a site that such a program makes, the page would break. Put a blank between its signs, or set it in quotation marks.", mark)
		}
		return nil, refuse("A code of another program would be cut in two at “%s”. Leave it whole.", mark)
	}
	if w.markdown() {
		return w.setMarkdown(part, markup)
	}
	raw, err := w.encode(markup)
	if err != nil {
		return nil, err
	}
	read := raw
	if part.Run == nil && part.Node.Is("pre", "listing", "textarea") { // a line break right after the tag is not read (HTML, 13.2.6.4.7)
		read = bytes.TrimPrefix(bytes.TrimPrefix(raw, []byte("\r")), []byte("\n"))
	}
	kids, err := fragment(append(reopened(part), read...), part.Node.HTML)
	if err != nil {
		return nil, err
	}
	w.replace(part, kids)
	e := source.Edit{Span: source.Span{Start: part.InnerStart, End: part.InnerEnd}, New: raw}
	return []source.Edit{source.Narrow(w.p.Doc.Bytes, e)}, nil
}

// replace gives the part other content in the plan.
func (w *work) replace(part *page.Part, kids []*html.Node) {
	in := part.Node
	if part.Run == nil {
		w.plan.SetKids(in.HTML, kids)
		return
	}
	before, after := part.Margins()
	all := append([]*html.Node{textNode(before)}, kids...)
	w.plan.InsertBefore(in.HTML, append(all, textNode(after)), part.Run[0].HTML)
	for _, n := range part.Run {
		w.plan.Remove(n.HTML)
	}
}

func textNode(s string) *html.Node { return &html.Node{Type: html.TextNode, Data: s} }

// reopened are the start tags of formatting elements that nobody closed before the part, and that tree construction
// opens again at its beginning.
func reopened(part *page.Part) (tags []byte) {
	var b bytes.Buffer
	for ns := part.Content(); len(ns) > 0 && ns[0].Tag() != "" && !ns[0].Placed && !ns[0].Torn; ns = ns[0].Kids {
		e := html.Token{Type: html.StartTagToken, Data: ns[0].HTML.Data, Attr: ns[0].HTML.Attr}
		b.WriteString(e.String())
	}
	return b.Bytes()
}

// carrier is the node whose children the part's words are: the part's own, or the formatting element that tree
// construction opened again in it and that has no tag here.
func carrier(part *page.Part) *source.Node {
	n := part.Node
	for part.Run == nil && len(n.Kids) == 1 && n.Kids[0].Tag() != "" && !n.Kids[0].Placed && !n.Kids[0].Torn {
		n = n.Kids[0]
	}
	return n
}

func (w *work) insert(op Op) ([]source.Edit, error) {
	anchor, ok := w.p.Part(op.Anchor)
	if !ok {
		return nil, refuse("The page has no part %q.", op.Anchor)
	}
	if w.markdown() {
		return w.insertMarkdown(anchor, op)
	}
	raw, err := w.encode(op.HTML)
	if err != nil {
		return nil, err
	}
	ctx := anchor.Node.HTML
	if around := standing(anchor, op.Where, op.HTML); (op.Where == Before || op.Where == After) && around[0].Parent != nil {
		ctx = around[0].Parent.HTML
	}
	kids, err := fragment(raw, ctx)
	if err != nil {
		return nil, err
	}
	return w.putAt(anchor, op.Where, raw, kids)
}

// standing are the nodes that something new stands before or after when it is put beside a part: the part's own, the
// quote around a quoted paragraph, or the list at whose edge an item stands, unless what is put in is an item too.
func standing(anchor *page.Part, where Where, markup string) []*source.Node {
	n := anchor.Node
	switch {
	case anchor.Run != nil || n.Parent == nil || !n.Parent.Placed:
	case anchor.Held() && page.Holder(anchor).Is("figure", "p"):
		return []*source.Node{page.Holder(anchor)}
	case FormOf(anchor) == Quote:
		return []*source.Node{n.Parent}
	case atEdge(anchor, where) && !strings.HasPrefix(strings.ToLower(strings.TrimLeft(markup, " \t\r\n")), "<li"):
		return []*source.Node{n.Parent}
	}
	return anchor.Nodes()
}

// atEdge reports whether a part is the first item of a list, or the last, on the side of where.
func atEdge(part *page.Part, where Where) bool {
	n := part.Node
	if part.Run != nil || !n.Is("li") || n.Parent == nil || !n.Parent.Placed || !n.Parent.Is("ul", "ol") {
		return false
	}
	before, after := itemsAround(n)
	return where == Before && len(before) == 0 || where == After && len(after) == 0
}

// putAt puts raw, whose tree is kids, beside or into anchor.
func (w *work) putAt(anchor *page.Part, where Where, raw []byte, kids []*html.Node) ([]source.Edit, error) {
	switch where {
	case First, Last, FirstWithin, LastWithin:
		if anchor.Locked != "" {
			return nil, refuse("“%s” is locked. %s", anchor.Name, anchor.Locked)
		}
		n := carrier(anchor)
		if anchor.Run != nil {
			return nil, refuse("“%s” has no element of its own to put anything into. Put it before or after.", anchor.Name)
		}
		start, end := anchor.InnerStart, anchor.InnerEnd
		for in := wrapped(n); in != nil && (where == FirstWithin || where == LastWithin); in = wrapped(n) {
			n, start, end = in, in.InnerStart(), in.InnerEnd()
		}
		if where == First || where == FirstWithin {
			var before *html.Node
			if len(n.Kids) > 0 {
				before = n.Kids[0].HTML
			}
			return w.graft(n, before, kids, raw, start), nil
		}
		return w.graft(n, nil, kids, raw, end), nil
	case Before, After:
		ns := standing(anchor, where, string(raw))
		parent := ns[0].Parent
		start, end := anchor.Start, anchor.End
		if ns[0] != anchor.Nodes()[0] {
			start, end = ns[0].Start(), ns[0].End()
		}
		if !anchor.Placed() || anchor.Background || parent == nil {
			return nil, refuse("Nothing can be put beside “%s”: its markup has no clear end.", anchor.Name)
		}
		blankBefore, blankAfter := anchor.Margins()
		first, last := ns[0].HTML, ns[len(ns)-1].HTML
		if where == Before && blankBefore != "" {
			w.plan.SetText(first, strings.TrimPrefix(w.plan.Text(first), blankBefore))
			kids = append([]*html.Node{textNode(blankBefore)}, kids...)
		}
		if where == After && blankAfter != "" {
			w.plan.SetText(last, strings.TrimSuffix(w.plan.Text(last), blankAfter))
			kids = append(kids, textNode(blankAfter))
		}
		if where == Before {
			return w.graft(parent, first, kids, raw, start), nil
		}
		return w.graft(parent, last.NextSibling, kids, raw, end), nil
	}
	return nil, refuse("%q is no place beside a part.", where)
}

// wrapped is the one element in a node that holds all else in it; nil where there is none, or where it is no mere
// wrapper.
func wrapped(n *source.Node) (in *source.Node) {
	for _, k := range n.Kids {
		switch {
		case k.IsText() && k.Blank, k.Tag() == "" && !k.IsText():
		case in != nil || !k.Is("div", "section", "article", "main") || !k.Placed:
			return nil
		default:
			in = k
		}
	}
	return in
}

// graft puts raw at byte offset at, and kids before the node before (nil: at the end) in parent.
func (w *work) graft(parent *source.Node, before *html.Node, kids []*html.Node, raw []byte, at int) []source.Edit {
	w.plan.InsertBefore(parent.HTML, kids, before)
	return []source.Edit{{Span: source.Span{Start: at, End: at}, New: raw}}
}

// clone copies a tree.
func clone(n *html.Node) *html.Node {
	c := &html.Node{Type: n.Type, Data: n.Data, DataAtom: n.DataAtom, Namespace: n.Namespace, Attr: slices.Clone(n.Attr)}
	for k := n.FirstChild; k != nil; k = k.NextSibling {
		c.AppendChild(clone(k))
	}
	return c
}

// WholeSpan is where a part stands that is moved, copied or taken out: of a picture or film with what holds nothing
// else.
func WholeSpan(part *page.Part) source.Span {
	if n := page.Holder(part); part.Held() {
		return source.Span{Start: n.Start(), End: n.End()}
	}
	return source.Span{Start: part.Start, End: part.End}
}

// tops are the nodes of a part that is moved, copied or taken out.
func tops(part *page.Part) []*source.Node {
	if part.Held() {
		return []*source.Node{page.Holder(part)}
	}
	return part.Nodes()
}

func clones(part *page.Part) (kids []*html.Node) {
	for _, n := range tops(part) {
		kids = append(kids, clone(n.HTML))
	}
	if before, after := part.Margins(); before+after != "" {
		first, last := kids[0], kids[len(kids)-1]
		first.Data = strings.TrimPrefix(first.Data, before)
		last.Data = strings.TrimSuffix(last.Data, after)
	}
	return kids
}

// GapBefore is the white space that sets a part off on a line of its own, empty where it follows other content.
func GapBefore(d *source.Doc, start int) []byte {
	i := start
	for i > 0 && (d.Bytes[i-1] == ' ' || d.Bytes[i-1] == '\t') {
		i--
	}
	if i == 0 || d.Bytes[i-1] != '\n' {
		return nil
	}
	if i--; i > 0 && d.Bytes[i-1] == '\r' {
		i--
	}
	return d.Bytes[i:start]
}

func whole(part *page.Part) bool { return part.Run == nil && part.Node.Is("body", "html", "head") }

// place copies or moves a part beside an anchor.
func (w *work) place(part *page.Part, op Op) ([]source.Edit, error) {
	anchor, ok := w.p.Part(op.Anchor)
	if !ok {
		return nil, refuse("The page has no part %q.", op.Anchor)
	}
	d := w.p.Doc
	switch {
	case op.Where != Before && op.Where != After:
		return nil, refuse("A part is put before or after another one.")
	case op.Op == Move && anchor.Start >= part.Start && anchor.End <= part.End:
		return nil, refuse("A part cannot be moved beside itself.")
	case whole(part):
		return nil, refuse("The page as a whole stays where it is.")
	case part.Background:
		return nil, refuse("A background picture belongs to its part. Move or copy that.")
	case w.markdown():
		return w.placeMarkdown(part, anchor, op)
	}
	at := WholeSpan(part)
	raw, kids := bytes.Clone(d.Bytes[at.Start:at.End]), clones(part)
	gap := GapBefore(d, anchor.Start)
	if op.Op == Copy {
		var err error
		if raw, kids, err = w.copyOf(part); err != nil {
			return nil, err
		}
	}
	if white := (&html.Node{Type: html.TextNode, Data: textOf(gap)}); len(gap) > 0 {
		if op.Where == After {
			raw, kids = append(bytes.Clone(gap), raw...), append([]*html.Node{white}, kids...)
		} else {
			raw, kids = append(raw, gap...), append(kids, white)
		}
	}
	edits, err := w.putAt(anchor, op.Where, raw, kids)
	if err != nil || op.Op == Copy {
		return edits, err
	}
	gone, err := w.remove(part)
	return append(edits, gone...), err
}

func (w *work) remove(part *page.Part) ([]source.Edit, error) {
	switch {
	case whole(part):
		return nil, refuse("The page as a whole stays.")
	case part.Background:
		return nil, refuse("A background picture belongs to its part. Give it another picture instead.")
	case w.markdown():
		return w.removeMarkdown(part)
	}
	d := w.p.Doc
	if part.Run != nil && part.Kind == page.Words {
		w.replace(part, nil)
		return []source.Edit{{Span: source.Span{Start: part.Start, End: part.End}}}, nil
	}
	at := WholeSpan(part)
	gone, start, end := tops(part), at.Start, at.End
	if part.Run == nil && FormOf(part) != "" { // a quote or a list that holds nothing else goes with it
		n := extent(part)
		gone, start, end = []*source.Node{n}, n.Start(), n.End()
	}
	node := gone[0].HTML
	span := withLine(d, start, end)
	if gap := textOf(d.Bytes[span.Start:start]); gap != "" {
		before := node.PrevSibling
		if before == nil || before.Type != html.TextNode || !strings.HasSuffix(w.plan.Text(before), gap) {
			span.Start = start // the white space before it is not a text of its own in the tree
		} else {
			w.plan.SetText(before, strings.TrimSuffix(w.plan.Text(before), gap))
		}
	}
	for _, n := range gone {
		if !w.plan.Remove(n.HTML) {
			return nil, refuse("“%s” is moved or removed twice.", part.Name)
		}
	}
	return []source.Edit{{Span: span}}, nil
}

// textOf is white space as the parser reads it.
func textOf(gap []byte) string { return strings.ReplaceAll(string(gap), "\r\n", "\n") }

// withLine widens the bytes of a part that has its lines to itself by the line break and the blanks before it.
func withLine(d *source.Doc, start, end int) source.Span {
	if end < len(d.Bytes) && (d.Bytes[end] == '\n' || d.Bytes[end] == '\r') {
		return source.Span{Start: start - len(GapBefore(d, start)), End: end}
	}
	return source.Span{Start: start, End: end}
}
