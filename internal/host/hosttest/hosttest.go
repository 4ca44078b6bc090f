// Package hosttest starts real servers from Debian's packages on loopback, each on a folder of its own, for tests of
// what Mendry makes of them.
package hosttest

import (
	"crypto/tls"
	"fmt"
	"math/rand/v2"
	"net"
	"os"
	"os/exec"
	"os/user"
	"path/filepath"
	"strconv"
	"strings"
	"sync"
	"syscall"
	"testing"
	"time"
)

// Name and password at every server that takes those.
const (
	User     = "keeper"
	Password = "lock & key"
)

// owner is who the servers run as, and whose their files are.
const owner = "www-data"

// Server is a server that is running.
type Server struct {
	Kind           string // as package host knows it
	URL            string
	User, Password string
	Key            string      // a private key that signs in, for SFTP
	Dir            string      // the folder that it serves
	TLS            *tls.Config // trusts its certificate; nil where it has none
	NewKey         func()      // gives the server another key of its own; nil where it has none
	AnyPassword    bool        // it tells people apart by their names alone

	Put  func(file, content string) // puts a file there, as its owner would
	File func(file string) string   // what lies there; "(none)" where nothing does
	Log  func() string              // of a repository, who committed what; nil of others

	t     testing.TB
	cmd   *exec.Cmd
	start func() *exec.Cmd
	port  int
	more  []int // ports for files, of FTP
	mu    sync.Mutex
}

// Kinds are the servers by name, in the order in which a table shows them.
var Kinds = []struct {
	Name  string
	Start func(t testing.TB, dir string) *Server
	Rest  bool // not one that every run of the tests looks at
}{
	{"Apache mod_dav, stock", apacheStock, false},
	{"Apache mod_dav, Digest", apacheDigest, false},
	{"nginx dav-ext", nginx, false},
	{"nginx dav-ext without locks", nginxNoLocks, true},
	{"lighttpd mod_webdav", lighttpd, true},
	{"rclone", rclone, false},
	{"SabreDAV", sabre, true},
	{"OpenSSH sftp-server", sshd, false},
	{"rclone, SFTP", rcloneSFTP, true},
	{"ProFTPD, under TLS", proftpd, false},
	{"vsftpd, in the open", vsftpd, true},
	{"git over OpenSSH", gitOverSSH, false},
	{"a folder", folder, false},
}

// Folder makes a folder that the servers' own user may write in and that others may look into.
func Folder(t testing.TB) string {
	t.Helper()
	dir, err := os.MkdirTemp("", "host") // t.TempDir lies in a folder that only root may enter
	if err != nil {
		t.Fatal(err)
	}
	t.Cleanup(func() { _ = os.RemoveAll(dir) })
	give(t, dir)
	return dir
}

// give gives a file or folder to the user that the servers run as.
func give(t testing.TB, p string) {
	t.Helper()
	u, err := user.Lookup(owner)
	if err != nil {
		t.Fatal(err)
	}
	uid, _ := strconv.Atoi(u.Uid)
	gid, _ := strconv.Atoi(u.Gid)
	if err := os.Chown(p, uid, gid); err != nil {
		t.Fatal(err)
	}
	if err := os.Chmod(p, 0o755); err != nil {
		t.Fatal(err)
	}
}

func (s *Server) put(file, content string) {
	s.t.Helper()
	p := filepath.Join(s.Dir, filepath.FromSlash(file))
	for d := filepath.Dir(p); ; d = filepath.Dir(d) {
		if _, err := os.Stat(d); err == nil {
			break
		}
		defer give(s.t, d)
	}
	if err := os.MkdirAll(filepath.Dir(p), 0o755); err != nil {
		s.t.Fatal(err)
	}
	if err := os.WriteFile(p, []byte(content), 0o644); err != nil {
		s.t.Fatal(err)
	}
	give(s.t, p)
}

func (s *Server) file(file string) string {
	b, err := os.ReadFile(filepath.Join(s.Dir, filepath.FromSlash(file)))
	if err != nil {
		return "(none)"
	}
	return string(b)
}

// Kill ends the server as a power cut would.
func (s *Server) Kill() {
	s.mu.Lock()
	defer s.mu.Unlock()
	if s.cmd == nil {
		return
	}
	pid := s.cmd.Process.Pid
	_ = syscall.Kill(pid, syscall.SIGSTOP) // one that has seen a child die starts another, which would hold the port
	for _, p := range append(children(pid), pid) {
		_ = syscall.Kill(p, syscall.SIGKILL)
	}
	_ = s.cmd.Wait()
	s.cmd = nil
	for end := time.Now().Add(10 * time.Second); time.Now().Before(end); time.Sleep(5 * time.Millisecond) {
		c, err := net.DialTimeout("tcp", fmt.Sprintf("127.0.0.1:%d", s.port), time.Second)
		if err != nil {
			return // nobody listens any more
		}
		_ = c.Close()
	}
}

// children are the processes that a process has started, theirs with them.
func children(pid int) (all []int) {
	b, _ := os.ReadFile(fmt.Sprintf("/proc/%d/task/%d/children", pid, pid))
	for _, f := range strings.Fields(string(b)) {
		if c, err := strconv.Atoi(f); err == nil {
			all = append(append(all, c), children(c)...)
		}
	}
	return all
}

// Up starts the server again after Kill.
func (s *Server) Up() {
	s.t.Helper()
	s.mu.Lock()
	defer s.mu.Unlock()
	s.cmd = s.start()
	out, err := os.CreateTemp("", "server") // not a pipe, which whoever is left behind holds open
	if err != nil {
		s.t.Fatal(err)
	}
	defer out.Close()
	defer os.Remove(out.Name())
	s.cmd.Stdout, s.cmd.Stderr = out, out
	s.cmd.SysProcAttr = &syscall.SysProcAttr{Pdeathsig: syscall.SIGKILL}
	if err := s.cmd.Start(); err != nil {
		s.t.Fatal(err)
	}
	for end := time.Now().Add(10 * time.Second); ; {
		c, err := net.DialTimeout("tcp", fmt.Sprintf("127.0.0.1:%d", s.port), time.Second)
		if err == nil {
			_ = c.Close()
			return
		}
		if time.Now().After(end) {
			said, _ := os.ReadFile(out.Name())
			s.t.Fatalf("%s does not come up: %s", s.cmd.Path, said)
		}
		time.Sleep(10 * time.Millisecond) // until it listens
	}
}

func run(t testing.TB, dir, program string, port int, start func(program string) *exec.Cmd) *Server {
	t.Helper()
	p, err := exec.LookPath(program)
	if err != nil {
		t.Skipf("%s is not installed (make system)", program)
	}
	s := &Server{
		Kind:     "webdav",
		URL:      fmt.Sprintf("http://127.0.0.1:%d/", port),
		User:     User,
		Password: Password,
		Dir:      dir,
		t:        t,
		port:     port,
		start:    func() *exec.Cmd { return start(p) },
	}
	s.Put, s.File = s.put, s.file
	t.Cleanup(s.Kill)
	s.Up()
	return s
}

// Ports of servers lie below those that Linux gives to whoever connects or asks for any (ip_local_port_range: from 32768 on):
// one of those may be taken between its being found free and the server's coming up, and whoever has it then answers in the
// server's place.
const (
	firstPort, lastPort       = 15_000, 32_000
	firstPassive, lastPassive = 10_000, 15_000
)

// freePort is a port that nobody listens on.
func freePort(t testing.TB) int {
	t.Helper()
	for range 100 {
		port := firstPort + rand.IntN(lastPort-firstPort)
		l, err := net.Listen("tcp", fmt.Sprintf("127.0.0.1:%d", port))
		if err != nil {
			continue
		}
		_ = l.Close()
		return port
	}
	t.Fatal("no port is free")
	return 0
}

// passive is the first of a range of ports for files, so that a line can be put before it.
func passive() int { return firstPassive + rand.IntN(lastPassive-firstPassive-passivePorts) }

// config writes files of a configuration into a folder and returns it.
func config(t testing.TB, files map[string]string) string {
	t.Helper()
	dir := Folder(t)
	for name, text := range files {
		write(t, filepath.Join(dir, name), text)
	}
	return dir
}

func write(t testing.TB, file, text string) {
	t.Helper()
	if err := os.WriteFile(file, []byte(text), 0o644); err != nil {
		t.Fatal(err)
	}
}

// fill puts names into a configuration: {port} and the like.
func fill(text string, pairs ...string) string { return strings.NewReplacer(pairs...).Replace(text) }

// OwnerOf is whose a file is, by numbers of user and group.
func OwnerOf(i os.FileInfo) [2]uint32 {
	s := i.Sys().(*syscall.Stat_t)
	return [2]uint32{s.Uid, s.Gid}
}
