package desk

import (
	"context"
	"errors"
	"fmt"
	"maps"
	"net/http"
	"net/http/httptest"
	"os"
	"path/filepath"
	"strings"
	"sync/atomic"
	"testing"
	"time"

	"mendry/api"
	"mendry/internal/core/page"
	"mendry/internal/core/record"
	"mendry/internal/host"
	"mendry/internal/store"
)

// counted is a host whose reads are counted, and which is cut off after some.
type counted struct {
	host.Host
	reads atomic.Int64
	most  int64
	cut   context.CancelFunc
}

func (c *counted) Read(ctx context.Context, file string) (host.Content, error) {
	if n := c.reads.Add(1); c.most > 0 && n > c.most {
		c.cut()
		return host.Content{}, context.Canceled
	}
	return c.Host.Read(ctx, file)
}

// What a killed process had kept of a site is not read again; taken in anew, what has not changed is not stored again.
func TestTakingInGoesOnWhereItWasCut(t *testing.T) {
	t.Parallel()
	ctx := context.Background()
	w := newWorld(t, true, "index")
	const pages = 3 * keptAtOnce
	for i := range pages {
		if err := os.WriteFile(filepath.Join(w.dir, fmt.Sprintf("p%04d.html", i)), fmt.Appendf(nil, "<title>Page %d</title><h1>Page %d</h1>", i, i), 0o600); err != nil {
			t.Fatal(err)
		}
	}
	h, err := w.d.liveHost(ctx, w.site.ID)
	w.must(err)
	taken := func() (n int) {
		n, err := w.s.PageCount(ctx, w.site.ID)
		w.must(err)
		return n
	}
	w.must(w.s.BeginTakingIn(ctx, w.site.ID, w.d.now()))
	cut, cancel := context.WithCancel(ctx)
	first := &counted{Host: h, most: pages - keptAtOnce/2, cut: cancel}
	if err := w.d.takeIn(cut, w.site.ID, first); !errors.Is(err, context.Canceled) {
		t.Fatalf("cut off: %v", err)
	}
	kept := taken()
	second := &counted{Host: h}
	w.must(w.d.takeIn(ctx, w.site.ID, second))
	if kept < keptAtOnce || taken() != pages+1 || int(second.reads.Load()) > pages+1-kept+1 {
		t.Errorf("%d pages were kept when it was cut; then %d were read, and %d of %d are there", kept, second.reads.Load(), taken(), pages+1)
	}

	w.write("p0007.html", "<title>Seven</title><h1>Seven</h1>")
	w.must(os.Remove(filepath.Join(w.dir, "p0008.html")))
	wrote := w.s.Wrote()
	w.must(w.s.BeginTakingIn(ctx, w.site.ID, w.d.now()))
	w.must(w.d.takeIn(ctx, w.site.ID, &counted{Host: h}))
	if n := w.s.Wrote() - wrote; taken() != pages || n > 40 {
		t.Errorf("%d pages of %d, %d writes for one that changed and one that went", taken(), pages, n)
	}
	if p, err := w.s.PageByPath(ctx, w.site.ID, "p0007.html"); err != nil || p.Title != "Seven" {
		t.Errorf("%v %q", err, p.Title)
	}
}

// What a host gives may end the process that takes it in: that is tried a few times, not for ever, and again when asked.
func TestTakingInThatEndsItsProcessIsGivenUp(t *testing.T) {
	t.Parallel()
	ctx := context.Background()
	w := newWorld(t, true, "index")
	for _, c := range []struct {
		ends int
		want api.SiteState
	}{{mostCutOff - 1, api.SiteStateReady}, {mostCutOff, api.SiteStateFailed}, {0, api.SiteStateReady}} {
		w.must(w.d.TakeIn(ctx, w.site.ID))
		for range c.ends {
			_, err := w.s.ClaimJob(ctx, "a process that ends", []string{"take in"}, w.d.now(), w.d.now().Add(-time.Millisecond))
			w.must(err)
		}
		var site api.Site
		w.until("it is done", func() bool {
			w.d.DoNext(ctx)
			v, err := w.d.Site(ctx, w.site.ID)
			w.must(err)
			site = v.Site
			_, err = w.s.JobOf(ctx, "take in", fmt.Sprint(w.site.ID))
			return errors.Is(err, store.ErrNone)
		})
		if site.State != c.want || (c.want == api.SiteStateFailed) != strings.Contains(site.Said, "was ended 5 times") {
			t.Errorf("after %d ends it is %s: %s", c.ends, site.State, site.Said)
		}
	}
}

// Which file a folder's page is, visitors tell: Apache's, nginx's and IIS's own lists differ.
func TestAFoldersPageIsTheOneThatVisitorsGet(t *testing.T) {
	t.Parallel()
	ctx := context.Background()
	w := newWorld(t, true, "index")
	page := func(title string) string { return "<!doctype html><title>" + title + "</title><h1>" + title + "</h1>" }
	for name, text := range map[string]string{
		"both/index.html": page("Not shown"), "both/index.htm": page("Shown"), "old/default.htm": page("Default"),
		"shop/index.php": "<?php echo 1 ?>", "shop/terms.html": page("Terms"), "mixed/index.html": page("Left over"), "mixed/index.php": "<?php ?>",
		"ssi/index.shtml": "<!--#include virtual=\"/head.html\" -->" + page("Pieces"), "ssi/plain.shtml": page("None"),
		"plain/index.html": page("Plain"), ".davfs.tmp7x2": "half", "fares.html.0000000004": "half", "note.html.partial": "half",
	} {
		w.must(os.MkdirAll(filepath.Dir(filepath.Join(w.dir, name)), 0o755))
		w.write(name, text)
	}
	shown := map[string]string{"/both/": page("Shown"), "/old/": page("Default"), "/shop/": page("The shop"), "/mixed/": page("By program"), "/ssi/": page("Put together")}
	visitors := httptest.NewServer(http.HandlerFunc(func(rw http.ResponseWriter, r *http.Request) {
		rw.Header().Set("Content-Type", "text/html")
		if text := shown[r.URL.Path]; text != "" {
			fmt.Fprint(rw, text)
			return
		}
		http.NotFound(rw, r)
	}))
	t.Cleanup(visitors.Close)
	_, err := w.s.DB().ExecContext(ctx, `UPDATE site SET public_url = ?`, visitors.URL+"/")
	w.must(err)
	w.takeIn()
	v, err := w.d.Site(ctx, w.site.ID)
	w.must(err)
	got := map[string]string{}
	for _, p := range v.Pages {
		got[p.Path] = p.Address
		why := map[string]string{"shop/index.php": "A program makes this page", "mixed/index.php": "A program makes this page", "ssi/index.shtml": "puts pieces into this page"}[p.Path]
		if (why != "") != (p.Locked != "") || !strings.Contains(p.Locked, why) {
			t.Errorf("%s is locked: %q", p.Path, p.Locked)
		}
	}
	want := map[string]string{
		"index.html": "/", "both/index.html": "/both/index.html", "both/index.htm": "/both/", "old/default.htm": "/old/", "shop/index.php": "/shop/",
		"shop/terms.html": "/shop/terms.html", "mixed/index.html": "/mixed/index.html", "mixed/index.php": "/mixed/", "plain/index.html": "/plain/",
		"ssi/index.shtml": "/ssi/", "ssi/plain.shtml": "/ssi/plain.shtml",
	}
	if !maps.Equal(got, want) {
		t.Errorf("%v\nwant %v", got, want)
	}
	if !strings.Contains(v.Site.Said, "what a write left that broke off") {
		t.Errorf("what was left is not named: %s", v.Site.Said)
	}
}

// mute is a host of which some files do not answer just now.
type mute struct {
	host.Host
	files map[string]bool
}

func (m mute) List(ctx context.Context, found func(int)) (host.Listing, error) {
	l, err := m.Host.List(ctx, found)
	for i, f := range l.Files {
		if m.files[f.Path] {
			l.Files[i].Mute, l.Files[i].Odd = true, "It took too long to answer."
		}
	}
	return l, err
}

// A page that does not answer stays as it is known; one that is not known is taken in locked, with the reason.
func TestAPageThatDoesNotAnswerStaysAsItIsKnown(t *testing.T) {
	t.Parallel()
	ctx := context.Background()
	w := newWorld(t, true, "index", "fares")
	w.write("new.html", "<title>New</title><h1>New</h1>")
	h, err := w.d.liveHost(ctx, w.site.ID)
	w.must(err)
	was, err := w.s.PageByPath(ctx, w.site.ID, "fares.html")
	w.must(err)
	w.must(w.s.BeginTakingIn(ctx, w.site.ID, w.d.now()))
	w.must(w.d.takeIn(ctx, w.site.ID, mute{h, map[string]bool{"fares.html": true, "new.html": true}}))
	is, err := w.s.PageByPath(ctx, w.site.ID, "fares.html")
	w.must(err)
	fresh, err := w.s.PageByPath(ctx, w.site.ID, "new.html")
	w.must(err)
	if is.Hash != was.Hash || is.Locked != "" || is.GoneAt != nil || fresh.Locked != "It took too long to answer." {
		t.Errorf("known: %q %q %v; new: %q", is.Hash, is.Locked, is.GoneAt, fresh.Locked)
	}
}

// What the database does not take of one page locks that page, and the others of its batch are kept.
func TestAPageThatCannotBeStoredIsLocked(t *testing.T) {
	t.Parallel()
	ctx := context.Background()
	w := newWorld(t, true, "index")
	taken := &taking{d: w.d, site: w.site.ID}
	var batch []got
	for _, name := range []string{"one", "two", "three"} {
		g := got{page: store.Page{SiteID: w.site.ID, Path: name + ".html", Address: "/" + name + ".html", SeenAt: w.d.now()}, bytes: []byte(name)}
		known := page.Known{Title: name, Words: name}
		if name == "two" {
			known.Words, known.Title = "\xff\xfe", strings.Repeat("x", 600)
		}
		g.page.Take(known, record.Sum(g.bytes), strings.Repeat("text/", 99), 3)
		batch = append(batch, g)
	}
	w.must(taken.keep(ctx, batch))
	for _, name := range []string{"one", "two", "three"} {
		p, err := w.s.PageByPath(ctx, w.site.ID, name+".html")
		if err != nil || (p.Locked != "") != (name == "two") {
			t.Errorf("%s: locked %q, %v", name, p.Locked, err)
		}
	}

	deep := strings.Repeat("a", 200) + "/" + strings.Repeat("b", 200) + "/" + strings.Repeat("c", 200) + "/"
	w.must(os.MkdirAll(filepath.Join(w.dir, deep), 0o755))
	w.write(deep+"page.html", "<title>Deep</title><h1>Deep</h1>")
	h, err := w.d.liveHost(ctx, w.site.ID)
	w.must(err)
	w.must(w.d.takeIn(ctx, w.site.ID, h))
	if v, err := w.d.Site(ctx, w.site.ID); err != nil || v.Site.State != api.SiteStateReady || !strings.Contains(v.Site.Said, "more than 500 letters") {
		t.Errorf("%v, %s: %s", err, v.Site.State, v.Site.Said)
	}
}

// What was found out about a host's locks goes with each way to it.
func TestAHostWithoutLocksIsReachedAsOne(t *testing.T) {
	t.Parallel()
	ctx := context.Background()
	w := newWorld(t, true, "index")
	for knows, want := range map[string]bool{`{"may_write":true,"locks":true}`: false, `{"may_write":true,"locks":false}`: true, `{"may_write":false}`: false, `{}`: false} {
		w.must(w.s.SetHostKnows(ctx, w.site.ID, "live", []byte(knows), w.d.now()))
		if r, err := w.d.reach(ctx, w.site.ID); err != nil || r.Unheld != want {
			t.Errorf("%s: %v %v", knows, r.Unheld, err)
		}
	}
}
