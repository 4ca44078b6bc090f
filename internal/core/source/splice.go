package source

import (
	"bytes"
	"errors"
	"fmt"
	"sort"
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
