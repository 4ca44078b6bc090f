package change

import (
	"bytes"
	"slices"

	"mendry/internal/core/source"
)

// Settled leaves out of a row of changes those that a later one in it takes back exactly, with that later one: what
// stood in their place is there again, as if they had never been made. undos are what Apply gave for each change, in
// order; so is what comes back.
func Settled(undos [][]Op) [][]Op {
	for j := 1; j < len(undos); j++ {
		for i := j - 1; i >= 0; i-- {
			if between, ok := cancelling(undos[i:j], undos[j]); ok {
				undos = slices.Concat(undos[:i], between, undos[j+1:])
				j = 0 // what is left may cancel, too
				break
			}
		}
	}
	return undos
}

// cancelling reports whether a change takes back the first of those before it, and gives the ones between the two as
// they would have been without either.
func cancelling(undos [][]Op, by []Op) (between [][]Op, ok bool) {
	out := undos[0] // the first one's undo, where its bytes stand after each of the others
	if len(out) == 0 || len(by) == 0 {
		return nil, false
	}
	for _, undo := range undos[1:] {
		m := MapOf(undo)
		moved := make([]Op, len(out))
		for n, u := range out {
			start, _, ok := m.Range(u.At, u.At+len(u.Gone))
			if !ok {
				return nil, false
			}
			u.At = start
			moved[n] = u
		}
		out = moved
		without := make([]Op, len(undo))
		for n, u := range undo {
			for _, o := range out {
				if o.At+len(o.Gone) <= u.At {
					u.At += len(o.Back) - len(o.Gone)
				}
			}
			without[n] = u
		}
		between = append(between, without)
	}
	// What by did, as edits of the page before it, are these put back.
	return between, slices.EqualFunc(edits(out, false), edits(by, true), func(a, b source.Edit) bool {
		return a.Span == b.Span && bytes.Equal(a.New, b.New)
	})
}

// edits are what an undo does, or, backwards, what the change did that it undoes; both as edits of the page before, no
// longer than they have to be, in order.
func edits(undo []Op, backwards bool) (all []source.Edit) {
	undo = slices.Clone(undo)
	slices.SortStableFunc(undo, func(a, b Op) int { return a.At - b.At })
	shift := 0
	for _, u := range undo {
		from, to := u.Gone, u.Back
		at := u.At
		if backwards {
			from, to = to, from
			at -= shift
			shift += len(u.Gone) - len(u.Back)
		}
		n := 0
		for n < len(from) && n < len(to) && from[n] == to[n] {
			n++
		}
		from, to, at = from[n:], to[n:], at+n
		for len(from) > 0 && len(to) > 0 && from[len(from)-1] == to[len(to)-1] {
			from, to = from[:len(from)-1], to[:len(to)-1]
		}
		if len(from) > 0 || len(to) > 0 {
			all = append(all, source.Edit{Span: source.Span{Start: at, End: at + len(from)}, New: to})
		}
	}
	return all
}
