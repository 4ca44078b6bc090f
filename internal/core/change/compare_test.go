package change

import (
	"strings"
	"testing"

	"mendry/internal/core/diff"
)

func TestComparePartByPart(t *testing.T) {
	old := parse(t, sample)
	now := parse(t, strings.NewReplacer("&pound;6.90", "£7.40", "<title>Fares", "<title>Winter fares", "alt=''", "alt=Quay",
		"<section><h2>Bikes</h2><p>Free.</p></section>", "").Replace(sample))
	d := Compare(old, now)
	var say []string
	for _, c := range d.Changes {
		say = append(say, c.Say)
	}
	want := []string{
		"Page title: Fares becomes Winter fares", "Adult, Single: £6.90 becomes £7.40", "Alternative text: now Quay", "Bikes is gone",
	}
	if strings.Join(say, "\n") != strings.Join(want, "\n") {
		t.Errorf("got\n%s", strings.Join(say, "\n"))
	}
	if d.Same {
		t.Errorf("%+v", d)
	}
	if w := d.Changes[1].Words; len(w) != 2 || w[0] != (diff.Run{Is: diff.Gone, Text: "£6.90"}) {
		t.Errorf("words %v", w)
	}
}

func TestCompareTellsWhatIsGoneFromWhatWasReworded(t *testing.T) {
	old := parse(t, "<main><h1>A</h1><p>We collect within twenty miles.</p><p>Prices hold until May.</p></main>")
	now := parse(t, "<main><h1>A</h1><p>Prices hold until June.</p></main>")
	d := Compare(old, now)
	if len(d.Changes) != 2 || d.Changes[0].After != "Prices hold until June." || d.Changes[0].Before != "Prices hold until May." ||
		!strings.HasSuffix(d.Changes[1].Say, "is gone") {
		t.Errorf("%+v", d.Changes)
	}
}

func TestCompareSeesWhatStandsOutsideParts(t *testing.T) {
	old := parse(t, sample)
	if d := Compare(old, parse(t, strings.Replace(sample, "6.90", "7.40", 1))); !d.OutsideSame || len(d.Changes) != 1 {
		t.Errorf("%+v", d)
	}
	if d := Compare(old, parse(t, strings.Replace(sample, "<main>", "<main class=x>", 1))); !d.OutsideSame || len(d.Tags) != 1 {
		t.Errorf("a changed wrapper was not seen: %+v", d)
	}
	moved, err := Apply(old, []Op{{Op: Move, Part: part(t, old, "Bikes_").ID, Anchor: part(t, old, "Dogs_").ID, Where: Before}})
	if err != nil {
		t.Fatal(err)
	}
	if d := Compare(old, moved.Page); !d.OutsideSame || len(d.Changes) != 1 || !strings.HasSuffix(d.Changes[0].Say, " moves") {
		t.Errorf("%+v", d)
	}
	if d := Compare(old, parse(t, sample)); !d.Same || !d.OutsideSame {
		t.Errorf("%+v", d)
	}
}

// What is added to long words, or taken out of them, becomes of nothing else.
func TestWhatIsAddedOrTakenOutIsSaidAsThat(t *testing.T) {
	long := "Call the office on any day but Monday, and ask for the one who answers letters within two days."
	for _, tt := range []struct{ before, after, say string }{
		{long, long + " In winter it takes longer.", "Opening: “In winter it takes longer.” is new"},
		{long + " In winter it takes longer.", long, "Opening: “In winter it takes longer.” is taken out"},
		{long, strings.Replace(long, "two days", "a week", 1), "Opening: “two days” becomes “a week”"},
	} {
		if got := Becomes("Opening", tt.before, tt.after); got != tt.say {
			t.Errorf("said %q, wanted %q", got, tt.say)
		}
	}
}
