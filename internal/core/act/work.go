package act

import (
	"bytes"
	"fmt"
	"reflect"
	"slices"
	"strings"

	"mendry/internal/core/change"
	"mendry/internal/core/page"
	"mendry/internal/core/refusal"
	"mendry/internal/core/thread"
)

// work is an act under way.
type work struct {
	draft   *thread.Draft
	rest    Rest
	effects []Effect
	made    string
	instead int64 // the change of which an edit is another wording; 0 for a new one
	last    int   // the step that was kept last in this work, -1 for none
	fresh   int64
	lenders []*page.Page      // from which something was borrowed
	keys    map[string]string // of a run: the parts that its blocks are, by what the editor knows them by
}

// edit is one change: operations on a page, and what is said of it.
type edit struct {
	kind     Kind
	part     *page.Part // of the page before; nil where there is none, as for page facts
	around   *page.Part // the table whose rows or columns change
	name     string
	ops      []change.Op
	before   string // words
	after    string
	pictures []File
	files    []Brought
	made     *Picture
	put      *PutPicture
	film     *PutVideo
	shape    *Shape
	markup   *[2]string // before and after, where neither is of a part that the operations find
	say      string
}

// place is where an edit is made.
type place struct {
	draft *thread.Draft
	base  *page.Page // the page that the operations speak of
	part  *page.Part // on base; nil for page facts
	now   *page.Part // the same part on the finished draft
}

// one is an act that is one edit of one part, or of the page's facts.
type one interface {
	// edit gives the operations.
	edit(w *work, at place) (edit, error)
	// goesOn reports whether it is another wording of step k of the draft, on the same part; then it takes its place.
	goesOn(d *thread.Draft, k int) bool
}

// renames is a one that changes what later steps know its part by: its words, or what kind of block it is. It goes on
// in an earlier step only where no later one was made to the part.
type renames interface{ renames() }

// rewords is a one that can give a part that was put in other words where it was put in. inner is markup for its
// inside.
type rewords interface {
	inner(d *thread.Draft, now *page.Part) (string, error)
}

// errGone is said where a part that was pointed at is no longer there.
func errGone() error {
	return refusal.New(refusal.Stale, "The part is no longer on the draft. It was loaded again.")
}

func refuse(format string, args ...any) error { return refusal.New(refusal.Rule, format, args...) }

// pointed finds a part of the draft that somebody pointed at.
func (w *work) pointed(id string) (*page.Part, error) {
	part, ok := w.draft.Page().Part(id)
	if !ok {
		return nil, errGone()
	}
	if part.Locked != "" {
		return nil, refuse("“%s” is locked. %s", part.Name, part.Locked)
	}
	return part, nil
}

// keep makes one edit of a part: as a new change, or in the place of one that it goes on with. Words that are typed
// back to what they were take the change out again.
func (w *work) keep(a one, id string) error {
	at := place{draft: w.draft, base: w.draft.Page()}
	if id != "" {
		var err error
		if at.now, err = w.pointed(id); err != nil {
			return err
		}
		at.part = at.now
	}
	k := w.goingOn(a, id)
	w.instead = 0
	if k >= 0 {
		at.base, w.instead = w.draft.Before(k), w.draft.Kept[k].ID
		if on := w.draft.Kept[k].Step[0].On; on != nil {
			var err error
			if at.part, err = at.base.Locate(*on); err != nil {
				return err
			}
		}
	}
	var e edit
	var err error
	if k >= 0 && w.draft.Kept[k].Step[0].Op.Op == change.Insert {
		e, err = w.putAgain(k, at.now, a.(rewords))
	} else {
		e, err = a.edit(w, at)
	}
	if err != nil {
		return err
	}
	if at.part != nil {
		e.ops = followed(at.part, e.ops)
	}
	return w.settle(k, at.base, e)
}

// goingOn finds the step that an edit of a part goes on with, or -1. Where the part was copied since, a new change is
// begun, so that the copy keeps its words; so it is where a release carries the step.
func (w *work) goingOn(a one, id string) int {
	d := w.draft
	_, naming := a.(renames)
	for k := len(d.Kept) - 1; k >= 0; k-- {
		if d.Kept[k].Fixed || !a.goesOn(d, k) || id != "" && d.Parts()[k] != id {
			continue
		}
		if d.CopiedSince(k) || naming && d.TouchedSince(k) {
			continue
		}
		return k
	}
	return -1
}

// settle applies an edit of base, and puts it on the draft, or in the place of step k.
func (w *work) settle(k int, base *page.Page, e edit) error {
	alone, err := thread.Alone(base, e.ops)
	if err != nil {
		return err
	}
	step := alone.Kept[0].Step
	same := bytes.Equal(alone.Page().Doc.Bytes, base.Doc.Bytes)
	switch {
	case len(e.files) > 0: // what stands behind a link is another file, though the page stays as it is
	case same && k < 0, k >= 0 && reflect.DeepEqual(step, w.draft.Kept[k].Step) && len(e.pictures) == 0:
		return nil // pictures may be others under the same names
	case same:
		return w.drop(k)
	}
	c := e.change(alone)
	c.Step = step
	if k < 0 {
		w.fresh--
		c.ID = w.fresh
		next, err := w.draft.And(thread.Kept{ID: c.ID, Step: step, Say: c.Say}, alone)
		if err != nil {
			return err
		}
		if e.kind == OfSection {
			if j := w.undone(next.Page()); j >= 0 {
				for k := len(w.draft.Kept) - 1; k >= j; k-- {
					if err := w.drop(k); err != nil {
						return err
					}
				}
				return nil
			}
			if j := w.cancelled(next.Page()); j >= 0 {
				return w.drop(j)
			}
		}
		w.draft, w.last = next, len(next.Kept)-1
		w.effects = append(w.effects, Effect{New, c})
		return nil
	}
	c.ID = w.draft.Kept[k].ID
	next, err := w.draft.Instead(k, alone)
	if err != nil {
		return err
	}
	next.Kept[k].Say = c.Say
	w.effects = append(w.effects, Effect{Reworded, c})
	w.aimed(next, c.ID)
	w.draft, w.last = next, k
	return nil
}

// undone finds the kept change before which the draft was what it would be after a new one: all since then come to
// nothing, as a copy that was reworded and is taken out. It is -1 where there is none.
func (w *work) undone(by *page.Page) int {
	d := w.draft
	for k := len(d.Kept) - 1; k >= max(0, len(d.Kept)-mostCancelled) && !d.Kept[k].Fixed; k-- {
		if bytes.Equal(d.Before(k).Doc.Bytes, by.Doc.Bytes) {
			return k
		}
	}
	return -1
}

// mostCancelled is how many of the last changes are looked through for one that a new one takes back.
const mostCancelled = 20

// cancelled finds the kept change without which the draft is what it would be after a new one: the two cancel out, and
// neither stays. It is -1 where there is none.
func (w *work) cancelled(by *page.Page) int {
	d := w.draft
	for k := len(d.Kept) - 1; k >= max(0, len(d.Kept)-mostCancelled); k-- {
		op := d.Kept[k].Step[0].Op.Op
		grown := len(d.After(k).Doc.Bytes) - len(d.Before(k).Doc.Bytes)
		switch {
		case d.Kept[k].Fixed, op == change.SetWords, op == change.SetAttribute, d.CopiedSince(k):
			continue
		case len(by.Doc.Bytes) != len(d.Page().Doc.Bytes)-grown: // it cannot be, and making sure takes long
			continue
		}
		without, err := d.Without(d.Kept[k].ID)
		if err == nil && without.Conflict == nil && bytes.Equal(without.Page().Doc.Bytes, by.Doc.Bytes) {
			return k
		}
	}
	return -1
}

// aimed notes the changes, but for one, that find their parts by other words on the next draft.
func (w *work) aimed(next *thread.Draft, but int64) {
	for _, k := range next.AimedSince(w.draft) {
		if k.ID != but {
			w.effects = append(w.effects, Effect{Aimed, Change{ID: k.ID, Step: k.Step}})
		}
	}
}

// drop takes step k out.
func (w *work) drop(k int) error {
	id := w.draft.Kept[k].ID
	next, err := w.draft.Without(id)
	if err != nil {
		return err
	}
	w.effects = append(w.effects, Effect{Dropped, Change{ID: id}})
	w.aimed(next, id)
	w.draft, w.last = next, -1
	return nil
}

// goIn makes the part of the last step the one to go on in: the first in it that has words, as in a row or a table. After a
// step that took something out there is none.
func (w *work) goIn() {
	if w.last < 0 {
		return
	}
	id := w.draft.Parts()[w.last]
	p := w.draft.Page()
	at := slices.IndexFunc(p.All, func(q *page.Part) bool { return q.ID == id })
	if at < 0 {
		return
	}
	w.made = id
	for _, q := range p.All[at:] {
		if q.Start >= p.All[at].End {
			return
		}
		if q.Kind.HasWords() {
			w.made = q.ID
			return
		}
	}
}

// takeUp makes the part that the last step moved or copied the one to go on in.
func (w *work) takeUp() {
	if w.last >= 0 {
		w.made = w.draft.Parts()[w.last]
	}
}

// stay makes a part of the draft before the one to go on in, where the last step was of it, or one of its was taken
// out.
func (w *work) stay(before *thread.Draft, part *page.Part) {
	if w.takeUp(); w.last >= 0 {
		return
	}
	if live := before.First(part); live != nil {
		if now := w.draft.Now(live, 0); now != nil {
			w.made = now.ID
		}
	}
}

const longestName = 250 // of a part, in letters

// change is what is said of an edit; alone is it, applied.
func (e edit) change(alone *thread.Draft) Change {
	c := Change{Kind: e.kind, Name: page.Short(e.name, longestName), Say: e.say, BeforeWords: e.before, AfterWords: e.after, Pictures: e.pictures, Files: e.files, Made: e.made, Put: e.put, Film: e.film, Shape: e.shape}
	var after *page.Part
	first := e.ops[0]
	switch {
	case e.markup != nil:
		c.BeforeHTML, c.AfterHTML = e.markup[0], e.markup[1]
	case e.around != nil:
		c.BeforeWords, c.BeforeHTML = e.around.Text, e.around.HTML
		if table := thread.PartAt(alone.Page(), e.around, e.around.Start); table != nil {
			c.AfterWords, c.AfterHTML = table.Text, table.HTML
		}
	case e.part != nil:
		c.BeforeHTML = e.part.HTML
		if after = alone.Made(0); after != nil {
			c.AfterHTML = after.HTML
			if first.Op == change.SetWords {
				c.AfterWords = after.Text
			}
		}
	case first.Op == change.Insert:
		c.AfterHTML = first.HTML
	}
	if e.kind.Shown() {
		c.BeforeHTML, c.AfterHTML = e.before, e.after
	}
	if c.Say == "" && e.part != nil && after != nil && first.Op == change.SetWords {
		c.Say = change.Between(e.part, after).Say
	}
	if c.Say == "" {
		c.Say = fmt.Sprintf("%s: “%s” becomes “%s”", e.name, page.Short(e.before, 60), page.Short(e.after, 60))
	}
	return c
}

// newName is what a part that was put in is called, by its words.
func newName(plain string) string {
	if plain = strings.TrimSpace(plain); plain == "" {
		return change.NewWords
	}
	return "“" + page.Short(plain, 36) + "”"
}
