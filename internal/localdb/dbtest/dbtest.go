// Package dbtest gives tests databases of their own on a private MariaDB: one server a test binary, one database a
// test.
package dbtest

import (
	"fmt"
	"os"
	"sync/atomic"
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
	dir, err := os.MkdirTemp(root, "mendry-test-")
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

// DSN makes a new, empty database and gives its address.
func DSN(t testing.TB) string {
	t.Helper()
	name := fmt.Sprintf("t%d", count.Add(1))
	if err := server.Create(name); err != nil {
		t.Fatal(err)
	}
	return server.DSN(name)
}
