package request

import (
	"regexp"
	"strings"

	"mendry/internal/core/text"
)

// Proposal is a phrase of a letter that seems to ask for one thing. Offsets are bytes of the letter.
type Proposal struct {
	Start, End int
	Words      string
	Old        string   // the words that seem to stand on the site now, empty where the letter does not say
	New        string   // what they are to become
	Seek       []string // what to look for on the site, the likeliest first
	Whole      string   // the phrase with what it goes on with: in "Alder has 4 berths, Elm 3" the second is about berths, too
}

var (
	// asks are words with which people ask for a change (common practice, no source).
	asks = regexp.MustCompile(`(?i)\b(please|change[sd]?|replace[sd]?|swap|add|remove|delete|take (?:out|off|down)|update|correct|fix|mend|move|put|link|should|instead|becomes?|goes (?:up |down )?to|go to|costs?|is now|are now|need[s]?|want|new|no longer|until|from|use|mark|hide|show)\b`)
	// courtesy are phrases at the ends of letters that ask for nothing.
	courtesy = regexp.MustCompile(`(?i)^(?:dear|hello|hi|hey|good (?:morning|day|evening)|thank(?:s| you)|many thanks|best|kind|warm|yours|regards|sincerely|cheers|all the best|see you|ps)\b`)
	// others are phrases that say of the rest that it stays.
	others   = regexp.MustCompile(`(?i)^(?:nothing|everything|all|the rest|no other)\b.*\b(?:else|change[sd]?|stays?|as it (?:is|was))\b|^nothing else`)
	quotes   = regexp.MustCompile(`[“"‘']([^“”"‘’']{2,120})[”"’']`)
	insteads = []*regexp.Regexp{ // groups: new, old
		regexp.MustCompile(`(?i)(.{2,80}?)(?:,? instead of | rather than | and not |, not )(.{2,80})`),
	}
	changes = []*regexp.Regexp{ // groups: old, new
		regexp.MustCompile(`(?i)(?:change|replace|correct|update|swap) (.{2,80}?) (?:to|with|by|into|for) (.{2,80})`),
		regexp.MustCompile(`(?i)(.{2,80}?) (?:should (?:be|read|say)|becomes|is now|are now|goes to|go to) (.{2,80})`),
	}
	ends = regexp.MustCompile(`[.!?](?:["”’)]*)(?:\s+|$)|\n\s*\n?|;\s+|,? and (?:please )?(?:also |then )?(?:(?:the|a|add|remove|change|replace|move|put|use|link|take)\b)|,\s+\p{Lu}\p{L}+ (?:is |has |now )?\d`)
)

// Propose finds the phrases of a letter that seem to ask for something.
func Propose(letter string) (all []Proposal) {
	at, before := 0, ""
	for _, m := range append(ends.FindAllStringIndex(letter, -1), []int{len(letter), len(letter)}) {
		end := m[0]
		if sep := letter[m[0]:m[1]]; len(sep) > 0 && strings.ContainsAny(sep[:1], ".!?") {
			end = m[0] // without the point
		}
		p, ok := proposal(letter, at, end)
		if ok {
			p.Whole = strings.TrimSpace(p.Words + " " + before)
			all = append(all, p)
		}
		at, before = m[1], ""
		if strings.HasPrefix(letter[m[0]:m[1]], ",") && !strings.Contains(letter[m[0]:m[1]], " and ") { // the name of the next begins it
			at, before = m[0]+1, p.Words
			if ok {
				before = all[len(all)-1].Whole
			}
		}
		if sep := letter[m[0]:m[1]]; strings.Contains(sep, " and ") { // the word behind "and" belongs to the next phrase
			at = m[0] + strings.LastIndexByte(strings.TrimRight(sep, " "), ' ') + 1
		}
	}
	return all
}

func proposal(letter string, start, end int) (Proposal, bool) {
	for start < end && strings.ContainsRune(" \t\r\n,–-:", rune(letter[start])) {
		start++
	}
	for end > start && strings.ContainsRune(" \t\r\n,–-:", rune(letter[end-1])) {
		end--
	}
	words := letter[start:end]
	values := text.Values(words)
	if len(strings.Fields(words)) < 2 || courtesy.MatchString(words) || others.MatchString(words) || !asks.MatchString(words) && len(values) == 0 && !quotes.MatchString(words) && !insteads[0].MatchString(words) {
		return Proposal{}, false
	}
	p := Proposal{Start: start, End: end, Words: words}
	for _, r := range insteads {
		if m := r.FindStringSubmatch(words); m != nil {
			p.New, p.Old = bare(m[1]), bare(m[2])
		}
	}
	for _, r := range changes {
		if m := r.FindStringSubmatch(words); m != nil && p.Old == "" {
			p.Old, p.New = bare(m[1]), bare(m[2])
		}
	}
	seen := map[string]bool{"": true}
	seek := func(s string) {
		if s = strings.TrimSpace(s); !seen[s] && len(s) > 1 {
			seen[s] = true
			p.Seek = append(p.Seek, s)
		}
	}
	if len(p.Old) < 60 {
		seek(p.Old)
	}
	for _, m := range quotes.FindAllStringSubmatch(words, -1) {
		seek(m[1])
	}
	for _, v := range values {
		seek(words[v.Start:v.End])
	}
	for _, w := range names(words) {
		seek(w)
	}
	return p, true
}

// bare takes quotes and little words off the ends of a phrase.
func bare(s string) string {
	if m := quotes.FindStringSubmatch(s); m != nil {
		return m[1]
	}
	s = strings.Trim(s, " .,;:“”\"’'")
	for _, lead := range []string{"please ", "the ", "a ", "our ", "to ", "from "} {
		if len(s) > len(lead) && strings.EqualFold(s[:len(lead)], lead) {
			s = s[len(lead):]
		}
	}
	return s
}

var nameLike = regexp.MustCompile(`\b\p{Lu}\p{L}+(?: \p{Lu}\p{L}+)*`)

// ofCalendar are names that stand on many pages and tell of no place.
var ofCalendar = regexp.MustCompile(`^(?:(?:Mon|Tues|Wednes|Thurs|Fri|Satur|Sun)day|January|February|March|April|May|June|July|August|September|October|November|December)s?$`)
var longWord = regexp.MustCompile(`\p{L}{5,}`)

// names are the names in a phrase, and failing that its longest words.
func names(s string) (all []string) {
	for _, m := range nameLike.FindAllStringIndex(s, -1) {
		if m[0] > 0 && !ofCalendar.MatchString(s[m[0]:m[1]]) {
			all = append(all, s[m[0]:m[1]])
		}
	}
	if len(all) == 0 {
		for _, w := range longWord.FindAllString(s, -1) {
			if !asks.MatchString(w) && !ofCalendar.MatchString(w) {
				all = append(all, w)
			}
		}
	}
	return all
}
