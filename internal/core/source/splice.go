package source

import (
	"bytes"
	"errors"
	"fmt"
	"sort"
	"strings"

	"golang.org/x/net/html"
)

// Edit puts New where the bytes of Span stand.
type Edit struct {
	Span
	New []byte
}

// ErrOverlap is returned by Splice when two edits touch the same bytes.
var ErrOverlap = errors.New("two changes touch the same place")

// Splice makes all edits at once; their offsets all speak of b. It returns the new bytes and the edits that undo it,
// whose offsets speak of the new bytes. Insertions at one offset keep their order.
func Splice(b []byte, edits []Edit) (out []byte, undo []Edit, err error) {
	es := append([]Edit(nil), edits...)
	sort.SliceStable(es, func(i, j int) bool {
		if es[i].Start != es[j].Start {
			return es[i].Start < es[j].Start
		}
		return es[i].End < es[j].End
	})
	grow := 0
	for _, e := range es {
		grow += len(e.New)
	}
	out = make([]byte, 0, len(b)+grow)
	at := 0
	for _, e := range es {
		if e.Start < 0 || e.End < e.Start || e.End > len(b) {
			return nil, nil, fmt.Errorf("edit from %d to %d of %d bytes", e.Start, e.End, len(b))
		}
		if e.Start < at {
			return nil, nil, ErrOverlap
		}
		out = append(out, b[at:e.Start]...)
		start := len(out)
		out = append(out, e.New...)
		undo = append(undo, Edit{Span{start, len(out)}, bytes.Clone(b[e.Start:e.End])})
		at = e.End
	}
	return append(out, b[at:]...), undo, nil
}

// Narrow cuts from an edit what it does not change at its beginning and end.
func Narrow(b []byte, e Edit) Edit {
	old, now := b[e.Start:e.End], e.New
	for len(old) > 0 && len(now) > 0 && old[0] == now[0] {
		old, now, e.Start = old[1:], now[1:], e.Start+1
	}
	for len(old) > 0 && len(now) > 0 && old[len(old)-1] == now[len(now)-1] {
		old, now, e.End = old[:len(old)-1], now[:len(now)-1], e.End-1
	}
	e.New = now
	return e
}

// Difference compares two trees, adjacent text taken together and attributes without order. It returns the path of the
// first place where they differ, or "".
func Difference(a, b *html.Node) string { return difference(a, b, "") }

func difference(a, b *html.Node, path string) string {
	if a.Type != b.Type || a.Data != b.Data || a.Namespace != b.Namespace || !sameAttributes(a, b) {
		return path + "/" + a.Data
	}
	if a.Type == html.ElementNode {
		path += "/" + a.Data
	}
	x, y := a.FirstChild, b.FirstChild
	for {
		xt, xn := textRun(x)
		yt, yn := textRun(y)
		if xt != yt {
			return path + "/text"
		}
		x, y = xn, yn
		if x == nil || y == nil {
			if x != y {
				return path + "/…"
			}
			return ""
		}
		if where := difference(x, y, path); where != "" {
			return where
		}
		x, y = x.NextSibling, y.NextSibling
	}
}

// textRun joins the text nodes from n on and returns the first node that is none.
func textRun(n *html.Node) (string, *html.Node) {
	if n == nil || n.Type != html.TextNode {
		return "", n
	}
	if n.NextSibling == nil || n.NextSibling.Type != html.TextNode {
		return n.Data, n.NextSibling
	}
	var s strings.Builder
	for n != nil && n.Type == html.TextNode {
		s.WriteString(n.Data)
		n = n.NextSibling
	}
	return s.String(), n
}

func sameAttributes(a, b *html.Node) bool {
	if len(a.Attr) != len(b.Attr) {
		return false
	}
next:
	for i, x := range a.Attr {
		if b.Attr[i] == x {
			continue
		}
		for _, y := range b.Attr {
			if x == y {
				continue next
			}
		}
		return false
	}
	return true
}
