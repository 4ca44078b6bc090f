package act_test

import (
	"strings"
	"testing"

	"mendry/internal/core/act"
	"mendry/internal/core/refusal"
)

func pageOf(picture string) string {
	return `<html><head><title>Boats</title></head><body><h1>Boats</h1><p>Words.</p>` + picture + `<p>More.</p></body></html>`
}

// A picture that stands on the page gets a caption as it is typed, in one change; typed back to nothing, nothing is
// kept.
func TestAPictureGetsACaption(t *testing.T) {
	for _, c := range []struct{ was, want string }{
		{`<img src="a.jpg" alt="Quay">`, `<figure style="margin:0"><img src="a.jpg" alt="Quay"><figcaption>At &lt;noon&gt;</figcaption></figure>`},
		{`<p class="wide"><a href="l.jpg"><img src="a.jpg" alt="Quay"></a></p>`, `<figure class="wide"><a href="l.jpg"><img src="a.jpg" alt="Quay"></a><figcaption>At &lt;noon&gt;</figcaption></figure>`},
		{`<figure class="f"><img src="a.jpg" alt="Quay"></figure>`, `<figure class="f"><img src="a.jpg" alt="Quay"><figcaption>At &lt;noon&gt;</figcaption></figure>`},
		{`<img src="a.jpg" alt="Quay" class="pic-left round" style="width:40%;border:0">`,
			`<figure class="pic-left" style="width:40%"><img src="a.jpg" alt="Quay" class="round" style="border:0;width:100%"><figcaption>At &lt;noon&gt;</figcaption></figure>`},
		{`<figure><img src="a.jpg" alt="Quay"><figcaption>Morning</figcaption></figure>`, `<figure><img src="a.jpg" alt="Quay"><figcaption>At &lt;noon&gt;</figcaption></figure>`},
	} {
		d := draft(t, pageOf(c.was))
		for _, typed := range []string{"At", "At <no", "At <noon>"} {
			done := do(t, d, &act.Caption{Part: pictureOn(t, d), Words: typed})
			if d = done.Draft; done.Made != pictureOn(t, d) {
				t.Errorf("%s: one goes on in %q", c.was, done.Made)
			}
		}
		if got := string(d.Page().Doc.Bytes); len(d.Kept) != 1 || got != pageOf(c.want) {
			t.Errorf("%d changes\n%s, want\n%s", len(d.Kept), got, pageOf(c.want))
		}
		out := do(t, d, &act.Caption{Part: pictureOn(t, d)})
		if got := string(out.Draft.Page().Doc.Bytes); !strings.Contains(c.was, "figcaption") &&
			(len(out.Draft.Kept) != 0 || got != pageOf(c.was)) ||
			strings.Contains(got, "figcaption") {
			t.Errorf("%d changes\n%s", len(out.Draft.Kept), got)
		}
	}
	for _, no := range []string{`<p>See <img src="a.jpg" alt="Quay"> here.</p>`} {
		d := draft(t, pageOf(no))
		if _, err := act.Do(d, &act.Caption{Part: pictureOn(t, d), Words: "Noon"}, studio{}); refusal.Of(err) == nil {
			t.Errorf("%s: %v", no, err)
		}
	}
}

// A caption that was typed over in its own place is no longer typed where the picture is: the last words stay.
func TestACaptionIsTypedInTwoPlaces(t *testing.T) {
	d := draft(t, pageOf(`<img src="a.jpg" alt="Quay">`))
	d = numbered(do(t, d, &act.Caption{Words: "At noon", Part: pictureOn(t, d)}))
	picture, _ := d.Page().Part(pictureOn(t, d))
	d = numbered(do(t, d, &act.Words{Part: act.CaptionOf(d.Page(), picture).ID, Words: "In the evening"}))
	d = do(t, d, &act.Caption{Part: pictureOn(t, d), Words: "In the morning"}).Draft
	if got := string(d.Page().Doc.Bytes); !strings.Contains(got, "<figcaption>In the morning</figcaption>") ||
		len(d.Kept) != 2 {
		t.Errorf("%d changes\n%s", len(d.Kept), got)
	}
}

// A click on a picture leads somewhere, elsewhere, nowhere.
func TestAPictureLeadsSomewhere(t *testing.T) {
	d := draft(t, pageOf(`<img src="a.jpg" alt="Quay">`))
	d = do(t, d, &act.LinkPicture{Part: pictureOn(t, d), Href: "/q"}).Draft
	d = numbered(do(t, d, &act.LinkPicture{Part: pictureOn(t, d), Href: "/quay.html?a=1&b=2"}))
	want := `<a href="/quay.html?a=1&amp;b=2"><img src="a.jpg" alt="Quay"></a>`
	if got := string(d.Page().Doc.Bytes); len(d.Kept) != 1 || got != pageOf(want) {
		t.Errorf("%d changes\n%s", len(d.Kept), got)
	}
	d = numbered(do(t, d, &act.Caption{Part: pictureOn(t, d), Words: "Noon"}))
	back, err := d.Without(d.Kept[0].ID)
	if err != nil ||
		string(
			back.Page().Doc.Bytes,
		) != pageOf(
			`<figure style="margin:0"><img src="a.jpg" alt="Quay"><figcaption>Noon</figcaption></figure>`,
		) {
		t.Errorf("the link alone is not taken out: %v", err)
	}
	out := do(t, d, &act.LinkPicture{Part: pictureOn(t, d)})
	if len(out.Draft.Kept) != 1 || strings.Contains(string(out.Draft.Page().Doc.Bytes), "<a ") {
		t.Errorf("%d changes\n%s", len(out.Draft.Kept), out.Draft.Page().Doc.Bytes)
	}

	above := draft(t, pageOf(`<figure><figcaption>Morning</figcaption><img src="a.jpg" alt="Quay"></figure>`))
	if done := do(t, above, &act.Caption{Part: pictureOn(t, above), Words: "In the early morning"}); done.Made != pictureOn(
		t,
		done.Draft,
	) {
		t.Errorf("one goes on in %q", done.Made)
	}

	const linked = `<a class="big" href="l.jpg"><picture><source srcset="n.jpg"><img src="a.jpg" alt="Quay"></picture></a>`
	d = draft(t, pageOf(linked))
	led := do(t, d, &act.LinkPicture{Part: pictureOn(t, d), Href: "/quay.html"})
	again := led.Draft
	if led.Made != pictureOn(t, again) {
		t.Errorf("one goes on in %q", led.Made)
	}
	if got := string(again.Page().Doc.Bytes); got != pageOf(strings.Replace(linked, "l.jpg", "/quay.html", 1)) {
		t.Errorf("%s", got)
	}
	none := do(t, d, &act.LinkPicture{Part: pictureOn(t, d)}).Draft
	if got := string(none.Page().Doc.Bytes); got != pageOf(
		`<picture><source srcset="n.jpg"><img src="a.jpg" alt="Quay"></picture>`,
	) {
		t.Errorf("%s", got)
	}
	if _, err := act.Do(d, &act.LinkPicture{Part: pictureOn(t, d), Href: "javascript:alert(1)"}, studio{}); refusal.Of(
		err,
	) == nil {
		t.Error(err)
	}
}
