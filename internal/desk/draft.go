package desk

import (
	"bytes"
	"context"
	"encoding/json"
	"errors"

	"mendry/internal/core/change"
	"mendry/internal/core/page"
	"mendry/internal/core/refusal"
	"mendry/internal/store"
)

// draft is a page with the kept changes of one request. It is always made from the last known live bytes and the kept
// changes in order; it is stored nowhere.
type draft struct {
	request int64
	row     store.Page
	live    *page.Page
	changes []store.Change
	steps   []change.Step
	at      []*page.Page  // the page before each change, and after the last that fits
	undo    [][]change.Op // what takes at[i+1] back to at[i]: where exactly its bytes differ
	// conflict says in words which change no longer fits the live page; the changes from it on are not in the draft.
	conflict string
}

func (dr *draft) page() *page.Page { return dr.at[len(dr.at)-1] }

func (dr *draft) hash() string { return hash(dr.page().Doc.Bytes) }

// draftOf makes the draft of a page for a request.
func (d *Desk) draftOf(ctx context.Context, q store.Queries, request, pageID int64) (*draft, error) {
	row, err := q.Page(ctx, pageID)
	if err != nil {
		return nil, missing(err, "page")
	}
	kept, err := q.KeptOn(ctx, request, pageID)
	if err != nil {
		return nil, err
	}
	dr, err := d.draftFrom(row, kept)
	if err == nil {
		dr.request = request
	}
	return dr, err
}

// draftAndSite is draftOf with the site that the page is of.
func (d *Desk) draftAndSite(ctx context.Context, request, pageID int64) (*draft, store.Site, error) {
	dr, err := d.draftOf(ctx, d.store.Queries, request, pageID)
	if err != nil {
		return nil, store.Site{}, err
	}
	site, err := d.store.Site(ctx, dr.row.SiteID)
	return dr, site, err
}

func (d *Desk) draftFrom(row store.Page, kept []store.Change) (*draft, error) {
	live, err := d.parse(row)
	if err != nil {
		return nil, err
	}
	dr := &draft{row: row, live: live, changes: kept}
	for _, c := range kept {
		var s change.Step
		if err := json.Unmarshal([]byte(c.Op), &s); err != nil {
			return nil, err
		}
		dr.steps = append(dr.steps, s)
	}
	dr.at, dr.undo, err = d.chain(row.Hash, live, dr.changes, dr.steps)
	var conflict *change.Conflict
	switch no := refusal.Of(err); {
	case errors.As(err, &conflict):
		dr.conflict = conflictWords(conflict)
	case no != nil:
		dr.conflict = no.Say
	case err != nil:
		return nil, err
	}
	return dr, nil
}

// stage is a draft up to one of its changes.
type stage struct {
	page *page.Page
	undo []change.Op
}

// chain applies steps one after the other, with every stage remembered by what led to it.
func (d *Desk) chain(key string, p *page.Page, changes []store.Change, steps []change.Step) (at []*page.Page, undo [][]change.Op, err error) {
	at = []*page.Page{p}
	for i, s := range steps {
		key = hash([]byte(key + changes[i].Op))
		got, ok := d.stages.Get(key)
		if !ok {
			r, err := s.Apply(at[i])
			if err != nil {
				return at, undo, err
			}
			got = stage{r.Page, r.Undo}
			d.stages.Add(key, got)
		}
		at, undo = append(at, got.page), append(undo, got.undo)
	}
	return at, undo, nil
}

func conflictWords(c *change.Conflict) string {
	switch {
	case errors.Is(c.Reason, page.ErrElsewhere):
		return "“" + c.Part + "” was changed elsewhere and now says “" + page.Short(c.Now, 80) + "”. Look at both and decide: keep theirs by undoing your change, or undo and make it again."
	case errors.Is(c.Reason, page.ErrTwoPlaces):
		return "“" + c.Part + "” now fits two places on the page. Undo this change and make it again at the right one."
	}
	return "“" + c.Part + "” is no longer on the live page. Undo this change, or make it again somewhere else."
}

// parts finds, for each change, the part that it made or changed on the finished draft: its ID, or "" where it has
// none.
func (dr *draft) parts() []string {
	ids := make([]string, len(dr.changes))
	for i := range dr.changes {
		if part := dr.made(i); part != nil {
			for k := i + 1; k < len(dr.undo) && part != nil; k++ {
				part = dr.follow(part, k)
			}
			if part != nil {
				ids[i] = part.ID
			}
		}
	}
	return ids
}

// moved is the part that step k moves or copies, nil for other steps.
func (dr *draft) moved(k int) *page.Part {
	t := dr.steps[k][0]
	if t.Op.Op != change.Move && t.Op.Op != change.Copy {
		return nil
	}
	part, err := dr.at[k].Locate(*t.On)
	if err != nil {
		return nil
	}
	return part
}

// put lists the parts that change i put in, on the page right after it, those in others left out; nil where it put in
// none.
func (dr *draft) put(i int) (ps []*page.Part) {
	if i >= len(dr.undo) || dr.steps[i][0].Op.Op != change.Insert {
		return nil
	}
	for _, u := range dr.undo[i] {
		for _, q := range dr.at[i+1].All {
			if q.Start >= u.At && q.End <= u.At+len(u.Gone) && !(len(ps) > 0 && q.Start < ps[len(ps)-1].End) {
				ps = append(ps, q)
			}
		}
	}
	return ps
}

// made is the part that change i changed or made, on the page right after it; the first one where it put in several.
func (dr *draft) made(i int) *page.Part {
	if ps := dr.put(i); len(ps) > 0 {
		return ps[0]
	}
	if i >= len(dr.undo) || dr.steps[i][0].On == nil {
		return nil
	}
	if part := dr.moved(i); part != nil {
		return partAt(dr.at[i+1], part, dr.inserted(i, part))
	}
	part, err := dr.at[i].Locate(*dr.steps[i][0].On)
	if err != nil {
		return nil
	}
	return dr.follow(part, i)
}

// inserted is the offset, after step k, at which the bytes of the part that it moves or copies stand now.
func (dr *draft) inserted(k int, part *page.Part) int {
	was := dr.at[k].Doc.Bytes[part.Start:part.End]
	for _, u := range dr.undo[k] {
		if in := bytes.Index(u.Gone, was); in >= 0 {
			return u.At + in
		}
	}
	return -1
}

// follow finds a part of the page before step k on the page after it, by where the bytes went; nil where it is gone.
func (dr *draft) follow(part *page.Part, k int) *page.Part {
	if t := dr.steps[k][0]; t.Op.Op == change.Recast || t.Op.Op == change.SetWords {
		if on, err := dr.at[k].Locate(*t.On); err == nil && on == part {
			if t.Op.Op == change.Recast {
				return wordsAt(dr.at[k+1], dr.shifted(part.InnerStart, k))
			}
			return partAt(dr.at[k+1], part, part.Start) // words that come first do not move it
		}
	}
	shift := 0
	for _, u := range dr.undo[k] { // in the order of the page; u.At speaks of the page after
		from := u.At - shift
		to := from + len(u.Back)
		if part.Start < from || part.Start == from && len(u.Back) > 0 && part.End > to {
			break
		}
		if part.Start < to && part.End <= to && dr.steps[k].Structural() {
			if moved := dr.moved(k); moved != nil && part.Start >= moved.Start && part.End <= moved.End {
				return partAt(dr.at[k+1], part, dr.inserted(k, moved)+part.Start-moved.Start)
			}
			return nil
		}
		shift += len(u.Gone) - len(u.Back)
	}
	return partAt(dr.at[k+1], part, part.Start+shift)
}

// shifted is where an offset of the page before step k is on the page after it.
func (dr *draft) shifted(at, k int) int {
	shift := 0
	for _, u := range dr.undo[k] {
		if u.At-shift+len(u.Back) > at {
			break
		}
		shift += len(u.Gone) - len(u.Back)
	}
	return at + shift
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

// partAt finds the part like another one that begins at an offset.
func partAt(p *page.Page, like *page.Part, start int) *page.Part {
	for _, q := range p.All {
		if q.Start == start && q.Kind == like.Kind && q.Node.Tag() == like.Node.Tag() {
			return q
		}
	}
	return nil
}

// copiedSince reports whether a part that change k made or changed was copied, as a whole or with its section, by a
// later change: then the copy holds its words as they were.
func (dr *draft) copiedSince(k int) bool {
	part := dr.made(k)
	for j := k + 1; j < len(dr.undo) && part != nil; j++ {
		if moved := dr.moved(j); moved != nil && dr.steps[j][0].Op.Op == change.Copy && part.Start >= moved.Start && part.End <= moved.End {
			return true
		}
		part = dr.follow(part, j)
	}
	return false
}
