package check

import (
	"fmt"
	"regexp"
	"time"

	"mendry/internal/core/page"
	"mendry/internal/core/text"
)

// datesExist: a date must exist, and a named weekday must be right; also what a time element says to machines.
func datesExist(s *Subject) (fs []Finding) {
	n := 0
	for _, p := range s.spoken() {
		for _, d := range text.DatesIn(p.Text, s.After.Facts.Lang) {
			n++
			if why := d.Problem(); why != "" {
				fs = append(fs, Finding{Level: Stop, Part: p.ID, Words: d.Words,
					Say: fmt.Sprintf("“%s” cannot be: %s Ask the client which day is meant.", d.Words, why)})
			} else if why := d.Doubt(s.On); why != "" && !s.On.IsZero() {
				fs = append(fs, Finding{Level: Look, Part: p.ID, Words: d.Words,
					Say: fmt.Sprintf("“%s” is likely a slip: %s Ask the client which day is meant.", d.Words, why)})
			}
		}
		fs = append(fs, timesAgree(s.After, p)...)
	}
	if n > 0 && len(fs) == 0 {
		fs = append(fs, Finding{Level: Fine, Say: fmt.Sprintf("Every date in the changed words exists (%d looked at).", n)})
	}
	return fs
}

var machineDay = regexp.MustCompile(`^\s*\d{4}-\d{2}-\d{2}`)

// timesAgree looks at the time elements in a part (HTML, 4.5.14): the day in datetime exists, and is the day that is
// shown, where one is.
func timesAgree(in *page.Page, p *page.Part) (fs []Finding) {
	for _, n := range within(p) {
		if !n.Is("time") {
			continue
		}
		value := in.Doc.Value(n, "datetime")
		days := text.Dates(machineDay.FindString(value))
		if len(days) == 0 {
			continue
		}
		means := days[0]
		shown := text.DatesIn(in.TextOf(n), in.Facts.Lang)
		switch {
		case means.Problem() != "":
			fs = append(fs, Finding{Level: Stop, Part: p.ID, Words: value,
				Say: fmt.Sprintf("“%s”, which the page says to machines, cannot be: %s", value, means.Problem())})
		case len(shown) == 1 && shown[0].Problem() == "" && !sameDay(shown[0], means):
			fs = append(fs, Finding{Level: Stop, Part: p.ID, Words: shown[0].Words,
				Say: fmt.Sprintf("The page shows “%s” and says %s to machines. Make both the same day.", shown[0].Words, means.Words)})
		}
	}
	return fs
}

func sameDay(a, b text.Date) bool {
	return a.Day == b.Day && a.Month == b.Month && (a.Year == b.Year || a.Year == 0 || b.Year == 0)
}

// datesPast: a promise must not lie in the past.
func datesPast(s *Subject) (fs []Finding) {
	if s.On.IsZero() {
		return nil
	}
	today := time.Date(s.On.Year(), s.On.Month(), s.On.Day(), 0, 0, 0, 0, s.On.Location())
	for _, p := range s.spoken() {
		for _, d := range text.Promises(p.Text, s.After.Facts.Lang, s.On) {
			if d.Last.Before(today) {
				fs = append(fs, Finding{Level: Look, Part: p.ID, Words: d.Words,
					Say: fmt.Sprintf("“%s” is past. Leave it if it tells of what was.", d.Words)})
			}
		}
	}
	return fs
}
