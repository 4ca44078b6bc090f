package release

import "testing"

// What open(2) with O_TRUNC, write(2) in pieces and a full disk leave of a file (POSIX.1-2017, open and write): a
// beginning of the new bytes; without O_TRUNC the old end stands after it.
func TestWhatAWriteThatBrokeOffLeavesIsNobodysEdit(t *testing.T) {
	old, now := []byte("<p>A single is 6.90.</p>\n"), []byte("<p>A single is 7.20 from May.</p>\n")
	for _, tt := range []struct {
		name   string
		found  []byte
		begun  bool
		before []byte
		after  []byte
		want   Standing
	}{
		{"old", old, false, old, now, Old},
		{"new", now, false, old, now, New},
		{"old, though begun", old, true, old, now, Old},
		{"nothing there yet", nil, true, nil, now, Old},
		{"taken away", nil, true, old, nil, New},
		{"still there", old, true, old, nil, Old},
		{"emptied by the write", []byte{}, true, old, now, Torn},
		{"emptied by somebody", []byte{}, false, old, now, Theirs},
		{"a beginning", now[:20], true, old, now, Torn},
		{"a beginning of a new file", now[:20], true, nil, now, Torn},
		{"a beginning, the old end after it", append(append([]byte{}, now[:16]...), old[16:]...), true, old, now, Torn},
		{"the putting back broke off", old[:18], true, old, now, Torn},
		{"a beginning that nobody here wrote", now[:20], false, old, now, Theirs},
		{"another word", []byte("<p>A single is 9.90.</p>\n"), true, old, now, Theirs},
		{"more after it", append(append([]byte{}, now...), "<!-- x -->"...), true, old, now, Theirs},
		{"taken away by somebody", nil, true, old, now, Theirs},
		{"another new file", []byte("GIF89a"), true, nil, now, Theirs},
		{"changed where it is to be taken away", []byte("other"), true, old, nil, Theirs},
	} {
		if got := Judge(tt.found, tt.before, tt.after, tt.begun); got != tt.want {
			t.Errorf("%s: %s, want %s", tt.name, got, tt.want)
		}
	}
}
