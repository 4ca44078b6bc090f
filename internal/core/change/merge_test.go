package change_test

import (
	"encoding/json"
	"errors"
	"strings"
	"testing"

	"mendry/internal/core/change"
	"mendry/internal/core/page"
)

const board = "<!doctype html>\n<title>Fares</title>\n<h1>Fares</h1>\n<p>Bicycles travel free. <a href=/a>Dogs</a> do not.</p>\n" +
	"<table><tr><th>Who<th>Single<tr><td>Adult<td>£6.90<tr><td>Child<td>£3.45</table>\n<section><h2>Passes</h2><p>Ten trips.</p></section>\n<section><h2>Groups</h2><p>Call us.</p></section>\n"

func edited(t testing.TB, pairs ...string) *page.Page {
	t.Helper()
	return parsed(t, strings.NewReplacer(pairs...).Replace(board))
}

func TestMergePartByPart(t *testing.T) {
	base := parsed(t, board)
	passes, groups := "<section><h2>Passes</h2><p>Ten trips.</p></section>\n", "<section><h2>Groups</h2><p>Call us.</p></section>\n"
	for _, tt := range []struct {
		name         string
		mine, theirs []string
		want         []string // pairs for board; nil where both changed the same part
		clash        string   // the part's name
	}{
		{"different cells of one line", []string{"6.90", "7.40"}, []string{"3.45", "3.70"}, []string{"6.90", "7.40", "3.45", "3.70"}, ""},
		{"the same change on both sides", []string{"6.90", "7.40"}, []string{"6.90", "7.40", "3.45", "3.70"}, []string{"6.90", "7.40", "3.45", "3.70"}, ""},
		{"one part, two ways", []string{"6.90", "7.40"}, []string{"6.90", "7.10"}, nil, "Adult, Single"},
		{"one paragraph, other words of it", []string{"Bicycles", "Bikes"}, []string{"do not", "do too"}, nil, "Opening words"},
		{"a section goes, another's words change", []string{passes, ""}, []string{"Call us", "Write to us"}, []string{passes, "", "Call us", "Write to us"}, ""},
		{"a section goes, its own words change", []string{passes, ""}, []string{"Ten trips", "Twelve trips"}, nil, ""},
		{"sections change places, a cell changes", []string{passes + groups, groups + passes}, []string{"6.90", "7.40"}, []string{passes + groups, groups + passes, "6.90", "7.40"}, ""},
		{"title and heading", []string{"<title>Fares", "<title>All fares"}, []string{"<h1>Fares", "<h1>Our fares"}, []string{"<title>Fares", "<title>All fares", "<h1>Fares", "<h1>Our fares"}, ""},
	} {
		got, err := change.Merge(base, edited(t, tt.mine...), edited(t, tt.theirs...))
		var clashes *change.Clashes
		switch {
		case tt.want != nil && err != nil:
			t.Errorf("%s: %v", tt.name, err)
		case tt.want != nil && string(got.Doc.Bytes) != strings.NewReplacer(tt.want...).Replace(board):
			t.Errorf("%s: got\n%s", tt.name, got.Doc.Bytes)
		case tt.want == nil && (!errors.As(err, &clashes) || !strings.Contains(clashes.All[0].Name, tt.clash)):
			t.Errorf("%s: %v %+v", tt.name, err, clashes)
		}
	}
}

func TestOneChangeIsTakenBackUnderLaterOnes(t *testing.T) {
	p := parsed(t, board)
	var undos [][]change.Op
	at := []*page.Page{p}
	for _, step := range []struct {
		words string
		html  string
	}{{"£6.90", "£7.40"}, {"Ten trips.", "Twelve trips."}, {"£7.40", "£7.50"}, {"Call us.", "Write to us, at length."}} {
		now := at[len(at)-1]
		kind := page.Words
		if strings.HasPrefix(step.words, "£") {
			kind = page.Cell
		}
		r, err := change.Apply(now, []change.Op{{Op: change.SetWords, Part: saying(t, now, kind, step.words).ID, HTML: step.html}})
		if err != nil {
			t.Fatal(err)
		}
		undos, at = append(undos, r.Undo), append(at, r.Page)
	}
	now := at[len(at)-1]
	if _, err := change.Revert(now, undos[0], undos[1:]...); err != change.ErrBuiltUpon {
		t.Errorf("a price that was changed again: %v", err)
	}
	r, err := change.Revert(now, undos[1], undos[2:]...)
	if err != nil || !strings.Contains(string(r.Bytes), "Ten trips.") || !strings.Contains(string(r.Bytes), "£7.50") || !strings.Contains(string(r.Bytes), "at length") {
		t.Errorf("one in the middle: %v\n%s", err, r.Bytes)
	}
	// A change that others made is followed by both versions alone.
	theirs := parsed(t, strings.Replace(string(now.Doc.Bytes), "<h1>Fares", "<h1>All our fares", 1))
	if r, err = change.Revert(theirs, undos[3], change.Steps(now, theirs)); err != nil || !strings.Contains(string(r.Bytes), "Call us.") || !strings.Contains(string(r.Bytes), "All our fares") {
		t.Errorf("under an edit by others: %v", err)
	}
}

func TestHowWordsLookIsToldApartFromWhatTheySay(t *testing.T) {
	base := parsed(t, board)
	for html, want := range map[string]string{
		"<b>Bicycles</b> travel free. <a href=/a>Dogs</a> do not.":   "Opening words: “Bicycles” is now bold",
		"Bicycles travel free. <i><a href=/a>Dogs</a></i> do not.":   "Opening words: “Dogs” is now italic",
		"Bicycles travel free. Dogs do not.":                         "Opening words: “Dogs” is no longer a link to /a",
		"Bicycles travel free. <a href=/b>Dogs</a> do not.":          "Opening words: “Dogs” is now a link to /b, no longer a link to /a",
		"Bicycles travel <em>free. </em><a href=/a>Dogs</a> do not.": "Opening words: “free.” is now italic",
		"Bicycles travel at half price. <a href=/a>Dogs</a> do not.": "Opening words: Bicycles travel free. Dogs do not. becomes Bicycles travel at half price. Dogs do not.",
	} {
		now := edited(t, "Bicycles travel free. <a href=/a>Dogs</a> do not.", html)
		d := change.Compare(base, now)
		if len(d.Changes) == 0 || d.Changes[0].Say != want {
			t.Errorf("%s: %+v, want %s", html, d.Changes, want)
		}
	}
	same := change.CompareWith(parsed(t, "<img src=a.jpg alt=Quay>"), parsed(t, "<img src=b.jpg alt=Quay>"), func(string) string { return "one content" })
	if len(same.Changes) != 1 || same.Changes[0].Say != "Quay: the same picture, now named b.jpg" {
		t.Errorf("%+v", same.Changes)
	}
}

// The form is that of the W3C Web Annotation Data Model: examples 22 (TextQuoteSelector), 21 (XPathSelector) and 32
// (refinement), members as its tables 4.2 have them.
func TestATargetAsAWebAnnotation(t *testing.T) {
	p := parsed(t, board)
	b, err := json.Marshal(p.TargetOf(saying(t, p, page.Cell, "£6.90")).Annotation("https://ferry.example/fares.html"))
	want := `{"@context":"http://www.w3.org/ns/anno.jsonld","type":"SpecificResource","source":"https://ferry.example/fares.html",` +
		`"selector":{"type":"XPathSelector","value":"/html[1]/body[1]/table[1]/tbody[1]/tr[2]/td[2]",` +
		`"refinedBy":{"type":"TextQuoteSelector","exact":"£6.90","prefix":"Adult","suffix":"Child"}}}`
	if err != nil || string(b) != want {
		t.Errorf("%s %v", b, err)
	}
}
