package host_test

import (
	"context"
	"errors"
	"fmt"
	"math/rand/v2"
	"net/http"
	"net/http/cgi"
	"net/http/httptest"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"sync"
	"testing"

	"mendry/internal/host"
	"mendry/internal/host/hosttest"
	"mendry/internal/tries"
)

// What comes of Mendry's pushes is held against git itself: its log, its objects (git fsck) and its own clone.

// repositories are one repository over SSH and over HTTP, both served by git's own programs.
func repositories(t *testing.T, on func(t *testing.T, s *hosttest.Server, h host.Host)) {
	t.Run("ssh", func(t *testing.T) {
		s := gitServer(t)
		on(t, s, openOn(t, s))
	})
	t.Run("http", func(t *testing.T) {
		s := gitServer(t)
		root := filepath.Dir(strings.TrimSuffix(repoOf(s), "/"))
		backend := &cgi.Handler{
			Path: "/usr/lib/git-core/git-http-backend",
			Env:  []string{"GIT_PROJECT_ROOT=" + root, "GIT_HTTP_EXPORT_ALL=yes", "REMOTE_USER=keeper", "GIT_CONFIG_COUNT=1", "GIT_CONFIG_KEY_0=safe.directory", "GIT_CONFIG_VALUE_0=*"},
		}
		srv := httptest.NewServer(http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
			if name, pass, _ := r.BasicAuth(); name != "keeper" || pass != "lock & key" {
				w.Header().Set("WWW-Authenticate", "Basic")
				w.WriteHeader(http.StatusUnauthorized)
				return
			}
			backend.ServeHTTP(w, r)
		}))
		t.Cleanup(srv.Close)
		s.URL, s.User, s.Password, s.Key = srv.URL+"/.site.git#main", "keeper", "lock & key", ""
		on(t, s, openOn(t, s))
	})
}

func gitServer(t *testing.T) *hosttest.Server {
	t.Helper()
	for _, k := range hosttest.Kinds {
		if k.Name == "git over OpenSSH" {
			return k.Start(t, hosttest.Folder(t))
		}
	}
	t.Fatal("there is no such server")
	return nil
}

func repoOf(s *hosttest.Server) string { return filepath.Join(s.Dir, ".site.git") }

// hook lets git run a script at a moment of each push (githooks).
func hook(t *testing.T, s *hosttest.Server, at, script string) {
	t.Helper()
	if err := os.WriteFile(filepath.Join(repoOf(s), "hooks", at), []byte("#!/bin/sh\n"+script), 0o755); err != nil { //nolint:gosec // a program
		t.Fatal(err)
	}
}

func openOn(t *testing.T, s *hosttest.Server) host.Host {
	t.Helper()
	h, err := host.Open(host.Network{Loopback: true}, host.Reach{Kind: s.Kind, URL: s.URL, User: s.User, Pass: s.Password, Key: s.Key}, patience)
	if err != nil {
		t.Fatal(err)
	}
	return h
}

func fsck(t *testing.T, s *hosttest.Server) {
	t.Helper()
	if out, err := exec.Command("git", "-C", repoOf(s), "fsck", "--strict", "--full").CombinedOutput(); err != nil || strings.Contains(string(out), "error") {
		t.Errorf("git fsck: %v\n%s", err, out)
	}
}

func TestAReleaseIsOneCommit(t *testing.T) {
	repositories(t, func(t *testing.T, s *hosttest.Server, h host.Host) {
		ctx := context.Background()
		for _, f := range []string{"index.md", "articles/beans.md", "articles-old/x.md", "articles.txt", "img/übersicht #1.svg"} {
			s.Put(f, "old "+f)
		}
		l, err := h.List(ctx, nil)
		if err != nil || len(l.Files) != 5 {
			t.Fatalf("%v %+v", err, l)
		}
		edits := []host.Edit{
			{File: "index.md", Before: []byte("old index.md"), After: []byte("new index")},
			{File: "articles/new/peas.md", After: []byte("# Peas")},
			{File: "articles/beans.md", Before: []byte("old articles/beans.md")},
			{File: "img/übersicht #1.svg", Before: []byte("old img/übersicht #1.svg"), After: []byte("<svg/>")},
		}
		words := "Request 212: Peas\n\nThe title becomes “Peas”\n"
		if err := h.(host.Committer).Commit(ctx, "Ines Oakley", words, edits); err != nil {
			t.Fatal(err)
		}
		for f, want := range map[string]string{
			"index.md": "new index", "articles/new/peas.md": "# Peas", "articles/beans.md": "(none)", "img/übersicht #1.svg": "<svg/>", "articles-old/x.md": "old articles-old/x.md", "articles.txt": "old articles.txt",
		} {
			if got := s.File(f); got != want {
				t.Errorf("%s is %q, want %q", f, got, want)
			}
			c, err := h.Read(ctx, f)
			if (want == "(none)") != host.Is(err, host.Gone) || want != "(none)" && string(c.Bytes) != want {
				t.Errorf("%s is read as %q, %v", f, c.Bytes, err)
			}
		}
		if log := s.Log(); !strings.HasPrefix(log, "Ines Oakley: "+words) {
			t.Errorf("the log says\n%s", log)
		}
		was := s.Log()
		if err := h.(host.Committer).Commit(ctx, "Ines Oakley", words, edits); err != nil || s.Log() != was {
			t.Errorf("done again: %v; it is a commit of its own", err)
		}
		fsck(t, s)
	})
}

func TestOthersPushesAreBuiltOnOrSaid(t *testing.T) {
	repositories(t, func(t *testing.T, s *hosttest.Server, h host.Host) {
		ctx := context.Background()
		s.Put("a.md", "a")
		s.Put("b.md", "b")
		if _, err := h.Read(ctx, "a.md"); err != nil {
			t.Fatal(err)
		}
		s.Put("b.md", "theirs") // the commit in memory is old now
		edit := []host.Edit{{File: "a.md", Before: []byte("a"), After: []byte("A")}}
		if err := h.(host.Committer).Commit(ctx, "Ines", "One", edit); err != nil || s.File("a.md") != "A" || s.File("b.md") != "theirs" {
			t.Errorf("%v: %s %s", err, s.File("a.md"), s.File("b.md"))
		}
		s.Put("a.md", "theirs too")
		both := []host.Edit{{File: "b.md", Before: []byte("theirs"), After: []byte("B")}, {File: "a.md", Before: []byte("A"), After: []byte("AA")}}
		err := h.(host.Committer).Commit(ctx, "Ines", "Two", both)
		var theirs *host.TheirsError
		if !errors.As(err, &theirs) || theirs.File != "a.md" || string(theirs.Found.Bytes) != "theirs too" || s.File("b.md") != "theirs" {
			t.Errorf("%v: %s %s", err, s.File("a.md"), s.File("b.md"))
		}
		hook(t, s, "pre-receive", "echo 'This branch is protected.' >&2\nexit 1\n")
		if err := h.(host.Committer).Commit(ctx, "Ines", "Three", both[:1]); !host.Is(err, host.Forbidden) || s.File("b.md") != "theirs" {
			t.Errorf("declined by a hook: %v", err)
		}
		fsck(t, s)
	})
}

// Commits of Mendry's, with somebody else pushing at any moment: both write the same file and another one.
func TestNoPushIsLostAmongOthers(t *testing.T) {
	s := gitServer(t)
	h, ctx := openOn(t, s), context.Background()
	s.Put("a.md", "0")
	s.Put("log.md", "")
	rounds := tries.Number("MENDRY_PUSHES", 8, 100)
	var wg sync.WaitGroup
	wg.Go(func() {
		for i := range rounds {
			s.Put("log.md", s.File("log.md")+fmt.Sprintf("%d\n", i))
		}
	})
	for i := range rounds {
		edit := []host.Edit{{File: "a.md", Before: fmt.Append(nil, i), After: fmt.Append(nil, i+1)}}
		if err := h.(host.Committer).Commit(ctx, "Ines", fmt.Sprint(i+1), edit); err != nil {
			t.Fatal(err)
		}
	}
	wg.Wait()
	if lines := strings.Count(s.File("log.md"), "\n"); s.File("a.md") != fmt.Sprint(rounds) || lines != rounds {
		t.Errorf("a.md is %s of %d, and %d of somebody else’s %d lines are left", s.File("a.md"), rounds, lines, rounds)
	}
	fsck(t, s)
}

// git stops reading such a push in the middle, as it does where its disk is full.
func TestAPushThatIsTooLargeIsSaid(t *testing.T) {
	repositories(t, func(t *testing.T, s *hosttest.Server, h host.Host) {
		if out, err := exec.Command("git", "-C", repoOf(s), "config", "receive.maxInputSize", "100k").CombinedOutput(); err != nil {
			t.Fatalf("%v %s", err, out)
		}
		ctx := context.Background()
		s.Put("index.md", "so far")
		noise := make([]byte, 8<<20) // more than an SSH channel holds, and nothing packs it
		_, _ = rand.NewChaCha8([32]byte{}).Read(noise)
		err := h.Write(ctx, "film.mp4", noise, nil)
		if !host.Is(err, host.Full) || !strings.Contains(err.Error(), "no push as large as this one") {
			t.Errorf("%v", err)
		}
		if _, err := h.Read(ctx, "film.mp4"); !host.Is(err, host.Gone) {
			t.Errorf("it is there: %v", err)
		}
	})
}

func TestTheHostsOwnWordsAreSaidWhereItRefusesAPush(t *testing.T) {
	repositories(t, func(t *testing.T, s *hosttest.Server, h host.Host) {
		s.Put("index.md", "so far")
		hook(t, s, "pre-receive", "echo 'Nothing goes out before Monday.' >&2\nexit 1\n")
		err := h.Write(context.Background(), "a.md", []byte("a"), nil)
		if !host.Is(err, host.Forbidden) || !strings.Contains(err.Error(), "It says: “Nothing goes out before Monday”.") {
			t.Errorf("%v", err)
		}
	})
}

// Many a host builds its pages in this hook, which git runs after it has reported that the push was taken.
func TestAHookThatBuildsIsWaitedFor(t *testing.T) {
	repositories(t, func(t *testing.T, s *hosttest.Server, h host.Host) {
		built := filepath.Join(s.Dir, "built")
		s.Put("index.md", "so far")
		hook(t, s, "post-receive", fmt.Sprintf("set -e\nseq 100000\nsleep 0.3\necho done\ntouch '%s'\n", built))
		if err := h.Write(context.Background(), "a.md", []byte("a"), nil); err != nil {
			t.Fatal(err)
		}
		if _, err := os.Stat(built); err != nil {
			t.Errorf("the hook did not come to its end: %v", err)
		}
	})
}

func TestWhatIsWrongWithARepositoryIsSaid(t *testing.T) {
	ctx := context.Background()
	s := gitServer(t)
	s.Put("a.md", "a")
	for url, want := range map[string]string{
		strings.Replace(s.URL, "#main", "#live", 1):                 "has no branch live. It has: main",
		strings.Replace(s.URL, ".site.git", ".none.git", 1):         "does not give the repository",
		"ftp://git.example/site.git":                                "no address of a repository",
		"ssh://git.example":                                         "no address of a repository",
		strings.Replace(s.URL, "127.0.0.1", "127.0.0.1.invalid", 1): "no host with the name",
	} {
		h, err := host.Open(host.Network{Loopback: true}, host.Reach{Kind: "git", URL: url, User: s.User, Key: s.Key}, patience)
		if err == nil {
			_, err = h.List(ctx, nil)
		}
		if err == nil || !strings.Contains(err.Error(), want) {
			t.Errorf("%s: %v, want …%s…", url, err, want)
		}
	}
	folder, err := host.Open(host.Network{Loopback: true}, host.Reach{Kind: "git", URL: s.URL + ":site/", User: s.User, Key: s.Key}, patience)
	if err != nil {
		t.Fatal(err)
	}
	s.Put("site/index.md", "in a folder")
	if c, err := folder.Read(ctx, "index.md"); err != nil || string(c.Bytes) != "in a folder" {
		t.Errorf("%v %q", err, c.Bytes)
	}
	if l, err := folder.List(ctx, nil); err != nil || len(l.Files) != 1 || l.Files[0].Path != "index.md" {
		t.Errorf("%v %+v", err, l)
	}
	private, err := host.Open(host.Network{}, host.Reach{Kind: "git", URL: s.URL, User: s.User, Key: s.Key}, patience)
	if err != nil {
		t.Fatal(err)
	}
	if _, err := private.List(ctx, nil); !host.Is(err, host.Private) {
		t.Errorf("loopback is reached: %v", err)
	}
}
