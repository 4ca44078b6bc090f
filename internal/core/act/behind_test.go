package act_test

import (
	"strings"
	"testing"

	"mendry/internal/core/act"
	"mendry/internal/core/refusal"
)

// The picture that a style sheet puts behind a part is another one here alone, or its file is replaced for all pages.
func TestAnotherPictureBehindAPart(t *testing.T) {
	live := pageOf(`<div class="band" style="color: red"><h2>Dogs</h2><p>On a lead.</p></div>`)
	d := draft(t, live)
	band := id(t, d, "Dogs On a lead.")
	here := do(t, d, &act.Picture{Part: band, Attachment: 7})
	want := `<div class="band" style="color: red;background-image:linear-gradient(red,blue), url('/img/new.png')">`
	if got := string(here.Draft.Page().Doc.Bytes); !strings.Contains(got, want) {
		t.Errorf("%s", got)
	}
	c := here.Effects[0].Change
	if c.Kind != act.OfPicture || len(c.Pictures) != 1 || c.BeforeHTML != "/img/large-band.jpg" ||
		c.AfterHTML != "/img/new.png" ||
		len(c.Files) != 0 {
		t.Errorf("%+v", c)
	}
	// From now on it is a background like any other of the page.
	var own string
	for _, q := range here.Draft.Page().All {
		if q.Background {
			own = q.ID
		}
	}
	again := do(t, here.Draft, &act.Picture{Part: own, Path: "img/other.jpg"})
	if got := string(again.Draft.Page().Doc.Bytes); !strings.Contains(got, "url('/img/other.jpg')") {
		t.Errorf("%s", got)
	}
	if back, err := here.Draft.Without(c.ID); err != nil || string(back.Page().Doc.Bytes) != live {
		t.Errorf("not as it was: %v", err)
	}

	all := do(t, d, &act.Picture{Part: band, Attachment: 7, Everywhere: true})
	c = all.Effects[0].Change
	if got := string(all.Draft.Page().Doc.Bytes); got != live || len(c.Files) != 1 ||
		!strings.Contains(c.Say, "wherever it is shown") {
		t.Errorf("%+v\n%s", c, got)
	}
	for _, no := range []*act.Picture{{Part: band}, {Part: id(t, d, "On a lead."), Attachment: 7}} {
		if _, err := act.Do(d, no, studio{}); refusal.Of(err) == nil {
			t.Errorf("%+v: %v", no, err)
		}
	}
}
