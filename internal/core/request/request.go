// Package request holds the rules of what a client asks for: the states of a request and of its wishes, and who may
// move them.
package request

import "fmt"

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

// Facts are what the rules look at.
type Facts struct {
	State    State
	Wishes   int // all
	Placed   int // with a place on the site
	Open     int // neither done, declined nor impossible
	Kept     int // changes kept, not live
	Live     int // changes that are live
	Right    int // changes that the client called right in the last round
	NotYet   int // changes that the client called not yet in the last round
	Signed   bool
	MayClear bool // the client's terms let the maintainer clear
}

// Move tells whether a request may go from its state to another one. The error says why not, in words.
func Move(f Facts, to State) error {
	if f.State == to {
		return nil
	}
	switch to {
	case OnHold, Declined:
		if f.State == SignedOff {
			return fmt.Errorf("the request is signed off; what is done stays done")
		}
		if to == Declined && f.Live > 0 {
			return fmt.Errorf("%d of its changes are live; take them back first", f.Live)
		}
		return nil
	case New:
		if f.Placed > 0 {
			return fmt.Errorf("%d of its wishes have a place already", f.Placed)
		}
		return nil
	case Placed:
		if f.Placed == 0 {
			return fmt.Errorf("no wish has a place on the site yet")
		}
		return nil
	case InHand:
		if f.State == SignedOff {
			return fmt.Errorf("the request is signed off; start a new one")
		}
		return nil
	case WithClient:
		if f.Kept == 0 {
			return fmt.Errorf("nothing is kept that the client could look at")
		}
		return nil
	case Cleared:
		return clear(f)
	case Live:
		if f.State != Cleared && f.State != SignedOff && f.State != Live {
			return fmt.Errorf("the changes are not cleared yet")
		}
		if f.Kept > 0 {
			return fmt.Errorf("%d changes are kept, not live", f.Kept)
		}
		return nil
	case SignedOff:
		if f.Kept > 0 {
			return fmt.Errorf("%d changes are kept, not live", f.Kept)
		}
		if !f.Signed && !f.MayClear {
			return fmt.Errorf("the client has not signed")
		}
		if f.Live == 0 {
			return fmt.Errorf("nothing of it is live")
		}
		return nil
	}
	return fmt.Errorf("there is no state %q", to)
}

func clear(f Facts) error {
	switch {
	case f.Kept == 0:
		return fmt.Errorf("nothing is kept that could be cleared")
	case f.MayClear:
		return nil
	case f.NotYet > 0:
		return fmt.Errorf("the client said “not yet” to %d of the changes", f.NotYet)
	case f.Right < f.Kept:
		return fmt.Errorf("the client has not called all changes right: %d of %d", f.Right, f.Kept)
	case !f.Signed:
		return fmt.Errorf("the client has not signed")
	}
	return nil
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
