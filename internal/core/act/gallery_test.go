package act_test

import (
	"slices"
	"strings"
	"testing"

	"mendry/internal/core/act"
	"mendry/internal/core/page"
	"mendry/internal/core/refusal"
	"mendry/internal/core/thread"
)

const gallery = `<html><head><title>Kites</title></head><body><h1>Kites</h1>
<ul class="shelf">
  <li class="kite"><a href="/pics/red-large.jpg" data-lightbox="kites"><img src="/pics/red-square.jpg" alt="The red kite" width="300" height="300"></a><p class="caption">Red, 1901</p></li>
  <li class="kite" id="blue"><a href="/pics/blue-large.jpg" data-lightbox="kites"><img src="/pics/blue-square.jpg" alt="The blue kite" width="300" height="300"></a><p class="caption">Blue, 1923</p></li>
</ul>
<p>Words.</p></body></html>`

// Three at once, each like its neighbour; one taken out again; another one moved to the front; taken back one by one,
// the page is as it was.
func TestPicturesAreAddedToASet(t *testing.T) {
	live := draft(t, gallery)
	set := live.Page().OfKind(page.Set)
	if len(set) != 1 {
		t.Fatalf("%d sets", len(set))
	}
	add := &act.AddPictures{Part: set[0].ID, Pictures: []act.Titled{
		{
			Attachment: 7,
			Alt:        "One kite",
			Caption:    "One & only",
		}, {Attachment: 7, Alt: "Two kites", Caption: "Two"}, {Attachment: 7, Alt: "Three kites", Caption: "Three"},
	}}
	done := do(t, live, add)
	got := string(done.Draft.Page().Doc.Bytes)
	want := `</li>
  <li class="kite"><a href="/img/new.png" data-lightbox="kites"><img src="/img/new-400x400-400.png" alt="One kite" width="300" height="300"></a><p class="caption">One &amp; only</p></li>
  <li class="kite"><a href="/img/new.png" data-lightbox="kites"><img src="/img/new-400x400-400.png" alt="Two kites" width="300" height="300"></a><p class="caption">Two</p></li>
  <li class="kite"><a href="/img/new.png" data-lightbox="kites"><img src="/img/new-400x400-400.png" alt="Three kites" width="300" height="300"></a><p class="caption">Three</p></li>
</ul>`
	if !strings.Contains(got, want) || strings.Count(got, `id="blue"`) != 1 {
		t.Errorf("%s", got)
	}
	c := done.Effects[0].Change
	if len(done.Effects) != 1 || len(c.Pictures) != 2 || !strings.HasSuffix(c.Say, "gets 3 pictures more") {
		t.Errorf("%+v", c)
	}
	numbered(done)
	items := done.Draft.Page().OfKind(page.Set)[0].Parts
	if len(items) != 5 {
		t.Fatalf("%d items", len(items))
	}
	out := do(t, done.Draft, &act.Remove{Part: items[3].ID})
	numbered(out)
	items = out.Draft.Page().OfKind(page.Set)[0].Parts
	moved := do(t, out.Draft, &act.Move{Part: items[3].ID, Anchor: items[0].ID, Where: "before"})
	var alts []string
	for _, p := range moved.Draft.Page().OfKind(page.Picture) {
		alts = append(alts, p.Attributes.Get("alt"))
	}
	if !slices.Equal(alts, []string{"Three kites", "The red kite", "The blue kite", "One kite"}) {
		t.Errorf("%v", alts)
	}
	numbered(moved)
	d := moved.Draft
	for len(d.Kept) > 0 {
		next, err := d.Without(d.Kept[len(d.Kept)-1].ID)
		if err != nil {
			t.Fatal(err)
		}
		d = next
	}
	if string(d.Page().Doc.Bytes) != gallery {
		t.Errorf("not as before:\n%s", d.Page().Doc.Bytes)
	}
}

// One that stands on the site already is no file that the change brings.
func TestAPictureOfTheSiteIsAddedToASet(t *testing.T) {
	d := draft(t, gallery)
	add := &act.AddPictures{Part: d.Page().OfKind(page.Set)[0].ID, Pictures: []act.Titled{{Path: "img/old.jpg", Alt: "Old", Caption: "Old"}}}
	done := do(t, d, add)
	c := done.Effects[0].Change
	if len(c.Pictures) != 0 || c.AfterHTML != "/img/old.jpg" || !strings.Contains(string(done.Draft.Page().Doc.Bytes), `src="/img/old.jpg"`) {
		t.Errorf("%+v\n%s", c, done.Draft.Page().Doc.Bytes)
	}
}

func TestPicturesAreAddedToSetsOfPicturesOnly(t *testing.T) {
	d := draft(t, gallery)
	for name, a := range map[string]*act.AddPictures{
		"words":       {Part: id(t, d, "Words."), Pictures: []act.Titled{{Attachment: 7}}},
		"none":        {Part: d.Page().OfKind(page.Set)[0].ID},
		"too many":    {Part: d.Page().OfKind(page.Set)[0].ID, Pictures: make([]act.Titled, 41)},
		"not chosen":  {Part: d.Page().OfKind(page.Set)[0].ID, Pictures: []act.Titled{{Alt: "One"}}},
		"no caption":  {Part: d.Page().OfKind(page.Set)[0].ID, Pictures: []act.Titled{{Attachment: 7, Alt: "One"}}},
		"not of ours": {Part: d.Page().OfKind(page.Set)[0].ID, Pictures: []act.Titled{{Attachment: 8}}},
	} {
		if _, err := act.Do(d, a, studio{}); refusal.Of(err) == nil {
			t.Errorf("%s: %v", name, err)
		}
	}
}

// numbered gives the last kept step the number that the database would; it gives the draft.
func numbered(done *act.Done) *thread.Draft {
	n := len(done.Draft.Kept)
	done.Draft.Kept[n-1].ID = int64(n)
	return done.Draft
}
