package thread

import (
	"bytes"
	"slices"

	"mendry/internal/core/change"
	"mendry/internal/core/page"
)

// Parts finds, for each step, the part that it made or changed on the finished draft: its ID, or "" where it has none.
func (d *Draft) Parts() []string {
	if d.parts == nil {
		d.parts = make([]string, len(d.Kept))
		for i := range d.Kept {
			if part := d.Now(d.Made(i), i+1); part != nil {
				d.parts[i] = part.ID
			}
		}
	}
	return d.parts
}

// Whereabouts says where the part is that a step is of, without the words that change; "" where it is of none.
func (d *Draft) Whereabouts(k int) string {
	if part, ok := d.Page().Part(d.Parts()[k]); ok {
		return d.Page().Whereabouts(part)
	}
	on := d.Kept[k].Step[0].On
	if on == nil || k >= len(d.at) {
		return ""
	}
	part, err := d.at[k].Locate(*on)
	if err != nil {
		return ""
	}
	return d.at[k].Whereabouts(part)
}

// Now follows a part of the page before step k to the finished draft; nil where it is gone.
func (d *Draft) Now(part *page.Part, k int) *page.Part {
	for ; k < len(d.undo) && part != nil; k++ {
		part = d.follow(part, k)
	}
	return part
}

// Until follows a part of the live page to the page before step k; nil where it is gone by then.
func (d *Draft) Until(part *page.Part, k int) *page.Part {
	for i := 0; i < k && part != nil; i++ {
		part = d.follow(part, i)
	}
	return part
}

// First follows a part of the finished draft back to the live page; nil where the draft made it.
func (d *Draft) First(part *page.Part) *page.Part { return d.Origin(part, len(d.undo)) }

// Origin follows a part of the page before step k back to the live page; nil where the draft made it.
func (d *Draft) Origin(part *page.Part, k int) *page.Part {
	for k--; k >= 0 && part != nil; k-- {
		part = d.back(part, k)
	}
	return part
}

// moved is the part that step k moves or copies, nil for other steps.
func (d *Draft) moved(k int) *page.Part {
	t := d.Kept[k].Step[0]
	if t.Op.Op != change.Move && t.Op.Op != change.Copy {
		return nil
	}
	part, err := d.at[k].Locate(*t.On)
	if err != nil {
		return nil
	}
	return part
}

// Put lists the parts that step k put in, on the page right after it, those in others left out; nil where it put in
// none.
func (d *Draft) Put(k int) (ps []*page.Part) {
	if k >= len(d.undo) {
		return nil
	}
	if t := d.Kept[k].Step[0]; t.Op.Op != change.Insert && (t.Op.Op != change.PutBack || t.On != nil) {
		return nil
	}
	for _, u := range d.undo[k] {
		for _, q := range d.at[k+1].All {
			if q.Start >= u.At && q.End <= u.At+len(u.Gone) && !(len(ps) > 0 && q.Start < ps[len(ps)-1].End) {
				ps = append(ps, q)
			}
		}
	}
	return ps
}

// PutOne reports whether step k put in one part with words and nothing else.
func (d *Draft) PutOne(k int) bool {
	ps := d.Put(k)
	if len(ps) != 1 || len(d.undo[k]) != 1 || !ps[0].Kind.HasWords() {
		return false
	}
	return bytes.Equal(bytes.TrimSpace(d.undo[k][0].Gone), bytes.TrimSpace(d.at[k+1].Doc.Bytes[ps[0].Start:ps[0].End]))
}

// PutIn is the step that put in a part of the finished draft, and nothing else; -1 where none did.
func (d *Draft) PutIn(id string) int {
	for k := range d.undo {
		if d.Parts()[k] == id && d.Kept[k].Step[0].Op.Op == change.Insert && d.PutOne(k) {
			return k
		}
	}
	return -1
}

// Made is the part that step k changed or made, on the page right after it; the first one where it put in several.
func (d *Draft) Made(k int) *page.Part {
	if ps := d.Put(k); len(ps) > 0 {
		return ps[0]
	}
	if k >= len(d.undo) || d.Kept[k].Step[0].On == nil {
		return nil
	}
	if part := d.moved(k); part != nil {
		start, end := d.inserted(k, part)
		return partIn(d.at[k+1], part, start, end)
	}
	part, err := d.at[k].Locate(*d.Kept[k].Step[0].On)
	if err != nil {
		return nil
	}
	return d.follow(part, k)
}

// inserted is where the part that step k moves or copies stands after it: from its own offset to the end of what was put
// in with it; -1 where it is not found.
func (d *Draft) inserted(k int, part *page.Part) (start, end int) {
	was := d.at[k].Doc.Bytes[part.Start:part.End]
	for _, u := range d.undo[k] {
		if d.Kept[k].Step[0].Op.Op == change.Copy && len(u.Gone) > 0 { // a copy has identifiers of its own
			return u.At + len(u.Gone) - len(bytes.TrimLeft(u.Gone, " \t\r\n\f")), u.At + len(u.Gone)
		}
		if in := bytes.Index(u.Gone, was); in >= 0 {
			return u.At + in, u.At + len(u.Gone)
		}
	}
	return -1, -1
}

// follow finds a part of the page before step k on the page after it, by where the bytes went; nil where it is gone.
func (d *Draft) follow(part *page.Part, k int) *page.Part {
	after, step := d.at[k+1], d.Kept[k].Step
	if t := step[0]; t.Op.Op == change.Recast || t.Op.Op == change.SetWords {
		if on, err := d.at[k].Locate(*t.On); err == nil && on == part {
			if t.Op.Op == change.Recast {
				return wordsAt(after, d.went[k].Offset(part.InnerStart))
			}
			return PartAt(after, part, part.Start) // words that come first do not move it
		}
	}
	at, replaced := d.went[k].Part(part.Start, part.End)
	if replaced && step.Structural() {
		if moved := d.moved(k); moved != nil && part.Start >= moved.Start && part.End <= moved.End {
			start, _ := d.inserted(k, moved)
			return PartAt(after, part, start+part.Start-moved.Start)
		}
		return nil
	}
	return PartAt(after, part, at)
}

// back finds a part of the page after step k on the page before it, by where its bytes came from; nil where step k
// made it.
func (d *Draft) back(part *page.Part, k int) *page.Part {
	before, op := d.at[k], d.Kept[k].Step[0].Op.Op
	if op == change.Copy {
		for _, u := range d.undo[k] {
			if part.Start >= u.At && part.End <= u.At+len(u.Gone) {
				return nil
			}
		}
	} else if moved := d.moved(k); moved != nil {
		start, _ := d.inserted(k, moved)
		if part.Start >= start && part.End <= start+moved.End-moved.Start {
			return PartAt(before, part, moved.Start+part.Start-start)
		}
	}
	for _, q := range before.All {
		if q.Kind == part.Kind && q.Node.Tag() == part.Node.Tag() || op == change.Recast && q.Kind.HasWords() {
			if d.follow(q, k) == part {
				return q
			}
		}
	}
	return nil
}

// wordsAt finds the part whose words begin at an offset.
func wordsAt(p *page.Page, at int) *page.Part {
	for _, q := range p.All {
		if q.Kind.HasWords() && q.InnerStart == at {
			return q
		}
	}
	return nil
}

// PartAt finds the part like another one that begins at an offset; nil where there is none.
func PartAt(p *page.Page, like *page.Part, start int) *page.Part {
	for _, q := range p.All {
		if q.Start == start && q.Kind == like.Kind && q.Node.Tag() == like.Node.Tag() {
			return q
		}
	}
	return nil
}

// partIn finds the part like another one that stands at an offset up to another one. Beside what is like it, it may be a
// part of another kind, as an item of a set, or none: then it is the first of those in it.
func partIn(p *page.Page, like *page.Part, start, end int) *page.Part {
	if part := PartAt(p, like, start); part != nil {
		return part
	}
	var in *page.Part
	for _, q := range p.All {
		if q.Start >= start && q.End <= end && (in == nil || q.Start < in.Start || q.Start == in.Start && q.End > in.End) {
			in = q
		}
	}
	return in
}

// CopiedSince reports whether a part that step k made or changed was copied, as a whole or with its section, by a
// later step: then the copy holds its words as they were.
func (d *Draft) CopiedSince(k int) bool {
	part := d.Made(k)
	for j := k + 1; j < len(d.undo) && part != nil; j++ {
		if moved := d.moved(j); moved != nil && d.Kept[j].Step[0].Op.Op == change.Copy && part.Start >= moved.Start && part.End <= moved.End {
			return true
		}
		part = d.follow(part, j)
	}
	return false
}

// TouchedSince reports whether a later step than k was made to the same part.
func (d *Draft) TouchedSince(k int) bool {
	ids := d.Parts()
	return ids[k] != "" && slices.Contains(ids[k+1:], ids[k])
}
