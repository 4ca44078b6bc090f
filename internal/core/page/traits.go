package page

import (
	"strings"

	"golang.org/x/net/html"

	"mendry/internal/core/source"
)

// trait is what can be said of a node by what stands in it. It is worked out once for all nodes, from the leaves up.
type trait struct {
	block   bool // a block stands in it
	text    bool // something to read stands in it
	control bool // a field or button of a form stands in it, or it is one
	heads   int  // headings and pictures in it
	things  int  // headings, pictures, paragraphs, lists and the like in it
	links   int
	all     int // elements in it
}

// mixed reports whether the node is more than a run of words.
func (t trait) mixed() bool { return t.block || t.control }

var controls = words("input select textarea button option optgroup output")

var countedThings = words("p ul ol table form video iframe a blockquote dl figcaption h1 h2 h3 h4 h5 h6 img picture")
var countedHeads = words("h1 h2 h3 h4 h5 h6 img picture")

func traitsOf(d *source.Doc) []trait {
	ts := make([]trait, len(d.Nodes))
	for i := len(d.Nodes) - 1; i >= 0; i-- {
		n := d.Nodes[i]
		t := &ts[i]
		if n.IsText() {
			t.text = !isBlank(n.HTML.Data)
		}
		tag := n.Tag()
		if unseen[tag] || n.HTML.Type == html.ElementNode && n.HTML.Namespace != "" {
			*t = trait{}
			continue
		}
		t.control = t.control || tag != "" && tag != "button" && controls[tag]
		if n.Parent == nil {
			continue
		}
		up := &ts[n.Parent.Index]
		up.block = up.block || t.block || blocks[tag]
		up.text = up.text || t.text
		up.control = up.control || t.control
		if tag != "" {
			up.all += t.all + 1
		}
		switch {
		case countedHeads[tag]:
			up.heads++
			up.things++
		case tag == "a":
			up.heads += t.heads
			up.things += t.things + 1
			up.links++
		case countedThings[tag]:
			up.things++
			up.links += t.links
		default:
			up.heads += t.heads
			up.things += t.things
			up.links += t.links
		}
	}
	return ts
}

func isBlank(s string) bool {
	for i := 0; i < len(s); i++ {
		switch s[i] {
		case ' ', '\n', '\t', '\r', '\f':
		default:
			return strings.TrimSpace(s[i:]) == ""
		}
	}
	return true
}
