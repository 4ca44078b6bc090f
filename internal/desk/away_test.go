package desk

import (
	"context"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"testing"

	"mendry/api"
	"mendry/internal/core/refusal"
	"mendry/internal/release"
	"mendry/internal/store"
)

// lookAtPictures looks at the pictures of the world's site, and gives what was found.
func (w *world) lookAtPictures() (v api.SitePictures) {
	w.t.Helper()
	ctx := context.Background()
	w.must(w.d.LookAtPictures(ctx, w.site.ID))
	w.until("the pictures are looked at", func() bool {
		w.d.DoNext(ctx)
		var err error
		v, err = w.d.SitePictures(ctx, w.site.ID)
		w.must(err)
		return v.LookedAt != nil
	})
	return v
}

// away waits until nothing of the site is on its way, and gives the newest row of a file.
func (w *world) away(file string) (a api.TakenAway) {
	w.t.Helper()
	ctx := context.Background()
	w.until("nothing is on its way", func() bool {
		w.d.DoNext(ctx)
		v, err := w.d.SitePictures(ctx, w.site.ID)
		w.must(err)
		i := slices.IndexFunc(v.Away, func(a api.TakenAway) bool { return a.Path == file })
		if i < 0 {
			return false
		}
		a = v.Away[i]
		return a.State != api.AwayGoing && a.State != api.AwayComing
	})
	return a
}

// A picture that nothing names is taken away, and comes back as it was; each stands in the record.
func TestAPictureIsTakenAwayAndComesBack(t *testing.T) {
	t.Parallel()
	ctx := context.Background()
	w := newWorld(t, true, "a")
	alone := string(photo(t, 90, 60))
	w.write("alone.jpg", alone)
	w.write("old.pdf", "%PDF-1.4 of last year")
	w.lookAtPictures()
	w.must(w.d.TakeAway(ctx, w.who, w.site.ID, "old.pdf"))
	if a := w.away("old.pdf"); a.State != api.AwayGone || slices.Contains(w.files(), "old.pdf") {
		t.Errorf("%+v", a)
	}
	w.must(w.d.TakeAway(ctx, w.who, w.site.ID, "alone.jpg"))
	w.must(w.d.TakeAway(ctx, w.who, w.site.ID, "alone.jpg")) // asked twice
	gone := w.away("alone.jpg")
	if gone.State != api.AwayGone || gone.Size != int64(len(alone)) || gone.By != w.who.Name ||
		slices.Contains(w.files(), "alone.jpg") {
		t.Errorf("%+v %v", gone, w.files())
	}
	v, err := w.d.SitePictures(ctx, w.site.ID)
	w.must(err)
	if len(v.Away) != 2 ||
		slices.ContainsFunc(v.Pictures, func(p api.SitePicture) bool { return p.Path == "alone.jpg" }) {
		t.Errorf("%+v", v)
	}

	w.write("alone.jpg", "theirs")
	w.must(w.d.BringBack(ctx, w.who, w.site.ID, gone.ID))
	if a := w.away("alone.jpg"); a.State != api.AwayGone || !strings.Contains(a.Said, "Something else stands") ||
		w.read("alone.jpg") != "theirs" {
		t.Errorf("%+v %s", a, w.read("alone.jpg"))
	}
	w.must(os.Remove(filepath.Join(w.dir, "alone.jpg")))
	w.must(w.d.BringBack(ctx, w.who, w.site.ID, gone.ID))
	if a := w.away("alone.jpg"); a.State != api.AwayBack || w.read("alone.jpg") != alone {
		t.Errorf("%+v", a)
	}
	if err := w.d.BringBack(ctx, w.who, w.site.ID, gone.ID); !refusal.Is(err, refusal.Stale) {
		t.Errorf("brought back twice: %v", err)
	}
	if err := w.d.BringBack(ctx, w.who, w.site.ID+1, gone.ID); !refusal.Is(err, refusal.Nothing) {
		t.Errorf("of another site: %v", err)
	}
	r, err := w.d.Record(ctx, w.site.ID, 0, 0)
	w.must(err)
	var said []string
	for _, e := range r.Entries {
		said = append(said, e.What)
	}
	if !r.Whole || !slices.Contains(said, "taken away") || !slices.Contains(said, "brought back") {
		t.Errorf("%v", said)
	}
}

// What may name a file keeps it where it is: a page, a style sheet, a script, a change that is kept. What is no
// picture of the site is not there to be taken away.
func TestWhatIsNamedStays(t *testing.T) {
	t.Parallel()
	ctx := context.Background()
	w := newWorld(t, true, "a", "b")
	for _, file := range []string{"in-sheet.jpg", "in-script.jpg", "in-draft.jpg", "in-page.jpg", "fetched.jpg"} {
		w.write(file, string(photo(t, 90, 60)))
	}
	w.write("prices.pdf", "%PDF-1.4")
	w.lookAtPictures()
	w.write("site.css", "body{background:url(in-sheet.jpg)}")
	w.write("show.js", `show(["in-script.jpg"])`)
	w.write(
		"b.html",
		strings.Replace(
			w.read("b.html"),
			"On a lead.",
			`<a href="/in-page.jpg">On a lead</a>, <a href="prices.pdf">prices</a>.`,
			1,
		),
	)
	w.takeIn()
	number := w.request("Show it.")
	w.must(w.insert(number, "/a.html", "A single is £6.90.", `<p>See <a href="in-draft.jpg">it</a>.</p>`))
	for file, by := range map[string]string{
		"quay.png": "/a.html", "in-sheet.jpg": "/site.css", "in-script.jpg": "/show.js", "in-draft.jpg": "a change kept in request", "in-page.jpg": "/b.html", "prices.pdf": "/b.html",
	} {
		err := w.d.TakeAway(ctx, w.who, w.site.ID, file)
		w.must(err)
		if a := w.away(file); a.State != api.AwayStayed || !strings.Contains(a.Said, by) ||
			file != "quay.png" && !slices.Contains(w.files(), file) {
			t.Errorf("%s: %+v", file, a)
		}
	}
	for _, file := range []string{"a.html", "../secret.jpg", "site.css"} {
		if err := w.d.TakeAway(ctx, w.who, w.site.ID, file); !refusal.Is(err, refusal.Nothing) {
			t.Errorf("%s: %v", file, err)
		}
	}
}

// A process that dies right after the host took the file away leaves a job that ends as it should.
func TestATakingAwayIsTakenUp(t *testing.T) {
	t.Parallel()
	ctx := context.Background()
	w := newWorld(t, true, "a")
	alone := photo(t, 90, 60)
	hash, err := w.s.KeepBytes(ctx, alone)
	w.must(err)
	id, err := w.s.AddAway(ctx, store.Away{SiteID: w.site.ID, Path: "alone.jpg", PersonID: w.who.ID, At: w.d.now()})
	w.must(err)
	w.must(w.s.KeepAway(ctx, id, hash, int64(len(alone))))
	w.must(w.s.AskJob(ctx, awayJob, itoa(int(id)), release.Lane(w.site.ID), w.d.now()))
	if a := w.away("alone.jpg"); a.State != api.AwayGone {
		t.Errorf("%+v", a)
	}
}
