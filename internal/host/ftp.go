package host

import (
	"bytes"
	"cmp"
	"context"
	"crypto/tls"
	"errors"
	"fmt"
	"io"
	"io/fs"
	"net"
	"net/textproto"
	"net/url"
	"os"
	"path"
	"regexp"
	"strings"
	"sync"
	"time"

	"github.com/jlaffaye/ftp"
)

// transfer is a host that is spoken to over FTP (RFC 959) under TLS (RFC 4217), or, where its address says so, in the
// open. One thing is done at a time, on one connection, which is opened when it is needed.
type transfer struct {
	net     Network
	address string // host:port
	name    string // of the host, as its certificate has to say it
	secure  bool
	root    string
	reach   Reach
	timeout time.Duration

	mu   sync.Mutex
	conn *ftp.ServerConn
	mlst bool // the server tells of one file (RFC 3659, 7)
	idle *time.Timer
}

// NewFTP reaches the folder of a site by its address, ftps://host/site/, or ftp://host/site/ where it is to be in the
// open.
func NewFTP(n Network, r Reach, timeout time.Duration) (Host, error) {
	u, err := url.Parse(strings.TrimSpace(r.URL))
	if err != nil || u.Scheme != "ftps" && u.Scheme != "ftp" || u.Hostname() == "" || u.User != nil {
		return nil, &Problem{
			Kind: Odd,
			Say: fmt.Sprintf(
				"“%s” is no address of a folder over FTP. Write it like ftps://host.example/site/, and put name and password into their own fields. ftp:// sends both, and every page, in the open.",
				r.URL,
			),
		}
	}
	t := &transfer{
		net: n, address: net.JoinHostPort(u.Hostname(), cmp.Or(u.Port(), "21")), name: u.Hostname(), secure: u.Scheme == "ftps",
		root: path.Clean("/" + u.Path), reach: r, timeout: timeout, mlst: true,
	}
	return newFiles(t, r.By), nil
}

func (t *transfer) at(name string) string { return path.Join(t.root, name) }

// open opens the connection and signs in; the lock is held.
func (t *transfer) open() error {
	options := []ftp.DialOption{ftp.DialWithShutTimeout(t.timeout)}
	var under *tls.Config
	if t.secure {
		under = &tls.Config{MinVersion: tls.VersionTLS12}
		if t.net.TLS != nil {
			under = t.net.TLS.Clone()
		}
		// Servers want the same session for data.
		under.ServerName, under.ClientSessionCache = t.name, tls.NewLRUClientSessionCache(8)
		options = append(options, ftp.DialWithExplicitTLS(under))
	}
	var control *patientLine
	options = append(options, ftp.DialWithDialFunc(func(network, address string) (net.Conn, error) {
		c, err := t.net.dialer().Dial(network, address)
		if err != nil {
			return nil, err
		}
		l := &patientLine{Conn: c, patience: t.timeout}
		switch {
		case control == nil: // which is put under TLS when both agree
			l.until = time.Now().Add(t.timeout)
			control = l
		case under != nil:
			return tls.Client(l, under), nil
		}
		return l, nil
	}))
	conn, err := ftp.Dial(t.address, options...)
	if err == nil {
		err = conn.Login(t.reach.User, t.reach.Pass)
	}
	if err != nil {
		if control != nil {
			_ = control.Close() // a host that says nothing would be waited for once more by a farewell
		}
		return t.say(err)
	}
	control.until = time.Time{}
	t.conn = conn
	return nil
}

// patientLine is a line on which nothing is waited for longer than so long, and signing in no longer as a whole.
type patientLine struct {
	net.Conn
	patience time.Duration
	until    time.Time // zero when signed in
}

func (l *patientLine) limit() {
	at := time.Now().Add(l.patience)
	if !l.until.IsZero() && l.until.Before(at) {
		at = l.until
	}
	_ = l.SetDeadline(at)
}

func (l *patientLine) Read(b []byte) (int, error) {
	l.limit()
	return l.Conn.Read(b)
}

func (l *patientLine) Write(b []byte) (int, error) {
	l.limit()
	return l.Conn.Write(b)
}

// wantsTLS is in what vsftpd, ProFTPD and Pure-FTPd say to somebody who signs in in the open (from their sources, by memory).
var wantsTLS = regexp.MustCompile(`(?i)\b(TLS|SSL|encrypt\w*|AUTH)\b`)

// say says in words why there is no connection.
func (t *transfer) say(err error) error {
	var no *textproto.Error
	switch {
	case errors.As(err, &no) && !t.secure && wantsTLS.MatchString(no.Msg):
		return &Problem{Kind: Odd, Say: fmt.Sprintf("%s lets nobody in without TLS (%d %s). Write ftps:// in the address.", t.address, no.Code, no.Msg)}
	case errors.As(err, &no) && no.Code == ftp.StatusNotLoggedIn:
		return fromStatus(401, t.address)
	case errors.As(err, &no) && t.secure:
		return &Problem{
			Kind: Certificate,
			Say: fmt.Sprintf(
				"%s does not speak FTP under TLS (%d %s), so nothing was sent. Ask whoever runs the host to switch it on; ftp:// in the address sends all in the open.",
				t.address,
				no.Code,
				no.Msg,
			),
		}
	case errors.As(err, &no):
		return &Problem{Kind: Odd, Say: fmt.Sprintf("%s does not let Mendry in: %d %s.", t.address, no.Code, no.Msg)}
	}
	var wrong textproto.ProtocolError
	if errors.As(err, &wrong) {
		return &Problem{
			Kind: Odd,
			Say:  fmt.Sprintf("What answers at %s does not speak FTP. Look at the name and the port.", t.address),
		}
	}
	return fromError(err, t.address)
}

// read does something that can be done again where the connection was lost; do is for what is not done twice.
func (t *transfer) read(ctx context.Context, act func(c *ftp.ServerConn) error) error {
	return t.use(ctx, 1, act)
}

func (t *transfer) do(ctx context.Context, act func(c *ftp.ServerConn) error) error {
	return t.use(ctx, 0, act)
}

func (t *transfer) use(ctx context.Context, again int, act func(c *ftp.ServerConn) error) error {
	t.mu.Lock()
	defer t.mu.Unlock()
	if t.idle != nil {
		t.idle.Stop()
	}
	defer func() { t.idle = time.AfterFunc(idleAfter, t.close) }()
	for try := 0; ; try++ {
		if err := ctx.Err(); err != nil {
			return err
		}
		if t.conn == nil {
			if err := t.open(); err != nil {
				return err
			}
		}
		err := t.within(ctx, act)
		var answered *textproto.Error
		var p *Problem
		lost := err != nil && !errors.As(err, &p) && !errors.Is(err, fs.ErrNotExist) && !errors.Is(err, fs.ErrExist) &&
			(!errors.As(err, &answered) || answered.Code == ftp.StatusNotAvailable || answered.Code == ftp.StatusTransfertAborted)
		if lost {
			go func(c *ftp.ServerConn) { _ = c.Quit() }(t.conn)
			t.conn = nil
		}
		switch {
		case ctx.Err() != nil:
			return ctx.Err()
		case lost && errors.Is(err, context.DeadlineExceeded):
			return err
		case lost && try >= again:
			return &Problem{
				Kind: Down,
				Say:  fmt.Sprintf("The line to %s broke off. Try again when the host is up.", t.address),
			}
		case lost:
			continue
		}
		return err
	}
}

// within does something within the time limit; the library knows none for what is under way.
func (t *transfer) within(ctx context.Context, act func(c *ftp.ServerConn) error) error {
	done := make(chan error, 1)
	conn := t.conn
	go func() { done <- act(conn) }()
	limit := time.NewTimer(t.timeout)
	defer limit.Stop()
	select {
	case err := <-done:
		return err
	case <-limit.C:
		return context.DeadlineExceeded
	case <-ctx.Done():
		return ctx.Err()
	}
}

func (t *transfer) close() {
	t.mu.Lock()
	defer t.mu.Unlock()
	if t.conn != nil {
		_ = t.conn.Quit()
		t.conn = nil
	}
}

// Beside implements tree. Files are written in place: FTP tells neither mode nor owner, and a new file has those that
// the server gives it, under which visitors may not see it.
func (t *transfer) Beside() bool { return false }

// Say implements tree: an answer is a number that several things share, and words (RFC 959, 4.2).
func (t *transfer) Say(err error, name string) error {
	var no *textproto.Error
	if !errors.As(err, &no) {
		return fromOS(err, name)
	}
	msg := strings.ToLower(no.Msg)
	has := func(words ...string) bool {
		for _, w := range words {
			if strings.Contains(msg, w) {
				return true
			}
		}
		return false
	}
	switch {
	case no.Code == ftp.StatusExceededStorage || no.Code == 452 || has("no space", "quota", "disk full"):
		return fromStatus(507, name)
	case no.Code == ftp.StatusActionAborted: // a local error of the server: ProFTPD's word for a full disk, and for a failing one
		return &Problem{
			Kind: Full,
			Say: fmt.Sprintf(
				"The host could not store %s (%d %s): its disk may be full. Ask whoever runs it, then go on.",
				name,
				no.Code,
				no.Msg,
			),
		}
	case no.Code == ftp.StatusNotLoggedIn:
		return fromStatus(401, name)
	case has("no such file", "not found", "does not exist"):
		return fromStatus(404, name)
	case has("permission", "denied", "read-only", "not permitted") || no.Code == ftp.StatusBadFileName:
		return fromStatus(403, name)
	}
	return &Problem{
		Kind: Broken,
		Say: fmt.Sprintf(
			"The host failed over %s: “%d %s”. Try again in a few minutes; if it stays so, tell whoever runs the host.",
			name,
			no.Code,
			no.Msg,
		),
	}
}

// ftpInfo is what a listing tells of a file.
type ftpInfo struct{ *ftp.Entry }

func (i ftpInfo) Name() string       { return path.Base(i.Entry.Name) }
func (i ftpInfo) Size() int64        { return int64(i.Entry.Size) } //nolint:gosec // below what a disk holds
func (i ftpInfo) ModTime() time.Time { return i.Time }
func (i ftpInfo) IsDir() bool        { return i.Type == ftp.EntryTypeFolder }
func (i ftpInfo) Sys() any           { return nil }
func (i ftpInfo) Mode() fs.FileMode {
	switch i.Type {
	case ftp.EntryTypeFolder:
		return fs.ModeDir
	case ftp.EntryTypeLink:
		return fs.ModeSymlink
	}
	return 0
}

// ReadDir implements tree.
func (t *transfer) ReadDir(ctx context.Context, dir string) (is []fs.FileInfo, err error) {
	return is, t.read(ctx, func(c *ftp.ServerConn) error {
		is = nil
		all, err := c.List(t.at(dir))
		for _, e := range all {
			if e.Name != "." && e.Name != ".." {
				is = append(is, ftpInfo{e})
			}
		}
		return err
	})
}

// Lstat implements tree.
func (t *transfer) Lstat(ctx context.Context, name string) (i fs.FileInfo, err error) {
	if t.mlst {
		err := t.read(ctx, func(c *ftp.ServerConn) error {
			e, err := c.GetEntry(t.at(name))
			if err == nil {
				i = ftpInfo{e}
			}
			return err
		})
		var no *textproto.Error
		switch {
		case err == nil:
			return i, nil
		case errors.As(err, &no) && no.Code == ftp.StatusFileUnavailable:
			return nil, fs.ErrNotExist
		case errors.As(err, &no) && no.Code == ftp.StatusNotImplemented:
			t.mlst = false
		default:
			return nil, err
		}
	}
	all, err := t.ReadDir(ctx, path.Dir(name))
	if err != nil {
		return nil, err
	}
	for _, i := range all {
		if i.Name() == path.Base(name) {
			return i, nil
		}
	}
	return t.unlisted(ctx, name)
}

// unlisted finds a file that lists leave out, as vsftpd's do with names that begin with a dot: by its size and time (RFC 3659, 3
// and 4).
func (t *transfer) unlisted(ctx context.Context, name string) (i fs.FileInfo, err error) {
	err = t.read(ctx, func(c *ftp.ServerConn) error {
		size, err := c.FileSize(t.at(name))
		if err != nil {
			return err
		}
		e := &ftp.Entry{Name: name, Type: ftp.EntryTypeFile, Size: uint64(max(size, 0)), Time: time.Now()}
		if at, err := c.GetTime(t.at(name)); err == nil {
			e.Time = at
		}
		i = ftpInfo{e}
		return nil
	})
	var no *textproto.Error
	if errors.As(err, &no) {
		return nil, fs.ErrNotExist
	}
	return i, err
}

// ReadFile implements tree.
func (t *transfer) ReadFile(ctx context.Context, name string) (b []byte, err error) {
	return b, t.read(ctx, func(c *ftp.ServerConn) error {
		r, err := c.Retr(t.at(name))
		if err != nil {
			return err
		}
		b, err = readLimited(r)
		return errors.Join(err, r.Close())
	})
}

// Create implements tree, as near as FTP comes to it.
func (t *transfer) Create(ctx context.Context, name string, b []byte) error {
	if _, err := t.Lstat(ctx, name); err == nil {
		return fs.ErrExist
	}
	return t.Overwrite(ctx, name, b)
}

// Overwrite implements tree.
func (t *transfer) Overwrite(ctx context.Context, name string, b []byte) error {
	return t.do(ctx, func(c *ftp.ServerConn) error { return c.Stor(t.at(name), io.Reader(bytes.NewReader(b))) })
}

// Like implements tree.
func (t *transfer) Like(context.Context, string, fs.FileInfo) error { return errors.ErrUnsupported }

// Chmod implements tree.
func (t *transfer) Chmod(context.Context, string, fs.FileMode) error { return errors.ErrUnsupported }

// Link implements tree.
func (t *transfer) Link(context.Context, string, string) error { return errors.ErrUnsupported }

// Rename implements tree.
func (t *transfer) Rename(ctx context.Context, old, name string) error {
	if _, err := t.Lstat(ctx, old); errors.Is(err, fs.ErrNotExist) {
		return os.ErrNotExist
	}
	return t.do(ctx, func(c *ftp.ServerConn) error { return c.Rename(t.at(old), t.at(name)) })
}

// Unlink implements tree.
func (t *transfer) Unlink(ctx context.Context, name string) error {
	return t.do(ctx, func(c *ftp.ServerConn) error {
		err := c.Delete(t.at(name))
		if err != nil && c.RemoveDir(t.at(name)) == nil {
			return nil
		}
		return err
	})
}

// Mkdir implements tree.
func (t *transfer) Mkdir(ctx context.Context, name string) error {
	return t.do(ctx, func(c *ftp.ServerConn) error { return c.MakeDir(t.at(name)) })
}
