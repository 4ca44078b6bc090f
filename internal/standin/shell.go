package standin

import (
	"context"
	"crypto/ed25519"
	"crypto/rand"
	"encoding/pem"
	"errors"
	"fmt"
	"io"
	"net"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"sync"

	"github.com/pkg/sftp"
	"golang.org/x/crypto/ssh"
)

// Shell is the editing side of a host over SSH (RFC 4251): its folder over SFTP or, where it has a repository, git,
// whose pushes it builds into its folder.
type Shell struct {
	Dir        string // what visitors get
	User, Pass string
	KeyFile    string // its own key; made where there is none, so that it stays the same over restarts
	Repository string // a bare repository; empty where the folder is edited itself

	pushes sync.Mutex // one at a time is built
}

// Key is the host's own key.
func (s *Shell) key() (ssh.Signer, error) {
	b, err := os.ReadFile(s.KeyFile)
	if errors.Is(err, os.ErrNotExist) {
		_, private, err := ed25519.GenerateKey(rand.Reader)
		if err != nil {
			return nil, err
		}
		block, err := ssh.MarshalPrivateKey(private, "")
		if err != nil {
			return nil, err
		}
		b = pem.EncodeToMemory(block)
		if err := os.WriteFile(s.KeyFile, b, 0o600); err != nil {
			return nil, err
		}
	} else if err != nil {
		return nil, err
	}
	return ssh.ParsePrivateKey(b)
}

// Serve lets in who knows the password, until the listener is closed.
func (s *Shell) Serve(ctx context.Context, l net.Listener) error {
	key, err := s.key()
	if err != nil {
		return fmt.Errorf("the stand-in's key: %w", err)
	}
	c := &ssh.ServerConfig{PasswordCallback: func(m ssh.ConnMetadata, pass []byte) (*ssh.Permissions, error) {
		if !letIn(m.User(), string(pass), s.User, s.Pass) {
			return nil, errors.New("no such name and password")
		}
		return nil, nil
	}}
	c.AddHostKey(key)
	stop := context.AfterFunc(ctx, func() { _ = l.Close() })
	defer stop()
	for {
		conn, err := l.Accept()
		if err != nil {
			if ctx.Err() != nil {
				return nil
			}
			return err
		}
		go s.talk(ctx, conn, c)
	}
}

func (s *Shell) talk(ctx context.Context, conn net.Conn, c *ssh.ServerConfig) {
	defer conn.Close()
	stop := context.AfterFunc(ctx, func() { _ = conn.Close() })
	defer stop()
	_, channels, requests, err := ssh.NewServerConn(conn, c)
	if err != nil {
		return
	}
	go ssh.DiscardRequests(requests)
	for n := range channels {
		if n.ChannelType() != "session" {
			_ = n.Reject(ssh.UnknownChannelType, "sessions only")
			continue
		}
		ch, asked, err := n.Accept()
		if err != nil {
			return
		}
		go s.session(ctx, ch, asked)
	}
}

// session does the one thing that a session asks for (RFC 4254, 6.5).
func (s *Shell) session(ctx context.Context, ch ssh.Channel, asked <-chan *ssh.Request) {
	defer ch.Close()
	for r := range asked {
		var word struct{ Is string }
		_ = ssh.Unmarshal(r.Payload, &word) // what asks for nothing is refused
		switch {
		case r.Type == "subsystem" && word.Is == "sftp" && s.Repository == "":
			_ = r.Reply(true, nil)
			s.files(ch)
			return
		case r.Type == "exec" && s.Repository != "" && (strings.HasPrefix(word.Is, "git-upload-pack ") || strings.HasPrefix(word.Is, "git-receive-pack ")):
			_ = r.Reply(true, nil)
			status := struct{ Is uint32 }{s.git(ctx, ch, word.Is)}
			_, _ = ch.SendRequest("exit-status", false, ssh.Marshal(&status))
			return
		default:
			_ = r.Reply(r.Type == "env", nil)
		}
	}
}

// files serves the folder over SFTP.
func (s *Shell) files(ch io.ReadWriteCloser) {
	root, err := os.OpenRoot(s.Dir)
	if err != nil {
		return
	}
	defer root.Close()
	h := rooted{root}
	_ = sftp.NewRequestServer(ch, sftp.Handlers{FileGet: h, FilePut: h, FileCmd: h, FileList: h}).Serve() // ends with the line
}

// git lets git's own program speak for the repository, and builds after a push.
func (s *Shell) git(ctx context.Context, ch ssh.Channel, command string) uint32 {
	program, _, _ := strings.Cut(command, " ")
	push := program == "git-receive-pack"
	if push {
		s.pushes.Lock()
		defer s.pushes.Unlock()
	}
	c := exec.CommandContext(ctx, "git", strings.TrimPrefix(program, "git-"), s.Repository)
	c.Stdout, c.Stderr = ch, ch.Stderr()
	in, err := c.StdinPipe() // the line stays open after what is sent: it is not waited for
	if err != nil {
		return 1
	}
	if err := c.Start(); err != nil {
		_, _ = fmt.Fprintln(ch.Stderr(), "git is not installed here")
		return 1
	}
	go func() {
		_, _ = io.Copy(in, ch)
		_ = in.Close()
	}()
	if err := c.Wait(); err != nil {
		return 1
	}
	if push {
		if err := s.Build(); err != nil {
			_, _ = fmt.Fprintln(ch.Stderr(), err)
			return 1
		}
	}
	return 0
}

// Build makes the folder what the repository's branch is.
func (s *Shell) Build() error {
	return run(nil, s.Repository, s.Dir, "checkout", "-q", "-f", "main")
}

// Begin makes the repository of what is in the folder, where there is none.
func (s *Shell) Begin(words string) error {
	if _, err := os.Stat(s.Repository); err == nil {
		return nil
	}
	if out, err := exec.Command("git", "init", "-q", "--bare", "-b", "main", s.Repository).CombinedOutput(); err != nil {
		return fmt.Errorf("make a repository: %w: %s", err, out)
	}
	who := []string{"GIT_AUTHOR_NAME=Nan Tolliver", "GIT_AUTHOR_EMAIL=nan@bramble-row.example", "GIT_COMMITTER_NAME=Nan Tolliver", "GIT_COMMITTER_EMAIL=nan@bramble-row.example"}
	return errors.Join(run(nil, s.Repository, s.Dir, "add", "-A", "."), run(who, s.Repository, s.Dir, "commit", "-q", "-m", words))
}

// run runs git on a repository with its folder.
func run(env []string, repo, dir string, args ...string) error {
	c := exec.Command("git", append([]string{"--git-dir=" + repo, "--work-tree=" + dir}, args...)...)
	c.Dir = dir
	c.Env = append(os.Environ(), env...)
	if out, err := c.CombinedOutput(); err != nil {
		return fmt.Errorf("git %s: %w: %s", args[0], err, out)
	}
	return nil
}

// rooted is a folder as package sftp asks for it; nothing outside is reached.
type rooted struct{ *os.Root }

func within(p string) string {
	if p = strings.TrimPrefix(filepath.Clean("/"+p), "/"); p == "" {
		return "."
	}
	return p
}

// Fileread implements sftp.FileReader.
func (f rooted) Fileread(r *sftp.Request) (io.ReaderAt, error) { return f.Open(within(r.Filepath)) }

// Filewrite implements sftp.FileWriter.
func (f rooted) Filewrite(r *sftp.Request) (io.WriterAt, error) {
	how, flags := r.Pflags(), os.O_WRONLY
	for bit, is := range map[int]bool{os.O_CREATE: how.Creat, os.O_EXCL: how.Excl, os.O_TRUNC: how.Trunc} {
		if is {
			flags |= bit
		}
	}
	return f.OpenFile(within(r.Filepath), flags, 0o644)
}

// Filecmd implements sftp.FileCmder.
func (f rooted) Filecmd(r *sftp.Request) error {
	name, to := within(r.Filepath), within(r.Target)
	switch r.Method {
	case "Rename":
		if _, err := f.Root.Lstat(to); err == nil {
			return os.ErrExist // version 3 moves over nothing
		}
		return f.Root.Rename(name, to)
	case "Remove", "Rmdir":
		return f.Root.Remove(name)
	case "Mkdir":
		return f.Root.Mkdir(name, 0o755)
	case "Link":
		return f.Root.Link(name, to)
	case "Setstat":
		if has := r.AttrFlags(); has.Permissions {
			return f.Root.Chmod(name, r.Attributes().FileMode().Perm())
		} else if has.UidGid {
			return f.Root.Lchown(name, int(r.Attributes().UID), int(r.Attributes().GID))
		}
		return nil
	}
	return sftp.ErrSSHFxOpUnsupported
}

// PosixRename implements sftp.PosixRenameFileCmder.
func (f rooted) PosixRename(r *sftp.Request) error {
	return f.Root.Rename(within(r.Filepath), within(r.Target))
}

// Filelist implements sftp.FileLister.
func (f rooted) Filelist(r *sftp.Request) (sftp.ListerAt, error) {
	if r.Method != "List" {
		i, err := f.Root.Stat(within(r.Filepath))
		return infos{i}, err
	}
	d, err := f.Open(within(r.Filepath))
	if err != nil {
		return nil, err
	}
	defer d.Close()
	all, err := d.Readdir(-1)
	return infos(all), err
}

// Lstat implements sftp.LstatFileLister.
func (f rooted) Lstat(r *sftp.Request) (sftp.ListerAt, error) {
	i, err := f.Root.Lstat(within(r.Filepath))
	return infos{i}, err
}

type infos []os.FileInfo

// ListAt implements sftp.ListerAt.
func (l infos) ListAt(to []os.FileInfo, from int64) (int, error) {
	if from >= int64(len(l)) {
		return 0, io.EOF
	}
	n := copy(to, l[from:])
	if n < len(to) {
		return n, io.EOF
	}
	return n, nil
}
