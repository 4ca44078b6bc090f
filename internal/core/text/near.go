package text

import (
	"regexp"
	"slices"
	"strings"
	"unicode"
)

// longestDay is longer than any day with its weekday, month and year, in bytes: "Wednesday, the 31st of September,
// 2027" has 40.
const longestDay = 96

// aGap is so much white space that the stretches would be too short for what stands around it.
var aGap = regexp.MustCompile(`\s{12}`)

// nearMonths are the stretches of s, from one white space to another, in which a day can stand with its month as a
// word: there is a number beside what begins like a month. The regular expressions of days take their time on all the
// rest.
func nearMonths(s string) (near [][2]int) {
	low := strings.ToLower(s)
	if len(low) != len(s) || aGap.MatchString(s) {
		return [][2]int{{0, len(s)}}
	}
	var at []int
	for _, stem := range monthStems {
		for from := 0; ; {
			i := strings.Index(low[from:], stem)
			if i < 0 {
				break
			}
			at = append(at, from+i)
			from += i + 1
		}
	}
	slices.Sort(at)
	for _, i := range at {
		if !numberBefore(low[:i]) && !numberBehind(low[i:]) {
			continue
		}
		from, to := max(0, i-longestDay), min(len(s), i+longestDay)
		for from > 0 && !blank(s[from-1]) {
			from--
		}
		for to < len(s) && !blank(s[to]) {
			to++
		}
		if n := len(near) - 1; n >= 0 && from <= near[n][1] {
			near[n][1] = max(near[n][1], to)
			continue
		}
		near = append(near, [2]int{from, to})
	}
	return near
}

// numberBefore reports whether a number of a day may stand right before the name of a month: "31 ", "31st of ", "31.".
func numberBefore(s string) bool {
	s = strings.TrimRight(s, " \t\n\r\f")
	s = strings.TrimRight(strings.TrimSuffix(s, "of"), " \t\n\r\f")
	s = strings.TrimSuffix(s, ".")
	for _, end := range []string{"st", "nd", "rd", "th", "er"} {
		s = strings.TrimSuffix(s, end)
	}
	return s != "" && s[len(s)-1] >= '0' && s[len(s)-1] <= '9'
}

// numberBehind reports whether one may stand right behind what begins with the name of a month: "may 4", "sept. 4".
func numberBehind(s string) bool {
	s = strings.TrimLeftFunc(s, unicode.IsLetter)
	s = strings.TrimLeft(strings.TrimPrefix(s, "."), " \t\n\r\f")
	return s != "" && s[0] >= '0' && s[0] <= '9'
}

func blank(b byte) bool { return b == ' ' || b == '\n' || b == '\t' || b == '\r' || b == '\f' }

// matchesIn are the matches of a form in stretches of s, by their offsets in s.
func matchesIn(s string, in [][2]int, form *regexp.Regexp) (all [][]int) {
	for _, span := range in {
		for _, m := range form.FindAllStringSubmatchIndex(s[span[0]:span[1]], -1) {
			for i := range m {
				if m[i] >= 0 {
					m[i] += span[0]
				}
			}
			all = append(all, m)
		}
	}
	return all
}
