package page

import "mendry/internal/core/source"

const mostJoined = 2 // rows in rows that are looked into: a gallery's columns in a row

// joinRows are the items of rows of a grid, or of the columns that a gallery is split into: wrappers that hold nothing
// but alike items themselves; nil where rows are no such wrappers.
func (f *finder) joinRows(rows []*source.Node) []*source.Node {
	if !rows[0].Is("div", "ul", "section", "figure") || f.joining == mostJoined {
		return nil
	}
	f.joining++
	defer func() { f.joining-- }()
	var all []*source.Node
	many, even := false, true
	for i, row := range rows {
		items, alone := f.itemsOfRow(row)
		if items == nil {
			return nil
		}
		many = many || !alone
		all = append(all, items...)
		even = even && len(items) == len(all)/(i+1)
	}
	if !many || len(all) <= len(rows) ||
		f.says(rows[0])&saysColumn != 0 && !f.thin(all) && !(even && f.called(all[0], all[len(all)-1])) {
		return nil
	}
	for _, n := range all[1:] {
		if !f.alike(all[:1], n) {
			return nil
		}
	}
	return all
}

// itemsOfRow are the items that a row holds and nothing else; alone says that there is one, which may be anything.
func (f *finder) itemsOfRow(row *source.Node) (items []*source.Node, alone bool) {
	in := f.p.elements(row)
	if len(in) == 1 && in[0].Is("div", "ul") && !loose(row) && len(f.p.elements(in[0])) > 1 &&
		!f.p.traits[in[0].Index].is(isPanels|isBar) {
		return f.rowItems(in[0]), false // a wrapper in the row
	}
	if items := f.rowItems(row); items != nil {
		return items, false
	}
	if len(in) == 1 {
		return in, true
	}
	return nil, false
}

// rowItems are the children of a row where all of them are one set.
func (f *finder) rowItems(row *source.Node) []*source.Node {
	if len(row.Kids) < 2 || f.p.traits[row.Index].is(isPanels|isBar) || ownHead(row) {
		return nil
	}
	if row.Is("ul", "ol") && (inside(row, "nav") || f.says(row)&saysMenu != 0) {
		return nil // two lists of a menu stay two
	}
	inner := f.among(row)
	if len(inner) == 1 && !inner[0].run && inner[0].lasts == nil {
		return inner[0].items
	}
	return nil
}

// thin reports whether items are no more than a picture or a link each: such ones run on from column to column, where
// fuller ones do so only if they are as many in each and called the same.
func (f *finder) thin(items []*source.Node) bool {
	for _, n := range items {
		if t := &f.p.traits[n.Index]; t.things > 2 || t.heads > 0 && t.text || opensItself(n, f.says) {
			return false
		}
	}
	return true
}

// ownHead reports whether a heading is a child of n.
func ownHead(n *source.Node) bool {
	for _, k := range n.Kids {
		if k.Is("h1", "h2", "h3", "h4", "h5", "h6") {
			return true
		}
	}
	return false
}

func onlyElement(n *source.Node) (only *source.Node) {
	for _, k := range n.Kids {
		if k.Tag() == "" {
			continue
		}
		if only != nil {
			return nil
		}
		only = k
	}
	return only
}
