package act_test

import (
	"slices"
	"strings"
	"testing"

	"mendry/internal/core/act"
	"mendry/internal/core/page"
	"mendry/internal/core/picture"
	"mendry/internal/core/refusal"
	"mendry/internal/core/thread"
)

// pictureOn is the first picture of a draft, or its first background.
func pictureOn(t *testing.T, d *thread.Draft) string {
	t.Helper()
	i := slices.IndexFunc(
		d.Page().All,
		func(q *page.Part) bool { return q.Kind == page.Picture && (q.Background || !q.Node.Is("source")) },
	)
	if i < 0 {
		t.Fatal("no picture")
	}
	return d.Page().All[i].ID
}

// Each way in which a page names a picture, and what becomes of it. The attributes are those of HTML (4.8.3 and
// 4.8.4.2); those of scripts that load pictures late are common practice, no source.
func TestAPictureTakesThePlaceOfAnother(t *testing.T) {
	alt := " The new boat "
	for _, tt := range []struct {
		name, page, want, say string
		act                   act.Picture
	}{
		{
			"with sizes for screens", `<img src="/img/quay.png" alt="Quay" width="300" height="200" srcset="a.png 2x">`,
			`<img src="/img/new.png" alt="The new boat" width="300" height="150" srcset="/img/new.png 2x">`, "Quay: new picture, 1200 × 600, 4 kB",
			act.Picture{Alt: &alt},
		},
		{
			"by width", `<img src="quay-400.png" srcset="quay-400.png 400w, quay-800.png 800w, quay-1600.png 1600w" sizes="50vw" alt="Quay">`,
			`<img src="/img/new-400.png" srcset="/img/new-400.png 400w, /img/new-800.png 800w, /img/new.png 1200w" sizes="50vw" alt="Quay">`, "; 3 sizes",
			act.Picture{},
		},
		{
			"by density", `<img src="quay.png" srcset="quay.png 1x, quay-2.png 2x" alt="Quay">`,
			`<img src="/img/new-600.png" srcset="/img/new-600.png, /img/new.png 2x" alt="Quay">`, "; 2 sizes", act.Picture{},
		},
		{
			"late", `<img src="data:image/gif;base64,R0lGOD" data-src="quay.png" data-srcset="quay.png 400w, quay-9.png 900w" class="lazy" alt="Quay">`,
			`<img src="data:image/gif;base64,R0lGOD" data-src="/img/new-400.png" data-srcset="/img/new-400.png 400w, /img/new-900.png 900w" class="lazy" alt="Quay">`, "", act.Picture{},
		},
		{
			"late, with one that stands there meanwhile", `<img src="quay.png" data-src="quay.png" alt="Quay">`,
			`<img src="/img/new.png" data-src="/img/new.png" alt="Quay">`, "", act.Picture{},
		},
		{
			"with a large one behind it", `<a href="quay-large.jpg" data-big="quay-large.jpg" title="Quay"><img src="quay.jpg" data-copy="quay.jpg" alt="Quay"></a>`,
			`<a href="/img/new.png" data-big="/img/new.png" title="Quay"><img src="/img/new-300.png" data-copy="/img/new-300.png" alt="Quay"></a>`, "the link to the large one",
			act.Picture{Work: picture.Work{Width: 300}},
		},
		{
			"in a link to a page", `<a href="/boats/"><img src="quay.jpg" alt="Quay"></a>`,
			`<a href="/boats/"><img src="/img/new.png" alt="Quay"></a>`, "", act.Picture{},
		},
		{
			"for narrow windows, cut to the shape there", `<picture><source media="(max-width: 600px)" srcset="square.jpg"><img src="wide.jpg" alt="Quay"></picture>`,
			`<picture><source media="(max-width: 600px)" srcset="/img/new-400x400-780.png"><img src="/img/new.png" alt="Quay"></picture>`, "one for narrow screens", act.Picture{},
		},
		{
			"for narrow windows, one of its own", `<picture><source media="(max-width: 600px)" srcset="square.jpg"><img src="wide.jpg" alt="Quay"></picture>`,
			`<picture><source media="(max-width: 600px)" srcset="/img/new-1x1-300.png"><img src="/img/new.png" alt="Quay"></picture>`, "one for narrow screens",
			act.Picture{Narrow: &act.Pick{Attachment: 7, Work: picture.Work{Shape: "1:1", Width: 300}}},
		},
		{
			"in other formats", `<picture><source type="image/avif" srcset="a.avif"><source type="image/webp" srcset="a.webp 400w, b.webp 800w"><img src="a.jpg" alt="Quay"></picture>`,
			`<picture><source type="image/webp" srcset="/img/new.webp"><source type="image/webp" srcset="/img/new-400.webp 400w, /img/new-800.webp 800w"><img src="/img/new.png" alt="Quay"></picture>`, "", act.Picture{},
		},
		{
			"behind words", `<div class="hero" style="background-image: url('/img/night.jpg'); color: #fff"><h1>Stars</h1></div>`,
			`<div class="hero" style="background-image: url('/img/new.png'); color: #fff"><h1>Stars</h1></div>`, "", act.Picture{Alt: &alt},
		},
	} {
		d := draft(t, `<html><head><title>Boats</title></head><body>`+tt.page+`<p>Words.</p></body></html>`)
		a := tt.act
		a.Part, a.Attachment = pictureOn(t, d), 7
		done := do(t, d, &a)
		if got := string(done.Draft.Page().Doc.Bytes); !strings.Contains(got, "<body>"+tt.want+"<p>Words.</p>") {
			t.Errorf("%s:\n%s\nwant\n%s", tt.name, got, tt.want)
		}
		if c := done.Effects[0].Change; !strings.Contains(string(done.Draft.Page().Doc.Bytes), c.AfterHTML) {
			t.Errorf("%s: told of %s, which is not on the page", tt.name, c.AfterHTML)
		}
		if c := done.Effects[0].Change; !strings.Contains(c.Say, tt.say) || len(c.Pictures) == 0 || c.Made == nil {
			t.Errorf("%s: %+v", tt.name, c)
		}
		// Another one in its place is another wording of the same change, and the old one comes back by taking it out.
		again := tt.act
		again.Part, again.Attachment, again.Work.Quality = pictureOn(t, done.Draft), 7, 50
		if more := do(t, done.Draft, &again); len(more.Draft.Kept) != 1 {
			t.Errorf("%s: %d changes", tt.name, len(more.Draft.Kept))
		}
		back, err := done.Draft.Without(done.Effects[0].Change.ID)
		if err != nil || string(back.Page().Doc.Bytes) != string(d.Page().Doc.Bytes) {
			t.Errorf("%s: not as before: %v", tt.name, err)
		}
	}
}

func TestTheSharePictureComesInStep(t *testing.T) {
	for old, want := range map[string]string{
		"https://quay.example/img/quay.jpg":   "https://quay.example/img/new.png",
		"https://quay.example/img/square.jpg": "https://quay.example/img/new-400x400.png",
		"/img/share.jpg":                      "/img/new-1200x630.png",
	} {
		d := draft(
			t,
			`<html><head><title>Boats</title><meta property="og:image" content="`+old+`"></head><body><img src="img/quay.jpg" alt="Quay"></body></html>`,
		)
		part, _ := d.Page().Part(pictureOn(t, d))
		if !act.Shares(d.Page(), part) {
			t.Errorf("%s: the share picture is not known", old)
		}
		done := do(t, d, &act.Picture{Part: part.ID, Attachment: 7, Share: true})
		if got := done.Draft.Page().Facts.Image; got != want ||
			!strings.Contains(done.Effects[0].Change.Say, "share picture") {
			t.Errorf("%s: %s, want %s", old, got, want)
		}
	}
}

func TestAPictureInMarkdown(t *testing.T) {
	p, err := page.ParseMarkdown([]byte("# Seeds\n\n![Old beans](/img/beans.jpg \"Beans\")\n\nWords.\n"))
	if err != nil {
		t.Fatal(err)
	}
	d, err := thread.Of(p, nil, nil)
	if err != nil {
		t.Fatal(err)
	}
	alt := "New beans"
	done := do(t, d, &act.Picture{Part: pictureOn(t, d), Attachment: 7, Alt: &alt})
	if got := string(done.Draft.Page().Doc.Bytes); got != "# Seeds\n\n![New beans](/img/new.png \"Beans\")\n\nWords.\n" {
		t.Errorf("%q", got)
	}
}

func TestPicturesThatCannotTakeAPlaceAreRefused(t *testing.T) {
	d := draft(t, fares)
	if _, err := act.Do(d, &act.Picture{Part: pictureOn(t, d), Attachment: 8}, studio{}); !refusal.Is(
		err,
		refusal.Nothing,
	) {
		t.Errorf("err = %v", err)
	}
	if _, err := act.Do(d, &act.Picture{Part: pictureOn(t, d)}, studio{}); !refusal.Is(err, refusal.Rule) {
		t.Errorf("nothing chosen: %v", err)
	}
	if _, err := act.Do(d, &act.Picture{Part: id(t, d, "On a lead."), Attachment: 7}, studio{}); !refusal.Is(
		err,
		refusal.Rule,
	) {
		t.Errorf("err = %v", err)
	}
}
