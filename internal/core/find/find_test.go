package find

import (
	"math/rand/v2"
	"reflect"
	"slices"
	"strings"
	"testing"
)

func TestAQueryIsReadAsWhatItMayBe(t *testing.T) {
	t.Parallel()
	for _, c := range []struct {
		typed  string
		host   string
		path   string
		terms  []string
		values []string
	}{
		{"alder.html", "", "alder.html", []string{"alder", "html"}, nil},
		{"https://pennyfield.example/boats/alder.html?a=1#top", "pennyfield.example", "/boats/alder.html", []string{"https", "pennyfield", "example", "boats", "alder", "html", "top"}, []string{"number 1"}},
		{"https://pennyfield.example", "pennyfield.example", "/", []string{"https", "pennyfield", "example"}, nil},
		{"  The   Café on the quay ", "", "", []string{"cafe", "quay"}, nil},
		{"£7.40", "", "£7.40", nil, []string{"price GBP 7.40"}},
		{"0191 496 0123", "", "", nil, []string{"phone 1914960123"}},
		{"1 December 2026", "", "", nil, []string{"date 2026-12-1"}},
		{"6.90", "", "6.90", nil, []string{"number 6.90"}},
		{"640", "", "640", []string{"640"}, []string{"number 640"}},
	} {
		q := Read(c.typed)
		if q.Host != c.host || q.Path != c.path || !slices.Equal(q.Terms, c.terms) || !slices.Equal(q.Values, c.values) {
			t.Errorf("%q: host %q path %q terms %q values %q", c.typed, q.Host, q.Path, q.Terms, q.Values)
		}
	}
	for typed, want := range map[string]bool{"/fares.html": true, "fares.html": true, "https://a.example": true, "boats/alder": true, "fares": false, "": false, "read a/b": false} {
		if Read(typed).NamesFile() != want {
			t.Errorf("%q names a file: %v", typed, !want)
		}
	}
	if got, want := Read("1 December 2026").Asked(), []string{"date 2026-12-1", "date -12-1"}; !slices.Equal(got, want) {
		t.Errorf("asked: %q, want %q", got, want)
	}
}

var fares = Page{
	Host: "larkspur.example", Address: "/fares.html", Title: "Fares and passes",
	Words: "Fares and passes\nWinter fares apply from 1 December to 28 February.\nAdult, single\n£7.40\nCall us on 0191 496 0123 or +44 191 496 0124\nThe café on the quay – “open all year”",
}

func TestAPageAnswersByNameAndByWords(t *testing.T) {
	t.Parallel()
	for _, c := range []struct {
		typed string
		name  bool
		line  string
		marks []string
	}{
		{"/fares.html", true, "", nil},
		{"fares.html", true, "", nil},
		{"https://larkspur.example/fares.html", true, "", nil},
		{"fares and passes", true, "Fares and passes", []string{"Fares and passes"}},
		{"winter fares", false, "Winter fares apply from 1 December to 28 February.", []string{"Winter fares"}},
		{"february winter", false, "Winter fares apply from 1 December to 28 February.", []string{"Winter", "February"}},
		{"7.40 pounds", false, "£7.40", []string{"£7.40"}},
		{"+44 191 4960123", false, "Call us on 0191 496 0123 or +44 191 496 0124", []string{"0191 496 0123"}},
		{"1 Dec", false, "Winter fares apply from 1 December to 28 February.", []string{"1 Dec"}},
		{"1st December 2026", false, "Winter fares apply from 1 December to 28 February.", []string{"1 December"}},
		{"CAFE on the quay - \"open", false, "The café on the quay – “open all year”", []string{"café on the quay – “open"}},
	} {
		a := Read(c.typed).Rank(fares, nil)
		if a.Score == 0 || a.ByName != c.name {
			t.Errorf("%q: %+v", c.typed, a)
			continue
		}
		if c.line == "" {
			continue
		}
		if len(a.Lines) == 0 || a.Lines[0].Text != c.line {
			t.Errorf("%q: lines %+v", c.typed, a.Lines)
			continue
		}
		var marked []string
		for _, m := range a.Lines[0].Marks {
			marked = append(marked, c.line[m.Start:m.End])
		}
		if !reflect.DeepEqual(marked, c.marks) {
			t.Errorf("%q: marked %q", c.typed, marked)
		}
	}
	for _, typed := range []string{"summer fares", "https://other.example/fares.html", "£7.50", "/far.html", "0191 496 0125"} {
		if a := Read(typed).Rank(fares, nil); a.Score != 0 {
			t.Errorf("%q is answered: %+v", typed, a)
		}
	}
	if a := Read("wintr").Rank(fares, map[string][]string{"wintr": {"winter"}}); a.Score == 0 || len(a.Lines) != 1 {
		t.Errorf("with a typing error: %+v", a)
	}
}

func TestTheNamedPageComesFirst(t *testing.T) {
	t.Parallel()
	q := Read("fares.html")
	other := Page{Host: "larkspur.example", Address: "/news.html", Title: "News", Words: "The page fares.html is new: fares.html, fares.html"}
	if a, b := q.Rank(fares, nil), q.Rank(other, nil); a.Score <= b.Score || b.Score == 0 {
		t.Errorf("the page itself %d, one that speaks of it %d", a.Score, b.Score)
	}
}

// The measure is the distance of Damerau with adjacent letters changing places, by its definition as a recursion
// (F. J. Damerau, A technique for computer detection and correction of spelling errors, 1964; "optimal string
// alignment").
func damerau(a, b []rune) int {
	d := make([][]int, len(a)+1)
	for i := range d {
		d[i] = make([]int, len(b)+1)
		d[i][0] = i
	}
	for j := range d[0] {
		d[0][j] = j
	}
	for i := 1; i <= len(a); i++ {
		for j := 1; j <= len(b); j++ {
			cost := 1
			if a[i-1] == b[j-1] {
				cost = 0
			}
			d[i][j] = min(d[i-1][j]+1, d[i][j-1]+1, d[i-1][j-1]+cost)
			if i > 1 && j > 1 && a[i-1] == b[j-2] && a[i-2] == b[j-1] {
				d[i][j] = min(d[i][j], d[i-2][j-2]+1)
			}
		}
	}
	return d[len(a)][len(b)]
}

func TestCloseIsOneTypingErrorAtMost(t *testing.T) {
	t.Parallel()
	random := rand.New(rand.NewPCG(1, 2))
	word := func(n int) []rune {
		w := make([]rune, n)
		for i := range w {
			w[i] = []rune("abé")[random.IntN(3)]
		}
		return w
	}
	close := 0
	for range 200_000 {
		a, b := word(4+random.IntN(3)), word(4+random.IntN(3))
		want := damerau(a, b) <= 1
		if got := Close(string(a), string(b)); got != want {
			t.Fatalf("Close(%q, %q) = %v", string(a), string(b), got)
		}
		if !want {
			continue
		}
		close++
		if !slices.ContainsFunc(Near(string(a)), func(n string) bool { return slices.Contains(Near(string(b)), n) }) {
			t.Fatalf("%q and %q are close and share nothing: %q, %q", string(a), string(b), Near(string(a)), Near(string(b)))
		}
	}
	if close < 5000 {
		t.Errorf("only %d close pairs were tried", close)
	}
}

func FuzzMarksLieInTheLine(f *testing.F) {
	f.Add("Ähre", "die Ähre und die ÄHRE")
	f.Add("ß", "Straße")
	f.Add("7.40 pounds", "£7.40 \xff")
	f.Add("İi", "İstanbul ﬁ İ")
	f.Fuzz(func(t *testing.T, words, line string) {
		q := Read(words)
		a := q.Rank(Page{Host: "a.example", Address: "/", Title: line, Words: line}, nil)
		for _, l := range a.Lines {
			if !strings.Contains(line, l.Text) {
				t.Fatalf("%q is no line of %q", l.Text, line)
			}
			for _, m := range l.Marks {
				if m.Start < 0 || m.End < m.Start || m.End > len(l.Text) {
					t.Fatalf("%v is outside of %q", m, l.Text)
				}
			}
		}
	})
}
