package request

import (
	"strings"
	"testing"
)

// The rules are the trade's: common practice, no source.
func TestMoves(t *testing.T) {
	tests := []struct {
		name string
		f    Facts
		to   State
		why  string // "" where the move is allowed
	}{
		{"place", Facts{State: New, Wishes: 2, Placed: 1}, Placed, ""},
		{"place nothing", Facts{State: New, Wishes: 2}, Placed, "no wish has a place"},
		{"show nothing", Facts{State: InHand}, WithClient, "nothing is kept"},
		{"clear", Facts{State: WithClient, Kept: 2, Right: 2, Signed: true}, Cleared, ""},
		{"clear unsigned", Facts{State: WithClient, Kept: 2, Right: 2}, Cleared, "has not signed"},
		{"clear with a not yet", Facts{State: WithClient, Kept: 2, Right: 1, NotYet: 1, Signed: true}, Cleared, "not yet"},
		{"clear with one unanswered", Facts{State: WithClient, Kept: 2, Right: 1, Signed: true}, Cleared, "1 of 2"},
		{"the maintainer may clear", Facts{State: InHand, Kept: 1, MayClear: true}, Cleared, ""},
		{"live without clearance", Facts{State: WithClient}, Live, "not cleared"},
		{"live with changes left", Facts{State: Cleared, Kept: 1}, Live, "kept, not live"},
		{"live", Facts{State: Cleared, Live: 3}, Live, ""},
		{"sign off", Facts{State: Live, Live: 3, Signed: true}, SignedOff, ""},
		{"sign off unsigned", Facts{State: Live, Live: 3}, SignedOff, "not signed"},
		{"decline what is live", Facts{State: Live, Live: 3}, Declined, "take them back"},
		{"hold what is done", Facts{State: SignedOff}, OnHold, "signed off"},
		{"nowhere", Facts{State: New}, "melted", "no state"},
	}
	for _, tt := range tests {
		err := Move(tt.f, tt.to)
		if tt.why == "" && err != nil || tt.why != "" && (err == nil || !strings.Contains(err.Error(), tt.why)) {
			t.Errorf("%s: %v", tt.name, err)
		}
	}
}
