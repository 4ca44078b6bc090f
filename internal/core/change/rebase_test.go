package change

import (
	"strings"
	"testing"
)

const oldTable = `<h1>Fares</h1>
<table><tr><th>Who</th><th>Single</th></tr><tr><td>Adult</td><td>£6.90</td></tr><tr><td>Group</td><td>£6.90</td></tr></table>
<div class="card"><h2>Boats</h2><p>All of them.</p><a href="/boats.html">Read more</a></div>
<div class="card"><h2>Islands</h2><p>Two of them.</p><a href="/islands.html">Read more</a></div>
<div class="card"><h2>Crew</h2><p>Six of them.</p><a href="/crew.html">Read more</a></div>
<p>Call us.</p>`

// The smallest cases in which a change landed on the wrong part, and those in which it must still be found.
func TestAChangeIsBroughtOntoWhatOthersMadeOfThePage(t *testing.T) {
	old := parse(t, oldTable)
	adult := Op{Op: SetWords, Part: part(t, old, "Adult, Single").ID, HTML: "£7.40"}
	var islands Op
	for _, q := range old.All {
		if q.Attributes.Get("href") == "/islands.html" {
			islands = Op{Op: SetWords, Part: q.ID, HTML: "See both"}
		}
	}
	senior := `<tr><td>Senior</td><td>£6.90</td></tr>`
	card := oldTable[strings.Index(oldTable, `<div class="card"><h2>Islands`):strings.Index(oldTable, "\n<div class=\"card\"><h2>Crew")]
	for _, tt := range []struct {
		name string
		op   Op
		old  string // of the page, what others replaced
		new  string
		want string // on the page afterwards; "" where it is refused
		why  string
	}{
		{"a row put in above", adult, "<tr><td>Adult", senior + "<tr><td>Adult", "Senior</td><td>£6.90</td></tr><tr><td>Adult</td><td>£7.40", ""},
		{"the part changed, another one says the same", adult, "Adult</td><td>£6.90", "Adult</td><td>£7.00", "", "its place now says “£7.00”. The same words stand in “Group”"},
		{"the row removed", adult, "<tr><td>Adult</td><td>£6.90</td></tr>", "", "", "The same words stand in “Group”"},
		{"prices exchanged", adult, "Adult</td><td>£6.90</td></tr><tr><td>Group", "Group</td><td>£6.90</td></tr><tr><td>Adult", "Group</td><td>£6.90</td></tr><tr><td>Adult</td><td>£7.40", ""},
		{"the card removed", islands, card, "", "", "can no longer be told from others. The same words stand in “Boats”, “Crew”"},
		{"another card made of it", islands, "\n<p>Call us.</p>", "\n" + strings.Replace(card, "Two of", "Both of", 1) + "\n<p>Call us.</p>", "See both</a></div>\n<div class=\"card\"><h2>Crew", ""},
		{"the card copied", islands, card, card + "\n" + card, "", "fits two places: "},
		{"a paragraph above", islands, "<h1>", "<p>News.</p><h1>", `<a href="/islands.html">See both</a>`, ""},
		{"the part before removed", islands, "<p>Two of them.</p>", "", `<a href="/islands.html">See both</a>`, ""},
		{"the section of it wrapped", islands, card, "<section>" + card + "</section>", `<a href="/islands.html">See both</a>`, ""},
	} {
		now := parse(t, strings.Replace(oldTable, tt.old, tt.new, 1))
		r, no := Rebase(old, []Op{tt.op}, now)
		switch {
		case tt.want != "" && (len(no) > 0 || !strings.Contains(string(r.Bytes), tt.want)):
			t.Errorf("%s: %+v\n%+v", tt.name, no, r)
		case tt.want == "" && (len(no) != 1 || no[0].Part != tt.op.Part || !strings.Contains(no[0].Why, tt.why)):
			t.Errorf("%s: %+v", tt.name, no)
		}
	}
}

func TestWhereOneIsRefusedNothingIsApplied(t *testing.T) {
	old := parse(t, oldTable)
	ops := []Op{
		{Op: SetWords, Part: old.All[len(old.All)-1].ID, HTML: "Write to us."},
		{Op: SetWords, Part: part(t, old, "Adult, Single").ID, HTML: "£7.40"},
		{Op: PutBack, At: 3, Gone: []byte("x")},
		{Op: Remove, Part: "words-99"},
	}
	r, no := Rebase(old, ops, parse(t, strings.Replace(oldTable, "Adult</td><td>£6.90", "Adult</td><td>£7.00", 1)))
	if r != nil || len(no) != 3 || no[0].Index != 1 || no[1].Index != 2 || no[2].Index != 3 || no[2].Part != "words-99" {
		t.Errorf("%+v", no)
	}
	twice := []Op{{Op: SetWords, Part: ops[0].Part, HTML: "a"}, {Op: SetWords, Part: ops[0].Part, HTML: "b"}}
	if r, no := Rebase(old, twice, old); r != nil || len(no) != 2 {
		t.Errorf("two in one place: %+v", no)
	}
}
