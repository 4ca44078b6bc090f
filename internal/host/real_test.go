package host_test

import (
	"bytes"
	"context"
	"errors"
	"fmt"
	"math/rand/v2"
	"net/http"
	"os"
	"path"
	"path/filepath"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/pkg/sftp"
	"golang.org/x/crypto/ssh"

	"mendry/internal/host"
	"mendry/internal/host/hosttest"
	"mendry/internal/tries"
)

// open reaches a server as a site on it would.
func open(t testing.TB, s *hosttest.Server) host.Host {
	t.Helper()
	h, err := host.Open(host.Network{Loopback: true, Folders: []string{s.Dir}, TLS: s.TLS}, reach(s), patience)
	if err != nil {
		t.Fatal(err)
	}
	return h
}

func reach(s *hosttest.Server) host.Reach {
	return host.Reach{Kind: s.Kind, URL: s.URL, User: s.User, Pass: s.Password, Key: s.Key, By: "Mendry of the test"}
}

// editor is somebody else's program, which knows no law: it writes the whole file, over WebDAV with a plain PUT, over
// SFTP as OpenSSH's own “put” does (opened with truncation, then written). It reports whether the server said that it
// is written.
func editor(t *testing.T, s *hosttest.Server) func(file string, b []byte) bool {
	t.Helper()
	if s.Kind == "webdav" {
		client := &http.Client{Timeout: patience}
		return func(file string, b []byte) bool {
			req, err := http.NewRequest(http.MethodPut, s.URL+file, bytes.NewReader(b))
			if err != nil {
				t.Fatal(err)
			}
			req.SetBasicAuth(s.User, s.Password)
			r, err := client.Do(req)
			if err != nil {
				return false
			}
			_ = r.Body.Close()
			return r.StatusCode < 300
		}
	}
	signer, err := ssh.ParsePrivateKey([]byte(s.Key))
	if err != nil {
		t.Fatal(err)
	}
	address, _, _ := strings.Cut(strings.TrimPrefix(s.URL, "sftp://"), "/")
	conn, err := ssh.Dial("tcp", address, &ssh.ClientConfig{
		User: s.User, Auth: []ssh.AuthMethod{ssh.PublicKeys(signer)}, HostKeyCallback: ssh.InsecureIgnoreHostKey(), //nolint:gosec // loopback
	})
	if err != nil {
		t.Fatal(err)
	}
	t.Cleanup(func() { _ = conn.Close() })
	c, err := sftp.NewClient(conn)
	if err != nil {
		t.Fatal(err)
	}
	return func(file string, b []byte) bool {
		f, err := c.OpenFile(s.Dir+"/"+file, os.O_WRONLY|os.O_CREATE|os.O_TRUNC)
		if err != nil {
			return false
		}
		_, err = f.Write(b)
		return f.Close() == nil && err == nil
	}
}

// patience is how long a server on this machine may take, which others use, too; what is asked for comes at once else.
const patience = time.Minute

// races is how often somebody edits at any moment of a write.
var races = tries.Number("MENDRY_RACES", 120, 1000)

// TestNoEditIsOverwrittenUnseen lets somebody edit a page at any moment of a write. An edit that the server took
// stands afterwards, whatever came of the write; one that the server refused, since the page was held, was seen by
// whoever made it. On servers without locks that ignore conditions a moment remains: it is said (host.Knows), and not
// raced here.
func TestNoEditIsOverwrittenUnseen(t *testing.T) {
	for _, k := range hosttest.Kinds {
		if k.Rest && !tries.Long() || k.Name == "a folder" || k.Name == "Apache mod_dav, Digest" ||
			k.Name == "nginx dav-ext without locks" || k.Name == "git over OpenSSH" || // TestNoPushIsLostAmongOthers
			k.Name == "ProFTPD, under TLS" {
			continue
		}
		if k.Name == "rclone" && !tries.Long() {
			continue // a minute
		}
		t.Run(k.Name, func(t *testing.T) {
			t.Parallel()
			s := k.Start(t, hosttest.Folder(t))
			edit, ctx := editor(t, s), context.Background()
			h := open(t, s)
			before := []byte("<p>A single is £6.90.</p>\n")
			after := []byte("<p>A single is £7.40, from December.</p>\n")
			s.Put("warm.html", string(before))
			if _, err := host.Put(ctx, h, "warm.html", before, after, false); err != nil {
				t.Fatal(err)
			}
			long := time.Minute // of one write, in which the edits fall: the shortest of some, since a busy machine makes one long
			for range 7 {
				s.Put("warm.html", string(before))
				start := time.Now()
				if _, err := host.Put(ctx, h, "warm.html", before, after, false); err != nil {
					t.Fatal(err)
				}
				long = min(long, time.Since(start))
			}
			refused, stood, first, slow := 0, 0, 0, 0
			for i := range races {
				file := fmt.Sprintf("p%d.html", i%50)
				theirs := []byte(fmt.Sprintf("<p>A single is £6.90, round %d.</p>\n", i))
				s.Put(file, string(before))
				var both sync.WaitGroup
				var took bool
				var lasted time.Duration
				both.Go(func() {
					span := 1.2
					if i%4 == 0 {
						span = 0.03 // before the page is held: that moment is short
					}
					time.Sleep(time.Duration(rand.Float64() * span * float64(long))) //nolint:gosec // any moment
					begun := time.Now()
					took = edit(file, theirs)
					lasted = time.Since(begun)
				})
				_, err := host.Put(ctx, h, file, before, after, false)
				both.Wait()
				now := s.File(file)
				switch {
				case took && now != string(theirs) && lasted > host.InFlight:
					slow++ // it was let in before the page was held or moved, and took longer than is waited: the limit that is named
				case took && now != string(theirs):
					t.Fatalf("race %d: the edit was taken and is gone: %q (the write: %v)", i, now, err)
				case !took && now != string(after):
					t.Fatalf("race %d: the edit was refused, and %q stands there: %v", i, now, err)
				case !took:
					refused++
				case err == nil:
					first++
				default:
					stood++
				}
			}
			t.Logf(
				"%d races: %d edits held off, %d written after ours, %d found by us, %d too slow for us",
				races,
				refused,
				first,
				stood,
				slow,
			)
			if stood == 0 || refused+first == 0 {
				t.Error("nothing raced")
			}
			if slow > races/100 {
				t.Errorf("%d edits were lost that took longer than %v: too many for a moment's limit", slow, host.InFlight)
			}
		})
	}
}

// A host that shows another key than at first is not spoken to; it is accepted by somebody who asked.
func TestAHostsKeyIsPinned(t *testing.T) {
	s := sshd(t)
	h, ctx := open(t, s), context.Background()
	k, err := h.Try(ctx)
	if err != nil || !strings.HasPrefix(k.Key, "ssh-ed25519 ") {
		t.Fatalf("%+v %v", k, err)
	}
	s.NewKey()
	r := reach(s)
	r.Pinned = k.Key
	h, err = host.Open(host.Network{Loopback: true}, r, patience)
	if err != nil {
		t.Fatal(err)
	}
	if _, err := h.List(ctx, nil); !host.Is(err, host.Certificate) ||
		!strings.Contains(err.Error(), host.Fingerprint(k.Key)) {
		t.Errorf("another key: %v", err)
	}
	if k, err := h.Try(ctx); !host.Is(err, host.Certificate) {
		t.Errorf("trying a host with another key: %+v %v", k, err)
	}
	r.Pinned = ""
	if h, err = host.Open(host.Network{Loopback: true}, r, patience); err != nil {
		t.Fatal(err)
	}
	if _, err := h.List(ctx, nil); err != nil {
		t.Errorf("the new key, accepted: %v", err)
	}
}

func sshd(t testing.TB) *hosttest.Server {
	t.Helper()
	for _, k := range hosttest.Kinds {
		if k.Name == "OpenSSH sftp-server" {
			return k.Start(t, hosttest.Folder(t))
		}
	}
	t.Fatal("no SSH server")
	return nil
}

// Modes and owners stay what they are; a link is neither followed nor replaced.
func TestAFileKeepsItsModeAndOwner(t *testing.T) {
	for _, k := range hosttest.Kinds {
		if k.Name != "OpenSSH sftp-server" && k.Name != "a folder" {
			continue
		}
		t.Run(k.Name, func(t *testing.T) {
			s := k.Start(t, hosttest.Folder(t))
			h, ctx := open(t, s), context.Background()
			s.Put("a.html", "old")
			if err := os.Chmod(s.Dir+"/a.html", 0o640); err != nil {
				t.Fatal(err)
			}
			was, err := os.Stat(s.Dir + "/a.html")
			if err != nil {
				t.Fatal(err)
			}
			if _, err := host.Put(ctx, h, "a.html", []byte("old"), []byte("new"), false); err != nil {
				t.Fatal(err)
			}
			now, err := os.Stat(s.Dir + "/a.html")
			if err != nil || now.Mode() != was.Mode() || hosttest.OwnerOf(now) != hosttest.OwnerOf(was) {
				t.Errorf(
					"%v %v, before %v %v (%v)",
					now.Mode(),
					hosttest.OwnerOf(now),
					was.Mode(),
					hosttest.OwnerOf(was),
					err,
				)
			}
			// A new file is for those who may read its like.
			for name, mode := range map[string]os.FileMode{"pier.png": 0o604, "a.html": 0o640} {
				s.Put(name, "new")
				if err := os.Chmod(s.Dir+"/"+name, mode); err != nil {
					t.Fatal(err)
				}
				fresh := "new" + path.Ext(name)
				if _, err := host.Put(ctx, h, fresh, nil, []byte("made"), false); err != nil {
					t.Fatal(err)
				}
				if made, err := os.Stat(s.Dir + "/" + fresh); err != nil || made.Mode().Perm() != mode {
					t.Errorf("%s is for %v, beside %v (%v)", fresh, made.Mode(), mode, err)
				}
				for _, f := range []string{fresh, "pier.png"} {
					_ = os.Remove(s.Dir + "/" + f)
				}
			}
			if err := os.Symlink("a.html", s.Dir+"/b.html"); err != nil {
				t.Fatal(err)
			}
			if _, err := host.Put(ctx, h, "b.html", []byte("new"), []byte("newer"), false); !host.Is(err, host.Odd) {
				t.Errorf("a link: %v", err)
			}
			l, err := h.List(ctx, nil)
			if err != nil || len(l.Files) != 2 || l.Files[1].Odd == "" {
				t.Errorf("%+v %v", l, err)
			}
		})
	}
}

// Apache answers 405 to the listing of a folder that has an index page, unless it is told otherwise.
func TestAnIndexPageInTheWayIsExplained(t *testing.T) {
	s := hosttest.ApacheWithIndex(t)
	s.Put("index.html", "<p>hello</p>")
	if _, err := open(t, s).List(context.Background(), nil); !host.Is(err, host.Odd) ||
		!strings.Contains(err.Error(), "DirectoryIndex disabled") {
		t.Errorf("%v", err)
	}
}

// A disk that is full to the last block takes the name of a file and nothing more, also of the lock of Mendry's own: it is
// said so, soon, nothing is left, and with room the page is written.
func TestADiskThatIsFullToTheLastBlockIsSaid(t *testing.T) {
	for _, k := range hosttest.Kinds {
		if k.Name == "git over OpenSSH" { // which holds nothing
			continue
		}
		t.Run(k.Name, func(t *testing.T) {
			t.Parallel()
			dir := hosttest.Small(t, "512")
			s := k.Start(t, dir)
			file := filepath.Join(dir, "fares.html")
			was, now := []byte("<p>A single is £6.90.</p>"), bytes.Repeat([]byte("<p>A single is £7.40.</p>"), 1000)
			if err := errors.Join(os.WriteFile(file, was, 0o666), os.Chmod(file, 0o666)); err != nil {
				t.Fatal(err)
			}
			h := open(t, s)
			free := hosttest.Fill(t, dir, 0)
			began := time.Now()
			_, err := host.Put(context.Background(), h, "fares.html", was, now, false)
			if err == nil || !host.Is(err, host.Full) && !strings.Contains(err.Error(), "may be full") || time.Since(began) > patience {
				t.Errorf("%v after %s", err, time.Since(began))
			}
			names, _ := filepath.Glob(filepath.Join(dir, ".mendry*"))
			if stands, err := os.ReadFile(file); err != nil || !bytes.Equal(stands, was) || len(names) > 0 {
				t.Errorf("then there stand %q, %v, and %q lie beside", stands, err, names)
			}
			free()
			if _, err := host.Put(context.Background(), h, "fares.html", was, now, true); err != nil {
				t.Errorf("with room: %v", err)
			}
			if stands, err := os.ReadFile(file); err != nil || !bytes.Equal(stands, now) {
				t.Errorf("with room there stand %d bytes, %v", len(stands), err)
			}
		})
	}
}

// A server may say that it has made a second name and make none: a new file is there all the same, and an old one replaced.
func TestASecondNameIsBelievedWhenItIsSeen(t *testing.T) {
	for _, k := range hosttest.Kinds {
		if k.Name != "rclone, SFTP" {
			continue
		}
		s := k.Start(t, hosttest.Folder(t))
		h, ctx := open(t, s), context.Background()
		s.Put("a.html", "old")
		known, err := h.Try(ctx)
		if err != nil || !known.MayWrite || known.Beside {
			t.Errorf("%+v %v", known, err)
		}
		for _, step := range []struct {
			file, before string
		}{{"new.html", ""}, {"a.html", "old"}, {"new.html", "after"}} {
			var before []byte
			if step.before != "" {
				before = []byte(step.before)
			}
			if _, err := host.Put(ctx, h, step.file, before, []byte("after"), false); err != nil {
				t.Errorf("%s: %v", step.file, err)
			}
			for until := time.Now().Add(patience); s.File(step.file) != "after"; time.Sleep(10 * time.Millisecond) { // it writes back later
				if time.Now().After(until) {
					t.Fatalf("%s: there stands %q", step.file, s.File(step.file))
				}
			}
		}
		return
	}
	t.Fatal("there is no such server")
}

// A file with two names is written through: the other name would go on with the old one.
func TestAFileOfTwoNamesStaysOne(t *testing.T) {
	s := hosttest.Kinds[len(hosttest.Kinds)-1].Start(t, hosttest.Folder(t)) // a folder, the one kind that tells
	h := open(t, s)
	s.Put("a.html", "old")
	if err := os.Link(s.Dir+"/a.html", s.Dir+"/b.html"); err != nil {
		t.Fatal(err)
	}
	if _, err := host.Put(context.Background(), h, "a.html", []byte("old"), []byte("new"), false); err != nil || s.File("b.html") != "new" {
		t.Errorf("%v; the other name has %q", err, s.File("b.html"))
	}
}
