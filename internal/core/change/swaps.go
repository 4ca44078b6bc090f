package change

import (
	"regexp"
	"slices"
	"strings"
	"unicode"
	"unicode/utf8"

	"mendry/internal/core/diff"
	"mendry/internal/core/text"
)

// Swap is words that were replaced, and by what: a value such as a price or a phone number, a whole sentence, or a few
// words. What was replaced in one place may stand in others.
type Swap struct {
	Old, New string
	Whole    bool      // a sentence, or all that a part said
	beside   [2]string // the words before and behind it, which tell what a number counts
	asked    bool      // by somebody, in so many words
	sought   text.Sought
}

// Replace is a swap that somebody asks for.
func Replace(old, new string) Swap {
	return Swap{Old: old, New: new, asked: true, sought: text.Seek(old)}
}

const (
	sentenceWords = 4 // a sentence of fewer words stands in many places without meaning the same
	leastLetters  = 4 // and words of fewer letters
)

var sentenceEnd = regexp.MustCompile(`[.!?…]+["”’)]*\s+|\n+`)

// Swaps lists what a part's words lost to others: its sentences as wholes first, then the values and words in them.
func Swaps(before, after string) (all []Swap) {
	was, now := sentences(before), sentences(after)
	var gone, come []string
	i, j := 0, 0
	pair := func() {
		for k := range gone {
			if len(gone) == len(come) && len(strings.Fields(gone[k])) >= sentenceWords && !onlyValues(gone[k], come[k]) {
				all = append(all, Swap{Old: gone[k], New: come[k], Whole: true, sought: text.Seek(gone[k])})
			}
		}
		gone, come = nil, nil
	}
	for _, op := range diff.Script(was, now) {
		switch op.Is {
		case diff.Same:
			pair()
			i, j = i+op.N, j+op.N
		case diff.Gone:
			gone = append(gone, was[i:i+op.N]...)
			i += op.N
		case diff.New:
			come = append(come, now[j:j+op.N]...)
			j += op.N
		}
	}
	pair()
	return append(all, words(before, after)...)
}

// Foremost is the swap by which a change is called: its first value or words or, where all that it replaced are whole
// sentences, the first of these. It reports whether there is one.
func Foremost(all []Swap) (Swap, bool) {
	if len(all) == 0 {
		return Swap{}, false
	}
	return all[max(0, slices.IndexFunc(all, func(s Swap) bool { return !s.Whole }))], true
}

// onlyValues reports whether two sentences differ in values alone, which are looked for by themselves.
func onlyValues(old, new string) bool {
	runs := diff.Words(old, new)
	for i, r := range runs {
		if r.Is != diff.Same && len(valuesAround(runs, i, r.Is)) == 0 {
			return false
		}
	}
	return true
}

func sentences(s string) (all []string) {
	from := 0
	for _, m := range sentenceEnd.FindAllStringIndex(s, -1) {
		all = append(all, strings.TrimSpace(s[from:m[1]]))
		from = m[1]
	}
	if rest := strings.TrimSpace(s[from:]); rest != "" {
		all = append(all, rest)
	}
	return all
}

// words are the values and words that were replaced.
func words(before, after string) (all []Swap) {
	runs := diff.Words(before, after)
	for i := 0; i+1 < len(runs); i++ {
		if runs[i].Is != diff.Gone || runs[i+1].Is != diff.New {
			continue
		}
		old, new := strings.Trim(runs[i].Text, " .,;:!?"), strings.Trim(runs[i+1].Text, " .,;:!?")
		if old == "" || new == "" || strings.EqualFold(old, new) {
			continue
		}
		// Half a value may be the same in both: it is looked for whole.
		gone, come := valuesAround(runs, i, diff.Gone), valuesAround(runs, i+1, diff.New)
		if len(gone) == len(come) && len(gone) > 0 {
			for k := range gone {
				if gone[k].Old != come[k].Old && !slices.ContainsFunc(all, func(s Swap) bool { return s.Old == gone[k].Old }) {
					all = append(all, Swap{Old: gone[k].Old, New: come[k].Old, beside: gone[k].beside, sought: text.Seek(gone[k].Old)})
				}
			}
			continue
		}
		if utf8.RuneCountInString(old) >= leastLetters {
			all = append(all, Swap{Old: old, New: new, sought: text.Seek(old)})
		}
	}
	return all
}

// valuesAround are the values that the run at i touches, in the words as they were or as they are.
func valuesAround(runs []diff.Run, i int, side diff.Is) (found []Swap) {
	var b strings.Builder
	from, to := 0, 0
	for k, r := range runs {
		if r.Is != diff.Same && r.Is != side {
			continue
		}
		if k == i {
			from, to = b.Len(), b.Len()+len(r.Text)
		}
		b.WriteString(r.Text)
	}
	s := b.String()
	for _, v := range text.Values(s) {
		if v.Start < to && v.End > from {
			found = append(found, Swap{Old: s[v.Start:v.End], beside: besides(s, v)})
		}
	}
	return found
}

// besides are the words before and behind a value, folded.
func besides(s string, at text.Value) (both [2]string) {
	if f := strings.Fields(s[:at.Start]); len(f) > 0 {
		both[0] = bare(f[len(f)-1])
	}
	if f := strings.Fields(s[at.End:]); len(f) > 0 {
		both[1] = bare(f[0])
	}
	return both
}

func bare(word string) string {
	return strings.ToLower(strings.TrimFunc(word, func(r rune) bool { return !unicode.IsLetter(r) }))
}

// In finds where the old words stand in others.
func (s Swap) In(words string) []text.Value { return s.sought.In(words) }

// Reached reports whether a link dials or writes to what was replaced.
func (s Swap) Reached(href string) bool {
	to := text.Reaches(href)
	return to != "" && (s.sought.Is(text.Phone) || s.sought.Is(text.Mail) || s.sought.Local()) && len(s.In(to)) > 0
}

// Sure reports whether old words that stand in others surely mean the same: whole sentences, prices, phone numbers and
// mail addresses, dates with their year, and several words together do; a number does where it counts the same.
func (s Swap) Sure(words string, at text.Value) bool {
	if s.Whole {
		return true
	}
	switch {
	case s.sought.Is(text.Number):
		there := besides(words, at)
		return at.Kind == text.Phone || there[1] != "" && there[1] == s.beside[1] || there[1] == s.beside[1] && there[0] != "" && there[0] == s.beside[0]
	case s.sought.Is(text.Day):
		return yearIn.MatchString(s.Old) && yearIn.MatchString(words[at.Start:at.End])
	case s.sought.Is(text.Price), s.sought.Is(text.Phone), s.sought.Is(text.Mail):
		return true
	}
	return strings.Contains(s.Old, " ") || s.asked && words[at.Start:at.End] == s.Old
}

var yearIn = regexp.MustCompile(`\b\d{4}\b`)

// Into replaces the old words where they were found. A word that begins with a capital there keeps it.
func (s Swap) Into(words string, found []text.Value) string {
	for _, at := range slices.Backward(found) {
		there := words[at.Start:at.End]
		now := s.New
		if at.Kind == "" {
			now = likeCase(s.New, there, s.Old)
		}
		if s.sought.Is(text.Phone) && at.Kind == text.Number { // without the code of its place
			digits := text.PhoneKey(s.New)
			now = digits[max(0, len(digits)-len(at.Key)):]
		}
		words = words[:at.Start] + now + words[at.End:]
	}
	return words
}

// likeCase gives new a capital where there has one and what was looked for has none.
func likeCase(new, there, old string) string {
	a, _ := utf8.DecodeRuneInString(there)
	b, _ := utf8.DecodeRuneInString(old)
	c, n := utf8.DecodeRuneInString(new)
	if unicode.IsUpper(a) && unicode.IsLower(b) && unicode.IsLower(c) {
		return string(unicode.ToUpper(c)) + new[n:]
	}
	return new
}
