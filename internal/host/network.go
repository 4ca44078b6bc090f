package host

import (
	"crypto/tls"
	"errors"
	"fmt"
	"io"
	"net"
	"net/http"
	"net/netip"
	"net/url"
	"path"
	"slices"
	"strings"
	"syscall"
	"time"
)

// Network says which addresses may be reached.
type Network struct {
	// Loopback lets loopback and private addresses be reached, as the demo's stand-ins need it.
	Loopback bool
	// Folders are those of this machine in which sites may lie; none: sites lie on hosts only.
	Folders []string
	// Roots replaces the system's certificate authorities; nil keeps them.
	TLS *tls.Config
}

var errPrivate = errors.New("address is not public")

// dialer reaches public addresses only, unless the network allows more.
func (n Network) dialer() *net.Dialer {
	return &net.Dialer{Timeout: 10 * time.Second, Control: func(_, address string, _ syscall.RawConn) error {
		if n.Loopback {
			return nil
		}
		ap, err := netip.ParseAddrPort(address)
		if err != nil || !public(ap.Addr().Unmap()) {
			return errPrivate
		}
		return nil
	}}
}

// Client makes an HTTP client that reaches public addresses only, unless the network allows more. Each hop of a
// redirect is judged again, since each is dialled.
func (n Network) Client(timeout time.Duration, redirects int) *http.Client {
	d := n.dialer()
	return &http.Client{
		Timeout: timeout,
		Transport: &http.Transport{
			DialContext: d.DialContext, TLSClientConfig: n.TLS, MaxIdleConnsPerHost: 8, IdleConnTimeout: 60 * time.Second,
			TLSHandshakeTimeout: 10 * time.Second, ResponseHeaderTimeout: timeout, Proxy: nil, MaxResponseHeaderBytes: 64 << 10,
		},
		CheckRedirect: func(_ *http.Request, via []*http.Request) error {
			if len(via) > redirects {
				return http.ErrUseLastResponse
			}
			return nil
		},
	}
}

// special are ranges that lead to nobody's public host (IANA's registries of special-purpose addresses, RFC 6890), or through
// which another address is reached than the one that is judged.
var special = func() (all []netip.Prefix) {
	for _, s := range []string{
		"0.0.0.0/8", "100.64.0.0/10", "192.0.0.0/24", "192.0.2.0/24", "192.88.99.0/24", "198.18.0.0/15", "198.51.100.0/24", "203.0.113.0/24", "240.0.0.0/4",
		"64:ff9b::/96", "64:ff9b:1::/48", "100::/64", "2001::/23", "2001:db8::/32", "2002::/16", "3fff::/20", "5f00::/16", "fec0::/10", "::/96", "::ffff:0:0/96",
	} {
		all = append(all, netip.MustParsePrefix(s))
	}
	return all
}()

func public(a netip.Addr) bool {
	return a.IsGlobalUnicast() && !a.IsPrivate() && !a.IsLinkLocalUnicast() && !slices.ContainsFunc(special, func(p netip.Prefix) bool { return p.Contains(a.WithZone("")) })
}

// pageNames end the address of a page; its folder is meant.
var pageNames = []string{".html", ".htm", ".xhtml", ".php", ".md"}

// Address reads the address of a host or site; that of a page stands for the folder that the page is in.
func Address(s string) (*url.URL, error) {
	u, err := url.Parse(strings.TrimSpace(s))
	if err != nil || u.Host == "" || u.Scheme != "http" && u.Scheme != "https" || u.User != nil {
		return nil, &Problem{
			Kind: Odd,
			Say: fmt.Sprintf(
				"“%s” is no address. Write it like https://www.example.org/ and put name and password into their own fields.",
				s,
			),
		}
	}
	if slices.Contains(pageNames, strings.ToLower(path.Ext(u.Path))) {
		u.Path, u.RawPath = path.Dir(u.Path), ""
	}
	if !strings.HasSuffix(u.Path, "/") {
		u.Path += "/"
	}
	u.RawQuery, u.Fragment = "", ""
	return u, nil
}

// readAll reads a body of a known length to its end, up to a limit.
func readAll(r *http.Response, limit int64) ([]byte, error) {
	b, err := io.ReadAll(io.LimitReader(r.Body, limit+1))
	if err != nil {
		return nil, err
	}
	if int64(len(b)) > limit {
		return nil, &Problem{
			Kind: Odd,
			Say:  fmt.Sprintf("The file has more than %d MB; Mendry does not take in files of that size.", limit>>20),
		}
	}
	if r.ContentLength >= 0 && int64(len(b)) != r.ContentLength {
		return nil, io.ErrUnexpectedEOF
	}
	return b, nil
}
