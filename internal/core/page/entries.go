package page

import "mendry/internal/core/source"

// Entry is an entry of a menu of links that has entries below others.
type Entry struct {
	Part  *Part // nil where it is no part of its own
	Node  *source.Node
	Link  *source.Node
	Above *Entry       // nil on the first level
	Below []*Entry     // in List
	List  *source.Node // of the entries below it; nil where it has none
}

// Entries are those of the menu that a part is an entry of, on both levels, in order; none where it is of none, or the
// menu has one level only.
func (p *Page) Entries(part *Part) []*Entry {
	li := part.Node
	if part.Run != nil || !li.Is("li") || li.Parent == nil || !li.Parent.Is("ul", "ol") {
		return nil
	}
	top := li.Parent
	if up := top.Parent; up != nil && up.Is("li") && up.Parent != nil && up.Parent.Is("ul", "ol") {
		top = up.Parent
	}
	if up := top.Parent; up != nil && up.Is("li") {
		return nil // a third level
	}
	parts := map[*source.Node]*Part{}
	for _, q := range p.All {
		if q.Node.Is("li") && q.Run == nil {
			parts[q.Node] = q
		}
	}
	all, levels := entriesOf(top, nil, parts)
	if levels < 2 {
		return nil
	}
	return all
}

// entriesOf are the entries of a list and of those in it; levels is 0 where it is none of links.
func entriesOf(list *source.Node, above *Entry, parts map[*source.Node]*Part) (all []*Entry, levels int) {
	levels = 1
	for _, li := range elementsIn(list) {
		e := &Entry{Part: parts[li], Node: li, Above: above}
		for _, k := range elementsIn(li) {
			switch {
			case k.Is("a") && e.Link == nil:
				e.Link = k
			case k.Is("ul", "ol") && e.List == nil:
				e.List = k
			}
		}
		if !li.Is("li") || e.Link == nil {
			return nil, 0
		}
		all = append(all, e)
		if e.List == nil || above != nil {
			continue
		}
		below, deep := entriesOf(e.List, e, parts)
		if deep == 0 {
			return nil, 0
		}
		e.Below, levels = below, 2
		all = append(all, below...)
	}
	return all, levels
}

// elementsIn are the elements that stand in a node.
func elementsIn(n *source.Node) (all []*source.Node) {
	for _, k := range n.Kids {
		if k.Tag() != "" {
			all = append(all, k)
		}
	}
	return all
}

// entryLink is the link of an entry of a menu that has others below it.
func entryLink(li *source.Node) (link *source.Node, ok bool) {
	if !li.Is("li") {
		return nil, false
	}
	for _, k := range elementsIn(li) {
		switch {
		case k.Is("a") && link == nil:
			link = k
		case k.Is("ul", "ol"):
			ok = link != nil
		}
	}
	return link, ok
}
