package release

import (
	"slices"
	"testing"
)

// Every state of a release has a way on, by itself or by somebody's act; the rules are the trade's: common practice,
// no source.
func TestNoStateIsADeadEnd(t *testing.T) {
	for _, f := range []struct {
		Facts
		acts []Act
	}{
		{Facts{State: Waiting}, nil},
		{Facts{State: Running}, nil},
		{Facts{State: Stopped}, []Act{GoOn, TakeBack, Leave}},
		{Facts{State: Stopped, Failed: true}, []Act{GoOn, TakeBack, Leave}},
		{Facts{State: Stopped, Undoes: true}, []Act{GoOn, Leave}},
		{Facts{State: Stopped, Undoes: true, Failed: true}, []Act{GoOn, PutRight, Leave}},
		{Facts{State: Stopped, Failed: true, Undoing: true}, nil},
		{Facts{State: ByHand}, []Act{TakeBack, Leave, Look}},
		{Facts{State: ByHand, Undoes: true}, []Act{Leave, Look}},
		{Facts{State: Live}, []Act{TakeBack, Look}},
		{Facts{State: Live, Undoing: true}, []Act{Look}},
		{Facts{State: Live, Undoes: true}, []Act{Look}},
		{Facts{State: Sure}, []Act{TakeBack, Look}},
		{Facts{State: TakenBack}, nil},
		{Facts{State: Left}, nil},
	} {
		var may []Act
		for _, a := range Acts() {
			if May(f.Facts, a) == nil {
				may = append(may, a)
			}
		}
		if !slices.Equal(may, f.acts) {
			t.Errorf("%+v: %v, want %v", f.Facts, may, f.acts)
		}
		if len(may) == 0 && !f.Undoing && !f.State.Runs() && f.State != TakenBack && f.State != Left {
			t.Errorf("%+v is a dead end", f.Facts)
		}
	}
	if May(Facts{State: Stopped}, "burn") == nil {
		t.Error("any act is allowed")
	}
}
