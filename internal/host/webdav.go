package host

import (
	"bytes"
	"context"
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

	mu    sync.Mutex
	locks map[string]string // tokens of files that are held, by path
	plain bool              // the host knows no locks
}

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
	return &WebDAV{root: u, by: by, http: c, locks: map[string]string{}}, nil
}

// url is the address of a file or, with a slash at its end, of a folder (RFC 3986, 3.3).
func (w *WebDAV) url(file string) string {
	segments := strings.Split(strings.TrimPrefix(file, "/"), "/")
	for i, s := range segments {
		segments[i] = url.PathEscape(s)
	}
	return w.root.String() + strings.Join(segments, "/")
}

func (w *WebDAV) ask(ctx context.Context, method, file string, body []byte, head map[string]string) (*http.Response, error) {
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
func (w *WebDAV) answer(ctx context.Context, method, file string, body []byte, head map[string]string) (int, http.Header, error) {
	r, err := w.ask(ctx, method, file, body, head)
	if err != nil {
		return 0, nil, err
	}
	defer r.Body.Close()
	_, _ = io.Copy(io.Discard, io.LimitReader(r.Body, 1<<16))
	return r.StatusCode, r.Header, nil
}

// Read implements Host.
func (w *WebDAV) Read(ctx context.Context, file string) (Content, error) {
	r, err := w.ask(ctx, http.MethodGet, file, nil, map[string]string{"Cache-Control": "no-cache", "Accept-Encoding": "identity"})
	if err != nil {
		return Content{}, err
	}
	defer r.Body.Close()
	if r.StatusCode != http.StatusOK {
		return Content{}, fromStatus(r.StatusCode, file)
	}
	if packed := r.Header.Get("Content-Encoding"); packed != "" && packed != "identity" {
		return Content{}, &Problem{Kind: Odd, Say: fmt.Sprintf("The host sends %s packed (%s) though it was asked not to. Whoever runs it has to switch that off for editing.", file, packed)}
	}
	b, err := readAll(r, MaxFile)
	if err != nil {
		return Content{}, fromError(err, w.root.Host)
	}
	c := Content{Bytes: b, Media: r.Header.Get("Content-Type")}
	c.Tag, c.Weak = strong(r.Header.Get("ETag"))
	return c, nil
}

// depends adds to a request what was read, and the lock that is held (RFC 4918, 10.4).
func (w *WebDAV) depends(head map[string]string, file string, over *Content) map[string]string {
	w.mu.Lock()
	lock := w.locks[file]
	w.mu.Unlock()
	if lock != "" {
		head["If"] = "(<" + lock + ">)"
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
	for try := 0; ; try++ {
		status, _, err := w.answer(ctx, http.MethodPut, file, b, head)
		switch {
		case err != nil:
			return err
		case status < 300:
			return nil
		case status == http.StatusLocked:
			return w.lockedBy(ctx, file)
		case try == 0 && over == nil && missingFolder(status):
			if made, err := w.makeFolders(ctx, file); err != nil {
				return err
			} else if made {
				continue
			}
		}
		return fromStatus(status, file)
	}
}

// missingFolder tells answers to a PUT into a folder that is not there: 409 by RFC 4918, 9.7.1; nginx and rclone say 404,
// 409 or 500.
func missingFolder(status int) bool {
	return status == http.StatusConflict || status == http.StatusNotFound || status == http.StatusInternalServerError || status == http.StatusForbidden
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
		status, _, err := w.answer(ctx, "MKCOL", at, nil, nil)
		if err != nil {
			return made, err
		}
		made = made || status == http.StatusCreated
		if status == http.StatusForbidden || status == http.StatusInsufficientStorage || status == http.StatusUnauthorized {
			return made, fromStatus(status, strings.TrimSuffix(at, "/"))
		}
	}
	return made, nil
}

// Remove implements Host.
func (w *WebDAV) Remove(ctx context.Context, file string, over Content) error {
	status, _, err := w.answer(ctx, http.MethodDelete, file, nil, w.depends(map[string]string{}, file, &over))
	switch {
	case err != nil:
		return err
	case status == http.StatusLocked:
		return w.lockedBy(ctx, file)
	case status >= 300 && status != http.StatusNotFound:
		return fromStatus(status, file)
	}
	return nil
}
