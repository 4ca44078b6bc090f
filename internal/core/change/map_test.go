package change

import "testing"

// The page before is "abcdefgh"; "cd" became "XYZ", and "!" was put in before "g".
var twoEdits = MapOf([]Op{
	{Op: PutBack, At: 2, Gone: []byte("XYZ"), Back: []byte("cd")},
	{Op: PutBack, At: 7, Gone: []byte("!"), Back: nil},
})

func TestOffsetsGoWhereTheirBytesWent(t *testing.T) {
	const before, after = "abcdefgh", "abXYZef!gh"
	for at := range before {
		if at == 2 || at == 3 {
			continue // replaced
		}
		if got := twoEdits.Offset(at); after[got] != before[at] {
			t.Errorf("offset %d, %q, goes to %d, %q", at, before[at], got, after[got])
		}
	}
	if got := twoEdits.Offset(len(before)); got != len(after) {
		t.Errorf("the end goes to %d", got)
	}
}

func TestRangesAreFollowedUnlessSomethingReachesIn(t *testing.T) {
	for _, c := range []struct {
		start, end, at int // at: -1 where it is lost
	}{
		{0, 2, 0}, {4, 6, 5}, {6, 8, 8}, {2, 4, -1}, {1, 3, -1}, {3, 5, -1}, {4, 7, -1},
		{6, 6, -1}, // something was put in just there
		{5, 5, 6}, {2, 2, 2}, {4, 4, 5},
	} {
		start, end, ok := twoEdits.Range(c.start, c.end)
		if ok != (c.at >= 0) || ok && (start != c.at || end-start != c.end-c.start) {
			t.Errorf("%d to %d: %d to %d, %v", c.start, c.end, start, end, ok)
		}
	}
}

func TestAPartBeginsAfterWhatWasPutInAtItsBeginning(t *testing.T) {
	for _, c := range []struct {
		start, end, at int
		replaced       bool
	}{
		{0, 8, 0, false}, // edits in it
		{2, 6, 2, false}, // its own beginning was edited
		{6, 8, 8, false}, // "!" stands before it
		{5, 8, 6, false}, // "!" stands in it
		{2, 4, 3, true},
		{3, 4, 4, true},
		{4, 6, 5, false},
	} {
		at, replaced := twoEdits.Part(c.start, c.end)
		if at != c.at || replaced != c.replaced {
			t.Errorf("%d to %d begins at %d, replaced %v", c.start, c.end, at, replaced)
		}
	}
}
