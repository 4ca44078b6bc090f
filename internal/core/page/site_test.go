package page

import (
	"fmt"
	"strings"
	"testing"
)

func boats(t *testing.T) (site []Placed) {
	for i, b := range []struct{ name, length, model string }{
		{"Alder", "57", "K2"}, {"Birch", "62", "K3"}, {"Cedar", "48", "K2"}, {"Elm", "57", "K5"},
	} {
		current := func(n int) string {
			if n == i {
				return " class=here aria-current=page"
			}
			return ""
		}
		src := fmt.Sprintf(`<!doctype html><title>%[1]s</title><header><nav><ul><li><a href="index.html"%[4]s>Boats</a><li><a href="../contact.html">Contact</a></ul></nav></header>
<main><h1>%[1]s</h1><p class=roll>A %[2]s ft boat for lovers of quiet water.</p><table><tr><th>Length<td>%[2]s ft<tr><th>Model<td>%[3]s</table>
<p>Ask about %[1]s and we answer within a day.</p><p>Linen is included.</p></main><p class=notice>The lock at Penny Mill is shut.</p><footer><p>Call 01632 960220</p></footer>`,
			b.name, b.length, b.model, current(0))
		site = append(site, Placed{fmt.Sprintf("/boats/%s.html", strings.ToLower(b.name)), parse(t, src)})
	}
	home := `<!doctype html><title>Home</title><header><nav><ul><li><a href="boats/index.html">Boats</a><li><a href="contact.html">Contact</a></ul></nav></header>
<main><h1>Canal hire</h1><p>Choose a boat.</p><ul><li>one<li>two</ul></main><p class=notice>The lock at Penny Mill is shut.</p><footer><p>Call 01632 960220</p></footer>`
	return append(site, Placed{"/index.html", parse(t, home)})
}

func TestSharedPartsAreTheSameButForLinksAndState(t *testing.T) {
	var got []string
	for _, s := range Shared(boats(t)) {
		got = append(got, fmt.Sprintf("%s %s on %d, exact %v, state %v", s.Kind, s.Name, len(s.On), s.Exact, s.State))
	}
	want := []string{
		"section Page header on 5, exact false, state [here]",
		"words “The lock at Penny Mill is shut.” on 5, exact true, state []",
		"section Footer on 5, exact true, state []",
	}
	if strings.Join(got, "\n") != strings.Join(want, "\n") {
		t.Errorf("got\n%s", strings.Join(got, "\n"))
	}
}

func TestAFamilyTellsWhatDiffersDownToTheWords(t *testing.T) {
	site := boats(t)
	Shared(site)
	fs := Families(site)
	if len(fs) != 1 || len(fs[0].Addresses) != 4 {
		t.Fatalf("families %+v", fs)
	}
	var got []string
	for _, f := range fs[0].Fields {
		got = append(got, fmt.Sprintf("%s: same %v, %q, %s/%s", f.Name, f.Same, f.Frame, f.Differs["/boats/alder.html"], f.Differs["/boats/birch.html"]))
	}
	want := []string{
		`Alder: same false, "…", Alder/Birch`,
		`Opening words: same false, "A … ft boat for lovers of quiet water.", 57/62`,
		`Length: same true, "Length", /`,
		`Length: same false, "… ft", 57/62`,
		`Model: same true, "Model", /`,
		`Model: same false, "…", K2/K3`,
		`“Ask about Alder and we answer within…”: same false, "Ask about … and we answer within a day.", Alder/Birch`,
		`“Linen is included.”: same true, "Linen is included.", /`,
	}
	if strings.Join(got, "\n") != strings.Join(want, "\n") {
		t.Errorf("got\n%s", strings.Join(got, "\n"))
	}
}
