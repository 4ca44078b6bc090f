package text

import (
	"testing"
	"time"
)

// The calendar: Gregorian rules as in RFC 3339, appendix C and section 5.7 (days in each month, leap years). Weekdays
// of 1 January 2000 (Saturday) and 24 November 2026 (Tuesday) by Zeller's congruence, worked by hand.
func TestDatesThatCannotBe(t *testing.T) {
	tests := []struct{ text, words, problem string }{
		{"the extra sailing on 31 November.", "31 November", "November has 30 days."},
		{"until 30 June 2026", "30 June 2026", ""},
		{"until 31st June", "31st June", "June has 30 days."},
		{"on 29 February 2027", "29 February 2027", "February 2027 has 28 days."},
		{"on 29 February 2028", "29 February 2028", ""},
		{"on 29 February 1900", "29 February 1900", "February 1900 has 28 days."},
		{"on 29 February 2000", "29 February 2000", ""},
		{"from Feb. 30, 2027", "Feb. 30, 2027", "February has 28 days."},
		{"Monday 24 November 2026", "Monday 24 November 2026", "24 November 2026 is a Tuesday."},
		{"Tuesday, November 24th, 2026", "Tuesday, November 24th, 2026", ""},
		{"Sat 1 January 2000", "Sat 1 January 2000", ""},
		{"2026-11-31", "2026-11-31", "November has 30 days."},
		{"2026-13-01", "2026-13-01", "There is no month 13."},
		{"0 May", "0 May", "May has 31 days."},
	}
	for _, tt := range tests {
		ds := Dates(tt.text)
		if len(ds) != 1 || ds[0].Words != tt.words || ds[0].Problem() != tt.problem {
			t.Errorf("%q: %+v", tt.text, ds)
			if len(ds) == 1 {
				t.Errorf("  %q", ds[0].Problem())
			}
		}
	}
}

func TestWhatIsNoDateIsLeft(t *testing.T) {
	for _, s := range []string{"£6.90 for 10 trips", "12 marches", "maybe 3", "call 01632 960110", "in May"} {
		if ds := Dates(s); len(ds) != 0 {
			t.Errorf("%q: %+v", s, ds)
		}
	}
}

func TestADayWithoutAYearIsTheNearestOne(t *testing.T) {
	now := time.Date(2026, 11, 24, 12, 0, 0, 0, time.UTC)
	for s, want := range map[string]string{"1 December": "2026-12-01", "8 November": "2026-11-08", "3 January": "2027-01-03"} {
		if got, ok := Dates(s)[0].On(now); !ok || got.Format(time.DateOnly) != want {
			t.Errorf("%s: %v", s, got)
		}
	}
}

func FuzzRunningText(f *testing.F) {
	f.Add("Mon 30 Feb 2027, 2026-13-40 and the 31st of November; [tab a=\"b\"]x[/tab] {{ y }} {% z %} <?php ?> %%A%%")
	f.Fuzz(func(t *testing.T, s string) {
		at := 0
		for _, d := range Dates(s) {
			if d.Start < 0 || d.End > len(s) || d.Start >= d.End {
				t.Errorf("%q: date %+v", s, d)
			}
			d.Problem()
		}
		for _, k := range Tokens(s) {
			if k.Start < at || k.End > len(s) || k.Start >= k.End {
				t.Errorf("%q: token %+v", s, k)
			}
			at = k.Start
		}
	})
}
