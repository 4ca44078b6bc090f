package main

import (
	"bytes"
	"errors"
	"fmt"
	"net"
	"os/exec"
	"strings"
	"sync"
	"testing"
	"time"

	"mendry/internal/localdb/dbtest"
)

var someSecret = strings.Repeat("ab", 32)

// A port that is taken, or given twice, ends the server at once, in words, with the code of a refusal: it does not
// stay without a door, still doing jobs.
func TestServeEndsAtOnceWhereItCannotListen(t *testing.T) {
	taken, err := net.Listen("tcp", "127.0.0.1:0")
	if err != nil {
		t.Fatal(err)
	}
	defer taken.Close()
	dsn, free := dbtest.DSN(t), "127.0.0.1:0" // the machine says which
	for _, tt := range []struct{ addr, preview, says string }{
		{taken.Addr().String(), free, "cannot listen on " + taken.Addr().String()},
		{free, taken.Addr().String(), "cannot listen on " + taken.Addr().String()},
		{free, free, "an address each"},
		{"nowhere", free, "cannot listen on nowhere"},
	} {
		c := program(t, "serve", "--dsn", dsn, "--secret", someSecret, "--addr", tt.addr, "--preview-addr", tt.preview)
		var said bytes.Buffer
		c.Stderr = &said
		if err := c.Start(); err != nil {
			t.Fatal(err)
		}
		stop := time.AfterFunc(3*time.Minute, func() { _ = c.Process.Kill() })
		err := c.Wait()
		if !stop.Stop() {
			t.Errorf("%s and %s: it went on without a door", tt.addr, tt.preview)
		}
		var exit *exec.ExitError
		if !errors.As(err, &exit) || exit.ExitCode() != refused || !strings.Contains(said.String(), tt.says) {
			t.Errorf("%s and %s: %v %q", tt.addr, tt.preview, err, said.String())
		}
	}
}

// Several programs that come up on one empty database at once make its tables once.
func TestSeveralComeUpOnOneEmptyDatabase(t *testing.T) {
	dsn := dbtest.DSN(t)
	var wg sync.WaitGroup
	for i := range 4 {
		wg.Go(func() {
			c := program(t, "person", "add", "--dsn", dsn, "--secret", someSecret, "--sign-in", fmt.Sprintf("p%d", i), "--name", "A Person")
			c.Stdin = strings.NewReader("a long password\n")
			if said, err := c.CombinedOutput(); err != nil {
				t.Errorf("%v: %s", err, said)
			}
		})
	}
	wg.Wait()
}
