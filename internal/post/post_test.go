package post

import (
	"context"
	"io"
	"mime"
	"mime/quotedprintable"
	"net"
	"net/mail"
	"os"
	"path/filepath"
	"strings"
	"testing"
	"time"

	"mendry/internal/standin"
)

// mailbox is a stand-in on loopback and the folder that it keeps letters in.
func mailbox(t *testing.T) (address, dir string) {
	t.Helper()
	l, err := net.Listen("tcp", "127.0.0.1:0")
	if err != nil {
		t.Fatal(err)
	}
	t.Cleanup(func() { _ = l.Close() })
	dir = t.TempDir()
	go func() { _ = (&standin.Mailbox{Dir: dir}).Serve(l) }()
	return l.Addr().String(), dir
}

// Letters are read back by the standard library's net/mail (RFC 5322) and mime (RFC 2047, RFC 2045).
func TestALetterArrivesAsItWasWritten(t *testing.T) {
	t.Parallel()
	address, dir := mailbox(t)
	s := Sender{Server: address, From: "Ines Oakley <ines@harbourlane.example>", Plain: true}
	text := "Dear Maren,\n\nthe café opens at 9 – look: http://localhost:8400/p/abc\n.\n" + strings.Repeat("a long line ", 40) + "\nInes\n"
	if err := s.Send(context.Background(), Letter{To: "maren@larkspur.example", Subject: "Your fares: £7.40 – please look", Text: text}); err != nil {
		t.Fatal(err)
	}
	files, err := filepath.Glob(filepath.Join(dir, "*.eml"))
	if err != nil || len(files) != 1 {
		t.Fatalf("%v %v", files, err)
	}
	f, err := os.Open(files[0])
	if err != nil {
		t.Fatal(err)
	}
	defer f.Close()
	m, err := mail.ReadMessage(f)
	if err != nil {
		t.Fatal(err)
	}
	subject, err := new(mime.WordDecoder).DecodeHeader(m.Header.Get("Subject"))
	if err != nil || subject != "Your fares: £7.40 – please look" {
		t.Errorf("subject %q %v", subject, err)
	}
	for field, want := range map[string]string{"From": "ines@harbourlane.example", "To": "maren@larkspur.example"} {
		if a, err := mail.ParseAddress(m.Header.Get(field)); err != nil || a.Address != want {
			t.Errorf("%s %v %v", field, a, err)
		}
	}
	if at, err := m.Header.Date(); err != nil || time.Since(at) > time.Minute {
		t.Errorf("date %v %v", at, err)
	}
	if id := m.Header.Get("Message-ID"); !strings.HasPrefix(id, "<") || !strings.Contains(id, "@") {
		t.Errorf("message id %q", id)
	}
	body := m.Body
	if m.Header.Get("Content-Transfer-Encoding") == "quoted-printable" {
		body = quotedprintable.NewReader(m.Body)
	}
	got, err := io.ReadAll(body)
	if err != nil || strings.ReplaceAll(strings.TrimRight(string(got), "\r\n"), "\r\n", "\n") != strings.TrimRight(text, "\n") {
		t.Errorf("%v\n%q", err, got)
	}
}

func TestWhatIsNoLetterIsNotSent(t *testing.T) {
	t.Parallel()
	address, dir := mailbox(t)
	good := Sender{Server: address, From: "ines@harbourlane.example", Plain: true}
	for name, c := range map[string]struct {
		by Sender
		to string
	}{
		"no receiver":           {good, ""},
		"half a receiver":       {good, "maren@"},
		"a header in a name":    {good, "maren@larkspur.example\r\nBcc: all@larkspur.example"},
		"no sender":             {Sender{Server: address, Plain: true}, "maren@larkspur.example"},
		"a server without port": {Sender{Server: "localhost", From: good.From, Plain: true}, "maren@larkspur.example"},
		"a port in letters":     {Sender{Server: "localhost:smtp", From: good.From, Plain: true}, "maren@larkspur.example"},
		"nobody there":          {Sender{Server: "127.0.0.1:1", From: good.From, Plain: true}, "maren@larkspur.example"},
		"no encryption offered": {Sender{Server: address, From: good.From}, "maren@larkspur.example"},
	} {
		if err := c.by.Send(context.Background(), Letter{To: c.to, Subject: "x", Text: "y"}); err == nil {
			t.Errorf("%s: it was sent", name)
		}
	}
	if files, err := filepath.Glob(filepath.Join(dir, "*")); err != nil || len(files) > 0 {
		t.Errorf("%v %v", files, err)
	}
}

func TestASubjectCannotBringHeadersOfItsOwn(t *testing.T) {
	t.Parallel()
	address, dir := mailbox(t)
	s := Sender{Server: address, From: "ines@harbourlane.example", Plain: true}
	if err := s.Send(context.Background(), Letter{To: "maren@larkspur.example", Subject: "Fares\r\nBcc: all@larkspur.example", Text: "y"}); err != nil {
		t.Fatal(err)
	}
	files, _ := filepath.Glob(filepath.Join(dir, "*.eml"))
	if len(files) != 1 {
		t.Fatalf("%v", files)
	}
	f, err := os.Open(files[0])
	if err != nil {
		t.Fatal(err)
	}
	defer f.Close()
	if m, err := mail.ReadMessage(f); err != nil || m.Header.Get("Bcc") != "" || m.Header.Get("Subject") != "Fares Bcc: all@larkspur.example" {
		t.Errorf("%v %v", m.Header, err)
	}
}
