package host

import (
	"context"
	"maps"
	"net/http"
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

func (v *Visitor) get(ctx context.Context, address string, head http.Header) (Visit, error) {
	req, err := http.NewRequestWithContext(ctx, http.MethodGet, address, nil)
	if err != nil {
		return Visit{}, &Problem{Kind: Odd, Say: "“" + address + "” is no address."}
	}
	maps.Copy(req.Header, head)
	req.Header.Set("User-Agent", "Mendry (checks that a page arrived)")
	r, err := v.http.Do(req)
	if err != nil {
		return Visit{}, fromError(err, req.URL.Host)
	}
	defer r.Body.Close()
	if r.StatusCode != http.StatusOK {
		return Visit{}, fromStatus(r.StatusCode, strings.TrimSuffix(address, "/"))
	}
	b, err := readAll(r, MaxFile)
	if err != nil {
		return Visit{}, fromError(err, req.URL.Host)
	}
	return Visit{
		Final:   r.Request.URL.String(),
		Content: Content{Bytes: b, Media: r.Header.Get("Content-Type")},
		Cache:   cache.Read(r.Header, time.Now(), true),
	}, nil
}
