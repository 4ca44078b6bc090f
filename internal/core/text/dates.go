// Package text reads what people write in running text: dates, for now.
package text

import (
	"fmt"
	"regexp"
	"strconv"
	"strings"
	"time"
)

// Date is a date as it stands in running text. Year is 0 where none is written.
type Date struct {
	Words      string
	Start, End int // bytes of the text
	Day        int
	Month      time.Month
	Year       int
	Weekday    string // as written, empty where none
}

const (
	days   = `(?:(mon|tues|wednes|thurs|fri|satur|sun)day|(mon|tue|wed|thu|fri|sat|sun)\.?),?\s+(?:the\s+)?`
	months = `(jan(?:uary)?|feb(?:ruary)?|mar(?:ch)?|apr(?:il)?|may|june?|july?|aug(?:ust)?|sept?(?:ember)?|oct(?:ober)?|nov(?:ember)?|dec(?:ember)?)`
)

var (
	dayFirst   = regexp.MustCompile(`(?i)\b(?:` + days + `)?(\d{1,2})(?:st|nd|rd|th)?\s+(?:of\s+)?` + months + `\b\.?(?:,?\s+(\d{4})\b)?`)
	monthFirst = regexp.MustCompile(`(?i)\b(?:` + days + `)?` + months + `\.?\s+(\d{1,2})(?:st|nd|rd|th)?\b(?:,?\s+(\d{4})\b)?`)
	iso        = regexp.MustCompile(`\b(\d{4})-(\d{2})-(\d{2})\b`)
)

var monthNames = []string{"jan", "feb", "mar", "apr", "may", "jun", "jul", "aug", "sep", "oct", "nov", "dec"}

// Dates finds the dates in s that are written in the common English forms and in ISO 8601, whether they exist or not.
func Dates(s string) []Date {
	var ds []Date
	taken := func(start, end int) bool {
		for _, d := range ds {
			if start < d.End && end > d.Start {
				return true
			}
		}
		return false
	}
	add := func(m []int, weekday, day, month, year string) {
		if taken(m[0], m[1]) {
			return
		}
		d := Date{Words: strings.TrimRight(s[m[0]:m[1]], ". "), Start: m[0], End: m[1], Weekday: weekday}
		d.End = d.Start + len(d.Words)
		d.Day, _ = strconv.Atoi(day)
		d.Year, _ = strconv.Atoi(year)
		if n, err := strconv.Atoi(month); err == nil {
			d.Month = time.Month(n)
		}
		for i, name := range monthNames {
			if strings.HasPrefix(strings.ToLower(month), name) {
				d.Month = time.Month(i + 1)
			}
		}
		ds = append(ds, d)
	}
	part := func(m []int, g int) string {
		if m[2*g] < 0 {
			return ""
		}
		return s[m[2*g]:m[2*g+1]]
	}
	for _, m := range dayFirst.FindAllStringSubmatchIndex(s, -1) {
		add(m, part(m, 1)+part(m, 2), part(m, 3), part(m, 4), part(m, 5))
	}
	for _, m := range monthFirst.FindAllStringSubmatchIndex(s, -1) {
		add(m, part(m, 1)+part(m, 2), part(m, 4), part(m, 3), part(m, 5))
	}
	for _, m := range iso.FindAllStringSubmatchIndex(s, -1) {
		add(m, "", part(m, 3), part(m, 2), part(m, 1))
	}
	return ds
}

// Problem says in words why the date cannot be, or nothing. Without a year, 29 February counts as a date.
func (d Date) Problem() string {
	if d.Month < 1 || d.Month > 12 {
		return fmt.Sprintf("There is no month %d.", d.Month)
	}
	year := d.Year
	if year == 0 {
		year = 2024 // a leap year
	}
	last := time.Date(year, d.Month+1, 0, 0, 0, 0, 0, time.UTC).Day()
	if d.Day < 1 || d.Day > last {
		if d.Month == time.February && d.Day == 29 {
			return fmt.Sprintf("February %d has 28 days.", d.Year)
		}
		return fmt.Sprintf("%s has %d days.", d.Month, last)
	}
	if d.Weekday == "" {
		return ""
	}
	if d.Year != 0 {
		return d.wrongWeekday(d.Year)
	}
	return ""
}

func (d Date) wrongWeekday(year int) string {
	is := time.Date(year, d.Month, d.Day, 0, 0, 0, 0, time.UTC).Weekday()
	if strings.EqualFold(d.Weekday[:3], is.String()[:3]) {
		return ""
	}
	return fmt.Sprintf("%d %s %d is a %s.", d.Day, d.Month, year, is)
}

// On is the day that d means for somebody who reads it at now: with no year written, the one nearest to now.
func (d Date) On(now time.Time) (time.Time, bool) {
	if d.Problem() != "" {
		return time.Time{}, false
	}
	if d.Year != 0 {
		return time.Date(d.Year, d.Month, d.Day, 0, 0, 0, 0, now.Location()), true
	}
	var best time.Time
	for y := now.Year() - 1; y <= now.Year()+1; y++ {
		t := time.Date(y, d.Month, d.Day, 0, 0, 0, 0, now.Location())
		if t.Day() == d.Day && (best.IsZero() || t.Sub(now).Abs() < best.Sub(now).Abs()) {
			best = t
		}
	}
	return best, !best.IsZero()
}
