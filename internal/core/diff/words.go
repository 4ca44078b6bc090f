package diff

import (
	"strings"
	"unicode"
)

// Words compares two texts word by word. A price, a number or an address with its points counts as one word. Single
// blanks that stayed between two changed words are taken into the change, so that a reader sees phrases.
func Words(before, after string) []Run {
	a, b := Tokens(before), Tokens(after)
	var runs []Run
	i, j := 0, 0
	for _, op := range Script(a, b) {
		switch op.Is {
		case Same:
			runs = append(runs, Run{Same, strings.Join(a[i:i+op.N], "")})
			i, j = i+op.N, j+op.N
		case Gone:
			runs = append(runs, Run{Gone, strings.Join(a[i:i+op.N], "")})
			i += op.N
		case New:
			runs = append(runs, Run{New, strings.Join(b[j:j+op.N], "")})
			j += op.N
		}
	}
	return phrases(runs)
}

// phrases joins changes that only a blank keeps apart.
func phrases(runs []Run) []Run {
	var out []Run
	var gone, now strings.Builder
	flush := func() {
		if gone.Len() > 0 {
			out = append(out, Run{Gone, gone.String()})
		}
		if now.Len() > 0 {
			out = append(out, Run{New, now.String()})
		}
		gone.Reset()
		now.Reset()
	}
	for i, r := range runs {
		switch {
		case r.Is == Gone:
			gone.WriteString(r.Text)
		case r.Is == New:
			now.WriteString(r.Text)
		case strings.TrimSpace(r.Text) == "" && i > 0 && i < len(runs)-1 && gone.Len() > 0 && now.Len() > 0:
			gone.WriteString(r.Text)
			now.WriteString(r.Text)
		default:
			flush()
			out = append(out, r)
		}
	}
	flush()
	return out
}

// Tokens cuts text into words, blanks and single signs.
func Tokens(s string) []string {
	var out []string
	rs := []rune(s)
	for i := 0; i < len(rs); {
		j := i + 1
		switch {
		case unicode.IsSpace(rs[i]):
			for j < len(rs) && unicode.IsSpace(rs[j]) {
				j++
			}
		case wordy(rs[i]):
			for j < len(rs) && (wordy(rs[j]) || joins(rs[j]) && j+1 < len(rs) && wordy(rs[j+1])) {
				j++
			}
		}
		out = append(out, string(rs[i:j]))
		i = j
	}
	return out
}

func wordy(r rune) bool {
	return unicode.IsLetter(r) || unicode.IsDigit(r) || unicode.IsMark(r) || unicode.Is(unicode.Sc, r)
}

// joins reports whether r, between two word signs, belongs to the word: 7.40, don't, 10:30, well-kept, @.
func joins(r rune) bool { return strings.ContainsRune(".,:'’-@/_", r) }

// Side is the text of one side of runs: Gone gives what stood before, New what stands after.
func Side(runs []Run, side Is) string {
	var s strings.Builder
	for _, r := range runs {
		if r.Is == Same || r.Is == side {
			s.WriteString(r.Text)
		}
	}
	return s.String()
}
