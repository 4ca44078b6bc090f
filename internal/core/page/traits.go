package page

import (
	"slices"
	"sync"

	"golang.org/x/net/html"
	"golang.org/x/net/html/atom"

	"mendry/internal/core/source"
)

// trait is what can be said of a node by what stands in it. It is worked out once for all nodes, from the leaves up.
type trait struct {
	bits    bits  // what the element is by its name
	block   bool  // a block stands in it
	text    bool  // something to read stands in it
	control bool  // a field or button of a form stands in it, or it is one
	heads   int32 // headings and pictures in it
	things  int32 // headings, pictures, paragraphs, lists and the like in it
	links   int32
}

// mixed reports whether the node is more than a run of words.
func (t trait) mixed() bool { return t.block || t.control }

var controls = words("input select textarea button option optgroup output")

var countedThings = words("p ul ol table form video iframe a blockquote dl figcaption h1 h2 h3 h4 h5 h6 img picture")

// played are the elements that show something else than what stands in them, which is read only where that cannot be
// shown.
var played = words("video audio object")

var countedHeads = words("h1 h2 h3 h4 h5 h6 img picture")

// bits are what an element is by its name, and by the sets it has to do with.
type bits uint32

const (
	isBlock bits = 1 << iota
	isUnseen
	isControl
	isHead
	isThing
	isTextBlock
	isSectionTag
	isSetParent
	isSetItem
	isNoRuns
	isPlayed

	// What findSets says of a node.
	isSetOf   // it holds the items of a set and nothing else
	isInSet   // it is an item
	isHolder  // it carries the settings of a set in it
	isGridRow // it is a row of a grid, which is no part
	hasRuns   // some of its children are a set
	isGroup   // an item begins with it that is several neighbours
	isDivider // it does no more than to stand between items
	isBar     // tabs stand in it
	isPanels  // panels that tabs open stand in it
	isColumn  // it stands beside others in a row
)

// named are the bits of every element that has any.
var named = func() map[string]bits {
	all := map[string]bits{}
	for bit, names := range map[bits]map[string]bool{
		isBlock: blocks, isUnseen: unseen, isControl: controls, isHead: countedHeads, isThing: countedThings, isTextBlock: textBlocks,
		isSectionTag: sectionTags, isSetParent: setParents, isSetItem: setItems, isNoRuns: noRuns, isPlayed: played,
	} {
		for name := range names {
			all[name] |= bit
		}
	}
	return all
}()

func (t *trait) is(b bits) bool { return t.bits&b != 0 }

// namedAtoms remembers named by the library's numbers for names.
type namedAtoms [256]struct {
	atom atom.Atom
	bits bits
}

func (c *namedAtoms) of(h *html.Node) bits {
	switch k := &c[(uint32(h.DataAtom)^uint32(h.DataAtom)>>8)%256]; {
	case h.Namespace != "":
		return isUnseen
	case h.DataAtom == 0:
		return named[h.Data]
	case k.atom == h.DataAtom:
		return k.bits
	default:
		k.atom, k.bits = h.DataAtom, named[h.Data]
		return k.bits
	}
}

// spareTraits are slices of traits that a page before has done with.
var spareTraits = sync.Pool{New: func() any { return new([]trait) }}

func freeTraits(ts []trait) { spareTraits.Put(&ts) }

// traitsOf works them out for a node and all in it, given in document order.
func traitsOf(nodes []*source.Node) []trait {
	ts := *spareTraits.Get().(*[]trait)
	ts = slices.Grow(ts[:0], len(nodes))[:len(nodes)]
	clear(ts)
	var names namedAtoms
	for i := len(nodes) - 1; i >= 0; i-- {
		n := nodes[i]
		t := &ts[i]
		if n.HTML.Type == html.ElementNode {
			t.bits = names.of(n.HTML)
		}
		if n.IsText() {
			t.text = !n.Blank
		}
		if t.is(isUnseen | isPlayed) {
			*t = trait{bits: t.bits}
			if t.is(isUnseen) {
				continue
			}
		}
		tag := n.Tag()
		t.control = t.control || t.is(isControl) && tag != "button"
		if i == 0 {
			continue
		}
		up := &ts[n.Parent.Index-nodes[0].Index]
		up.block = up.block || t.block || t.is(isBlock)
		up.text = up.text || t.text
		up.control = up.control || t.control
		switch {
		case t.is(isHead):
			up.heads++
			up.things++
		case tag == "a":
			up.heads += t.heads
			up.things += t.things + 1
			up.links++
		case t.is(isThing):
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
