// Package refusal is the one way to say no: why, as a kind that a program decides by, and in words for the person who
// works. An error that is no refusal is a fault of the house: it is logged and not shown.
package refusal

import (
	"errors"
	"fmt"
)

// Why is the kind of a refusal.
type Why int

// The kinds.
const (
	Rule      Why = iota // the rules do not allow it, or it cannot be done safely
	Nothing              // there is no such thing, or no longer
	Stale                // somebody or something else was faster; look again
	Forbidden            // who asks may not
	TooMany              // too often, or too many at once
	Away                 // a host or another service outside did not do its part
)

// Refusal is a no.
type Refusal struct {
	Why Why
	Say string // whole sentences: what is so, and what to do
}

func (r *Refusal) Error() string { return r.Say }

// New refuses for a reason, in words as fmt.Sprintf makes them.
func New(why Why, format string, args ...any) *Refusal {
	return &Refusal{why, fmt.Sprintf(format, args...)}
}

// Of finds the refusal in an error, nil where it is none.
func Of(err error) *Refusal {
	var r *Refusal
	if errors.As(err, &r) {
		return r
	}
	return nil
}

// Is reports whether an error is a refusal of a kind.
func Is(err error, why Why) bool {
	r := Of(err)
	return r != nil && r.Why == why
}
