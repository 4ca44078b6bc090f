package host

import (
	"context"
	"encoding/xml"
	"fmt"
	"net/http"
	"strings"
	"time"
)

// heldFor is how long a host keeps a lock that nobody lets go, in seconds: longer than any one answer is waited for.
// One that Mendry left when it was killed is known by its owner and let go at the next try; where the host does not
// tell whose a lock is, it is waited out.
const heldFor = 60

// lookAgain is how long is waited at most until it is looked again whether a lock is still there.
const lookAgain = 2 * time.Second

// InFlight is how long is waited after a file is held, or moved over: a write that the server had let in before then
// ends within that, if it is a short one. Servers look at locks and conditions before they take the bytes; a file
// system finds a file by its name before it empties it, and a disk that is slow for a moment stands between the two.
const InFlight = 50 * time.Millisecond

// Hold implements Host with a write lock (RFC 4918, 6 and 9.10). It keeps off everybody who edits over WebDAV, on
// servers that ignore conditions too.
func (w *WebDAV) Hold(ctx context.Context, file string) (func(), bool, error) {
	w.mu.Lock()
	plain, left := w.plain, w.left[file]
	w.mu.Unlock()
	if plain {
		return func() {}, false, nil
	}
	if left != "" {
		w.free(ctx, file, left)
	}
	start := time.Now()
	for try := 0; ; try++ {
		token, status, err := w.lock(ctx, file, "0", heldFor)
		if err != nil {
			return nil, false, err
		}
		switch {
		case token != "":
			w.mu.Lock()
			w.locks[file] = token
			w.mu.Unlock()
			select {
			case <-time.After(InFlight):
			case <-ctx.Done():
			}
			return func() { w.free(ctx, file, token) }, true, nil
		case status == http.StatusLocked:
			d, err := w.discover(ctx, file)
			if err == nil && try == 0 && w.freeOwn(ctx, file, d) {
				continue
			}
			if err != nil || d.tells() || time.Since(start) > (heldFor+5)*time.Second {
				return nil, false, w.lockedBy(ctx, file)
			}
			select {
			case <-time.After(min(20*time.Millisecond<<min(try, 10), lookAgain)):
			case <-ctx.Done():
				return nil, false, ctx.Err()
			}
		case status == http.StatusUnauthorized:
			return nil, false, fromStatus(status, file)
		default:
			w.mu.Lock()
			w.plain = status != http.StatusForbidden && status != http.StatusConflict // those are of this file alone
			w.mu.Unlock()
			return func() {}, false, nil
		}
	}
}

// lock asks for a lock on a file, or on a folder and all that is in it (depth, RFC 4918, 10.2), for some seconds
// (10.7).
func (w *WebDAV) lock(ctx context.Context, file, depth string, lasts int) (token string, status int, err error) {
	var owner strings.Builder
	_ = xml.EscapeText(&owner, []byte(w.by)) // a builder does not fail
	body := `<?xml version="1.0" encoding="utf-8"?><D:lockinfo xmlns:D="DAV:"><D:lockscope><D:exclusive/></D:lockscope>` +
		`<D:locktype><D:write/></D:locktype><D:owner>` + owner.String() + `</D:owner></D:lockinfo>`
	status, head, err := w.alone(ctx, "LOCK", file, []byte(body), map[string]string{
		"Content-Type": "application/xml; charset=utf-8", "Depth": depth, "Timeout": fmt.Sprintf("Second-%d", lasts),
	})
	if err != nil || status >= 300 {
		return "", status, err
	}
	return strings.Trim(strings.TrimSpace(head.Get("Lock-Token")), "<>"), status, nil
}

// free lets a file or folder go, also when what it was held for was left.
func (w *WebDAV) free(ctx context.Context, file, token string) {
	w.mu.Lock()
	delete(w.locks, file)
	w.mu.Unlock()
	ctx, cancel := context.WithTimeout(context.WithoutCancel(ctx), 5*time.Second)
	defer cancel()
	err := w.unlock(ctx, file, token)
	w.mu.Lock()
	defer w.mu.Unlock()
	if delete(w.left, file); err != nil {
		w.left[file] = token // the host lets go by itself, later
	}
}

// unlock asks a host to give up a lock. Those made with x/net/webdav cannot while a request is under it.
func (w *WebDAV) unlock(ctx context.Context, file, token string) error {
	for {
		status, _, err := w.alone(ctx, "UNLOCK", file, nil, map[string]string{"Lock-Token": "<" + token + ">"})
		if err != nil || status != http.StatusLocked {
			return err
		}
		select {
		case <-time.After(20 * time.Millisecond):
		case <-ctx.Done():
			return ctx.Err()
		}
	}
}

// lockDiscovery is what a host says of the locks on a file (RFC 4918, 15.8).
type lockDiscovery struct {
	Active []struct {
		Owner struct {
			Text string `xml:",innerxml"`
		} `xml:"DAV: owner"`
		Token string `xml:"DAV: locktoken>href"`
	} `xml:"DAV: response>propstat>prop>lockdiscovery>activelock"`
}

// tells reports whether the host says whose a lock is. nginx tells of one, and not of its owner.
func (d lockDiscovery) tells() bool {
	for _, l := range d.Active {
		if words(l.Owner.Text) != "" {
			return true
		}
	}
	return false
}

// has reports whether a lock is among them.
func (d lockDiscovery) has(token string) bool {
	for _, l := range d.Active {
		if strings.TrimSpace(l.Token) == token {
			return true
		}
	}
	return false
}

func (w *WebDAV) discover(ctx context.Context, file string) (d lockDiscovery, err error) {
	r, err := w.ask(
		ctx,
		"PROPFIND",
		file,
		[]byte(
			`<?xml version="1.0" encoding="utf-8"?><D:propfind xmlns:D="DAV:"><D:prop><D:lockdiscovery/></D:prop></D:propfind>`,
		),
		map[string]string{"Depth": "0", "Content-Type": "application/xml; charset=utf-8"},
	)
	if err != nil {
		return d, err
	}
	defer r.Body.Close()
	b, err := readAll(r, 1<<20)
	if err != nil || r.StatusCode != http.StatusMultiStatus {
		return d, err
	}
	return d, xml.Unmarshal(b, &d)
}

// freeOwn lets a file go that this installation of Mendry held when it was killed.
func (w *WebDAV) freeOwn(ctx context.Context, file string, d lockDiscovery) bool {
	freed := false
	for _, l := range d.Active {
		if words(l.Owner.Text) == w.by && l.Token != "" {
			w.free(ctx, file, strings.TrimSpace(l.Token))
			freed = true
		}
	}
	return freed
}

// lockedBy says who holds a file, as far as the host tells.
func (w *WebDAV) lockedBy(ctx context.Context, file string) error {
	who := "somebody else"
	if d, err := w.discover(ctx, file); err == nil && len(d.Active) > 0 && words(d.Active[0].Owner.Text) != "" {
		who = words(d.Active[0].Owner.Text)
	}
	if file == "" {
		file = "The site’s folder"
	}
	return &Problem{
		Kind:   Locked,
		Status: http.StatusLocked,
		Say: fmt.Sprintf(
			"%s is locked on the host by %s. Nothing was written. Go on when they are done.",
			file,
			who,
		),
	}
}

// words are the words of an owner, who may have written markup.
func words(s string) string {
	var b strings.Builder
	dec := xml.NewDecoder(strings.NewReader("<x>" + s + "</x>"))
	for {
		t, err := dec.Token()
		if err != nil {
			break
		}
		if c, ok := t.(xml.CharData); ok {
			b.Write(c)
		}
	}
	all := []rune(strings.Join(strings.Fields(b.String()), " "))
	return string(all[:min(len(all), 80)])
}
