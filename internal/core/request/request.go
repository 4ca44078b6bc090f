// Package request holds the rules of what a client asks for: the states of a request and of its wishes, and who may
// move them.
package request

import (
	"fmt"
	"slices"

	"mendry/internal/core/refusal"
)

// State of a request.
type State string

// The states, in the order of the work.
const (
	New        State = "new"
	Placed     State = "placed"
	InHand     State = "in hand"
	WithClient State = "with client"
	Cleared    State = "cleared"
	Live       State = "live"
	SignedOff  State = "signed off"
	OnHold     State = "on hold"
	Declined   State = "declined"
)

// WishState is what became of a wish.
type WishState string

// The states of a wish.
const (
	Open       WishState = "open"
	Done       WishState = "done"
	Refused    WishState = "declined"
	Impossible WishState = "impossible"
)

// By is whose act moves a request.
type By int

// A person of the studio chooses a state; the client answers a proof; the work itself moves it: a wish that is placed,
// a page that is changed, a proof that is sent, a release that is live or taken back.
const (
	Studio By = iota
	Client
	Work
)

// Facts are what the rules look at.
type Facts struct {
	State     State
	Wishes    int // all
	Placed    int // with a place on the site
	Open      int // neither done, declined nor impossible
	Kept      int // changes kept, not live
	Going     int // changes that a release carries
	Live      int // changes that are live
	Right     int // changes that the client called right in the last round
	NotYet    int // changes that the client called not yet in the last round
	Signed    bool
	MayClear  bool // the client's terms let the maintainer clear
	TakenBack bool // something of it that was live was just taken back
}

// Chosen are the states that a person of the studio may choose.
func Chosen() []State { return []State{OnHold, Declined, InHand, Cleared, SignedOff} }

// Move tells whether a request may go from its state to another one. The error is a refusal that says why not.
func Move(f Facts, to State, by By) error {
	if f.State == to {
		return nil
	}
	if why := whyNot(f, to, by); why != "" {
		return refusal.New(refusal.Rule, "This cannot be done: %s.", why)
	}
	return nil
}

func whyNot(f Facts, to State, by By) string {
	if by == Studio && !slices.Contains(Chosen(), to) {
		return fmt.Sprintf("a request becomes “%s” by the work on it", to)
	}
	if by == Client && to != Cleared && to != InHand {
		return fmt.Sprintf("the client’s answer makes no request “%s”", to)
	}
	switch to {
	case OnHold, Declined:
		switch {
		case f.State == SignedOff:
			return "the request is signed off; what is done stays done"
		case f.Going > 0:
			return "a release of it is under way; finish it first"
		case to == Declined && f.Live > 0:
			return fmt.Sprintf("%d of its changes are live; take them back first", f.Live)
		}
		return ""
	case Placed:
		switch {
		case f.State != New:
			return "the work on it has begun already"
		case f.Placed == 0:
			return "no wish has a place on the site yet"
		}
		return ""
	case InHand:
		switch {
		case f.State == SignedOff && !f.TakenBack:
			return "the request is signed off; start a new one"
		case by == Work && !f.TakenBack && (f.State == OnHold || f.State == Declined):
			return fmt.Sprintf("the request is %s; take it up again before you change anything", f.State)
		}
		return ""
	case WithClient:
		switch {
		case f.State.rests():
			return fmt.Sprintf("the request is %s", f.State)
		case f.Going > 0:
			return "a release of it is under way; finish it first"
		case f.Kept == 0:
			return "nothing is kept that the client could look at"
		}
		return ""
	case Cleared:
		return whyNotClear(f, by)
	case Live:
		switch {
		case f.State.rests():
			return fmt.Sprintf("the request is %s", f.State)
		case f.Kept+f.Going > 0:
			return fmt.Sprintf("%d changes are kept, not live", f.Kept+f.Going)
		case f.Live == 0:
			return "nothing of it is live"
		}
		return ""
	case SignedOff:
		switch {
		case f.Kept+f.Going > 0:
			return fmt.Sprintf("%d changes are kept, not live", f.Kept+f.Going)
		case !f.Signed && !f.MayClear:
			return "the client has not signed"
		case f.Live == 0:
			return "nothing of it is live"
		}
		return ""
	}
	return fmt.Sprintf("there is no state “%s” to go to", to)
}

// rests reports whether nobody works on a request in this state.
func (s State) rests() bool { return s == SignedOff || s == OnHold || s == Declined }

func whyNotClear(f Facts, by By) string {
	switch {
	case f.State.rests():
		return fmt.Sprintf("the request is %s", f.State)
	case f.Going > 0:
		return "a release of it is under way; finish it first"
	case f.Kept == 0:
		return "nothing is kept that could be cleared"
	case by == Studio && f.MayClear:
		return ""
	case by == Studio:
		return "this client clears changes themselves; send the proof"
	case f.NotYet > 0:
		return fmt.Sprintf("the client said “not yet” to %d of the changes", f.NotYet)
	case f.Right < f.Kept:
		return fmt.Sprintf("the client has not called all changes right: %d of %d", f.Right, f.Kept)
	case !f.Signed:
		return "the client has not signed"
	}
	return ""
}

// NextMove is what a person has to do with a request in this state, in words for the start page.
func NextMove(s State) string {
	switch s {
	case New, Placed:
		return "Read and place"
	case InHand:
		return "On the bench"
	case WithClient:
		return "With the client"
	case Cleared:
		return "Ready to go live"
	case Live:
		return "Live, to be signed off"
	case OnHold:
		return "On hold"
	}
	return "Finished"
}
