package host

import (
	"context"
	"crypto/tls"
	"crypto/x509"
	"errors"
	"fmt"
	"io"
	"net"
	"net/http"
	"strings"

	"mendry/internal/core/refusal"
)

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
	Torn        Kind = "torn" // stored in part
	Private     Kind = "private"
	Odd         Kind = "odd"
)

// Problem is what went wrong with a host, in words for the person who works with the site.
type Problem struct {
	Kind   Kind
	Status int // of HTTP, 0 where there was no answer
	Say    string
	Led    string // the address on another host to which a redirect led, and which did not answer
}

func (p *Problem) Error() string { return p.Say }

// Unwrap lets a problem be taken for the refusal that it is.
func (p *Problem) Unwrap() error { return refusal.New(refusal.Away, "%s", p.Say) }

// Is reports whether err is a Problem of a kind.
func Is(err error, k Kind) bool {
	var p *Problem
	return errors.As(err, &p) && p.Kind == k
}

// fromStatus says in words what an answer other than success means.
func fromStatus(status int, name string) error {
	p := &Problem{Status: status}
	switch {
	case status == http.StatusUnauthorized:
		p.Kind, p.Say = Password, "The host does not accept the name and password. Correct them in the site's settings."
	case status == http.StatusForbidden:
		p.Kind, p.Say = Forbidden, fmt.Sprintf(
			"The host accepts the password but does not allow this for %s. Ask whoever runs the host for the right to write there.",
			name,
		)
	case status == http.StatusNotFound || status == http.StatusGone:
		what := "no " + name
		if of, one := strings.CutPrefix(name, "the "); one {
			what = "no such " + of
		}
		p.Kind, p.Say = Gone, fmt.Sprintf("There is %s on the host. Check the host's address, or take in the site again.", what)
	case status == http.StatusPreconditionFailed:
		p.Kind, p.Say = Changed, fmt.Sprintf(
			"%s was changed by somebody else since it was last read. Nothing was overwritten.",
			name,
		)
	case status == http.StatusLocked:
		p.Kind, p.Say = Locked, fmt.Sprintf(
			"%s is locked on the host: somebody else is editing it. Try again when they are done.",
			name,
		)
	case status == http.StatusInsufficientStorage:
		p.Kind, p.Say = Full, fmt.Sprintf("The host has no room left for %s. Free some room there, then go on.", name)
	case status == http.StatusRequestTimeout || status == http.StatusGatewayTimeout:
		p.Kind, p.Say = Slow, fmt.Sprintf("The host took too long over %s. Try again in a few minutes.", name)
	case status >= 500:
		p.Kind, p.Say = Broken, fmt.Sprintf(
			"The host failed over %s (error %d). Try again in a few minutes; if it stays so, tell whoever runs the host.",
			name,
			status,
		)
	case status == http.StatusMethodNotAllowed || status == http.StatusNotImplemented:
		p.Kind, p.Say = Forbidden, fmt.Sprintf(
			"The host does not take files there: it refuses to write %s (%d). Ask whoever runs it to allow writing over WebDAV in that folder.",
			name,
			status,
		)
	case status == http.StatusConflict:
		p.Kind, p.Say = Odd, fmt.Sprintf(
			"The host has no folder for %s and did not make one (409). Make the folder there, then go on.",
			name,
		)
	case status >= 300 && status < 400:
		p.Kind, p.Say = Odd, fmt.Sprintf(
			"The host sends %s elsewhere (answer %d). Enter the address to which it leads.",
			name,
			status,
		)
	case status == http.StatusBadRequest:
		p.Kind, p.Say = Odd, fmt.Sprintf(
			"The host did not understand what was asked for %s (400). If its address begins with http://, try https://.",
			name,
		)
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
		return &Problem{
			Kind: Private,
			Say: fmt.Sprintf(
				"%s is an address inside a private network. Mendry reaches public addresses only.",
				address,
			),
		}
	case errors.Is(err, http.ErrSchemeMismatch):
		return &Problem{
			Kind: Odd,
			Say: fmt.Sprintf(
				"%s answers without TLS, and the address says https. Write http:// if the host has nothing else, or the port on which it speaks https.",
				address,
			),
		}
	case strings.Contains(err.Error(), `malformed HTTP response "\x15\x03`):
		return &Problem{
			Kind: Odd,
			Say:  fmt.Sprintf("%s speaks https, and the address says http. Write https://.", address),
		}
	case errors.As(err, &cert) || errors.As(err, &record):
		return &Problem{
			Kind: Certificate,
			Say: fmt.Sprintf(
				"The certificate of %s cannot be trusted, so nothing was sent: %s",
				address,
				certificateReason(err),
			),
		}
	case errors.As(err, &dns) && dns.IsNotFound:
		return &Problem{
			Kind: Down,
			Say:  fmt.Sprintf("There is no host with the name in %s. Look for a typing error.", address),
		}
	case errors.Is(err, io.ErrUnexpectedEOF) || errors.Is(err, io.EOF):
		return &Problem{
			Kind: Short,
			Say: fmt.Sprintf(
				"The answer from %s broke off before its end. Nothing of it was used; try again.",
				address,
			),
		}
	case errors.As(err, &timeout) && timeout.Timeout():
		return &Problem{
			Kind: Slow,
			Say:  fmt.Sprintf("%s took too long to answer. Try again in a few minutes.", address),
		}
	}
	return &Problem{
		Kind: Down,
		Say:  fmt.Sprintf("%s cannot be reached. Check the address, or try again when the host is up.", address),
	}
}

func certificateReason(err error) string {
	var of x509.HostnameError
	var invalid x509.CertificateInvalidError
	var unknown x509.UnknownAuthorityError
	switch {
	case errors.As(err, &of):
		names := of.Certificate.DNSNames
		for _, ip := range of.Certificate.IPAddresses {
			names = append(names, ip.String())
		}
		if len(names) == 0 {
			return "it names no host. Ask whoever runs the host for one that does."
		}
		return fmt.Sprintf("it is for %s. Write that name in the address, or ask whoever runs the host.", strings.Join(names[:min(len(names), 3)], ", "))
	case errors.As(err, &invalid) && invalid.Reason == x509.Expired:
		return "its time is over, or has not begun. Whoever runs the host has to renew it."
	case errors.As(err, &unknown):
		return "nobody whom browsers trust has signed it. Ask whoever runs the host for one that is."
	case errors.As(err, &invalid):
		return "browsers would not take it either. Ask whoever runs the host for another one."
	}
	return "the host does not speak TLS there. Check the address and the port."
}
