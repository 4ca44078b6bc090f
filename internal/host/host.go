// Package host reads and writes sites where they live. One file a kind of host.
package host

import (
	"context"
	"crypto/tls"
	"errors"
	"fmt"
	"io"
	"net"
	"net/http"
	"net/netip"
	"net/url"
	"strings"
	"syscall"
	"time"

	"mendry/internal/core/refusal"
)

// File is a file on a host.
type File struct {
	Path string // below the site's folder, without a slash at the beginning
	Size int64  // bytes
}

// Content is a file as it was read.
type Content struct {
	Bytes []byte
	ETag  string // empty where the host gives none
	Media string
}

// Host is where a site's files live. Its errors are Problems, but for what ended with its context.
type Host interface {
	// List lists the files of the site, folders walked; found is called as it goes on and may be nil.
	List(ctx context.Context, found func(n int)) ([]File, error)
	// Read reads a file.
	Read(ctx context.Context, file string) (Content, error)
	// Write writes a file over the one that was last read with this tag, or as a new one where tag is empty, and returns
	// the new tag, empty where the host gives none. An edit by others in between is a Problem of kind Changed.
	Write(ctx context.Context, file string, b []byte, tag string) (string, error)
	// Remove removes the file that was last read with this tag.
	Remove(ctx context.Context, file, tag string) error
	// Knows says what can be relied on.
	Knows() Knows
}

// Knows is what can be relied on with a host.
type Knows struct {
	Conditional bool // a write can be made to depend on the tag of what was read (RFC 9110, 13.1)
}

// Reach is how a host is reached.
type Reach struct {
	Kind       string // as in kinds
	URL        string
	User, Pass string
}

// kinds are the kinds of hosts, one file each.
var kinds = map[string]func(Network, Reach, time.Duration) (Host, error){
	"webdav": func(n Network, r Reach, timeout time.Duration) (Host, error) {
		return NewWebDAV(n, r.URL, r.User, r.Pass, timeout)
	},
}

// Open reaches a host.
func Open(n Network, r Reach, timeout time.Duration) (Host, error) {
	open := kinds[r.Kind]
	if open == nil {
		return nil, &Problem{Kind: Odd, Say: fmt.Sprintf("Mendry knows no kind of host “%s”.", r.Kind)}
	}
	return open(n, r, timeout)
}

// Kind is the kind of a Problem.
type Kind string

// The kinds of problems.
const (
	Down        Kind = "down"
	Certificate Kind = "certificate"
	Password    Kind = "password"
	Forbidden   Kind = "forbidden"
	Gone        Kind = "gone"
	Changed     Kind = "changed"
	Locked      Kind = "locked"
	Broken      Kind = "broken"
	Full        Kind = "full"
	Slow        Kind = "slow"
	Short       Kind = "short"
	Private     Kind = "private"
	Odd         Kind = "odd"
)

// Problem is what went wrong with a host, in words for the person who works with the site.
type Problem struct {
	Kind   Kind
	Status int // of HTTP, 0 where there was no answer
	Say    string
}

func (p *Problem) Error() string { return p.Say }

// Unwrap lets a problem be taken for the refusal that it is.
func (p *Problem) Unwrap() error { return refusal.New(refusal.Away, "%s", p.Say) }

// Is reports whether err is a Problem of a kind.
func Is(err error, k Kind) bool {
	var p *Problem
	return errors.As(err, &p) && p.Kind == k
}

// Network says which addresses may be reached.
type Network struct {
	// Loopback lets loopback and private addresses be reached, as the demo's stand-ins need it.
	Loopback bool
	// Roots replaces the system's certificate authorities; nil keeps them.
	TLS *tls.Config
}

var errPrivate = errors.New("address is not public")

// Client makes an HTTP client that reaches public addresses only, unless the network allows more. Each hop of a
// redirect is judged again, since each is dialled.
func (n Network) Client(timeout time.Duration, redirects int) *http.Client {
	d := &net.Dialer{Timeout: 10 * time.Second, Control: func(_, address string, _ syscall.RawConn) error {
		if n.Loopback {
			return nil
		}
		ap, err := netip.ParseAddrPort(address)
		if err != nil || !public(ap.Addr().Unmap()) {
			return errPrivate
		}
		return nil
	}}
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

func public(a netip.Addr) bool {
	cgn := netip.MustParsePrefix("100.64.0.0/10")
	return a.IsGlobalUnicast() && !a.IsPrivate() && !a.IsLoopback() && !a.IsLinkLocalUnicast() && !cgn.Contains(a)
}

// Address reads the address of a host or site.
func Address(s string) (*url.URL, error) {
	u, err := url.Parse(strings.TrimSpace(s))
	if err != nil || u.Host == "" || u.Scheme != "http" && u.Scheme != "https" || u.User != nil {
		return nil, &Problem{Kind: Odd, Say: fmt.Sprintf("“%s” is no address. Write it like https://www.example.org/ and put name and password into their own fields.", s)}
	}
	if !strings.HasSuffix(u.Path, "/") {
		u.Path += "/"
	}
	u.RawQuery, u.Fragment = "", ""
	return u, nil
}

// fromStatus says in words what an answer other than success means.
func fromStatus(status int, name string) error {
	p := &Problem{Status: status}
	switch {
	case status == http.StatusUnauthorized:
		p.Kind, p.Say = Password, "The host does not accept the name and password. Correct them in the site's settings."
	case status == http.StatusForbidden:
		p.Kind, p.Say = Forbidden, fmt.Sprintf("The host accepts the password but does not allow this for %s. Ask whoever runs the host for the right to write there.", name)
	case status == http.StatusNotFound || status == http.StatusGone:
		p.Kind, p.Say = Gone, fmt.Sprintf("There is no %s on the host. Check the host's address, or take in the site again.", name)
	case status == http.StatusPreconditionFailed:
		p.Kind, p.Say = Changed, fmt.Sprintf("%s was changed by somebody else since it was last read. Nothing was overwritten.", name)
	case status == http.StatusLocked:
		p.Kind, p.Say = Locked, fmt.Sprintf("%s is locked on the host: somebody else is editing it. Try again when they are done.", name)
	case status == http.StatusInsufficientStorage:
		p.Kind, p.Say = Full, fmt.Sprintf("The host has no room left for %s. Free some room there, then go on.", name)
	case status == http.StatusRequestTimeout || status == http.StatusGatewayTimeout:
		p.Kind, p.Say = Slow, fmt.Sprintf("The host took too long over %s. Try again in a few minutes.", name)
	case status >= 500:
		p.Kind, p.Say = Broken, fmt.Sprintf("The host failed over %s (error %d). Try again in a few minutes; if it stays so, tell whoever runs the host.", name, status)
	case status >= 300 && status < 400:
		p.Kind, p.Say = Odd, fmt.Sprintf("The host sends %s elsewhere (answer %d). Enter the address to which it leads.", name, status)
	default:
		p.Kind, p.Say = Odd, fmt.Sprintf("The host gave an answer that makes no sense for %s (%d).", name, status)
	}
	return p
}

// fromError says in words why there was no answer.
func fromError(err error, address string) error {
	var p *Problem
	if err == nil || errors.As(err, &p) {
		return err
	}
	var cert *tls.CertificateVerificationError
	var record tls.RecordHeaderError
	var timeout net.Error
	var dns *net.DNSError
	switch {
	case errors.Is(err, context.Canceled):
		return err
	case errors.Is(err, errPrivate):
		return &Problem{Kind: Private, Say: fmt.Sprintf("%s is an address inside a private network. Mendry reaches public addresses only.", address)}
	case errors.As(err, &cert) || errors.As(err, &record):
		return &Problem{Kind: Certificate, Say: fmt.Sprintf("The certificate of %s cannot be trusted, so nothing was sent: %s", address, certificateReason(err))}
	case errors.As(err, &dns) && dns.IsNotFound:
		return &Problem{Kind: Down, Say: fmt.Sprintf("There is no host with the name in %s. Look for a typing error.", address)}
	case errors.Is(err, io.ErrUnexpectedEOF) || errors.Is(err, io.EOF):
		return &Problem{Kind: Short, Say: fmt.Sprintf("The answer from %s broke off before its end. Nothing of it was used; try again.", address)}
	case errors.As(err, &timeout) && timeout.Timeout():
		return &Problem{Kind: Slow, Say: fmt.Sprintf("%s took too long to answer. Try again in a few minutes.", address)}
	}
	return &Problem{Kind: Down, Say: fmt.Sprintf("%s cannot be reached. Check the address, or try again when the host is up.", address)}
}

func certificateReason(err error) string {
	s := err.Error()
	switch {
	case strings.Contains(s, "expired"):
		return "it has expired. Whoever runs the host has to renew it."
	case strings.Contains(s, "valid for") || strings.Contains(s, "not "):
		return "it belongs to another name or to nobody known. Check the address, or ask whoever runs the host."
	}
	return "the host does not speak TLS there. Check the address."
}

// readAll reads a body of a known length to its end, up to a limit.
func readAll(r *http.Response, limit int64) ([]byte, error) {
	b, err := io.ReadAll(io.LimitReader(r.Body, limit+1))
	if err != nil {
		return nil, err
	}
	if int64(len(b)) > limit {
		return nil, &Problem{Kind: Odd, Say: fmt.Sprintf("The file has more than %d MB; Mendry does not take in files of that size.", limit>>20)}
	}
	if r.ContentLength >= 0 && int64(len(b)) != r.ContentLength {
		return nil, io.ErrUnexpectedEOF
	}
	return b, nil
}
