package main

import (
	"bytes"
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"image"
	"image/png"
	"io"
	"log/slog"
	"net/http/httptest"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"testing"
	"time"

	"mendry/api"
	"mendry/internal/core/act"
	"mendry/internal/desk"
	"mendry/internal/host"
	"mendry/internal/localdb/dbtest"
	"mendry/internal/standin"
	"mendry/internal/store"
	"mendry/internal/tries"
)

// The test binary is Mendry itself when it is started with this set, so that it can be killed.
const asMendry = "MENDRY_TEST_AS_PROGRAM"

func TestMain(m *testing.M) {
	if os.Getenv(asMendry) != "" {
		main()
		return
	}
	dbtest.Main(m)
}

func program(t *testing.T, args ...string) *exec.Cmd {
	t.Helper()
	c := exec.Command(os.Args[0], args...)
	c.Env = append(os.Environ(), asMendry+"=1")
	return c
}

const fares = "<!doctype html>\n<title>Fares</title>\n<h1>Fares</h1>\n<table><tr><th><th>Single<tr><td>Adult<td>£6.90</table>\n"

func TestPageCommands(t *testing.T) {
	dir := t.TempDir()
	page, changes, undo, now := filepath.Join(dir, "p.html"), filepath.Join(dir, "c.json"), filepath.Join(dir, "u.json"), filepath.Join(dir, "n.html")
	write := func(name, s string) {
		if err := os.WriteFile(name, []byte(s), 0o600); err != nil {
			t.Fatal(err)
		}
	}
	write(page, fares)
	out, err := program(t, "page", "parts", page).Output()
	var parts struct {
		Format, Encoding, Newline string
		Facts                     struct{ Title string }
		Parts                     []struct{ ID, Kind, Name, Text string }
	}
	if err != nil || json.Unmarshal(out, &parts) != nil || parts.Format != "html" || parts.Facts.Title != "Fares" || parts.Parts[0].ID != "heading-1" {
		t.Fatalf("%s %v", out, err)
	}
	write(changes, `{"changes":[{"op":"set-words","part":"cell-4","html":"£7.40"},{"op":"set-fact","name":"title","value":"Winter"}]}`)
	out, err = program(t, "page", "apply", page, changes, "--undo", undo).Output()
	if want := strings.NewReplacer("6.90", "7.40", "<title>Fares", "<title>Winter").Replace(fares); err != nil || string(out) != want {
		t.Fatalf("%s %v", out, err)
	}
	write(now, string(out))
	if back, err := program(t, "page", "apply", now, undo).Output(); err != nil || string(back) != fares {
		t.Errorf("undone: %s %v", back, err)
	}
	out, err = program(t, "page", "compare", page, now).Output()
	if err != nil || !bytes.Contains(out, []byte("Adult, Single: £6.90 becomes £7.40")) || !bytes.Contains(out, []byte(`"outside_same": true`)) {
		t.Errorf("%s %v", out, err)
	}
	write(changes, `{"changes":[{"op":"set-words","part":"heading-1","html":"x"},{"op":"remove","part":"cell-99"}]}`)
	out, err = program(t, "page", "apply", page, changes).Output()
	var exit *exec.ExitError
	if !errors.As(err, &exit) || exit.ExitCode() != refused || len(out) != 0 || !bytes.Contains(exit.Stderr, []byte("cell-99")) {
		t.Errorf("a change that cannot be applied: %q %v", out, err)
	}
}

// tenPages is a cleared request with a change on each of ten pages and a release that waits to be run.
type tenPages struct {
	t       *testing.T
	dir     string
	host    *standin.Host
	desk    *desk.Desk
	store   *store.Store
	who     desk.Who
	release int64
	args    []string
}

func (w *tenPages) must(err error) {
	w.t.Helper()
	if err != nil {
		w.t.Fatal(err)
	}
}

func newTenPages(t *testing.T) *tenPages {
	t.Helper()
	ctx := context.Background()
	w, site, pages := newPages(t, 10)
	r, err := w.desk.AddRequest(ctx, w.who, api.RequestForm{SiteID: site, Letter: "£7.40 on all pages", Kind: api.RequestKindMail})
	w.must(err)
	for _, p := range pages {
		b, err := w.desk.Bench(ctx, r.Row.Number, p.ID)
		w.must(err)
		part, words := "cell-4", "£7.40"
		_, err = w.desk.Keep(ctx, w.who, r.Row.Number, p.ID, desk.Ask{Draft: b.Draft, Act: &act.Words{Part: part, Words: words}, Here: true})
		w.must(err)
	}
	_, err = w.desk.Move(ctx, w.who, r.Row.Number, api.RequestStateCleared, "")
	w.must(err)
	rel, err := w.desk.Publish(ctx, w.who, r.Row.Number, nil)
	w.must(err)
	w.release = rel.ID
	return w
}

// newPages is a site of pages of fares that is taken in, without a request.
func newPages(t *testing.T, many int) (w *tenPages, id int64, pages []api.PageRow) {
	t.Helper()
	w = &tenPages{t: t, dir: t.TempDir()}
	ctx := context.Background()
	for i := range many {
		w.must(os.WriteFile(filepath.Join(w.dir, fmt.Sprintf("p%d.html", i)), []byte(fares), 0o600))
	}
	w.host = &standin.Host{Dir: w.dir, User: "u", Pass: "p"}
	edit, public := httptest.NewServer(w.host.DAV()), httptest.NewServer(w.host.Public())
	t.Cleanup(edit.Close)
	t.Cleanup(public.Close)
	dsn := dbtest.DSN(t)
	s, err := store.Open(ctx, dsn)
	w.must(err)
	t.Cleanup(func() { _ = s.Close() })
	w.store = s
	w.desk, err = desk.New(s, desk.Config{
		Network: host.Network{Loopback: true}, Secret: make([]byte, 32), PreviewURL: "http://{token}.x", Process: "test",
		Log: slog.New(slog.NewTextHandler(io.Discard, nil)),
	})
	w.must(err)
	w.args = []string{"serve", "--dsn", dsn, "--secret", strings.Repeat("0", 64), "--private", "yes", "--addr", "127.0.0.1:0", "--preview-addr", "localhost:0"}
	who, err := w.desk.AddPerson(ctx, "ines", "Ines Oakley", "maintainer", "harbour lane")
	w.must(err)
	w.who = desk.Who{ID: who, Name: "Ines Oakley"}
	name, mail, yes := "Larkspur", "m@larkspur.example", true
	site, err := w.desk.AddSite(ctx, w.who, api.SiteForm{
		Name: name, ClientName: &name, ContactName: &name, ContactMail: &mail, MayClear: &yes, HostURL: edit.URL, PublicURL: public.URL,
		HostUser: "u", HostPassword: "p", Zone: "Europe/London",
	})
	w.must(err)
	w.until("the pages are taken in", func() bool {
		w.desk.DoNext(ctx)
		v, err := w.desk.Site(ctx, site.ID)
		w.must(err)
		pages = v.Pages
		return v.Site.State == api.SiteStateReady
	})
	return w, site.ID, pages
}

func (w *tenPages) until(what string, done func() bool) {
	w.t.Helper()
	end := time.After(3 * time.Minute)
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

func (w *tenPages) start() *exec.Cmd {
	w.t.Helper()
	c := program(w.t, w.args...)
	c.Stderr = w.t.Output() // where it ends by itself, why
	w.must(c.Start())
	return c
}

func (w *tenPages) file(path string) string {
	w.t.Helper()
	b, err := os.ReadFile(filepath.Join(w.dir, path))
	w.must(err)
	return string(b)
}

var newFares = strings.Replace(fares, "6.90", "7.40", 1)

func TestPictureCommands(t *testing.T) {
	dir := t.TempDir()
	file, work := filepath.Join(dir, "p.png"), filepath.Join(dir, "w.json")
	var b bytes.Buffer
	if err := png.Encode(&b, image.NewGray(image.Rect(0, 0, 80, 60))); err != nil {
		t.Fatal(err)
	}
	write := func(name string, b []byte) {
		if err := os.WriteFile(name, b, 0o600); err != nil {
			t.Fatal(err)
		}
	}
	write(file, b.Bytes())
	out, err := program(t, "picture", "look", file).Output()
	var told struct {
		Media, Refused                   string
		Width, Height, Orientation, Size int
		Animated, Alpha                  *bool
		Profile                          *string
	}
	if err != nil || json.Unmarshal(out, &told) != nil || told.Media != "image/png" || told.Width != 80 || told.Height != 60 || told.Orientation != 1 ||
		told.Size != b.Len() || told.Animated == nil || told.Alpha == nil || told.Profile == nil {
		t.Errorf("%s %v", out, err)
	}
	write(work, []byte(`{"turn":90,"crop":{"x":0,"y":0,"width":60,"height":40},"width":30}`))
	out, err = program(t, "picture", "work", file, work).Output()
	if m, format, e := image.DecodeConfig(bytes.NewReader(out)); err != nil || e != nil || format != "png" || m.Width != 30 || m.Height != 20 {
		t.Errorf("%v %v %+v", err, e, m)
	}
	write(file, b.Bytes()[:b.Len()-20])
	out, err = program(t, "picture", "look", file).Output()
	var exit *exec.ExitError
	if !errors.As(err, &exit) || exit.ExitCode() != 2 || json.Unmarshal(out, &told) != nil || told.Refused == "" {
		t.Errorf("broken off: %s %v", out, err)
	}
	write(work, []byte(`{"trun":90}`))
	if out, err := program(t, "picture", "work", file, work).Output(); err == nil || len(out) > 0 {
		t.Errorf("a slip in the work: %d bytes", len(out))
	}
}

// Mendry is killed (SIGKILL) in the middle of a release of ten pages, at a write that is under way or just done.
// Every page must be old or new, the journal must agree, and after a restart the release goes on by itself; it can
// then be taken back.
func TestKilledInTheMiddleOfARelease(t *testing.T) {
	for _, at := range []standin.Hold{{Put: 1}, {Put: 1, Written: true}, {Put: 5}, {Put: 5, Written: true}, {Put: 10, Written: true}} {
		t.Run(fmt.Sprintf("write %d, done %v", at.Put, at.Written), func(t *testing.T) {
			t.Parallel()
			w := newTenPages(t)
			hold := at
			hold.Reached, hold.Go = make(chan struct{}), make(chan struct{})
			w.host.SetHold(&hold)
			c := w.start()
			select {
			case <-hold.Reached:
			case <-time.After(3 * time.Minute):
				t.Fatal("the release did not come that far")
			}
			w.must(c.Process.Kill())
			_ = c.Wait() // killed: its state is of no interest
			w.host.SetHold(nil)
			close(hold.Go)
			w.agree(at)
			if !tries.Long() {
				w.nothingIsHeld()
			}
			c = w.start()
			defer func() {
				_ = c.Process.Kill()
				_ = c.Wait()
			}()
			w.settled(w.release)
			for i := range 10 {
				if got := w.file(fmt.Sprintf("p%d.html", i)); got != newFares {
					t.Errorf("p%d after the restart:\n%s", i, got)
				}
			}
			back, err := w.desk.Steer(context.Background(), w.who, w.release, "take-back")
			w.must(err)
			w.settled(back.ID)
			for i := range 10 {
				if got := w.file(fmt.Sprintf("p%d.html", i)); got != fares {
					t.Errorf("p%d taken back:\n%s", i, got)
				}
			}
			rec, err := w.desk.Record(context.Background(), 0, 0, 0)
			if err != nil || !rec.Whole {
				t.Errorf("record: %v %s", err, rec.Fault)
			}
			written := 0
			for _, e := range rec.Entries {
				if e.What == "file written" {
					written++
				}
			}
			if written != 20 {
				t.Errorf("the record has %d writes, want ten there and ten back", written)
			}
		})
	}
}

// agree checks that files and journal tell the same story.
func (w *tenPages) agree(at standin.Hold) {
	w.t.Helper()
	rel, err := w.desk.Release(context.Background(), w.release)
	w.must(err)
	news := 0
	for _, s := range rel.Steps {
		got := w.file(s.Path)
		if got != fares && got != newFares {
			w.t.Errorf("%s is neither old nor new:\n%s", s.Path, got)
		}
		if got == newFares {
			news++
		}
		if s.State == api.StepStateWritten && got != newFares || s.State == api.StepStateWaiting && got != fares {
			w.t.Errorf("%s is %s in the journal", s.Path, s.State)
		}
	}
	// Several are written at a time: those beside the one at which Mendry died may be done or not, as at any host.
	if beside := 3; news < at.Put-1-beside || news > at.Put+beside {
		w.t.Errorf("%d pages are new at write %d, done %v", news, at.Put, at.Written)
	}
}

func (w *tenPages) settled(id int64) {
	w.t.Helper()
	w.until("the release is seen to be right", func() bool {
		r, err := w.desk.Release(context.Background(), id)
		w.must(err)
		if r.State == api.ReleaseStateStopped {
			w.t.Fatalf("stopped: %s", r.Said)
		}
		return r.State == api.ReleaseStateSure
	})
}
