package host

import (
	"bytes"
	"context"
	"crypto/tls"
	"net/http"
	"net/http/httptest"
	"net/netip"
	"os"
	"path/filepath"
	"strings"
	"sync/atomic"
	"testing"
	"time"

	"mendry/internal/standin"
)

// patience is how long the stand-in may take on a machine that others use, too.
const patience = time.Minute

func open(t *testing.T, pass string) (*standin.Host, *WebDAV, string) {
	t.Helper()
	return openWithin(t, pass, patience)
}

func openWithin(t *testing.T, pass string, limit time.Duration) (*standin.Host, *WebDAV, string) {
	t.Helper()
	dir := t.TempDir()
	if err := os.WriteFile(filepath.Join(dir, "fares.html"), []byte("<p>old</p>"), 0o600); err != nil {
		t.Fatal(err)
	}
	s := &standin.Host{Dir: dir, User: "keeper", Pass: "right"}
	srv := httptest.NewServer(s.DAV())
	t.Cleanup(srv.Close)
	w, err := NewWebDAV(Network{Loopback: true}, Reach{URL: srv.URL, User: "keeper", Pass: pass}, limit)
	if err != nil {
		t.Fatal(err)
	}
	return s, w, dir
}

func TestReadWriteAndRemove(t *testing.T) {
	_, w, dir := open(t, "right")
	ctx := context.Background()
	c, err := w.Read(ctx, "fares.html")
	if err != nil || string(c.Bytes) != "<p>old</p>" || c.Tag == "" {
		t.Fatalf("%q %v", c.Bytes, err)
	}
	if err := w.Write(ctx, "fares.html", []byte("<p>new</p>"), &c); err != nil {
		t.Fatal(err)
	}
	// RFC 9110, 13.1.1: If-Match with the tag of an older version must not overwrite.
	if err := w.Write(ctx, "fares.html", []byte("<p>late</p>"), &c); !Is(err, Changed) {
		t.Errorf("a write over somebody's edit: %v", err)
	}
	// RFC 9110, 13.1.2: If-None-Match: * must not overwrite.
	if err := w.Write(ctx, "fares.html", []byte("x"), nil); !Is(err, Changed) {
		t.Errorf("a new file over an old one: %v", err)
	}
	// RFC 4918, 9.7.1: a PUT into a missing folder is refused with 409; the folder is made, then it goes through.
	if err := w.Write(ctx, "img/deep/new.jpg", []byte("jpeg"), nil); err != nil {
		t.Errorf("into a new folder: %v", err)
	}
	b, err := os.ReadFile(filepath.Join(dir, "fares.html"))
	if err != nil || string(b) != "<p>new</p>" {
		t.Errorf("%q %v", b, err)
	}
	all, err := w.List(ctx, nil)
	if err != nil || len(all.Files) != 2 || all.Files[1].Path != "img/deep/new.jpg" || len(all.Left) > 0 {
		t.Errorf("%v %v", all, err)
	}
	if err := w.Remove(ctx, "fares.html", c); !Is(err, Changed) {
		t.Errorf("remove of a changed file: %v", err)
	}
	if c, err = w.Read(ctx, "fares.html"); err != nil {
		t.Fatal(err)
	}
	if err := w.Remove(ctx, "fares.html", c); err != nil {
		t.Error(err)
	}
}

// Each thing that can go wrong is told apart and said in plain words with what to do.
func TestProblemsAreSaidInWords(t *testing.T) {
	tests := []struct {
		name  string
		fault standin.Fault
		kind  Kind
		say   string
	}{
		{"401", standin.Fault{Status: 401}, Password, "Correct them in the site's settings"},
		{"403", standin.Fault{Status: 403}, Forbidden, "Ask whoever runs the host"},
		{"404", standin.Fault{Status: 404}, Gone, "take in the site again"},
		{"412", standin.Fault{Status: 412}, Changed, "Nothing was overwritten"},
		{"423", standin.Fault{Status: 423}, Locked, "Go on when they are done"},
		{"500", standin.Fault{Status: 500, Times: 1}, Broken, "Try again in a few minutes"},
		{"502", standin.Fault{Status: 502}, Broken, "Try again in a few minutes"},
		{"507", standin.Fault{Status: 507}, Full, "Free some room"},
		{"redirect", standin.Fault{Status: 302}, Odd, "Enter the address"},
		{"time-out", standin.Fault{Slow: time.Minute}, Slow, "Try again"},
	}
	for _, tt := range tests {
		t.Run(tt.name, func(t *testing.T) {
			t.Parallel()
			limit := patience
			if tt.kind == Slow {
				limit = time.Second
			}
			s, w, dir := openWithin(t, "right", limit)
			s.SetFaults(tt.fault)
			err := w.Write(context.Background(), "fares.html", []byte("new"), &Content{Tag: `"any"`})
			if !Is(err, tt.kind) || !strings.Contains(err.Error(), tt.say) {
				t.Errorf("%v", err)
			}
			if b, err := os.ReadFile(filepath.Join(dir, "fares.html")); err != nil || string(b) != "<p>old</p>" {
				t.Errorf("the file is %q, %v", b, err)
			}
		})
	}
}

func TestAWrongPasswordABrokenBodyAndADeadHost(t *testing.T) {
	ctx := context.Background()
	_, w, _ := open(t, "wrong")
	if _, err := w.Read(ctx, "fares.html"); !Is(err, Password) {
		t.Errorf("wrong password: %v", err)
	}
	if _, err := w.List(ctx, nil); !Is(err, Password) {
		t.Errorf("wrong password, listing: %v", err)
	}
	s, w, _ := open(t, "right")
	s.SetFaults(standin.Fault{Cut: true})
	if _, err := w.Read(ctx, "fares.html"); !Is(err, Short) {
		t.Errorf("a body cut short: %v", err)
	}
	dead, err := NewWebDAV(Network{Loopback: true}, Reach{URL: "http://127.0.0.1:1/"}, patience)
	if err != nil {
		t.Fatal(err)
	}
	if _, err := dead.Read(ctx, "x"); !Is(err, Down) {
		t.Errorf("nobody there: %v", err)
	}
}

func TestACertificateThatCannotBeTrusted(t *testing.T) {
	srv := httptest.NewTLSServer(http.NotFoundHandler())
	t.Cleanup(srv.Close)
	srv.Config.ErrorLog = nil
	w, err := NewWebDAV(Network{Loopback: true}, Reach{URL: srv.URL}, patience)
	if err != nil {
		t.Fatal(err)
	}
	if _, err := w.Read(context.Background(), "x"); !Is(err, Certificate) ||
		!strings.Contains(err.Error(), "nothing was sent") {
		t.Errorf("%v", err)
	}
	roots := srv.Client().Transport.(*http.Transport).TLSClientConfig.RootCAs
	w, err = NewWebDAV(
		Network{Loopback: true, TLS: &tls.Config{RootCAs: roots, MinVersion: tls.VersionTLS12}},
		Reach{URL: srv.URL},
		patience,
	)
	if err != nil {
		t.Fatal(err)
	}
	if _, err := w.Read(context.Background(), "x"); !Is(err, Gone) {
		t.Errorf("with its authority trusted: %v", err)
	}
}

// Special-purpose ranges by RFC 6890: nothing there is a site that anybody meant.
func TestPrivateAddressesAreNotReached(t *testing.T) {
	for _, a := range []string{"127.0.0.1", "10.1.2.3", "172.16.0.1", "192.168.1.1", "169.254.169.254", "100.64.0.1", "0.0.0.0", "::1", "fe80::1", "fc00::1", "::ffff:127.0.0.1",
		"64:ff9b::7f00:1", "64:ff9b:1::1", "2002:7f00:1::", "192.88.99.1", "198.18.0.1", "198.19.255.255", "240.0.0.1", "255.255.255.255", "2001:2::1", "2001::1",
		"2001:db8::1", "203.0.113.9", "0.1.2.3", "::7f00:1", "fec0::1", "ff02::1", "100::1"} {
		if public(netip.MustParseAddr(a).Unmap()) {
			t.Errorf("%s counts as public", a)
		}
	}
	for _, a := range []string{"93.184.216.34", "198.17.255.255", "198.20.0.1", "239.255.255.255", "2606:2800:220:1::1", "2003::1", "2001:4860::8888"} {
		if public(netip.MustParseAddr(a)) == netip.MustParseAddr(a).IsMulticast() {
			t.Errorf("a public address is refused: %s", a)
		}
	}
	srv := httptest.NewServer(http.NotFoundHandler())
	t.Cleanup(srv.Close)
	if h, err := NewSFTP(Network{}, Reach{URL: "sftp://127.0.0.1:22/site/"}, patience); err != nil {
		t.Error(err)
	} else if _, err := h.List(context.Background(), nil); !Is(err, Private) {
		t.Errorf("loopback over SFTP: %v", err)
	}
	if _, err := NewVisitor(Network{}, patience).Get(context.Background(), srv.URL); !Is(err, Private) {
		t.Errorf("loopback: %v", err)
	}
}

func TestVisitorsSeeThroughTheCache(t *testing.T) {
	s, _, dir := open(t, "right")
	s.Keep = time.Minute
	srv := httptest.NewServer(s.Public())
	t.Cleanup(srv.Close)
	v := NewVisitor(Network{Loopback: true}, patience)
	get := func() Visit {
		got, err := v.Get(context.Background(), srv.URL+"/fares.html")
		if err != nil {
			t.Fatal(err)
		}
		return got
	}
	first := get()
	if err := os.WriteFile(filepath.Join(dir, "fares.html"), []byte("<p>new</p>"), 0o600); err != nil {
		t.Fatal(err)
	}
	if again := get(); !bytes.Equal(again.Bytes, first.Bytes) || again.Cache.Left() < 50*time.Second {
		t.Errorf("the cache gave %q with %v left", again.Bytes, again.Cache.Left())
	}
	s.Flush()
	if now := get(); string(now.Bytes) != "<p>new</p>" {
		t.Errorf("after the cache: %q", now.Bytes)
	}
}

// A host that grants locks and keeps nobody off by them is asked for none once that was seen: small servers end over them.
func TestAHostThatHonoursNoLocksIsAskedForNone(t *testing.T) {
	t.Parallel()
	dir := t.TempDir()
	s := &standin.Host{Dir: dir, User: "keeper", Pass: "right"}
	dav := s.DAV()
	var asked atomic.Int64
	srv := httptest.NewServer(http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		if r.Method == "LOCK" || r.Method == "UNLOCK" {
			asked.Add(1)
			w.Header().Set("Lock-Token", "<opaquelocktoken:none>")
			return
		}
		r.Header.Del("If")
		dav.ServeHTTP(w, r)
	}))
	t.Cleanup(srv.Close)
	reach := Reach{URL: srv.URL, User: "keeper", Pass: "right"}
	w, err := NewWebDAV(Network{Loopback: true}, reach, patience)
	if err != nil {
		t.Fatal(err)
	}
	k, err := w.Try(context.Background())
	if err != nil || !k.MayWrite || k.Locks || asked.Load() == 0 {
		t.Fatalf("%+v %v, asked %d times", k, err, asked.Load())
	}
	reach.Unheld = true
	later, err := NewWebDAV(Network{Loopback: true}, reach, patience)
	if err != nil {
		t.Fatal(err)
	}
	for _, w := range []*WebDAV{w, later} {
		asked.Store(0)
		if err := os.WriteFile(filepath.Join(dir, "a.html"), []byte("old"), 0o600); err != nil {
			t.Fatal(err)
		}
		w.HoldFolder(context.Background(), []string{"a.html"})()
		if _, err := Put(context.Background(), w, "a.html", []byte("old"), []byte("new"), false); err != nil || asked.Load() > 0 {
			t.Errorf("%v, asked for %d locks", err, asked.Load())
		}
	}
}
