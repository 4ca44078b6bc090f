package page

import (
	"cmp"
	"maps"
	"slices"

	"mendry/internal/core/source"
)

// set is a run of alike items.
type set struct {
	parent *source.Node
	items  []*source.Node // the node that each item is, or the first of several neighbours
	lasts  []*source.Node // of items that are several neighbours, the last of each; nil where every item is one node
	rows   []*source.Node // the children of parent that make up the set: the items, or rows of a grid with items in them
	run    bool           // rows are only some of parent's children
}

// sets are those of a page by the parent of their items; the traits say which nodes have to do with them.
type sets map[*source.Node][]*set

// finder is what is known while the sets of a page are looked for.
type finder struct {
	p       *Page
	shapes  *pageShapes
	classes *knownClasses
	sets    sets
	dots    [][]*source.Node // what turns to the slides of a slider, one each
	byID    map[string]*source.Node
	byTab   map[string][]*source.Node // by data-tab
	joining int                       // how many rows in rows are being joined
}

func (p *Page) findSets() sets {
	f := &finder{p: p, shapes: newShapes(len(p.Doc.Nodes)), sets: sets{}, classes: spareClasses.Get().(*knownClasses)}
	defer f.shapes.free()
	defer f.classes.free()
	f.tabs()
	for _, n := range p.Doc.Nodes { // from the outside in, so that rows of a grid are seen before the items in them
		t := &p.traits[n.Index]
		if !t.is(isSetParent) || len(n.Kids) < 2 || t.is(isGridRow|isBar|isPanels) || inside(n, "form") {
			continue
		}
		for _, found := range f.among(n) {
			f.take(found)
		}
		f.markColumns(n)
	}
	f.dropSections()
	f.joinDots()
	for n := range f.sets {
		p.markHolders(n)
	}
	return f.sets
}

// among finds the sets whose items are children of n, or stand in rows that are.
func (f *finder) among(n *source.Node) []*set {
	switch {
	case n.Is("dl"):
		return f.pairs(n)
	case n.Is("ul", "ol", "menu"):
		return f.list(n)
	}
	if found := f.slides(n); found != nil {
		return []*set{found}
	}
	if found := f.flatMenu(n); found != nil {
		return []*set{found}
	}
	if found := f.asked(n); found != nil {
		return found
	}
	return f.alikeAmong(n)
}

// take notes a set, and what its nodes are.
func (f *finder) take(found *set) {
	p := f.p
	f.sets[found.parent] = append(f.sets[found.parent], found)
	for i, item := range found.items {
		switch {
		case found.lasts == nil:
			p.traits[item.Index].bits |= isInSet
		default:
			p.traits[item.Index].bits |= isGroup
			if p.groups == nil {
				p.groups = map[*source.Node]*source.Node{}
			}
			p.groups[item] = found.lasts[i]
		}
		for up := item.Parent; up != found.parent; up = up.Parent {
			p.traits[up.Index].bits |= isGridRow
		}
	}
	if found.run {
		p.traits[found.parent.Index].bits |= hasRuns
	} else {
		p.traits[found.parent.Index].bits |= isSetOf
	}
}

// dropSections takes back sets of what are sections of the page that happen to be built alike, as sets stand in them,
// and of wrappers of which one is nothing but a set.
func (f *finder) dropSections() {
	holding := map[*source.Node]bool{}
	for in := range f.sets {
		for n := in; n != nil && !holding[n]; n = n.Parent {
			holding[n] = true
		}
	}
	inner := slices.SortedFunc(maps.Keys(f.sets), func(a, b *source.Node) int { return cmp.Compare(b.Index, a.Index) })
	for _, in := range inner { // from the inside out, always in one order
		all := f.sets[in]
		kept := slices.DeleteFunc(all, func(s *set) bool {
			section := s.items[0].Is("section") || f.says(s.items[0])&saysSection != 0
			drop := s.lasts == nil && slices.ContainsFunc(s.items, func(n *source.Node) bool {
				return holding[n] && f.p.halves[n] == nil && (section || n.Is("div") && f.p.wrapsSet(n))
			})
			if !drop || f.slidesIn(s.parent) || s.items[0].Parent != s.parent {
				return false
			}
			for _, item := range s.items {
				f.p.traits[item.Index].bits &^= isInSet
			}
			return true
		})
		if f.sets[in] = kept; len(kept) == 0 {
			delete(f.sets, in)
			f.p.traits[in.Index].bits &^= hasRuns | isSetOf
		}
	}
}

// beginning is the set among sets that begins with k.
func beginning(sets []*set, k *source.Node) *set {
	for _, found := range sets {
		if found.run && found.rows[0] == k {
			return found
		}
	}
	return nil
}

// inside reports whether a node is one of some elements, or stands in one.
func inside(n *source.Node, tags ...string) bool {
	for ; n != nil; n = n.Parent {
		if n.Is(tags...) {
			return true
		}
	}
	return false
}

// elements are the children of n that are elements and seen.
func (p *Page) elements(n *source.Node) (all []*source.Node) {
	for _, k := range n.Kids {
		if k.Tag() != "" && !p.traits[k.Index].is(isUnseen) {
			all = append(all, k)
		}
	}
	return all
}

// loose reports whether words stand in n outside its elements, other than what stands between items.
func loose(n *source.Node) bool {
	return slices.ContainsFunc(n.Kids, func(k *source.Node) bool {
		return k.IsText() && !k.Blank && !divides(k.HTML.Data)
	})
}
