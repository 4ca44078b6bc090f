// Package release holds the states of a release and of its steps, and what may be done in each. A release is one act
// of publishing: files written to a host one after the other, each old or new at any moment.
package release

import "mendry/internal/core/refusal"

// State of a release.
type State string

// The states. A release that undoes another one has the same; it is Live where all is put back.
const (
	Waiting   State = "waiting"    // to be run
	Running   State = "running"    // at least one file may have been written
	Stopped   State = "stopped"    // on the way, for a person to decide
	Live      State = "live"       // all is written, and to be seen
	Sure      State = "sure"       // seen to be right
	TakenBack State = "taken back" // another release put all of it back
	Left      State = "left"       // ended with nothing of it written
	ByHand    State = "by hand"    // a list that a person puts in
)

// Open reports whether a release still has files to write, so that no other one of its request may begin.
func (s State) Open() bool { return s == Waiting || s == Running || s == Stopped || s == ByHand }

// Runs reports whether Mendry works on a release by itself.
func (s State) Runs() bool { return s == Waiting || s == Running }

// StepState is how far a file has come.
type StepState string

// The states of a step.
const (
	StepWaiting   StepState = "waiting"
	StepWriting   StepState = "writing" // begun: old or new
	StepWritten   StepState = "written"
	StepFailed    StepState = "failed"     // neither old nor new stands there: somebody else's
	StepTakenBack StepState = "taken back" // put back by another release
	StepLeft      StepState = "left"       // never to be written
)

// Unwritten reports whether a step has not been written, as far as is known.
func (s StepState) Unwritten() bool { return s == StepWaiting || s == StepWriting || s == StepFailed }

// StepKind is what a step does to its file.
type StepKind string

// The kinds of steps.
const (
	Picture StepKind = "picture"
	File    StepKind = "file" // to download: a new one, or in the place of another
	Page    StepKind = "page"
	Remove  StepKind = "remove"
)

// What the last look at a file saw.
const (
	SeenRight = "right"
	SeenOld   = "old"   // of visitors: the page as it was before
	SeenWrong = "wrong" // something else
	SeenLater = "later" // a later release wrote the file again
)

// Act is what a person may do with a release.
type Act string

// The acts.
const (
	GoOn     Act = "go-on"     // write the rest, after looking at every file again
	TakeBack Act = "take-back" // put back all that was written
	PutRight Act = "put-right" // bring together what others wrote and what is to be written, and go on
	Leave    Act = "leave"     // end it as it is
	Look     Act = "look"      // look again whether it arrived
)

// Acts lists every act.
func Acts() []Act { return []Act{GoOn, PutRight, TakeBack, Leave, Look} }

// Facts are what the rules look at.
type Facts struct {
	State   State
	Undoes  bool // it puts another one back
	Failed  bool // somebody else's edit stands in the way of a step
	Undoing bool // a release that puts this one back is open
}

// May tells whether an act may be done to a release. The error is a refusal.
func May(f Facts, a Act) error {
	refuse := func(say string) error { return refusal.New(refusal.Rule, "The release is %s; %s.", f.State, say) }
	if f.Undoing && a != Look {
		return refusal.New(refusal.Rule, "The release is being undone. Finish that first.")
	}
	switch a {
	case GoOn:
		if f.State != Stopped {
			return refuse("there is nothing to go on with")
		}
	case Leave:
		if f.State != Stopped && f.State != ByHand {
			return refuse("there is nothing to leave")
		}
	case PutRight:
		switch {
		case f.State != Stopped || !f.Failed:
			return refuse("nobody else's edit stands in its way")
		case !f.Undoes: // what the client cleared is what is published
			return refusal.New(refusal.Rule, "What others changed was not cleared. Leave the release and take their page in: the proof then says whether the clearance still holds.")
		}
	case TakeBack:
		if f.Undoes {
			return refusal.New(refusal.Rule, "This release took another one back. Publish again instead.")
		}
		if f.State != Stopped && f.State != ByHand && f.State != Live && f.State != Sure {
			return refuse("it cannot be taken back now")
		}
	case Look:
		if f.State != Live && f.State != Sure && f.State != ByHand {
			return refuse("there is nothing to look at yet")
		}
	default:
		return refusal.New(refusal.Rule, "There is no such act.")
	}
	return nil
}
