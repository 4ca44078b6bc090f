package act_test

import (
	"strings"
	"testing"

	"mendry/internal/core/act"
	"mendry/internal/core/change"
	"mendry/internal/core/check"
	"mendry/internal/core/link"
)

// A page that loads a picture late keeps a copy of it for browsers without scripts (HTML, 4.12.2): it shows the new
// one, too, and nothing else of the page changes. A copy of something else is left alone.
func TestACopyForBrowsersWithoutScripts(t *testing.T) {
	const late = `<img class="lazy" src="data:image/gif;base64,R0" data-src="/img/quay.jpg" data-srcset="/img/quay.jpg 400w, /img/large.jpg 900w" alt="Quay">`
	const copied = `<noscript><img src="/img/quay.jpg" srcset="/img/quay.jpg 400w, /img/large.jpg 900w" alt="Quay" width="400" height="400"></noscript>`
	d := draft(t, pageOf(`<p>`+late+"\r\n"+copied+`</p>`))
	alt := "The <quay>"
	done := do(t, d, &act.Picture{Part: pictureOn(t, d), Attachment: 7, Alt: &alt})
	got := string(done.Draft.Page().Doc.Bytes)
	want := `<noscript><img src="/img/new-400.png" srcset="/img/new-400.png 400w, /img/new-900.png 900w" alt="The &lt;quay&gt;" width="400" height="200"></noscript>`
	if !strings.Contains(got, want) || strings.Contains(got, "quay.jpg") {
		t.Errorf("%s, want\n%s", got, want)
	}
	s := &check.Subject{
		Before: d.Live, After: done.Draft.Page(), Changed: check.TouchedBy(done.Draft), Edits: check.EditsOf(done.Draft),
		Address: link.AddressOf("x.html"), Public: "https://site.example",
	}
	for _, f := range check.Run(s) {
		if f.Rule == "outside-same" && f.Level != check.Fine {
			t.Errorf("%s", f.Say)
		}
	}
	if c := change.Compare(d.Live, done.Draft.Page()); !c.OutsideSame || len(c.Changes) != 1 {
		t.Errorf("%+v", c)
	}
	done.Draft.Kept[0].ID = 1
	if back, err := done.Draft.Without(1); err != nil || string(back.Page().Doc.Bytes) != string(d.Live.Doc.Bytes) {
		t.Errorf("not as it was: %v", err)
	}

	const other = `<noscript><p>Please switch scripts on.</p></noscript>`
	d = draft(t, pageOf(late+other))
	done = do(t, d, &act.Picture{Part: pictureOn(t, d), Attachment: 7})
	if got := string(done.Draft.Page().Doc.Bytes); !strings.Contains(got, other) {
		t.Errorf("%s", got)
	}
}
