package desk

import (
	"context"
	"encoding/json"
	"fmt"
	"math"
	"slices"

	"mendry/api"
	"mendry/internal/core/act"
	"mendry/internal/core/change"
	"mendry/internal/core/may"
	"mendry/internal/core/request"
	"mendry/internal/core/thread"
	"mendry/internal/release"
	"mendry/internal/store"
)

// Ask is an act on a page that somebody asks for.
type Ask struct {
	Draft string // the hash of the draft that was looked at
	Wish  *int64
	Act   act.Act
	Here  bool // on this page alone, whatever the part is in: it was chosen among the places that were listed
	// Beside says that what is put beside a shared part is put there on every page that has it.
	Beside bool
	Sent   *Sent // nil where it is not told by whom it was sent
}

// Sent is the place of an act in the outbox that sends one after the other: one that was kept is not kept again, and whoever
// got no answer is told that it was.
type Sent struct {
	Outbox string
	Number int64 // from 1
}

// Keep does an act to the draft of a page and keeps what it changes. Nothing reaches the site. Typing on in a part
// rewrites its change; words typed back to what is live take the change out again.
func (d *Desk) Keep(ctx context.Context, who Who, number, pageID int64, a Ask) (v api.Bench, err error) {
	if _, byHand := a.Act.(*act.Source); byHand && !may.Markup(who.Role) {
		return v, refused("%s", noMarkup)
	}
	switch a.Act.(type) {
	case *act.Look, *act.Icon, *act.Picture, *act.PutPicture, *act.AddPictures, *act.LayPicture, *act.Download, *act.PutVideo, *act.Borrow, *act.Columns: // what they ask of a site's host may take long, and so may work on a picture
	default:
		done, err := d.turn(ctx)
		if err != nil {
			return v, err
		}
		defer done()
	}
	err = unlessMoved(func() error {
		v, err = d.tryKeep(ctx, who, number, pageID, a)
		return err
	})
	return v, err
}

func (d *Desk) tryKeep(ctx context.Context, who Who, number, pageID int64, a Ask) (api.Bench, error) {
	r, row, dr, err := d.draftToChange(ctx, number, pageID, a.Draft)
	if err != nil {
		return api.Bench{}, err
	}
	// What the act asks of hosts and files is asked before anything is locked.
	site, err := d.store.Site(ctx, r.SiteID)
	if err != nil {
		return api.Bench{}, err
	}
	done, err := act.Do(dr.Draft, a.Act, &rest{ctx: ctx, d: d, r: r, dr: dr, site: site})
	if err != nil {
		return api.Bench{}, err
	}
	if len(done.Effects) > 0 {
		var reach reaches
		if !a.Here {
			if reach, err = d.reachOf(ctx, dr, done, a.Beside); err != nil {
				return api.Bench{}, err
			}
		}
		if err := d.keep(ctx, who, dr, done, reach, a.Wish, a.Sent); err != nil {
			return api.Bench{}, err
		}
		if r, err = d.store.RequestRow(ctx, number); err != nil {
			return api.Bench{}, err
		}
		if row, err = d.store.Page(ctx, pageID); err != nil {
			return api.Bench{}, err
		}
	}
	v, err := d.bench(ctx, r, row, done.Draft.Near(), dr)
	if done.Made != "" {
		v.Made = &done.Made
	}
	if done.Keys != nil {
		v.Keys = done.Keys
	}
	return v, err
}

// draftToChange is the draft of a page that somebody looked at and changes now.
func (d *Desk) draftToChange(ctx context.Context, number, pageID int64, looked string) (r store.RequestRow, row store.Page, dr *draft, err error) {
	if r, row, err = d.onBench(ctx, number, pageID); err != nil {
		return r, row, dr, err
	}
	if err = atWork(r); err != nil {
		return r, row, dr, err
	}
	if dr, err = d.draftOn(ctx, d.store.Queries, number, row, d.stages); err != nil {
		return r, row, dr, err
	}
	if dr.Conflict != nil {
		return r, row, dr, refused("%s", dr.ConflictSay())
	}
	if looked != dr.Hash() {
		return r, row, dr, stale("The draft has changed in the meantime. It was loaded again; make the change once more.")
	}
	return r, row, dr, nil
}

// RefusedActs tells which of the acts on a part of a draft would be refused, and why.
func (d *Desk) RefusedActs(ctx context.Context, number, pageID int64, part string) ([]api.RefusedAct, error) {
	done, err := d.turn(ctx)
	if err != nil {
		return nil, err
	}
	defer done()
	dr, err := d.draftOf(ctx, d.store.Queries, number, pageID)
	if err != nil {
		return nil, err
	}
	no, err := act.Refused(dr.Draft, part)
	out := make([]api.RefusedAct, len(no))
	for i, n := range no {
		out[i] = api.RefusedAct{Do: n.Do, How: n.How, Why: n.Why}
	}
	return out, err
}

// keep stores what an act did to a draft, unless somebody was faster.
func (d *Desk) keep(ctx context.Context, who Who, dr *draft, done *act.Done, reach reaches, wish *int64, sent *Sent) error {
	err := d.store.Tx(ctx, func(q store.Queries) error {
		if err := q.LockRequest(ctx, dr.request); err != nil {
			return missing(err, "request")
		}
		if err := arrives(ctx, q, dr, sent); err != nil {
			return err
		}
		return d.keepIn(ctx, q, who, dr, done, reach, wish)
	})
	if err == nil {
		d.jobs.Wake() // what was kept for all pages is brought there
	}
	return err
}

// keepIn is keep in a transaction that holds the request.
func (d *Desk) keepIn(ctx context.Context, q store.Queries, who Who, dr *draft, done *act.Done, reach reaches, wish *int64) error {
	r, err := q.RequestRow(ctx, dr.request)
	if err != nil {
		return err
	}
	if err := dr.stillSo(ctx, q); err != nil {
		return err
	}
	keys := map[int64]int64{} // of new changes
	first := int64(math.MaxInt64)
	for _, e := range done.Effects {
		to := reach[e.Change.ID]
		if id, ok := keys[e.Change.ID]; ok {
			e.Change.ID = id
		}
		id := e.Change.ID
		switch e.What {
		case act.New:
			id, err = d.addChange(ctx, q, who, r, dr, e.Change, to, wish)
			keys[e.Change.ID] = id
		case act.Reworded:
			err = d.reword(ctx, q, dr, e.Change, wish)
		case act.Dropped:
			err = d.drop(ctx, q, who, r, id)
		case act.Aimed:
			err = d.aim(ctx, q, id, dr.row.ID, e.Change.Step)
		}
		if err != nil {
			return err
		}
		first = min(first, id)
	}
	if err := d.bringAnew(ctx, q, r.ID, first); err != nil {
		return err
	}
	return d.touch(ctx, q, who, r)
}

// stillSo ends with errMoved where the page or its changes are no longer what the draft was made of.
func (dr *draft) stillSo(ctx context.Context, q store.Queries) error {
	hash, marks, err := q.DraftMarks(ctx, dr.request, dr.row.ID)
	if err != nil {
		return err
	}
	if hash != dr.row.Hash || !slices.EqualFunc(marks, dr.changes, isStill) {
		return errMoved
	}
	return nil
}

// isStill reports whether a change is what a mark says of it.
func isStill(m store.DraftMark, c store.Change) bool {
	return m.ID == c.ID && m.ChangedAt.Equal(c.ChangedAt) && m.State == c.State
}

// touch moves a request whose draft changes back to the bench; a signature under the old draft no longer holds.
func (d *Desk) touch(ctx context.Context, q store.Queries, who Who, r store.RequestRow) error {
	d.watched.Changed(r.ID)
	if r.State == string(request.InHand) {
		return nil
	}
	if r.SignedAt != nil || r.State == string(request.Cleared) {
		if err := q.UnsignRequest(ctx, r.ID); err != nil {
			return err
		}
		if err := d.note(ctx, q, r.SiteID, &r.ID, nil, event{Who: who.Name, What: "clearance void", Say: "The draft was changed after it was cleared"}); err != nil {
			return err
		}
	}
	return move(ctx, q, r.ID, request.InHand, request.Work)
}

func (d *Desk) addChange(ctx context.Context, q store.Queries, who Who, r store.RequestRow, dr *draft, a act.Change, to reach, wish *int64) (int64, error) {
	asked, err := wishFor(ctx, q, dr, a, wish)
	if err != nil {
		return 0, missing(err, "wish")
	}
	c := store.Change{
		RequestID: r.ID, PageID: dr.row.ID, Kind: string(a.Kind), BeforeWords: a.BeforeWords, State: "kept",
		MadeBy: who.ID, MadeAt: d.now(), Hides: a.Hides,
	}
	if asked != nil {
		c.WishID = &asked.ID
	}
	if a.Shows != 0 {
		c.Shows = &a.Shows
	}
	if a.TakesBack != 0 {
		c.TakesBack = &a.TakesBack
	}
	if to.print != "" {
		c.Everywhere = &to.print
	}
	if err := d.fill(ctx, q, &c, dr, a); err != nil {
		return 0, err
	}
	id, err := q.AddChange(ctx, c)
	if err != nil {
		return 0, err
	}
	c.ID = id
	if err := d.bring(ctx, q, c, dr, a); err != nil {
		return 0, err
	}
	if err := q.AddChangePages(ctx, id, r.ID, to.others); err != nil {
		return 0, err
	}
	if asked != nil && request.Fulfils(asked.Words, a.Step[0].Op.Op == change.Insert) {
		asked.State = string(request.Done)
		if err := q.SetWish(ctx, *asked); err != nil {
			return 0, err
		}
	}
	say := c.Say
	if to.print != "" {
		say += fmt.Sprintf(" (on all pages that have %s: %d)", to.name, len(to.others)+1)
	}
	return id, d.note(ctx, q, r.SiteID, &r.ID, &dr.row.ID, event{Who: who.Name, What: "change kept", Say: say, Changes: []eventChange{release.ChangeEvent(c, dr.row.Address)}})
}

// fill writes what an act says of a change into its row.
func (d *Desk) fill(ctx context.Context, q store.Queries, c *store.Change, dr *draft, a act.Change) error {
	op, err := stepJSON(a.Step)
	if err != nil {
		return err
	}
	c.PartName, c.Op, c.Say, c.AfterWords, c.BeforeHTML, c.AfterHTML, c.ChangedAt = a.Name, op, a.Say, a.AfterWords, a.BeforeHTML, a.AfterHTML, d.now()
	c.ShapeWidth, c.ShapeHeight, c.ShapeFit = 0, 0, ""
	if a.Shape != nil {
		c.ShapeWidth, c.ShapeHeight, c.ShapeFit = a.Shape.Width, a.Shape.Height, a.Shape.Fit
	}
	if c.MadeFrom = ""; !a.Kind.Shown() {
		return nil
	}
	if c.AfterHTML = publicPath(dr.row.Address, a.AfterHTML); a.BeforeHTML != "" { // none where it is new
		c.BeforeHTML = publicPath(dr.row.Address, a.BeforeHTML)
	}
	made, err := json.Marshal(madeFrom{a.Made, a.Put, a.Film})
	c.MadeFrom = string(made)
	return err
}

// madeFrom is how the pictures of a change are made, as it is kept.
type madeFrom struct {
	Picture *act.Picture    `json:"picture,omitempty"`
	Put     *act.PutPicture `json:"put,omitempty"`
	Film    *act.PutVideo   `json:"film,omitempty"`
}

// bring keeps the pictures and files that a change brings.
func (d *Desk) bring(ctx context.Context, q store.Queries, c store.Change, dr *draft, a act.Change) error {
	if !act.Kind(c.Kind).Brings() {
		return nil // words, as they are typed
	}
	if err := q.SetChangeFiles(ctx, c.ID, changeFiles(dr.row.SiteID, a.Files)); err != nil {
		return err
	}
	ids, err := d.pictureFiles(ctx, q, dr, a.Pictures)
	if err != nil || !a.Kind.Shown() {
		return err
	}
	return q.SetChangePictures(ctx, c.ID, dr.request, ids)
}

// reword keeps another wording of a change that is not live yet.
func (d *Desk) reword(ctx context.Context, q store.Queries, dr *draft, a act.Change, wish *int64) error {
	c, err := q.Change(ctx, a.ID)
	if err != nil {
		return err
	}
	if err := d.fill(ctx, q, &c, dr, a); err != nil {
		return err
	}
	if c.WishID == nil && wish != nil {
		c.WishID = wish
		if err := wishDone(ctx, q, c.RequestID, wish, request.Done); err != nil {
			return err
		}
	}
	if err := q.RewriteChange(ctx, c); err != nil {
		return err
	}
	return d.bring(ctx, q, c, dr, a)
}

// aim keeps by which words a change finds its part, after those were changed before it.
func (d *Desk) aim(ctx context.Context, q store.Queries, id, page int64, step change.Step) error {
	op, err := stepJSON(step)
	if err != nil {
		return err
	}
	return q.AimChange(ctx, id, page, op, d.now())
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

func stepJSON(s change.Step) (string, error) {
	b, err := json.Marshal(s)
	return string(b), err
}

var _ thread.Memory = (*memory[thread.Stage])(nil)
