package standin

import (
	"context"
	"net"
	"os"
	"path/filepath"
	"testing"
	"time"

	"mendry/internal/host"
)

// served is a stand-in over SSH, and a host that reaches it as Mendry does.
func served(t *testing.T, s *Shell, kind, path string) host.Host {
	t.Helper()
	l, err := net.Listen("tcp", "127.0.0.1:0")
	if err != nil {
		t.Fatal(err)
	}
	ctx, cancel := context.WithCancel(context.Background())
	done := make(chan error, 1)
	go func() { done <- s.Serve(ctx, l) }()
	t.Cleanup(func() {
		cancel()
		if err := <-done; err != nil {
			t.Error(err)
		}
	})
	scheme := map[string]string{"sftp": "sftp://", "git": "ssh://"}[kind]
	h, err := host.Open(host.Network{Loopback: true}, host.Reach{Kind: kind, URL: scheme + l.Addr().String() + path, User: "keeper", Pass: "keeper"}, time.Minute)
	if err != nil {
		t.Fatal(err)
	}
	return h
}

func TestTheFolderOverSSH(t *testing.T) {
	ctx := context.Background()
	dir := t.TempDir()
	outside := filepath.Join(filepath.Dir(dir), "outside.html")
	for _, f := range []string{filepath.Join(dir, "a.html"), outside} {
		if err := os.WriteFile(f, []byte("<p>old</p>"), 0o640); err != nil {
			t.Fatal(err)
		}
	}
	h := served(t, &Shell{Dir: dir, User: "keeper", Pass: "keeper", KeyFile: filepath.Join(t.TempDir(), "key")}, "sftp", "/")
	if k, err := h.Try(ctx); err != nil || !k.MayWrite || !k.Whole || k.Left != "" {
		t.Fatalf("%v %+v", err, k)
	}
	if _, err := host.Put(ctx, h, "a.html", []byte("<p>old</p>"), []byte("<p>new</p>"), false); err != nil {
		t.Fatal(err)
	}
	i, err := os.Stat(filepath.Join(dir, "a.html"))
	if b, _ := os.ReadFile(filepath.Join(dir, "a.html")); err != nil || string(b) != "<p>new</p>" || i.Mode().Perm() != 0o640 {
		t.Errorf("%q %v %v", b, i.Mode(), err)
	}
	if _, err := host.Put(ctx, h, "deep/er/b.html", nil, []byte("b"), false); err != nil {
		t.Error(err)
	}
	if l, err := h.List(ctx, nil); err != nil || len(l.Files) != 2 {
		t.Errorf("%v %+v", err, l)
	}
	if c, err := h.Read(ctx, "../outside.html"); err == nil {
		t.Errorf("what is outside is read: %q", c.Bytes)
	}
}

func TestAPushIsBuilt(t *testing.T) {
	ctx := context.Background()
	top := t.TempDir()
	s := &Shell{Dir: filepath.Join(top, "site"), User: "keeper", Pass: "keeper", KeyFile: filepath.Join(top, "key"), Repository: filepath.Join(top, "site.git")}
	if err := os.MkdirAll(s.Dir, 0o700); err != nil {
		t.Fatal(err)
	}
	if err := os.WriteFile(filepath.Join(s.Dir, "beans.md"), []byte("# Beans"), 0o600); err != nil {
		t.Fatal(err)
	}
	if err := s.Begin("The pages"); err != nil {
		t.Fatal(err)
	}
	h := served(t, s, "git", "/site.git#main")
	edits := []host.Edit{{File: "beans.md", Before: []byte("# Beans"), After: []byte("# Broad beans")}, {File: "peas.md", After: []byte("# Peas")}}
	if err := h.(host.Committer).Commit(ctx, "Ines", "Request 1", edits); err != nil {
		t.Fatal(err)
	}
	for end := time.Now().Add(time.Minute); ; time.Sleep(20 * time.Millisecond) { // it is built after the push is answered
		a, _ := os.ReadFile(filepath.Join(s.Dir, "beans.md"))
		b, _ := os.ReadFile(filepath.Join(s.Dir, "peas.md"))
		if string(a) == "# Broad beans" && string(b) == "# Peas" {
			break
		}
		if time.Now().After(end) {
			t.Fatalf("built: %q %q", a, b)
		}
	}
	if k, err := h.Try(ctx); err != nil || !k.MayWrite || k.Key == "" {
		t.Errorf("%v %+v", err, k)
	}
}
