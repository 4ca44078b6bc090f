package page

import (
	"slices"
	"strings"

	"mendry/internal/core/source"
)

const compared = 3 // siblings that a further item is compared with

// setParents are elements that a set may stand in; setItems are elements that may be its items.
var (
	setParents = words("body main section article aside header footer nav div ul ol menu figure td fieldset center dl")
	setItems   = words("li div article section figure a img picture blockquote details button")
)

// alikeAmong finds runs of alike items among n's children.
func (f *finder) alikeAmong(n *source.Node) (found []*set) {
	p := f.p
	var few [16]*source.Node
	run := few[:0]
	elements := 0
	flush := func() {
		if len(run) > 1 {
			if items := f.joinRows(run); items != nil {
				found = append(found, &set{parent: n, items: items, rows: slices.Clone(run)})
			} else if !f.steers(run) && f.makesSet(run) {
				items := slices.Clone(run)
				found = append(found, &set{parent: n, items: items, rows: items})
			}
		}
		run = run[:0]
	}
	for _, k := range n.Kids {
		switch {
		case k.IsText() && !k.Blank && !divides(k.HTML.Data):
			flush()
			elements++ // n holds more than the items
		case k.Tag() == "" || k.Is("hr") || p.traits[k.Index].is(isUnseen): // may stand between items
		case len(run) > 0 && f.divider(k):
			p.traits[k.Index].bits |= isDivider
		default:
			elements++
			if t := &p.traits[k.Index]; !t.is(isSetItem) || t.is(isBar|isPanels) || !k.Placed {
				flush()
				continue
			}
			if len(run) > 0 && !f.alike(run, k) {
				flush()
			}
			run = append(run, k)
		}
	}
	flush()
	for _, s := range found {
		s.run = len(s.rows) < elements
	}
	return found
}

// divides reports whether a text does no more than to stand between items.
func divides(s string) bool {
	for _, r := range s {
		if !strings.ContainsRune(" \n\t\r|·•⋅/-–—›»>", r) {
			return false
		}
	}
	return true
}

// divider reports whether an element does no more than to stand between items, such as a dot in an element of its own.
func (f *finder) divider(n *source.Node) bool {
	t := &f.p.traits[n.Index]
	if !n.Is("span", "i", "b", "li") || t.links > 0 || t.heads > 0 {
		return false
	}
	if !t.text {
		return n.Is("li") && f.says(n)&saysDivider != 0
	}
	text := n
	for len(text.Kids) == 1 {
		text = text.Kids[0]
	}
	return text.IsText() && divides(text.HTML.Data)
}

// makesSet reports whether alike siblings are what a person would call a set.
func (f *finder) makesSet(run []*source.Node) bool {
	p := f.p
	if len(run) < 2 {
		return false
	}
	first := run[0]
	full, linked, pictures, things := 0, 0, 0, 0
	for _, k := range run {
		t := p.traits[k.Index]
		if t.text || t.heads > 0 || t.links > 0 || k.Is("img", "picture", "a") {
			full++
		}
		if t.links == 1 && p.onlyLinkOrMenu(k) || k.Is("a") {
			linked++
		}
		if t.heads > 0 || k.Is("img", "picture") {
			pictures++
		}
		if t.things > 1 || t.heads > 0 && t.text {
			things++
		}
	}
	if 2*full < len(run) {
		return first.Is("li") && iconic(run)
	}
	switch first.Tag() {
	case "a", "img", "picture", "button", "details", "figure":
		return true
	case "li": // a list of words is a list; a list of links, pictures or cards is a set
		return 2*linked >= len(run) || 2*pictures >= len(run) || 2*things >= len(run) || f.allOpen(run)
	case "section":
		return things == len(run) && f.sameClass(run) && f.onlyOnes(run)
	case "blockquote", "article":
		return true
	}
	if len(run) == 2 && full < 2 {
		return false
	}
	if f.allOpen(run) {
		return true
	}
	return (2*things >= len(run) || 2*pictures >= len(run) || 2*linked >= len(run)) &&
		(len(run) > 2 || f.sameClass(run))
}

// iconic reports whether every item is an icon and nothing else.
func iconic(run []*source.Node) bool {
	for _, n := range run {
		icon := false
		n.Walk(func(k *source.Node) bool {
			icon = icon || k.Is("svg") || k.Is("i", "span") && classOf(k) != ""
			return !icon
		})
		if !icon {
			return false
		}
	}
	return true
}

// allOpen reports whether every item opens what is in it, by its own class or the first thing in it.
func (f *finder) allOpen(run []*source.Node) bool {
	for _, n := range run {
		if !opensItself(n, f.says) {
			return false
		}
	}
	return true
}

// onlyOnes reports whether no sibling beside a run of sections has their class: otherwise they are sections of the
// page that happen to be built alike.
func (f *finder) onlyOnes(run []*source.Node) bool {
	class := f.classed(run[0]).lasting
	for _, k := range run[0].Parent.Kids {
		if k.Is("section") && f.classed(k).lasting == class && (k.Index < run[0].Index || k.Index > run[len(run)-1].Index) {
			return false
		}
	}
	return true
}

// onlyLinkOrMenu reports whether an item is one link, perhaps with a menu of its own below it.
func (p *Page) onlyLinkOrMenu(n *source.Node) bool {
	for _, k := range n.Kids {
		if k.IsText() && !k.Blank {
			return false
		}
		if k.Tag() != "" && !k.Is("a", "ul", "ol", "div", "span") {
			return false
		}
	}
	return true
}

// sameClass reports whether a run has the same classes but for states, or two of it the same but for some that one has
// more, as for the space below it.
func (f *finder) sameClass(run []*source.Node) bool {
	want := strings.Fields(f.classed(run[0]).lasting)
	for _, n := range run[1:] {
		got := strings.Fields(f.classed(n).lasting)
		if len(got) < len(want) {
			got, want = want, got
		}
		if len(run) > 2 && len(got) != len(want) {
			return false
		}
		for _, class := range want {
			if !slices.Contains(got, class) {
				return false
			}
		}
	}
	return len(want) > 0 || run[0].Is("article")
}

// alike reports whether n goes on with a run: it is built like one of its last items.
func (f *finder) alike(run []*source.Node, n *source.Node) bool {
	if run[0].Tag() != n.Tag() {
		return false
	}
	s := f.shapeOf(n)
	for i := len(run) - 1; i >= 0 && i >= len(run)-compared; i-- {
		if f.shapes.alike(s, f.shapeOf(run[i]), f.called(n, run[i])) {
			return true
		}
	}
	return false
}

// called reports whether two elements are called the same by their classes, by a word for items of a set.
func (f *finder) called(a, b *source.Node) bool {
	c := *f.classed(a)
	return c.says&saysItem != 0 && c.lasting == f.classed(b).lasting
}
