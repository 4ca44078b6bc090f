package desk

import (
	"context"
	"fmt"
	"os"
	"path/filepath"
	"sync"
	"sync/atomic"
	"testing"

	"mendry/internal/core/refusal"
	"mendry/internal/standin"
	"mendry/internal/store"
)

// What a page names is fetched as a visitor gets it, never with the studio's password.
func TestAPreviewHandsOutNothingThatAVisitorDoesNotGet(t *testing.T) {
	t.Parallel()
	ctx := context.Background()
	w := newWorld(t, true, "a")
	w.must(os.MkdirAll(filepath.Join(w.dir, ".git"), 0o700))
	for _, name := range []string{".env", ".htpasswd", ".git/config", "site.css"} {
		w.write(name, "SECRET=harbour")
	}
	n := w.request("x")
	w.must(w.keep(n, "/a.html", "On a lead.", "On a leash."))
	w.host.SetFaults(standin.Fault{Status: 401}) // the editing side, which would know them all
	for _, v := range []store.Preview{{SiteID: w.site.ID, View: "live"}, {SiteID: w.site.ID, RequestID: &n, View: "draft", Marked: true}} {
		for _, p := range []string{"/.env", "/.htpasswd", "/.git/config", "/x/../.env", "/.git/", "/a/.git/config"} {
			if c, err := w.d.ViewFile(ctx, v, p, ""); err == nil || !refusal.Is(err, refusal.Nothing) {
				t.Errorf("%s: %q, %v", p, c.Bytes, err)
			}
		}
		if c, err := w.d.ViewFile(ctx, v, "/site.css", "v=3"); err != nil || string(c.Bytes) != "SECRET=harbour" {
			t.Errorf("what visitors get: %q %v", c.Bytes, err)
		}
		if c, err := w.d.ViewFile(ctx, v, "/a.html", ""); err != nil || len(c.Bytes) == 0 {
			t.Errorf("the page itself: %v", err)
		}
	}
}

// Tries are counted before the password is looked at, so that many at the same moment are no way around the limit; and
// few passwords are hashed at a time.
func TestManySignInsAtOnceAreHeldToTheLimit(t *testing.T) {
	t.Parallel()
	ctx := context.Background()
	w := newWorld(t, false)
	try := func(n int, name func(i int) string, password string) (right, wrong, often int64) {
		var wg sync.WaitGroup
		for i := range n {
			wg.Go(func() {
				switch _, err := w.d.SignIn(ctx, name(i), password, "192.0.2.7"); {
				case err == nil:
					atomic.AddInt64(&right, 1)
				case refusal.Is(err, refusal.Forbidden):
					atomic.AddInt64(&wrong, 1)
				case refusal.Is(err, refusal.TooMany):
					atomic.AddInt64(&often, 1)
				default:
					t.Error(err)
				}
			})
		}
		wg.Wait()
		return right, wrong, often
	}
	if _, wrong, often := try(60, func(int) string { return "ines" }, "guess"); wrong > triesByName || wrong+often != 60 {
		t.Errorf("under one name %d were looked at, %d refused", wrong, often)
	}
	if _, wrong, often := try(60, func(i int) string { return fmt.Sprintf("somebody %d", i) }, "guess"); wrong > triesByAddress || wrong+often != 60 {
		t.Errorf("from one address %d were looked at, %d refused", wrong, often)
	}
}

// Behind a proxy that nobody named, everybody has its address: it is held against nobody.
func TestAProxyThatNobodyNamedShutsNobodyOut(t *testing.T) {
	t.Parallel()
	ctx := context.Background()
	w := newWorld(t, false)
	for i := range 2 * triesByAddress {
		if _, err := w.d.SignIn(ctx, fmt.Sprintf("somebody %d", i), "guess", "10.0.0.2"); !refusal.Is(err, refusal.Forbidden) {
			t.Fatalf("try %d: %v", i, err)
		}
	}
	if _, err := w.d.SignIn(ctx, "ines", "harbour lane", "10.0.0.2"); err != nil {
		t.Error(err)
	}
}
