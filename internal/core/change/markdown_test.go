package change_test

import (
	"bytes"
	"errors"
	"strings"
	"testing"

	"mendry/internal/core/change"
	"mendry/internal/core/page"
	"mendry/internal/core/refusal"
)

func markdown(t testing.TB, s string) *page.Page {
	t.Helper()
	p, err := page.ParseMarkdown([]byte(s))
	if err != nil {
		t.Fatal(err)
	}
	return p
}

// saying finds the part of a kind that says something.
func saying(t testing.TB, p *page.Page, kind page.Kind, words string) *page.Part {
	t.Helper()
	for _, q := range p.All {
		if q.Kind == kind && strings.Contains(q.Text+q.Attributes.Get("alt"), words) {
			return q
		}
	}
	t.Fatalf("no %s says %q", kind, words)
	return nil
}

func TestMarkdownStaysMarkdownAndOnlyItsBlockDiffers(t *testing.T) {
	for _, end := range []string{"\n", "\r\n"} {
		src := strings.ReplaceAll(beans, "\n", end)
		p := markdown(t, src)
		id := func(kind page.Kind, words string) string { return saying(t, p, kind, words).ID }
		soil := "- Warm the *soil*\n  - with fleece\n  - or glass"
		for _, tt := range []struct {
			name     string
			op       change.Op
			old, new string
		}{
			{"a word, the line end stays", change.Op{Op: change.SetWords, Part: id(page.Words, "Sow them"), HTML: `Sow them <strong>early</strong>, in <code>rows</code>. Two to a hole; see <a href="/calendar.html" title="All dates">the calendar</a>.`}, "**late**", "**early**"},
			{"new marks as the page writes them", change.Op{Op: change.SetWords, Part: id(page.Words, "Wait"), HTML: `<em>Wait</em> & <b>see</b>`}, "- Wait", "- *Wait* & **see**"},
			{"what could be a mark is escaped", change.Op{Op: change.SetWords, Part: id(page.Words, "Soak"), HTML: `1. Soak *all* &lt;b> [x](y)`}, "- Soak them", "- 1\\. Soak \\*all\\* \\<b> \\[x\\](y)"},
			{"a heading", change.Op{Op: change.SetWords, Part: id(page.Heading, "Before"), HTML: "Before <i>all</i>"}, "## Before you begin", "## Before *all*"},
			{"a heading with a line below", change.Op{Op: change.SetWords, Part: id(page.Heading, "Setext"), HTML: "Other"}, "Setext\n", "Other\n"},
			{"a cell", change.Op{Op: change.SetWords, Part: id(page.Cell, "12"), HTML: "13 | 14"}, "| 12 |", "| 13 \\| 14 |"},
			{"words of a quote keep its mark", change.Op{Op: change.SetWords, Part: id(page.Words, "old gardener"), HTML: "An old gardener\nsays no."}, "> says so.", "> says no."},
			{"a picture", change.Op{Op: change.SetAttribute, Part: id(page.Picture, "A row"), Name: "src", Value: str("img/new row.jpg")}, "(img/row.jpg)", "(<img/new row.jpg>)"},
			{"its alternative text", change.Op{Op: change.SetAttribute, Part: id(page.Picture, "A row"), Name: "alt", Value: str("Two [rows]")}, "![A row]", "![Two \\[rows\\]]"},
			{"a link's title goes", change.Op{Op: change.SetAttribute, Part: id(page.Link, "the calendar"), Name: "title"}, ` "All dates"`, ""},
			{"a bare address gets words", change.Op{Op: change.SetAttribute, Part: id(page.Link, "seeds"), Name: "href", Value: str("https://seeds.example/all")}, "<https://seeds.example/>", "[https://seeds.example/](https://seeds.example/all)"},
			{"a fact", change.Op{Op: change.SetFact, Name: "title", Value: str("Beans: all")}, "title: Beans", `title: "Beans: all"`},
			{"a new fact", change.Op{Op: change.SetFact, Name: "description", Value: str("How to sow")}, "tags: [sowing, 'late']\n", "tags: [sowing, 'late']\ndescription: How to sow\n"},
			{"an item is copied", change.Op{Op: change.Copy, Part: id(page.Words, "Soak"), Anchor: id(page.Words, "Wait"), Where: change.After}, "- Wait", "- Wait\n- Soak them"},
			{"a block is put in", change.Op{Op: change.Insert, Anchor: id(page.Heading, "Before"), Where: change.After, HTML: "<p>New <b>words</b></p><h3>More</h3>"}, "## Before you begin", "## Before you begin\n\nNew **words**\n\n### More"},
			{"a block is taken out", change.Op{Op: change.Remove, Part: id(page.Picture, "A row")}, "![A row](img/row.jpg)\n\n", ""},
			{"an item with its list is moved", change.Op{Op: change.Move, Part: saying(t, p, page.Words, "Warm the").ID, Anchor: id(page.Words, "Soak"), Where: change.Before}, "", ""},
		} {
			r, err := change.Apply(p, []change.Op{tt.op})
			if tt.name == "an item with its list is moved" { // words beside a list of their own cannot move without it
				if err == nil {
					t.Errorf("%s: it was moved out of %q", tt.name, soil)
				}
				continue
			}
			if err != nil {
				t.Errorf("%s: %v", tt.name, err)
				continue
			}
			want := strings.Replace(src, strings.ReplaceAll(tt.old, "\n", end), strings.ReplaceAll(tt.new, "\n", end), 1)
			if string(r.Bytes) != want {
				t.Errorf("%s: got\n%s", tt.name, r.Bytes)
			}
			if back, err := change.Apply(r.Page, r.Undo); err != nil || !bytes.Equal(back.Bytes, []byte(src)) {
				t.Errorf("%s: not undone: %v", tt.name, err)
			}
		}
	}
}

func TestWhatMarkdownCannotSayIsRefusedInWords(t *testing.T) {
	p := markdown(t, beans)
	for name, op := range map[string]change.Op{
		"underlined":              {Op: change.SetWords, Part: saying(t, p, page.Words, "Sow them").ID, HTML: "<u>a</u>"},
		"a line break in a cell":  {Op: change.SetWords, Part: saying(t, p, page.Cell, "12").ID, HTML: "a<br>b"},
		"a class":                 {Op: change.SetAttribute, Part: saying(t, p, page.Heading, "Before").ID, Name: "class", Value: str("x")},
		"half a code":             {Op: change.SetWords, Part: saying(t, p, page.Words, "Sow them").ID, HTML: "a {{ b"},
		"a row among paragraphs":  {Op: change.Copy, Part: saying(t, p, page.Row, "Broad").ID, Anchor: saying(t, p, page.Heading, "Before").ID, Where: change.After},
		"an item outside a list":  {Op: change.Insert, Anchor: saying(t, p, page.Heading, "Before").ID, Where: change.After, HTML: "<li>x</li>"},
		"into a part of Markdown": {Op: change.Insert, Anchor: saying(t, p, page.Heading, "Before").ID, Where: change.First, HTML: "<p>x</p>"},
	} {
		var r *refusal.Refusal
		if got, err := change.Apply(p, []change.Op{op}); !errors.As(err, &r) || r.Say == "" {
			t.Errorf("%s: %v\n%s", name, err, got.Bytes)
		}
	}
}

func TestWordsTypedIntoMarkdownKeepItsMarks(t *testing.T) {
	p := markdown(t, beans)
	part := saying(t, p, page.Words, "Sow them")
	for words, want := range map[string]string{
		part.Text: beans,
		strings.Replace(part.Text, "late", "early", 1):           strings.Replace(beans, "late**", "early**", 1),
		strings.Replace(part.Text, "a hole", "each hole", 1):     strings.Replace(beans, "a hole", "each hole", 1),
		strings.Replace(part.Text, "calendar", "almanac", 1):     strings.Replace(beans, "calendar]", "almanac]", 1),
		strings.Replace(part.Text, "Sow them ", "Sow them\n", 1): strings.Replace(beans, "Sow them **", "Sow them  \n**", 1),
	} {
		markup, err := change.Retext(p, part, words)
		if err != nil {
			t.Fatal(err)
		}
		r, err := change.Apply(p, []change.Op{{Op: change.SetWords, Part: part.ID, HTML: markup}})
		if err != nil {
			t.Errorf("%q: %v", words, err)
		} else if string(r.Bytes) != want {
			t.Errorf("%q: got\n%s", words, r.Bytes)
		}
	}
}
