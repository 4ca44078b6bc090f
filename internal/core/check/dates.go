package check

import (
	"fmt"
	"time"

	"mendry/internal/core/text"
)

// datesExist: a date must exist, and a named weekday must be right.
func datesExist(s *Subject) (fs []Finding) {
	n := 0
	for _, p := range s.spoken() {
		for _, d := range text.Dates(p.Text) {
			n++
			if why := d.Problem(); why != "" {
				fs = append(fs, Finding{Level: Stop, Part: p.ID, Words: d.Words, Say: fmt.Sprintf("“%s” cannot be: %s Ask the client which day is meant.", d.Words, why)})
			}
		}
	}
	if n > 0 && len(fs) == 0 {
		fs = append(fs, Finding{Level: Fine, Say: fmt.Sprintf("Every date in the changed words exists (%d looked at).", n)})
	}
	return fs
}

// datesPast: a promise must not lie in the past.
func datesPast(s *Subject) (fs []Finding) {
	if s.On.IsZero() {
		return nil
	}
	today := s.On.Truncate(24 * time.Hour)
	for _, p := range s.spoken() {
		for _, d := range text.Dates(p.Text) {
			if day, ok := d.On(s.On); ok && day.Before(today.Add(-24*time.Hour)) {
				fs = append(fs, Finding{Level: Look, Part: p.ID, Words: d.Words, Say: fmt.Sprintf("“%s” is past. Leave it if it tells of what was.", d.Words)})
			}
		}
	}
	return fs
}
