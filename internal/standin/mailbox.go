package standin

import (
	"bytes"
	"errors"
	"fmt"
	"html/template"
	"io"
	"net"
	"net/http"
	"os"
	"path/filepath"
	"regexp"
	"sort"
	"strings"
	"sync"
	"time"

	"github.com/emersion/go-message/mail"
	"github.com/emersion/go-smtp"
)

// Mailbox takes in mail over SMTP, keeps it as RFC 5322 files, and shows it on a page.
type Mailbox struct {
	Dir string

	mu     sync.Mutex
	server *smtp.Server
}

// Letter is a mail as it was taken in.
type Letter struct {
	File    string
	To      string
	Subject string
	At      time.Time
	Text    string
}

// Serve takes in mail on l until it is closed.
func (m *Mailbox) Serve(l net.Listener) error {
	if err := os.MkdirAll(m.Dir, 0o755); err != nil {
		return err
	}
	s := smtp.NewServer(m)
	s.Domain, s.AllowInsecureAuth = "mailbox.example", true
	s.MaxMessageBytes, s.MaxRecipients = 40<<20, 20
	s.ReadTimeout, s.WriteTimeout = 20*time.Second, 20*time.Second
	m.mu.Lock()
	m.server = s
	m.mu.Unlock()
	return s.Serve(l)
}

// NewSession implements smtp.Backend.
func (m *Mailbox) NewSession(*smtp.Conn) (smtp.Session, error) { return &session{box: m}, nil }

type session struct {
	box *Mailbox
	to  []string
}

func (s *session) Mail(string, *smtp.MailOptions) error { return nil }

func (s *session) Rcpt(to string, _ *smtp.RcptOptions) error {
	s.to = append(s.to, to)
	return nil
}

func (s *session) Data(r io.Reader) error {
	b, err := io.ReadAll(r)
	if err != nil {
		return err
	}
	s.box.mu.Lock()
	defer s.box.mu.Unlock()
	name := fmt.Sprintf("%d.eml", time.Now().UnixNano())
	return writeWhole(filepath.Join(s.box.Dir, name), b)
}

func (s *session) Reset() { s.to = nil }

func (s *session) Logout() error { return nil }

// Letters lists what was taken in, newest first.
func (m *Mailbox) Letters() ([]Letter, error) {
	files, err := filepath.Glob(filepath.Join(m.Dir, "*.eml"))
	if err != nil {
		return nil, err
	}
	sort.Sort(sort.Reverse(sort.StringSlice(files)))
	var ls []Letter
	for _, f := range files {
		l, err := read(f)
		if err != nil {
			continue // half a letter is none
		}
		ls = append(ls, l)
	}
	return ls, nil
}

func read(file string) (Letter, error) {
	b, err := os.ReadFile(file)
	if err != nil {
		return Letter{}, err
	}
	r, err := mail.CreateReader(bytes.NewReader(b))
	if err != nil {
		return Letter{}, err
	}
	l := Letter{File: filepath.Base(file)}
	l.Subject, _ = r.Header.Subject()
	l.At, _ = r.Header.Date()
	if to, err := r.Header.AddressList("To"); err == nil {
		for _, a := range to {
			l.To += a.Address + " "
		}
	}
	for {
		p, err := r.NextPart()
		if errors.Is(err, io.EOF) {
			return l, nil
		}
		if err != nil {
			return l, err
		}
		if h, ok := p.Header.(*mail.InlineHeader); ok {
			if t, _, _ := h.ContentType(); t == "text/plain" || t == "" {
				text, err := io.ReadAll(io.LimitReader(p.Body, 1<<20))
				if err != nil {
					return l, err
				}
				l.Text += string(text)
			}
		}
	}
}

var address = regexp.MustCompile(`https?://[^\s<>"]+`)

var mailPage = template.Must(template.New("mail").Funcs(template.FuncMap{"links": func(s string) template.HTML {
	s = template.HTMLEscapeString(s)
	return template.HTML(address.ReplaceAllString(s, `<a href="$0">$0</a>`)) // the text was escaped before
}}).Parse(`<!doctype html><html lang="en"><meta charset="utf-8"><meta name="viewport" content="width=device-width">
<title>Stand-in mailbox</title><style>body{font:16px/1.5 sans-serif;max-width:44rem;margin:2rem auto;padding:0 1rem;background:#f1ede3;color:#1a2136}
article{background:#fffdf8;border:1px solid #d8cfbc;padding:1rem 1.25rem;margin:1rem 0}h2{font-size:1.1rem;margin:0}p{margin:.25rem 0;color:#575b68}pre{white-space:pre-wrap;font:inherit;overflow-wrap:anywhere}</style>
<h1>Stand-in mailbox</h1><p>Every letter that Mendry sent in this demo. Nothing leaves this machine.</p>
{{range .}}<article><h2>{{.Subject}}</h2><p>to {{.To}} · {{.At.Format "2 January 2006, 15:04"}}</p><pre>{{links .Text}}</pre></article>{{else}}<p>No letter yet.</p>{{end}}</html>`))

// ServeHTTP shows the mailbox.
func (m *Mailbox) ServeHTTP(w http.ResponseWriter, r *http.Request) {
	ls, err := m.Letters()
	if err != nil {
		http.Error(w, "The mailbox cannot be read.", http.StatusInternalServerError)
		return
	}
	w.Header().Set("Content-Type", "text/html; charset=utf-8")
	w.Header().Set("Content-Security-Policy", "default-src 'none'; style-src 'unsafe-inline'")
	if err := mailPage.Execute(w, ls); err != nil && !strings.Contains(err.Error(), "broken pipe") {
		http.Error(w, "The mailbox cannot be shown.", http.StatusInternalServerError)
	}
}
