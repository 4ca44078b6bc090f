package change

import (
	"bytes"
	"errors"
	"math/rand"
	"strings"
	"testing"

	"mendry/internal/core/page"
	"mendry/internal/core/refusal"
)

const sample = "<!doctype html>\r\n<html lang=en>\r\n<head>\r\n  <meta charset=utf-8>\r\n  <title>Fares</title>\r\n</head>\r\n<body>\r\n" +
	"<main>\r\n  <h1>Fares &amp; passes</h1>\r\n  <p>Read <a href='/a'>the <b>winter</b> page</a> first.<br>Then call.</p>\r\n" +
	"  <table><tr><th>Who<th>Single\r\n  <tr><td>Adult<td>&pound;6.90</table>\r\n" +
	"  <section><h2>Dogs</h2><p>On a lead.</p></section>\r\n  <section><h2>Bikes</h2><p>Free.</p></section>\r\n" +
	"  <img src=quay.jpg alt=''>\r\n</main>\r\n</body>\r\n</html>\r\n"

func parse(t testing.TB, s string) *page.Page {
	t.Helper()
	p, err := page.Parse([]byte(s), "")
	if err != nil {
		t.Fatal(err)
	}
	return p
}

func part(t testing.TB, p *page.Page, name string) *page.Part {
	t.Helper()
	kind := func(page.Kind) bool { return true }
	if strings.HasSuffix(name, "_") { // the wrapper of that name, not its heading
		name = strings.TrimSuffix(name, "_")
		kind = func(k page.Kind) bool { return k == page.Section || k == page.Row }
	} else if name == "Dogs" {
		kind = func(k page.Kind) bool { return k == page.Heading }
	}
	for _, q := range p.All {
		if q.Name == name && kind(q.Kind) {
			return q
		}
	}
	t.Fatalf("no part %q", name)
	return nil
}

func str(s string) *string { return &s }

func TestEveryOperationChangesItsPartAndReversesExactly(t *testing.T) {
	p := parse(t, sample)
	id := func(name string) string { return part(t, p, name).ID }
	tests := []struct {
		name     string
		op       Op
		old, new string // sample with old replaced by new is what is wanted
	}{
		{"words", Op{Op: SetWords, Part: id("Adult, Single"), HTML: "£7.40"}, "&pound;6.90", "£7.40"},
		{"heading", Op{Op: SetWords, Part: id("Dogs"), HTML: "Dogs &amp; cats"}, "<h2>Dogs<", "<h2>Dogs &amp; cats<"},
		{"attribute changed", Op{Op: SetAttribute, Part: id("quay.jpg"), Name: "alt", Value: str(`The "quay"`)}, "alt=''", "alt='The &quot;quay&quot;'"},
		{"attribute unquoted", Op{Op: SetAttribute, Part: id("quay.jpg"), Name: "src", Value: str("new boat.jpg")}, "src=quay.jpg", `src="new boat.jpg"`},
		{"attribute added", Op{Op: SetAttribute, Part: id("quay.jpg"), Name: "title", Value: str("x")}, "<img", `<img title="x"`},
		{"attribute removed", Op{Op: SetAttribute, Part: id("quay.jpg"), Name: "alt"}, " alt=''", ""},
		{"title", Op{Op: SetFact, Name: "title", Value: str("Fares <2027>")}, "<title>Fares<", "<title>Fares &lt;2027&gt;<"},
		{"description", Op{Op: SetFact, Name: "description", Value: str("All")}, "</head>", `<meta name="description" content="All"></head>`},
		{"copy", Op{Op: Copy, Part: id("Dogs_"), Anchor: id("Bikes_"), Where: After}, "", ""},
		{"move", Op{Op: Move, Part: id("Bikes_"), Anchor: id("Dogs_"), Where: Before}, "", ""},
		{"remove", Op{Op: Remove, Part: id("Dogs_")}, "\r\n  <section><h2>Dogs</h2><p>On a lead.</p></section>", ""},
		{"insert", Op{Op: Insert, Anchor: id("Dogs"), Where: After, HTML: "<p>New & old</p>"}, "Dogs</h2>", "Dogs</h2><p>New & old</p>"},
	}
	for _, tt := range tests {
		t.Run(tt.name, func(t *testing.T) {
			r, err := Apply(p, []Op{tt.op})
			if err != nil {
				t.Fatal(err)
			}
			if want := strings.Replace(sample, tt.old, tt.new, 1); tt.old != "" && string(r.Bytes) != want {
				t.Errorf("got\n%s", r.Bytes)
			}
			back, err := Apply(r.Page, r.Undo)
			if err != nil || !bytes.Equal(back.Bytes, p.Doc.Bytes) {
				t.Errorf("not undone: %v", err)
			}
		})
	}
}

func TestSectionsMoveWithTheirLine(t *testing.T) {
	p := parse(t, sample)
	r, err := Apply(p, []Op{{Op: Copy, Part: part(t, p, "Dogs_").ID, Anchor: part(t, p, "Bikes_").ID, Where: After}})
	if err != nil {
		t.Fatal(err)
	}
	if want := "<p>Free.</p></section>\r\n  <section><h2>Dogs</h2>"; !strings.Contains(string(r.Bytes), want) {
		t.Errorf("got\n%s", r.Bytes)
	}
}

func TestWhatWouldReachOutsideThePartIsRefused(t *testing.T) {
	p := parse(t, sample)
	for name, op := range map[string]Op{
		"closes its parent":  {Op: SetWords, Part: part(t, p, "Dogs").ID, HTML: "x</h2></section>y"},
		"opens a comment":    {Op: SetWords, Part: part(t, p, "Dogs").ID, HTML: "x<!-- "},
		"opens a script":     {Op: SetWords, Part: part(t, p, "Dogs").ID, HTML: "<script>"},
		"row out of a table": {Op: Move, Part: part(t, p, "Adult_").ID, Anchor: part(t, p, "Dogs").ID, Where: After},
		"no such part":       {Op: Remove, Part: "words-99"},
		"no such operation":  {Op: "melt", Part: "words-1"},
		"words of a section": {Op: SetWords, Part: part(t, p, "Dogs_").ID, HTML: "x"},
		"move into itself":   {Op: Move, Part: part(t, p, "Dogs_").ID, Anchor: part(t, p, "Dogs").ID, Where: After},
	} {
		var r *refusal.Refusal
		if got, err := Apply(p, []Op{op}); !errors.As(err, &r) {
			t.Errorf("%s: %v\n%s", name, err, got.Bytes)
		}
	}
}

func TestChangesToDifferentPartsCommute(t *testing.T) {
	p := parse(t, sample)
	var ts []Step
	for _, op := range []Op{
		{Op: SetWords, Part: part(t, p, "Adult, Single").ID, HTML: "£7.40"},
		{Op: SetAttribute, Part: part(t, p, "quay.jpg").ID, Name: "alt", Value: str("Quay")},
		{Op: SetWords, Part: part(t, p, "Dogs").ID, HTML: "Dogs and cats"},
	} {
		a, err := Aim(p, op)
		if err != nil {
			t.Fatal(err)
		}
		ts = append(ts, Step{a})
	}
	var first []byte
	for range 6 {
		rand.Shuffle(len(ts), func(i, j int) { ts[i], ts[j] = ts[j], ts[i] })
		q := p
		for _, s := range ts {
			r, err := s.Apply(q)
			if err != nil {
				t.Fatal(err)
			}
			q = r.Page
		}
		if first == nil {
			first = q.Doc.Bytes
		} else if !bytes.Equal(first, q.Doc.Bytes) {
			t.Errorf("order matters:\n%s\n%s", first, q.Doc.Bytes)
		}
	}
}

func TestAnEditByOthersIsAConflictNotALoss(t *testing.T) {
	p := parse(t, sample)
	a, err := Aim(p, Op{Op: SetWords, Part: part(t, p, "Adult, Single").ID, HTML: "£7.40"})
	if err != nil {
		t.Fatal(err)
	}
	_, err = Step{a}.Apply(parse(t, strings.Replace(sample, "&pound;6.90", "£7.00", 1)))
	var c *Conflict
	if !errors.As(err, &c) || c.Now != "£7.00" || !errors.Is(err, page.ErrElsewhere) {
		t.Errorf("err = %v", err)
	}
	r, err := Step{a}.Apply(parse(t, strings.Replace(sample, "Bikes", "Bicycles", 1)))
	if err != nil || !strings.Contains(string(r.Bytes), "<td>£7.40") || !strings.Contains(string(r.Bytes), "Bicycles") {
		t.Errorf("an edit of another part: %v", err)
	}
}

func TestWordsGoIntoTheMarkupThatIsThere(t *testing.T) {
	tests := []struct{ inner, words, want string }{
		{"Fares &amp; passes", "Fares & tickets", "Fares &amp; tickets"},
		{"Read <a href='/a'>the <b>winter</b> page</a> first.", "Read the summer page first.", "Read <a href='/a'>the <b>summer</b> page</a> first."},
		{"Read <a href='/a'>the page</a> first.", "Read the page now.", "Read <a href='/a'>the page</a> now."},
		{"one<br>two", "one\ntwo\nthree", "one<br>two<br>three"},
		{"one<br>two", "one two", "one two"},
		{"&pound;6.90", "£7.40", "£7.40"},
		{"  spaced \r\n out ", "spaced out < here", "  spaced \r\n out &lt; here "},
		{"", "new", "new"},
		{"all <b>gone</b>", "", "<b></b>"},
	}
	for _, tt := range tests {
		p := parse(t, "<table><tr><td>x<td id=x>"+tt.inner+"</table>")
		cell := p.All[len(p.All)-1]
		for _, q := range p.All {
			if q.Attributes.Get("id") == "x" {
				cell = q
			}
		}
		got, err := Retext(p, cell, tt.words)
		if err != nil || got != tt.want {
			t.Errorf("%q to %q: %q %v, want %q", tt.inner, tt.words, got, err, tt.want)
			continue
		}
		r, err := Apply(p, []Op{{Op: SetWords, Part: cell.ID, HTML: got}})
		if err != nil {
			t.Errorf("%q: %v", got, err)
			continue
		}
		now, _ := r.Page.Part(cell.ID)
		if now.Text != strings.TrimSpace(tt.words) {
			t.Errorf("%q reads %q", got, now.Text)
		}
	}
}

func FuzzRetext(f *testing.F) {
	f.Add("a <b>c</b>&amp;d", "a e")
	f.Add("x&nbsp;y<br/>z", "x\nz")
	f.Fuzz(func(t *testing.T, inner, words string) {
		p, err := page.Parse([]byte("<p>x<p id=x>"+inner), "text/html; charset=utf-8")
		if err != nil {
			return
		}
		for _, q := range p.All {
			if q.Kind != page.Words || q.Locked != "" || strings.ContainsAny(words, "\x00\r\f\v\u0085\u2028\u2029") {
				continue
			}
			markup, err := Retext(p, q, words)
			if err != nil {
				continue
			}
			r, err := Apply(p, []Op{{Op: SetWords, Part: q.ID, HTML: markup}})
			if err != nil {
				continue // refused, nothing lost
			}
			if back, err := Apply(r.Page, r.Undo); err != nil || !bytes.Equal(back.Bytes, p.Doc.Bytes) {
				t.Errorf("%q %q: not undone: %v", inner, words, err)
			}
		}
	})
}
