package host

import (
	"context"
	"fmt"
	"maps"
	"net/http"
	"net/http/httptest"
	"slices"
	"strings"
	"sync"
	"sync/atomic"
	"testing"
	"time"
)

// clocks is a site that nobody lets Mendry into.
func clocks(t *testing.T) (site *httptest.Server, asked map[string]int) {
	t.Helper()
	pages := map[string]string{
		"/":                 `<title>Clocks</title><h1>Clocks</h1><a href="repairs">Repairs</a> <a href="/old">Old</a> <a href="mailto:a@b.example">Mail</a>`,
		"/repairs":          `<h1>Repairs</h1><a href="/">Home</a> <a href="#prices">Prices</a> <a href="prices/?by=age#top">By age</a> <a href="https://other.example/x">Elsewhere</a>`,
		"/prices/":          `<h1>Prices</h1><a href="../repairs">Repairs</a> <a href="caf%C3%A9%20no%231">One</a> <a href="/list.pdf">List</a> <a href="/gone">Gone</a>`,
		"/prices/café no#1": `<h1>One</h1><area href="/shop.php?id=3">`,
		"/shop.php":         `<h1>Shop</h1>`,
		"/alone":            `<h1>Nothing links here but the map</h1>`,
	}
	asked = map[string]int{}
	answer := func(w http.ResponseWriter, r *http.Request) {
		asked[r.URL.Path]++
		if r.Header.Get("Cache-Control") != "no-cache" {
			t.Errorf("%s is asked for from a cache", r.URL)
		}
		w.Header().Set("Cache-Control", "max-age=600")
		switch r.URL.Path {
		case "/old":
			http.Redirect(w, r, "/repairs", http.StatusMovedPermanently)
		case "/sitemap.xml":
			fmt.Fprintf(w, `<?xml version="1.0"?><sitemapindex xmlns="http://www.sitemaps.org/schemas/sitemap/0.9"><sitemap><loc>%s/more.xml</loc></sitemap></sitemapindex>`, site.URL)
		case "/more.xml":
			fmt.Fprintf(w, `<?xml version="1.0"?><urlset xmlns="http://www.sitemaps.org/schemas/sitemap/0.9"><url><loc>%s/alone</loc></url><url><loc>https://other.example/</loc></url></urlset>`, site.URL)
		default:
			body, ok := pages[r.URL.Path]
			if !ok {
				http.NotFound(w, r)
				return
			}
			w.Header().Set("Content-Type", "text/html; charset=utf-8")
			fmt.Fprint(w, body)
		}
	}
	var one sync.Mutex // the lanes share what was asked for
	site = httptest.NewServer(http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		one.Lock()
		defer one.Unlock()
		answer(w, r)
	}))
	t.Cleanup(site.Close)
	return site, asked
}

func TestASiteByHandIsReadByItsLinksAndItsMap(t *testing.T) {
	ctx := context.Background()
	site, asked := clocks(t)
	h, err := Open(Network{Loopback: true}, Reach{Kind: "hand", Public: site.URL + "/"}, patience)
	if err != nil {
		t.Fatal(err)
	}
	l, err := h.List(ctx, nil)
	if err != nil {
		t.Fatal(err)
	}
	var got []string
	for _, f := range l.Files {
		got = append(got, f.Path)
	}
	want := []string{"alone", "index.html", "prices/café no#1", "prices/index.html", "repairs", "shop.php"}
	if !slices.Equal(got, want) {
		t.Errorf("%q, want %q", got, want)
	}
	for p, n := range asked {
		if n > 1 && p != "/repairs" { // which the old address leads to
			t.Errorf("%s was asked for %d times", p, n)
		}
	}
	c, err := h.Read(ctx, "prices/café no#1")
	if err != nil || !strings.Contains(string(c.Bytes), "One") || c.Kept < 9*time.Minute {
		t.Errorf("%v %+v", err, c)
	}
	if _, err := h.Read(ctx, "gone"); !Is(err, Gone) {
		t.Errorf("a page that is not there: %v", err)
	}
	if err := h.Write(ctx, "repairs", nil, &c); !Is(err, Forbidden) {
		t.Errorf("it is written to: %v", err)
	}
	if k, err := h.Try(ctx); err != nil || k.MayWrite {
		t.Errorf("%v %+v", err, k)
	}
}

// One address that does not answer keeps no site out: a page of the site is listed with the reason, another host's is left
// out. Where the site itself does not answer, nothing is listed: its pages would count as gone.
func TestOneLinkThatDoesNotAnswerKeepsNoSiteOut(t *testing.T) {
	t.Parallel()
	dead := httptest.NewServer(http.NotFoundHandler())
	dead.Close()
	untrusted := httptest.NewTLSServer(http.NotFoundHandler())
	defer untrusted.Close()
	var dies, down atomic.Bool // after its first page
	ended := make(chan struct{})
	site := httptest.NewServer(http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		if dies.Load() && r.URL.Path == "/sitemap.xml" {
			down.Store(true)
		}
		switch {
		case r.URL.Path == "/slow" || down.Load():
			select {
			case <-ended:
			case <-r.Context().Done():
			}
		case r.URL.Path == "/map":
			http.Redirect(w, r, dead.URL+"/there?from=us", http.StatusFound)
		case r.URL.Path == "/shop":
			http.Redirect(w, r, untrusted.URL, http.StatusFound)
		case r.URL.Path == "/short":
			w.Header().Set("Content-Length", "1000")
			_, _ = w.Write([]byte("<p>"))
		default:
			w.Header().Set("Content-Type", "text/html")
			fmt.Fprint(w, `<a href="/map">Map</a> <a href="/shop">Shop</a> <a href="/slow">Slow</a> <a href="/short">Short</a> <a href="/fine">Fine</a>`)
		}
	}))
	defer site.Close()
	defer close(ended)
	h, err := Open(Network{Loopback: true}, Reach{Kind: "hand", Public: site.URL + "/"}, 500*time.Millisecond)
	if err != nil {
		t.Fatal(err)
	}
	l, err := h.List(context.Background(), nil)
	if err != nil {
		t.Fatal(err)
	}
	got := map[string]bool{}
	for _, f := range l.Files {
		got[f.Path] = f.Mute
	}
	if want := map[string]bool{"fine": false, "index.html": false, "short": true, "slow": true}; !maps.Equal(got, want) {
		t.Errorf("listed, and silent: %v, want %v", got, want)
	}
	slices.Sort(l.Left)
	if len(l.Left) != 2 || !strings.Contains(l.Left[0], "/map leads to another host") || !strings.Contains(l.Left[0], strings.TrimPrefix(dead.URL, "http://")) ||
		!strings.Contains(l.Left[1], "certificate") {
		t.Errorf("left out: %q", l.Left)
	}

	dies.Store(true)
	if l, err := h.List(context.Background(), nil); err == nil {
		t.Errorf("a site that is down is listed: %v", l.Files)
	}
}

func TestThePlaceOfAPageStandsForItsFolder(t *testing.T) {
	for given, want := range map[string]string{
		"https://www.larkspur.example":                      "https://www.larkspur.example/",
		"https://www.larkspur.example/index.html":           "https://www.larkspur.example/",
		"https://www.larkspur.example/en/fares.htm?x=1#top": "https://www.larkspur.example/en/",
		"https://dav.example/sites/www.larkspur.example":    "https://dav.example/sites/www.larkspur.example/",
		"https://www.larkspur.example/a%20b/":               "https://www.larkspur.example/a%20b/",
	} {
		if u, err := Address(given); err != nil || u.String() != want {
			t.Errorf("%s: %v, %v, want %s", given, u, err, want)
		}
	}
}

func TestTheWrongSchemeIsToldInWords(t *testing.T) {
	for want, srv := range map[string]*httptest.Server{
		"answers without TLS": httptest.NewServer(http.NotFoundHandler()),
		"http://":             httptest.NewTLSServer(http.NotFoundHandler()),
	} {
		t.Cleanup(srv.Close)
		address := strings.NewReplacer("http://", "https://", "https://", "http://").Replace(srv.URL)
		if _, err := NewVisitor(Network{Loopback: true}, patience).Get(context.Background(), address); err == nil || !strings.Contains(err.Error(), want) {
			t.Errorf("%s: %v", address, err)
		}
	}
}
