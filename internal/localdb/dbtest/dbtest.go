// Package dbtest gives tests databases of their own on a private MariaDB: one server a test binary, one database a
// test.
package dbtest

import (
	"cmp"
	"fmt"
	"os"
	"path/filepath"
	"strconv"
	"strings"
	"sync/atomic"
	"syscall"
	"testing"

	"mendry/internal/localdb"
)

var (
	server *localdb.Server
	count  atomic.Int64
)

// Main starts the server around a package's tests. Use it as TestMain's whole body.
func Main(m *testing.M) {
	os.Exit(run(m))
}

func run(m *testing.M) int {
	root := "/dev/shm" // memory, where there is some
	if _, err := os.Stat(root); err != nil {
		root = ""
	}
	clearDead(cmp.Or(root, os.TempDir()))
	dir, err := os.MkdirTemp(root, fmt.Sprintf("%s%d-", prefix, os.Getpid()))
	if err != nil {
		fmt.Fprintln(os.Stderr, err)
		return 1
	}
	defer os.RemoveAll(dir)
	server, err = localdb.Start(dir+"/db", localdb.Options{Forgetful: true, Memory: os.Getenv("MENDRY_DB_MEMORY")})
	if err != nil {
		fmt.Fprintln(os.Stderr, err)
		return 1
	}
	defer server.Stop()
	return m.Run()
}

// prefix of the folders' names; the number of the process whose it is stands behind it.
const prefix = "mendry-test-"

// clearDead takes away what test binaries that were killed have left in a folder, and nothing of one that runs.
func clearDead(root string) {
	left, _ := filepath.Glob(filepath.Join(root, prefix+"*")) // the pattern is right
	for _, dir := range left {
		owner, _, _ := strings.Cut(strings.TrimPrefix(filepath.Base(dir), prefix), "-")
		if _, err := strconv.Atoi(owner); err != nil || alive(owner) {
			continue
		}
		if b, err := os.ReadFile(filepath.Join(dir, "db", "pid")); err == nil {
			server := strings.TrimSpace(string(b))
			// Its number may be another program's by now.
			if args, err := os.ReadFile("/proc/" + server + "/cmdline"); err == nil && strings.Contains(string(args), dir+"/") {
				pid, _ := strconv.Atoi(server)
				_ = syscall.Kill(pid, syscall.SIGKILL)
			}
		}
		_ = os.RemoveAll(dir)
	}
}

func alive(pid string) bool {
	_, err := os.Stat("/proc/" + pid)
	return err == nil
}

// DSN makes a new, empty database and gives its address.
func DSN(t testing.TB) string {
	t.Helper()
	name := fmt.Sprintf("t%d", count.Add(1))
	if err := server.Create(name); err != nil {
		t.Fatal(err)
	}
	return server.DSN(name)
}
