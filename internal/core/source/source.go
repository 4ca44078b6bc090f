// Package source reads a page's bytes as the tree that the HTML Living Standard's parser makes of them, with nodes
// that know where they stand in the bytes.
//
// The tree is built by golang.org/x/net/html, which keeps no positions. The same bytes are tokenised once more, raw,
// and tree and tokens are walked together (see align.go). Where the two do not agree, the smallest enclosing element
// is torn: it has a range of its own, the nodes in it have none, and nothing below it may be edited.
package source

import (
	"bytes"
	"crypto/sha256"
	"encoding/hex"
	"strings"
	"sync"
	"unicode/utf8"

	"mendry/internal/core/refusal"

	"go.yaml.in/yaml/v4"
	"golang.org/x/net/html"
)

// Limits of what is read as an editable page.
const (
	MaxBytes      = 10 << 20 // bytes
	MaxElements   = 100_000
	MaxAttributes = 1000 // of one element
)

// Node is one node of the tree. It is kept small, since a page has many: offsets are bytes of Doc.Bytes, of which
// there are at most MaxBytes.
type Node struct {
	HTML   *html.Node
	Parent *Node
	Kids   []*Node
	runs   *[]Span // of a text node that more than one range makes up
	Index  int32   // place in document order, 0 for the document itself

	start, end           int32
	innerStart, innerEnd int32
	// Placed says that the range stands for this node alone. It is false for elements that the parser implies or
	// repeats without a tag of their own, and for everything inside a torn element.
	Placed bool
	Blank  bool // a text node of white space alone
	// Torn says that tree and bytes could not be brought together inside this element.
	Torn bool
}

// Start is where the whole element, or the text or comment, begins.
func (n *Node) Start() int { return int(n.start) }

// End is where the whole element, or the text or comment, ends.
func (n *Node) End() int { return int(n.end) }

// InnerStart is where the start tag ends.
func (n *Node) InnerStart() int { return int(n.innerStart) }

// InnerEnd is where the end tag begins.
func (n *Node) InnerEnd() int { return int(n.innerEnd) }

// outer sets where n begins and ends.
func (n *Node) outer(start, end int) { n.start, n.end = int32(start), int32(end) }

// inner sets where what n holds begins and ends.
func (n *Node) inner(start, end int) { n.innerStart, n.innerEnd = int32(start), int32(end) }

// Runs are the byte ranges that make up a text node: more than one where the parser joined text around a tag that it
// ignored, none where the node could not be placed.
func (n *Node) Runs() []Span {
	switch {
	case n.runs != nil:
		return *n.runs
	case n.Placed:
		return []Span{{n.Start(), n.End()}}
	}
	return nil
}

// isUnread reports whether n is text in which character references are not resolved.
func (n *Node) isUnread() bool {
	return n.Parent != nil && n.Parent.HTML.Namespace == "" && natureOf(n.Parent.HTML)&unread != 0
}

// Span is a half-open range of bytes.
type Span struct{ Start, End int }

// Is reports whether n is an element of one of the given names.
func (n *Node) Is(tags ...string) bool {
	if n.HTML.Type != html.ElementNode {
		return false
	}
	for _, t := range tags {
		if n.HTML.Data == t {
			return true
		}
	}
	return false
}

// IsText reports whether n is a text node.
func (n *Node) IsText() bool { return n.HTML.Type == html.TextNode }

// Tag is the element's name, empty for other nodes.
func (n *Node) Tag() string {
	if n.HTML.Type != html.ElementNode {
		return ""
	}
	return n.HTML.Data
}

// Walk calls f for n and every node below it in document order; where f returns false the node's children are passed
// over.
func (n *Node) Walk(f func(*Node) bool) {
	if !f(n) {
		return
	}
	for _, k := range n.Kids {
		k.Walk(f)
	}
}

// All lists n and every node below it, in document order.
func (n *Node) All() (all []*Node) {
	n.Walk(func(k *Node) bool {
		all = append(all, k)
		return true
	})
	return all
}

// Doc is a page's bytes with their tree.
type Doc struct {
	Bytes    []byte // never changed once read: parts hold strings of them
	Format   string // HTML or Markdown
	Front    Span   // the YAML front matter of a Markdown page, without its fences
	Root     *Node
	Nodes    []*Node // in document order; Nodes[i].Index == i
	Encoding Encoding
	Newline  string // "\n", "\r\n" or "mixed"
	BOM      bool

	slab          []Node       // room for nodes
	links         []*Node      // room for the kids of nodes
	nodes, linked int          // how much of both is used
	front         []*yaml.Node // keys and values of the front matter, in turn

	sumOnce sync.Once
	sum     [sha256.Size]byte // see Sum
}

// Sum is the SHA-256 of the page's bytes.
func (d *Doc) Sum() [sha256.Size]byte {
	d.sumOnce.Do(func() { d.sum = sha256.Sum256(d.Bytes) })
	return d.sum
}

// Hash is Sum in hexadecimal digits.
func (d *Doc) Hash() string {
	s := d.Sum()
	return hex.EncodeToString(s[:])
}

// reserve makes room for about as many nodes as tokens make: all but end tags, and a few that have no token.
func (d *Doc) reserve(toks []token) {
	n := 8
	for i := range toks {
		if toks[i].kind != html.EndTagToken {
			n++
		}
	}
	d.Nodes, d.slab, d.links = make([]*Node, 0, n), make([]Node, n), make([]*Node, n)
}

// isBlank reports whether s is white space alone.
func isBlank(s string) bool {
	for i := 0; i < len(s); i++ {
		switch c := s[i]; {
		case c == ' ' || c >= '\t' && c <= '\r':
		case c < utf8.RuneSelf:
			return false
		default:
			return strings.TrimSpace(s[i:]) == ""
		}
	}
	return true
}

// node makes the Node for h and takes it into document order.
func (d *Doc) node(h *html.Node, parent *Node) *Node {
	if d.nodes == len(d.slab) {
		d.slab, d.nodes = make([]Node, 64), 0
	}
	n := &d.slab[d.nodes]
	d.nodes++
	n.HTML, n.Parent, n.Index = h, parent, int32(len(d.Nodes))
	n.Blank = h.Type == html.TextNode && isBlank(h.Data)
	d.Nodes = append(d.Nodes, n)
	if parent != nil {
		if parent.Kids == nil && h.Parent != nil {
			kids := 0
			for c := h.Parent.FirstChild; c != nil; c = c.NextSibling {
				kids++
			}
			if len(d.links)-d.linked < kids {
				d.links, d.linked = make([]*Node, max(kids, 64)), 0
			}
			parent.Kids = d.links[d.linked : d.linked : d.linked+kids]
			d.linked += kids
		}
		parent.Kids = append(parent.Kids, n)
	}
	return n
}

// Parse reads b as an HTML page. contentType may be empty, or the Content-Type under which the host gave the page; its
// charset parameter wins over what the page says of itself. The error is a *refusal.Refusal.
func Parse(b []byte, contentType string) (*Doc, error) {
	if len(b) > MaxBytes {
		return nil, tooLarge(b)
	}
	enc, bom, err := detect(b, contentType)
	if err != nil {
		return nil, err
	}
	tree, toks, err := parse(b, bom)
	if no := refusal.Of(err); no != nil {
		return nil, no
	}
	if err != nil {
		return nil, refusal.New(refusal.Rule, "The page is nested too deeply to be read safely.")
	}
	d := &Doc{Bytes: b, Format: HTML, Encoding: enc, Newline: newline(b), BOM: bom > 0}
	err = d.align(tree, toks)
	freeTokens(toks)
	if err != nil {
		return nil, err
	}
	return d, nil
}

func newline(b []byte) string {
	crlf := bytes.Count(b, []byte("\r\n"))
	lf := bytes.Count(b, []byte("\n")) - crlf
	switch {
	case crlf == 0:
		return "\n"
	case lf == 0:
		return "\r\n"
	}
	return "mixed"
}

// LineEnd is what a new line on this page ends with: the kind that most of its lines have.
func (d *Doc) LineEnd() string {
	if d.Newline == "mixed" {
		crlf := bytes.Count(d.Bytes, []byte("\r\n"))
		if 2*crlf < bytes.Count(d.Bytes, []byte("\n")) {
			return "\n"
		}
		return "\r\n"
	}
	return d.Newline
}
