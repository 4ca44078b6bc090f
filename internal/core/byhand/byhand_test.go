package byhand

import (
	"strings"
	"testing"

	"mendry/internal/core/page"
)

// repairs is a page as a program writes it; the words in braces are put in by the tests.
const repairs = `<!doctype html><html lang="en"><head><title>Repairs</title></head><body><main>
<h1>Repairs</h1>
<table><caption>What it costs</caption><tr><th>Clock</th><th>Inspection</th><th>Cleaning</th></tr>
<tr><td>Mantel clock</td><td>£20</td><td>£64</td></tr>
<tr><td>Longcase clock</td><td>£35</td><td>£140</td></tr></table>
<p>We collect within twenty miles.</p>
<p>Prices hold until 31 December 2026.</p>
<h2>Before and after</h2>
<p>A carriage clock from 1890.</p>
<img src="/pictures/carriage.jpg" alt="A carriage clock">
<p>The bench is open on Fridays.</p>
</main></body></html>`

func parse(t testing.TB, s string) *page.Page {
	t.Helper()
	p, err := page.Parse([]byte(s), "")
	if err != nil {
		t.Fatal(err)
	}
	return p
}

// with replaces words of a page, in pairs of old and new.
func with(s string, pairs ...string) string { return strings.NewReplacer(pairs...).Replace(s) }

// after is the page as it is to be: words, a picture, a page fact, one paragraph out, one in.
var after = with(repairs,
	"<td>£64</td>", "<td>£72</td>",
	"31 December 2026", "<b>30 June 2027</b>",
	"carriage.jpg\" alt=\"A carriage clock\"", "mantel-after.jpg\" alt=\"A mantel clock, cleaned\"",
	"<title>Repairs<", "<title>Repairs and prices<",
	"\n<p>The bench is open on Fridays.</p>", "",
	"<h2>Before", "<p>Ask for an estimate.</p>\n<h2>Before",
)

// What a person has to do is told by its place in words that stand on the page, as somebody would tell it on the
// telephone: common practice, no source.
func TestTheListTellsWhatGoesWhere(t *testing.T) {
	want := []struct {
		act   Act
		where string
		value Value
	}{
		{Alter, "", Value{"Page title", "Repairs", "Repairs and prices"}},
		{Alter, "in the table “What it costs”, second row, third column", Value{"words", "£64", "£72"}},
		{Alter, "below “Repairs”, after “We collect within twenty miles.”", Value{"words", "Prices hold until 31 December 2026.", "Prices hold until 30 June 2027."}},
		{PutIn, "below “Repairs”, after “Prices hold until 30 June 2027.”", Value{"words", "", "Ask for an estimate."}},
		{Alter, "below “Before and after”, after “A carriage clock from 1890.”", Value{"picture", "carriage.jpg", "mantel-after.jpg"}},
		{TakeOut, "below “Before and after”, after “A carriage clock from 1890.”", Value{"words", "The bench is open on Fridays.", ""}},
	}
	items := List(parse(t, repairs), parse(t, after))
	for i, it := range items {
		if i >= len(want) {
			t.Errorf("and %s: %s", it.Act, it.Say)
			continue
		}
		if w := want[i]; it.Act != w.act || it.Where != w.where || it.Values[0] != w.value {
			t.Errorf("%d: %s, %q, %q\nwant %s, %q, %q", i, it.Act, it.Where, it.Values[0], w.act, w.where, w.value)
		}
	}
	if len(items) < len(want) {
		t.Errorf("%d items of %d", len(items), len(want))
	}
	if !strings.Contains(items[2].Markup, "<b>30 June 2027</b>") || items[1].Markup != "" {
		t.Errorf("markup: %q, and %q where words tell all", items[2].Markup, items[1].Markup)
	}
}

func TestTheListTurnedRoundPutsBack(t *testing.T) {
	forth, back := List(parse(t, repairs), parse(t, after)), List(parse(t, after), parse(t, repairs))
	if len(forth) != len(back) {
		t.Fatalf("%d there, %d back", len(forth), len(back))
	}
	for _, it := range back {
		found := false
		for _, f := range forth {
			found = found || len(f.Values) > 0 && f.Values[0] == Value{it.Values[0].Name, it.Values[0].After, it.Values[0].Before}
		}
		if !found {
			t.Errorf("%q puts nothing back", it.Values[0])
		}
	}
}

func TestALookTellsRightFromNotYetFromDifferent(t *testing.T) {
	const right, notYet, different = Right, NotYet, Different
	for _, tt := range []struct {
		name   string
		live   string
		want   [6]Seen // title, cell, words, put in, picture, taken out
		others string  // what else is said to differ
	}{
		{"nothing yet", repairs, [6]Seen{notYet, notYet, notYet, notYet, notYet, notYet}, ""},
		{"all of it", after, [6]Seen{right, right, right, right, right, right}, ""},
		{"the price only", with(repairs, "£64", "£72"), [6]Seen{notYet, right, notYet, notYet, notYet, notYet}, ""},
		{"a wrong price", with(after, "£72", "£27"), [6]Seen{right, different, right, right, right, right}, ""},
		{"a typing error in new words", with(after, "an estimate", "an estmate"), [6]Seen{right, right, right, different, right, right}, ""},
		{"not bold", with(after, "<b>30 June 2027</b>", "30 June 2027"), [6]Seen{right, right, different, right, right, right}, ""},
		{"without a new alternative text", with(after, "A mantel clock, cleaned", "A carriage clock"), [6]Seen{right, right, right, right, different, right}, ""},
		{"altered instead of taken out", with(after, "cleaned\">", "cleaned\">\n<p>The bench is open on Mondays.</p>"), [6]Seen{right, right, right, right, right, different}, ""},
		{"the price in the wrong row", with(repairs, "£140", "£72"), [6]Seen{notYet, different, notYet, notYet, notYet, notYet}, ""},
		{"the price in both rows", with(repairs, "£140", "£72", "£64", "£72"), [6]Seen{notYet, right, notYet, notYet, notYet, notYet}, "£72"},
		{"somebody else's words too", with(after, "twenty", "thirty"), [6]Seen{right, right, right, right, right, right}, "thirty"},
		{"somebody else's words before", with(repairs, "twenty", "thirty"), [6]Seen{notYet, notYet, notYet, notYet, notYet, notYet}, "thirty"},
		{"another title", with(after, "Repairs and prices", "Repair prices"), [6]Seen{different, right, right, right, right, right}, ""},
		{
			"written by a program in markup of its own",
			with(after, "<p>We", "<p class=\"block\" data-id=\"7\">We", "<td>£72</td>", "<td style=\"\">£72</td>", "\n", "\r\n  ", "<main>", "<main id=m>"),
			[6]Seen{right, right, right, right, right, right}, "",
		},
		{"a paragraph of somebody else's gone", with(after, "<p>We collect within twenty miles.</p>", ""), [6]Seen{right, right, right, right, right, right}, "gone"},
	} {
		before, now := parse(t, repairs), parse(t, after)
		items := List(before, now)
		found, others := Look(items, before, now, parse(t, tt.live))
		for i, f := range found {
			if f.Seen != tt.want[i] {
				t.Errorf("%s: %s is %s, want %s (%s)", tt.name, items[i].Say, f.Seen, tt.want[i], f.Say)
			}
		}
		say := ""
		for _, o := range others {
			say += o.Say + "; "
		}
		if (tt.others == "") != (say == "") || !strings.Contains(say, tt.others) {
			t.Errorf("%s: others are %q, want %q", tt.name, say, tt.others)
		}
	}
}

func TestASlipIsToldWithWhereItStands(t *testing.T) {
	before, now := parse(t, repairs), parse(t, after)
	items := List(before, now)
	found, others := Look(items, before, now, parse(t, with(repairs, "£140", "£72")))
	want := "It stands elsewhere, in the table “What it costs”, third row, third column: “£72” in the place of “£140”. Put that back there, and it here."
	if !found[1].Slip || found[1].Say != want || len(others) != 0 {
		t.Errorf("%+v %v", found[1], others)
	}
	found, _ = Look(items, before, now, parse(t, with(after, "A mantel clock, cleaned", "A clock")))
	if r := found[4].Right; len(r) != 2 || !r[0] || r[1] {
		t.Errorf("of the picture's values right: %v", r)
	}
}
