package page

import (
	"strings"

	"mendry/internal/core/source"
)

// PictureAddresses are the attributes in which a picture's address stands: HTML's own, and those from which scripts
// take it when it comes into view (common practice, no source). Where a picture has one of the others, it is that
// which is shown.
var PictureAddresses = []string{"src", "data-src", "data-lazy-src", "data-original", "data-lazy"}

// Srcsets are the attributes in which several files of a picture are offered.
var Srcsets = []string{"srcset", "data-srcset", "data-lazy-srcset"}

// IsToCome reports whether an address is that of the drawing that stands where a picture is still to come.
func IsToCome(address string) bool {
	return strings.HasPrefix(address, "data:image/svg+xml") && strings.Contains(address, "data-new=")
}

// PictureAddress is where the file of a picture is, as its page names it.
func PictureAddress(part *Part) string {
	for _, name := range PictureAddresses[1:] {
		if v := part.Attributes.Get(name); v != "" {
			return v
		}
	}
	return part.Attributes.Get("src")
}

// Sources are the other files of a picture, for other windows or browsers (HTML, 4.8.2).
func (p *Page) Sources(part *Part) (all []*Part) {
	if part.Background || part.Node == nil || part.Node.Parent == nil || !part.Node.Parent.Is("picture") {
		return nil
	}
	for _, n := range part.Node.Parent.Kids {
		if other, ok := p.At(n); ok && n.Is("source") {
			all = append(all, other)
		}
	}
	return all
}

// ShowsPicture reports whether the part is an element that shows a picture: no background, and no other file of one.
func (p *Part) ShowsPicture() bool {
	return p.Kind == Picture && !p.Background && !p.Node.Is("source")
}

// Held reports whether the part may stand in elements that go with it: a picture, a film, a frame.
func (p *Part) Held() bool {
	return p.Run == nil && (p.Kind == Picture && !p.Background || p.Kind == Video || p.Kind == Embed)
}

// holders are the elements that go with a picture or film where they hold nothing else: other files of it, a link to a
// large one, a figure with its caption, an item of a list and the list.
var holders = words("picture a figure li ul ol p span")

// Holder is the outermost element that holds nothing but a picture or film and what belongs to it: its own where it
// stands among other things.
func Holder(part *Part) *source.Node {
	n := part.Node
	if !part.Held() {
		return n
	}
	for up := n.Parent; up != nil && up.Placed && holders[up.Tag()] && HoldsOnly(up, n); up = n.Parent {
		n = up
	}
	return n
}

// HoldsOnly reports whether all in a node is one of its children and what belongs to that: of a figure its caption, of
// a picture its other files.
func HoldsOnly(up, n *source.Node) bool {
	for _, k := range up.Kids {
		switch {
		case k == n, k.IsText() && k.Blank, k.Tag() == "" && !k.IsText():
		case up.Is("figure") && k.Is("figcaption"), up.Is("picture") && k.Is("source"), k.Is("noscript"):
		default:
			return false
		}
	}
	return true
}

// Whole is the part that is moved, copied or taken out when a part is: of a picture or film the outermost one that
// holds nothing else, as its figure.
func (p *Page) Whole(part *Part) *Part {
	if !part.Held() || p.Doc.Format != source.HTML {
		return part
	}
	holder := Holder(part)
	for up := part.Parent; up != nil && up.Kind != Set && up.Run == nil && up.Start >= holder.Start(); up = up.Parent {
		part = up
	}
	return part
}
