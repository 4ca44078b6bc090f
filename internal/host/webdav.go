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
	"sort"
	"strings"
	"time"

	"github.com/studio-b12/gowebdav"
)

// MaxFile is the largest file that is read from a host, in bytes.
const MaxFile = 32 << 20

// MaxFiles is how many files of a site are listed at most.
const MaxFiles = 20_000

// WebDAV is a host that is spoken to over WebDAV (RFC 4918).
type WebDAV struct {
	root       *url.URL
	user, pass string
	http       *http.Client
	dav        *gowebdav.Client
}

// NewWebDAV reaches the folder of a site at address.
func NewWebDAV(n Network, address, user, pass string, timeout time.Duration) (*WebDAV, error) {
	u, err := Address(address)
	if err != nil {
		return nil, err
	}
	c := n.Client(timeout, 0)
	dav := gowebdav.NewClient(u.String(), user, pass)
	dav.SetTransport(c.Transport)
	dav.SetTimeout(timeout)
	return &WebDAV{root: u, user: user, pass: pass, http: c, dav: dav}, nil
}

// Knows implements Host.
func (w *WebDAV) Knows() Knows { return Knows{Conditional: true} }

func (w *WebDAV) url(file string) string {
	u := *w.root
	u.Path += strings.TrimPrefix(file, "/")
	return u.String()
}

func (w *WebDAV) ask(ctx context.Context, method, file string, body []byte, head map[string]string) (*http.Response, error) {
	req, err := http.NewRequestWithContext(ctx, method, w.url(file), bytes.NewReader(body))
	if err != nil {
		return nil, err
	}
	if w.user != "" || w.pass != "" {
		req.SetBasicAuth(w.user, w.pass)
	}
	for k, v := range head {
		req.Header.Set(k, v)
	}
	r, err := w.http.Do(req)
	if err != nil {
		return nil, fromError(err, w.root.Host)
	}
	return r, nil
}

// List implements Host.
func (w *WebDAV) List(ctx context.Context, found func(n int)) ([]File, error) {
	var all []File
	folders := []string{"/"}
	for len(folders) > 0 {
		if err := ctx.Err(); err != nil {
			return nil, err
		}
		dir := folders[0]
		folders = folders[1:]
		infos, err := w.dav.ReadDir(dir)
		if err != nil {
			return nil, w.fromDAV(err, dir)
		}
		for _, i := range infos {
			p := path.Join(dir, i.Name())
			if strings.HasPrefix(i.Name(), ".") {
				continue
			}
			if i.IsDir() {
				folders = append(folders, p+"/")
				continue
			}
			all = append(all, File{Path: strings.TrimPrefix(p, "/"), Size: i.Size()})
		}
		if len(all) > MaxFiles {
			return nil, &Problem{Kind: Odd, Say: fmt.Sprintf("The site has more than %d files. Point at the folder of one site.", MaxFiles)}
		}
		if found != nil {
			found(len(all))
		}
	}
	sort.Slice(all, func(i, j int) bool { return all[i].Path < all[j].Path })
	return all, nil
}

func (w *WebDAV) fromDAV(err error, name string) error {
	var status gowebdav.StatusError
	if errors.As(err, &status) {
		if status.Status == http.StatusMethodNotAllowed || status.Status == http.StatusNotImplemented || status.Status == http.StatusOK {
			return &Problem{Kind: Odd, Status: status.Status, Say: "What answers at the host's address does not speak WebDAV. Enter the WebDAV address, not the public one."}
		}
		return fromStatus(status.Status, name)
	}
	return fromError(err, w.root.Host)
}

// Read implements Host.
func (w *WebDAV) Read(ctx context.Context, file string) (Content, error) {
	r, err := w.ask(ctx, http.MethodGet, file, nil, map[string]string{"Cache-Control": "no-cache"})
	if err != nil {
		return Content{}, err
	}
	defer r.Body.Close()
	if r.StatusCode != http.StatusOK {
		return Content{}, fromStatus(r.StatusCode, file)
	}
	b, err := readAll(r, MaxFile)
	if err != nil {
		return Content{}, fromError(err, w.root.Host)
	}
	return Content{Bytes: b, ETag: r.Header.Get("ETag"), Media: r.Header.Get("Content-Type")}, nil
}

// Write implements Host.
func (w *WebDAV) Write(ctx context.Context, file string, b []byte, etag string) (string, error) {
	head := map[string]string{"Content-Type": "application/octet-stream"}
	if etag != "" {
		head["If-Match"] = etag
	} else {
		head["If-None-Match"] = "*"
	}
	for try := 0; ; try++ {
		r, err := w.ask(ctx, http.MethodPut, file, b, head)
		if err != nil {
			return "", err
		}
		_, _ = io.Copy(io.Discard, io.LimitReader(r.Body, 1<<16))
		_ = r.Body.Close()
		switch {
		case r.StatusCode == http.StatusConflict && try == 0: // the folder is missing (RFC 4918, 9.7.1)
			if err := w.dav.MkdirAll(path.Dir("/"+file), 0o755); err != nil {
				return "", w.fromDAV(err, path.Dir(file))
			}
			continue
		case r.StatusCode >= 300:
			return "", fromStatus(r.StatusCode, file)
		}
		return r.Header.Get("ETag"), nil
	}
}

// Remove implements Host.
func (w *WebDAV) Remove(ctx context.Context, file, etag string) error {
	head := map[string]string{}
	if etag != "" {
		head["If-Match"] = etag
	}
	r, err := w.ask(ctx, http.MethodDelete, file, nil, head)
	if err != nil {
		return err
	}
	_ = r.Body.Close()
	if r.StatusCode >= 300 && r.StatusCode != http.StatusNotFound {
		return fromStatus(r.StatusCode, file)
	}
	return nil
}
