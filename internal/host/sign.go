package host

import (
	"net/http"
	"strings"
	"sync/atomic"

	"github.com/icholy/digest"
)

// signing signs every call by what the host asks for: Digest (RFC 7616) where it can, Basic (RFC 7617) otherwise. The
// password is not sent before the host has asked for it.
type signing struct {
	user, pass string
	plain      http.RoundTripper
	digest     digest.Transport
	basic      atomic.Bool // the host has asked for Basic
}

func newSigning(user, pass string, plain http.RoundTripper) *signing {
	return &signing{
		user:   user,
		pass:   pass,
		plain:  plain,
		digest: digest.Transport{Username: user, Password: pass, Transport: plain},
	}
}

func (s *signing) RoundTrip(req *http.Request) (*http.Response, error) {
	if s.user == "" && s.pass == "" {
		return s.plain.RoundTrip(req)
	}
	if s.basic.Load() {
		return s.signed(req)
	}
	r, err := s.digest.RoundTrip(req)
	if err != nil || r.StatusCode != http.StatusUnauthorized || !asksBasic(r.Header) {
		return r, err
	}
	if req.GetBody != nil {
		if req.Body, err = req.GetBody(); err != nil {
			return r, nil
		}
	}
	_ = r.Body.Close()
	s.basic.Store(true)
	return s.signed(req)
}

func (s *signing) signed(req *http.Request) (*http.Response, error) {
	c := req.Clone(req.Context())
	c.SetBasicAuth(s.user, s.pass)
	return s.plain.RoundTrip(c)
}

func asksBasic(h http.Header) bool {
	for _, c := range h.Values("WWW-Authenticate") {
		if len(c) >= 5 && strings.EqualFold(c[:5], "basic") {
			return true
		}
	}
	return false
}
