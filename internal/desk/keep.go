package desk

import (
	"bytes"
	"context"
	"fmt"
	"slices"
	"time"

	"mendry/api"
	"mendry/internal/core/change"
	"mendry/internal/core/page"
	"mendry/internal/core/request"
	"mendry/internal/core/thread"
	"mendry/internal/store"
)

// edit is a change under way: its operations on a page, and what is said of it.
type edit struct {
	kind    string
	part    *page.Part // of the page before; nil for page facts
	around  *page.Part // the table whose rows or columns change
	name    string
	ops     []change.Op
	before  string // words
	after   string
	picture *store.PictureFile
	say     string
}

// Keep keeps a change. Nothing reaches the site. Typing on in a part rewrites its change; words typed back to what is
// live take the change out again.
func (d *Desk) Keep(ctx context.Context, who Who, number, pageID int64, f api.ChangeForm) (api.Bench, error) {
	var v api.Bench
	err := d.store.Tx(ctx, func(q store.Queries) error {
		if err := q.LockRequest(ctx, number); err != nil {
			return missing(err, "request")
		}
		r, err := q.RequestRow(ctx, number)
		if err != nil {
			return err
		}
		switch request.State(r.State) {
		case request.SignedOff, request.Declined, request.OnHold:
			return refused("The request is %s. Take it up again before you change anything.", r.State)
		}
		row, err := q.Page(ctx, pageID)
		if err != nil {
			return missing(err, "page")
		}
		if row.SiteID != r.SiteID {
			return refused("That page belongs to another site than this request.")
		}
		kept, err := q.KeptOn(ctx, number, pageID)
		if err != nil {
			return err
		}
		dr, err := d.draftFrom(row, kept)
		if err != nil {
			return err
		}
		if dr.Conflict != nil {
			return refused("%s", dr.ConflictSay())
		}
		dr.request = number
		if f.Draft != dr.Hash() {
			return stale("The draft has changed in the meantime. It was loaded again; make the change once more.")
		}
		made := ""
		switch f.Do {
		case api.ChangeDoSplit:
			made, err = d.split(ctx, q, who, r, dr, f)
		case api.ChangeDoJoin:
			made, err = d.join(ctx, q, who, r, dr, f)
		default:
			err = d.keep(ctx, q, who, r, dr, f)
		}
		if err != nil {
			return err
		}
		if err := d.touch(ctx, q, who, r); err != nil {
			return err
		}
		if v, err = d.bench(ctx, q, r, row); err != nil {
			return err
		}
		if f.Do == api.ChangeDoForm || f.Do == api.ChangeDoTable || f.Do == api.ChangeDoStyle {
			if made, err = lastChanged(ctx, q, v, number); err != nil {
				return err
			}
		}
		if made != "" {
			v.Made = &made
		}
		return nil
	})
	return v, err
}

// lastChanged is the part of the change that was kept last on the page, or the first in it that has words.
func lastChanged(ctx context.Context, q store.Queries, v api.Bench, number int64) (string, error) {
	kept, err := q.KeptOn(ctx, number, v.Page.ID)
	if err != nil || len(kept) == 0 {
		return "", err
	}
	last := slices.MaxFunc(kept, func(a, b store.Change) int { return a.ChangedAt.Compare(b.ChangedAt) })
	at := slices.IndexFunc(v.Changes, func(c api.Change) bool { return c.ID == last.ID })
	if at < 0 {
		return "", nil
	}
	id := v.Changes[at].Part
	from := slices.IndexFunc(v.Parts, func(p api.Part) bool { return p.ID == id })
	for _, p := range v.Parts[max(from, 0):] { // in a row or a table, go on in its first cell
		if page.Kind(p.Kind).HasWords() {
			return p.ID, nil
		}
	}
	return id, nil
}

// touch moves a request whose draft changes back to the bench; a signature under the old draft no longer holds.
func (d *Desk) touch(ctx context.Context, q store.Queries, who Who, r store.RequestRow) error {
	if r.State == string(request.InHand) {
		return nil
	}
	if r.SignedAt != nil || r.State == string(request.Cleared) {
		if err := q.UnsignRequest(ctx, r.ID); err != nil {
			return err
		}
		if err := note(ctx, q, r.SiteID, &r.ID, nil, event{Who: who.Name, What: "clearance void", Say: "The draft was changed after it was cleared"}); err != nil {
			return err
		}
	}
	return q.SetRequestState(ctx, r.ID, string(request.InHand))
}

func (d *Desk) keep(ctx context.Context, q store.Queries, who Who, r store.RequestRow, dr *draft, f api.ChangeForm) error {
	k := dr.mergeable(f)
	base := dr.Page()
	part := f.Part
	if k >= 0 {
		base = dr.Before(k)
		if on := dr.Kept[k].Step[0].On; on != nil {
			p, err := base.Locate(*on)
			if err != nil {
				return err
			}
			part = &p.ID
		}
	}
	var e edit
	var err error
	if k >= 0 && dr.Kept[k].Step[0].Op.Op == change.Insert {
		e, err = dr.insertAgain(k, f)
	} else {
		e, err = d.edit(ctx, q, r, dr, base, part, f)
	}
	if err != nil {
		return err
	}
	result, err := thread.Alone(base, e.ops)
	if err != nil {
		return err
	}
	step := result.Kept[0].Step
	same := bytes.Equal(result.Page().Doc.Bytes, base.Doc.Bytes)
	if k < 0 {
		if same {
			return nil
		}
		return d.addChange(ctx, q, who, r, dr, e, result, f.WishID)
	}
	c := dr.changes[k]
	if same {
		if _, err := dr.Without(c.ID); err != nil {
			return err
		}
		return d.drop(ctx, q, who, r, c)
	}
	if _, err := dr.Instead(k, step); err != nil {
		return err
	}
	if c.Op, err = stepJSON(step); err != nil {
		return err
	}
	return rewrite(ctx, q, c, dr.row.Address, e, result, f.WishID)
}

// namesPart are the edits that change what later changes know their part by: its words, or what kind of block it is.
var namesPart = map[api.ChangeDo]bool{api.ChangeDoWords: true, api.ChangeDoMarkup: true, api.ChangeDoBack: true, api.ChangeDoForm: true, api.ChangeDoJoin: true}

// mergeable finds the change that an edit of the same part goes on with, or -1. Where the part was copied since, a new
// change is begun, so that the copy keeps its words.
func (dr *draft) mergeable(f api.ChangeForm) int {
	ids := dr.Parts()
	for k := len(dr.Kept) - 1; k >= 0; k-- {
		op := dr.Kept[k].Step[0].Op
		if dr.CopiedSince(k) || namesPart[f.Do] && dr.TouchedSince(k) {
			continue
		}
		switch f.Do {
		case api.ChangeDoBack:
			if op.Op == change.SetWords && f.Part != nil && ids[k] == *f.Part {
				return k
			}
		case api.ChangeDoWords, api.ChangeDoMarkup, api.ChangeDoJoin:
			if (op.Op == change.SetWords || op.Op == change.Insert && dr.PutOne(k)) && f.Part != nil && ids[k] == *f.Part {
				return k
			}
		case api.ChangeDoStyle:
			if op.Op == change.SetAttribute && op.Name == "class" && f.Part != nil && ids[k] == *f.Part {
				return k
			}
		case api.ChangeDoForm:
			if op.Op == change.Recast && f.Part != nil && ids[k] == *f.Part {
				return k
			}
		case api.ChangeDoAttribute:
			if op.Op == change.SetAttribute && len(dr.Kept[k].Step) == 1 && f.Part != nil && f.Name != nil && ids[k] == *f.Part && op.Name == string(*f.Name) {
				return k
			}
		case api.ChangeDoFact:
			if op.Op == change.SetFact && f.Name != nil && op.Name == string(*f.Name) {
				return k
			}
		case api.ChangeDoPicture:
			if op.Op == change.SetAttribute && op.Name == "src" && f.Part != nil && ids[k] == *f.Part {
				return k
			}
		}
	}
	return -1
}

func (d *Desk) addChange(ctx context.Context, q store.Queries, who Who, r store.RequestRow, dr *draft, e edit, result *thread.Draft, wish *int64) error {
	op, err := stepJSON(result.Kept[0].Step)
	if err != nil {
		return err
	}
	if wish != nil {
		if _, err := q.Wish(ctx, r.ID, *wish); err != nil {
			return missing(err, "wish")
		}
	}
	now := store.Now()
	c := store.Change{
		RequestID: r.ID, WishID: wish, PageID: dr.row.ID, Kind: e.kind, PartName: shorten(e.name, 250), Op: op, BeforeWords: e.before,
		State: "kept", MadeBy: who.ID, MadeAt: now,
	}
	switch {
	case e.around != nil:
		c.BeforeWords, c.BeforeHTML = e.around.Text, e.around.HTML
	case e.part != nil:
		c.BeforeHTML = e.part.HTML
	}
	fill(&c, dr.row.Address, e, result, now)
	if c.ID, err = q.AddChange(ctx, c); err != nil {
		return err
	}
	if err := wishDone(ctx, q, r.ID, wish, request.Done); err != nil {
		return err
	}
	return note(ctx, q, r.SiteID, &r.ID, &dr.row.ID, event{Who: who.Name, What: "change kept", Say: c.Say, Changes: []eventChange{changeEvent(c, dr.row.Address)}})
}

// fill writes what follows from an edit into its change. result is the edit alone, applied.
func fill(c *store.Change, address string, e edit, result *thread.Draft, now time.Time) {
	c.AfterWords, c.ChangedAt, c.Say = e.after, now, e.say
	var after *page.Part
	if e.around != nil {
		if table := thread.PartAt(result.Page(), e.around, e.around.Start); table != nil {
			c.AfterWords, c.AfterHTML = table.Text, table.HTML
		}
	} else if e.part != nil {
		if after = result.Made(0); after != nil {
			c.AfterHTML = after.HTML
			if e.ops[0].Op == change.SetWords {
				c.AfterWords = after.Text
			}
		}
	} else if e.ops[0].Op == change.Insert {
		c.AfterHTML = e.ops[0].HTML
	}
	if e.picture != nil {
		c.PictureID = &e.picture.ID
		c.BeforeHTML, c.AfterHTML = pictureSources(address, e.part, after)
	}
	if c.Say == "" && e.part != nil && after != nil && e.ops[0].Op == change.SetWords {
		c.Say = change.Between(e.part, after).Say
	}
	if c.Say == "" {
		c.Say = fmt.Sprintf("%s: “%s” becomes “%s”", e.name, page.Short(e.before, 60), page.Short(e.after, 60))
	}
}

func rewrite(ctx context.Context, q store.Queries, c store.Change, address string, e edit, result *thread.Draft, wish *int64) error {
	c.PartName = shorten(e.name, 250)
	fill(&c, address, e, result, store.Now())
	if c.WishID == nil && wish != nil {
		c.WishID = wish
		if err := wishDone(ctx, q, c.RequestID, wish, request.Done); err != nil {
			return err
		}
	}
	return q.RewriteChange(ctx, c)
}

func wishDone(ctx context.Context, q store.Queries, number int64, id *int64, state request.WishState) error {
	if id == nil {
		return nil
	}
	w, err := q.Wish(ctx, number, *id)
	if err != nil {
		return missing(err, "wish")
	}
	w.State = string(state)
	return q.SetWish(ctx, w)
}

func changeEvent(c store.Change, address string) eventChange {
	return eventChange{Change: c.ID, Address: address, Part: c.PartName, Say: c.Say, Before: c.BeforeWords, After: c.AfterWords}
}
