package source

import (
	"bytes"
	"strings"

	"mendry/internal/core/refusal"

	"golang.org/x/net/html"
)

// aligner walks tree and tokens together. i is the next token, off the bytes of it that are used up already (text
// tokens only: the parser splits leading white space off).
type aligner struct {
	d    *Doc
	toks []token
	i    int
	off  int
	odd  bool // the page has carriage returns or NUL, which the parser does not keep
	open []*Node
	// unclosed are the formatting elements that ended without an end tag of their own: they may be opened again.
	unclosed map[string]bool
	// aside are comments after the body's end that stand among blanks; the parser gives the blanks to the body and the
	// comments to what is around it.
	aside []token
	ahead int // how often a tag was looked for further on
}

func (d *Doc) align(tree *html.Node, toks []token) error {
	d.reserve(toks)
	a := &aligner{d: d, toks: toks, odd: bytes.IndexByte(d.Bytes, '\r') >= 0 || bytes.IndexByte(d.Bytes, 0) >= 0, unclosed: map[string]bool{}}
	d.Root = a.d.node(tree, nil)
	d.Root.Placed = true
	d.Root.outer(0, len(d.Bytes))
	d.Root.inner(0, len(d.Bytes))
	if !a.children(d.Root) {
		d.Root.Torn = true
	}
	if len(d.Nodes) > 4*MaxElements {
		return refusal.New(refusal.Rule, "The page's tree grows too large to be edited safely.")
	}
	return nil
}

// children places the children of n, each for itself: one that cannot be brought together with the bytes is left
// without a place, and the next one is looked for behind it. It reports whether all were placed.
func (a *aligner) children(n *Node) bool {
	all := true
	a.open = append(a.open, n)
	for c := n.HTML.FirstChild; c != nil; c = c.NextSibling {
		k := a.d.node(c, n)
		i, off := a.i, a.off
		ok := false
		switch c.Type {
		case html.TextNode:
			ok = a.text(k)
		case html.ElementNode:
			ok = a.element(k)
		default:
			ok = a.other(k)
		}
		if !ok {
			if a.i, a.off = i, off; c.Type != html.ElementNode {
				k.Placed, k.runs = false, nil
			}
			all = false
		} else if next := c.NextSibling; a.i > i && i < len(a.toks) && next != nil && next.Data == "table" && a.toks[i].name == "table" && a.toks[i].kind == html.StartTagToken && k.Start() >= a.toks[i].end {
			a.i, a.off = i, 0 // it stands in the table's bytes, and the parser put it before the table
		}
	}
	a.open = a.open[:len(a.open)-1]
	if !all {
		for _, k := range n.Kids {
			if k.Placed && k.Tag() != "" && !a.sameTag(k, k.Start(), k.InnerStart()) { // another one's bytes
				k.Placed = false
				forget(k)
			}
		}
	}
	return all
}

// grow makes the nodes below n without placing them.
func (a *aligner) grow(n *Node) {
	for c := n.HTML.FirstChild; c != nil; c = c.NextSibling {
		a.grow(a.d.node(c, n))
	}
}

func forget(n *Node) {
	for _, k := range n.Kids {
		k.Placed, k.runs = false, nil
		forget(k)
	}
}

func (a *aligner) skip() { a.i, a.off = a.i+1, 0 }

func (a *aligner) peek() *token {
	if a.i >= len(a.toks) {
		return nil
	}
	return &a.toks[a.i]
}

// here is the offset of the next byte not yet used.
func (a *aligner) here() int {
	if t := a.peek(); t != nil {
		return t.start + a.off
	}
	return len(a.d.Bytes)
}

// passEnd passes over an end tag that closes nothing at this point of the tree. Content may follow </body> and
// </html>; the tree keeps it inside, the element's own range ends at its tag.
func (a *aligner) passEnd(t *token) {
	if t.name == "body" || t.name == "html" {
		for _, n := range a.open {
			if n.Tag() == t.name && n.innerEnd == 0 {
				n.innerEnd, n.end = int32(t.start), int32(t.end)
			}
		}
	}
	a.skip()
}

func (a *aligner) blankText(t *token) bool {
	return t.kind == html.TextToken && len(bytes.TrimLeft(a.d.Bytes[t.start+a.off:t.end], " \n\t\r\f\x00")) == 0 // NUL is dropped
}

func (a *aligner) element(n *Node) bool {
	name, is := n.HTML.Data, natureOf(n.HTML)
	if n.HTML.Namespace != "" {
		name = strings.ToLower(name)
	}
	for t := a.peek(); t != nil; t = a.peek() {
		if t.kind == html.StartTagToken && (t.name == name || t.name == "image" && name == "img") {
			if len(a.unclosed) > 0 && a.unclosed[name] && !a.sameAttributes(n, t) {
				break // this one was opened again; the tag is another's
			}
			return a.tagged(n, t)
		}
		if t.kind == html.EndTagToken {
			if t.name == name && (name == "p" || name == "br") && n.HTML.FirstChild == nil {
				n.outer(t.start, t.end)
				n.inner(t.start, t.start)
				a.skip()
				return true // </p> and </br> alone make an element; it is not the author's, so it is not Placed
			}
			a.passEnd(t)
			continue
		}
		if is&formats != 0 && t.kind == html.TextToken && startsBlank(n.HTML) {
			break // it was opened again for these blanks
		}
		if a.blankText(t) || t.kind == html.DoctypeToken {
			a.skip()
			continue
		}
		if t.kind == html.StartTagToken && t.is&ignorable != 0 && is&isImplied == 0 {
			a.skip()
			continue
		}
		if t.kind == html.TextToken && inTable[n.HTML.Data] {
			a.skip() // words where only rows and cells may stand: the parser put them before the table (HTML, 13.2.6.1)
			continue
		}
		break
	}
	if is&isImplied != 0 || is&formats != 0 { // the tag of a body that words began comes later, and is passed over
		return a.untagged(n)
	}
	if a.further(n) {
		return a.tagged(n, a.peek())
	}
	return a.fail(n)
}

// inTable are the elements that stand where no words may.
var inTable = map[string]bool{"tbody": true, "thead": true, "tfoot": true, "tr": true, "td": true, "th": true, "caption": true, "colgroup": true, "col": true}

const (
	mostAhead = 400 // tags that are looked for further on, on one page
	farAhead  = 600 // tokens
)

// further looks for n's start tag behind what could not be brought together, and goes there.
func (a *aligner) further(n *Node) bool {
	if a.ahead++; a.ahead > mostAhead {
		return false
	}
	for i := a.i; i < len(a.toks) && i < a.i+farAhead; i++ {
		if t := &a.toks[i]; t.kind == html.StartTagToken && t.name == n.HTML.Data && a.sameAttributes(n, t) {
			a.i, a.off = i, 0
			return true
		}
	}
	return false
}

// startsBlank reports whether the first thing in n is white space, perhaps in formatting elements of its own.
func startsBlank(n *html.Node) bool {
	for n = n.FirstChild; n != nil && natureOf(n)&formats != 0; {
		n = n.FirstChild
	}
	return n != nil && n.Type == html.TextNode && strings.TrimLeft(n.Data, " \n\t\r\f") != n.Data
}

// sameAttributes reports whether a start tag has the attributes of an element.
func (a *aligner) sameAttributes(n *Node, t *token) bool { return a.sameTag(n, t.start, t.end) }

// sameTag reports whether a range is a start tag with the attributes of an element, which has its name.
func (a *aligner) sameTag(n *Node, start, end int) bool {
	as := a.d.attributesAt(start, end, len(n.HTML.Data))
	if len(as) != len(n.HTML.Attr) {
		return false
	}
	for _, x := range as {
		found := false
		for _, y := range n.HTML.Attr {
			if y.Key == x.Name && y.Val == ReadAttribute(a.d.Bytes[x.Raw.Start:x.Raw.End]) {
				found = true
			}
		}
		if !found {
			return false
		}
	}
	return true
}

// ReadAttribute reads an attribute's value as the parser does: line ends become LF, character references are resolved.
func ReadAttribute(raw []byte) string {
	s := string(raw)
	if strings.IndexByte(s, '\r') >= 0 {
		s = strings.ReplaceAll(strings.ReplaceAll(s, "\r\n", "\n"), "\r", "\n")
	}
	return html.UnescapeString(s)
}

// fail makes the nodes below n without places.
func (a *aligner) fail(n *Node) bool {
	a.grow(n)
	return false
}

// tagged places n, whose start tag is t.
func (a *aligner) tagged(n *Node, t *token) bool {
	first := a.i
	n.start, n.innerStart, n.Placed = int32(t.start), int32(t.end), true
	a.skip()
	if natureOf(n.HTML)&isVoid != 0 || n.HTML.Namespace != "" && t.selfClosed {
		n.end, n.innerEnd = int32(t.end), int32(t.end)
		return a.children(n)
	}
	if a.children(n) {
		a.close(n)
		return true
	}
	end := a.endTag(first)
	if end < 0 {
		n.Placed = false
		return false
	}
	n.Torn = true
	n.innerEnd, n.end = int32(a.toks[end].start), int32(a.toks[end].end)
	a.i, a.off = end+1, 0
	return true
}

// untagged places the children of an element that has no tag of its own.
func (a *aligner) untagged(n *Node) bool {
	n.start, n.innerStart = int32(a.here()), int32(a.here())
	if !a.children(n) {
		return false
	}
	a.close(n)
	return true
}

// close finds where n ends: at its end tag, or where the parser closed it by itself.
func (a *aligner) close(n *Node) {
	for t := a.peek(); t != nil && t.kind == html.EndTagToken; t = a.peek() {
		if strings.EqualFold(t.name, n.HTML.Data) {
			if n.innerEnd == 0 {
				n.innerEnd, n.end = int32(t.start), int32(t.end)
			}
			a.skip()
			return
		}
		if a.isOpen(t.name) {
			break
		}
		a.passEnd(t)
	}
	if n.end == 0 {
		n.innerEnd, n.end = int32(a.here()), int32(a.here())
		if natureOf(n.HTML)&formats != 0 {
			a.unclosed[n.HTML.Data] = true
		}
	}
}

func (a *aligner) isOpen(name string) bool {
	for _, n := range a.open {
		if strings.EqualFold(n.HTML.Data, name) {
			return true
		}
	}
	return false
}

// endTag finds the end tag that balances the start tag at token first, or -1.
func (a *aligner) endTag(first int) int {
	name, depth := a.toks[first].name, 0
	for i := first; i < len(a.toks); i++ {
		if a.toks[i].name != name {
			continue
		}
		if a.toks[i].kind == html.StartTagToken {
			depth++
		} else if depth--; depth == 0 {
			return i
		}
	}
	return -1
}

// other places a comment or a document type.
func (a *aligner) other(n *Node) bool {
	want := html.CommentToken
	if n.HTML.Type == html.DoctypeNode {
		want = html.DoctypeToken
	}
	if want == html.CommentToken && len(a.aside) > 0 {
		t := a.aside[0]
		a.aside = a.aside[1:]
		n.Placed = true
		n.outer(t.start, t.end)
		n.inner(t.end, t.end)
		return true
	}
	for t := a.peek(); t != nil; t = a.peek() {
		switch {
		case t.kind == want:
			n.Placed = true
			n.outer(t.start, t.end)
			n.inner(t.end, t.end)
			a.skip()
			return true
		case t.kind == html.EndTagToken:
			a.passEnd(t)
		case a.blankText(t) || t.kind == html.DoctypeToken:
			a.skip()
		default:
			return false
		}
	}
	return false
}

// text places a text node: the text tokens that, read as the parser reads them, make up its data.
func (a *aligner) text(n *Node) bool {
	data := n.HTML.Data
	for data != "" {
		t := a.peek()
		if t == nil {
			return false
		}
		if t.kind == html.EndTagToken {
			a.passEnd(t)
			continue
		}
		if t.kind == html.StartTagToken && t.is&ignorable != 0 || t.kind == html.DoctypeToken {
			a.skip()
			continue
		}
		if t.kind == html.CommentToken && a.afterBody(n) {
			a.aside = append(a.aside, *t)
			a.skip()
			continue
		}
		if t.kind != html.TextToken {
			return false
		}
		used, rest, ok := a.matchText(n, data)
		if !ok {
			if a.blankText(t) {
				a.skip()
				continue
			}
			return false
		}
		switch {
		case !n.Placed:
			n.Placed = true
			n.outer(used.Start, used.End)
		default:
			runs := append(n.Runs(), used)
			n.runs = &runs
			n.end = int32(used.End)
		}
		data = rest
	}
	n.innerStart, n.innerEnd, n.Placed = n.start, n.end, n.Placed && n.runs == nil
	return true
}

// afterBody reports whether n is in a body whose end tag was passed over.
func (a *aligner) afterBody(n *Node) bool { return n.Parent.Is("body") && n.Parent.innerEnd > 0 }

// matchText reads the current text token as the next piece of data and returns the bytes used and the data left.
func (a *aligner) matchText(n *Node, data string) (Span, string, bool) {
	t := a.peek()
	raw := a.d.Bytes[t.start+a.off : t.end]
	rawText := n.isUnread()
	for drop, tries := 0, 0; tries < 3; tries++ {
		switch tries {
		case 1: // the newline after <pre>, <textarea>, <listing>
			drop = firstNewline(raw)
		case 2: // white space where only elements may stand
			drop = len(raw) - len(bytes.TrimLeft(raw, " \n\t\r\f"))
		}
		if tries > 0 && drop == 0 {
			continue
		}
		start := t.start + a.off + drop
		if rest := raw[drop:]; len(rest) > 0 && len(rest) <= len(data) && string(rest) == data[:len(rest)] && bytes.IndexByte(rest, '&') < 0 && (!a.odd || !bytes.ContainsAny(rest, "\r\x00")) {
			a.skip()
			return Span{start, t.end}, data[len(rest):], true
		}
		read := readText(raw[drop:], rawText)
		if read != "" && strings.HasPrefix(data, read) {
			a.skip()
			return Span{start, t.end}, data[len(read):], true
		}
		if strings.HasPrefix(read, data) {
			if n := rawLength(raw[drop:], data); n > 0 {
				a.off += drop + n
				return Span{start, start + n}, "", true
			}
		}
	}
	return Span{}, data, false
}

// readText reads raw text as the parser does: line ends become LF, character references are resolved, NUL is dropped.
func readText(raw []byte, isRaw bool) string {
	if bytes.HasPrefix(raw, []byte("<![CDATA[")) {
		return string(bytes.TrimSuffix(raw[9:], []byte("]]>")))
	}
	s := string(raw)
	if strings.IndexByte(s, '\r') >= 0 {
		s = strings.ReplaceAll(strings.ReplaceAll(s, "\r\n", "\n"), "\r", "\n")
	}
	if !isRaw && strings.IndexByte(s, '&') >= 0 {
		s = html.UnescapeString(s)
	}
	if !isRaw && strings.IndexByte(s, 0) >= 0 {
		s = strings.ReplaceAll(s, "\x00", "")
	}
	return s
}

func firstNewline(raw []byte) int {
	switch {
	case bytes.HasPrefix(raw, []byte("\r\n")):
		return 2
	case len(raw) > 0 && (raw[0] == '\n' || raw[0] == '\r'):
		return 1
	}
	return 0
}

// rawLength is how many bytes of raw make up data, which holds no character reference; 0 if that cannot be said.
func rawLength(raw []byte, data string) int {
	i := 0
	for j := 0; j < len(data); j++ {
		if i >= len(raw) {
			return 0
		}
		if data[j] == '\n' && raw[i] == '\r' {
			i++
			if i < len(raw) && raw[i] == '\n' {
				i++
			}
			continue
		}
		if raw[i] != data[j] {
			return 0
		}
		i++
	}
	return i
}
