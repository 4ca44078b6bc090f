package source

import (
	"maps"
	"slices"
	"strings"

	"golang.org/x/net/html"
)

// Plan is a tree as it is to become: the tree of a page with changes laid over it. The tree itself is left as it is.
type Plan struct {
	root  *html.Node
	kids  map[*html.Node][]*html.Node
	attrs map[*html.Node][]html.Attribute
	texts map[*html.Node]string
	gone  map[*html.Node]bool
}

// NewPlan makes a plan of d that changes nothing yet.
func NewPlan(d *Doc) *Plan {
	return &Plan{
		root: d.Root.HTML, kids: map[*html.Node][]*html.Node{}, attrs: map[*html.Node][]html.Attribute{},
		texts: map[*html.Node]string{}, gone: map[*html.Node]bool{},
	}
}

// Kids are n's children as planned.
func (p *Plan) Kids(n *html.Node) []*html.Node {
	if ks, ok := p.kids[n]; ok {
		return ks
	}
	var ks []*html.Node
	for c := n.FirstChild; c != nil; c = c.NextSibling {
		ks = append(ks, c)
	}
	return ks
}

// SetKids gives n other children.
func (p *Plan) SetKids(n *html.Node, kids []*html.Node) { p.kids[n] = kids }

// InsertBefore puts kids into parent before the child before; nil stands for the end.
func (p *Plan) InsertBefore(parent *html.Node, kids []*html.Node, before *html.Node) {
	have := p.Kids(parent)
	at := len(have)
	for ; before != nil; before = before.NextSibling { // past what was taken out
		if i := slices.Index(have, before); i >= 0 {
			at = i
			break
		}
	}
	p.kids[parent] = slices.Insert(slices.Clone(have), at, kids...)
}

// Remove takes n out. It reports false where n was taken out before.
func (p *Plan) Remove(n *html.Node) bool {
	if n.Parent == nil || p.gone[n] {
		return false
	}
	p.gone[n] = true
	have := p.Kids(n.Parent)
	p.kids[n.Parent] = slices.DeleteFunc(slices.Clone(have), func(k *html.Node) bool { return k == n })
	return true
}

// Attributes are n's attributes as planned.
func (p *Plan) Attributes(n *html.Node) []html.Attribute {
	if as, ok := p.attrs[n]; ok {
		return as
	}
	return n.Attr
}

// SetAttribute gives n's attribute a value; nil takes it out.
func (p *Plan) SetAttribute(n *html.Node, name string, value *string) {
	as := slices.DeleteFunc(slices.Clone(p.Attributes(n)), func(a html.Attribute) bool { return a.Key == name && a.Namespace == "" })
	if value != nil {
		as = append(as, html.Attribute{Key: name, Val: *value})
	}
	p.attrs[n] = as
}

// Text is the text of a text node as planned.
func (p *Plan) Text(n *html.Node) string {
	if s, ok := p.texts[n]; ok {
		return s
	}
	return n.Data
}

// SetText gives a text node other text.
func (p *Plan) SetText(n *html.Node, s string) { p.texts[n] = s }

// Difference compares the tree as planned with another tree, adjacent text taken together and attributes without
// order. It returns the path of the first place where they differ, or "".
func (p *Plan) Difference(tree *html.Node) string { return p.difference(p.root, tree, "") }

// DifferenceIn compares an element as planned with one of another tree, as Difference does, where nothing else was
// read again. A change that is planned outside it is a difference.
func (p *Plan) DifferenceIn(n, other *html.Node) string {
	for _, k := range slices.Concat(slices.Collect(maps.Keys(p.kids)), slices.Collect(maps.Keys(p.attrs)), slices.Collect(maps.Keys(p.texts))) {
		where := "/" + k.Data
		for k != n && k != p.root && k.Parent != nil {
			k = k.Parent
		}
		if k == p.root {
			return where
		}
	}
	return p.difference(n, other, "")
}

// Difference compares two trees, adjacent text taken together and attributes without order. It returns the path of the
// first place where they differ, or "".
func Difference(a, b *html.Node) string { return (&Plan{root: a}).Difference(b) }

func (p *Plan) difference(a, b *html.Node, path string) string {
	if a.Type != b.Type || a.Data != b.Data || a.Namespace != b.Namespace || !sameAttributes(p.Attributes(a), b.Attr) {
		return path + "/" + a.Data
	}
	if a.Type == html.ElementNode && len(path) < 200 {
		path += "/" + a.Data
	}
	changed, ok := p.kids[a]
	if !ok {
		return p.lists(linked{a.FirstChild}, linked{b.FirstChild}, path)
	}
	return p.lists(&listed{changed}, linked{b.FirstChild}, path)
}

// kin goes through the children of a node.
type kin interface {
	now() *html.Node // nil at the end
	next() kin
}

type linked struct{ n *html.Node }

func (l linked) now() *html.Node { return l.n }
func (l linked) next() kin       { return linked{l.n.NextSibling} }

type listed struct{ rest []*html.Node }

func (l *listed) now() *html.Node {
	if len(l.rest) == 0 {
		return nil
	}
	return l.rest[0]
}
func (l *listed) next() kin { return &listed{l.rest[1:]} }

func (p *Plan) lists(x, y kin, path string) string {
	for {
		xt, xn := p.textRun(x)
		yt, yn := p.textRun(y)
		if xt != yt {
			return path + "/text"
		}
		x, y = xn, yn
		if x.now() == nil || y.now() == nil {
			if x.now() != y.now() {
				return path + "/…"
			}
			return ""
		}
		if where := p.difference(x.now(), y.now(), path); where != "" {
			return where
		}
		x, y = x.next(), y.next()
	}
}

// textRun joins the text nodes from k on and returns what follows them.
func (p *Plan) textRun(k kin) (string, kin) {
	n := k.now()
	if n == nil || n.Type != html.TextNode {
		return "", k
	}
	first := p.Text(n)
	k = k.next()
	if n = k.now(); n == nil || n.Type != html.TextNode {
		return first, k
	}
	var s strings.Builder
	s.WriteString(first)
	for ; k.now() != nil && k.now().Type == html.TextNode; k = k.next() {
		s.WriteString(p.Text(k.now()))
	}
	return s.String(), k
}

func sameAttributes(a, b []html.Attribute) bool {
	if len(a) != len(b) {
		return false
	}
next:
	for i, x := range a {
		if b[i] == x {
			continue
		}
		for _, y := range b {
			if x == y {
				continue next
			}
		}
		return false
	}
	return true
}
