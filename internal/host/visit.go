package host

import (
	"context"
	"errors"
	"fmt"
	"maps"
	"net/http"
	"net/url"
	"strings"
	"time"

	"mendry/internal/core/cache"
)

// Visit is what a visitor gets at a public address.
type Visit struct {
	Content
	Final string // the address that answered, after redirects
	Cache cache.Answer
}

// Visitor fetches pages as a visitor's browser would, through whatever cache stands in front.
type Visitor struct{ http *http.Client }

// NewVisitor makes a visitor.
func NewVisitor(n Network, timeout time.Duration) *Visitor { return &Visitor{n.Client(timeout, 5)} }

// Get fetches a public address.
func (v *Visitor) Get(ctx context.Context, address string) (Visit, error) {
	return v.get(ctx, address, nil)
}

// Fresh fetches a public address and asks caches on the way not to answer by themselves (RFC 9111, 5.2.1.4).
func (v *Visitor) Fresh(ctx context.Context, address string) (Visit, error) {
	return v.get(ctx, address, http.Header{"Cache-Control": {"no-cache"}, "Pragma": {"no-cache"}})
}

// Media asks what kind of thing an address leads to, without reading it: its media type, and the address that
// answered.
func (v *Visitor) Media(ctx context.Context, address string) (media, final string, err error) {
	r, err := v.ask(ctx, address, http.Header{"Range": {"bytes=0-0"}})
	if err != nil {
		return "", "", err
	}
	defer r.Body.Close()
	if r.StatusCode != http.StatusOK && r.StatusCode != http.StatusPartialContent {
		return "", "", kept(r.StatusCode, strings.TrimSuffix(address, "/"))
	}
	return r.Header.Get("Content-Type"), r.Request.URL.String(), nil
}

func (v *Visitor) ask(ctx context.Context, address string, head http.Header) (*http.Response, error) {
	req, err := http.NewRequestWithContext(ctx, http.MethodGet, address, nil)
	if err != nil {
		return nil, &Problem{Kind: Odd, Say: "“" + address + "” is no address."}
	}
	maps.Copy(req.Header, head)
	req.Header.Set("User-Agent", "Mendry (checks that a page arrived)")
	r, err := v.http.Do(req)
	if err != nil {
		return nil, unanswered(req.URL, err)
	}
	return r, nil
}

// kept says in words what visitors are told in the place of a page: they have neither name nor password.
func kept(status int, address string) error {
	err := fromStatus(status, address)
	var p *Problem
	if errors.As(err, &p) && (status == http.StatusForbidden || status == http.StatusUnauthorized) {
		p.Say = fmt.Sprintf("Visitors may not read %s: the host refuses it (%d). Ask whoever runs the host to let visitors read it.", address, status)
	}
	return err
}

// unanswered says why there was no answer, and which address gave none, where a redirect led to it.
func unanswered(asked *url.URL, err error) error {
	var of *url.Error // names the address that was asked last (http.Client, Do)
	at := asked
	if errors.As(err, &of) {
		if u, parseErr := url.Parse(of.URL); parseErr == nil && u.Host != "" {
			at = u
		}
	}
	err = fromError(err, at.Host)
	var p *Problem
	if errors.As(err, &p) && at.Host != asked.Host {
		p.Led = at.Redacted()
	}
	return err
}

func (v *Visitor) get(ctx context.Context, address string, head http.Header) (Visit, error) {
	r, err := v.ask(ctx, address, head)
	if err != nil {
		return Visit{}, err
	}
	defer r.Body.Close()
	if r.StatusCode != http.StatusOK {
		return Visit{}, kept(r.StatusCode, strings.TrimSuffix(address, "/"))
	}
	b, err := readAll(r, MaxFile)
	if err != nil {
		return Visit{}, fromError(err, r.Request.URL.Host)
	}
	return Visit{
		Final:   r.Request.URL.String(),
		Content: Content{Bytes: b, Media: r.Header.Get("Content-Type")},
		Cache:   cache.Read(r.Header, time.Now(), true),
	}, nil
}
