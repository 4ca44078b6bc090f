package page

import "mendry/internal/core/source"

// list is the set that all entries of a list are, whatever each is built of: they are entries of one list by the
// markup's own word. What only divides them is no entry.
func (f *finder) list(n *source.Node) []*set {
	p := f.p
	if loose(n) {
		return f.alikeAmong(n)
	}
	all := p.elements(n)
	if len(all) < 2 || f.steers(all) {
		return nil
	}
	var items []*source.Node
	for _, k := range all {
		switch {
		case !k.Is("li") || !k.Placed:
			return f.alikeAmong(n)
		case f.divider(k), p.empty(k):
			p.traits[k.Index].bits |= isDivider
		case f.says(k)&saysNoEntry != 0:
		default:
			items = append(items, k)
		}
	}
	if len(items) < 2 {
		return nil
	}
	s := &set{parent: n, items: items, rows: items}
	if f.slidesIn(n) {
		return []*set{s}
	}
	if joined := f.joinRows(items); joined != nil {
		s.items = joined
		return []*set{s}
	}
	if !f.makesSet(items) {
		return nil
	}
	return []*set{s}
}

// flatMenu is the menu that links without a list are, with the entry of the page that is shown, which is often no
// link.
func (f *finder) flatMenu(n *source.Node) *set {
	if !n.Is("nav") && (n.Parent == nil || !n.Parent.Is("nav")) || loose(n) {
		return nil
	}
	p := f.p
	var items []*source.Node
	links, shown := 0, 0
	for _, k := range p.elements(n) {
		switch {
		case f.divider(k):
			p.traits[k.Index].bits |= isDivider
			continue
		case k.Is("a"):
			links++
		case k.Is("span", "strong", "b", "em") && p.traits[k.Index].text && p.traits[k.Index].links == 0:
			shown++
		default:
			return nil
		}
		if !k.Placed {
			return nil
		}
		items = append(items, k)
	}
	if shown != 1 || links < 2 || f.steers(items) {
		return nil
	}
	return &set{parent: n, items: items, rows: items}
}

// empty reports whether an entry of a list holds nothing to see but perhaps a line.
func (p *Page) empty(n *source.Node) bool {
	t := &p.traits[n.Index]
	if t.text || t.heads > 0 || t.links > 0 || t.control {
		return false
	}
	return len(n.Kids) == 0 || onlyElement(n) != nil && onlyElement(n).Is("hr")
}
