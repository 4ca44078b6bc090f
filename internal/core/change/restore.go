package change

import (
	"bytes"

	"mendry/internal/core/page"
	"mendry/internal/core/source"
)

// Restore gives the operations on a page that make it the bytes of an earlier version of it. It gives none where it
// has them.
func Restore(now, then *page.Page) ([]Op, error) {
	if now.Doc.Encoding.Name != then.Doc.Encoding.Name || now.Doc.Format != then.Doc.Format {
		return nil, refuse("That version was written in another encoding (%s), and this page is in %s.", then.Doc.Encoding.Name, now.Doc.Encoding.Name)
	}
	return Steps(then, now), nil
}

// RestorePart gives the operations on a page that bring back what an earlier version of it had in the place of one
// difference between the two, as Compare tells it: d speaks of then as the old page and of now as the new one.
func RestorePart(now, then *page.Page, d Diff) ([]Op, error) {
	all, err := Restore(now, then)
	if err != nil {
		return nil, err
	}
	ops, whole := hunks(now, then, d, all)
	if !whole {
		if ops, err = swapped(now, then, d, all); err != nil {
			return nil, err
		}
	}
	for i := range ops {
		if ops[i], err = within(now, ops[i]); err != nil {
			return nil, err
		}
	}
	return ops, nil
}

// hunks are those of the steps between both versions that are about a difference; whole says that they are about
// nothing else but white space, so that the bytes around it come back as they were, too.
func hunks(now, then *page.Page, d Diff, all []Op) (ops []Op, whole bool) {
	shift := 0 // of an offset on now, to where it stood then
	for _, op := range all {
		at := source.Span{Start: op.At, End: op.At + len(op.Gone)}
		was := source.Span{Start: op.At + shift, End: op.At + shift + len(op.Back)}
		shift += len(op.Back) - len(op.Gone)
		if !touches(at, d.Now) && !touches(was, d.Was) {
			continue
		}
		if !covered(now.Doc.Bytes, at, d.Now) || !covered(then.Doc.Bytes, was, d.Was) {
			return nil, false
		}
		ops = append(ops, op)
	}
	return ops, len(ops) > 0
}

func touches(s source.Span, parts []*page.Part) bool {
	for _, p := range parts {
		if s.Start < p.End && p.Start < s.End || s.Start == s.End && p.Start < s.Start && s.Start < p.End {
			return true
		}
	}
	return false
}

// covered reports whether bytes outside the parts are white space only.
func covered(b []byte, s source.Span, parts []*page.Part) bool {
	for i := s.Start; i < s.End; i++ {
		if bytes.IndexByte([]byte(" \t\r\n"), b[i]) >= 0 {
			continue
		}
		in := false
		for _, p := range parts {
			if p.Start <= i && i < p.End {
				i, in = p.End-1, true
				break
			}
		}
		if !in {
			return false
		}
	}
	return true
}

// swapped are the operations that put the bytes of the old parts in the place of the new ones.
func swapped(now, then *page.Page, d Diff, all []Op) ([]Op, error) {
	at := func(ps []*page.Part, of *page.Page) (s source.Span, b []byte) {
		if len(ps) == 0 {
			return s, nil
		}
		s = source.Span{Start: ps[0].Start, End: ps[len(ps)-1].End}
		return s, of.Doc.Bytes[s.Start:s.End]
	}
	is, gone := at(d.Now, now)
	was, back := at(d.Was, then)
	switch {
	case len(d.Now) == 0 && len(d.Was) == 0:
		return nil, refuse("There is nothing to bring back.")
	case len(d.Now) == 0: // with the white space before it, behind what stood before that
		start := stoodAt(was.Start, all)
		return []Op{{Op: PutBack, At: start - blanksBefore(now, start), Back: then.Doc.Bytes[was.Start-blanksBefore(then, was.Start) : was.End]}}, nil
	case len(d.Was) == 1 && len(d.Now) == 1 && bytes.Equal(gone, back): // it stood elsewhere
		here, there := blanksBefore(now, is.Start), stoodAt(was.Start, all)
		there -= blanksBefore(now, there)
		if there > is.Start-here && there < is.End {
			return nil, refuse("“%s” stands where it stood.", d.Now[0].Name)
		}
		return []Op{
			{Op: PutBack, At: is.Start - here, Gone: now.Doc.Bytes[is.Start-here : is.End]},
			{Op: PutBack, At: there, Back: then.Doc.Bytes[was.Start-blanksBefore(then, was.Start) : was.End]},
		}, nil
	case len(d.Was) == 0:
		is.Start -= blanksBefore(now, is.Start)
		return []Op{{Op: PutBack, At: is.Start, Gone: now.Doc.Bytes[is.Start:is.End]}}, nil
	}
	return []Op{{Op: PutBack, At: is.Start, Gone: gone, Back: back}}, nil
}

// blanksBefore is how many bytes of white space stand before an offset.
func blanksBefore(p *page.Page, at int) int {
	b := p.Doc.Bytes[:at]
	return len(b) - len(bytes.TrimRight(b, " \t\r\n"))
}

// stoodAt is where something that stood at an offset then would stand now.
func stoodAt(then int, all []Op) int {
	shift := 0
	for _, op := range all {
		was := op.At + shift
		if then < was {
			break
		}
		if then <= was+len(op.Back) {
			return op.At
		}
		shift += len(op.Back) - len(op.Gone)
	}
	return then - shift
}

// Then finds what a part of a page was on an earlier version of it: the part whose first and last bytes the two
// versions have in common with it, whatever became of what is between, or else the only one that is called the same.
// It is nil where there is none.
func Then(now, then *page.Page, part *page.Part) *page.Part {
	all := Steps(then, now)
	start, ok := wasAt(part.Start, all)
	end, last := wasAt(part.End-1, all)
	for _, was := range then.All {
		if ok && last && was.Start == start && was.End == end+1 && was.Kind == part.Kind && was.Placed() {
			return was
		}
	}
	called := func(p *page.Page) (only *page.Part) {
		for _, other := range p.OfKind(part.Kind) {
			switch {
			case other.Name != part.Name || !other.Placed():
			case only != nil:
				return nil
			default:
				only = other
			}
		}
		return only
	}
	if called(now) == part {
		return called(then)
	}
	return nil
}

// wasAt is where a byte stood then; false where it did not.
func wasAt(at int, all []Op) (int, bool) {
	shift := 0
	for _, op := range all {
		if at < op.At {
			break
		}
		if at < op.At+len(op.Gone) {
			return 0, false
		}
		shift += len(op.Back) - len(op.Gone)
	}
	return at + shift, true
}
