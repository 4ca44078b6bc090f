package standin

import (
	"encoding/xml"
	"errors"
	"fmt"
	"io"
	"net/http"
	"strings"
	"sync"
	"time"

	"golang.org/x/net/webdav"
)

// locks are the host's write locks (RFC 4918, 6). What the library keeps to itself, whose a lock is, is noted here, so
// that it can be told (15.8).
type locks struct {
	webdav.LockSystem
	mu sync.Mutex
	by map[string]noted // by token
}

type noted struct {
	webdav.LockDetails
	until time.Time
}

// Create implements webdav.LockSystem.
func (l *locks) Create(now time.Time, d webdav.LockDetails) (string, error) {
	token, err := l.LockSystem.Create(now, d)
	if err == nil && d.Duration > 0 { // not one that the library holds for the moment of an answer
		l.mu.Lock()
		l.by[token] = noted{d, now.Add(d.Duration)}
		l.mu.Unlock()
	}
	return token, err
}

// Refresh implements webdav.LockSystem.
func (l *locks) Refresh(now time.Time, token string, d time.Duration) (webdav.LockDetails, error) {
	details, err := l.LockSystem.Refresh(now, token, d)
	if err == nil {
		l.mu.Lock()
		if n, ok := l.by[token]; ok {
			n.until = now.Add(d)
			l.by[token] = n
		}
		l.mu.Unlock()
	}
	return details, err
}

// Unlock implements webdav.LockSystem.
func (l *locks) Unlock(now time.Time, token string) error {
	err := l.LockSystem.Unlock(now, token)
	if err == nil || errors.Is(err, webdav.ErrNoSuchLock) {
		l.mu.Lock()
		delete(l.by, token)
		l.mu.Unlock()
	}
	return err
}

// on are the locks on a name, those of folders that it is in among them.
func (l *locks) on(name string) map[string]noted {
	l.mu.Lock()
	defer l.mu.Unlock()
	found := map[string]noted{}
	for token, n := range l.by {
		in := !n.ZeroDepth && strings.HasPrefix(name, strings.TrimSuffix(n.Root, "/")+"/")
		if (n.Root == name || in) && time.Now().Before(n.until) {
			found[token] = n
		}
	}
	return found
}

// claim lets a write go on if nobody else holds the file, or the token of the lock comes with it (RFC 4918, 7.5 and
// 10.4); several may come under one lock at a time. tag is the file's entity tag. It returns what ends the claim, or
// the status of the refusal.
func (l *locks) claim(r *http.Request, tag string) (end func(), status int) {
	if lists := conditions(r.Header.Get("If")); len(lists) > 0 {
		on := l.on(r.URL.Path)
		tokens, ok := holds(lists, tag, func(token string) bool { return on[token].Root != "" })
		if !ok {
			return nil, http.StatusPreconditionFailed
		}
		if len(tokens) > 0 {
			return func() {}, 0
		}
	}
	token, err := l.LockSystem.Create(time.Now(), webdav.LockDetails{Root: r.URL.Path, Duration: -1, ZeroDepth: true})
	if err != nil {
		return nil, http.StatusLocked
	}
	return func() { _ = l.LockSystem.Unlock(time.Now(), token) }, 0
}

// tell answers a PROPFIND that asks for the locks on one name, and reports whether it was one.
func (l *locks) tell(w http.ResponseWriter, r *http.Request) bool {
	if r.Method != "PROPFIND" || r.Header.Get("Depth") != "0" {
		return false
	}
	b, err := io.ReadAll(io.LimitReader(r.Body, 1<<16))
	r.Body = io.NopCloser(strings.NewReader(string(b)))
	if err != nil || !strings.Contains(string(b), "lockdiscovery") {
		return false
	}
	var active, href strings.Builder
	for token, n := range l.on(r.URL.Path) {
		depth := "infinity"
		if n.ZeroDepth {
			depth = "0"
		}
		fmt.Fprintf(
			&active,
			`<D:activelock><D:locktype><D:write/></D:locktype><D:lockscope><D:exclusive/></D:lockscope><D:depth>%s</D:depth>`+
				`<D:owner>%s</D:owner><D:timeout>Second-%d</D:timeout><D:locktoken><D:href>%s</D:href></D:locktoken></D:activelock>`,
			depth,
			n.OwnerXML,
			int(time.Until(n.until).Seconds()),
			token,
		)
	}
	_ = xml.EscapeText(&href, []byte(r.URL.EscapedPath()))
	w.Header().Set("Content-Type", "application/xml; charset=utf-8")
	w.WriteHeader(http.StatusMultiStatus)
	fmt.Fprintf(
		w,
		`<?xml version="1.0" encoding="utf-8"?><D:multistatus xmlns:D="DAV:"><D:response><D:href>%s</D:href><D:propstat><D:prop><D:lockdiscovery>%s</D:lockdiscovery></D:prop><D:status>HTTP/1.1 200 OK</D:status></D:propstat></D:response></D:multistatus>`,
		href.String(),
		active.String(),
	)
	return true
}
