package host

import (
	"context"
	"errors"
	"fmt"
	"io"
	"net"
	"strings"
	"time"

	"golang.org/x/crypto/ssh"
)

// secureLine is a host that is reached over SSH (RFC 4251), known by the key that it showed first.
type secureLine struct {
	net     Network
	address string // host:port
	reach   Reach
	timeout time.Duration
	met     string // the key that the host showed, as in known_hosts
}

// dial signs in at the host. Until the timeout is over nothing else limits it; the caller lifts the connection's
// deadline.
func (s *secureLine) dial(ctx context.Context) (*ssh.Client, net.Conn, error) {
	auth, err := s.auth()
	if err != nil {
		return nil, nil, err
	}
	conn, err := s.net.dialer().DialContext(ctx, "tcp", s.address)
	if err != nil {
		return nil, nil, fromError(err, s.address)
	}
	_ = conn.SetDeadline(time.Now().Add(s.timeout))
	c := &ssh.ClientConfig{User: s.reach.User, Auth: auth, HostKeyCallback: s.known, Timeout: s.timeout}
	if k, _, _, _, err := ssh.ParseAuthorizedKey([]byte(s.reach.Pinned)); err == nil { // a host has several keys
		c.HostKeyAlgorithms = algorithms(k.Type())
	}
	tunnel, channels, requests, err := ssh.NewClientConn(conn, s.address, c)
	if err != nil {
		_ = conn.Close()
		return nil, nil, s.fromSSH(err)
	}
	return ssh.NewClient(tunnel, channels, requests), conn, nil
}

func (s *secureLine) auth() ([]ssh.AuthMethod, error) {
	if s.reach.Key == "" {
		ask := func(_, _ string, questions []string, _ []bool) ([]string, error) {
			answers := make([]string, len(questions))
			for i := range answers {
				answers[i] = s.reach.Pass
			}
			return answers, nil
		}
		return []ssh.AuthMethod{ssh.Password(s.reach.Pass), ssh.KeyboardInteractive(ask)}, nil
	}
	signer, err := ssh.ParsePrivateKey([]byte(s.reach.Key))
	var locked *ssh.PassphraseMissingError
	if errors.As(err, &locked) {
		signer, err = ssh.ParsePrivateKeyWithPassphrase([]byte(s.reach.Key), []byte(s.reach.Pass))
	}
	if err != nil {
		return nil, &Problem{
			Kind: Password,
			Say:  "The private key cannot be read. Paste all of it, its first and last line too, and put its passphrase, if it has one, into the field of the password.",
		}
	}
	return []ssh.AuthMethod{ssh.PublicKeys(signer)}, nil
}

// Fingerprint is a host's key as people compare it (OpenSSH: ssh-keygen -l).
func Fingerprint(known string) string {
	k, _, _, _, err := ssh.ParseAuthorizedKey([]byte(known))
	if err != nil {
		return known
	}
	return ssh.FingerprintSHA256(k)
}

// known checks the host's key against the one that it showed first.
func (s *secureLine) known(_ string, _ net.Addr, key ssh.PublicKey) error {
	s.met = strings.TrimSpace(string(ssh.MarshalAuthorizedKey(key)))
	if s.reach.Pinned == "" || s.reach.Pinned == s.met {
		return nil
	}
	return &Problem{
		Kind: Certificate,
		Say: fmt.Sprintf(
			"The host shows another key than before: %s in the place of %s. Nothing was sent. Ask whoever runs the host whether they changed it; if so, accept the new key on the site's page.",
			ssh.FingerprintSHA256(key),
			Fingerprint(s.reach.Pinned),
		),
	}
}

// algorithms are the signatures that a key of a type can make (RFC 8332 for RSA).
func algorithms(keyType string) []string {
	if keyType == ssh.KeyAlgoRSA {
		return []string{ssh.KeyAlgoRSASHA512, ssh.KeyAlgoRSASHA256, ssh.KeyAlgoRSA}
	}
	return []string{keyType}
}

func (s *secureLine) fromSSH(err error) error {
	var p *Problem
	switch {
	case errors.As(err, &p):
		return p
	case strings.Contains(err.Error(), "unable to authenticate"),
		strings.Contains(err.Error(), "unexpected message type 51"): // SSH_MSG_USERAUTH_FAILURE (RFC 4252, 5.1) to keyboard-interactive
		if s.reach.Key != "" {
			return &Problem{Kind: Password, Status: 401, Say: "The host does not accept the key. Ask whoever runs it to let its public half in for this name, or enter another one in the site's settings."}
		}
		return fromStatus(401, s.address)
	case strings.Contains(err.Error(), "no common algorithm"):
		return &Problem{
			Kind: Certificate,
			Say: fmt.Sprintf(
				"%s no longer shows the key that Mendry knows, nor one of its kind. Nothing was sent. Ask whoever runs the host whether they changed it; if so, accept the new key on the site's page.",
				s.address,
			),
		}
	case errors.Is(err, io.EOF) || strings.Contains(err.Error(), "EOF") || strings.Contains(err.Error(), "overflow") || strings.Contains(err.Error(), "version"):
		return &Problem{
			Kind: Odd,
			Say:  fmt.Sprintf("What answers at %s does not speak SSH. Look at the name and the port.", s.address),
		}
	}
	return fromError(err, s.address)
}
