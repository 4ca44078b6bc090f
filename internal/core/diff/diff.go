// Package diff tells what became of words and of runs of alike things: what stayed, what is gone, what is new.
package diff

// Is says what became of a run.
type Is string

// What became of a run.
const (
	Same Is = "same"
	Gone Is = "gone"
	New  Is = "new"
)

// Run is a stretch of text and what became of it.
type Run struct {
	Is   Is     `json:"is"`
	Text string `json:"text"`
}

// Op is one step of an edit script: N items that stayed, are gone or are new.
type Op struct {
	Is Is
	N  int
}
