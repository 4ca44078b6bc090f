package act_test

import (
	"slices"
	"strings"
	"testing"

	"mendry/internal/core/act"
	"mendry/internal/core/change"
	"mendry/internal/core/page"
	"mendry/internal/core/refusal"
	"mendry/internal/foreign"
)

const rows = `<html><head><title>Boats</title></head><body><main><h1>Boats</h1>
<div class="row"><div class="col-md-6 lead"><h2>Fares</h2><p>A single is £6.90.</p></div><div class="col-md-6"><img src="a.jpg" alt="Quay"></div></div>
<div style="display:flex;flex-wrap:wrap"><div style="flex:1 1 14rem"><h2>Dogs</h2><p>On a lead.</p></div>
<div style="flex:1 1 14rem"><p><a class="btn go" href="/book">Book</a></p></div></div>
</main></body></html>`

func wideOf(t *testing.T, p *page.Page, words string) []int {
	t.Helper()
	for _, q := range p.All {
		if q.Text == words && q.Kind.HasWords() {
			columns, _ := p.RowOf(q)
			return page.Wide(columns)
		}
	}
	t.Fatalf("nothing says %q", words)
	return nil
}

// By the site's classes where it has such columns, else by a style of their own (CSS Flexible Box 1, 7.1: flex).
func TestColumnsAreMadeWideAndNarrow(t *testing.T) {
	d := draft(t, rows)
	byClass := do(t, d, &act.Columns{Part: id(t, d, "A single is £6.90."), Wide: []int{2, 1}})
	got := string(byClass.Draft.Page().Doc.Bytes)
	if !strings.Contains(got, `class="lead col-md-8"`) || !strings.Contains(got, `class="col-md-4"`) ||
		strings.Contains(got, "6 lead") {
		t.Errorf("%s", got)
	}
	if c := byClass.Effects[0].Change; c.BeforeWords != "equal" || c.AfterWords != "wide and narrow" {
		t.Errorf("%+v", c)
	}
	byStyle := do(t, d, &act.Columns{Part: id(t, d, "On a lead."), Wide: []int{1, 2}})
	got = string(byStyle.Draft.Page().Doc.Bytes)
	if !strings.Contains(got, `style="flex:1 1 14rem;min-width:0"`) ||
		!strings.Contains(got, `style="flex:2 1 22rem;min-width:0"`) {
		t.Errorf("%s", got)
	}
	if wide := wideOf(t, byStyle.Draft.Page(), "On a lead."); !slices.Equal(wide, []int{1, 2}) {
		t.Errorf("they are told as %v", wide)
	}
	back, err := byStyle.Draft.Without(byStyle.Effects[0].Change.ID)
	if err != nil || string(back.Page().Doc.Bytes) != rows {
		t.Errorf("not as before: %v", err)
	}
	for _, a := range []act.Act{
		&act.Columns{Part: id(t, d, "On a lead."), Wide: []int{1, 2, 1}}, &act.Columns{Part: id(t, d, "On a lead."), Wide: []int{9, 1}},
		&act.Columns{Part: id(t, d, "Boats"), Wide: []int{1, 1}},
	} {
		if _, err := act.Do(d, a, studio{}); refusal.Of(err) == nil {
			t.Errorf("%+v: %v", a, err)
		}
	}
}

func TestAColumnIsAddedAndFilled(t *testing.T) {
	d := draft(t, rows)
	more := do(t, d, &act.AddColumn{Part: id(t, d, "On a lead.")})
	columns := wideOf(t, more.Draft.Page(), "On a lead.")
	got := string(more.Draft.Page().Doc.Bytes)
	if len(columns) != 3 ||
		!strings.Contains(
			got,
			"\n<div style=\"flex:1 1 14rem\"><p><a class=\"btn go\" href=\"#\">New button</a></p></div></div>",
		) {
		t.Errorf("%v\n%s", columns, got)
	}
	var column *page.Part
	for _, q := range more.Draft.Page().All {
		if cs, own := more.Draft.Page().RowOf(q); own == 2 {
			column = cs[2]
		}
	}
	put := do(t, more.Draft, &act.Put{Part: column.ID, Where: change.Last, What: "button"})
	put = do(t, put.Draft, &act.Put{Part: column.ID, Where: change.First, What: "heading"})
	got = string(put.Draft.Page().Doc.Bytes)
	if !strings.Contains(
		got,
		`<div style="flex:1 1 14rem"><h2>New heading</h2><p><a class="btn go" href="#">New button</a></p><p><a class="btn go" href="#">New button</a></p></div>`,
	) {
		t.Errorf("%s", got)
	}
	if made, ok := put.Draft.Page().Part(put.Made); !ok || made.Text != change.NewHeading {
		t.Errorf("one goes on in %+v", made)
	}
	if _, err := act.Do(d, &act.Put{Part: id(t, d, "On a lead."), Where: change.First, What: "words"}, studio{}); refusal.Of(
		err,
	) == nil {
		t.Errorf("a paragraph in a paragraph: %v", err)
	}
}

// Rows of pages that nobody here wrote: one column more, and as wide and narrow; each is undone to the very bytes, and
// nothing is read differently but what was asked for.
func TestColumnsOfPagesNobodyHereWrote(t *testing.T) {
	t.Parallel()
	names, files := foreign.Templates(t)
	found, refused := 0, map[string]int{}
	for _, name := range names {
		p, err := page.Parse(foreign.Read(t, files[name]), "")
		if err != nil {
			t.Fatal(err)
		}
		d := draft(t, string(p.Doc.Bytes))
		seen := map[string]bool{}
		for _, q := range d.Page().All {
			columns, own := d.Page().RowOf(q)
			if own < 0 || seen[columns[0].ID] {
				continue
			}
			seen[columns[0].ID] = true
			wide := slices.Repeat([]int{1}, len(columns))
			wide[0] = 2
			for _, a := range []act.Act{&act.Columns{Part: columns[0].ID, Wide: wide}, &act.AddColumn{Part: columns[0].ID, Copied: true}} {
				found++
				done, err := act.Do(d, a, studio{})
				if no := refusal.Of(err); no != nil {
					refused[no.Say]++
					continue
				} else if err != nil {
					t.Fatal(err)
				}
				if len(done.Effects) == 0 {
					continue
				}
				back, err := done.Draft.Without(done.Effects[0].Change.ID)
				if err != nil || string(back.Page().Doc.Bytes) != string(d.Page().Doc.Bytes) {
					t.Errorf("%s, %T: not as before: %v", name, a, err)
				}
				if why := page.Worse(d.Page(), done.Draft.Page()); why != "" {
					t.Errorf("%s, %T: %s", name, a, why)
				}
			}
		}
	}
	t.Logf("%d acts, refused: %v", found, refused)
	n := 0
	for say, k := range refused {
		if !strings.Contains(say, "4 columns at most") {
			n += k
		}
	}
	if found < 60 || 33*n > found {
		t.Errorf("%d of %d were refused", n, found)
	}
}
