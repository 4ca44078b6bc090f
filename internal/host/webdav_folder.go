package host

import (
	"context"
	"net/http"
	"strings"
	"sync"
	"time"
)

// FolderHolder is a host that can keep others off a folder and all that is in it, for a release of many files: one
// that holds each of them alone asks twice for every file, one after the other.
type FolderHolder interface {
	Host
	// HoldFolder keeps others off the folder in which some files lie that are there, until it is let go. Where that
	// cannot be had, because somebody holds a file in it or the host does not hold folders, nothing is held.
	HoldFolder(ctx context.Context, files []string) (free func())
	// Holds reports whether a file lies in the folder that is held.
	Holds(file string) bool
}

// heldLongest is how long a folder is held at most, in seconds; a second is asked for each file beside heldFor. It is
// not asked for again: Apache makes the folder's lock last longer then, and not those of the files in it. Where it
// ends too early files are held one by one.
const heldLongest = 600

// heldFolder is a folder that is held, with a slash at its end; the site's own is empty.
type heldFolder struct {
	path, token, cond string
	once              sync.Once
}

// HoldFolder implements FolderHolder with a lock of infinite depth (RFC 4918, 7.4 and 9.10.3), where the host says
// then that a file is under it: SabreDAV takes one on its uppermost folder and forgets what is in it.
func (w *WebDAV) HoldFolder(ctx context.Context, files []string) (free func()) {
	none := func() {}
	if len(files) == 0 {
		return none
	}
	folder := folderOf(files)
	w.mu.Lock()
	no, left := w.plain || w.folder != nil, w.left[folder]
	w.mu.Unlock()
	if no {
		return none
	}
	if left != "" {
		w.free(ctx, folder, left)
	}
	lasts := min(heldFor+len(files), heldLongest)
	token, status, err := w.lock(ctx, folder, "infinity", lasts)
	if status == http.StatusLocked { // by ourselves, when we were killed
		if d, errSeen := w.discover(ctx, folder); errSeen == nil && w.freeOwn(ctx, folder, d) {
			token, _, err = w.lock(ctx, folder, "infinity", lasts)
		}
	}
	if err != nil || token == "" {
		return none
	}
	if d, err := w.discover(ctx, files[0]); err != nil || !d.has(token) {
		w.free(ctx, folder, token)
		return none
	}
	select {
	case <-time.After(InFlight):
	case <-ctx.Done():
	}
	h := &heldFolder{path: folder, token: token, cond: "<" + w.url(folder) + "> (<" + token + ">)"}
	w.mu.Lock()
	w.folder = h
	w.mu.Unlock()
	return func() { w.letGo(ctx, h) }
}

// folderOf is the innermost folder that some files lie in, with a slash at its end; the site's own is empty.
func folderOf(files []string) string {
	folder := files[0]
	for _, f := range files {
		for folder != "" && !strings.HasPrefix(f, folder) || folder == files[0] {
			up := strings.LastIndexByte(strings.TrimSuffix(folder, "/"), '/')
			folder = folder[:up+1]
		}
	}
	return folder
}

// Holds implements FolderHolder.
func (w *WebDAV) Holds(file string) bool {
	w.mu.Lock()
	defer w.mu.Unlock()
	return w.folder != nil && strings.HasPrefix(file, w.folder.path)
}

// letGo lets a folder go, once. Until the host has done so requests tell of its lock: without it they would be
// refused.
func (w *WebDAV) letGo(ctx context.Context, h *heldFolder) {
	h.once.Do(func() {
		w.free(ctx, h.path, h.token)
		w.mu.Lock()
		w.folder = nil
		w.mu.Unlock()
	})
}

// token is what a request on a file says of the lock that it is under (RFC 4918, 10.4): its own, or its folder's,
// which is named, since a file that is not there yet has none.
func (w *WebDAV) token(file string) string {
	w.mu.Lock()
	defer w.mu.Unlock()
	if t := w.locks[file]; t != "" {
		return "(<" + t + ">)"
	}
	if w.folder != nil && strings.HasPrefix(file, w.folder.path) {
		return w.folder.cond
	}
	return ""
}

// held is the head of a request that needs nothing but the lock that its file is under.
func (w *WebDAV) held(file string) map[string]string {
	if t := w.token(file); t != "" {
		return map[string]string{"If": t}
	}
	return nil
}

// refusesLock tells answers to a request whose lock the host does not know, or knows otherwise than by its folder:
// 412, 423 (RFC 4918, 10.4 and 11.3), and 400 where the form of the head is too much for it.
func refusesLock(status int) bool {
	return status == http.StatusPreconditionFailed || status == http.StatusLocked || status == http.StatusBadRequest
}

// leave gives up a folder's lock under which a request was refused, and reports whether it was under one: files are
// held one by one from then on.
func (w *WebDAV) leave(ctx context.Context, cond string) bool {
	if !strings.HasPrefix(cond, "<") {
		return false
	}
	w.mu.Lock()
	h := w.folder
	w.mu.Unlock()
	if h != nil && h.cond == cond {
		w.letGo(ctx, h)
	}
	return true
}
