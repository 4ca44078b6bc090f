package desk

import (
	"bytes"
	"context"
	"image"
	"image/color"
	"image/jpeg"
	"image/png"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"testing"

	"mendry/api"
	"mendry/internal/core/act"
	"mendry/internal/core/picture"
	"mendry/internal/core/refusal"
)

// photo is a JPEG of so many points.
func photo(t *testing.T, w, h int) []byte {
	t.Helper()
	m := image.NewRGBA(image.Rect(0, 0, w, h))
	for y := range h {
		for x := range w {
			m.Set(x, y, color.RGBA{uint8(x), uint8(y), uint8(x + y), 255})
		}
	}
	var b bytes.Buffer
	if err := jpeg.Encode(&b, m, nil); err != nil {
		t.Fatal(err)
	}
	return b.Bytes()
}

// files are those of the world's host.
func (w *world) files() (all []string) {
	w.t.Helper()
	w.must(filepath.WalkDir(w.dir, func(p string, d os.DirEntry, err error) error {
		if err == nil && !d.IsDir() {
			rel, _ := filepath.Rel(w.dir, p)
			all = append(all, rel)
		}
		return err
	}))
	return all
}

// A picture goes out with the sizes that its page offers, in one release, pictures before the page; taken back,
// nothing is left behind. Chosen otherwise before it goes out, the files of the first choice are never written.
func TestAPictureGoesOutWithItsSizesAndComesBack(t *testing.T) {
	t.Parallel()
	ctx := context.Background()
	w := newWorld(t, true, "a")
	const body = `<img src="/img/quay-400.jpg" srcset="/img/quay-400.jpg 400w, /img/quay-800.jpg 800w" alt="Quay">`
	w.must(os.Mkdir(filepath.Join(w.dir, "img"), 0o700))
	w.write("img/quay-400.jpg", string(photo(t, 400, 200)))
	w.write("img/quay-800.jpg", string(photo(t, 800, 400)))
	w.write("a.html", strings.Replace(w.read("a.html"), `<img src="quay.png" alt="Quay">`, body, 1))
	w.takeIn()
	before, had := w.read("a.html"), w.files()

	number := w.request("A new quay, please.")
	file, err := w.d.AddAttachment(ctx, w.who, number, "Café Übersicht.JPG", photo(t, 1000, 500))
	w.must(err)
	pick := func(work picture.Work) {
		v, err := w.d.Bench(ctx, number, w.pages["/a.html"])
		w.must(err)
		at := slices.IndexFunc(v.Parts, func(p api.Part) bool { return p.Kind == "picture" })
		alt := "The new quay"
		a := &act.Picture{Part: v.Parts[at].ID, Attachment: file.ID, Work: work, Alt: &alt}
		told, err := w.d.TryPicture(ctx, number, w.pages["/a.html"], a)
		w.must(err)
		if told.Files != 2 || told.Width != 1000 || told.Name != "Café Übersicht.JPG" {
			t.Errorf("%+v", told)
		}
		_, err = w.d.Keep(ctx, w.who, number, w.pages["/a.html"], Ask{Draft: v.Draft, Act: a})
		w.must(err)
	}
	pick(picture.Work{Flip: "vertical"})
	pick(picture.Work{})
	rel := w.goLive(number)
	now := w.read("a.html")
	if !strings.Contains(
		now,
		`<img src="/img/cafe-ubersicht-400.jpg" srcset="/img/cafe-ubersicht-400.jpg 400w, /img/cafe-ubersicht-800.jpg 800w" alt="The new quay">`,
	) {
		t.Errorf("%s", now)
	}
	for _, f := range w.files() {
		if slices.Contains(had, f) {
			continue
		}
		i, err := picture.Check([]byte(w.read(f)))
		if err != nil || !strings.Contains(f, "cafe-ubersicht") || i.Width != 2*i.Height {
			t.Errorf("%s: %+v %v", f, i, err)
		}
	}
	if got := len(w.files()) - len(had); got != 2 { // its sizes; the one that came is named nowhere
		t.Errorf("%d files more", got)
	}
	w.takeBack(rel, "a.html", before)
	if got := w.files(); !slices.Equal(got, had) {
		t.Errorf("left behind: %v", got)
	}
}

// What a site has of pictures: who names each, which nobody names, which is there twice. A small one is made once, and
// given without asking the site again.
func TestThePicturesOfASite(t *testing.T) {
	t.Parallel()
	ctx := context.Background()
	w := newWorld(t, true, "a", "b")
	w.write("quay.png", string(photo(t, 600, 400)))
	w.write("copy.jpg", string(photo(t, 600, 400)))
	w.write("alone.jpg", string(photo(t, 90, 60)))
	w.write("broken.jpg", "no picture")
	v := w.lookAtPictures()
	got := map[string]string{}
	for _, p := range v.Pictures {
		got[p.Path] = strings.Join(p.Findings, ", ")
		if p.Path == "quay.png" &&
			(len(p.Uses) != 2 || p.Uses[0].Alt != "Quay" || p.Width != 600 || p.Media != "image/jpeg") {
			t.Errorf("%+v", p)
		}
		if p.Path == "broken.jpg" && p.Said == "" {
			t.Errorf("%+v", p)
		}
	}
	want := map[string]string{
		"quay.png":   "twice",
		"copy.jpg":   "unused, twice",
		"alone.jpg":  "unused",
		"broken.jpg": "unused",
	}
	for file, says := range want {
		if got[file] != says {
			t.Errorf("%s: %q, want %q", file, got[file], says)
		}
	}
	w.must(os.Remove(filepath.Join(w.dir, "quay.png")))
	media, small, err := w.d.SmallOfSite(ctx, w.site.ID, "quay.png", 320)
	if i, e := picture.Look(small); err != nil || e != nil || media != "image/jpeg" || i.Width != 320 {
		t.Errorf("%s %v %v %+v", media, err, e, i)
	}
	for _, file := range []string{"", "../secret.png", ".htpasswd", "a.html"} {
		if _, _, err := w.d.SmallOfSite(ctx, w.site.ID, file, 320); refusal.Of(err) == nil {
			t.Errorf("%q: %v", file, err)
		}
	}
	// One of them takes the place of another, and nothing is written but the page.
	number := w.request("Show the lone one.")
	b, err := w.d.Bench(ctx, number, w.pages["/a.html"])
	w.must(err)
	at := slices.IndexFunc(b.Parts, func(p api.Part) bool { return p.Kind == "picture" })
	_, err = w.d.Keep(
		ctx,
		w.who,
		number,
		w.pages["/a.html"],
		Ask{Draft: b.Draft, Act: &act.Picture{Part: b.Parts[at].ID, Path: "alone.jpg"}},
	)
	w.must(err)
	had := w.files()
	w.goLive(number)
	if !strings.Contains(w.read("a.html"), `<img src="alone.jpg" alt="Quay">`) || !slices.Equal(w.files(), had) {
		t.Errorf("%s\n%v", w.read("a.html"), w.files())
	}
}

// Pictures of one request or client are not those of another.
func TestAPictureOfAnotherRequestIsNotThere(t *testing.T) {
	t.Parallel()
	ctx := context.Background()
	w := newWorld(t, true, "a")
	mine, theirs := w.request("Mine."), w.request("Theirs.")
	file, err := w.d.AddAttachment(ctx, w.who, theirs, "quay.jpg", photo(t, 60, 40))
	w.must(err)
	if _, _, err := w.d.Small(ctx, mine, act.Pick{Attachment: file.ID}, 160); !refusal.Is(err, refusal.Nothing) {
		t.Errorf("small: %v", err)
	}
	b, err := w.d.Bench(ctx, mine, w.pages["/a.html"])
	w.must(err)
	at := slices.IndexFunc(b.Parts, func(p api.Part) bool { return p.Kind == "picture" })
	a := &act.Picture{Part: b.Parts[at].ID, Attachment: file.ID}
	if _, err := w.d.TryPicture(ctx, mine, w.pages["/a.html"], a); !refusal.Is(err, refusal.Nothing) {
		t.Errorf("tried: %v", err)
	}
	if _, err := w.d.Keep(ctx, w.who, mine, w.pages["/a.html"], Ask{Draft: b.Draft, Act: a}); !refusal.Is(
		err,
		refusal.Nothing,
	) {
		t.Errorf("kept: %v", err)
	}
}

// The first picture of a page goes where most pictures of the site are; of a site that has none, into a folder for
// them.
func TestTheFirstPictureOfAPage(t *testing.T) {
	t.Parallel()
	ctx := context.Background()
	w := newWorld(t, true, "a", "b")
	w.must(os.Mkdir(filepath.Join(w.dir, "below"), 0o700))
	w.write("below/c.html", strings.Replace(w.read("b.html"), "<img src=\"quay.png\" alt=\"Quay\">\r\n", "", 1))
	w.takeIn()
	below, err := w.s.PageByPath(ctx, w.site.ID, "below/c.html")
	w.must(err)
	w.pages["/below/c.html"] = below.ID
	for i, want := range []string{"../img/pier.jpg", "../media/pier-"} {
		number := w.request("A picture of the pier, please.")
		file, err := w.d.AddAttachment(ctx, w.who, number, "pier.jpg", photo(t, 300+i, 200))
		w.must(err)
		_, err = w.act(number, "/below/c.html", func(b api.Bench) act.Act {
			return &act.PutPicture{Part: partWith(t, b, "words", "On a lead").ID, Where: "after", Attachment: file.ID, Alt: "The pier"}
		})
		w.must(err)
		if got := w.drafted(number, "/below/c.html"); !strings.Contains(got, `src="`+want) {
			t.Errorf("it is not at %s\n%s", want, got)
		}
		w.must(os.MkdirAll(filepath.Join(w.dir, "media"), 0o700))
		for _, name := range []string{"pier", "quay", "dusk"} {
			w.write("media/"+name+".jpg", string(photo(t, 40, 30)))
		}
		w.write("a.html", strings.Replace(w.read("a.html"), `src="quay.png"`, `src="media/quay.jpg"`, 1))
		w.takeIn()
		w.must(w.d.LookAtPictures(ctx, w.site.ID))
		w.until("the pictures are looked at", func() bool {
			w.d.DoNext(ctx)
			v, err := w.d.SitePictures(ctx, w.site.ID)
			return err == nil && len(v.Pictures) > 3
		})
	}
}

// A picture that only keeps a place, or comes from elsewhere, is no example of where this site has its own; one that
// keeps a place is replaced, one of another site is not.
func TestAPictureIsPutOnAPageWhosePicturesAreNoFilesOfTheSite(t *testing.T) {
	t.Parallel()
	ctx := context.Background()
	for _, src := range []string{"#", "cid:quay", "about:blank", "https://cdn.example/quay.png", "//cdn.example/quay.png", "data:,"} {
		w := newWorld(t, true, "a")
		w.write("a.html", strings.Replace(w.read("a.html"), `src="quay.png"`, `src="`+src+`"`, 1))
		w.takeIn()
		number := w.request("A picture of the pier, please.")
		file, err := w.d.AddAttachment(ctx, w.who, number, "pier.jpg", photo(t, 300, 200))
		w.must(err)
		if _, err = w.act(number, "/a.html", func(b api.Bench) act.Act {
			return &act.PutPicture{Part: partWith(t, b, "words", "On a lead").ID, Where: "after", Attachment: file.ID, Alt: "The pier"}
		}); err != nil || !strings.Contains(w.drafted(number, "/a.html"), `src="img/pier.jpg"`) {
			t.Errorf("%s: %v\n%s", src, err, w.drafted(number, "/a.html"))
		}
		_, err = w.act(number, "/a.html", func(b api.Bench) act.Act {
			at := slices.IndexFunc(b.Parts, func(p api.Part) bool { return p.Kind == "picture" && p.Alt == "Quay" })
			return &act.Picture{Part: b.Parts[at].ID, Attachment: file.ID}
		})
		if elsewhere := strings.Contains(src, "cdn"); (err != nil) != elsewhere {
			t.Errorf("%s replaced: %v", src, err)
		}
	}
}

// A picture that begins like one and cannot be shown is refused when it is handed in: it leaves nothing to choose from.
func TestAPictureThatCannotBeShownIsNotKept(t *testing.T) {
	t.Parallel()
	w := newWorld(t, true)
	number := w.request("The new picture, please.")
	whole := photo(t, 400, 300)
	var drawn bytes.Buffer
	if err := png.Encode(&drawn, image.NewGray(image.Rect(0, 0, 60, 40))); err != nil {
		t.Fatal(err)
	}
	broken := bytes.Clone(drawn.Bytes())
	broken[bytes.Index(broken, []byte("IDAT"))+8] ^= 0xff
	for name, b := range map[string][]byte{
		"cut off in the middle": whole[:len(whole)/2],
		"another checksum":      broken,
		"a head alone":          drawn.Bytes()[:33],
	} {
		if _, err := w.d.AddAttachment(context.Background(), w.who, number, "pier.jpg", b); !refusal.Is(err, refusal.Rule) {
			t.Errorf("%s: %v", name, err)
		}
	}
	r, err := w.d.Request(context.Background(), number)
	if err != nil || len(r.Attachments) > 0 {
		t.Errorf("%v, %v", r.Attachments, err)
	}
}

// A host may give a new file rights that keep visitors off: no page that shows it is written. Where visitors are kept off all
// of the site, as before its opening, that tells nothing of the file.
func TestNoPageShowsAPictureThatVisitorsMayNotRead(t *testing.T) {
	t.Parallel()
	ctx := context.Background()
	w := newWorld(t, true, "index", "a")
	was := w.read("a.html")
	n := w.request("The new picture, please.")
	w.picture(n, "/a.html", 40)
	w.clear(n)
	w.hides.Store("/pier.png", true)
	rel, err := w.d.Publish(ctx, w.who, n, nil)
	w.must(err)
	rel = w.settle(rel.ID)
	if rel.State != api.ReleaseStateStopped || !strings.Contains(rel.Said, "pier.png lies on the host, and visitors may not read it") || w.read("a.html") != was {
		t.Fatalf("%s: %s", rel.State, rel.Said)
	}
	if rel = w.steer(rel.ID, api.ReleaseActGoOn); rel.State != api.ReleaseStateStopped || w.read("a.html") != was {
		t.Errorf("gone on with, and nothing was put right: %s %s", rel.State, rel.Said)
	}
	w.hides.Delete("/pier.png")
	if rel = w.steer(rel.ID, api.ReleaseActGoOn); rel.State != api.ReleaseStateSure || w.read("a.html") == was {
		t.Errorf("put right: %s %s", rel.State, rel.Said)
	}

	closed := newWorld(t, true, "index", "a")
	n = closed.request("The new picture, please.")
	closed.picture(n, "/a.html", 40)
	closed.clear(n)
	for _, path := range []string{"/", "/index.html", "/a.html", "/pier.png"} {
		closed.hides.Store(path, true)
	}
	was = closed.read("a.html")
	rel, err = closed.d.Publish(ctx, closed.who, n, nil)
	closed.must(err)
	closed.until("the page is written", func() bool {
		closed.d.DoNext(ctx)
		return closed.read("a.html") != was
	})
	if rel, err = closed.d.Release(ctx, rel.ID); err != nil || rel.State == api.ReleaseStateStopped {
		t.Errorf("%v %s %s", err, rel.State, rel.Said)
	}
}
