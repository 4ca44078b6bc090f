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
		by   By
		why  string // "" where the move is allowed
	}{
		{"place", Facts{State: New, Wishes: 2, Placed: 1}, Placed, Work, ""},
		{"place nothing", Facts{State: New, Wishes: 2}, Placed, Work, "no wish has a place"},
		{"place what is in hand", Facts{State: InHand, Placed: 1}, Placed, Work, "has begun"},
		{"placed by hand", Facts{State: New, Placed: 1}, Placed, Studio, "by the work on it"},
		{"go back to new", Facts{State: InHand}, New, Work, "no state"},
		{"work on it", Facts{State: Placed}, InHand, Work, ""},
		{"work on what is held", Facts{State: OnHold}, InHand, Work, "take it up again"},
		{"work on what is declined", Facts{State: Declined}, InHand, Work, "take it up again"},
		{"take up again", Facts{State: OnHold}, InHand, Studio, ""},
		{"work on what is signed off", Facts{State: SignedOff, Live: 1}, InHand, Work, "signed off"},
		{"take back what is signed off", Facts{State: SignedOff, TakenBack: true}, InHand, Work, ""},
		{"take back what is held", Facts{State: OnHold, TakenBack: true}, InHand, Work, ""},
		{"show", Facts{State: InHand, Kept: 1}, WithClient, Work, ""},
		{"show nothing", Facts{State: InHand}, WithClient, Work, "nothing is kept"},
		{"show what is held", Facts{State: OnHold, Kept: 1}, WithClient, Work, "on hold"},
		{"shown without a proof", Facts{State: InHand, Kept: 1}, WithClient, Studio, "by the work on it"},
		{"clear", Facts{State: WithClient, Kept: 2, Right: 2, Signed: true}, Cleared, Client, ""},
		{"clear unsigned", Facts{State: WithClient, Kept: 2, Right: 2}, Cleared, Client, "has not signed"},
		{"clear with a not yet", Facts{State: WithClient, Kept: 2, Right: 1, NotYet: 1, Signed: true}, Cleared, Client, "not yet"},
		{"clear with one unanswered", Facts{State: WithClient, Kept: 2, Right: 1, Signed: true}, Cleared, Client, "1 of 2"},
		{"clear nothing", Facts{State: WithClient, Signed: true}, Cleared, Client, "nothing is kept"},
		{"show on the way", Facts{State: InHand, Kept: 1, Going: 1}, WithClient, Work, "under way"},
		{"clear on the way", Facts{State: InHand, Kept: 1, Going: 1, MayClear: true}, Cleared, Studio, "under way"},
		{"clear what is declined", Facts{State: Declined, Kept: 1, MayClear: true}, Cleared, Studio, "declined"},
		{"the maintainer may clear", Facts{State: InHand, Kept: 1, MayClear: true}, Cleared, Studio, ""},
		{"the maintainer may not clear", Facts{State: InHand, Kept: 1, Right: 1, Signed: true}, Cleared, Studio, "themselves"},
		{"not yet", Facts{State: WithClient, Kept: 1, NotYet: 1}, InHand, Client, ""},
		{"the client puts it live", Facts{State: WithClient, Live: 1}, Live, Client, "makes no request"},
		{"live with changes left", Facts{State: Cleared, Kept: 1, Live: 1}, Live, Work, "kept, not live"},
		{"live with changes on the way", Facts{State: Cleared, Going: 1, Live: 1}, Live, Work, "kept, not live"},
		{"live with nothing", Facts{State: Cleared}, Live, Work, "nothing of it"},
		{"live on hold", Facts{State: OnHold, Live: 1}, Live, Work, "on hold"},
		{"live after it was signed off", Facts{State: SignedOff, Live: 1}, Live, Work, "signed off"},
		{"live", Facts{State: Cleared, Live: 3}, Live, Work, ""},
		{"live by hand", Facts{State: Cleared, Live: 3}, Live, Studio, "by the work on it"},
		{"sign off", Facts{State: Live, Live: 3, Signed: true}, SignedOff, Studio, ""},
		{"sign off by terms", Facts{State: Live, Live: 3, MayClear: true}, SignedOff, Studio, ""},
		{"sign off unsigned", Facts{State: Live, Live: 3}, SignedOff, Studio, "not signed"},
		{"sign off what is kept", Facts{State: Live, Live: 3, Kept: 1, Signed: true}, SignedOff, Studio, "kept, not live"},
		{"sign off on the way", Facts{State: Cleared, Live: 3, Going: 1, Signed: true}, SignedOff, Studio, "kept, not live"},
		{"sign off nothing", Facts{State: Live, Signed: true}, SignedOff, Studio, "nothing of it"},
		{"decline", Facts{State: New}, Declined, Studio, ""},
		{"decline what is live", Facts{State: Live, Live: 3}, Declined, Studio, "take them back"},
		{"hold", Facts{State: Live, Live: 3}, OnHold, Studio, ""},
		{"hold what goes out", Facts{State: Cleared, Going: 1}, OnHold, Studio, "under way"},
		{"hold what is done", Facts{State: SignedOff}, OnHold, Studio, "signed off"},
		{"decline what is done", Facts{State: SignedOff}, Declined, Studio, "signed off"},
		{"stay", Facts{State: SignedOff}, SignedOff, Work, ""},
		{"nowhere", Facts{State: New}, "melted", Work, "no state"},
	}
	for _, tt := range tests {
		err := Move(tt.f, tt.to, tt.by)
		if tt.why == "" && err != nil || tt.why != "" && (err == nil || !strings.Contains(err.Error(), tt.why)) {
			t.Errorf("%s: %v", tt.name, err)
		}
	}
}
