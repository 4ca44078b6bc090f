package desk

import (
	"bytes"
	"context"
	"fmt"
	"image"
	"image/png"
	"io"
	"log/slog"
	"math/rand/v2"
	"net/http"
	"net/http/httptest"
	"os"
	"path/filepath"
	"slices"
	"sync"
	"testing"
	"time"

	"mendry/api"
	"mendry/internal/core/act"
	"mendry/internal/host"
	"mendry/internal/localdb/dbtest"
	"mendry/internal/standin"
	"mendry/internal/store"
	"mendry/internal/tries"
)

func TestMain(m *testing.M) { dbtest.Main(m) }

// world is a studio with one person and one site on a stand-in host.
type world struct {
	t     testing.TB
	d     *Desk
	s     *store.Store
	host  *standin.Host
	dir   string
	who   Who
	site  api.Site
	pages map[string]int64 // by address
	hides sync.Map         // paths that visitors may not read
}

const testPage = "<!doctype html>\r\n<html lang=\"en\"><head><title>Page %s</title></head>\r\n<body>\r\n<h1>Page %s</h1>\r\n" +
	"<p>A single is £6.90.</p>\r\n<section><h2>Dogs</h2><p>On a lead.</p></section>\r\n<img src=\"quay.png\" alt=\"Quay\">\r\n</body></html>\r\n"

func newWorld(t testing.TB, mayClear bool, names ...string) *world {
	t.Helper()
	w := &world{t: t, dir: t.TempDir(), pages: map[string]int64{}}
	for _, n := range names {
		w.write(n+".html", fmt.Sprintf(testPage, n, n))
	}
	w.host = &standin.Host{Dir: w.dir, User: "keeper", Pass: "keeper"}
	edit, public := httptest.NewServer(w.host.DAV()), httptest.NewServer(w.visitors())
	t.Cleanup(edit.Close)
	t.Cleanup(public.Close)
	ctx := context.Background()
	s, err := store.Open(ctx, dbtest.DSN(t))
	if err != nil {
		t.Fatal(err)
	}
	t.Cleanup(func() { _ = s.Close() })
	w.s = s
	w.d = w.desk("test")
	id, err := w.d.AddPerson(ctx, "ines", "Ines Oakley", "maintainer", "harbour lane")
	if err != nil {
		t.Fatal(err)
	}
	w.who = Who{ID: id, Name: "Ines Oakley"}
	text := func(s string) *string { return &s }
	w.site, err = w.d.AddSite(ctx, w.who, api.SiteForm{
		Name: "Larkspur", ClientName: text("Larkspur"), ContactName: text("Maren"), ContactMail: text("maren@larkspur.example"), MayClear: &mayClear,
		HostURL: edit.URL, PublicURL: public.URL, HostUser: "keeper", HostPassword: "keeper", Zone: "Europe/London",
	})
	if err != nil {
		t.Fatal(err)
	}
	w.until("the site is taken in", func() bool {
		w.d.DoNext(ctx)
		v, err := w.d.Site(ctx, w.site.ID)
		if err != nil || v.Site.State == api.SiteStateFailed {
			t.Fatalf("taking in: %v %s", err, v.Site.Said)
		}
		for _, p := range v.Pages {
			w.pages[p.Address] = p.ID
		}
		return v.Site.State == api.SiteStateReady
	})
	return w
}

// visitors are what a site's visitors get.
func (w *world) visitors() http.Handler {
	public := w.host.Public()
	return http.HandlerFunc(func(out http.ResponseWriter, r *http.Request) {
		if _, hidden := w.hides.Load(r.URL.Path); hidden {
			http.Error(out, "no", http.StatusForbidden)
			return
		}
		public.ServeHTTP(out, r)
	})
}

// onDeskOf brings a world's site onto the desk of another one, with a client of its own.
func (w *world) onDeskOf(other *world) {
	w.t.Helper()
	ctx := context.Background()
	h, err := w.s.SiteHost(ctx, w.site.ID, "live")
	w.must(err)
	yes, name, mail := true, "Osprey", "o@osprey.example"
	site, err := other.d.AddSite(ctx, other.who, api.SiteForm{
		Name: name, ClientName: &name, ContactName: &name, ContactMail: &mail, MayClear: &yes,
		HostURL: h.URL, PublicURL: w.site.PublicURL, HostUser: "keeper", HostPassword: "keeper", Zone: "Europe/London",
	})
	w.must(err)
	w.d, w.s, w.who, w.site = other.d, other.s, other.who, site
	w.takeIn()
	v, err := w.d.Site(ctx, site.ID)
	w.must(err)
	for _, p := range v.Pages {
		w.pages[p.Address] = p.ID
	}
}

func (w *world) desk(process string) *Desk {
	w.t.Helper()
	d, err := New(w.s, Config{
		Network: host.Network{Loopback: true}, Secret: make([]byte, 32), PublicURL: "http://mendry.example", PreviewURL: "http://{token}.preview.example",
		Process: process, Clock: tries.Clock, Log: slog.New(slog.NewTextHandler(io.Discard, nil)),
	})
	if err != nil {
		w.t.Fatal(err)
	}
	return d
}

func (w *world) write(name, content string) {
	w.t.Helper()
	if err := os.WriteFile(filepath.Join(w.dir, name), []byte(content), 0o600); err != nil {
		w.t.Fatal(err)
	}
}

func (w *world) read(name string) string {
	w.t.Helper()
	b, err := os.ReadFile(filepath.Join(w.dir, name))
	if err != nil {
		w.t.Fatal(err)
	}
	return string(b)
}

func (w *world) until(what string, done func() bool) {
	w.t.Helper()
	end := time.After(3 * time.Minute) // on a machine that has much else to do
	tick := time.NewTicker(20 * time.Millisecond)
	defer tick.Stop()
	for !done() {
		select {
		case <-end:
			w.t.Fatalf("waited too long until %s", what)
		case <-tick.C:
		}
	}
}

func (w *world) request(letter string) int64 {
	w.t.Helper()
	r, err := w.d.AddRequest(context.Background(), w.who, api.RequestForm{SiteID: w.site.ID, Letter: letter, Kind: api.RequestKindMail})
	if err != nil {
		w.t.Fatal(err)
	}
	return r.Row.Number
}

// keep makes a change of words on the part that says old, on its page alone.
func (w *world) keep(number int64, address, old, new string) error {
	return w.reword(number, address, old, new, true)
}

// reword makes a change of words on the part that says old: here, or where it was said that the shared part is changed
// it stands in.
func (w *world) reword(number int64, address, old, new string, here bool) error {
	ctx := context.Background()
	b, err := w.d.Bench(ctx, number, w.pages[address])
	if err != nil {
		return err
	}
	for _, p := range b.Parts {
		if p.Text == old && p.Kind != "section" {
			_, err := w.d.Keep(ctx, w.who, number, w.pages[address], Ask{Draft: b.Draft, Act: &act.Words{Part: p.ID, Words: new}, Here: here})
			return err
		}
	}
	return fmt.Errorf("no part says %q", old)
}

func (w *world) must(err error) {
	w.t.Helper()
	if err != nil {
		w.t.Fatal(err)
	}
}

func (w *world) clear(number int64) {
	w.t.Helper()
	_, err := w.d.Move(context.Background(), w.who, number, api.RequestStateCleared, "")
	w.must(err)
}

// settle runs releases until this one no longer moves.
func (w *world) settle(id int64) api.Release {
	w.t.Helper()
	var r api.Release
	w.until("the release is settled", func() bool {
		w.d.DoNext(context.Background())
		var err error
		r, err = w.d.Release(context.Background(), id)
		w.must(err)
		return r.State != api.ReleaseStateWaiting && r.State != api.ReleaseStateRunning && r.State != api.ReleaseStateLive
	})
	return r
}

// goLive clears a request and publishes all of it, until it is seen to be right.
func (w *world) goLive(number int64) api.Release {
	w.t.Helper()
	w.clear(number)
	rel, err := w.d.Publish(context.Background(), w.who, number, nil)
	w.must(err)
	if rel = w.settle(rel.ID); rel.State != api.ReleaseStateSure {
		w.t.Fatalf("%s: %s", rel.State, rel.Said)
	}
	return rel
}

// takeBack takes a release back and holds a file of the host against what it was.
func (w *world) takeBack(rel api.Release, file, before string) {
	w.t.Helper()
	back, err := w.d.Steer(context.Background(), w.who, rel.ID, api.ReleaseActTakeBack)
	w.must(err)
	if got := w.settle(back.ID); got.State != api.ReleaseStateSure || w.read(file) != before {
		w.t.Errorf("taken back, the release is %s: %s; the host has\n%q", got.State, got.Said, w.read(file))
	}
}

// drafted is a page as a request would publish it.
func (w *world) drafted(number int64, address string) string {
	w.t.Helper()
	dr, err := w.d.draftOf(context.Background(), w.s.Queries, number, w.pages[address])
	w.must(err)
	return string(dr.Page().Doc.Bytes)
}

// dropAll takes back every change of a request to a page, each as the last one.
func (w *world) dropAll(number int64, address string) {
	w.t.Helper()
	ctx := context.Background()
	for {
		v, err := w.d.Bench(ctx, number, w.pages[address])
		w.must(err)
		if len(v.Changes) == 0 {
			return
		}
		_, err = w.d.Drop(ctx, w.who, number, v.Changes[len(v.Changes)-1].ID)
		w.must(err)
	}
}

// picture puts a picture of noise, so many pixels wide and high, in the place of a page's first picture and gives its
// bytes.
func (w *world) picture(number int64, address string, wide int) string {
	w.t.Helper()
	ctx := context.Background()
	grain := image.NewGray(image.Rect(0, 0, wide, wide))
	random := rand.New(rand.NewPCG(1, 2)) //nolint:gosec // noise
	for i := range grain.Pix {
		grain.Pix[i] = byte(random.Uint32())
	}
	var b bytes.Buffer
	w.must(png.Encode(&b, grain))
	file, err := w.d.AddAttachment(ctx, w.who, number, "pier.png", b.Bytes())
	w.must(err)
	v, err := w.d.Bench(ctx, number, w.pages[address])
	w.must(err)
	at := slices.IndexFunc(v.Parts, func(p api.Part) bool { return p.Kind == "picture" })
	_, err = w.d.Keep(ctx, w.who, number, w.pages[address], Ask{Draft: v.Draft, Act: &act.Picture{Part: v.Parts[at].ID, Attachment: file.ID}})
	w.must(err)
	return b.String()
}

// insert puts something below a part.
func (w *world) insert(number int64, address, below, html string) error {
	w.t.Helper()
	v, err := w.d.Bench(context.Background(), number, w.pages[address])
	w.must(err)
	at := slices.IndexFunc(v.Parts, func(p api.Part) bool { return p.Text == below })
	a := &act.Insert{Part: v.Parts[at].ID, Where: "after", HTML: html}
	_, err = w.d.Keep(context.Background(), w.who, number, w.pages[address], Ask{Draft: v.Draft, Act: a})
	return err
}
