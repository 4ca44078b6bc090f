// Package text reads what people write in running text: dates, prices, phone numbers, codes of other programs, what a
// wrong encoding broke, and what a paste brings.
package text

import (
	"fmt"
	"maps"
	"regexp"
	"slices"
	"strconv"
	"strings"
	"time"
	"unicode"
)

// Date is a date as it stands in running text. Year is 0 where none is written.
type Date struct {
	Words      string
	Start, End int // bytes of the text
	Day        int
	Month      time.Month
	Year       int
	Weekday    string // in English, empty where none is written
}

const (
	enDays   = `(mon|tue|wed|thu|fri|sat|sun)(?:day|sday|nesday|rsday|urday|s|rs?)?\.?`
	enMonths = `(jan(?:uary)?|feb(?:ruary)?|mar(?:ch)?|apr(?:il)?|may|june?|july?|aug(?:ust)?|sept?(?:ember)?|oct(?:ober)?|nov(?:ember)?|dec(?:ember)?)`
	deDays   = `(montag|dienstag|mittwoch|donnerstag|freitag|samstag|sonnabend|sonntag|mo|di|mi|do|fr|sa|so)`
	deMonths = `(januar|jänner|jan|februar|feber|feb|märz|maerz|mrz|april|apr|mai|juni|jun|juli|jul|august|aug|september|sept|sep|oktober|okt|november|nov|dezember|dez)`
	frDays   = `(lundi|mardi|mercredi|jeudi|vendredi|samedi|dimanche)`
	frMonths = `(janvier|janv|février|fevrier|févr|fevr|mars|avril|avr|mai|juin|juillet|juil|août|aout|septembre|sept|octobre|oct|novembre|nov|décembre|decembre|déc|dec)`
	year     = `(?:,?\s+(\d{4})\b)?`
)

// The forms in which a day is written; the groups are weekday, day, month and year, in the order that orders says.
var (
	enDayFirst   = regexp.MustCompile(`(?i)\b(?:` + enDays + `,?\s+(?:the\s+)?)?(\d{1,2})(?:st|nd|rd|th)?\s+(?:of\s+)?` + enMonths + `\b\.?` + year)
	enMonthFirst = regexp.MustCompile(`(?i)\b(?:` + enDays + `,?\s+(?:the\s+)?)?` + enMonths + `\.?\s+(\d{1,2})(?:st|nd|rd|th)?\b` + year)
	deDay        = regexp.MustCompile(`(?i)\b(?:` + deDays + `\.?,?\s+(?:(?:den|dem|der)\s+)?)?(\d{1,2})\.\s*` + deMonths + `\b\.?` + year)
	frDay        = regexp.MustCompile(`(?i)\b(?:` + frDays + `\.?,?\s+(?:le\s+)?)?(\d{1,2})(?:er)?\s+` + frMonths + `\b\.?` + year)
	isoDay       = regexp.MustCompile(`\b(\d{4})-(\d{2})-(\d{2})\b`)
	numericDay   = regexp.MustCompile(`\b(\d{1,2})([/.\-])(\d{1,2})([/.\-])(\d{4}|\d{2})\b`)
	deShortDay   = regexp.MustCompile(`\b(\d{1,2})\.(\d{1,2})\.(?:\s|$|,)`)
)

var monthNames = map[string]time.Month{
	"jan": 1, "jän": 1, "feb": 2, "fév": 2, "fev": 2, "mar": 3, "mär": 3, "mae": 3, "mrz": 3, "apr": 4, "avr": 4, "may": 5, "mai": 5, "jun": 6, "jui": 6,
	"juil": 7, "jul": 7, "aug": 8, "aoû": 8, "aou": 8, "sep": 9, "oct": 10, "okt": 10, "nov": 11, "dec": 12, "déc": 12, "dez": 12,
}

// monthStems begin every name of a month.
var monthStems = slices.Sorted(maps.Keys(monthNames))

var weekdayNames = map[string]time.Weekday{
	"mon": 1, "tue": 2, "wed": 3, "thu": 4, "fri": 5, "sat": 6, "sun": 0,
	"mo": 1, "di": 2, "mi": 3, "do": 4, "fr": 5, "sa": 6, "so": 0, "son": 0, "sonna": 6, "die": 2, "mit": 3, "don": 4, "fre": 5, "sam": 6,
	"lun": 1, "mard": 2, "merc": 3, "jeu": 4, "ven": 5, "same": 6, "dim": 0,
}

// named looks a name up by as many of its first letters as tell it.
func named[T any](names map[string]T, word string) (found T, ok bool) {
	rs := []rune(strings.ToLower(word))
	for n := min(len(rs), 5); n >= 2; n-- {
		if found, ok = names[string(rs[:n])]; ok {
			return found, true
		}
	}
	return found, false
}

// Dates finds the dates in s that are written in the common English, German and French forms, in numbers, and in ISO
// 8601, whether they exist or not, in no particular language.
func Dates(s string) []Date { return DatesIn(s, "") }

// DatesIn is Dates for words in a language (BCP 47), which says whether the day or the month comes first in 3/4/2027;
// where it does not, the day does.
func DatesIn(s, lang string) []Date {
	if !strings.ContainsAny(s, "0123456789") {
		return nil
	}
	r := reader{s: s}
	lang = strings.ToLower(lang)
	spoken, _, _ := strings.Cut(lang, "-")
	if near := nearMonths(s); len(near) > 0 {
		r.days(near, enDayFirst, 1, 2, 3, 4)
		r.days(near, enMonthFirst, 1, 3, 2, 4)
		r.days(near, deDay, 1, 2, 3, 4)
		if spoken == "fr" || spoken == "" {
			r.days(near, frDay, 1, 2, 3, 4)
		}
	}
	if strings.Count(s, "-") >= 2 {
		for _, m := range isoDay.FindAllStringSubmatchIndex(s, -1) {
			r.add(Date{Start: m[0], End: m[1], Day: r.number(m, 3), Month: time.Month(r.number(m, 2)), Year: r.number(m, 1)})
		}
	}
	if strings.Count(s, "/")+strings.Count(s, ".")+strings.Count(s, "-") >= 2 {
		r.numeric(lang)
	}
	if spoken == "de" {
		for _, m := range deShortDay.FindAllStringSubmatchIndex(s, -1) {
			d := Date{Start: m[0], End: m[5] + 1, Day: r.number(m, 1), Month: time.Month(r.number(m, 2))}
			if d.Day <= 31 && d.Month <= 12 {
				r.add(d)
			}
		}
	}
	slices.SortFunc(r.found, func(a, b Date) int { return a.Start - b.Start })
	return r.found
}

// reader collects the dates of a text; none lies in another.
type reader struct {
	s     string
	found []Date
}

func (r *reader) group(m []int, g int) string {
	if m[2*g] < 0 {
		return ""
	}
	return r.s[m[2*g]:m[2*g+1]]
}

func (r *reader) number(m []int, g int) int { return atoi(r.group(m, g)) }

func (r *reader) add(d Date) {
	for _, had := range r.found {
		if d.Start < had.End && d.End > had.Start {
			return
		}
	}
	d.Words = strings.TrimRight(r.s[d.Start:d.End], " ")
	if bare := strings.TrimRight(d.Words, "."); !strings.HasSuffix(bare, strconv.Itoa(int(d.Month))) || d.Year != 0 {
		d.Words = bare // the point after "31.4." is the date's own, that after "Nov." may be the sentence's
	}
	d.End = d.Start + len(d.Words)
	r.found = append(r.found, d)
}

// days reads a form in which the month is a word, in some stretches.
func (r *reader) days(in [][2]int, form *regexp.Regexp, weekday, day, month, year int) {
	for _, m := range matchesIn(r.s, in, form) {
		d := Date{Start: m[0], End: m[1], Day: r.number(m, day), Year: r.number(m, year)}
		d.Month, _ = named(monthNames, r.group(m, month))
		if w, ok := named(weekdayNames, r.group(m, weekday)); ok {
			d.Weekday = w.String()
		}
		if d.Year == 0 && !r.meant(m, day, month) {
			continue
		}
		r.add(d)
	}
}

var (
	// What is counted behind a number, so that "March 50 miles" and "We may 31 times" are no dates.
	counted = regexp.MustCompile(`(?i)^\s*(?:°|%|(?:per ?cent|miles?|km|kilomet\w+|met(?:re|er)s?|m|ft|feet|yards?|minutes?|mins?|hours?|hrs?|days?|weeks?|months?|years?|people|persons?|guests?|members|visitors|times|pages?|pounds?|euros?|dollars?|pence|litres?|kg|g|tons?|more|other|of)\b)`)
	goesOn  = regexp.MustCompile(`^[.:,/]\d|^-\d`)
	leadsTo = regexp.MustCompile(`(?i)(?:^|[,;(:–—-]|\b(?:on|from|until|till|by|the|to|and|or|before|after|since|between|of|day|is|in))\s*$`)
)

// meant reports whether a number beside the name of a month is a date, where no year says so.
func (r *reader) meant(m []int, day, month int) bool {
	before, behind := r.s[:m[0]], r.s[m[1]:]
	n, name := r.number(m, day), r.group(m, month)
	monthFirst := m[2*month] < m[2*day]
	if n > 31 && !r.slipped(m, n, day) || monthFirst && (counted.MatchString(behind) || goesOn.MatchString(behind)) {
		return false
	}
	if m[0] > 0 && strings.ContainsRune("0123456789.,:/-£€$", rune(r.s[m[0]-1])) && !strings.HasSuffix(before, "-") {
		return false // the end of a number
	}
	if name == "may" || name == "march" { // words of their own too
		return leadsTo.MatchString(before)
	}
	return true
}

// slipped reports whether a number beside the name of a month that is too large for a day is meant as one all the same.
func (r *reader) slipped(m []int, n, day int) bool {
	behind := r.s[m[1]:]
	return n <= slipOfDay && (m[2] >= 0 || ordinal.MatchString(r.s[m[2*day+1]:]) || leadsTo.MatchString(r.s[:m[0]]) && endsThere.MatchString(behind))
}

var (
	ordinal   = regexp.MustCompile(`^(?i:st|nd|rd|th)\b`)
	endsThere = regexp.MustCompile(`^\s*(?:$|[.,;:!?)])`)
)

// numberOf is what a number is of that is no date: of a version, a part, a chapter.
var numberOf = regexp.MustCompile(`(?i)(?:\b(?:version|vers?|v|release|rel|rev(?:ision)?|build|part|parts?|item|model|order|invoice|art(?:icle|ikel)?|chapter|section|kapitel|abschnitt|teil|ziffer|chapitre|no|nr|n°|nº|ref|serial|file|ip)\b\.?|§)(?: (?:no|nr|number|nummer)\b\.?)?[ #:]*$`)

// weekdayBefore is a day of the week before a date in numbers; one that is shortened begins with a capital.
var weekdayBefore = regexp.MustCompile(`\b(?i:` + enDays + `|` + deDays + `|` + frDays + `)(?:\.?,|\.)?\s+(?:(?:den|dem|der|le|the) )?$`)

// slipOfDay is the largest number that is taken for a mistyped day.
const slipOfDay = 39

// numeric reads dates in numbers alone, such as 31/04/2027, 31.4.2027 and 30-02-27.
func (r *reader) numeric(lang string) {
	for _, m := range numericDay.FindAllStringSubmatchIndex(r.s, -1) {
		before, behind := r.s[:m[0]], r.s[m[1]:]
		if r.group(m, 2) != r.group(m, 4) || goesOn.MatchString(behind) || before != "" && strings.ContainsAny(before[len(before)-1:], "./-+0123456789") {
			continue // two signs, or a part of something longer, like the address of a machine
		}
		if numberOf.MatchString(before) || partOf.MatchString(behind) {
			continue
		}
		a, b, y := r.number(m, 1), r.number(m, 3), r.number(m, 5)
		short := len(r.group(m, 5)) == 2
		if short {
			y += 2000
		}
		dayFirst := Date{Start: m[0], End: m[1], Day: a, Month: time.Month(b), Year: y}
		monthFirst := Date{Start: m[0], End: m[1], Day: b, Month: time.Month(a), Year: y}
		d := dayFirst
		either := lang == "" || lang == "en" || lang == "en-ca"
		if lang == "en-us" || either && dayFirst.Problem() != "" && monthFirst.Problem() == "" {
			d = monthFirst
		}
		switch sign := r.group(m, 2); {
		case a > slipOfDay || b > slipOfDay || y < 1000:
			continue
		case short && sign != "/" && (sign != "." || lang != "de" && !strings.HasPrefix(lang, "de-")):
			continue // the number of a version or a paragraph
		case short && (a > 31 || b > 31):
			continue
		}
		d.Start, d.Weekday = r.dayBefore(d.Start)
		r.add(d)
	}
}

// partOf is what goes on behind a number that is a part of a name.
var partOf = regexp.MustCompile(`^-?\pL`)

// dayBefore finds the day of the week before a date in numbers, and where that begins.
func (r *reader) dayBefore(start int) (from int, weekday string) {
	m := weekdayBefore.FindStringSubmatchIndex(r.s[:start])
	if m == nil || !unicode.IsUpper(rune(r.s[m[0]])) && m[1]-m[0] < 5 {
		return start, ""
	}
	for g := 1; g <= 3; g++ {
		if w, ok := named(weekdayNames, r.group(m, g)); ok {
			return m[0], w.String()
		}
	}
	return start, ""
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
	last := lastOf(year, d.Month)
	if d.Day < 1 || d.Day > last {
		if d.Month == time.February && d.Day == 29 {
			return fmt.Sprintf("February %d has 28 days.", d.Year)
		}
		return fmt.Sprintf("%s has %d days.", d.Month, last)
	}
	if d.Weekday == "" || d.Year == 0 {
		return ""
	}
	return d.wrongWeekday(d.Year)
}

// Doubt says in words why a date without a year is likely a slip for somebody who reads it at now: the weekday that is
// named with it is another in the year that is meant.
func (d Date) Doubt(now time.Time) string {
	day, ok := d.On(now)
	if !ok || d.Year != 0 || d.Weekday == "" {
		return ""
	}
	return d.wrongWeekday(day.Year())
}

// lastOf is the number of days of a month.
func lastOf(year int, m time.Month) int { return time.Date(year, m+1, 0, 0, 0, 0, 0, time.UTC).Day() }

func (d Date) wrongWeekday(year int) string {
	is := time.Date(year, d.Month, d.Day, 0, 0, 0, 0, time.UTC).Weekday()
	if d.Weekday == is.String() {
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
