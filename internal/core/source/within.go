package source

import (
	"bytes"
	"unicode/utf8"

	"golang.org/x/net/html"
)

// Edited reads the page with edits made, of which out are the bytes, by reading only the block again that all of them
// lie in: an element whose content can be told to be parsed as it would be among the rest of the page. It returns that
// block as it was and as it is. Where there is no such block it returns nil, and the page has to be read as a whole.
func (d *Doc) Edited(out []byte, edits []Edit) (now *Doc, was, is *Node) {
	if d.Format != HTML || !d.Encoding.utf8 || len(edits) == 0 || len(out) > MaxBytes || !d.steady() {
		return nil, nil, nil
	}
	was = d.blockOf(edits)
	if was == nil || 2*(was.End()-was.Start()) > len(d.Bytes) {
		return nil, nil, nil
	}
	delta := len(out) - len(d.Bytes)
	old := d.alone(was, d.Bytes[was.InnerStart():was.InnerEnd()])
	if old == nil || Difference(was.HTML, old.block.HTML) != "" { // read alone it is not what it is on the page
		return nil, nil, nil
	}
	inner := out[was.InnerStart() : was.InnerEnd()+delta]
	if !utf8.Valid(inner) { // then all of the page is read otherwise
		return nil, nil, nil
	}
	fresh := d.alone(was, inner)
	if fresh == nil {
		return nil, nil, nil
	}
	now = d.with(was, fresh, out)
	if len(now.Nodes) > MaxElements { // counted with texts: near the limit the page is read and counted as a whole
		return nil, nil, nil
	}
	return now, was, now.Nodes[was.Index]
}

// blockNames are the elements that are read alone: none of them is a formatting element (HTML, 13.2.4.3), and what
// stands in them is read in the mode "in body" or "in cell".
var blockNames = map[string]bool{}

// passedThrough are further elements that a block may stand in.
var passedThrough = map[string]bool{}

func init() {
	for _, name := range []string{
		"p", "h1", "h2", "h3", "h4", "h5", "h6", "li", "td", "th", "dt", "dd", "blockquote", "figcaption", "caption", "div", "section",
		"article", "main", "header", "footer", "nav", "aside", "address", "details", "summary", "figure", "ul", "ol", "dl", "center", "pre",
	} {
		blockNames[name] = true
	}
	for _, name := range []string{"html", "body", "table", "thead", "tbody", "tfoot", "tr", "form", "fieldset", "a", "span", "b", "i", "em", "strong"} {
		passedThrough[name] = true
	}
}

// steady reports whether every element on the page stands for itself, and no formatting element was left open: then
// none reaches into a block but those around it.
func (d *Doc) steady() bool {
	for _, n := range d.Nodes {
		if n.HTML.Type != html.ElementNode {
			continue
		}
		if is := natureOf(n.HTML); !n.Placed && is&isImplied == 0 || is&formats != 0 && n.end == n.innerEnd {
			return false
		}
	}
	return true
}

// blockOf is the smallest block that holds all edits between its tags; nil where there is none.
func (d *Doc) blockOf(edits []Edit) (block *Node) {
	lo, hi := edits[0].Start, edits[0].End
	for _, e := range edits[1:] {
		lo, hi = min(lo, e.Start), max(hi, e.End)
	}
	n := d.Root
next:
	for _, k := range n.Kids {
		if k.Tag() == "" || k.Torn || k.HTML.Namespace != "" || k.InnerStart() > lo || hi > k.InnerEnd() || !k.Placed && natureOf(k.HTML)&isImplied == 0 {
			continue
		}
		name := k.Tag()
		switch {
		case !blockNames[name] && !passedThrough[name]:
			return block
		case blockNames[name] && k.Placed && k.End() > k.InnerEnd():
			block = k
		}
		n = k
		goto next
	}
	return block
}

// lone is a block that was read alone.
type lone struct {
	doc   *Doc
	block *Node
}

// Marks that are read behind a block: where they do not come out right behind it, something in it reaches further.
const (
	markBehind = "<!--.-->"
	textBehind = "."
)

// reaching are tags that may matter to what is read behind a block: whether a form is one depends on those that were
// opened before it (HTML, 13.2.4.4), and how scripts behind a drawing are cut into tokens on whether it is closed.
var reaching = [][]byte{[]byte("<form"), []byte("</form"), []byte("<svg"), []byte("</svg"), []byte("<math"), []byte("</math")}

// holdsNoText are the elements in which text is put elsewhere (HTML, 13.2.6.1).
var holdsNoText = map[string]bool{"table": true, "thead": true, "tbody": true, "tfoot": true, "tr": true}

// alone reads a block with other bytes in it, in the tags of the elements around it and nothing else. It is nil where
// what comes out is not those elements and the block, each closed by its own tag.
func (d *Doc) alone(block *Node, inner []byte) *lone {
	lower := bytes.ToLower(inner)
	for _, tag := range reaching {
		if bytes.Contains(lower, tag) {
			return nil
		}
	}
	var around []*Node // from the outside in
	for up := block.Parent; up != d.Root; up = up.Parent {
		around = append([]*Node{up}, around...)
	}
	var b bytes.Buffer
	for _, k := range d.Root.Kids {
		if k.HTML.Type == html.DoctypeNode && k.Placed {
			b.Write(d.Bytes[k.Start():k.End()])
		}
	}
	for _, up := range around {
		if up.Placed {
			b.Write(d.Bytes[up.Start():up.InnerStart()])
		}
	}
	b.Write(d.Bytes[block.Start():block.InnerStart()])
	start := b.Len()
	b.Write(inner)
	end := b.Len()
	b.Write(d.Bytes[block.InnerEnd():block.End()])
	b.WriteString(markBehind)
	text := !holdsNoText[block.Parent.Tag()]
	if text {
		b.WriteString(textBehind)
	}
	closed := make([]int, len(around)+1) // where the elements around it, and it, are closed
	closed[len(around)] = end
	for i := len(around) - 1; i >= 0; i-- {
		closed[i] = b.Len()
		b.WriteString("</" + around[i].Tag() + ">")
	}
	tree, toks, err := parse(b.Bytes(), 0)
	if err != nil {
		return nil
	}
	l := &lone{doc: &Doc{Bytes: b.Bytes(), Format: HTML, Encoding: d.Encoding}}
	err = l.doc.align(tree, toks)
	freeTokens(toks)
	if err != nil {
		return nil
	}
	n := l.doc.Root
	for i, up := range append(around, block) {
		var only *Node
		for _, k := range n.Kids {
			switch {
			case k.HTML.Type == html.DoctypeNode, k.Tag() == "head" && len(k.Kids) == 0:
			case only == nil && k.Tag() == up.Tag() && k.Placed == up.Placed && sameAttributes(k.HTML.Attr, up.HTML.Attr):
				only = k
			case up == block && only != nil && k.HTML.Type == html.CommentNode && k.Start() == end+block.End()-block.InnerEnd():
			case up == block && only != nil && text && k.IsText() && k.HTML.Data == textBehind:
			default:
				return nil
			}
		}
		if only == nil || only.Torn || only.InnerEnd() != closed[i] {
			return nil
		}
		n = only
	}
	behind := 1
	if text {
		behind = 2
	}
	if l.block = n; n.InnerStart() != start || len(n.Parent.Kids) != 1+behind {
		return nil
	}
	if !whole(l.block) {
		return nil
	}
	return l
}

// whole reports whether everything in n has its place.
func whole(n *Node) bool {
	all := true
	n.Walk(func(k *Node) bool {
		all = all && !k.Torn && (k.Placed || k.runs != nil || natureOf(k.HTML)&isImplied != 0 && k.end > 0)
		return all
	})
	return all
}

// with is the page with a block in it that was read alone; out are its bytes.
func (d *Doc) with(block *Node, l *lone, out []byte) *Doc {
	first, fresh := int(block.Index), l.block.All()
	behind := first + len(block.All()) // the first node behind the block
	more := len(fresh) - (behind - first)
	now := &Doc{
		Bytes: out, Format: d.Format, Encoding: d.Encoding, Newline: newline(out), BOM: d.BOM,
		Nodes: make([]*Node, len(d.Nodes)+more),
	}
	nodes, hs := make([]Node, len(now.Nodes)), make([]html.Node, len(now.Nodes))
	for i := range nodes {
		now.Nodes[i] = &nodes[i]
	}
	now.Root = now.Nodes[0]
	kids := make([]*Node, len(now.Nodes))
	longer := len(out) - len(d.Bytes)
	put := func(n *Node, at int, index func(*Node) int, shift func(int32) int32) {
		to := &nodes[at]
		*to = Node{
			HTML: &hs[at], Parent: to.Parent, Index: int32(at), Placed: n.Placed, Blank: n.Blank, Torn: n.Torn,
			start: shift(n.start), end: shift(n.end), innerStart: shift(n.innerStart), innerEnd: shift(n.innerEnd),
		}
		if n.runs != nil {
			runs := make([]Span, len(*n.runs))
			for i, r := range *n.runs {
				runs[i] = Span{int(shift(int32(r.Start))), int(shift(int32(r.End)))}
			}
			to.runs = &runs
		}
		h := &hs[at]
		h.Type, h.DataAtom, h.Data, h.Namespace, h.Attr = n.HTML.Type, n.HTML.DataAtom, n.HTML.Data, n.HTML.Namespace, n.HTML.Attr
		if len(n.Kids) == 0 {
			return
		}
		to.Kids, kids = kids[:len(n.Kids):len(n.Kids)], kids[len(n.Kids):]
		for i, k := range n.Kids {
			at := index(k)
			to.Kids[i] = &nodes[at]
			nodes[at].Parent = to
		}
	}
	index := func(n *Node) int {
		if int(n.Index) < behind {
			return int(n.Index)
		}
		return int(n.Index) + more
	}
	shift := func(at int32) int32 {
		if at <= block.innerStart {
			return at
		}
		return at + int32(longer)
	}
	from, to := l.block.Index, block.Index
	indexIn := func(n *Node) int { return int(n.Index - from + to) }
	apart := block.innerStart - l.block.innerStart
	shiftIn := func(at int32) int32 { return at + apart }
	for i, n := range d.Nodes {
		if i < first || i >= behind {
			put(n, index(n), index, shift)
		}
	}
	for _, n := range fresh {
		put(n, indexIn(n), indexIn, shiftIn)
	}
	for i := range nodes {
		n := &nodes[i]
		if n.Parent != nil {
			n.HTML.Parent = n.Parent.HTML
		}
		for j, k := range n.Kids {
			if j > 0 {
				k.HTML.PrevSibling = n.Kids[j-1].HTML
			} else {
				n.HTML.FirstChild = k.HTML
			}
			if j+1 < len(n.Kids) {
				k.HTML.NextSibling = n.Kids[j+1].HTML
			} else {
				n.HTML.LastChild = k.HTML
			}
		}
	}
	return now
}
