package desk

import (
	"context"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"testing"

	"mendry/api"
	"mendry/internal/core/act"
	"mendry/internal/core/picture"
	"mendry/internal/core/refusal"
	"mendry/internal/store"
)

func pdfOf(words string) []byte {
	return []byte("%PDF-1.4\n" + strings.Repeat("%"+words+"\n", 400) + "trailer<<>>\n%%EOF\n")
}

// withList gives the world a page that leads to a price list, and another one that leads to it, too.
func withList(t *testing.T, link string) (*world, []byte) {
	w := newWorld(t, true, "a", "b")
	w.must(os.Mkdir(filepath.Join(w.dir, "files"), 0o700))
	old := pdfOf("prices of the winter")
	w.write("files/prices.pdf", string(old))
	w.write("a.html", strings.Replace(w.read("a.html"), `<img src="quay.png" alt="Quay">`, "<p>"+link+"</p>", 1))
	w.write(
		"b.html",
		strings.Replace(
			w.read("b.html"),
			`<img src="quay.png" alt="Quay">`,
			`<p><a href="files/prices.pdf">All prices (PDF, 9 kB)</a></p>`,
			1,
		),
	)
	w.takeIn()
	return w, old
}

func (w *world) linkOn(number int64, address string) (api.Bench, api.Part) {
	w.t.Helper()
	v, err := w.d.Bench(context.Background(), number, w.pages[address])
	w.must(err)
	at := slices.IndexFunc(v.Parts, func(p api.Part) bool { return strings.Contains(p.Href, ".pdf") })
	if at < 0 {
		w.t.Fatalf("no link to a file: %+v", v.Parts)
	}
	return v, v.Parts[at]
}

func (w *world) download(number int64, address string, a act.Download) error {
	w.t.Helper()
	v, part := w.linkOn(number, address)
	if a.Part == "" {
		a.Part = part.ID
	}
	_, err := w.d.Keep(context.Background(), w.who, number, w.pages[address], Ask{Draft: v.Draft, Act: &a})
	return err
}

func (w *world) attach(number int64, name string, b []byte) int64 {
	w.t.Helper()
	f, err := w.d.AddAttachment(context.Background(), w.who, number, name, b)
	w.must(err)
	return f.ID
}

// A file is replaced under its address, whether or not the words of its link tell its weight; the release that did it
// is taken back, or that change alone: byte for byte what stood there.
func TestAFileIsReplacedUnderItsAddress(t *testing.T) {
	t.Parallel()
	for _, link := range []string{
		`<a href="files/prices.pdf">Our prices (PDF, 9 kB)</a>`, `See <a href="/files/prices.pdf">our <b>prices</b></a> today.`,
	} {
		ctx := context.Background()
		w, old := withList(t, link)
		before, had := w.read("a.html"), w.files()
		number := w.request("The new prices, please.")
		fresh := pdfOf("prices of the summer, which are longer than those of the winter")
		w.must(
			w.download(
				number,
				"/a.html",
				act.Download{Attachment: w.attach(number, "New Prices.PDF", pdfOf("a first try")), Keep: true},
			),
		)
		w.must(
			w.download(
				number,
				"/a.html",
				act.Download{Attachment: w.attach(number, "New Prices 2.pdf", fresh), Keep: true},
			),
		)
		if w.read("files/prices.pdf") != string(old) {
			t.Fatal("kept, and live")
		}
		cs, err := w.d.thread(ctx, number)
		w.must(err)
		if len(cs) != 1 || cs[0].Kind != "file" || cs[0].Files == nil || (*cs[0].Files)[0].WasKind == nil {
			t.Fatalf("%+v", cs)
		}
		p, err := w.d.Proof(ctx, number)
		w.must(err)
		if len(p.Pages) != 1 || len(p.Pages[0].Changes) != 1 {
			t.Fatalf("%+v", p.Pages)
		}
		told := slices.ContainsFunc(p.Pages[0].Findings, func(f api.Finding) bool {
			return f.Rule == "file-said" && strings.Contains(f.Say, "/b.html (“All prices (PDF, 9 kB)”)")
		})
		if !told {
			t.Errorf("that another page tells the old weight is not said: %+v", p.Pages[0].Findings)
		}
		w.goLive(number)
		if w.read("files/prices.pdf") != string(fresh) {
			t.Error("not replaced")
		}
		if strings.Contains(link, "kB") && !strings.Contains(w.read("a.html"), "Our prices (PDF, 26 kB)") {
			t.Errorf("%s", w.read("a.html"))
		}
		// That change alone, by a change of its own.
		v, _ := w.linkOn(number, "/a.html")
		_, err = w.d.Keep(
			ctx,
			w.who,
			number,
			w.pages["/a.html"],
			Ask{Draft: v.Draft, Act: &act.TakeBack{Change: cs[0].ID}},
		)
		w.must(err)
		rel := w.goLive(number)
		if w.read("files/prices.pdf") != string(old) || w.read("a.html") != before {
			t.Errorf("taken back alone: %s", w.read("a.html"))
		}
		w.settle(rel.ID)
		rel, err = w.d.Steer(ctx, w.who, rel.ID, "take-back")
		w.must(err)
		w.settle(rel.ID)
		if w.read("files/prices.pdf") != string(fresh) {
			t.Error("the release that put the old file back is not taken back")
		}
		if got := w.files(); !slices.Equal(got, had) {
			t.Errorf("left behind: %v", got)
		}
	}
}

// A new file goes beside the others under a name by the rules, with a link that tells of it as the page's others do;
// taken back, neither is left.
func TestANewFileAndItsLink(t *testing.T) {
	t.Parallel()
	w, _ := withList(t, `<a class="file" href="files/prices.pdf">Our prices (PDF, 9 kB)</a>`)
	before, had := w.read("a.html"), w.files()
	number := w.request("The rules, please.")
	a := act.Download{
		Attachment: w.attach(number, "Café Règles (fin).PDF", pdfOf("rules")),
		Where:      "after",
		Words:      "Rules",
	}
	w.must(w.download(number, "/a.html", a))
	p, err := w.d.Proof(context.Background(), number)
	w.must(err)
	for _, f := range p.Pages[0].Findings {
		if f.Level == "stop" {
			t.Errorf("%+v", f)
		}
	}
	rel := w.goLive(number)
	if now := w.read("a.html"); !strings.Contains(
		now,
		`(PDF, 9 kB)</a><br><a href="files/cafe-regles-fin.pdf" class="file">Rules (PDF, 3 kB)</a></p>`,
	) {
		t.Errorf("%s", now)
	}
	if w.read("files/cafe-regles-fin.pdf") != string(pdfOf("rules")) {
		t.Error("other bytes")
	}
	w.takeBack(rel, "a.html", before)
	if got := w.files(); !slices.Equal(got, had) {
		t.Errorf("left behind: %v", got)
	}
}

// A link leads to a new file; the old one stays. Led elsewhere by hand before it goes out, nothing is written.
func TestALinkLeadsToANewFile(t *testing.T) {
	t.Parallel()
	w, old := withList(t, `<a href="files/prices.pdf">Our prices (PDF, 9 kB)</a>`)
	number := w.request("The new prices, please.")
	w.must(w.download(number, "/a.html", act.Download{Attachment: w.attach(number, "prices.pdf", pdfOf("new"))}))
	w.goLive(number)
	if now := w.read("a.html"); !strings.Contains(now, `<a href="files/prices-2.pdf">Our prices (PDF, 2 kB)</a>`) {
		t.Errorf("%s", now)
	}
	if w.read("files/prices.pdf") != string(old) || w.read("files/prices-2.pdf") != string(pdfOf("new")) {
		t.Error("the old file is not what it was, or the new one not what came")
	}
}

func TestWhatIsNoFileToDownloadIsRefused(t *testing.T) {
	t.Parallel()
	w, old := withList(t, `<a href="files/prices.pdf">Our prices</a>`)
	ctx := context.Background()
	number, other := w.request("The new prices, please."), w.request("And others.")
	for name, b := range map[string]string{
		"page.pdf": "<!doctype html><script>alert(1)</script>", "empty.pdf": "", "cut.pdf": "%PDF-1.4\n", "run.exe": "MZ\x90" + strings.Repeat("\x00", 99),
	} {
		if _, err := w.d.AddAttachment(ctx, w.who, number, name, []byte(b)); !refusal.Is(err, refusal.Rule) {
			t.Errorf("%s: %v", name, err)
		}
	}
	calendar := "BEGIN:VCALENDAR\r\nVERSION:2.0\r\nEND:VCALENDAR\r\n"
	for name, a := range map[string]act.Download{
		"another kind under the address": {Attachment: w.attach(number, "a.ics", []byte(calendar)), Keep: true},
		"the very same bytes":            {Attachment: w.attach(number, "a.pdf", old), Keep: true},
		"a file of another request":      {Attachment: w.attach(other, "a.pdf", pdfOf("x")), Keep: true},
		"no file":                        {Attachment: 99999, Keep: true},
		"a new link without words":       {Attachment: w.attach(number, "b.pdf", pdfOf("x")), Where: "after"},
	} {
		if err := w.download(number, "/a.html", a); refusal.Of(err) == nil {
			t.Errorf("%s: %v", name, err)
		}
	}
	// Two requests do not bring two files to one address.
	w.must(
		w.download(number, "/a.html", act.Download{Attachment: w.attach(number, "c.pdf", pdfOf("mine")), Keep: true}),
	)
	err := w.download(other, "/b.html", act.Download{Attachment: w.attach(other, "d.pdf", pdfOf("theirs")), Keep: true})
	if !refusal.Is(err, refusal.Rule) || !strings.Contains(err.Error(), "Request ") {
		t.Errorf("two files under one address: %v", err)
	}
	// Somebody else's file is not overwritten.
	w.clear(number)
	w.write("files/prices.pdf", string(pdfOf("somebody else's")))
	rel, err := w.d.Publish(ctx, w.who, number, nil)
	w.must(err)
	if got := w.settle(rel.ID); got.State != "stopped" ||
		w.read("files/prices.pdf") != string(pdfOf("somebody else's")) {
		t.Errorf("%s: %s", got.State, got.Said)
	}
}

// By hand, a person puts the file in the place of the other one, and Mendry sees that it is that one; put back the
// same way.
func TestAFileIsReplacedByHand(t *testing.T) {
	t.Parallel()
	ctx := context.Background()
	w, old := withList(t, `<a href="files/prices.pdf">Our prices</a>`)
	w.byHand()
	number := w.request("The new prices, please.")
	fresh := pdfOf("prices of the summer")
	w.must(w.download(number, "/a.html", act.Download{Attachment: w.attach(number, "new.pdf", fresh), Keep: true}))
	w.clear(number)
	rel, err := w.d.Publish(ctx, w.who, number, nil)
	w.must(err)
	at := slices.IndexFunc(rel.Steps, func(s api.ReleaseStep) bool { return s.Kind == "file" })
	if at < 0 || len(rel.Steps[at].Items) != 1 || rel.Steps[at].File == nil ||
		rel.Steps[at].Items[0].Where != "in the place of /files/prices.pdf" {
		t.Fatalf("%+v", rel.Steps)
	}
	name, b, err := w.d.StepFile(ctx, rel.ID, rel.Steps[at].ID)
	if err != nil || name != "prices.pdf" || string(b) != string(fresh) {
		t.Errorf("fetched: %s, %d bytes, %v", name, len(b), err)
	}
	rel = w.marks(rel, api.HandMark{Step: rel.Steps[at].ID, Kind: api.Put, About: "0"})
	if got := rel.Steps[at].Items[0].Seen; got != api.HandSeenNotYet {
		t.Errorf("the old one is seen as %s", got)
	}
	w.write("files/prices.pdf", "another one")
	rel = w.looked(w.look(rel))
	if got := rel.Steps[at].Items[0].Seen; got != api.HandSeenDifferent {
		t.Errorf("a third one is seen as %s", got)
	}
	w.write("files/prices.pdf", string(fresh))
	rel = w.looked(w.look(rel))
	if rel.State != api.ReleaseStateLive && rel.State != api.ReleaseStateSure {
		t.Fatalf("put in: %s %+v", rel.State, rel.Steps)
	}
	rel = w.settle(rel.ID)
	undo, err := w.d.Steer(ctx, w.who, rel.ID, "take-back")
	w.must(err)
	w.write("files/prices.pdf", string(old))
	if undo = w.looked(w.look(undo)); undo.State != api.ReleaseStateLive && undo.State != api.ReleaseStateSure {
		t.Errorf("put back: %s %+v", undo.State, undo.Steps)
	}
}

// A picture is replaced under its address for every page that shows it: no page's bytes change but for the alternative
// text, its size stays, and both the release and that change alone are taken back.
func TestAPictureIsReplacedEverywhere(t *testing.T) {
	t.Parallel()
	ctx := context.Background()
	w := newWorld(t, true, "a", "b")
	old := photo(t, 400, 200)
	w.write("quay.jpg", string(old))
	for _, name := range []string{"a.html", "b.html"} {
		w.write(name, strings.Replace(w.read(name), `"quay.png" alt="Quay"`, `"quay.jpg" alt="Boats in the rain"`, 1))
	}
	w.takeIn()
	before := map[string]string{"a.html": w.read("a.html"), "b.html": w.read("b.html")}
	number := w.request("A new quay on every page, please.")
	file := w.attach(number, "New.png", photo(t, 1200, 900))
	v, err := w.d.Bench(ctx, number, w.pages["/a.html"])
	w.must(err)
	at := slices.IndexFunc(v.Parts, func(p api.Part) bool { return p.Kind == "picture" })
	a := &act.Picture{Part: v.Parts[at].ID, Attachment: file, Everywhere: true}
	told, err := w.d.TryPicture(ctx, number, w.pages["/a.html"], a)
	if err != nil || told.Files != 1 {
		t.Errorf("%+v %v", told, err)
	}
	_, err = w.d.Keep(ctx, w.who, number, w.pages["/a.html"], Ask{Draft: v.Draft, Act: a})
	w.must(err)
	c, err := w.d.ViewFile(ctx, previewOf(w, number), "/quay.jpg", "")
	if err != nil || string(c.Bytes) == string(old) {
		t.Errorf("the draft shows the old one: %v", err)
	}
	w.goLive(number)
	i, err := picture.Check([]byte(w.read("quay.jpg")))
	if err != nil || i.Width != 400 || i.Height != 200 || i.Media != "image/jpeg" || w.read("quay.jpg") == string(old) {
		t.Errorf("%+v %v", i, err)
	}
	for name, was := range before {
		if w.read(name) != was {
			t.Errorf("%s changed", name)
		}
	}
	cs, err := w.d.thread(ctx, number)
	w.must(err)
	v, err = w.d.Bench(ctx, number, w.pages["/a.html"])
	w.must(err)
	_, err = w.d.Keep(ctx, w.who, number, w.pages["/a.html"], Ask{Draft: v.Draft, Act: &act.TakeBack{Change: cs[0].ID}})
	w.must(err)
	w.goLive(number)
	if w.read("quay.jpg") != string(old) {
		t.Error("taken back alone, it is not what it was")
	}
	// A picture of another kind than its address says, and one in several sizes, are refused.
	w.write(
		"c.html",
		`<!doctype html><title>C</title><h1>C</h1><img src="quay.jpg" srcset="quay.jpg 1x, big.jpg 2x" alt="Quay"><img src="a.svg" alt="Plan">`,
	)
	w.write("a.svg", `<svg xmlns="http://www.w3.org/2000/svg" width="10" height="10"></svg>`)
	w.takeIn()
	pages, err := w.d.Site(ctx, w.site.ID)
	w.must(err)
	for _, p := range pages.Pages {
		w.pages[p.Address] = p.ID
	}
	v, err = w.d.Bench(ctx, number, w.pages["/c.html"])
	w.must(err)
	for _, p := range v.Parts {
		if p.Kind != "picture" {
			continue
		}
		_, err := w.d.Keep(
			ctx,
			w.who,
			number,
			w.pages["/c.html"],
			Ask{Draft: v.Draft, Act: &act.Picture{Part: p.ID, Attachment: file, Everywhere: true}},
		)
		if refusal.Of(err) == nil {
			t.Errorf("%s: %v", p.Src, err)
		}
	}
}

func previewOf(w *world, number int64) store.Preview {
	return store.Preview{SiteID: w.site.ID, RequestID: &number, View: "draft"}
}
