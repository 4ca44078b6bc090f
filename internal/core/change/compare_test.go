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

// What was one act is told as one change, and as what it was.
func TestAFormAndAColumnAreToldAsWhatTheyWere(t *testing.T) {
	old := "<main><h1>H</h1><p>Open daily.</p>\n<ul>\n<li>One</li>\n<li>Two</li>\n<li>Three</li>\n</ul>\n<table><caption>Fares</caption><tr><th>For</th><th>Single</th><th>Return</th></tr><tr><td>Adult</td><td>£6</td><td>£9</td></tr><tr><td>Child</td><td>£3</td><td>£4</td></tr></table><p><a href='/f'>Fares</a></p></main>"
	for _, tt := range []struct {
		from, to, says string
		outside        bool
	}{
		{"<p>Open daily.</p>", "<h2>Open daily.</h2>", "“Opening words” becomes a heading of level 2", true},
		{"<p>Open daily.</p>", "<blockquote><p>Open daily.</p></blockquote>", "“Opening words” becomes a quote", true},
		{"\n<li>Two</li>\n", "\n</ul>\n<p>Two</p>\n<ul>\n", "“Two” becomes a paragraph", true},
		{"<p>Open daily.</p>\n<ul>\n", "\n<ul>\n<li>Open daily.</li>\n", "“Opening words” becomes an item of a bulleted list", true},
		{"<p><a href='/f'>Fares</a></p>", "<p>Fares</p>", "“Fares” is no link any more", true},
		{"<th>Single</th>|<td>£6</td>|<td>£3</td>", "", "The column “Single” of Fares is gone", true},
		{"<th>Return</th>|<td>£9</td>|<td>£4</td>", "<th>Day</th><th>Return</th>|<td>£8</td><td>£9</td>|<td>£5</td><td>£4</td>", "The column “Day” of Fares is new", true},
		{"<td>£6</td>|<td>£3</td>", "", "Adult, Single is gone | Child, Single is gone", true},
	} {
		now := old
		for i, from := range strings.Split(tt.from, "|") {
			to := strings.Split(tt.to+"||", "|")[i]
			now = strings.Replace(now, from, to, 1)
		}
		d := Compare(parse(t, old), parse(t, now))
		var says []string
		for _, c := range d.All() {
			says = append(says, c.Say)
		}
		if strings.Join(says, " | ") != tt.says || d.OutsideSame != tt.outside {
			t.Errorf("%q to %q: said %q, outside the same: %v", tt.from, tt.to, says, d.OutsideSame)
		}
	}
}
