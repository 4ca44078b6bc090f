// Package change holds edits as data: operations on the parts of a page that apply to bytes, reverse exactly, and
// refuse what they cannot do without touching anything else.
package change

import (
	"errors"
	"fmt"

	"mendry/internal/core/page"
	"mendry/internal/core/refusal"
	"mendry/internal/core/source"
)

// Kind of operation.
type Kind string

// The operations.
const (
	SetWords     Kind = "set-words"
	SetAttribute Kind = "set-attribute"
	Dress        Kind = "dress"  // gives an element a class or declarations of its style attribute, and takes others off
	Redraw       Kind = "redraw" // puts another icon in the place of one within a part
	SetFact      Kind = "set-fact"
	Insert       Kind = "insert"
	Copy         Kind = "copy"
	Move         Kind = "move"
	Remove       Kind = "remove"
	Recast       Kind = "recast"       // gives a block of words another Form
	Enclose      Kind = "enclose"      // puts a picture into an element: a link, or a figure with a caption
	Open         Kind = "open"         // takes the tags of a link away
	SetNoscript  Kind = "set-noscript" // of a picture: its copy for browsers without scripts
	PutBack      Kind = "put-back"     // in what Apply gives to undo with, and in what TakeBack gives
)

// Op is one operation. Part and Anchor are IDs of the page that it is applied to.
type Op struct {
	Op     Kind    `json:"op"`
	Part   string  `json:"part,omitempty"`
	Anchor string  `json:"anchor,omitempty"`
	Where  Where   `json:"where,omitempty"`
	Name   string  `json:"name,omitempty"`
	Value  *string `json:"value,omitempty"`
	HTML   string  `json:"html,omitempty"`
	Form   Form    `json:"form,omitempty"`

	// Dress: the classes that leave; of the style attribute, the properties whose declarations do.
	Without []string `json:"without,omitempty"`

	// Redraw: the icon whose bytes are Gone, the one that is At so many alike ones from the first.
	// PutBack: the bytes Gone stand at At and are replaced by Back. At is an offset in the page, or from where Part
	// begins; or else they stand before or after Anchor, with Between and nothing else between the two.
	At   int    `json:"at,omitempty"`
	Gone []byte `json:"gone,omitempty"`
	Back []byte `json:"back,omitempty"`

	Between []byte `json:"between,omitempty"`
}

// Where is a place beside or inside an anchor.
type Where string

// The places.
const (
	Before Where = "before"
	After  Where = "after"
	First  Where = "first"
	Last   Where = "last"
	// In the innermost element that holds all that the anchor holds: inside the wrappers of a column.
	FirstWithin Where = "first-within"
	LastWithin  Where = "last-within"
)

// File is a CHANGES.json.
type File struct {
	Changes []Op `json:"changes"`
}

func refuse(format string, args ...any) error { return refusal.New(refusal.Rule, format, args...) }

// ErrLeak is what Apply refuses with when the page would differ outside the changed parts.
var ErrLeak = errors.New("the change would alter the page outside its part")

// Result is an applied set of operations.
type Result struct {
	Bytes []byte
	Undo  []Op // PutBack operations that speak of Bytes
	Page  *page.Page
	// Sure is how sure it was that the parts of a Step were found again, the least of them.
	Sure page.Sure
}

// Apply applies ops, whose IDs all speak of p, at once. It splices the bytes, reads the result again and compares its
// tree with the tree of p changed in the same way; any other difference than the intended one is refused, and so is
// the whole set. The error is a *refusal.Refusal.
func Apply(p *page.Page, ops []Op) (*Result, error) {
	d := p.Doc
	var edits []source.Edit
	w := &work{p: p, plan: source.NewPlan(d), ops: ops}
	var back []Op
	for _, op := range ops {
		if op.Op == PutBack {
			back = append(back, op)
			continue
		}
		es, err := w.one(op)
		if err != nil {
			return nil, err
		}
		edits = append(edits, es...)
	}
	var held *source.Node
	if len(back) > 0 {
		es, in, err := w.putBack(back)
		if err != nil {
			return nil, err
		}
		if in != nil && len(back) < len(ops) {
			return nil, refuse("What takes a change back cannot be applied together with other changes.")
		}
		edits, held = append(edits, es...), in
	}
	out, undo, err := source.Splice(d.Bytes, edits)
	if err != nil {
		return nil, refuse("Two of the changes touch the same place. Apply one after the other.")
	}
	now, err := p.Edited(out, edits)
	if err != nil {
		return nil, refuse("The changed page could not be read: %v", err)
	}
	if len(back) == 0 || held != nil {
		if now.Doc.Encoding.Name != d.Encoding.Name {
			return nil, refuse("The change would alter the encoding of the page.")
		}
		if held != nil && !w.putInto(held, edits) || !asPlanned(w.plan, now) {
			return nil, leaking(p, ops, now.Page)
		}
		if err := w.factsHold(now.Page); err != nil {
			return nil, err
		}
	}
	r := &Result{Bytes: out, Page: now.Page}
	for _, u := range undo {
		r.Undo = append(r.Undo, Op{Op: PutBack, At: u.Start, Gone: out[u.Start:u.End], Back: u.New})
	}
	return r, nil
}

// asPlanned reports whether a page became what it was to become.
func asPlanned(plan *source.Plan, now page.Edited) bool {
	if now.Was != nil {
		return plan.DifferenceIn(now.Was.HTML, now.Is.HTML) == ""
	}
	return plan.Difference(now.Doc.Root.HTML) == ""
}

// work is an Apply under way.
type work struct {
	p     *page.Page
	plan  *source.Plan
	facts []Op     // set-fact operations, for pages whose facts are not in the tree
	ids   []string // identifiers that copies got
	ops   []Op     // all that is applied at once
}

// one gives the edits of a single operation and makes the same change in the plan.
func (w *work) one(op Op) ([]source.Edit, error) {
	switch op.Op {
	case SetFact:
		return w.setFact(op)
	case Insert:
		return w.insert(op)
	}
	part, ok := w.p.Part(op.Part)
	if !ok {
		return nil, refuse("The page has no part %q.", op.Part)
	}
	if part.Locked != "" {
		return nil, refuse("“%s” is locked. %s", part.Name, part.Locked)
	}
	switch op.Op {
	case SetWords:
		return w.setWords(part, op.HTML)
	case SetAttribute:
		return w.setAttribute(part, op.Name, op.Value)
	case Dress:
		return w.dress(part, op)
	case Redraw:
		return w.redraw(part, op)
	case Recast:
		return w.recast(part, op.Form)
	case Enclose:
		return w.enclose(part, op.HTML)
	case Open:
		return w.openUp(part)
	case SetNoscript:
		return w.setNoscript(part, op.HTML)
	case Copy, Move:
		return w.place(part, op)
	case Remove:
		return w.remove(part)
	}
	return nil, refuse("There is no operation %q.", op.Op)
}

// Targeted is an operation that finds its parts by Target instead of by ID, so that it can be applied to other
// versions of its page.
type Targeted struct {
	Op
	On     *page.Target `json:"on,omitempty"`
	Beside *page.Target `json:"beside,omitempty"` // of the anchor
}

// Aim turns an operation whose IDs speak of p into one that can be applied to other versions of the page.
func Aim(p *page.Page, op Op) (Targeted, error) {
	t := Targeted{Op: op}
	for _, side := range []struct {
		id *string
		to **page.Target
	}{{&t.Part, &t.On}, {&t.Anchor, &t.Beside}} {
		if *side.id == "" {
			continue
		}
		part, ok := p.Part(*side.id)
		if !ok {
			return t, refuse("The page has no part %q.", *side.id)
		}
		target := p.TargetOf(part)
		*side.to = &target
		*side.id = ""
	}
	return t, nil
}

// Conflict says that an operation's part is not on the page as it was when the change was made.
type Conflict struct {
	Part   string // the part's name
	Now    string // what its place holds now; empty where it is gone
	Like   string // where the same words stand, though nothing says that it is the same part; empty where nowhere
	Reason error  // page.ErrGone, page.ErrElsewhere, page.ErrTwoPlaces
}

func (c *Conflict) Error() string { return fmt.Sprintf("%s: %v", c.Part, c.Reason) }

func (c *Conflict) Unwrap() error { return c.Reason }

// As lets a conflict be taken for a refusal in words of its own.
func (c *Conflict) As(target any) bool {
	no, ok := target.(**refusal.Refusal)
	if ok {
		*no = refusal.New(refusal.Stale, "“%s”: %v", c.Part, c.Reason)
	}
	return ok
}

// Find finds t's parts on p, and says how sure it is. The error is a *Conflict.
func (t Targeted) Find(p *page.Page) (Op, page.Sure, error) {
	op, sure := t.Op, page.SamePlaceSameWords
	for _, side := range []struct {
		id *string
		on *page.Target
	}{{&op.Part, t.On}, {&op.Anchor, t.Beside}} {
		if side.on == nil {
			continue
		}
		part, s, err := p.Find(*side.on)
		if err != nil {
			c := &Conflict{Part: side.on.Name, Reason: err, Like: p.Saying(*side.on)}
			if part != nil {
				c.Now = part.Text
			}
			return op, s, c
		}
		*side.id = part.ID
		sure = min(sure, s)
	}
	return op, sure, nil
}

// Step is one change: operations that are applied at once. Its JSON form is the list of its operations.
type Step []Targeted

// AimAll turns operations whose IDs speak of p into a Step.
func AimAll(p *page.Page, ops []Op) (Step, error) {
	var s Step
	for _, op := range ops {
		t, err := Aim(p, op)
		if err != nil {
			return nil, err
		}
		s = append(s, t)
	}
	return s, nil
}

// Apply finds the step's parts on p and applies it. The error is a *Conflict or a *refusal.Refusal.
func (s Step) Apply(p *page.Page) (*Result, error) {
	ops, sure := make([]Op, len(s)), page.SamePlaceSameWords
	for i, t := range s {
		op, found, err := t.Find(p)
		if err != nil {
			return nil, err
		}
		ops[i], sure = op, min(sure, found)
	}
	r, err := Apply(p, ops)
	if err == nil {
		r.Sure = sure
	}
	return r, err
}

// Structural reports whether the step adds, moves or removes parts.
func (s Step) Structural() bool {
	for _, t := range s {
		switch t.Op.Op {
		case Insert, Copy, Move, Remove:
			return true
		}
	}
	return false
}
