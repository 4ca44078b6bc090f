// Package thread is the draft of a page: the live page with the kept steps of a request on it, in order. It knows the
// page at each step, what each step made, and where a part went through them. A draft is never changed; adding,
// replacing and taking out a step each give another one.
package thread

import (
	"bytes"
	"crypto/sha256"
	"encoding/json"
	"errors"

	"mendry/internal/core/change"
	"mendry/internal/core/page"
	"mendry/internal/core/refusal"
)

// Kept is a step that is kept, with what it is known by and what is said of it.
type Kept struct {
	ID   int64
	Step change.Step
	Say  string
	// Fixed says that a release carries the step: nothing goes on in it, and it is not taken out.
	Fixed bool
}

// Stage is a page with one step on it.
type Stage struct {
	page *page.Page
	undo []change.Op
	went change.Map
	sure page.Sure
}

// Page is the page with the step on it.
func (s Stage) Page() *page.Page { return s.page }

// Memory remembers stages by what led to them, so that a draft that is made again is not applied again. A Memory is
// safe for use by several goroutines.
type Memory interface {
	Get(key string) (Stage, bool)
	Add(key string, s Stage)
}

// Draft is a page with kept steps on it.
type Draft struct {
	Live *page.Page
	Kept []Kept
	// Conflict is why a kept step does not fit the live page any more: a *change.Conflict, or a refusal. That step and
	// those after it are not in the draft.
	Conflict error

	at     []*page.Page  // the page before each step that fits, and after the last
	undo   [][]change.Op // what takes at[i+1] back to at[i]: where exactly its bytes differ
	went   []change.Map
	sure   []page.Sure
	keys   []string // of the stages, see Memory
	memory Memory
	parts  []string // see Parts
}

// Of makes the draft of a live page. memory may be nil. A step that does not fit is the draft's Conflict; the error is
// any other fault.
func Of(live *page.Page, kept []Kept, memory Memory) (*Draft, error) {
	d := &Draft{Live: live, Kept: kept, at: []*page.Page{live}, memory: memory}
	err := d.apply()
	if err != nil && refusal.Of(err) == nil {
		return nil, err
	}
	d.Conflict = err
	return d, nil
}

// apply applies the kept steps that are not in the draft yet, each to what the ones before it left, as far as they
// fit.
func (d *Draft) apply() error {
	for i := len(d.undo); i < len(d.Kept); i++ {
		k := d.Kept[i]
		name, err := d.key(i)
		if err != nil {
			return err
		}
		stage, known := Stage{}, false
		if d.memory != nil {
			stage, known = d.memory.Get(name)
		}
		if !known {
			r, err := k.Step.Apply(d.at[i])
			switch {
			case err == nil:
				stage = Stage{r.Page, r.Undo, change.MapOf(r.Undo), r.Sure}
			case stands(d.at[i], k.Step):
				stage = Stage{page: d.at[i], sure: page.SamePlaceSameWords}
			default:
				return err
			}
		}
		d.push(name, stage, !known)
	}
	return nil
}

// key is what stage i is remembered by: the live page and the steps up to it.
func (d *Draft) key(i int) (string, error) {
	step, err := json.Marshal(d.Kept[i].Step)
	if err != nil {
		return "", err
	}
	before := d.Live.Doc.Sum()
	if i > 0 {
		copy(before[:], d.keys[i-1])
	}
	sum := sha256.Sum256(append(before[:], step...))
	return string(sum[:]), nil
}

// stage is step i with what it made.
func (d *Draft) stage(i int) Stage { return Stage{d.at[i+1], d.undo[i], d.went[i], d.sure[i]} }

// push takes a stage into the draft.
func (d *Draft) push(key string, s Stage, remember bool) {
	if remember && d.memory != nil {
		d.memory.Add(key, s)
	}
	d.at, d.undo, d.went, d.sure = append(d.at, s.page), append(d.undo, s.undo), append(d.went, s.went), append(d.sure, s.sure)
	d.keys = append(d.keys, key)
}

// Near is a memory of the draft's own stages, before what its memory holds: by it the draft is made again, from steps
// that were kept meanwhile, though others were remembered in its place.
func (d *Draft) Near() Memory { return near{d} }

type near struct{ *Draft }

func (n near) Get(key string) (Stage, bool) {
	for i, k := range n.keys {
		if k == key {
			return n.stage(i), true
		}
	}
	if n.memory == nil {
		return Stage{}, false
	}
	return n.memory.Get(key)
}

func (n near) Add(key string, s Stage) {
	if n.memory != nil {
		n.memory.Add(key, s)
	}
}

// upTo is the draft with its first n steps, to which others can be added.
func (d *Draft) upTo(n int, kept []Kept) *Draft {
	return &Draft{
		Live: d.Live, Kept: kept, memory: d.memory, at: d.at[: n+1 : n+1], undo: d.undo[:n:n], went: d.went[:n:n], sure: d.sure[:n:n],
		keys: d.keys[:n:n],
	}
}

// with is the draft up to step k with another step there, which was applied to its page alone, and those after it.
func (d *Draft) with(k int, kept []Kept, alone *Draft) (*Draft, error) {
	other := d.upTo(k, kept)
	if alone.Live == other.Page() {
		key, err := other.key(k)
		if err != nil {
			return nil, err
		}
		other.push(key, alone.stage(0), true)
	}
	return other.follows(d, 0)
}

// stands reports whether the words that a step would bring stand in its place already, as they do after the change was
// undone that the step took back by hand.
func stands(p *page.Page, s change.Step) bool {
	if len(s) != 1 || s[0].Op.Op != change.SetWords {
		return false
	}
	part, err := p.Locate(*s[0].On)
	return errors.Is(err, page.ErrElsewhere) && p.Doc.Markup(p.Doc.Bytes[part.InnerStart:part.InnerEnd]) == s[0].HTML
}

// Stands reports whether what step k would bring stands on the page already, so that it changes nothing.
func (d *Draft) Stands(k int) bool { return k < d.Fits() && len(d.undo[k]) == 0 }

// Page is the page with every step on it that fits.
func (d *Draft) Page() *page.Page { return d.at[len(d.at)-1] }

// Before is the page before step k.
func (d *Draft) Before(k int) *page.Page { return d.at[k] }

// After is the page right after step k.
func (d *Draft) After(k int) *page.Page { return d.at[k+1] }

// Undo is what takes the page after step k back to the page before it.
func (d *Draft) Undo(k int) []change.Op { return d.undo[k] }

// Undos are what takes back step k and each one after it, in order, as change.Revert and change.TakeBack want them.
func (d *Draft) Undos(k int) [][]change.Op { return d.undo[k:] }

// Sure is how sure it was that the parts of step k were found again.
func (d *Draft) Sure(k int) page.Sure { return d.sure[k] }

// Fits is how many of the kept steps are in the draft: all, where it has no conflict.
func (d *Draft) Fits() int { return len(d.undo) }

// Hash is the SHA-256 of the draft's bytes, in hexadecimal digits.
func (d *Draft) Hash() string {
	return d.Page().Doc.Hash()
}

// Alone is a draft of one step: operations whose IDs speak of p. The error is a refusal.
func Alone(p *page.Page, ops []change.Op) (*Draft, error) {
	step, err := change.AimAll(p, ops)
	if err != nil {
		return nil, err
	}
	r, err := step.Apply(p) // as it will be found later, not as it was pointed at
	if err != nil {
		return nil, err
	}
	return &Draft{
		Live: p, Kept: []Kept{{Step: step}}, at: []*page.Page{p, r.Page}, undo: [][]change.Op{r.Undo},
		went: []change.Map{change.MapOf(r.Undo)}, sure: []page.Sure{r.Sure},
	}, nil
}

// And is the draft with another step on top of it, which was applied to its page alone. The error is a refusal.
func (d *Draft) And(k Kept, alone *Draft) (*Draft, error) {
	return d.with(len(d.undo), append(d.Kept[:len(d.Kept):len(d.Kept)], k), alone)
}

// Instead is the draft with another step in the place of step k, which was applied to the page before it alone. Later
// steps that know their parts by what step k made of them are aimed anew. The error is a refusal where one does not
// fit any more.
func (d *Draft) Instead(k int, alone *Draft) (*Draft, error) {
	kept := append([]Kept(nil), d.Kept...)
	kept[k].Step = alone.Kept[0].Step
	return d.with(k, kept, alone)
}

// Without is the draft with one step taken out of it, wherever it stands. It is refused where a later step builds upon
// it. From a draft with a conflict any step can be taken out: that is the way out of it.
func (d *Draft) Without(id int64) (*Draft, error) {
	var kept []Kept
	at := -1
	for i, k := range d.Kept {
		if k.ID == id {
			at = i
			continue
		}
		kept = append(kept, k)
	}
	if at >= 0 && d.Kept[at].Fixed {
		return nil, refusal.New(refusal.Rule, "A release carries this change. Finish that release, or leave it as it is, first.")
	}
	if at < 0 {
		return nil, refusal.New(refusal.Nothing, "There is no such change, or no longer. Load the page again.")
	}
	if d.Conflict != nil {
		return Of(d.Live, kept, d.memory)
	}
	rest, err := d.upTo(at, kept).follows(d, 1)
	if err != nil {
		return nil, err
	}
	if d.CopiedSince(at) {
		return rest, nil // the copy holds what the step made, and will not
	}
	// The steps after it found their parts anew. Where their bytes and its own lie apart, the page can be told in
	// another way too; both have to agree, or a step landed somewhere else.
	back, err := change.Revert(d.Page(), d.undo[at], d.undo[at+1:]...)
	if err == nil && !bytes.Equal(back.Bytes, rest.Page().Doc.Bytes) {
		return nil, refusal.New(refusal.Rule, "Without this change a later one would land in another place. Undo the later ones first.")
	}
	return rest, nil
}

func builtUpon(err error) error {
	var c *change.Conflict
	if errors.As(err, &c) {
		return refusal.New(refusal.Rule, "A later change stands in “%s”. Undo that one first.", c.Part)
	}
	return err
}

// ConflictSay says in words why the draft does not fit the live page; empty where it does.
func (d *Draft) ConflictSay() string {
	var c *change.Conflict
	if !errors.As(d.Conflict, &c) {
		if d.Conflict == nil {
			return ""
		}
		return d.Conflict.Error()
	}
	like := ""
	if c.Like != "" {
		like = " The same words stand in " + c.Like + ", but nothing says that it is the same place."
	}
	switch {
	case errors.Is(c.Reason, page.ErrElsewhere):
		return "“" + c.Part + "” was changed elsewhere and now says “" + page.Short(c.Now, 80) + "”." + like + " Look at both and decide: keep theirs by undoing your change, or undo and make it again."
	case errors.Is(c.Reason, page.ErrTwoPlaces):
		return "“" + c.Part + "” now fits two places on the page: " + c.Like + ". Undo this change and make it again at the right one."
	}
	return "“" + c.Part + "” is no longer on the live page, or can no longer be told from others." + like + " Undo this change, or make it again somewhere else."
}
