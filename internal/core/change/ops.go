package change

import (
	"bytes"
	"strings"

	"golang.org/x/net/html"

	"mendry/internal/core/page"
	"mendry/internal/core/source"
)

// intended is the tree of the page before, to which every operation is applied as to a tree.
type intended struct {
	tree  *html.Node
	nodes []*html.Node // by source.Node.Index
}

func newIntended(d *source.Doc) *intended {
	bom := 0
	if d.BOM {
		bom = 3
	}
	tree, err := html.Parse(bytes.NewReader(d.Bytes[bom:]))
	if err != nil { // it was parsed once already
		tree = &html.Node{Type: html.DocumentNode}
	}
	return &intended{tree: tree, nodes: source.Preorder(tree)}
}

func (w *intended) of(n *source.Node) *html.Node { return w.nodes[n.Index] }

// fragment reads raw as the inner content of an element like ctx.
func fragment(raw []byte, ctx *html.Node) ([]*html.Node, error) {
	return html.ParseFragment(bytes.NewReader(raw), &html.Node{
		Type: html.ElementNode, Data: ctx.Data, DataAtom: ctx.DataAtom, Namespace: ctx.Namespace,
	})
}

func setWords(p *page.Page, part *page.Part, markup string, want *intended) ([]source.Edit, error) {
	if !part.Kind.HasWords() {
		return nil, refuse("A %s has no words of its own; change the parts in it.", part.Kind)
	}
	d := p.Doc
	raw, err := d.Encode(markup)
	if err != nil {
		return nil, refuse("The words cannot be written in %s.", d.Encoding.Name)
	}
	node := want.of(part.Node)
	kids, err := fragment(raw, node)
	if err != nil {
		return nil, refuse("The markup cannot be read: %v", err)
	}
	for node.FirstChild != nil {
		node.RemoveChild(node.FirstChild)
	}
	for _, k := range kids {
		node.AppendChild(k)
	}
	e := source.Edit{Span: source.Span{Start: part.InnerStart, End: part.InnerEnd}, New: raw}
	return []source.Edit{source.Narrow(d.Bytes, e)}, nil
}

func setAttribute(d *source.Doc, n *source.Node, name string, value *string, want *intended) ([]source.Edit, error) {
	name = strings.ToLower(name)
	if name == "" || strings.ContainsAny(name, " \t\r\n\f\"'<>/=\x00") {
		return nil, refuse("%q is no name of an attribute.", name)
	}
	if n.HTML.Namespace != "" || !n.Placed {
		return nil, refuse("Attributes of this element are kept as they are.")
	}
	node := want.of(n)
	kept := node.Attr[:0]
	for _, a := range node.Attr {
		if a.Key != name || a.Namespace != "" {
			kept = append(kept, a)
		}
	}
	node.Attr = kept
	old, has := d.Attribute(n, name)
	if value == nil {
		if !has {
			return nil, nil
		}
		return []source.Edit{{Span: old.Whole}}, nil
	}
	raw, err := d.Encode(escapeAttribute(*value))
	if err != nil {
		return nil, refuse("The value cannot be written in %s.", d.Encoding.Name)
	}
	node.Attr = append(node.Attr, html.Attribute{Key: name, Val: readValue(raw)})
	switch {
	case has && old.Bare:
		return []source.Edit{{Span: old.Raw, New: quote(raw)}}, nil
	case has && old.Quote == '"':
		return []source.Edit{source.Narrow(d.Bytes, source.Edit{Span: old.Raw, New: raw})}, nil
	case has && old.Quote == '\'':
		raw = bytes.ReplaceAll(raw, []byte("'"), []byte("&#39;"))
		return []source.Edit{source.Narrow(d.Bytes, source.Edit{Span: old.Raw, New: raw})}, nil
	case has:
		return []source.Edit{{Span: old.Raw, New: quote(raw)}}, nil
	}
	at := n.Start + 1 + len(n.Tag())
	if n.Tag() == "img" && !strings.EqualFold(string(d.Bytes[n.Start+1:at]), "img") {
		at = n.Start + 1 + len("image")
	}
	new := append([]byte(" "+name+"="), quote(raw)...)
	return []source.Edit{{Span: source.Span{Start: at, End: at}, New: new}}, nil
}

func quote(raw []byte) []byte { return append(append([]byte{'"'}, raw...), '"') }

func escapeAttribute(s string) string {
	return strings.NewReplacer("&", "&amp;", `"`, "&quot;", "<", "&lt;", ">", "&gt;").Replace(s)
}

// readValue is an attribute's value as the parser reads it from raw.
func readValue(raw []byte) string {
	s := strings.ReplaceAll(strings.ReplaceAll(string(raw), "\r\n", "\n"), "\r", "\n")
	return html.UnescapeString(s)
}

// EscapeText writes s as running text.
func EscapeText(s string) string {
	return strings.NewReplacer("&", "&amp;", "<", "&lt;", ">", "&gt;").Replace(s)
}

func setFact(p *page.Page, op Op, want *intended) ([]source.Edit, error) {
	d := p.Doc
	if op.Value == nil {
		return nil, refuse("A page fact needs a value.")
	}
	n := p.HeadNode(op.Name)
	switch op.Name {
	case "title":
		if n != nil && n.Placed && !n.Torn {
			raw, err := d.Encode(EscapeText(*op.Value))
			if err != nil {
				return nil, refuse("The title cannot be written in %s.", d.Encoding.Name)
			}
			node := want.of(n)
			for node.FirstChild != nil {
				node.RemoveChild(node.FirstChild)
			}
			if len(raw) > 0 {
				node.AppendChild(&html.Node{Type: html.TextNode, Data: readValue(raw)})
			}
			e := source.Edit{Span: source.Span{Start: n.InnerStart, End: n.InnerEnd}, New: raw}
			return []source.Edit{source.Narrow(d.Bytes, e)}, nil
		}
	case "description", "image":
		if n != nil {
			return setAttribute(d, n, "content", op.Value, want)
		}
	case "canonical":
		if n != nil {
			return setAttribute(d, n, "href", op.Value, want)
		}
	case "lang":
		if n != nil && n.Placed {
			return setAttribute(d, n, "lang", op.Value, want)
		}
	default:
		return nil, refuse("There is no page fact %q.", op.Name)
	}
	return addFact(p, op.Name, *op.Value, want)
}

// addFact writes a fact that the page does not have yet, at the end of its head.
func addFact(p *page.Page, name, value string, want *intended) ([]source.Edit, error) {
	var head *source.Node
	p.Doc.Root.Walk(func(n *source.Node) bool {
		if n.Is("head") {
			head = n
		}
		return head == nil && !n.Is("body")
	})
	if head == nil || !head.Placed || head.Torn || name == "lang" {
		return nil, refuse("The page has no head of its own in which its %s could stand.", name)
	}
	markup := map[string]string{
		"title":       "<title>" + EscapeText(value) + "</title>",
		"description": `<meta name="description" content="` + escapeAttribute(value) + `">`,
		"image":       `<meta property="og:image" content="` + escapeAttribute(value) + `">`,
		"canonical":   `<link rel="canonical" href="` + escapeAttribute(value) + `">`,
	}[name]
	raw, err := p.Doc.Encode(markup)
	if err != nil {
		return nil, refuse("The %s cannot be written in %s.", name, p.Doc.Encoding.Name)
	}
	kids, err := fragment(raw, want.of(head))
	if err != nil {
		return nil, refuse("The %s cannot be written: %v", name, err)
	}
	return graft(want, head, nil, kids, raw, head.InnerEnd), nil
}

func insert(p *page.Page, op Op, want *intended) ([]source.Edit, error) {
	anchor, ok := p.Part(op.Anchor)
	if !ok {
		return nil, refuse("The page has no part %q.", op.Anchor)
	}
	raw, err := p.Doc.Encode(op.HTML)
	if err != nil {
		return nil, refuse("The content cannot be written in %s.", p.Doc.Encoding.Name)
	}
	ctx := want.of(anchor.Node)
	if (op.Where == Before || op.Where == After) && ctx.Parent != nil {
		ctx = ctx.Parent
	}
	kids, err := fragment(raw, ctx)
	if err != nil {
		return nil, refuse("The markup cannot be read: %v", err)
	}
	return putAt(p.Doc, anchor, op.Where, raw, kids, want)
}

// putAt puts raw, whose tree is kids, beside or into anchor.
func putAt(d *source.Doc, anchor *page.Part, where Where, raw []byte, kids []*html.Node, want *intended) ([]source.Edit, error) {
	n := anchor.Node
	switch where {
	case First, Last:
		if anchor.Locked != "" {
			return nil, refuse("“%s” is locked. %s", anchor.Name, anchor.Locked)
		}
		if where == First {
			var before *html.Node
			if len(n.Kids) > 0 {
				before = want.of(n.Kids[0])
			}
			return graft(want, n, before, kids, raw, n.InnerStart), nil
		}
		return graft(want, n, nil, kids, raw, n.InnerEnd), nil
	case Before, After:
		parent := n.Parent
		if !n.Placed || parent == nil {
			return nil, refuse("Nothing can be put beside “%s”: its markup has no clear end.", anchor.Name)
		}
		if where == Before {
			return graft(want, parent, want.of(n), kids, raw, n.Start), nil
		}
		return graft(want, parent, want.of(n).NextSibling, kids, raw, n.End), nil
	}
	return nil, refuse("%q is no place beside a part.", where)
}

// graft puts raw at byte offset at, and kids before the node before (nil: at the end) in parent.
func graft(want *intended, parent *source.Node, before *html.Node, kids []*html.Node, raw []byte, at int) []source.Edit {
	node := want.of(parent)
	for _, k := range kids {
		node.InsertBefore(k, before)
	}
	return []source.Edit{{Span: source.Span{Start: at, End: at}, New: raw}}
}

// clone copies a tree.
func clone(n *html.Node) *html.Node {
	c := &html.Node{Type: n.Type, Data: n.Data, DataAtom: n.DataAtom, Namespace: n.Namespace, Attr: append([]html.Attribute(nil), n.Attr...)}
	for k := n.FirstChild; k != nil; k = k.NextSibling {
		c.AppendChild(clone(k))
	}
	return c
}

// gapBefore is the white space that sets a part off on a line of its own, empty where it follows other content.
func gapBefore(d *source.Doc, start int) []byte {
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

// place copies or moves a part beside an anchor.
func place(p *page.Page, part *page.Part, op Op, want *intended) ([]source.Edit, error) {
	anchor, ok := p.Part(op.Anchor)
	if !ok {
		return nil, refuse("The page has no part %q.", op.Anchor)
	}
	d := p.Doc
	if op.Where != Before && op.Where != After {
		return nil, refuse("A part is put before or after another one.")
	}
	if op.Op == Move && anchor.Start >= part.Start && anchor.End <= part.End {
		return nil, refuse("A part cannot be moved beside itself.")
	}
	if part.Node.Is("body", "html", "head") {
		return nil, refuse("The page as a whole stays where it is.")
	}
	raw := bytes.Clone(d.Bytes[part.Start:part.End])
	gap := gapBefore(d, anchor.Start)
	kids := []*html.Node{clone(want.of(part.Node))}
	if white := (&html.Node{Type: html.TextNode, Data: textOf(gap)}); len(gap) > 0 {
		if op.Where == After {
			raw, kids = append(bytes.Clone(gap), raw...), []*html.Node{white, kids[0]}
		} else {
			raw, kids = append(raw, gap...), append(kids, white)
		}
	}
	edits, err := putAt(d, anchor, op.Where, raw, kids, want)
	if err != nil || op.Op == Copy {
		return edits, err
	}
	gone, err := remove(d, part, want)
	return append(edits, gone...), err
}

func remove(d *source.Doc, part *page.Part, want *intended) ([]source.Edit, error) {
	if part.Node.Is("body", "html", "head") {
		return nil, refuse("The page as a whole stays.")
	}
	node := want.of(part.Node)
	if node.Parent == nil {
		return nil, refuse("“%s” is moved or removed twice.", part.Name)
	}
	span := withLine(d, part.Start, part.End)
	if gap := textOf(d.Bytes[span.Start:part.Start]); gap != "" {
		before := node.PrevSibling
		if before == nil || before.Type != html.TextNode || !strings.HasSuffix(before.Data, gap) {
			span.Start = part.Start // the white space before it is not a text of its own in the tree
		} else {
			before.Data = strings.TrimSuffix(before.Data, gap)
		}
	}
	node.Parent.RemoveChild(node)
	return []source.Edit{{Span: span}}, nil
}

// textOf is white space as the parser reads it.
func textOf(gap []byte) string { return strings.ReplaceAll(string(gap), "\r\n", "\n") }

// withLine widens the bytes of a part that has its lines to itself by the line break and the blanks before it.
func withLine(d *source.Doc, start, end int) source.Span {
	if end < len(d.Bytes) && (d.Bytes[end] == '\n' || d.Bytes[end] == '\r') {
		return source.Span{Start: start - len(gapBefore(d, start)), End: end}
	}
	return source.Span{Start: start, End: end}
}
