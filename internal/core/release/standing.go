package release

import "bytes"

// Standing is what a host has at a path, beside what a step is to do there.
type Standing string

// The standings.
const (
	Old    Standing = "old"    // as it was before the step
	New    Standing = "new"    // as it is to be after it
	Torn   Standing = "torn"   // a write that broke off left it, or the putting back of one
	Theirs Standing = "theirs" // somebody else wrote it
)

// Judge tells what found is, where before was to become after; nil stands for no file. begun says that a write may
// have been begun: only then can what is neither be the rest of one that broke off. Hosts that write in place leave
// the beginning of the new file, with or without the end of the old one after it.
func Judge(found, before, after []byte, begun bool) Standing {
	switch {
	case same(found, after):
		return New
	case same(found, before):
		return Old
	case begun && found != nil && (broken(found, before, after) || broken(found, after, before)):
		return Torn
	}
	return Theirs
}

// same tells equal bytes, and no file from an empty one.
func same(a, b []byte) bool { return (a == nil) == (b == nil) && bytes.Equal(a, b) }

// broken reports whether found is what is left where from was overwritten by to and that broke off.
func broken(found, from, to []byte) bool {
	if to == nil {
		return false
	}
	n := 0
	for n < len(found) && n < len(to) && found[n] == to[n] {
		n++
	}
	return n == len(found) || n > 0 && len(found) == len(from) && bytes.Equal(found[n:], from[n:])
}
