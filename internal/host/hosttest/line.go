package hosttest

import (
	"fmt"
	"io"
	"net"
	"net/url"
	"os"
	"strings"
	"sync"
	"syscall"
	"testing"
)

// Line is the line to a server, which can be cut.
type Line struct {
	mu   sync.Mutex
	left int // bytes that still go through; below zero: all
	cut  func()
	ends []io.Closer
}

// Line puts a line between Mendry and the server, whose address is then that of the line.
func (s *Server) Line() *Line {
	s.t.Helper()
	u, err := url.Parse(s.URL)
	if err != nil || u.Host == "" {
		s.t.Fatalf("%s has no line", s.Kind)
	}
	line := &Line{left: -1}
	if s.Kind == "ftp" { // each file has a line of its own: they stand on the same ports of another address
		s.URL = strings.Replace(s.URL, u.Hostname(), "127.0.0.2", 1)
		for _, port := range append([]int{s.port}, s.more...) {
			line.listen(s.t, fmt.Sprintf("127.0.0.2:%d", port), fmt.Sprintf("127.0.0.1:%d", port))
		}
		return line
	}
	at := line.listen(s.t, "127.0.0.1:0", u.Host)
	s.URL = strings.Replace(s.URL, u.Host, at, 1)
	return line
}

// listen carries what comes to an address on to a server, and tells which address it is.
func (l *Line) listen(t testing.TB, at, server string) string {
	t.Helper()
	from, err := net.Listen("tcp", at)
	if err != nil {
		t.Fatal(err)
	}
	t.Cleanup(func() { _ = from.Close() })
	go func() {
		for {
			c, err := from.Accept()
			if err != nil {
				return
			}
			go l.carry(c, server)
		}
	}()
	return from.Addr().String()
}

// CutAfter lets some more bytes through to the server and cuts the line then; what happens with it is done at once.
func (l *Line) CutAfter(bytes int, and func()) {
	l.mu.Lock()
	defer l.mu.Unlock()
	l.left, l.cut = bytes, and
}

// Mend lets all through again.
func (l *Line) Mend() {
	l.mu.Lock()
	defer l.mu.Unlock()
	l.left, l.cut = -1, nil
}

// through says how many of some bytes go through; all ends are closed where the line is cut.
func (l *Line) through(n int) int {
	l.mu.Lock()
	defer l.mu.Unlock()
	if l.left < 0 {
		return n
	}
	n = min(n, l.left)
	if l.left -= n; l.left > 0 {
		return n
	}
	for _, e := range l.ends {
		defer e.Close()
	}
	l.ends = nil
	if l.cut != nil {
		go l.cut()
		l.cut = nil
	}
	return n
}

func (l *Line) carry(client net.Conn, to string) {
	server, err := net.Dial("tcp", to)
	if err != nil {
		_ = client.Close()
		return
	}
	l.mu.Lock()
	if l.left == 0 {
		_ = client.Close()
		_ = server.Close()
		l.mu.Unlock()
		return
	}
	l.ends = append(l.ends, client, server)
	l.mu.Unlock()
	go func() {
		_, _ = io.Copy(client, server)
		_ = client.Close()
	}()
	b := make([]byte, 4096)
	for {
		n, err := client.Read(b)
		if n > 0 {
			n := l.through(n)
			if _, err := server.Write(b[:n]); err != nil {
				break
			}
		}
		if err != nil {
			break
		}
	}
	_ = server.Close()
	_ = client.Close()
}

// Small makes a folder on a disk of its own of some kilobytes. The test is skipped where no disk may be mounted.
func Small(t testing.TB, kilobytes string) string {
	t.Helper()
	dir := Folder(t)
	if err := syscall.Mount("none", dir, "tmpfs", 0, "size="+kilobytes+"k,mode=0755"); err != nil {
		t.Skipf("no disk can be mounted here: %v", err)
	}
	t.Cleanup(func() { _ = syscall.Unmount(dir, syscall.MNT_DETACH) })
	give(t, dir)
	return dir
}

// ReadOnly makes a folder of Small one that nobody may write in, or one that may be written in again.
func ReadOnly(t testing.TB, dir string, yes bool) {
	t.Helper()
	flags := uintptr(syscall.MS_REMOUNT)
	if yes {
		flags |= syscall.MS_RDONLY
	}
	if err := syscall.Mount("none", dir, "tmpfs", flags, ""); err != nil {
		t.Fatal(err)
	}
}

// Fill takes the room of a disk of Small, but for some kilobytes.
func Fill(t testing.TB, dir string, left int) (free func()) {
	t.Helper()
	var s syscall.Statfs_t
	if err := syscall.Statfs(dir, &s); err != nil {
		t.Fatal(err)
	}
	room := int64(s.Bavail)*s.Bsize - int64(left)<<10
	file := dir + "/.filled"
	if err := os.WriteFile(file, make([]byte, max(room, 0)), 0o600); err != nil {
		t.Fatal(err)
	}
	return func() { _ = os.Remove(file) }
}
