package text

import (
	"strings"
	"testing"
	"time"
)

// What is read as a date that cannot be, and what is none. Days of a month: RFC 3339, section 5.7. Which of day and
// month comes first, and the names of months: Unicode CLDR, from memory; that a number before a unit is no day: common
// practice, no source. Weekdays by Zeller's congruence, worked by hand.
func TestDatesInManyForms(t *testing.T) {
	t.Parallel()
	for _, c := range []struct{ lang, text, want string }{
		{"en-GB", "until 31/04/2027", "31/04/2027: April has 30 days."},
		{"en", "until 31/04/2027.", "31/04/2027: April has 30 days."},
		{"", "until 31.4.2027", "31.4.2027: April has 30 days."},
		{"en", "closed 30-02-2027", "30-02-2027: February has 28 days."},
		{"en", "on 13/13/2027", "13/13/2027: There is no month 13."},
		{"en-US", "on 13/13/2027", "13/13/2027: There is no month 13."},
		{"en-US", "on 04/31/2027", "04/31/2027: April has 30 days."},
		{"en-US", "on 04/30/2027", "04/30/2027: "},
		{"en-GB", "on 12/25/2026", "12/25/2026: There is no month 25."},
		{"en", "on 12/25/2026", "12/25/2026: "},
		{"de", "am 31.06.2027", "31.06.2027: June has 30 days."},
		{"de", "am 31.6.", "31.6.: June has 30 days."},
		{"de", "bis 30. Februar", "30. Februar: February has 29 days."},
		{"de", "bis zum 31. November 2026", "31. November 2026: November has 30 days."},
		{"de", "Montag, den 24. November 2026", "Montag, den 24. November 2026: 24 November 2026 is a Tuesday."},
		{"de", "Dienstag, 24. November 2026", "Dienstag, 24. November 2026: "},
		{"de", "Sonnabend, den 1. Januar 2000", "Sonnabend, den 1. Januar 2000: "},
		{"de", "am 5. März und 7. Mai", "5. März: ; 7. Mai: "},
		{"fr", "jusqu’au 31 novembre 2026", "31 novembre 2026: November has 30 days."},
		{"fr", "le 1er mars 2027", "1er mars 2027: "},
		{"fr", "le 31 juin", "31 juin: June has 30 days."},
		{"fr", "le 14 juillet", "14 juillet: "},
		{"fr", "lundi 24 novembre 2026", "lundi 24 novembre 2026: 24 November 2026 is a Tuesday."},
		{"fr", "le 30 février", "30 février: February has 29 days."},
		{"fr", "le 32 août 2027", "32 août 2027: August has 31 days."},
		{"en", "Sunday 29 November 2026", "Sunday 29 November 2026: "},
		{"en", "Thurs 26 November 2026", "Thurs 26 November 2026: "},
		{"en", "Tues. 26 November 2026", "Tues. 26 November 2026: 26 November 2026 is a Thursday."},
		{"en", "Wednesday, 25th of November, 2026", "Wednesday, 25th of November, 2026: "},
		{"en", "45 May 2027", "45 May 2027: May has 31 days."},
		{"en", "Until May 31", "May 31: "},
		{"en", "from march 3 on", "march 3: "},
		{"en", "open until 31 june", "31 june: June has 30 days."},
		{"en", "on 6 may", "6 may: "},
		{"en", "1–5 November and 6 or 31 November", "5 November: ; 31 November: November has 30 days."},
		{"en", "2027-02-29", "2027-02-29: February 2027 has 28 days."},
		{"en", "12/31/26", "12/31/26: "},
		{"en", "31/12/26", "31/12/26: "},
		// none of these is a date
		{"en", "In March 50 miles were walked", ""},
		{"en", "March 20 miles a day", ""},
		{"en", "We may 31 times be asked", ""},
		{"en", "they may 3 or 4 times", ""},
		{"en", "Route 66 may 40", ""},
		{"en", "Route 6 may close", ""},
		{"en", "Room 12 may be booked", ""},
		{"en", "1.234,50 € may", ""},
		{"en", "version 1.2.34 or 10.0.0.1", ""},
		{"en", "1/2/3 of it", ""},
		{"en", "call 01632 96-01-2027", ""},
		{"en", "part 99-99-99", ""},
		{"en", "May 10.30 suit you?", ""},
		{"en", "May 5% of it", ""},
		{"en", "12 Mars bars", ""},
		{"en", "a sept of 12 or a jan", ""},
		{"de", "Kapitel 3.2.1 und 4.5", ""},
		{"fr", "12 marches", ""},
		{"en", "June 40 of them", ""},
	} {
		var got []string
		for _, d := range DatesIn(c.text, c.lang) {
			got = append(got, d.Words+": "+d.Problem())
		}
		if strings.Join(got, "; ") != c.want {
			t.Errorf("%s %q: %q, want %q", c.lang, c.text, strings.Join(got, "; "), c.want)
		}
	}
}

// What is past on Tuesday, 24 November 2026. Seasons: whole months, as weather services count them; the rest is common
// practice, no source.
func TestWhatIsPromisedThoughItIsPast(t *testing.T) {
	t.Parallel()
	auckland, err := time.LoadLocation("Pacific/Auckland")
	if err != nil {
		t.Fatal(err)
	}
	for _, c := range []struct {
		lang, text, want string
		south            bool
	}{
		{"en", "Open until 8 November.", "8 November", false},
		{"en", "Open until the end of October 2026.", "the end of October 2026", false},
		{"en", "Bookings close end of October 2026", "end of October 2026", false},
		{"en", "We reopen in spring 2025.", "spring 2025", false},
		{"en", "The new boat comes in October 2026.", "October 2026", false},
		{"en", "Join us 1–5 November.", "1–5 November", false},
		{"en", "from 1 to 5 November 2026", "1 to 5 November 2026", false},
		{"en", "Half term: 24 October – 1 November", "24 October – 1 November", false},
		{"en", "between 3 and 9 November", "3 and 9 November", false},
		{"en", "Valid until 31/10/2026", "31/10/2026", false},
		{"en", "Winter 2024/25 timetable", "Winter 2024/25", false},
		{"en", "Prices for 2025", "Prices for 2025", false},
		{"en", "2024 season", "2024 season", false},
		{"de", "Geöffnet bis Ende Oktober 2026", "Ende Oktober 2026", false},
		{"de", "bis zum 8. November", "8. November", false},
		{"de", "im Frühjahr 2026 wieder da", "Frühjahr 2026", false},
		{"fr", "jusqu’au 8 novembre", "8 novembre", false},
		{"fr", "ouvert jusqu’à fin octobre 2026", "fin octobre 2026", false},
		{"en", "Apply by mid-November 2026", "mid-November 2026", false},
		{"en", "See you in spring 2026.", "", true}, // which lasts until the end of November there
		{"en", "See you in spring 2026.", "spring 2026", false},
		{"en", "Open this winter 2026", "winter 2026", true},
		// nothing of this is past, or a promise
		{"en", "Open until 8 December.", "", false},
		{"en", "Winter fares from 1 October", "", false},
		{"en", "Since 3 May 2019 we sail daily.", "", false},
		{"en", "The pier was opened on 3 May 2019.", "", false},
		{"en", "Founded in October 1987, still here.", "", false},
		{"en", "She joined us on 1 September 2024.", "", false},
		{"en", "The first ferry sailed on 14 June 1911 and carried cattle.", "", false},
		{"en", "Posted 12 November 2026", "", false},
		{"en", "© 2 May 2020 Larkspur", "", false},
		{"en", "Sailings 1 November to 31 December", "", false},
		{"en", "From 20 November until 3 December 2026", "", false},
		{"en", "20–30 November", "", false},
		{"en", "Open 1 April to 30 September, every day", "", false},
		{"en", "in November 2026", "", false},
		{"en", "late November 2026", "", false},
		{"en", "Winter 2026/27 timetable", "", false},
		{"en", "summer 2027", "", false},
		{"en", "Prices for 2027", "", false},
		{"en", "winter 2026", "", false},
		{"de", "seit 3. Mai 2019", "", false},
		{"fr", "dès le 1er octobre", "", false},
		{"en", "It was built in 1890. Open until 8 November.", "8 November", false},
	} {
		now := time.Date(2026, 11, 24, 9, 0, 0, 0, time.UTC)
		if c.south {
			now = now.In(auckland)
		}
		today := time.Date(now.Year(), now.Month(), now.Day(), 0, 0, 0, 0, now.Location())
		var got []string
		for _, p := range Promises(c.text, c.lang, now) {
			if p.Last.Before(today) {
				got = append(got, p.Words)
			}
		}
		if strings.Join(got, "; ") != c.want {
			t.Errorf("%s %q: %q, want %q", c.lang, c.text, strings.Join(got, "; "), c.want)
		}
	}
}

func TestAWeekdayIsRightInTheYearThatIsMeant(t *testing.T) {
	t.Parallel()
	now := time.Date(2026, 11, 24, 9, 0, 0, 0, time.UTC)
	for words, want := range map[string]string{
		"Monday 30 November":  "",
		"Tuesday 30 November": "30 November 2026 is a Monday.",
		"Sat 2 January":       "",
		"Sun 2 January":       "2 January 2027 is a Saturday.",
	} {
		if got := Dates(words)[0].Doubt(now); got != want {
			t.Errorf("%s: %q, want %q", words, got, want)
		}
	}
}
