package act_test

import (
	"strings"
	"testing"

	"mendry/internal/core/act"
	"mendry/internal/core/change"
	"mendry/internal/core/page"
	"mendry/internal/core/refusal"
	"mendry/internal/core/thread"
)

const words = `<html><head><title>Boats</title></head><body>
<h1>Boats</h1>
<p>First words.</p>
<p>Second words.</p>
<p>Third words.</p>
</body></html>`

// A picture is put between two paragraphs, made smaller, moved, and taken out: then the bytes are as they were, and
// nothing is kept.
func TestAPictureComesAndGoes(t *testing.T) {
	live := draft(t, words)
	d := live
	put := act.PutPicture{
		Part:       id(t, d, "First words."),
		Where:      "after",
		Attachment: 7,
		Alt:        "The quay",
		Side:       "left",
		Caption:    "At <noon>",
	}
	done := do(t, d, &put)
	want := "<p>First words.</p><figure class=\"pic-left\"><img src=\"/img/new.png\" alt=\"The quay\" width=\"1200\" height=\"600\" style=\"max-width:100%;height:auto\"><figcaption>At &lt;noon&gt;</figcaption></figure>\n<p>Second"
	if got := string(done.Draft.Page().Doc.Bytes); !strings.Contains(got, want) {
		t.Errorf("%s", got)
	}
	c := done.Effects[0].Change
	if c.Kind != act.OfPicture || len(c.Pictures) != 1 || c.Put == nil || !strings.HasPrefix(done.Made, "picture-") {
		t.Errorf("%+v, made %s", c, done.Made)
	}
	d = done.Draft

	again := put
	again.Part, again.Where, again.Percent, again.Side, again.Caption = done.Made, "", 70, "right", ""
	done = do(t, d, &again)
	if got := string(done.Draft.Page().Doc.Bytes); len(done.Draft.Kept) != 1 || !strings.Contains(got, "float:right") ||
		!strings.Contains(got, ";width:70%") ||
		strings.Contains(got, "figcaption") {
		t.Errorf("%d changes\n%s", len(done.Draft.Kept), got)
	}
	d = done.Draft
	moved := do(t, d, &act.Move{Part: pictureOn(t, d), Anchor: id(t, d, "Third words."), Where: "before"})
	if got := string(moved.Draft.Page().Doc.Bytes); strings.Index(got, "<figure") < strings.Index(got, "Second") ||
		strings.Count(got, "<figure") != 1 {
		t.Errorf("the figure does not go with its picture:\n%s", got)
	}
	out := do(t, d, &act.Remove{Part: pictureOn(t, d)})
	if len(out.Draft.Kept) != 0 || string(out.Draft.Page().Doc.Bytes) != words {
		t.Errorf("%d changes\n%s", len(out.Draft.Kept), out.Draft.Page().Doc.Bytes)
	}
}

// What holds nothing but a picture goes with it: its link, figure and caption, its item and list; nothing empty stays.
func TestAPictureIsTakenOutWithAllThatIsItsOwn(t *testing.T) {
	for with, without := range map[string]string{
		`<p>A</p><p><a href="large.jpg"><img src="a.jpg" alt="A boat"></a></p><p>B</p>`:                                `<p>A</p><p>B</p>`,
		`<figure><img src="a.jpg" alt="A boat"><figcaption>A boat</figcaption></figure><p>B</p>`:                       `<p>B</p>`,
		`<ul><li><a href="b.jpg"><img src="a.jpg" alt="A boat"></a></li><li><img src="c.jpg" alt="Another"></li></ul>`: `<ul><li><img src="c.jpg" alt="Another"></li></ul>`,
		`<ul><li><img src="a.jpg" alt="A boat"></li></ul><p>B</p>`:                                                     `<p>B</p>`,
		`<picture><source srcset="s.jpg" media="(max-width:600px)"><img src="a.jpg" alt="A boat"></picture><p>B</p>`:   `<p>B</p>`,
		`<p>Words <img src="a.jpg" alt="A boat"> and words</p>`:                                                        `<p>Words  and words</p>`,
		`<figure><img src="a.jpg" alt="A boat"><img src="b.jpg" alt="Another"></figure>`:                               `<figure><img src="b.jpg" alt="Another"></figure>`,
		`<div class="col"><img src="a.jpg" alt="A boat"></div>`:                                                        `<div class="col"></div>`,
	} {
		const head, tail = "<html><head><title>Boats</title></head><body><h1>Boats</h1>", "</body></html>"
		d := draft(t, head+with+tail)
		done := do(t, d, &act.Remove{Part: pictureOn(t, d)})
		if got := string(done.Draft.Page().Doc.Bytes); got != head+without+tail {
			t.Errorf("%s\nbecomes %s", with, got)
		}
	}
}

func TestAPictureIsPutIntoMarkdownWithBlankLines(t *testing.T) {
	p, err := page.ParseMarkdown([]byte("# Seeds\n\nFirst words.\n\nSecond words.\n"))
	if err != nil {
		t.Fatal(err)
	}
	d, err := thread.Of(p, nil, nil)
	if err != nil {
		t.Fatal(err)
	}
	put := &act.PutPicture{Part: id(t, d, "First words."), Where: "after", Attachment: 7, Alt: "Beans", Title: "In May"}
	done := do(t, d, put)
	if got := string(done.Draft.Page().Doc.Bytes); got != "# Seeds\n\nFirst words.\n\n![Beans](/img/new.png \"In May\")\n\nSecond words.\n" {
		t.Errorf("%q", got)
	}
	put.Side = "left"
	if _, err := act.Do(d, put, studio{}); !refusal.Is(err, refusal.Rule) {
		t.Errorf("a side in Markdown: %v", err)
	}
}

func TestPicturesThatCannotBePutInAreRefused(t *testing.T) {
	d := draft(t, words)
	at := id(t, d, "First words.")
	for name, a := range map[string]*act.PutPicture{
		"none chosen":     {Part: at, Where: "after"},
		"a strange side":  {Part: at, Where: "after", Attachment: 7, Side: "above"},
		"too small":       {Part: at, Where: "after", Attachment: 7, Percent: 3},
		"too large":       {Part: at, Where: "after", Attachment: 7, Percent: 130},
		"a script":        {Part: at, Where: "after", Attachment: 7, Link: "javascript:alert(1)"},
		"inside":          {Part: at, Where: "first", Attachment: 7},
		"not put in here": {Part: at, Attachment: 7},
	} {
		if _, err := act.Do(d, a, studio{}); refusal.Of(err) == nil {
			t.Errorf("%s: %v", name, err)
		}
	}
}

// A picture is put into a column, at its top or its end, and made otherwise there.
func TestAPictureIsPutIntoAColumn(t *testing.T) {
	const page = `<html><head><title>B</title></head><body><h1>B</h1><section class="area"><h2>Two</h2><div class="row">` +
		`<div class="col"> <div class="pad"><p>Left words.</p></div></div><div class="col"> <div class="pad"><p>Right words.</p><p>More</p></div></div></div></section></body></html>`
	for where, want := range map[change.Where]string{
		change.First: `<div class="pad"><figure`, change.Last: `<p>More</p><figure`,
	} {
		d := draft(t, page)
		done := do(t, d, &act.PutPicture{Part: id(t, d, "Right words. More"), Where: where, Attachment: 7, Alt: "The quay"})
		if got := string(done.Draft.Page().Doc.Bytes); !strings.Contains(got, want) || !strings.HasSuffix(got, `</div></div></section></body></html>`) {
			t.Errorf("%s: %s", where, got)
		}
		if say := done.Effects[0].Change.Say; !strings.Contains(say, "of “") {
			t.Errorf("%s", say)
		}
		again := do(t, done.Draft, &act.PutPicture{Part: done.Made, Attachment: 7, Alt: "The quay", Caption: "Noon"})
		if got := string(again.Draft.Page().Doc.Bytes); len(again.Draft.Kept) != 1 || !strings.Contains(got, want) || !strings.Contains(got, "Noon") {
			t.Errorf("%d changes: %s", len(again.Draft.Kept), got)
		}
		out := do(t, again.Draft, &act.Remove{Part: pictureOn(t, again.Draft)})
		if string(out.Draft.Page().Doc.Bytes) != page {
			t.Errorf("not as it was: %s", out.Draft.Page().Doc.Bytes)
		}
	}
	d := draft(t, page)
	for _, q := range d.Page().All {
		if q.Kind.HasWords() {
			if _, err := act.Do(d, &act.PutPicture{Part: q.ID, Where: change.Last, Attachment: 7}, studio{}); refusal.Of(err) == nil {
				t.Errorf("into %s: %v", q.Name, err)
			}
		}
	}
}
