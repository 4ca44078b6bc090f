// Package diff tells what became of words and of runs of alike things: what stayed, what is gone, what is new.
package diff

import (
	"strings"
	"unicode"
)

// Is says what became of a run.
type Is string

// What became of a run.
const (
	Same Is = "same"
	Gone Is = "gone"
	New  Is = "new"
)

// Run is a stretch of text and what became of it.
type Run struct {
	Is   Is     `json:"is"`
	Text string `json:"text"`
}

// Op is one step of an edit script: N items that stayed, are gone or are new.
type Op struct {
	Is Is
	N  int
}

// most is the edit distance past which a script is no longer looked for; what lies between the common beginning and
// the common end is then gone and new as a whole.
const most = 2000

// Script is a shortest edit script from a to b: E. W. Myers, "An O(ND) Difference Algorithm and Its Variations",
// Algorithmica 1 (1986), greedy form. Where gone and new meet, gone stands first.
func Script[T comparable](a, b []T) []Op {
	head := 0
	for head < len(a) && head < len(b) && a[head] == b[head] {
		head++
	}
	tail := 0
	for tail < len(a)-head && tail < len(b)-head && a[len(a)-1-tail] == b[len(b)-1-tail] {
		tail++
	}
	var s script
	s.add(Same, head)
	s.middle(myers(a[head:len(a)-tail], b[head:len(b)-tail]))
	s.add(Same, tail)
	return s.ops
}

type script struct{ ops []Op }

func (s *script) add(is Is, n int) {
	if n == 0 {
		return
	}
	last := len(s.ops) - 1
	switch {
	case last >= 0 && s.ops[last].Is == is:
		s.ops[last].N += n
	case is == Gone && last >= 0 && s.ops[last].Is == New: // gone before new
		if last > 0 && s.ops[last-1].Is == Gone {
			s.ops[last-1].N += n
			return
		}
		s.ops = append(s.ops, s.ops[last])
		s.ops[last] = Op{Gone, n}
	default:
		s.ops = append(s.ops, Op{is, n})
	}
}

func (s *script) middle(ops []Op) {
	for _, o := range ops {
		s.add(o.Is, o.N)
	}
}

func myers[T comparable](a, b []T) []Op {
	n, m := len(a), len(b)
	if n == 0 || m == 0 {
		return []Op{{Gone, n}, {New, m}}
	}
	limit := min(n+m, most)
	v := make([]int, 2*limit+3)
	off := limit + 1
	var trace [][]int
	for d := 0; d <= limit; d++ {
		trace = append(trace, append([]int(nil), v[off-d-1:off+d+2]...))
		for k := -d; k <= d; k += 2 {
			x := 0
			if k == -d || k != d && v[off+k-1] < v[off+k+1] {
				x = v[off+k+1]
			} else {
				x = v[off+k-1] + 1
			}
			y := x - k
			for x < n && y < m && a[x] == b[y] {
				x, y = x+1, y+1
			}
			v[off+k] = x
			if x >= n && y >= m {
				return back(trace, d, n, m)
			}
		}
	}
	return []Op{{Gone, n}, {New, m}}
}

// back walks Myers's trace from the end and returns the script in order.
func back(trace [][]int, d, x, y int) []Op {
	var rev []Op
	for ; d > 0; d-- {
		v := trace[d] // v[i] is diagonal i-d-1
		at := func(k int) int { return v[k+d+1] }
		k := x - y
		prev := k - 1
		if k == -d || k != d && at(k-1) < at(k+1) {
			prev = k + 1
		}
		px := at(prev)
		py := px - prev
		for x > px && y > py {
			rev = append(rev, Op{Same, 1})
			x, y = x-1, y-1
		}
		if prev == k+1 {
			rev = append(rev, Op{New, 1})
		} else {
			rev = append(rev, Op{Gone, 1})
		}
		x, y = px, py
	}
	for ; x > 0; x-- {
		rev = append(rev, Op{Same, 1})
	}
	for i, j := 0, len(rev)-1; i < j; i, j = i+1, j-1 {
		rev[i], rev[j] = rev[j], rev[i]
	}
	return rev
}

// Words compares two texts word by word. A price, a number or an address with its points counts as one word. Single
// blanks that stayed between two changed words are taken into the change, so that a reader sees phrases.
func Words(before, after string) []Run {
	a, b := tokens(before), tokens(after)
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

// tokens cuts text into words, blanks and single signs.
func tokens(s string) []string {
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
