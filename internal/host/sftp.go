package host

import (
	"bytes"
	"cmp"
	"context"
	"errors"
	"fmt"
	"io"
	"io/fs"
	"net"
	"net/url"
	"os"
	"path"
	"strings"
	"sync"
	"syscall"
	"time"

	"github.com/pkg/sftp"
)

// secureShell is a host that is spoken to over SFTP (version 3, draft-ietf-secsh-filexfer-02, with OpenSSH's
// additions). Its connection is opened when it is needed, and closed when it is not for a while.
type secureShell struct {
	secureLine
	root string // on the host; relative to the home where it begins with ~/

	mu     sync.Mutex
	conn   net.Conn
	client *sftp.Client
	under  int         // calls that are under way
	idle   *time.Timer // closes the connection
}

// idleAfter is how long a connection is kept that nobody uses.
const idleAfter = 30 * time.Second

// NewSFTP reaches the folder of a site by its address, sftp://host:22/srv/site/ or sftp://host/~/site/ below the home.
func NewSFTP(n Network, r Reach, timeout time.Duration) (Host, error) {
	u, err := url.Parse(strings.TrimSpace(r.URL))
	if err != nil || u.Scheme != "sftp" || u.Hostname() == "" || u.User != nil {
		return nil, &Problem{
			Kind: Odd,
			Say: fmt.Sprintf(
				"“%s” is no address of a folder over SFTP. Write it like sftp://host.example/srv/site/ or sftp://host.example/~/site/, and put name and password into their own fields.",
				r.URL,
			),
		}
	}
	port := cmp.Or(u.Port(), "22")
	root := path.Clean("/" + u.Path)
	if home, ok := strings.CutPrefix(root, "/~"); ok && (home == "" || home[0] == '/') {
		root = "." + home
	}
	return newFiles(
		&secureShell{
			secureLine: secureLine{net: n, address: net.JoinHostPort(u.Hostname(), port), reach: r, timeout: timeout}, root: root,
		},
		r.By,
	), nil
}

// open opens the connection; the lock is held.
func (s *secureShell) open(ctx context.Context) error {
	until := time.Now().Add(s.timeout) // no later than the connection's own deadline
	shell, conn, err := s.dial(ctx)
	if err != nil {
		return err
	}
	client, err := sftp.NewClient(shell, sftp.UseConcurrentWrites(true))
	if err != nil {
		_ = conn.Close()
		if !time.Now().Before(until) { // what is read from a session ends there like an answer that is empty
			return fromError(os.ErrDeadlineExceeded, s.address)
		}
		return &Problem{
			Kind: Odd,
			Say: fmt.Sprintf(
				"%s lets Mendry in but offers no SFTP. Ask whoever runs the host to switch it on for this name.",
				s.address,
			),
		}
	}
	_ = conn.SetDeadline(time.Time{})
	s.conn, s.client = conn, client
	return nil
}

// read uses the connection; one that was lost meanwhile is opened once more.
func (s *secureShell) read(ctx context.Context, act func(c *sftp.Client) error) error {
	return s.use(ctx, 1, act)
}

// do uses the connection for what is not done twice.
func (s *secureShell) do(ctx context.Context, act func(c *sftp.Client) error) error {
	return s.use(ctx, 0, act)
}

// use uses the connection, with a time limit for as long as somebody waits.
func (s *secureShell) use(ctx context.Context, again int, act func(c *sftp.Client) error) error {
	for try := 0; ; try++ {
		if err := ctx.Err(); err != nil {
			return err
		}
		c, conn, err := s.take(ctx)
		if err != nil {
			return err
		}
		stop := context.AfterFunc(ctx, func() { _ = conn.Close() })
		err = act(c)
		stop()
		lost := err != nil &&
			(errors.Is(err, sftp.ErrSSHFxConnectionLost) || errors.Is(err, sftp.ErrSSHFxNoConnection) || errors.Is(err, io.ErrUnexpectedEOF) ||
				errors.Is(err, net.ErrClosed) || errors.Is(err, os.ErrDeadlineExceeded))
		s.leave(conn, lost)
		switch {
		case ctx.Err() != nil:
			return ctx.Err()
		case lost && errors.Is(err, os.ErrDeadlineExceeded):
			return context.DeadlineExceeded
		case lost && try >= again:
			return &Problem{
				Kind: Down,
				Say:  fmt.Sprintf("The line to %s broke off. Try again when the host is up.", s.address),
			}
		case lost:
			continue
		}
		return err
	}
}

func (s *secureShell) take(ctx context.Context) (*sftp.Client, net.Conn, error) {
	s.mu.Lock()
	defer s.mu.Unlock()
	if s.client == nil {
		if err := s.open(ctx); err != nil {
			return nil, nil, err
		}
	}
	if s.idle != nil {
		s.idle.Stop()
	}
	s.under++
	_ = s.conn.SetDeadline(time.Now().Add(s.timeout))
	return s.client, s.conn, nil
}

func (s *secureShell) leave(conn net.Conn, lost bool) {
	s.mu.Lock()
	defer s.mu.Unlock()
	if s.under--; s.under == 0 && s.conn == conn {
		_ = conn.SetDeadline(time.Time{})
		s.idle = time.AfterFunc(idleAfter, s.close)
	}
	if lost && s.conn == conn {
		_ = conn.Close()
		s.conn, s.client = nil, nil
	}
}

func (s *secureShell) close() {
	s.mu.Lock()
	defer s.mu.Unlock()
	if s.under == 0 && s.conn != nil {
		_ = s.conn.Close()
		s.conn, s.client = nil, nil
	}
}

func (s *secureShell) at(name string) string { return path.Join(s.root, name) }

// Beside implements tree.
func (s *secureShell) Beside() bool { return true }

// Key is the key that the host showed.
func (s *secureShell) Key() string {
	s.mu.Lock()
	defer s.mu.Unlock()
	return s.met
}

// Say implements tree. The protocol has one word for most failures; what the file system says of itself tells more.
func (s *secureShell) Say(err error, name string) error {
	var status *sftp.StatusError
	if !errors.As(err, &status) || status.FxCode() != sftp.ErrSSHFxFailure {
		return fromOS(err, name)
	}
	ctx, cancel := context.WithTimeout(context.Background(), s.timeout)
	defer cancel()
	why := err
	_ = s.read(ctx, func(c *sftp.Client) error { // where it cannot say, the failure stays one
		v, err := c.StatVFS(s.root)
		switch {
		case err != nil: // it knows no such question
			why = &Problem{Kind: Broken, Say: fmt.Sprintf(
				"The host did not do what was asked with %s, and does not say why: its disk may be full, or read-only. Ask whoever runs it, then go on.", name,
			)}
		case v.Flag&1 != 0: // SSH_FXE_STATVFS_ST_RDONLY (OpenSSH, PROTOCOL, 4.1)
			why = syscall.EROFS
		case v.Bavail*v.Bsize < 64<<10: // what was written of the file still stands there
			why = syscall.ENOSPC
		}
		return nil
	})
	return fromOS(why, name)
}

// ReadDir implements tree.
func (s *secureShell) ReadDir(ctx context.Context, dir string) (is []fs.FileInfo, err error) {
	return is, s.read(ctx, func(c *sftp.Client) (err error) {
		is, err = c.ReadDir(s.at(dir))
		return err
	})
}

// Lstat implements tree.
func (s *secureShell) Lstat(ctx context.Context, name string) (i fs.FileInfo, err error) {
	return i, s.read(ctx, func(c *sftp.Client) (err error) {
		i, err = c.Lstat(s.at(name))
		return err
	})
}

// ReadFile implements tree.
func (s *secureShell) ReadFile(ctx context.Context, name string) (b []byte, err error) {
	return b, s.read(ctx, func(c *sftp.Client) error {
		f, err := c.Open(s.at(name))
		if err != nil {
			return err
		}
		defer f.Close()
		b, err = readLimited(f)
		return err
	})
}

// Create implements tree.
func (s *secureShell) Create(ctx context.Context, name string, b []byte) error {
	return s.do(ctx, func(c *sftp.Client) error {
		f, err := c.OpenFile(s.at(name), os.O_WRONLY|os.O_CREATE|os.O_EXCL)
		if err != nil {
			return err
		}
		_, err = f.ReadFrom(bytes.NewReader(b)) // several pieces at once: nobody looks at it yet
		return errors.Join(err, f.Close())
	})
}

// Overwrite implements tree. Piece after piece, so that what is left of it is a beginning.
func (s *secureShell) Overwrite(ctx context.Context, name string, b []byte) error {
	return s.do(ctx, func(c *sftp.Client) error {
		f, err := c.OpenFile(s.at(name), os.O_WRONLY|os.O_TRUNC)
		if err != nil {
			return err
		}
		const piece = 32 << 10 // what every server takes at once
		for len(b) > 0 && err == nil {
			n := min(len(b), piece)
			_, err = f.Write(b[:n])
			b = b[n:]
		}
		return errors.Join(err, f.Close())
	})
}

// Like implements tree.
func (s *secureShell) Like(ctx context.Context, name string, like fs.FileInfo) error {
	was, ok := like.Sys().(*sftp.FileStat)
	return s.do(ctx, func(c *sftp.Client) error {
		now, err := c.Lstat(s.at(name))
		if err != nil {
			return err
		}
		if own, is := now.Sys().(*sftp.FileStat); ok && is && (own.UID != was.UID || own.GID != was.GID) {
			if err := c.Chown(s.at(name), int(was.UID), int(was.GID)); err != nil {
				return err
			}
		}
		return c.Chmod(s.at(name), like.Mode().Perm())
	})
}

// Chmod implements tree.
func (s *secureShell) Chmod(ctx context.Context, name string, mode fs.FileMode) error {
	return s.do(ctx, func(c *sftp.Client) error { return c.Chmod(s.at(name), mode) })
}

// Link implements tree.
func (s *secureShell) Link(ctx context.Context, old, name string) error {
	return s.do(ctx, func(c *sftp.Client) error { return c.Link(s.at(old), s.at(name)) })
}

// Rename implements tree: in one step where the server knows OpenSSH's addition; its own rename does not replace.
func (s *secureShell) Rename(ctx context.Context, old, name string) error {
	return s.do(ctx, func(c *sftp.Client) error {
		if _, ok := c.HasExtension("posix-rename@openssh.com"); ok {
			return c.PosixRename(s.at(old), s.at(name))
		}
		err := c.Rename(s.at(old), s.at(name))
		if err == nil {
			return nil
		}
		if _, there := c.Lstat(s.at(name)); there != nil {
			return err
		}
		if err := c.Remove(s.at(name)); err != nil {
			return err
		}
		return c.Rename(s.at(old), s.at(name))
	})
}

// Unlink implements tree.
func (s *secureShell) Unlink(ctx context.Context, name string) error {
	return s.do(ctx, func(c *sftp.Client) error { return c.Remove(s.at(name)) })
}

// Mkdir implements tree.
func (s *secureShell) Mkdir(ctx context.Context, name string) error {
	return s.do(ctx, func(c *sftp.Client) error { return c.Mkdir(s.at(name)) })
}
