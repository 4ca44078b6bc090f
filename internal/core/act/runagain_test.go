package act_test

import (
	"fmt"
	"os"
	"slices"
	"strings"
	"testing"

	"mendry/internal/core/act"
	"mendry/internal/core/change"
	"mendry/internal/core/page"
	"mendry/internal/core/refusal"
	"mendry/internal/core/thread"
	"mendry/internal/foreign"
	"mendry/internal/tries"
)

const boxes = `<html><head><title>Fares</title></head><body><main><h1>H</h1><h2>Fares</h2><p>Intro.</p>
<div class="box"><p>Summer</p><p>Boats at nine.</p></div>
<p>Between the two.</p>
<div class="box"><p>Winter</p><p>Boats at ten.</p></div>
<p>End.</p></main></body></html>
`

// A block that becomes a heading makes a section of its box, which gives the runs of the page another order: each run is
// changed where it stands, also beside others with as many blocks, or with the same words.
func TestEachRunIsChangedWhereItStandsWhateverBecomesOfItsBox(t *testing.T) {
	same := strings.NewReplacer("Winter", "Summer", "at ten", "at nine").Replace(boxes)
	cells := strings.NewReplacer("<div", "<table><tr><td", "</div>", "</td></tr></table>")
	items := strings.NewReplacer("<div", "<ul><li", "</div>", "</li></ul>")
	quotes := strings.NewReplacer("<div", "<blockquote", "</div>", "</blockquote>")
	for name, written := range map[string]string{
		"other words":                   boxes,
		"the same words":                same,
		"one block each":                strings.NewReplacer("<p>Boats at nine.</p>", "", "<p>Boats at ten.</p>", "").Replace(boxes),
		"in cells":                      cells.Replace(boxes),
		"one in another":                "<html><head><title>x</title></head><body><main><h1>A</h1><div><h1>A</h1><div><p>x</p></div><p>B</p></div><p>B</p></main></body></html>",
		"one in another, each with one": "<html><head><title>x</title></head><body><main><p>A</p><div class=\"in\"><p>A</p><div><p>A</p><p>A</p></div><p>A</p></div><p>A</p></main></body></html>",
		"in list items":                 items.Replace(boxes),
		"in quotes":                     quotes.Replace(boxes),
		"the same words, in cells":      cells.Replace(same),
		"the same words, in list items": items.Replace(same),
		"the same words, in quotes":     quotes.Replace(same),
	} {
		d := draft(t, written)
		for at, run := range change.Runs(d.Page()) {
			for i, b := range run.Blocks {
				if b.Sealed() {
					continue
				}
				for _, form := range []change.Form{"h2", "h3", "h4", "p", "quote", "bullets"} {
					for _, how := range []string{"a form", "a form, words and a block"} {
						want := blocks(t, d.Page(), run.Blocks[0].Part.ID)
						want[i].Form = form
						if how != "a form" {
							want[i].HTML += ", more"
							want = slices.Insert(want, i+1, act.RunBlock{Key: "new", Form: "p", HTML: "New here."})
						}
						of := fmt.Sprintf("%s: %s of block %d of run %d becomes %s", name, how, i, at, form)
						done, err := act.Do(d, &act.Run{Blocks: want}, studio{})
						if err != nil {
							joins := form == "quote" && strings.Contains(name, "in quotes") // the quote beside it
							if !joins && !strings.Contains(err.Error(), "skip a level") {
								t.Errorf("%s: %v", of, err)
							}
							continue
						}
						outside(t, of, d.Page(), run, done.Draft.Page())
						holds(t, of, done, want)
					}
				}
			}
		}
	}
}

// Every form is given to every block of every run of pages that nobody here wrote: nothing outside the run is another byte,
// and the run reads as it was asked for; or it is refused.
func TestEveryFormOnPagesNobodyHereWrote(t *testing.T) {
	t.Parallel()
	seen, tried, refused := 0, 0, map[string]int{}
	for _, f := range foreign.Files(t) {
		b, err := os.ReadFile(f)
		if err != nil {
			t.Fatal(err)
		}
		p, err := page.Parse(b, "")
		if err != nil {
			continue
		}
		d, err := thread.Of(p, nil, nil)
		if err != nil {
			t.Fatal(err)
		}
		for at, run := range change.Runs(p) {
			for i, b := range run.Blocks {
				for _, form := range []change.Form{"h2", "h3", "p", "quote", "bullets"} {
					if seen++; b.Sealed() || b.Form == form || !tries.Some(seen, 7) {
						continue
					}
					tried++
					want := blocks(t, p, run.Blocks[0].Part.ID)
					want[i].Form = form
					done, err := act.Do(d, &act.Run{Blocks: want}, studio{})
					if err != nil {
						if refusal.Of(err) == nil {
							t.Fatalf("%s: %v", f, err)
						}
						refused[err.Error()]++
						continue
					}
					of := fmt.Sprintf("%s: block %d of run %d becomes %s", f, i, at, form)
					outside(t, of, p, run, done.Draft.Page())
					holds(t, of, done, want)
				}
			}
		}
	}
	t.Logf("%d forms, refused: %v", tried, refused)
}

// What is typed with signs that are rarely seen is taken as it is, or without them; it is not refused.
func TestRareSignsAreTakenAsTyped(t *testing.T) {
	for _, words := range []string{
		"a\u200bb", "a\u00adb", "a\u00a0b", "a\tb", "a&nbsp;&nbsp;b", " a  b ", "a<br>b", "a<br>", "<br>a", "\u202eabc", "a\ufeffb", "e\u0301", "\U0001f469\u200d\U0001f33e",
		"a\u0085b", "a&#x80;b", "&amp;amp;", "&lt;b&gt;", "a &amp b", "<b>a</b><i></i>b", "<i>a<b>b</i>c</b>",
		"<a href=\"/x\">a</a>b", "<span style=\"color:red\">a</span>", "a<!-- no -->b", "[a]", "*a*", "1. a", "# a", "a\u2028b", "a\\b", "a`b`",
	} {
		d := draft(t, boxes)
		want := blocks(t, d.Page(), "heading-1")
		want[len(want)-1].HTML = words
		if _, err := act.Do(d, &act.Run{Blocks: want}, studio{}); err != nil {
			t.Errorf("%q: %v", words, err)
		}
		want[len(want)-1].HTML = "Intro."
		if _, err := act.Do(d, &act.Run{Blocks: append(want, act.RunBlock{Key: "new", Form: "p", HTML: words})}, studio{}); err != nil {
			t.Errorf("%q in a new block: %v", words, err)
		}
	}
}
