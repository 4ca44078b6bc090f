// Package standin is the simulated outside world that ships with Mendry: site hosts and a mailbox. They speak the real
// protocols and can be told to misbehave.
package standin

import (
	"bytes"
	"cmp"
	"context"
	"crypto/sha256"
	"crypto/subtle"
	"encoding/hex"
	"encoding/json"
	"encoding/xml"
	"errors"
	"fmt"
	"io"
	"io/fs"
	"mime"
	"net/http"
	"os"
	"path"
	"path/filepath"
	"strconv"
	"strings"
	"sync"
	"time"

	"golang.org/x/net/webdav"
)

// Host is a site host on a folder: WebDAV for editing, plain HTTP with a cache in front for visitors.
type Host struct {
	Dir        string
	User, Pass string
	Keep       time.Duration // how long the visitors' cache keeps a page

	mu     sync.Mutex // preconditions are checked and files written under it
	faults []Fault
	cache  map[string]stored
	puts   int
	hold   *Hold
	unkind Unkind
}

// Fault makes the host misbehave.
type Fault struct {
	Status int           `json:"status"` // answer with this; 0 with Cut or Slow
	Method string        `json:"method"` // only for this method; empty for all
	Path   string        `json:"path"`   // only for paths that end so
	Times  int           `json:"times"`  // how often; 0 until cleared
	Slow   time.Duration `json:"slow"`
	Cut    bool          `json:"cut"` // break the body off
	used   int
}

// Hold stops the host at a PUT, so that a test can kill its client there.
type Hold struct {
	Put     int  // the how-manieth PUT, from 1
	Written bool // hold after the file is written, before the answer
	Reached chan struct{}
	Go      chan struct{}
}

// SetHold sets or clears a hold and starts counting PUTs anew.
func (h *Host) SetHold(hold *Hold) {
	h.mu.Lock()
	defer h.mu.Unlock()
	h.hold, h.puts = hold, 0
}

// SetFaults replaces the host's faults.
func (h *Host) SetFaults(fs ...Fault) {
	h.mu.Lock()
	defer h.mu.Unlock()
	h.faults = fs
}

// Flush empties the visitors' cache.
func (h *Host) Flush() {
	h.mu.Lock()
	defer h.mu.Unlock()
	h.cache = nil
}

func (h *Host) fault(r *http.Request) *Fault {
	h.mu.Lock()
	defer h.mu.Unlock()
	for i := range h.faults {
		f := &h.faults[i]
		if f.Method != "" && f.Method != r.Method || !strings.HasSuffix(r.URL.Path, f.Path) || f.Times > 0 && f.used >= f.Times {
			continue
		}
		f.used++
		c := *f
		return &c
	}
	return nil
}

// DAV is the editing side.
func (h *Host) DAV() http.Handler {
	locks := &locks{LockSystem: webdav.NewMemLS(), by: map[string]noted{}}
	files := &propertied{tagged: tagged{webdav.Dir(h.Dir)}, has: map[string]map[xml.Name]webdav.Property{}}
	dav := &webdav.Handler{FileSystem: files, LockSystem: locks}
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		if strings.HasPrefix(r.URL.Path, "/.standin/") {
			h.control(w, r)
			return
		}
		user, pass, _ := r.BasicAuth()
		known, ask := letIn(user, pass, h.User, h.Pass), `Basic realm="stand-in host"`
		if h.how().Digest {
			known, ask = digested(r, h.User, h.Pass), `Digest realm="stand-in host", qop="auth", nonce="`+nonce+`"`
		}
		if !known {
			w.Header().Set("WWW-Authenticate", ask)
			http.Error(w, "sign in", http.StatusUnauthorized)
			return
		}
		cut := false
		if f := h.fault(r); f != nil {
			if f.Slow > 0 {
				b, _ := io.ReadAll(r.Body) // that the other side has gone is only seen behind the body
				r.Body = io.NopCloser(bytes.NewReader(b))
				select {
				case <-time.After(f.Slow):
				case <-r.Context().Done():
					return
				}
			}
			if f.Status > 0 {
				http.Error(w, http.StatusText(f.Status), f.Status)
				return
			}
			cut = f.Cut
		}
		switch r.Method {
		case http.MethodGet, http.MethodHead:
			h.get(w, r, cut)
		case http.MethodPut, http.MethodDelete:
			end, status := locks.claim(r, h.tagOf(r.URL.Path))
			if end == nil {
				w.WriteHeader(status)
				return
			}
			defer end()
			if r.Method == http.MethodPut {
				h.put(w, r)
				return
			}
			files.forget(r.URL.Path)
			h.delete(w, r)
		default:
			if wellNamed(w, r) && !locks.tell(w, r) {
				dav.ServeHTTP(w, r)
			}
		}
	})
}

// letIn compares a name and a password with the right ones, in a time that tells nothing.
func letIn(user, pass, wantUser, wantPass string) bool {
	return subtle.ConstantTimeCompare([]byte(user+"\x00"+pass), []byte(wantUser+"\x00"+wantPass)) == 1
}

func (h *Host) file(p string) string {
	return filepath.Join(h.Dir, filepath.FromSlash(path.Clean("/"+p)))
}

// ETag is the strong entity tag that the host gives to content.
func ETag(b []byte) string {
	s := sha256.Sum256(b)
	return `"` + hex.EncodeToString(s[:16]) + `"`
}

// tagOf is the entity tag of what stands at a path, empty where nothing does.
func (h *Host) tagOf(p string) string {
	b, err := os.ReadFile(h.file(p))
	if err != nil {
		return ""
	}
	return ETag(b)
}

func media(p string) string {
	switch path.Ext(p) {
	case ".html", ".htm":
		return "text/html" // as many hosts do: what the page says of its encoding counts
	case ".webp":
		return "image/webp"
	}
	if m := mime.TypeByExtension(path.Ext(p)); m != "" {
		return m
	}
	return "application/octet-stream"
}

func (h *Host) get(w http.ResponseWriter, r *http.Request, cut bool) {
	b, err := os.ReadFile(h.file(r.URL.Path))
	if err != nil {
		http.NotFound(w, r)
		return
	}
	how := h.how()
	zips := how.zips(r)
	how.tagged(w, ETag(b), zips)
	w.Header().Set("Content-Type", media(r.URL.Path))
	if zips && !cut {
		w.Header().Set("Content-Encoding", "gzip")
		if r.Method == http.MethodGet {
			zipped(w, b)
		}
		return
	}
	w.Header().Set("Content-Length", strconv.Itoa(len(b)))
	if cut {
		_, _ = w.Write(b[:len(b)/2])
		if f, ok := w.(http.Flusher); ok {
			f.Flush()
		}
		panic(http.ErrAbortHandler)
	}
	if r.Method == http.MethodGet {
		_, _ = w.Write(b)
	}
}

// precondition checks If-Match and If-None-Match (RFC 9110, 13.1) against the file as it stands. It must be called
// under the lock.
func (h *Host) precondition(r *http.Request, file string) (exists, ok bool) {
	b, err := os.ReadFile(file)
	exists = err == nil
	if h.unkind.Tags == "ignored" {
		return exists, true
	}
	tag := ETag(b)
	if m := r.Header.Get("If-Match"); m != "" {
		return exists, exists && (m == "*" || listed(m, tag))
	}
	if m := r.Header.Get("If-None-Match"); m != "" {
		return exists, !exists || m != "*" && !listed(m, tag)
	}
	return exists, true
}

func listed(list, tag string) bool {
	for _, t := range strings.Split(list, ",") {
		if strings.TrimSpace(t) == tag {
			return true
		}
	}
	return false
}

func (h *Host) put(w http.ResponseWriter, r *http.Request) {
	if r.Header.Get("Content-Range") != "" {
		http.Error(w, "no partial writes", http.StatusBadRequest)
		return
	}
	b, err := io.ReadAll(http.MaxBytesReader(w, r.Body, 64<<20))
	if err != nil || r.ContentLength >= 0 && int64(len(b)) != r.ContentLength {
		http.Error(w, "the body broke off", http.StatusBadRequest)
		return
	}
	h.mu.Lock()
	h.puts++
	hold := h.hold
	if hold != nil && hold.Put != h.puts {
		hold = nil
	}
	h.mu.Unlock()
	if hold != nil && !hold.Written {
		close(hold.Reached)
		<-hold.Go
	}
	status, tag := h.write(r, b)
	if hold != nil && hold.Written {
		close(hold.Reached)
		<-hold.Go
	}
	h.how().tagged(w, tag, false)
	w.WriteHeader(status)
}

func (h *Host) write(r *http.Request, b []byte) (status int, tag string) {
	h.mu.Lock()
	defer h.mu.Unlock()
	file := h.file(r.URL.Path)
	if r.Context().Err() != nil { // the client went away while it was held
		return http.StatusBadRequest, ""
	}
	exists, ok := h.precondition(r, file)
	if !ok {
		return http.StatusPreconditionFailed, ""
	}
	store := writeWhole
	if h.unkind.InPlace {
		store = func(file string, b []byte) error { return os.WriteFile(file, b, 0o644) } //nolint:gosec // visitors read it
	}
	if err := store(file, b); err != nil {
		if errors.Is(err, fs.ErrNotExist) {
			return cmp.Or(h.unkind.Missing, http.StatusConflict), ""
		}
		return http.StatusInternalServerError, ""
	}
	if exists {
		return http.StatusNoContent, ETag(b)
	}
	return http.StatusCreated, ETag(b)
}

// writeWhole replaces a file in one step, so that an aborted write leaves the old one.
func writeWhole(file string, b []byte) error {
	tmp, err := os.CreateTemp(filepath.Dir(file), ".new-*")
	if err != nil {
		return err
	}
	_, err = tmp.Write(b)
	err = errors.Join(err, tmp.Chmod(0o644), tmp.Close())
	if err == nil {
		err = os.Rename(tmp.Name(), file)
	}
	if err != nil {
		_ = os.Remove(tmp.Name())
	}
	return err
}

func (h *Host) delete(w http.ResponseWriter, r *http.Request) {
	h.mu.Lock()
	defer h.mu.Unlock()
	file := h.file(r.URL.Path)
	if i, err := os.Stat(file); err == nil && i.IsDir() && filepath.Clean(file) != filepath.Clean(h.Dir) {
		if os.RemoveAll(file) != nil { // a folder goes with all that is in it (RFC 4918, 9.6.1)
			w.WriteHeader(http.StatusForbidden)
			return
		}
		w.WriteHeader(http.StatusNoContent)
		return
	}
	exists, ok := h.precondition(r, file)
	switch {
	case !exists:
		http.NotFound(w, r)
	case !ok:
		w.WriteHeader(http.StatusPreconditionFailed)
	case os.Remove(file) != nil:
		w.WriteHeader(http.StatusForbidden)
	default:
		w.WriteHeader(http.StatusNoContent)
	}
}

// control tells the host to misbehave, to forget its cache, or lets somebody else edit a page.
func (h *Host) control(w http.ResponseWriter, r *http.Request) {
	if r.Method != http.MethodPost {
		http.Error(w, "POST faults, unkind, flush or edit", http.StatusMethodNotAllowed)
		return
	}
	var err error
	switch strings.TrimPrefix(r.URL.Path, "/.standin/") {
	case "faults":
		var fs []Fault
		if err = json.NewDecoder(r.Body).Decode(&fs); err == nil {
			h.SetFaults(fs...)
		}
	case "flush":
		h.Flush()
	case "unkind":
		var u Unkind
		if err = json.NewDecoder(r.Body).Decode(&u); err == nil {
			h.SetUnkind(u)
		}
	case "edit":
		var e struct{ Path, Old, New string }
		if err = json.NewDecoder(r.Body).Decode(&e); err == nil {
			err = h.Edit(e.Path, e.Old, e.New)
		}
	default:
		err = errors.New("there is no such thing")
	}
	if err != nil {
		http.Error(w, err.Error(), http.StatusBadRequest)
		return
	}
	w.WriteHeader(http.StatusNoContent)
}

// Edit lets somebody else change a file.
func (h *Host) Edit(p, old, new string) error {
	h.mu.Lock()
	defer h.mu.Unlock()
	b, err := os.ReadFile(h.file(p))
	if err != nil {
		return err
	}
	if !strings.Contains(string(b), old) {
		return fmt.Errorf("%s does not hold %q", p, old)
	}
	return writeWhole(h.file(p), []byte(strings.Replace(string(b), old, new, 1)))
}

// tagged gives WebDAV's listings the same entity tags as reads.
type tagged struct{ webdav.Dir }

type taggedInfo struct {
	os.FileInfo
	name string
}

func (i taggedInfo) ETag(context.Context) (string, error) {
	if i.IsDir() {
		return "", webdav.ErrNotImplemented
	}
	b, err := os.ReadFile(i.name)
	return ETag(b), err
}

func (t tagged) Stat(ctx context.Context, name string) (os.FileInfo, error) {
	i, err := t.Dir.Stat(ctx, name)
	if err != nil {
		return nil, err
	}
	return taggedInfo{i, filepath.Join(string(t.Dir), filepath.FromSlash(path.Clean("/"+name)))}, nil
}
