package find

import (
	"strings"
	"unicode"
	"unicode/utf8"

	"golang.org/x/text/unicode/norm"
)

// folded is a text in which letters that are looked for alike are alike: lower case, without accents, with straight
// quotes, short dashes and plain blanks. It knows where each byte came from.
type folded struct {
	s    string
	from []int // by byte of s, the byte of the text; nil where they are the same
	end  int   // of the text
}

func (f folded) String() string { return f.s }

var alike = map[rune]string{'‘': "'", '’': "'", '“': `"`, '”': `"`, '–': "-", '—': "-", '\u00a0': " ", '\u202f': " ", 'ß': "ss", 'æ': "ae", 'œ': "oe", 'ø': "o", 'ł': "l"}

func fold(s string) folded {
	f := folded{end: len(s)}
	plain := true
	for i := 0; i < len(s); i++ {
		if s[i] >= utf8.RuneSelf {
			plain = false
			break
		}
	}
	if plain {
		f.s = strings.ToLower(s)
		return f
	}
	var b strings.Builder
	b.Grow(len(s))
	f.from = make([]int, 0, len(s))
	for i, r := range s {
		if r < utf8.RuneSelf {
			if 'A' <= r && r <= 'Z' {
				r += 'a' - 'A'
			}
			b.WriteByte(byte(r))
			f.from = append(f.from, i)
			continue
		}
		at := b.Len()
		r = unicode.ToLower(r)
		if other, ok := alike[r]; ok {
			b.WriteString(other)
		} else {
			for _, d := range norm.NFD.String(string(r)) {
				if !unicode.Is(unicode.Mn, d) {
					b.WriteRune(d)
				}
			}
		}
		for range b.Len() - at {
			f.from = append(f.from, i)
		}
	}
	f.s = b.String()
	return f
}

// at is where a byte of the folded text came from.
func (f folded) at(i int) int {
	switch {
	case i >= len(f.s):
		return f.end
	case f.from == nil:
		return i
	}
	return f.from[i]
}

// all finds every place where words stand; with begin, only where a word begins with them.
func (f folded) all(words string, begin bool) (spans []Span) {
	if words == "" {
		return nil
	}
	for at := 0; ; {
		i := strings.Index(f.s[at:], words)
		if i < 0 {
			return spans
		}
		i += at
		at = i + len(words)
		if begin && i > 0 {
			if r, _ := utf8.DecodeLastRuneInString(f.s[:i]); unicode.IsLetter(r) || unicode.IsDigit(r) {
				continue
			}
		}
		spans = append(spans, Span{f.at(i), f.at(at)})
	}
}
