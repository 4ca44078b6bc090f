package desk

import (
	"mendry/internal/core/change"
	"mendry/internal/core/check"
	"mendry/internal/core/page"
	"mendry/internal/core/source"
)

// edits are the draft's changes as the rules look at them.
func (dr *draft) edits() []check.Edit {
	var es []check.Edit
	for i, s := range dr.steps {
		if i+1 >= len(dr.at) {
			break
		}
		e := check.Edit{Before: dr.at[i], After: dr.at[i+1], Say: dr.changes[i].Say}
		switch first := s[0]; {
		case dr.swapsTable(i, &e):
		case first.Op.Op == change.Recast:
			if part, err := e.Before.Locate(*first.On); err == nil {
				e.WasAt = change.Extent(part)
				grown := len(e.After.Doc.Bytes) - len(e.Before.Doc.Bytes)
				e.NowAt = source.Span{Start: e.WasAt.Start, End: e.WasAt.End + grown}
			}
		case first.Op.Op == change.Insert:
			for _, u := range dr.undo[i] {
				e.Put = source.Span{Start: u.At, End: u.At + len(u.Gone)}
			}
		case first.On == nil:
			e.Fact = first.Name
		default:
			if part, err := e.Before.Locate(*first.On); err == nil && first.Op.Op != change.Copy {
				e.Was = part
			}
			e.Now = dr.made(i)
		}
		es = append(es, e)
	}
	return es
}

// swapsTable says of a step with several operations, which are those on the columns of a table, that the table may
// differ and nothing around it.
func (dr *draft) swapsTable(i int, e *check.Edit) bool {
	if len(dr.steps[i]) < 2 {
		return false
	}
	t := dr.steps[i][0]
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
	now := partAt(e.After, was, was.Start)
	if now == nil {
		return false
	}
	e.WasAt, e.NowAt = source.Span{Start: was.Start, End: was.End}, source.Span{Start: now.Start, End: now.End}
	return true
}

// touched lists the parts of the finished draft that changes touched or put in.
func (dr *draft) touched() []*page.Part {
	ps := []*page.Part{}
	after := dr.page()
	for i, id := range dr.parts() {
		if part, ok := after.Part(id); ok {
			ps = append(ps, part)
		}
		for n, part := range dr.put(i) {
			for k := i + 1; n > 0 && k < len(dr.undo) && part != nil; k++ {
				part = dr.follow(part, k)
			}
			if n > 0 && part != nil {
				ps = append(ps, part)
			}
		}
	}
	return ps
}
