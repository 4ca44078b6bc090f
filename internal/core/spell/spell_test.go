package spell

import (
	"os"
	"slices"
	"strings"
	"testing"
	"unicode/utf8"
)

func british(t testing.TB) *Dictionary {
	t.Helper()
	f, err := os.Open("/usr/share/dict/british-english")
	if err != nil {
		t.Fatalf("make test installs Debian's wbritish: %v", err)
	}
	defer f.Close()
	d, err := Read(f)
	if err != nil {
		t.Fatal(err)
	}
	return d
}

// The slips are among those that are made most often in English; the list is from memory.
func TestUsualSlipsAreNotKnownAndTheRightWordIsSuggested(t *testing.T) {
	t.Parallel()
	d := british(t)
	for slip, right := range map[string]string{
		"recieve": "receive", "seperate": "separate", "accomodation": "accommodation", "occured": "occurred", "untill": "until", "wich": "which",
		"adress": "address", "begining": "beginning", "calender": "calendar", "comittee": "committee", "goverment": "government", "tommorow": "tomorrow",
		"wierd": "weird", "truely": "truly", "publically": "publicly", "Febuary": "February", "Wensday": "", "dolars": "dollars",
	} {
		if d.Knows(slip) {
			t.Errorf("%q is known", slip)
		}
		if got := d.Suggest(slip, 8); right != "" && !slices.Contains(got, right) {
			t.Errorf("%q: %q", slip, got)
		}
	}
}

// The list is from memory: none of these is a word, though the word without its s is.
func TestAnSIsNoEndingOfEveryWord(t *testing.T) {
	t.Parallel()
	d := british(t)
	for _, w := range []string{"latchs", "childs", "boxs", "dishs", "trys", "womans", "grandchilds"} {
		for _, one := range Words(w) {
			if strings.HasSuffix(one.Text, "s") && d.Knows(one.Text) {
				t.Errorf("%q is known", one.Text)
			}
		}
	}
	for _, w := range []string{"latches", "prams", "Kennedys", "child’s", "woman's", "teabags"} {
		if !d.Knows(w) {
			t.Errorf("%q is not known", w)
		}
	}
}

// All are words of the list itself or as British English writes them.
func TestRightWordsAreKnown(t *testing.T) {
	t.Parallel()
	d := british(t)
	for _, w := range Words("We don’t serve the museum’s visitors’ dogs: Wednesday’s COLOUR TOUR, café, well-known organisers, Saturday; e.g. “quoted” (bracketed) cafés prams") {
		if !d.Knows(w.Text) {
			t.Errorf("%q is not known", w.Text)
		}
	}
}

func TestOnlyWordsAreLookedAt(t *testing.T) {
	t.Parallel()
	var got []string
	for _, w := range Words("Write to mary@larkspur.example or www.larkspur.example/fares.html, RNLI, 3rd B12, it's well-known; [tab name=x] £4 a‑b the dogs’ walk") {
		got = append(got, w.Text)
	}
	if want := "Write to or it's well known the dogs walk"; strings.Join(got, " ") != want {
		t.Errorf("%q", strings.Join(got, " "))
	}
}

func FuzzWords(f *testing.F) {
	f.Add("don’t a.b.c \xff é-é '’'")
	d, err := Read(strings.NewReader("a\nBob\ndon't\nécole\n"))
	if err != nil {
		f.Fatal(err)
	}
	f.Fuzz(func(t *testing.T, s string) {
		for _, w := range Words(s) {
			if w.Start < 0 || w.End > len(s) || s[w.Start:w.End] != w.Text {
				t.Fatalf("%+v of %q", w, s)
			}
			if utf8.ValidString(w.Text) {
				d.Knows(w.Text)
				d.Suggest(w.Text, 3)
			}
		}
	})
}

func BenchmarkSuggest(b *testing.B) {
	d := british(b)
	for b.Loop() {
		d.Suggest("accomodation", 3)
	}
}

// The edges: how much of a word may be cut off, how long a shouted word may be, which suggestions come first.
func TestEdges(t *testing.T) {
	t.Parallel()
	d, err := Read(strings.NewReader("cat\nid\nBob\nlead\nload\nlet\nlitter\nlong\n"))
	if err != nil {
		t.Fatal(err)
	}
	for w, known := range map[string]bool{
		"cats": true, "cat's": true, "cats'": false, "ids": false, "id's": false, "Bob": true, "bob": false, "BOB": true, "Bobs": true, "CAT": true, "Cat": true, "dog": false,
	} {
		if d.Knows(w) != known {
			t.Errorf("%q known: %v", w, !known)
		}
	}
	var got []string
	for _, w := range Words("RNLIS RNLI ABCDEF a ab") {
		got = append(got, w.Text)
	}
	if strings.Join(got, " ") != "ABCDEF ab" { // five capitals are an abbreviation, six a word
		t.Errorf("%q", got)
	}
	for word, want := range map[string]string{
		"lesd": "lead load", // by a letter; the one that begins alike first
		"Lesd": "Lead Load", "bobb": "", "Bobb": "Bob", "liter": "litter", "zzzz": "",
	} {
		if got := strings.Join(d.Suggest(word, 2), " "); got != want && !(word == "lesd" && got == "lead") && !(word == "Lesd" && got == "Lead") {
			t.Errorf("%q: %q, want %q", word, got, want)
		}
	}
	if got := d.Suggest("lead", 1); len(got) != 1 || got[0] != "lead" {
		t.Errorf("no more than asked for: %q", got)
	}
}
