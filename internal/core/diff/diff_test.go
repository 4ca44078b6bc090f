package diff

import (
	"math/rand"
	"reflect"
	"testing"
	"testing/quick"

	"github.com/sergi/go-diff/diffmatchpatch"
)

func length(ops []Op) (d int) {
	for _, o := range ops {
		if o.Is != Same {
			d += o.N
		}
	}
	return d
}

// Myers 1986, section 2 and figure 1: ABCABBA to CBABAC has the shortest edit script of length 5.
func TestMyersWorkedExample(t *testing.T) {
	if got := length(Script([]byte("ABCABBA"), []byte("CBABAC"))); got != 5 {
		t.Errorf("edit distance %d, the paper has 5", got)
	}
}

// Yardstick: sergi/go-diff without its clean-up passes and without a time limit.
func TestScriptIsNeverLongerThanGoDiff(t *testing.T) {
	dmp := diffmatchpatch.New()
	dmp.DiffTimeout = 0
	r := rand.New(rand.NewSource(1))
	for range 500 {
		a, b := make([]rune, r.Intn(60)), make([]rune, r.Intn(60))
		for i := range a {
			a[i] = rune('a' + r.Intn(4))
		}
		for i := range b {
			b[i] = rune('a' + r.Intn(4))
		}
		theirs := 0
		for _, d := range dmp.DiffMainRunes(a, b, false) {
			if d.Type != diffmatchpatch.DiffEqual {
				theirs += len(d.Text)
			}
		}
		if ours := length(Script(a, b)); ours > theirs {
			t.Errorf("%q to %q: %d, go-diff has %d", string(a), string(b), ours, theirs)
		}
	}
}

func TestBothSidesCanBeReadOff(t *testing.T) {
	if err := quick.Check(func(a, b string) bool {
		runs := Words(a, b)
		return Side(runs, Gone) == string([]rune(a)) && Side(runs, New) == string([]rune(b))
	}, nil); err != nil {
		t.Error(err)
	}
}

func TestWordsReadAsPhrases(t *testing.T) {
	tests := []struct {
		before, after string
		want          []Run
	}{
		{"£6.90", "£7.40", []Run{{Gone, "£6.90"}, {New, "£7.40"}}},
		{"Bicycles travel free.", "Bicycles travel free.", []Run{{Same, "Bicycles travel free."}}},
		{
			"Open until 8 November.", "Open until 14 December.",
			[]Run{{Same, "Open until "}, {Gone, "8 November"}, {New, "14 December"}, {Same, "."}},
		},
		{"a b", "", []Run{{Gone, "a b"}}},
	}
	for _, tt := range tests {
		if got := Words(tt.before, tt.after); !reflect.DeepEqual(got, tt.want) {
			t.Errorf("%q to %q: %v, want %v", tt.before, tt.after, got, tt.want)
		}
	}
}

// A plain quadratic table (longest common subsequence, as in any textbook) gives the shortest distance.
func distance(a, b []rune) int {
	row := make([]int, len(b)+1)
	for j := range row {
		row[j] = j
	}
	for i := range a {
		last := row[0]
		row[0] = i + 1
		for j := range b {
			keep := row[j+1]
			if a[i] == b[j] {
				row[j+1] = last
			} else {
				row[j+1] = 1 + min(row[j+1], row[j])
			}
			last = keep
		}
	}
	return row[len(b)]
}

func TestScriptIsShortestAndTurnsOneIntoTheOther(t *testing.T) {
	r := rand.New(rand.NewSource(2))
	for range 3000 {
		a, b := make([]rune, r.Intn(40)), make([]rune, r.Intn(40))
		signs := 2 + r.Intn(5)
		for i := range a {
			a[i] = rune('a' + r.Intn(signs))
		}
		for i := range b {
			b[i] = rune('a' + r.Intn(signs+1))
		}
		ops := Script(a, b)
		var made []rune
		i, j := 0, 0
		for _, op := range ops {
			switch op.Is {
			case Same:
				made = append(made, a[i:i+op.N]...)
				i, j = i+op.N, j+op.N
			case Gone:
				i += op.N
			case New:
				made = append(made, b[j:j+op.N]...)
				j += op.N
			}
		}
		if string(made) != string(b) || i != len(a) || j != len(b) {
			t.Fatalf("%q to %q: script %v makes %q", string(a), string(b), ops, string(made))
		}
		if got, want := length(ops), distance(a, b); got != want {
			t.Fatalf("%q to %q: %d edits, shortest are %d", string(a), string(b), got, want)
		}
	}
}
