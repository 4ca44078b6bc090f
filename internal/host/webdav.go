package host

import (
	"bytes"
	"context"
	"errors"
	"fmt"
	"io"
	"net/http"
	"net/url"
	"path"
	"strings"
	"sync"
	"time"
)

// WebDAV is a host that is spoken to over WebDAV (RFC 4918).
type WebDAV struct {
	root *url.URL
	by   string
	http *http.Client

	mu     sync.Mutex
	locks  map[string]string // tokens of files that are held, by path
	left   map[string]string // of files and folders that could not be let go
	plain  bool              // the host knows no locks, or honours none
	folder *heldFolder       // nil where none is held

	locking *sync.Mutex // held by whoever changes what the host notes of its locks
}

// lockings are one for each server, which may have several sites. Apache notes all its locks in one file (mod_dav_fs,
// DavLockDB) and does not keep its own threads apart there: of locks set at once some are lost, and of files that come
// and go at once under a lock the whole file breaks; every write is answered by 500 then, until somebody takes it
// away.
var lockings sync.Map

// NewWebDAV reaches the folder of a site.
func NewWebDAV(n Network, r Reach, timeout time.Duration) (*WebDAV, error) {
	u, err := Address(r.URL)
	if err != nil {
		return nil, err
	}
	c := n.Client(timeout, 0)
	c.Transport = newSigning(r.User, r.Pass, c.Transport)
	by := r.By
	if by == "" {
		by = "Mendry"
	}
	one, _ := lockings.LoadOrStore(u.Host, &sync.Mutex{})
	return &WebDAV{root: u, by: by, http: c, locks: map[string]string{}, left: map[string]string{}, plain: r.Unheld, locking: one.(*sync.Mutex)}, nil
}

// url is the address of a file or, with a slash at its end, of a folder (RFC 3986, 3.3).
func (w *WebDAV) url(file string) string {
	segments := strings.Split(strings.TrimPrefix(file, "/"), "/")
	for i, s := range segments {
		segments[i] = url.PathEscape(s)
	}
	return w.root.String() + strings.Join(segments, "/")
}

func (w *WebDAV) ask(
	ctx context.Context,
	method, file string,
	body []byte,
	head map[string]string,
) (*http.Response, error) {
	req, err := http.NewRequestWithContext(ctx, method, w.url(file), bytes.NewReader(body))
	if err != nil {
		return nil, &Problem{Kind: Odd, Say: fmt.Sprintf("“%s” is no name of a file.", file)}
	}
	req.Header.Set("User-Agent", "Mendry")
	for k, v := range head {
		req.Header.Set(k, v)
	}
	r, err := w.http.Do(req)
	if err != nil {
		return nil, fromError(err, w.root.Host)
	}
	return r, nil
}

// answer asks for something whose answer has no body that matters.
func (w *WebDAV) answer(
	ctx context.Context,
	method, file string,
	body []byte,
	head map[string]string,
) (int, http.Header, error) {
	r, err := w.ask(ctx, method, file, body, head)
	if err != nil {
		return 0, nil, err
	}
	defer r.Body.Close()
	_, _ = io.Copy(io.Discard, io.LimitReader(r.Body, 1<<16))
	return r.StatusCode, r.Header, nil
}

// alone asks for something by which a host that knows locks changes what it notes of them: a lock, its end, a file or
// folder that comes or goes. One at a time is asked.
func (w *WebDAV) alone(ctx context.Context, method, file string, body []byte, head map[string]string) (int, http.Header, error) {
	w.mu.Lock()
	plain := w.plain
	w.mu.Unlock()
	if !plain {
		w.locking.Lock()
		defer w.locking.Unlock()
	}
	return w.answer(ctx, method, file, body, head)
}

// Read implements Host.
func (w *WebDAV) Read(ctx context.Context, file string) (Content, error) {
	r, err := w.ask(
		ctx,
		http.MethodGet,
		file,
		nil,
		map[string]string{"Cache-Control": "no-cache", "Accept-Encoding": "identity"},
	)
	if err != nil {
		return Content{}, err
	}
	defer r.Body.Close()
	if r.StatusCode != http.StatusOK {
		return Content{}, fromStatus(r.StatusCode, file)
	}
	if packed := r.Header.Get("Content-Encoding"); packed != "" && packed != "identity" {
		return Content{}, &Problem{
			Kind: Odd,
			Say: fmt.Sprintf(
				"The host sends %s packed (%s) though it was asked not to. Whoever runs it has to switch that off for editing.",
				file,
				packed,
			),
		}
	}
	b, err := readAll(r, MaxFile)
	if err != nil {
		return Content{}, fromError(err, w.root.Host)
	}
	c := Content{Bytes: b, Media: r.Header.Get("Content-Type")}
	c.Tag, c.Weak = strong(r.Header.Get("ETag"))
	return c, nil
}

// depends adds to a request what was read, and the lock that is held.
func (w *WebDAV) depends(head map[string]string, file string, over *Content) map[string]string {
	if lock := w.token(file); lock != "" {
		head["If"] = lock
	}
	switch {
	case over == nil:
		head["If-None-Match"] = "*"
	case over.Tag != "":
		head["If-Match"] = over.Tag
	}
	return head
}

// Write implements Host. It writes over the file itself: a MOVE over it would delete it first (RFC 4918, 9.9.3).
func (w *WebDAV) Write(ctx context.Context, file string, b []byte, over *Content) error {
	head := w.depends(map[string]string{"Content-Type": "application/octet-stream"}, file, over)
	put := w.answer
	if over == nil {
		put = w.alone
	}
	for try := 0; ; try++ {
		status, _, err := put(ctx, http.MethodPut, file, b, head)
		switch {
		case err != nil:
			return err
		case status < 300:
			return nil
		case refusesLock(status) && w.leave(ctx, head["If"]):
			return changed(file)
		case status == http.StatusLocked:
			return w.lockedBy(ctx, file)
		case try == 0 && over == nil && missingFolder(status):
			if made, err := w.makeFolders(ctx, file); err != nil {
				return err
			} else if made {
				continue
			}
		}
		return w.whyNot(ctx, status, file, len(b))
	}
}

// whyNot finds out what a server means that says no more than that it failed: nginx and lighttpd answer 500 where the
// disk is full or may not be written, rclone 405, Apache 500 for the latter. Files of Mendry's own are tried, a small
// one and one as large.
func (w *WebDAV) whyNot(ctx context.Context, status int, file string, size int) (err error) {
	no := fromStatus(status, file)
	if status != http.StatusInternalServerError && status != http.StatusMethodNotAllowed {
		return no
	}
	if rest := w.rest(ctx, file); len(rest) > 0 {
		defer func() { // it may take the room that is missing
			var p *Problem
			if errors.As(err, &p) {
				p.Say += " The host left the rest of a write: " + strings.Join(rest, ", ") + ". Take that away there."
			}
		}()
	}
	trial := path.Join(path.Dir(file), tryName()+".txt")
	defer func() {
		for _, name := range append(w.rest(ctx, trial), trial) {
			_, _, _ = w.alone(context.WithoutCancel(ctx), http.MethodDelete, name, nil, w.held(name))
		}
	}()
	for _, n := range []int{1, size} {
		got, _, err := w.alone(ctx, http.MethodPut, trial, make([]byte, n), w.held(trial))
		switch {
		case err != nil:
			return no
		case got < 300:
		case n == size && n > 1:
			return fromStatus(http.StatusInsufficientStorage, file)
		default:
			return &Problem{
				Kind:   Forbidden,
				Status: status,
				Say: fmt.Sprintf(
					"The host takes no file at all just now (error %d for %s): its disk may be full, or read-only. Ask whoever runs it, then go on.",
					status,
					file,
				),
			}
		}
	}
	return no
}

// rest are files that a server left of a write of a file that broke off: nginx names them like the file, with ten
// digits.
func (w *WebDAV) rest(ctx context.Context, file string) (names []string) {
	dir := path.Dir(file)
	if dir == "." {
		dir = ""
	} else {
		dir += "/"
	}
	held, err := w.members(ctx, dir)
	if err != nil {
		return nil
	}
	for _, f := range held.files {
		if digits, ok := strings.CutPrefix(f.Path, file+"."); ok && len(digits) == 10 &&
			strings.Trim(digits, "0123456789") == "" {
			names = append(names, f.Path)
		}
	}
	return names
}

// missingFolder tells answers to a PUT into a folder that is not there: 409 by RFC 4918, 9.7.1; nginx and rclone say
// 404, 409 or 500.
func missingFolder(status int) bool {
	return status == http.StatusConflict || status == http.StatusNotFound || status == http.StatusInternalServerError ||
		status == http.StatusForbidden
}

// makeFolders makes the folders of a file that are missing, and reports whether one was.
func (w *WebDAV) makeFolders(ctx context.Context, file string) (made bool, err error) {
	dir := path.Dir(file)
	if dir == "." || dir == "/" {
		return false, nil
	}
	at := ""
	for _, name := range strings.Split(strings.Trim(dir, "/"), "/") {
		at += name + "/"
		head := w.held(at)
		status, _, err := w.alone(ctx, "MKCOL", at, nil, head)
		if err != nil {
			return made, err
		}
		if refusesLock(status) && w.leave(ctx, head["If"]) {
			return made, changed(at)
		}
		if status == http.StatusLocked || status == http.StatusMultiStatus { // Apache tells of the folder above, which is locked
			return made, w.lockedBy(ctx, strings.TrimSuffix(at, name+"/"))
		}
		made = made || status == http.StatusCreated
		if status == http.StatusForbidden || status == http.StatusInsufficientStorage ||
			status == http.StatusUnauthorized {
			return made, fromStatus(status, strings.TrimSuffix(at, "/"))
		}
	}
	return made, nil
}

// Remove implements Host.
func (w *WebDAV) Remove(ctx context.Context, file string, over Content) error {
	head := w.depends(map[string]string{}, file, &over)
	if strings.HasPrefix(head["If"], "(") { // Apache asks the folder for it too where no file is named
		head["If"] = "<" + w.url(file) + "> " + head["If"]
	}
	status, _, err := w.alone(ctx, http.MethodDelete, file, nil, head)
	if _, own, ok := strings.Cut(head["If"], "> "); ok && err == nil && refusesLock(status) && strings.Contains(w.url(file), "%") {
		head["If"] = own
		status, _, err = w.alone(ctx, http.MethodDelete, file, nil, head)
	}
	switch {
	case err != nil:
		return err
	case refusesLock(status) && w.leave(ctx, head["If"]):
		return changed(file)
	case status == http.StatusLocked:
		return w.lockedBy(ctx, file)
	case status >= 300 && status != http.StatusNotFound:
		return fromStatus(status, file)
	}
	return nil
}
