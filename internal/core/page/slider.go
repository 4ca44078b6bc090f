package page

import (
	"slices"
	"strings"

	"mendry/internal/core/source"
)

// slidesIn reports whether the children of n are slides, by what its class says.
func (f *finder) slidesIn(n *source.Node) bool {
	return f.says(n)&(saysSliding|saysNoTrack) == saysSliding
}

// slides is the set that all children of what slides are, also where each is built otherwise.
func (f *finder) slides(n *source.Node) *set {
	if !f.slidesIn(n) || loose(n) {
		return nil
	}
	items := f.p.elements(n)
	if len(items) < 2 || f.steers(items) {
		return nil
	}
	for _, k := range items {
		if !k.Placed || !k.Is("div", "figure", "a", "img", "picture", "article", "section", "blockquote") ||
			f.says(k)&saysNoTrack != 0 {
			return nil
		}
		if f.says(k)&saysTrack != 0 {
			return nil // n is what it slides in
		}
	}
	return &set{parent: n, items: items, rows: items}
}

const mostSliders = 100 // of a page whose dots are brought together with their slides

// steers reports whether items do no more than to turn to another slide: arrows, or one dot a slide. Dots are
// remembered, so that they can be brought together with the slides.
func (f *finder) steers(run []*source.Node) bool {
	around := f.says(run[0].Parent)&saysTurning != 0
	arrows := 0
	for _, n := range run {
		says, evidence, arrow := f.turns(n)
		if !says || !evidence && !around {
			return false
		}
		if arrow {
			arrows++
		}
	}
	if arrows == 0 && len(f.dots) < mostSliders && !slices.ContainsFunc(f.dots, func(d []*source.Node) bool { return d[0] == run[0] }) {
		f.dots = append(f.dots, slices.Clone(run))
	}
	return true
}

// turns looks at one thing that may turn to another slide: whether it says no more than that, whether its markup tells
// that it turns, and whether it is an arrow.
func (f *finder) turns(n *source.Node) (says, evidence, arrow bool) {
	if !n.Is("a", "button", "li", "div", "span", "label") {
		return false, false, false
	}
	says = true
	n.Walk(func(k *source.Node) bool {
		switch {
		case !says:
		case k.IsText():
			said := saidBy(k.HTML.Data)
			says, arrow = says && said.turns, arrow || said.arrow
		case k.Tag() != "":
			if k.Is("img", "picture", "h1", "h2", "h3", "h4", "h5", "h6", "p") {
				says = k.Is("img") && isSlideTo(k)
			}
			evidence = evidence || isSlideTo(k) || f.says(k)&saysTurning != 0
			arrow = arrow || f.says(k)&saysArrow != 0
		}
		return says
	})
	return says, evidence, arrow
}

// said is what the finding of sets heeds of a text: whether it does no more than to divide, whether it asks, and
// whether it says no more than that something turns to a slide, as an arrow or otherwise.
type said struct{ divides, asks, turns, arrow bool }

func saidBy(text string) said {
	s := said{divides: divides(text), asks: Asks(text)}
	t := strings.ToLower(strings.TrimSpace(text))
	s.arrow = turnWords[t] || len(t) < 8 && strings.ContainsAny(t, "‹›«»<>←→")
	s.turns = s.arrow || strings.Trim(t, "0123456789. ") == "" || t == "•" || t == "·" ||
		strings.HasPrefix(t, "slide ") ||
		strings.HasPrefix(t, "item ")
	return s
}

// turnWords are what arrows say, in words or in the names of an icon font (common practice, no source).
var turnWords = words(
	"prev previous next back forward keyboard_arrow_left keyboard_arrow_right chevron_left chevron_right",
)

// IsSlideTo reports whether an attribute, by its name, says to which slide an element turns (common practice, no
// source).
func IsSlideTo(name string) bool {
	return strings.Contains(name, "slide") && strings.Contains(name, "-")
}

// isSlideTo reports whether an attribute says to which slide an element turns.
func isSlideTo(n *source.Node) bool {
	for i := range n.HTML.Attr {
		if IsSlideTo(n.HTML.Attr[i].Key) {
			return true
		}
	}
	return false
}

// joinDots brings the dots of sliders together with their slides: as many, and in the same wrapper.
func (f *finder) joinDots() {
	for _, dots := range f.dots {
		up, joined, slides := dots[0].Parent, false, false
		for i := 0; i < holdersAbove && up != nil && !joined; i++ {
			s, others := f.slideSetIn(up, len(dots))
			if joined = s != nil; joined {
				for j, dot := range dots {
					f.half(s.items[j], dot)
				}
			}
			slides = slides || others
			up = up.Parent
		}
		if !joined && slides {
			f.p.orphans++
		}
	}
}

// slideSetIn is the one set of so many items in a node; nil where there is none, or more than one. others says that
// slides stand there that are more or fewer.
func (f *finder) slideSetIn(in *source.Node, items int) (found *set, others bool) {
	for n, all := range f.sets {
		if n.Index < in.Index || n.Index > lastIn(in).Index {
			continue
		}
		for _, s := range all {
			switch {
			case s.lasts != nil:
			case len(s.items) != items:
				others = others || f.slidesIn(s.parent)
			case found != nil:
				return nil, false
			default:
				found = s
			}
		}
	}
	return found, others
}

// half notes that an item stands in two places.
func (f *finder) half(item, other *source.Node) {
	if f.p.halves == nil {
		f.p.halves = map[*source.Node]*source.Node{}
	}
	f.p.halves[item], f.p.halves[other] = other, item
	f.p.traits[other.Index].bits |= isInSet
}

// lastIn is the last node in n in document order, or n itself.
func lastIn(n *source.Node) *source.Node {
	for len(n.Kids) > 0 {
		n = n.Kids[len(n.Kids)-1]
	}
	return n
}
