package find

import "unicode/utf8"

const (
	leastNear = 4  // letters of a word in which a typing error is looked for
	mostNear  = 40 // letters of the longest such word
)

// Near lists what is left of a word when any one of its letters is left out, and the word itself. Two words that are
// one typing error apart (a letter too many, one too few, another one, or two that changed places) share at least one
// of them, so that an index over these finds words with errors (deletion neighbourhood; Mor and Fraenkel 1982).
func Near(word string) []string {
	n := utf8.RuneCountInString(word)
	if n < leastNear || n > mostNear {
		return nil
	}
	all := []string{word}
	last := rune(-1)
	for i, r := range word {
		if r != last { // leaving out either of two like letters leaves the same
			all = append(all, word[:i]+word[i+utf8.RuneLen(r):])
		}
		last = r
	}
	return all
}

// Close reports whether two words are the same or one typing error apart: the distance of Damerau (1964) is at most 1.
func Close(a, b string) bool {
	x, y := []rune(a), []rune(b)
	if len(x) > len(y) {
		x, y = y, x
	}
	if len(y)-len(x) > 1 {
		return false
	}
	i := 0
	for i < len(x) && x[i] == y[i] {
		i++
	}
	switch {
	case len(x) < len(y):
		return same(x[i:], y[i+1:])
	case i == len(x):
		return true
	case i+1 < len(x) && x[i] == y[i+1] && x[i+1] == y[i] && same(x[i+2:], y[i+2:]):
		return true
	}
	return same(x[i+1:], y[i+1:])
}

func same(a, b []rune) bool { return string(a) == string(b) }
