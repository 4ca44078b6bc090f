package change_test

import (
	"fmt"
	"testing"

	"mendry/internal/core/change"
)

// What a change replaced, in which other words it stands, and where that surely means the same: common practice, no
// source.
func TestWhatWasReplacedMayStandElsewhere(t *testing.T) {
	t.Parallel()
	for _, c := range []struct{ before, after, there, want string }{
		{"A single is £6.90.", "A single is £7.40.", "Dogs: 6.90 GBP", "6.90 GBP, sure, becomes Dogs: £7.40"},
		{"Call 01632 960199", "Call 01632 960110", "Ring 960 199!", ""},
		{"Call 01632 960199", "Call 01632 960110", "Ring 960199!", "960199, sure, becomes Ring 960110!"},
		{"Call 01632 960199", "Call 01632 960110", "+44 1632 960199", "+44 1632 960199, sure, becomes 01632 960110"},
		{"Call 960199", "Call 960110", "Ring 01632 960 199 or 960199", "960 199, sure, becomes Ring 01632 960110 or 960110"},
		{"It has 14 berths", "It has 15 berths", "KW-14 sails", ""},
		{"It has 14 berths", "It has 15 berths", "14 berths, 14 lights", "14, sure, becomes 15 berths, 15 lights"},
		{"It has 14 berths", "It has 15 berths", "14 days", "14, unsure, becomes 15 days"},
		{"Until 8 November", "Until 9 November", "on 8 November 2026", "8 November 2026, unsure, becomes on 9 November"},
		{"Until 8 November 2026", "Until 9 November 2026", "on 8 November 2026", "8 November 2026, sure, becomes on 9 November 2026"},
		{"within two days", "within one day", "Within Two days", "Two days, sure, becomes Within One day"},
		{"Dogs are welcome. On a lead.", "Dogs travel free. On a lead.", "We say: dogs are welcome.", "are welcome, sure, becomes We say: dogs travel free."},
		{"All dogs are welcome here. Bye.", "No dogs may come. Bye.", "Hello. All dogs are welcome here.", "All dogs are welcome here., sure, becomes Hello. No dogs may come."},
		{"the harbour", "the quay", "A harbour; harbours", "harbour, unsure, becomes A quay; harbours"},
		{"Write to desk@ferry.example", "Write to quay@ferry.example", "Desk@ferry.example", "Desk@ferry.example, sure, becomes quay@ferry.example"},
		{"one", "two", "one", ""},
		{"same", "same", "same", ""},
	} {
		got := ""
		for _, s := range change.Swaps(c.before, c.after) {
			found := s.In(c.there)
			if len(found) == 0 {
				continue
			}
			sure := "unsure"
			if s.Sure(c.there, found[0]) {
				sure = "sure"
			}
			got = fmt.Sprintf("%s, %s, becomes %s", c.there[found[0].Start:found[0].End], sure, s.Into(c.there, found))
			break
		}
		if got != c.want {
			t.Errorf("%q becomes %q; %q: %q, want %q", c.before, c.after, c.there, got, c.want)
		}
	}
	for _, c := range []struct{ before, after, want string }{
		{"All dogs are welcome here. Bye.", "No dogs may come. Bye.", "are welcome here"},
		{"A single is £6.90 for all of you. Bye.", "A single is £7.40 for most of you. Bye.", "£6.90"},
		{"The boat sails at nine. It comes back at noon.", "The blue boat sails at nine. It comes back well before noon.", "The boat sails at nine."},
		{"same", "same", ""},
	} {
		s, ok := change.Foremost(change.Swaps(c.before, c.after))
		if s.Old != c.want || ok != (c.want != "") {
			t.Errorf("what %q lost to %q is called %q, %v, want %q", c.before, c.after, s.Old, ok, c.want)
		}
	}
	s := change.Swaps("Call 01632 960199", "Call 01632 960110")[0]
	for href, want := range map[string]bool{"tel:+441632960199": true, "tel:01632-960199": true, "tel:+441632960110": false, "/960199.html": false, "mailto:a@b.example": false} {
		if s.Reached(href) != want {
			t.Errorf("%s: %v", href, !want)
		}
	}
}
