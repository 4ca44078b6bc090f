package page

import (
	"strings"

	"mendry/internal/core/source"
)

// tabs finds bars of tabs and the panels that they open, and makes one set of both: its items are the panels, each
// with its tab as the other half.
func (f *finder) tabs() {
	p := f.p
	for _, n := range p.Doc.Nodes {
		if !p.traits[n.Index].is(isSetParent) || len(n.Kids) < 2 || p.traits[n.Index].is(isPanels) || !f.isBar(n) ||
			inside(n, "form") {
			continue
		}
		tabs := f.tabsIn(n)
		if len(tabs) < 2 {
			continue
		}
		panels := f.opened(tabs)
		if panels == nil {
			panels = f.connected(n, len(tabs))
		}
		if panels == nil {
			panels = f.inOrder(n, len(tabs))
		}
		if panels == nil || panels[0].Parent.Index <= n.Index && lastIn(panels[0].Parent).Index >= n.Index {
			continue
		}
		in := panels[0].Parent
		p.traits[n.Index].bits |= isBar
		p.traits[in.Index].bits |= isPanels
		for i, panel := range panels {
			f.half(panel, tabs[i])
		}
		f.take(&set{parent: in, items: panels, rows: panels, run: len(p.elements(in)) > len(panels) || loose(in)})
	}
}

// isBar reports whether an element says that tabs stand in it, or its first child that it is one.
func (f *finder) isBar(n *source.Node) bool {
	if f.saysTab(n) {
		return true
	}
	for _, k := range n.Kids {
		if k.Tag() == "" {
			continue
		}
		if role(k, "tab") || togglesTab(k) {
			return true
		}
		for _, in := range k.Kids {
			if in.Tag() != "" {
				return role(in, "tab") || togglesTab(in)
			}
		}
		return false
	}
	return false
}

func (f *finder) saysTab(n *source.Node) bool {
	if role(n, "tablist") || f.says(n)&(saysTabs|saysPanels) == saysTabs {
		return true
	}
	for i := range n.HTML.Attr {
		if key := n.HTML.Attr[i].Key; len(key) > 4 && key != "class" &&
			(strings.HasSuffix(key, "-tab") || strings.HasSuffix(key, "-tabs") || strings.HasSuffix(key, "-switcher")) {
			return true
		}
	}
	return false
}

func role(n *source.Node, want string) bool {
	for i := range n.HTML.Attr {
		if n.HTML.Attr[i].Key == "role" {
			return n.HTML.Attr[i].Val == want
		}
	}
	return false
}

// togglesTab reports whether an attribute of a link or button says that it opens a tab.
func togglesTab(n *source.Node) bool {
	for i := range n.HTML.Attr {
		key, value := n.HTML.Attr[i].Key, n.HTML.Attr[i].Val
		if strings.HasPrefix(key, "data-") &&
			(strings.HasSuffix(key, "toggle") && (value == "tab" || value == "pill") || key == "data-tab") {
			return true
		}
	}
	return false
}

// tabsIn are the tabs of a bar: its children, each a link or a button or with one in it.
func (f *finder) tabsIn(bar *source.Node) (tabs []*source.Node) {
	for _, k := range f.p.elements(bar) {
		if f.divider(k) {
			continue
		}
		if !k.Placed || !k.Is("a", "button", "li", "div", "span", "label") || opener(k) == nil {
			return nil
		}
		tabs = append(tabs, k)
	}
	return tabs
}

// opener is the link or button that a tab is or holds.
func opener(tab *source.Node) (found *source.Node) {
	tab.Walk(func(n *source.Node) bool {
		if found == nil && (n.Is("a", "button", "label") || role(n, "tab")) {
			found = n
		}
		return found == nil
	})
	return found
}

// opened are the panels that tabs name: by an address on the page, by ARIA, or by an attribute of a script.
func (f *finder) opened(tabs []*source.Node) (panels []*source.Node) {
	for _, tab := range tabs {
		panel := f.named(opener(tab))
		if panel == nil && opener(tab) != tab {
			panel = f.named(tab)
		}
		if panel == nil || !panel.Placed || len(panels) > 0 && panel.Parent != panels[0].Parent {
			return nil
		}
		panels = append(panels, panel)
	}
	for i := 1; i < len(panels); i++ {
		if panels[i].Index <= panels[i-1].Index {
			return nil // not in the order of the tabs
		}
	}
	return panels
}

// named is the element that an attribute of n names.
func (f *finder) named(n *source.Node) *source.Node {
	for i := range n.HTML.Attr {
		key, value := n.HTML.Attr[i].Key, n.HTML.Attr[i].Val
		switch {
		case key == "aria-controls",
			strings.HasPrefix(value, "#") && len(value) > 1 && (key == "href" || strings.HasPrefix(key, "data-")):
			if panel := f.identified(strings.TrimPrefix(value, "#")); panel != nil {
				return panel
			}
		case key == "data-tab" && value != "":
			if panel := f.identified(value); panel != nil {
				return panel
			}
			for _, k := range f.tabbed(value) {
				if k.Index > n.Index {
					return k
				}
			}
		}
	}
	return nil
}

// tabbed are the elements with a value of data-tab, in order.
func (f *finder) tabbed(value string) []*source.Node {
	if f.byTab == nil {
		f.byTab = map[string][]*source.Node{}
		for _, n := range f.p.Doc.Nodes {
			if n.Tag() == "" {
				continue
			}
			for i := range n.HTML.Attr {
				if a := &n.HTML.Attr[i]; a.Key == "data-tab" && len(f.byTab[a.Val]) < mostTabbed {
					f.byTab[a.Val] = append(f.byTab[a.Val], n)
				}
			}
		}
	}
	return f.byTab[value]
}

const mostTabbed = 16 // elements with one value of data-tab that are looked at: a tab, its panel, and a few more

// identified is the element with an identifier.
func (f *finder) identified(id string) *source.Node {
	if f.byID == nil {
		f.byID = map[string]*source.Node{}
		for _, n := range f.p.Doc.Nodes {
			if n.Tag() == "" {
				continue
			}
			for i := range n.HTML.Attr {
				if a := &n.HTML.Attr[i]; a.Key == "id" && f.byID[a.Val] == nil {
					f.byID[a.Val] = n
				}
			}
		}
	}
	return f.byID[id]
}

// connected are as many panels as there are tabs in the element that an attribute of the bar names.
func (f *finder) connected(bar *source.Node, many int) []*source.Node {
	for i := range bar.HTML.Attr {
		key, value := bar.HTML.Attr[i].Key, bar.HTML.Attr[i].Val
		at := strings.IndexByte(value, '#')
		if at < 0 || key == "style" || key == "href" {
			continue
		}
		end := strings.IndexAny(value[at:]+";", " ;,\"'")
		if in := f.identified(value[at+1 : at+end]); in != nil {
			if panels := f.p.elements(in); len(panels) == many && panels[0].Placed && !loose(in) {
				return panels
			}
		}
	}
	return nil
}

// inOrder are as many panels as there are tabs in what comes right after the bar, where nothing else joins them.
func (f *finder) inOrder(bar *source.Node, many int) []*source.Node {
	for up := bar; up != nil && up.Parent != nil; up = up.Parent {
		next := f.after(up)
		if next != nil && f.says(next)&saysPanels != 0 {
			in := f.p.elements(next)
			if len(in) == many && in[0].Placed && !loose(next) {
				return in
			}
			if f.says(next)&saysTabs != 0 || f.says(bar)&saysTabs != 0 {
				f.p.orphans++
			}
			return nil
		}
		if next != nil || up != bar && up.Parent.Is("body", "main") {
			return nil
		}
	}
	return nil
}

// after is the next element beside n.
func (f *finder) after(n *source.Node) *source.Node {
	past := false
	for _, k := range n.Parent.Kids {
		if past && k.Tag() != "" && !f.p.traits[k.Index].is(isUnseen) {
			return k
		}
		past = past || k == n
	}
	return nil
}
