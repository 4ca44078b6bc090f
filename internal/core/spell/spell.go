// Package spell looks at the spelling of words by a word list, one word a line, as Debian's wordlist packages have
// them (wbritish, wamerican: the SCOWL lists).
package spell

import (
	"bufio"
	"io"
	"slices"
	"strings"
	"unicode"
	"unicode/utf8"

	"mendry/internal/core/find"
)

// Dictionary is a list of words. It may be used by several goroutines.
type Dictionary struct {
	words map[string]bool
	by    [mostLetters + 1][]string // in lower case, by their length in letters
}

const mostLetters = 30

// Read reads a word list.
func Read(r io.Reader) (*Dictionary, error) {
	d := &Dictionary{words: map[string]bool{}}
	lines := bufio.NewScanner(r)
	for lines.Scan() {
		w := plain(strings.TrimSpace(lines.Text()))
		if w == "" || d.words[w] {
			continue
		}
		d.words[w] = true
		if n := utf8.RuneCountInString(w); n <= mostLetters && !strings.HasSuffix(w, "'s") {
			d.by[n] = append(d.by[n], w)
		}
	}
	return d, lines.Err()
}

func plain(w string) string { return strings.ReplaceAll(w, "’", "'") }

// Knows reports whether a word is in the list: as it is, in lower case where it begins with a capital or is all
// capitals, or without the s of several or the 's of whom something belongs to.
func (d *Dictionary) Knows(word string) bool {
	w := plain(word)
	if d.words[w] || d.words[strings.ToLower(w)] {
		return true
	}
	for _, end := range []string{"'s", "'", "s"} {
		stem, ok := strings.CutSuffix(strings.ToLower(w), end)
		if ok && len(stem) > 2 && (d.words[capital(stem)] || d.words[stem] && (end != "s" || takesS(stem))) {
			return true
		}
	}
	return w == strings.ToUpper(w) && d.words[capital(strings.ToLower(w))]
}

// takesS reports whether a word of the list may have an s at its end though the list does not have it so: it is not one
// that takes es or ies, nor one whose several are another word (The Oxford Guide to Style, 3.1, from memory).
func takesS(stem string) bool {
	for _, end := range []string{"s", "x", "z", "ch", "sh", "man", "child", "foot", "tooth", "goose", "mouse", "louse"} {
		if strings.HasSuffix(stem, end) {
			return false
		}
	}
	before, y := strings.CutSuffix(stem, "y")
	return !y || strings.ContainsAny(before[len(before)-1:], "aeiou")
}

func capital(w string) string {
	r, n := utf8.DecodeRuneInString(w)
	return string(unicode.ToUpper(r)) + w[n:]
}

// Suggest gives words of the list that are one typing error away, or a doubled letter more or less in two places,
// those that begin alike first; no more than most. They are written with a capital where the word is.
func (d *Dictionary) Suggest(word string, most int) (all []string) {
	low := strings.ToLower(plain(word))
	n := utf8.RuneCountInString(low)
	undoubled := undouble(low)
	var near, far []string
	for k := max(1, n-2); k <= min(mostLetters, n+2); k++ {
		for _, w := range d.by[k] {
			switch {
			case w != strings.ToLower(w) && unicode.IsLower([]rune(word)[0]):
			case find.Close(low, strings.ToLower(w)):
				near = append(near, w)
			case w[0] == low[0] && find.Close(undoubled, undouble(w)):
				far = append(far, w)
			}
		}
	}
	first := func(w string) int {
		same := 0
		for same < len(w) && same < len(low) && w[same] == low[same] {
			same++
		}
		return -same
	}
	for _, some := range [][]string{near, far} {
		slices.SortStableFunc(some, func(a, b string) int { return first(a) - first(b) })
		all = append(all, some...)
	}
	all = all[:min(len(all), most)]
	if r, _ := utf8.DecodeRuneInString(word); unicode.IsUpper(r) {
		for i := range all {
			all[i] = capital(all[i])
		}
	}
	return all
}

// undouble is a word with one letter for two like ones.
func undouble(w string) string {
	var b strings.Builder
	last := rune(-1)
	for _, r := range w {
		if r != last {
			b.WriteRune(r)
		}
		last = r
	}
	return b.String()
}

// Word is a word in running text; offsets are bytes.
type Word struct {
	Text       string
	Start, End int
}

// Words lists the words of a text whose spelling can be looked at. Addresses, words with digits or signs in them,
// single letters and abbreviations in capitals are none.
func Words(s string) (ws []Word) {
	for at := 0; at < len(s); {
		r, n := utf8.DecodeRuneInString(s[at:])
		if unicode.IsSpace(r) {
			at += n
			continue
		}
		end := at
		for end < len(s) {
			r, n := utf8.DecodeRuneInString(s[end:])
			if unicode.IsSpace(r) {
				break
			}
			end += n
		}
		if token := s[at:end]; !strings.ContainsAny(token, "@/\\_<>[]{}=%#0123456789") && !dotted(token) {
			ws = words(ws, token, at)
		}
		at = end
	}
	return ws
}

// dotted reports whether a dot stands between letters, as in an address.
func dotted(token string) bool {
	token = strings.TrimRight(token, ".…,;:!?)”’\"'")
	return strings.Contains(token, ".") && !strings.Contains(token, "...")
}

// words adds the words of a token: what stands between dashes and other signs.
func words(ws []Word, token string, at int) []Word {
	start := -1
	flush := func(end int) {
		if start < 0 {
			return
		}
		w := strings.TrimRight(token[start:end], "'’")
		if utf8.RuneCountInString(w) > 1 && !(w == strings.ToUpper(w) && utf8.RuneCountInString(w) <= 5) {
			ws = append(ws, Word{w, at + start, at + start + len(w)})
		}
		start = -1
	}
	for i, r := range token {
		switch {
		case unicode.IsLetter(r) || unicode.Is(unicode.Mn, r):
			if start < 0 {
				start = i
			}
		case (r == '\'' || r == '’') && start >= 0:
		default:
			flush(i)
		}
	}
	flush(len(token))
	return ws
}
