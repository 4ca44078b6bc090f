package page

import (
	"slices"
	"strings"

	"mendry/internal/core/source"
)

// pairs is the set that the terms of a list of descriptions are, each with what is said of it (HTML, 4.4.9).
func (f *finder) pairs(n *source.Node) []*set {
	all := f.p.elements(n)
	if len(all) > 0 && all[0].Is("div") {
		return f.alikeAmong(n)
	}
	s := &set{parent: n}
	for i, k := range all {
		switch {
		case !k.Placed || !k.Is("dt", "dd") || i == 0 && k.Is("dd"):
			return nil
		case k.Is("dt") && (i == 0 || all[i-1].Is("dd")):
			s.items, s.lasts = append(s.items, k), append(s.lasts, k)
		default:
			s.lasts[len(s.lasts)-1] = k
		}
	}
	if len(s.items) < 2 {
		return nil
	}
	s.rows = n.Kids[slices.Index(n.Kids, s.items[0]) : slices.Index(n.Kids, s.lasts[len(s.lasts)-1])+1]
	return []*set{s}
}

// asked finds questions that stand with their answers one after another: a heading or whatever opens the answer, and
// what it opens.
func (f *finder) asked(n *source.Node) []*set {
	heads := 0
	for _, k := range n.Kids {
		if heading(k) {
			heads++
		}
	}
	first := firstElement(n)
	if heads < 2 && (first == nil || len(n.Kids) < 4 || !f.opens(first)) {
		return nil
	}
	all := f.p.elements(n)
	if s := f.opening(n, all); s != nil {
		return []*set{s}
	}
	if heads < 2 {
		return nil
	}
	return f.headed(n, all)
}

// opening is the set that n's children are where they are pairs by turns, of which the first opens the second.
func (f *finder) opening(n *source.Node, all []*source.Node) *set {
	if len(all) < 4 || len(all)%2 != 0 || loose(n) ||
		all[0].Tag() == all[1].Tag() && f.classed(all[0]).lasting == f.classed(all[1]).lasting {
		return nil
	}
	s := &set{parent: n}
	for i, k := range all {
		if like := all[i%2]; !k.Placed || k.Tag() != like.Tag() || f.classed(k).lasting != f.classed(like).lasting {
			return nil
		}
		if i%2 == 1 {
			continue
		}
		if !f.opens(k) {
			return nil
		}
		s.items, s.lasts = append(s.items, k), append(s.lasts, all[i+1])
	}
	s.rows = n.Kids[slices.Index(n.Kids, all[0]) : slices.Index(n.Kids, all[len(all)-1])+1]
	return s
}

// opens reports whether an element that may be a question says that it opens something, or one in it does.
func (f *finder) opens(n *source.Node) bool {
	if !n.Is("h1", "h2", "h3", "h4", "h5", "h6", "div", "button", "a", "p", "label") || !f.p.traits[n.Index].text {
		return false
	}
	return opensSomething(n, f.says)
}

// opensSomething reports whether an element or one in it says that it opens something.
func opensSomething(n *source.Node, says func(*source.Node) classBits) (opens bool) {
	n.Walk(func(k *source.Node) bool {
		opens = opens || k.Tag() != "" && toggles(k, says)
		return !opens
	})
	return opens
}

// opensItself reports whether an item opens the rest of it: by its own class, or by the first thing in it.
func opensItself(item *source.Node, says func(*source.Node) classBits) bool {
	if says(item)&saysOpener != 0 {
		return true
	}
	for n, depth := firstElement(item), 0; n != nil && depth < 3; n, depth = firstElement(n), depth+1 {
		if toggles(n, says) {
			return !holdsBlocks(n)
		}
		if !n.Is("div", "h2", "h3", "h4", "h5", "h6") {
			return false
		}
	}
	return false
}

// holdsBlocks reports whether more than a line stands in an element.
func holdsBlocks(n *source.Node) (found bool) {
	n.Walk(func(k *source.Node) bool {
		found = found || k != n && k.Is("p", "ul", "ol", "table", "section")
		return !found
	})
	return found
}

func firstElement(n *source.Node) *source.Node {
	for _, k := range n.Kids {
		if k.Tag() != "" {
			return k
		}
	}
	return nil
}

// toggles reports whether an element says that it opens something.
func toggles(n *source.Node, says func(*source.Node) classBits) bool {
	if says(n)&saysOpener != 0 {
		return true
	}
	for i := range n.HTML.Attr {
		key, value := n.HTML.Attr[i].Key, n.HTML.Attr[i].Val
		if key == "aria-expanded" ||
			strings.HasPrefix(key, "data-") && strings.HasSuffix(key, "toggle") && value == "collapse" {
			return true
		}
	}
	return false
}

// headed finds questions among n's children: headings of one level that ask, each with what follows it.
func (f *finder) headed(n *source.Node, all []*source.Node) (found []*set) {
	asks := 0
	for _, k := range all {
		if heading(k) && f.asks(k) {
			asks++
		}
	}
	if asks < 2 {
		return nil
	}
	for i := 0; i < len(all); i++ {
		if !heading(all[i]) || !f.asks(all[i]) {
			continue
		}
		s := &set{parent: n}
		level, longest := all[i].Tag(), 1
		asking, asked := 0, 0 // how many ask, and how many there are up to the last that does
		j, past := i, i
		for j < len(all) && all[j].Tag() == level && all[j].Placed {
			end := j + 1
			for end < len(all) && !heading(all[end]) && all[end].Placed && all[end].Is(answers...) {
				end++
			}
			if end == j+1 {
				break // a question without an answer
			}
			if end == len(all) || !heading(all[end]) ||
				all[end].Tag() != level { // what comes after the last answer may not be of it
				end = min(end, j+1+longest)
			}
			longest = max(longest, end-j-1)
			s.items, s.lasts = append(s.items, all[j]), append(s.lasts, all[end-1])
			if f.asks(all[j]) {
				asking, asked, past = asking+1, len(s.items), end
			}
			j = end
		}
		s.items, s.lasts, j = s.items[:asked], s.lasts[:asked], past
		if asking < 2 || 2*asking < asked { // one among them that does not ask is a question too
			i = max(i, past-1)
			continue
		}
		s.rows = n.Kids[slices.Index(n.Kids, s.items[0]) : slices.Index(n.Kids, s.lasts[len(s.lasts)-1])+1]
		s.run = i > 0 || j < len(all) || loose(n)
		found = append(found, s)
		i = j - 1
	}
	return found
}

// answers are the elements that an answer is made of.
var answers = []string{"p", "ul", "ol", "blockquote", "div", "table", "figure", "dl"}

func heading(n *source.Node) bool { return n.Is("h2", "h3", "h4", "h5", "h6") }

// asks reports whether a heading ends with a question mark.
func (f *finder) asks(n *source.Node) bool {
	last := lastIn(n)
	return last.IsText() && Asks(last.HTML.Data)
}

// Asks reports whether words end with a question mark, in Latin, Greek, Arabic or East Asian writing.
func Asks(s string) bool {
	s = strings.TrimRight(s, " \n\t\r")
	return strings.HasSuffix(s, "?") || strings.HasSuffix(s, "？") || strings.HasSuffix(s, "؟") ||
		strings.HasSuffix(s, "\u037e")
}
