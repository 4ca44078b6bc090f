package host_test

import (
	"bytes"
	"context"
	"fmt"
	"sync"
	"testing"

	"mendry/internal/host"
	"mendry/internal/host/hosttest"
	"mendry/internal/tries"
)

// TestSeveralFilesAreWrittenAtATime writes to every WebDAV server as releases do, four files at a time: each held
// alone, and in a folder that is held. Apache keeps its locks in a file (mod_dav_fs, DavLockDB) in which it loses some
// that are set at once, 1 in 200 as measured while they were, and which breaks where files come and go at once under a
// lock.
func TestSeveralFilesAreWrittenAtATime(t *testing.T) {
	for _, k := range hosttest.Kinds {
		if k.Rest && !tries.Long() {
			continue
		}
		s := k.Start(t, hosttest.Folder(t))
		if s.Kind != "webdav" {
			continue
		}
		for _, together := range []bool{false, true} { // two sites on one server, at once
			t.Run(fmt.Sprintf("%s, folder held: %v", k.Name, together), func(t *testing.T) {
				t.Parallel()
				writesFour(t, k.Name, s, fmt.Sprintf("%v", together), together)
			})
		}
	}
}

// keepsFolders are those on which several may write at once under the lock of a folder. One made with x/net/webdav
// lends it to one request at a time (rclone); lighttpd refuses it now and then: there files are held one by one.
var keepsFolders = map[string]bool{
	"Apache mod_dav, stock": true, "Apache mod_dav, Digest": true, "nginx dav-ext": true,
}

const rounds = 50

func writesFour(t *testing.T, kind string, s *hosttest.Server, folder string, together bool) {
	h, ctx := open(t, s), context.Background()
	s.Put(folder+"/there.html", "there")
	held, left := 0, 0
	for round := range rounds {
		before, after := []byte("<p>A single is £6.90.</p>"), fmt.Appendf(nil, "<p>A single is £7.%02d.</p>", round)
		for n := range 3 {
			s.Put(fmt.Sprintf("%s/%d.html", folder, n), string(before))
		}
		free := func() {}
		if together {
			free = h.(host.FolderHolder).HoldFolder(ctx, []string{folder + "/0.html", folder + "/1.html"})
		}
		now := h.(host.FolderHolder).Holds(folder + "/0.html")
		if now {
			held++
		}
		var wait sync.WaitGroup
		for n := range 4 { // the last one is new
			file, was := fmt.Sprintf("%s/%d.html", folder, n), before
			if n == 3 {
				file, was = fmt.Sprintf("%s/new %d/3.html", folder, round), nil
			}
			wait.Go(func() {
				got, err := host.Put(ctx, h, file, was, after, false)
				if err != nil || !bytes.Equal(got.Bytes, after) {
					t.Errorf("round %d: %s: %v %v", round, file, got, err)
					return
				}
				if n == 2 || n == 3 {
					if _, err := host.Put(ctx, h, file, after, nil, false); err != nil {
						t.Errorf("round %d: take away %s: %v", round, file, err)
					}
				}
			})
		}
		wait.Wait()
		if now && round%10 == 0 { // somebody who does not know of the lock
			if !h.(host.FolderHolder).Holds(folder + "/0.html") {
				left++
				continue
			}
			for _, name := range []string{"/0.html", "/there.html"} {
				if editor(t, s)(folder+name, []byte("theirs")) {
					t.Error("round", round, "somebody wrote", name, "into a folder that is held")
				}
			}
		}
		free()
	}
	t.Logf("%d folders held, %d let go", held, left)
	if together && keepsFolders[kind] && (held < rounds || left > 0) {
		t.Errorf("%d folders of %d were held, and %d let go again", held, rounds, left)
	}
}

// TestAFolderIsNotHeldAgainstOthers looks at what a lock on a folder meets: a file in it that somebody holds already,
// and the folder's own lock, left by a Mendry that was killed. RFC 4918, 6.1 and 7.4: locks on a folder and on a file
// in it conflict.
func TestAFolderIsNotHeldAgainstOthers(t *testing.T) {
	ctx := context.Background()
	before, after := []byte("<p>A single is £6.90.</p>"), []byte("<p>A single is £7.40.</p>")
	for _, k := range hosttest.Kinds {
		if !keepsFolders[k.Name] {
			continue
		}
		t.Run(k.Name, func(t *testing.T) {
			s := k.Start(t, hosttest.Folder(t))
			s.Put("a.html", string(before))
			s.Put("b.html", string(before))
			theirs := reach(s)
			theirs.By = "Somebody else"
			them, err := host.Open(host.Network{Loopback: true}, theirs, patience)
			if err != nil {
				t.Fatal(err)
			}
			free, held, err := them.Hold(ctx, "b.html")
			if err != nil || !held {
				t.Fatal(held, err)
			}
			ours := open(t, s).(host.FolderHolder)
			letGo := ours.HoldFolder(ctx, []string{"a.html", "b.html"})
			if ours.Holds("a.html") {
				t.Error("the folder is held, and a file in it by somebody else")
			}
			if _, err := host.Put(ctx, ours, "a.html", before, after, false); err != nil {
				t.Error("a file beside one that somebody holds:", err)
			}
			letGo()
			free()
			freeAll := them.(host.FolderHolder).HoldFolder(ctx, []string{"a.html", "b.html"})
			if knows, err := ours.Try(ctx); k.Name != "nginx dav-ext" && !host.Is(err, host.Locked) {
				t.Errorf("a host whose folder somebody holds is taken for one that may not be written to: %+v, %v", knows, err)
			}
			freeAll()
			if ours.HoldFolder(ctx, []string{"a.html", "b.html"}); !ours.Holds("a.html") { // never let go: we are killed
				t.Fatal("the folder is not held")
			}
			if k.Name == "nginx dav-ext" {
				return // it does not tell whose a lock is: waited out
			}
			if _, _, err := them.Hold(ctx, "a.html"); !host.Is(err, host.Locked) {
				t.Error("somebody else holds a file in a folder that we hold:", err)
			}
			again := open(t, s).(host.FolderHolder)
			defer again.HoldFolder(ctx, []string{"a.html", "b.html"})()
			if !again.Holds("a.html") {
				t.Error("the lock that we left ourselves keeps us off")
			}
			if _, err := host.Put(ctx, again, "a.html", after, before, false); err != nil {
				t.Error(err)
			}
		})
	}
}
