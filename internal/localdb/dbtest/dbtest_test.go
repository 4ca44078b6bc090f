package dbtest

import (
	"fmt"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"syscall"
	"testing"
)

// What a killed run has left goes, with the server that still runs on it; what belongs to a living one stays, and so
// does a program that got the number of a server that is gone.
func TestTheDeadAreClearedAndNobodyElse(t *testing.T) {
	root := t.TempDir()
	start := func(args ...string) *exec.Cmd {
		c := exec.Command(args[0], args[1:]...)
		if err := c.Start(); err != nil {
			t.Fatal(err)
		}
		t.Cleanup(func() { _ = c.Process.Kill() })
		return c
	}
	gone := start("true")
	_ = gone.Wait()
	// folder makes what a test binary leaves: its folder, and in it the number of its server.
	folder := func(name string, owner int) string {
		dir := filepath.Join(root, fmt.Sprintf("%s%d-%s", prefix, owner, name))
		if err := os.MkdirAll(filepath.Join(dir, "db"), 0o700); err != nil {
			t.Fatal(err)
		}
		return dir
	}
	serves := func(dir string, c *exec.Cmd) {
		if err := os.WriteFile(filepath.Join(dir, "db", "pid"), fmt.Appendln(nil, c.Process.Pid), 0o600); err != nil {
			t.Fatal(err)
		}
	}
	dead, reused, living := folder("a", gone.Process.Pid), folder("b", gone.Process.Pid), folder("c", os.Getpid())
	server := start("tail", "-f", "/dev/null", filepath.Join(dead, "db")) // a folder cannot be followed, /dev/null can
	stranger := start("sleep", "60")
	serves(dead, server)
	serves(reused, stranger)
	serves(living, stranger)
	clearDead(root)
	if err := server.Wait(); err == nil || !strings.Contains(err.Error(), "killed") {
		t.Errorf("the dead one's server: %v", err)
	}
	for dir, stays := range map[string]bool{dead: false, reused: false, living: true} {
		if _, err := os.Stat(dir); (err == nil) != stays {
			t.Errorf("%s: %v", dir, err)
		}
	}
	_ = stranger.Process.Signal(syscall.SIGTERM)
	if err := stranger.Wait(); err == nil || !strings.Contains(err.Error(), "terminated") {
		t.Errorf("a stranger was ended: %v", err)
	}
}
