package change_test

import (
	"os"
	"slices"
	"strings"
	"testing"

	"mendry/internal/core/change"
	"mendry/internal/core/page"
	"mendry/internal/foreign"
	"mendry/internal/tries"
)

// rewriting is what others do to a page around or to a part. It gives the bytes of the page after it; "" where the
// part is not one to which it can be done.
type rewriting struct {
	name string
	gone bool // the part is gone or says something else: only a refusal is right
	twin bool // another part is the same as it: a refusal is right, and so is the part itself
	do   func(p *page.Page, part *page.Part) string
}

func applied(p *page.Page, ops ...change.Op) string {
	r, err := change.Apply(p, ops)
	if err != nil {
		return ""
	}
	return string(r.Bytes)
}

// unit is the row, item or section that a part stands in.
func unit(part *page.Part) *page.Part {
	for up := part.Parent; up != nil; up = up.Parent {
		if up.Kind == page.Row || up.Kind == page.Item || up.Kind == page.Section && !up.Node.Is("main", "body") {
			return up
		}
	}
	return nil
}

func beside(p *page.Page, part *page.Part) (before, after *page.Part) {
	if part == nil {
		return nil, nil
	}
	return p.Beside(part)
}

var rewritings = []rewriting{
	{name: "a paragraph above", do: func(p *page.Page, part *page.Part) string {
		before, _ := beside(p, part)
		if before == nil || part.Kind == page.Cell {
			return ""
		}
		return applied(p, change.Op{Op: change.Insert, Anchor: part.ID, Where: change.Before, HTML: "<p>Brought in above by somebody else.</p>"})
	}},
	{name: "the part before removed", do: func(p *page.Page, part *page.Part) string {
		before, _ := beside(p, part)
		if before == nil || before.Kind == page.Cell {
			return ""
		}
		return applied(p, change.Op{Op: change.Remove, Part: before.ID})
	}},
	{name: "the part removed", gone: true, do: func(p *page.Page, part *page.Part) string {
		return applied(p, change.Op{Op: change.Remove, Part: part.ID})
	}},
	{name: "the part reworded", gone: true, do: func(p *page.Page, part *page.Part) string {
		return applied(p, change.Op{Op: change.SetWords, Part: part.ID, HTML: "Said anew by somebody else"})
	}},
	{name: "its block copied before it", twin: true, do: func(p *page.Page, part *page.Part) string {
		u := unit(part)
		if u == nil {
			u = part
		}
		return applied(p, change.Op{Op: change.Copy, Part: u.ID, Anchor: u.ID, Where: change.Before})
	}},
	{name: "another row or card put in above", do: func(p *page.Page, part *page.Part) string {
		u := unit(part)
		if u == nil || u.Kind == page.Section {
			return ""
		}
		markup := u.HTML
		for _, q := range p.All { // as somebody fills a copy: the name is another one, the rest often stays
			if q.Kind.HasWords() && q.Start >= u.Start && q.End <= u.End && q.Text != "" && q.HTML != "" {
				inner := q.HTML[strings.IndexByte(q.HTML, '>')+1:]
				if end := strings.LastIndex(inner, "</"); end > 0 && q.Run == nil {
					markup = strings.Replace(markup, inner[:end], "Somebody new", 1)
				}
				break
			}
		}
		if !strings.Contains(markup, "Somebody new") {
			return ""
		}
		return applied(p, change.Op{Op: change.Insert, Anchor: u.ID, Where: change.Before, HTML: strings.Replace(markup, mark, "data-x", 1)})
	}},
	{name: "the row or card before removed", do: func(p *page.Page, part *page.Part) string {
		before, _ := beside(p, unit(part))
		if before == nil {
			return ""
		}
		return applied(p, change.Op{Op: change.Remove, Part: before.ID})
	}},
	{name: "its row or card removed", gone: true, do: func(p *page.Page, part *page.Part) string {
		u := unit(part)
		if u == nil {
			return ""
		}
		return applied(p, change.Op{Op: change.Remove, Part: u.ID})
	}},
	{name: "two rows or cards swapped", do: func(p *page.Page, part *page.Part) string {
		u := unit(part)
		before, _ := beside(p, u)
		if before == nil {
			return ""
		}
		return applied(p, change.Op{Op: change.Move, Part: u.ID, Anchor: before.ID, Where: change.Before})
	}},
	{name: "classes renamed", do: func(p *page.Page, part *page.Part) string {
		return strings.ReplaceAll(string(p.Doc.Bytes), `class="`, `class="new-`)
	}},
	{name: "wrapped", do: func(p *page.Page, part *page.Part) string {
		if part.Kind == page.Cell || part.Node.Is("li", "dt", "dd", "a", "button") {
			return ""
		}
		b := p.Doc.Bytes
		return string(b[:part.Start]) + `<div class="wrap">` + string(b[part.Start:part.End]) + "</div>" + string(b[part.End:])
	}},
}

// mark is an attribute by which the test, and nothing else, knows the part again.
const mark = "data-the-part"

// found tells what became of a change to a part on a page that was rewritten.
func found(t *testing.T, name string, old *page.Page, part *page.Part, r rewriting) (outcome string) {
	start := part.Start + 1 + len(part.Node.Tag())
	marked, err := old.Again([]byte(string(old.Doc.Bytes[:start]) + " " + mark + string(old.Doc.Bytes[start:])))
	if err != nil {
		return "skipped"
	}
	i := slices.IndexFunc(marked.All, func(q *page.Part) bool { return q.Start == part.Start && q.Kind == part.Kind })
	if i < 0 {
		return "skipped"
	}
	target := marked.TargetOf(marked.All[i])
	b := r.do(marked, marked.All[i])
	if b == "" {
		return "skipped"
	}
	now, err := old.Again([]byte(b))
	if err != nil || strings.Replace(b, " "+mark, "", -1) == string(old.Doc.Bytes) { // two like ones swapped
		return "skipped"
	}
	var ours []*page.Part
	for _, q := range now.All {
		if _, ok := q.Attributes.Lookup(mark); ok {
			ours = append(ours, q)
		}
	}
	got, _, err := now.Find(target)
	switch {
	case err != nil:
		return "refused"
	case r.gone:
		t.Errorf("%s, %s: %s %q (in %s) was taken for the one that is gone, %+v", name, r.name, got.ID, page.Short(got.Text, 40), now.Saying(target), target.Around)
		return "wrong"
	case len(ours) > 0 && got == ours[len(ours)-1]: // of twins the last is the one that was there
		return "found"
	}
	t.Errorf("%s, %s: %s was taken for %s %q, %+v", name, r.name, got.ID, part.ID, page.Short(part.Text, 40), target.Around)
	return "wrong"
}

// Pages are rewritten by others in every way that happens: a change finds its own part again, or says no. Over pages
// that nobody here wrote; MENDRY_CORPUS tries more of them.
func TestAChangeFindsItsOwnPartOrSaysNo(t *testing.T) {
	each := tries.Number("MENDRY_PARTS", 1, 6) // parts of a page
	type counts struct{ found, refused, wrong int }
	by := map[string]*counts{}
	parts := 0
	for source, files := range foreign.Pages(t) {
		step := max(1, len(files)/25)
		for n := 0; n < len(files); n += step {
			b, err := os.ReadFile(files[n])
			if err != nil {
				t.Fatal(err)
			}
			p, err := page.Parse(b, "")
			if err != nil {
				continue
			}
			var some []*page.Part
			for _, q := range p.All {
				if q.Kind.HasWords() && q.Locked == "" && q.Run == nil && q.Text != "" && q.Node.Placed && !(q.Parent != nil && q.Parent.Kind.HasWords()) {
					some = append(some, q)
				}
			}
			for i := range min(each, len(some)) {
				part := some[(i*len(some)/each+n)%len(some)]
				parts++
				for _, r := range rewritings {
					c := by[r.name]
					if c == nil {
						c = &counts{}
						by[r.name] = c
					}
					switch found(t, source, p, part, r) {
					case "found":
						c.found++
					case "refused":
						c.refused++
					case "wrong":
						c.wrong++
					}
				}
			}
		}
	}
	stays, again := 0, 0
	for _, r := range rewritings {
		c := by[r.name]
		t.Logf("%-34s found %5d, refused %5d, wrong %d", r.name, c.found, c.refused, c.wrong)
		if !r.gone && !r.twin {
			stays, again = stays+c.found+c.refused+c.wrong, again+c.found
		}
	}
	share := float64(again) / float64(stays)
	t.Logf("%d parts; of those that stayed %.2f %% were found", parts, 100*share)
	if share < 0.98 {
		t.Errorf("only %.2f %% of the parts that stayed were found", 100*share)
	}
}
