// Package post sends mail (RFC 5322 over SMTP).
package post

import (
	"context"
	"fmt"
	"net"
	"strconv"
	"strings"
	"time"

	"github.com/wneessen/go-mail"
)

// Sender sends letters through one SMTP server.
type Sender struct {
	Server     string // host:port
	From       string // "Name <address>"
	User, Pass string
	// Plain allows a connection without TLS, for the stand-in mailbox on loopback.
	Plain bool
}

// Letter is one mail in plain text.
type Letter struct {
	To, Subject, Text string
}

// oneLine makes line ends in a subject blanks: a header goes on behind them (RFC 5322, 2.2).
var oneLine = strings.NewReplacer("\r\n", " ", "\r", " ", "\n", " ")

// Send sends a letter; it has been taken over by the server when there is no error.
func (s Sender) Send(ctx context.Context, l Letter) error {
	host, port, err := net.SplitHostPort(s.Server)
	if err != nil {
		return fmt.Errorf("mail server %q: %w", s.Server, err)
	}
	n, err := strconv.Atoi(port)
	if err != nil {
		return fmt.Errorf("mail server %q: %w", s.Server, err)
	}
	m := mail.NewMsg()
	if err := m.From(s.From); err != nil {
		return fmt.Errorf("sender %q: %w", s.From, err)
	}
	if err := m.To(l.To); err != nil {
		return fmt.Errorf("receiver %q: %w", l.To, err)
	}
	m.Subject(oneLine.Replace(l.Subject))
	m.SetDate()
	m.SetMessageID()
	m.SetBodyString(mail.TypeTextPlain, l.Text)
	opts := []mail.Option{mail.WithPort(n), mail.WithTimeout(15 * time.Second)}
	if s.Plain {
		opts = append(opts, mail.WithTLSPolicy(mail.NoTLS))
	} else {
		opts = append(opts, mail.WithTLSPolicy(mail.TLSMandatory))
	}
	if s.User != "" {
		opts = append(opts, mail.WithSMTPAuth(mail.SMTPAuthAutoDiscover), mail.WithUsername(s.User), mail.WithPassword(s.Pass))
	}
	c, err := mail.NewClient(host, opts...)
	if err != nil {
		return err
	}
	return c.DialAndSendWithContext(ctx, m)
}
