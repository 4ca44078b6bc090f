package check

import (
	"bytes"
	"slices"

	"mendry/internal/core/change"
	"mendry/internal/core/page"
	"mendry/internal/core/source"
	"mendry/internal/core/thread"
)

// EditsOf are the steps of a draft as the rules look at them.
func EditsOf(dr *thread.Draft) []Edit {
	var es []Edit
	for i := range dr.Fits() {
		s := dr.Kept[i].Step
		e := Edit{Before: dr.Before(i), After: dr.After(i), Say: dr.Kept[i].Say, Sure: dr.Sure(i)}
		switch first := s[0]; {
		case swapsTable(s, &e):
		case several(s):
			e.Spots = spotsOfSeveral(dr, i, &e)
		case first.Op.Op == change.PutBack:
			e.WasAt, e.NowAt = takenBack(s, &e)
		case first.Op.Op == change.Recast, first.Op.Op == change.Enclose, first.Op.Op == change.Open:
			if part, err := e.Before.Locate(*first.On); err == nil {
				e.WasAt = change.WholeSpan(part)
				if first.Op.Op == change.Recast {
					e.WasAt = change.Extent(part)
				}
				grown := len(e.After.Doc.Bytes) - len(e.Before.Doc.Bytes)
				e.NowAt = source.Span{Start: e.WasAt.Start, End: e.WasAt.End + grown}
			}
		case first.Op.Op == change.Insert:
			for _, u := range dr.Undo(i) {
				e.Put = source.Span{Start: u.At, End: u.At + len(u.Gone)}
			}
		case first.Op.Op == change.Copy || first.Op.Op == change.Move:
			e.Now = dr.Made(i)
			placed(dr, i, &e)
		case first.On == nil:
			e.Fact = first.Name
		default:
			if part, err := e.Before.Locate(*first.On); err == nil {
				e.Was = part
			}
			e.Now = dr.Made(i)
			e.Spots = spotsOf(s, &e)
		}
		es = append(es, e)
	}
	return es
}

// spotsOf are the start tags that a step sets attributes in, and the page fact that it sets with them, where they are
// more than one: nothing, where they are not all found.
func spotsOf(s change.Step, e *Edit) (spots []change.Spot) {
	seen := map[string]bool{}
	for _, t := range s {
		switch {
		case t.Op.Op == change.SetFact:
			was, now := e.Before.HeadNode(t.Name), e.After.HeadNode(t.Name)
			if now == nil {
				return nil
			}
			spot := change.Spot{Now: source.Span{Start: now.Start(), End: now.End()}}
			if spot.Was = (source.Span{Start: now.Start(), End: now.Start()}); was != nil { // or else it is put into the head
				spot.Was = source.Span{Start: was.Start(), End: was.End()}
			}
			spots = append(spots, spot)
		case t.Op.Op == change.SetNoscript && t.On != nil:
			was, err := e.Before.Locate(*t.On)
			if err != nil {
				return nil
			}
			now, ok := e.After.Part(was.ID)
			if !ok {
				return nil
			}
			before, after := change.NoscriptOf(was), change.NoscriptOf(now)
			if before == nil || after == nil {
				return nil
			}
			spots = append(spots, change.Spot{
				Was: source.Span{Start: before.Start(), End: before.End()}, Now: source.Span{Start: after.Start(), End: after.End()},
			})
		case t.Op.Op == change.SetAttribute && t.On != nil:
			was, err := e.Before.Locate(*t.On)
			if err != nil {
				return nil
			}
			now, ok := e.After.Part(was.ID) // attributes give no part another name
			if !ok {
				return nil
			}
			if !seen[was.ID] {
				seen[was.ID] = true
				spots = append(spots, change.Spot{Was: startTag(was), Now: startTag(now)})
			}
		default:
			return nil
		}
	}
	if len(spots) < 2 {
		return nil
	}
	return spots
}

// several reports whether a step puts in, moves or takes out more than one part, as an item with its other half.
func several(s change.Step) bool {
	whole := false
	for _, t := range s {
		switch t.Op.Op {
		case change.Insert, change.Move, change.Remove:
			whole = true
		case change.SetAttribute:
		default:
			return false
		}
	}
	return whole && len(s) > 1
}

// spotsOfSeveral are the places of such a step: what was taken out has to be its parts and what was put in what it
// puts in, with the white space that sets them off; the rest are start tags in which it sets attributes. Where that is
// not so, nothing is said, and the rule finds it.
func spotsOfSeveral(dr *thread.Draft, i int, e *Edit) (spots []change.Spot) {
	var out, in [][]byte
	var tags []source.Span
	for _, t := range dr.Kept[i].Step {
		if t.Op.Op == change.Insert {
			raw, err := e.Before.Doc.Encode(t.Op.HTML)
			if err != nil {
				return nil
			}
			in = append(in, bytes.TrimSpace(raw))
			continue
		}
		part, err := e.Before.Locate(*t.On)
		if err != nil {
			return nil
		}
		at := change.WholeSpan(part)
		was := bytes.TrimSpace(e.Before.Doc.Bytes[at.Start:at.End])
		switch t.Op.Op {
		case change.SetAttribute:
			tags = append(tags, startTag(part))
		case change.Move:
			in = append(in, was)
			fallthrough
		default:
			out = append(out, was)
		}
	}
	shift := 0
	for _, u := range dr.Undo(i) {
		was := source.Span{Start: u.At - shift, End: u.At - shift + len(u.Back)}
		inTag := slices.ContainsFunc(tags, func(tag source.Span) bool { return was.Start > tag.Start && was.End < tag.End })
		if !inTag && (!madeOf(u.Back, out) || !madeOf(u.Gone, in)) {
			return nil
		}
		spots = append(spots, change.Spot{Was: was, Now: source.Span{Start: u.At, End: u.At + len(u.Gone)}})
		shift += len(u.Gone) - len(u.Back)
	}
	return spots
}

// madeOf reports whether bytes are made of some of the pieces, each once, and white space.
func madeOf(b []byte, pieces [][]byte) bool {
	b = bytes.TrimSpace(b)
	for _, piece := range pieces {
		if at := bytes.Index(b, piece); at >= 0 && len(piece) > 0 {
			b = append(bytes.Clone(b[:at]), b[at+len(piece):]...)
		}
	}
	return len(bytes.TrimSpace(b)) == 0
}

// startTag is where the start tag of a part stands, or all of a part that has no end tag.
func startTag(p *page.Part) source.Span {
	if p.Background || p.InnerStart <= p.Start {
		return source.Span{Start: p.Start, End: p.End}
	}
	return source.Span{Start: p.Start, End: p.InnerStart}
}

// takenBack tells where a step that takes an earlier change back puts bytes, from the first to the last, as it says
// itself. Both are empty where it does not find its places.
func takenBack(s change.Step, e *Edit) (was, now source.Span) {
	was.Start = len(e.Before.Doc.Bytes)
	grown := 0
	for _, t := range s {
		op, _, err := t.Find(e.Before)
		if err != nil {
			return source.Span{}, source.Span{}
		}
		at, ok := op.Stands(e.Before)
		if !ok {
			return source.Span{}, source.Span{}
		}
		was.Start, was.End = min(was.Start, at.Start), max(was.End, at.End)
		grown += len(op.Back) - len(op.Gone)
	}
	return was, source.Span{Start: was.Start, End: was.End + grown}
}

// placed says of a copy or a move where the bytes came to be: all that was put in is the part, with the white space
// that sets it off, and all that was taken out too. Where that is not so, nothing is said, and the rule finds it.
func placed(dr *thread.Draft, i int, e *Edit) {
	part, err := e.Before.Locate(*dr.Kept[i].Step[0].On)
	if err != nil {
		return
	}
	at := change.WholeSpan(part)
	was := bytes.TrimSpace(e.Before.Doc.Bytes[at.Start:at.End])
	var put, gone source.Span
	shift := 0
	for _, u := range dr.Undo(i) {
		switch {
		case len(u.Back) == 0:
			put = source.Span{Start: u.At, End: u.At + len(u.Gone)}
		case len(u.Gone) == 0:
			gone = source.Span{Start: u.At - shift, End: u.At - shift + len(u.Back)}
		default:
			return
		}
		shift += len(u.Gone) - len(u.Back)
	}
	if dr.Kept[i].Step[0].Op.Op == change.Copy {
		e.Put = put // with identifiers of its own; Apply held its tree against what it is a copy of
		return
	}
	trimmed := func(p *page.Page, s source.Span) []byte { return bytes.TrimSpace(p.Doc.Bytes[s.Start:s.End]) }
	if bytes.Equal(trimmed(e.Before, gone), was) && bytes.Equal(trimmed(e.After, put), was) {
		e.WasAt, e.NowAt = gone, put
	}
}

// swapsTable says of a step with several operations, which are those on the columns of a table, that the table may
// differ and nothing around it.
func swapsTable(s change.Step, e *Edit) bool {
	if len(s) < 2 {
		return false
	}
	t := s[0]
	on := t.On
	if on == nil {
		on = t.Beside
	}
	if on == nil {
		return false
	}
	cell, err := e.Before.Locate(*on)
	if err != nil {
		return false
	}
	was := change.TableOf(cell)
	if was == nil {
		return false
	}
	now := thread.PartAt(e.After, was, was.Start)
	if now == nil {
		return false
	}
	e.WasAt, e.NowAt = source.Span{Start: was.Start, End: was.End}, source.Span{Start: now.Start, End: now.End}
	return true
}

// TouchedBy lists the parts of the finished draft that its steps touched or put in.
func TouchedBy(dr *thread.Draft) []*page.Part {
	ps := []*page.Part{}
	after := dr.Page()
	for i, id := range dr.Parts() {
		if part, ok := after.Part(id); ok {
			ps = append(ps, part)
		}
		for n, part := range dr.Put(i) {
			if now := dr.Now(part, i+1); n > 0 && now != nil {
				ps = append(ps, now)
			}
		}
	}
	return ps
}
