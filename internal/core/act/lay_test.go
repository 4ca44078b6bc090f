package act_test

import (
	"strings"
	"testing"

	"mendry/internal/core/act"
	"mendry/internal/core/refusal"
)

// Where a picture lies: float and margins (CSS 2, 9.5 and 10.3.3), or the site's own class for it.
func TestAPictureIsLaidAmongWords(t *testing.T) {
	for _, c := range []struct {
		html, side string
		percent    float64
		want       string
	}{
		{`<img src="a.jpg" alt="Quay">`, "left", 40, `<img style="width:40%;height:auto" class="pic-left" src="a.jpg" alt="Quay">`},
		{`<img src="a.jpg" alt="Quay" class="pic-left round">`, "right", 0, `class="round"`},
		{`<img src="a.jpg" alt="Quay" class="round" style="border: 1px solid; float: left">`, "", 70, `style="border: 1px solid;width:70%;height:auto"`},
		{`<figure class="wide"><img src="a.jpg" alt="Quay"><figcaption>The quay</figcaption></figure>`, "left", 50, `<figure class="wide pic-left" style="width:50%"`},
	} {
		live := `<html><head><title>Boats</title></head><body><h1>Boats</h1><p>Words.</p>` + c.html + `<p>More.</p></body></html>`
		d := draft(t, live)
		done := do(t, d, &act.LayPicture{Part: pictureOn(t, d), Side: c.side, Percent: c.percent})
		got := string(done.Draft.Page().Doc.Bytes)
		for _, part := range strings.Fields(strings.Trim(c.want, "<>")) {
			if !strings.Contains(got, part) {
				t.Errorf("%s, %s: %s\nhas no %s", c.html, c.side, got, part)
			}
		}
		if c.side == "right" && !strings.Contains(got, "float:right") {
			t.Errorf("%s", got)
		}
		again := do(t, done.Draft, &act.LayPicture{Part: pictureOn(t, done.Draft), Side: "centre", Percent: 60})
		if len(again.Draft.Kept) != 1 || !strings.Contains(string(again.Draft.Page().Doc.Bytes), "margin:1.4em auto") {
			t.Errorf("%d changes\n%s", len(again.Draft.Kept), again.Draft.Page().Doc.Bytes)
		}
		back, err := again.Draft.Without(done.Effects[0].Change.ID)
		if err != nil || string(back.Page().Doc.Bytes) != live {
			t.Errorf("not as before: %v", err)
		}
	}
	d := draft(t, fares)
	for _, a := range []*act.LayPicture{
		{Part: pictureOn(t, d), Side: "above"}, {Part: pictureOn(t, d), Percent: 3}, {Part: id(t, d, "On a lead."), Side: "left"},
	} {
		if _, err := act.Do(d, a, studio{}); refusal.Of(err) == nil {
			t.Errorf("%+v: %v", a, err)
		}
	}
}
