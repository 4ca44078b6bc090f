package standin

import (
	"context"
	"errors"
	"net/http/httptest"
	"os"
	"os/exec"
	"path/filepath"
	"regexp"
	"strings"
	"testing"
	"time"

	"mendry/internal/host"
	"mendry/internal/host/hosttest"
)

// On a host that is less than the standards ask Mendry still writes, makes folders, and overwrites nobody.
func TestTheLawHoldsOnUnkindHosts(t *testing.T) {
	for name, u := range map[string]Unkind{
		"kind": {}, "weak tags": {Tags: "weak"}, "suffixed tags": {Tags: "suffixed", Gzip: true}, "no tags": {Tags: "missing"},
		"ignored conditions": {Tags: "ignored"}, "in place": {InPlace: true}, "Digest": {Digest: true}, "gzip": {Gzip: true},
		"404 for a folder": {Missing: 404}, "500 for a folder": {Missing: 500}, "all of it": {Tags: "ignored", InPlace: true, Digest: true, Gzip: true, Missing: 500},
	} {
		t.Run(name, func(t *testing.T) {
			t.Parallel()
			ctx := context.Background()
			s := &Host{Dir: t.TempDir(), User: "keeper", Pass: "lock & key"}
			s.SetUnkind(u)
			srv := httptest.NewServer(s.DAV())
			t.Cleanup(srv.Close)
			h, err := host.Open(host.Network{Loopback: true}, host.Reach{Kind: "webdav", URL: srv.URL, User: "keeper", Pass: "lock & key"}, time.Minute)
			if err != nil {
				t.Fatal(err)
			}
			k, err := h.Try(ctx)
			if err != nil || !k.MayWrite || k.Left != "" || k.Conditional != (u.Tags == "" || u.Tags == "suffixed") {
				t.Errorf("%v %+v", err, k)
			}
			old, now := []byte("<p>old</p>"), []byte("<p>new</p>")
			for _, step := range []struct{ before, after []byte }{{nil, old}, {old, now}, {now, nil}} {
				if _, err := host.Put(ctx, h, "deep/er/a.html", step.before, step.after, false); err != nil {
					t.Fatalf("%q to %q: %v", step.before, step.after, err)
				}
			}
			file := filepath.Join(s.Dir, "b.html")
			if err := os.WriteFile(file, []byte("<p>theirs</p>"), 0o600); err != nil {
				t.Fatal(err)
			}
			_, err = host.Put(ctx, h, "b.html", old, now, false)
			var theirs *host.TheirsError
			if b, _ := os.ReadFile(file); !errors.As(err, &theirs) || string(b) != "<p>theirs</p>" {
				t.Errorf("over somebody's edit: %v; it is %q", err, b)
			}
		})
	}
}

var (
	summed = regexp.MustCompile("summary for `(\\w+)': of (\\d+) tests run: (\\d+) passed")
	failed = regexp.MustCompile(`(\w+)\.+ FAIL`)
)

// litmus runs the tests of a WebDAV server that Debian ships (litmus 0.13) and gives what it says.
func litmus(t *testing.T, url, user, pass string) (passed []string, wrong []string) {
	t.Helper()
	if _, err := exec.LookPath("litmus"); err != nil {
		t.Skip("litmus is not installed (make system)")
	}
	c := exec.Command("litmus", "-k", url, user, pass)
	c.Dir = t.TempDir()
	out, _ := c.CombinedOutput() // it fails where a test does
	for _, m := range summed.FindAllStringSubmatch(string(out), -1) {
		passed = append(passed, m[1]+" "+m[3]+" of "+m[2])
	}
	for _, m := range failed.FindAllStringSubmatch(strings.ReplaceAll(string(out), "\r", "\n"), -1) {
		wrong = append(wrong, m[1])
	}
	return passed, wrong
}

// The stand-in passes what Apache passes, but for shared locks (RFC 4918, 6.2), which the library that it stands on does
// not have and Mendry does not ask for; seven tests follow from that one.
func TestLitmusBesideApache(t *testing.T) {
	s := &Host{Dir: t.TempDir(), User: "keeper", Pass: "keeper"}
	srv := httptest.NewServer(s.DAV())
	t.Cleanup(srv.Close)
	passed, wrong := litmus(t, srv.URL+"/", "keeper", "keeper")
	t.Logf("stand-in: %q, wrong: %q", passed, wrong)
	if len(passed) != 5 || strings.Join(wrong, " ") != "lock_shared" {
		t.Errorf("%q, wrong: %q", passed, wrong)
	}
	apache := hosttest.Kinds[0].Start(t, hosttest.Folder(t))
	passed, wrong = litmus(t, apache.URL, apache.User, apache.Password)
	t.Logf("Apache: %q, wrong: %q", passed, wrong)
	if len(wrong) > 0 {
		t.Errorf("Apache: %q", wrong)
	}
}
