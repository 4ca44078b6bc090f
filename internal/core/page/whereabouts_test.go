package page

import "testing"

// What stands where is said by what is above it, and never by its own words, which are what changes (common practice,
// no source).
func TestWhereaboutsAreSaidWithoutTheWordsThatChange(t *testing.T) {
	t.Parallel()
	p, err := Parse([]byte(`<html><body><nav><ul><li><a href="/">Start</a></li><li><a href="/b">Boats</a></li></ul></nav><main><h1>Island ferries</h1><p>First words.</p><p>More words.</p>
<h2>Prices</h2><table><tr><th>For</th><th>Single</th></tr><tr><td>Hemp</td><td>£32</td></tr><tr><td>Flax</td><td>£30</td></tr></table>
<table><caption>In winter</caption><tr><td>Jute</td><td>£9</td></tr></table>
<h2>Where we are</h2><p>Ask at <a href="/q">the quay</a>.</p><p><a href="/w">Write to us</a></p><img src="q.jpg" alt="Old quay">
<section><h2>Dogs</h2><p>On a lead.</p><img src="d.jpg" alt="A dog"></section><p>Ask us.</p></main><div><p>Not of it.</p></div><div id="foot" class="wide"><p>Ring us.</p></div><footer><p>Call us.</p></footer></body></html>`), "")
	if err != nil {
		t.Fatal(err)
	}
	want := map[string]string{
		"heading Island ferries": "The heading of the page", "words First words.": "The opening words", "words More words.": "The words under “Island ferries”",
		"heading Prices": "A heading under “Island ferries”", "cell £32": "“Hemp, Single”, in the table under “Prices”", "row Hemp": "The row “Hemp”, in the table under “Prices”",
		"cell Flax": "Row 3, in the table under “Prices”", "cell £9": "“Jute”, in the table “In winter”",
		"link the quay": "The words under “Where we are”", "link Write to us": "A link under “Where we are”", "picture Old quay": "The picture under “Where we are”",
		"section Dogs": "The section “Dogs”", "words On a lead.": "The words under “Dogs”", "link Boats": "A link in the menu", "words Call us.": "The words at the foot of the page",
		"words Ask us.": "The words under “Where we are”", "words Ring us.": "The words at the foot of the page", "words Not of it.": "The words further down than “Dogs”",
	}
	for _, part := range p.All {
		for _, key := range []string{string(part.Kind) + " " + part.Text, string(part.Kind) + " " + part.Name} {
			if w, ok := want[key]; ok {
				delete(want, key)
				if got := p.Whereabouts(part); got != w {
					t.Errorf("%s is %q, want %q", key, got, w)
				}
			}
		}
	}
	if len(want) > 0 {
		t.Errorf("not met: %v", want)
	}
}
