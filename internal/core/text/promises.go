package text

import (
	"regexp"
	"strconv"
	"strings"
	"time"
)

// Promise is a time that words speak of as still to come or going on: a day, a range of days by its end, a month, a
// season or a year. Offsets are bytes.
type Promise struct {
	Words      string
	Start, End int
	Last       time.Time // the last day of it, in the zone of who reads
}

var (
	between = regexp.MustCompile(`(?i)^\s*(?:-|–|—|to|until|till|through|thru|and|bis|zum|bis zum|au|jusqu.au|et)\s*(?:the\s+|zum\s+|le\s+)?$`)
	begun   = regexp.MustCompile(`(?i)(?:^|\b)(?:from|since|as of|as from|starting|beginning|after|ab|seit|vom|dès|depuis|à partir du)\s+(?:the\s+|dem\s+|le\s+)?$`)
	dayOnly = regexp.MustCompile(`(?i)\b(?:` + enDays + `\s+)?\d{1,2}(?:st|nd|rd|th|\.)?\s*(?:-|–|—|to|until|till|and|bis|au)\s*(?:` + enDays + `\s+)?(?:the\s+)?$`)
	aMonth  = regexp.MustCompile(`(?i)\b(?:(early|mid|middle of|late|the end of|end of|the beginning of|beginning of|anfang|mitte|ende|début|fin)[ -])?(?:` +
		enMonths + `|` + deMonths + `|` + frMonths + `)\.?,?\s+(\d{4})\b`)
	aSeason = regexp.MustCompile(`(?i)\b(spring|summer|autumn|fall|winter|frühjahr|frühling|sommer|herbst|printemps|automne|hiver|(?:^|[^\pL])été)\s+(\d{4})(?:[/–-](\d{2,4}))?\b`)
	aYear   = regexp.MustCompile(`(?i)\b(?:prices|fares|rates|fees|tickets|season|programme|timetable|calendar|opening (?:hours|times)|dates)\s+(?:for\s+|in\s+)?(20\d\d)\b|\b(20\d\d)\s+(?:prices|fares|rates|fees|season|programme|timetable|calendar|dates)\b`)

	// Words of a sentence that tells of what was (common practice, no source), and those of one that promises.
	tells    = regexp.MustCompile(`(?i)\b(?:was|were|had|did|been|ago|founded|built|opened|closed|began|begun|started|ended|won|came|held|born|died|took|made|became|sailed|first|established|launched|moved|arrived|left|gave|wrote|bought|sold|joined|met|saw|went|returned|restored|rebuilt|reopened|raised|received|served|last (?:year|summer|winter|spring|autumn)|since|wurde|wurden|war|waren|gegründet|fut|était|a été|fondée?|posted|published|updated|written|copyright|photo(?:graph)?(?:ed)?|taken)\b|©`)
	promises = regexp.MustCompile(`(?i)\b(?:until|till|will|next|book|by|ends?|closes?|opens?|starts?|begins?|valid|deadline|apply|join us|coming|upcoming|due|is|are|bis|jusqu)\b`)
	sentence = regexp.MustCompile(`[.!?…]["”’)]*\s+[\p{Lu}“"‘]|\n`)
)

// aSeasonLong is how many days a range of days without a year lasts at least that comes again every year, like the
// months in which a house is open (common practice, no source).
const aSeasonLong = 28

// Promises finds what words in a language promise, for somebody who reads them at now. What only began is no promise,
// nor is what a sentence tells of the past, nor a season that comes every year.
func Promises(s, lang string, now time.Time) (ps []Promise) {
	if !strings.ContainsAny(s, "0123456789") {
		return nil
	}
	ds := DatesIn(s, lang)
	taken := func(start, end int) bool {
		for _, d := range ds {
			if start < d.End && end > d.Start {
				return true
			}
		}
		return false
	}
	add := func(start, end int, last time.Time) {
		if !told(s, start, end) {
			ps = append(ps, Promise{s[start:end], start, end, last})
		}
	}
	for i, d := range ds {
		last, ok := d.On(now)
		if !ok {
			continue
		}
		start := d.Start
		if i > 0 && between.MatchString(s[ds[i-1].End:d.Start]) {
			if first, ok := ds[i-1].On(now); ok && d.Year == 0 && ds[i-1].Year == 0 && apart(first, last) >= aSeasonLong {
				continue
			}
			start = ds[i-1].Start
		} else if m := dayOnly.FindStringIndex(s[:d.Start]); m != nil {
			start = m[0]
		}
		switch {
		case i+1 < len(ds) && between.MatchString(s[d.End:ds[i+1].Start]): // the range ends later
		case start == d.Start && begun.MatchString(s[:start]):
		default:
			add(start, d.End, last)
		}
	}
	for _, m := range aMonth.FindAllStringSubmatchIndex(s, -1) {
		if taken(m[0], m[1]) || begun.MatchString(s[:m[0]]) || dayBefore.MatchString(s[:m[0]]) {
			continue
		}
		month := time.Month(0)
		for g := 2; g <= 4 && month == 0; g++ {
			if m[2*g] >= 0 {
				month, _ = named(monthNames, s[m[2*g]:m[2*g+1]])
			}
		}
		y := atoi(s[m[10]:m[11]])
		day := lastOf(y, month)
		if m[2] >= 0 {
			switch strings.ToLower(s[m[2]:m[3]]) {
			case "early", "the beginning of", "beginning of", "anfang", "début":
				day = 10
			case "mid", "middle of", "mitte":
				day = 20
			}
		}
		add(m[0], m[1], time.Date(y, month, day, 0, 0, 0, 0, now.Location()))
	}
	for _, m := range aSeason.FindAllStringSubmatchIndex(s, -1) {
		if begun.MatchString(s[:m[0]]) {
			continue
		}
		y := atoi(s[m[4]:m[5]])
		if m[6] >= 0 { // winter 2025/26
			y++
		}
		add(m[0], m[1], seasonEnd(strings.ToLower(s[m[2]:m[3]]), y, m[6] >= 0, now.Location()))
	}
	for _, m := range aYear.FindAllStringSubmatchIndex(s, -1) {
		g := 2
		if m[g] < 0 {
			g = 4
		}
		if !taken(m[0], m[1]) {
			add(m[0], m[1], time.Date(atoi(s[m[g]:m[g+1]]), 12, 31, 0, 0, 0, 0, now.Location()))
		}
	}
	return ps
}

var dayBefore = regexp.MustCompile(`\d(?:st|nd|rd|th|\.)?\s*(?:of\s+)?$`)

// atoi reads digits that a form has found; none are 0.
func atoi(s string) int {
	n, _ := strconv.Atoi(s)
	return n
}

func apart(a, b time.Time) int {
	if b.Before(a) {
		b = b.AddDate(1, 0, 0)
	}
	return int(b.Sub(a).Hours()/24) + 1
}

// told reports whether the sentence around a time tells of what was.
func told(s string, start, end int) bool {
	from, to := 0, len(s)
	for _, m := range sentence.FindAllStringIndex(s, -1) {
		if m[0] < start {
			from = m[0] + 1
		} else if m[0] >= end {
			to = m[0] + 1
			break
		}
	}
	around := s[from:start] + " " + s[end:to]
	return tells.MatchString(around) && !promises.MatchString(around)
}

// seasonEnd is the last day of a season of a year, by whole months, as the weather services count them (meteorological
// seasons); in the lands of the south half a year apart. One that is named by two years ends in the second.
func seasonEnd(name string, year int, second bool, zone *time.Location) time.Time {
	season := 0
	switch name = strings.TrimLeft(name, " \t\n("); {
	case strings.HasPrefix(name, "su"), strings.HasPrefix(name, "so"), strings.HasSuffix(name, "été"):
		season = 1
	case strings.HasPrefix(name, "au"), name == "fall", name == "herbst":
		season = 2
	case strings.HasPrefix(name, "win"), name == "hiver":
		season = 3
	}
	if southern(zone) {
		season = (season + 2) % 4
	}
	if season == 3 && !second {
		year++
	}
	month := []time.Month{time.May, time.August, time.November, time.February}[season]
	return time.Date(year, month, lastOf(year, month), 0, 0, 0, 0, zone)
}

// southern reports whether a zone of the tz database lies south of the equator, for the lands whose agencies write in
// the languages that are read here.
func southern(zone *time.Location) bool {
	for _, name := range []string{"Australia/", "Pacific/Auckland", "Pacific/Chatham", "Africa/Johannesburg", "Africa/Windhoek", "NZ"} {
		if strings.HasPrefix(zone.String(), name) {
			return true
		}
	}
	return false
}
