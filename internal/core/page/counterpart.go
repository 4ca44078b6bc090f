package page

import (
	"crypto/sha256"
	"fmt"

	"mendry/internal/core/source"
)

// Counterpart finds the part of a page that stands in twin for a part that stands in shared on another page of the
// site: the one at the same place, or the only one, that says and does the same there, wherever its addresses are
// written from and a visitor is. It is nil where there is none.
func Counterpart(from Placed, shared, part *Part, to Placed, twin *Part) *Part {
	place, want := placeIn(shared.Node, part), printOf(from.Address, part)
	var same []*Part
	for _, q := range to.Page.All {
		if q.Kind != part.Kind || (q.Run == nil) != (part.Run == nil) || q.Background != part.Background ||
			q.Start < twin.Start || q.End > twin.End || printOf(to.Address, q) != want {
			continue
		}
		if placeIn(twin.Node, q) == place {
			return q
		}
		same = append(same, q)
	}
	if len(same) == 1 {
		return same[0]
	}
	return nil
}

// AlikeOn reports whether two parts of a site's pages are the same: links resolved, and without state.
func AlikeOn(a Placed, one *Part, b Placed, other *Part) bool {
	return printOf(a.Address, one) == printOf(b.Address, other)
}

// printOf is the print of any part.
func printOf(address string, part *Part) (f [sha256.Size]byte) {
	h := sha256.New()
	for _, n := range part.Nodes() {
		write(h, n.HTML, address)
	}
	h.Sum(f[:0])
	return f
}

// placeIn is where a part stands below an element, told by its elements alone: white space between them says nothing.
func placeIn(root *source.Node, part *Part) (place string) {
	if part.Run != nil {
		place = fmt.Sprintf("+%d", elementsBefore(part.Run[0]))
	}
	for n := part.Node; n != root && n.Parent != nil; n = n.Parent {
		place = fmt.Sprintf("%d/%s", elementsBefore(n), place)
	}
	return place
}

// elementsBefore is how many elements stand before a node in what it stands in.
func elementsBefore(n *source.Node) (many int) {
	for _, k := range n.Parent.Kids {
		if k == n {
			break
		}
		if k.Tag() != "" {
			many++
		}
	}
	return many
}
