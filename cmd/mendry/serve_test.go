package main

import (
	"bytes"
	"crypto/aes"
	"crypto/cipher"
	"database/sql"
	"encoding/hex"
	"errors"
	"fmt"
	"net"
	"os"
	"os/exec"
	"path/filepath"
	"regexp"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/go-sql-driver/mysql"

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

// The secret is made once, in a file that nobody else may read, by however many start at once; one that is wrong ends the
// program with the way out, before anything is sealed with it.
func TestTheSecretLiesInAFile(t *testing.T) {
	t.Parallel()
	dsn, file := dbtest.DSN(t), filepath.Join(t.TempDir(), "secret")
	add := func(name string, args ...string) (string, error) {
		c := program(t, append([]string{"person", "add", "--dsn", dsn, "--sign-in", name, "--name", "A Person"}, args...)...)
		c.Stdin = strings.NewReader("a long password\n")
		said, err := c.CombinedOutput()
		return string(said), err
	}
	var wg sync.WaitGroup
	for i := range 3 {
		wg.Go(func() {
			if said, err := add(fmt.Sprintf("p%d", i), "--secret-file", file); err != nil {
				t.Errorf("%v: %s", err, said)
			}
		})
	}
	wg.Wait()
	made, err := os.ReadFile(file)
	info, statErr := os.Stat(file)
	if err != nil || statErr != nil || len(strings.TrimSpace(string(made))) != 64 || info.Mode().Perm() != 0o600 {
		t.Fatalf("%v %v %q %v", err, statErr, made, info)
	}
	seal(t, dsn, strings.TrimSpace(string(made)))
	other := filepath.Join(t.TempDir(), "other")
	for i, c := range []struct {
		says string // empty where it starts
		args []string
	}{
		{"", []string{"--secret-file", file}},
		{"", []string{"--secret", strings.TrimSpace(string(made))}},
		{"not the secret with which the hosts' passwords were sealed", []string{"--secret-file", other}},
		{"enter each host's password again", []string{"--secret", someSecret}},
		{"", []string{"--secret", someSecret, "--secret-changed", "yes"}},
		{"64 hexadecimal digits", []string{"--secret", "abc"}},
		{"say where the secret lies", nil},
		{"can neither be read nor made", []string{"--secret-file", "/nowhere/secret"}},
	} {
		said, err := add(fmt.Sprintf("q%d", i), c.args...)
		if (err == nil) != (c.says == "") || !strings.Contains(said, c.says) {
			t.Errorf("%v: %v %s", c.args, err, said)
		}
	}
}

// seal seals a host's password in a database, as adding a site does.
func seal(t *testing.T, dsn, secret string) {
	t.Helper()
	key, err := hex.DecodeString(secret)
	if err != nil {
		t.Fatal(err)
	}
	block, err := aes.NewCipher(key)
	if err != nil {
		t.Fatal(err)
	}
	aead, err := cipher.NewGCM(block)
	if err != nil {
		t.Fatal(err)
	}
	db, err := sql.Open("mysql", dsn)
	if err != nil {
		t.Fatal(err)
	}
	defer db.Close()
	nonce := make([]byte, aead.NonceSize())
	for _, s := range []string{"SET FOREIGN_KEY_CHECKS = 0", "INSERT INTO site_host (site_id, role, kind, url, user, secret) VALUES (1, 'live', 'webdav', 'http://x/', 'x', ?)"} {
		var args []any
		if strings.Contains(s, "?") {
			args = append(args, aead.Seal(nonce, nonce, []byte("keeper"), nil))
		}
		conn, err := db.Conn(t.Context())
		if err != nil {
			t.Fatal(err)
		}
		if _, err := conn.ExecContext(t.Context(), s, args...); err != nil {
			t.Fatal(err)
		}
		_ = conn.Close()
	}
}

// The rights that the README names for the database's user are all that Mendry needs, from an empty database on.
func TestTheDatabasesUserNeedsNoMoreThanIsSaid(t *testing.T) {
	t.Parallel()
	readme, err := os.ReadFile("../../README.md")
	if err != nil {
		t.Fatal(err)
	}
	grant := regexp.MustCompile(`(?m)^GRANT ([A-Z, ]+) ON mendry`).FindSubmatch(readme)
	if grant == nil {
		t.Fatal("the README grants nothing")
	}
	dsn := dbtest.DSN(t)
	to, err := mysql.ParseDSN(dsn)
	if err != nil {
		t.Fatal(err)
	}
	db, err := sql.Open("mysql", dsn)
	if err != nil {
		t.Fatal(err)
	}
	defer db.Close()
	for _, s := range []string{"CREATE USER 'plain'@'%' IDENTIFIED BY 'word'", "GRANT " + string(grant[1]) + " ON `" + to.DBName + "`.* TO 'plain'@'%'"} {
		if _, err := db.ExecContext(t.Context(), s); err != nil {
			t.Fatal(err)
		}
	}
	to.User, to.Passwd = "plain", "word"
	c := program(t, "person", "add", "--dsn", to.FormatDSN(), "--secret", someSecret, "--sign-in", "ines", "--name", "A Person")
	c.Stdin = strings.NewReader("a long password\n")
	if said, err := c.CombinedOutput(); err != nil {
		t.Errorf("%v: %s", err, said)
	}
}
