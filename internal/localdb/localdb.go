// Package localdb runs a private MariaDB on loopback, for the demo and for tests.
package localdb

import (
	"bytes"
	"context"
	"database/sql"
	"errors"
	"fmt"
	"math/rand/v2"
	"net"
	"os"
	"os/exec"
	"path/filepath"
	"runtime"
	"strconv"
	"syscall"
	"time"

	_ "github.com/go-sql-driver/mysql" // the driver registers itself
)

// Server is a running MariaDB.
type Server struct {
	port int
	cmd  *exec.Cmd
	gone chan error
}

// Options of a private server.
type Options struct {
	// Forgetful trades the last second before a power cut or kill for speed: for tests and the demo, which a slow disk
	// would hold up at each commit.
	Forgetful bool
	// Memory is how much of the data is held in memory, as MariaDB writes sizes ("128M"); empty for that.
	Memory string
}

// Start starts a server on dir, which it prepares where it is empty. The server ends with this process.
func Start(dir string, o Options) (*Server, error) {
	mariadbd, err := program("mariadbd")
	if err != nil {
		return nil, err
	}
	env, err := ownTemp(dir)
	if err != nil {
		return nil, err
	}
	if err := prepare(dir, env); err != nil {
		return nil, err
	}
	port, err := freePort()
	if err != nil {
		return nil, err
	}
	flush, memory, redo := "1", "128M", "96M"
	if o.Forgetful {
		flush, redo = "0", "16M" // what is copied and held in memory, again and again
	}
	if o.Memory != "" {
		memory = o.Memory
	}
	cmd := exec.Command(mariadbd, "--no-defaults", "--user=root", "--datadir="+dir, "--socket="+filepath.Join(dir, "s"),
		"--port="+strconv.Itoa(port), "--bind-address=127.0.0.1", "--pid-file="+filepath.Join(dir, "pid"),
		"--log-error="+filepath.Join(dir, "err.log"), "--skip-name-resolve", "--character-set-server=utf8mb4",
		"--collation-server=utf8mb4_uca1400_ai_ci", "--default-time-zone=+00:00", "--innodb-ft-min-token-size=2",
		"--max-allowed-packet=64M", "--innodb-flush-log-at-trx-commit="+flush, "--innodb-buffer-pool-size="+memory,
		"--innodb-log-file-size="+redo)
	cmd.Env = env
	cmd.SysProcAttr = &syscall.SysProcAttr{Pdeathsig: syscall.SIGTERM}
	s := &Server{port: port, cmd: cmd, gone: make(chan error, 1)}
	started := make(chan error)
	go func() {
		runtime.LockOSThread() // Pdeathsig speaks of the thread that started the child
		err := cmd.Start()
		started <- err
		if err == nil {
			s.gone <- cmd.Wait()
		}
	}()
	if err := <-started; err != nil {
		return nil, fmt.Errorf("start MariaDB: %w", err)
	}
	if err := s.wait(); err != nil {
		s.Stop()
		log, _ := os.ReadFile(filepath.Join(dir, "err.log"))
		return nil, fmt.Errorf("MariaDB did not come up: %w\n%s", err, tail(log))
	}
	return s, nil
}

func tail(log []byte) []byte {
	if i := len(log) - 2000; i > 0 {
		return log[i:]
	}
	return bytes.TrimSpace(log)
}

func program(name string) (string, error) {
	for _, p := range []string{name, "/usr/sbin/" + name, "/usr/bin/" + name} {
		if found, err := exec.LookPath(p); err == nil {
			return found, nil
		}
	}
	return "", fmt.Errorf("%s is not installed: apt-get install mariadb-server-core mariadb-client-core", name)
}

// ownTemp is the environment for a server on dir, with a folder of its own for temporary tables: a server that starts
// clears away all that it finds there, another server's too.
func ownTemp(dir string) ([]string, error) {
	temp := filepath.Clean(dir) + "-temp"
	if err := os.MkdirAll(temp, 0o700); err != nil {
		return nil, err
	}
	temp, err := filepath.Abs(temp)
	return append(os.Environ(), "TMPDIR="+temp), err
}

func prepare(dir string, env []string) error {
	if _, err := os.Stat(filepath.Join(dir, "mysql")); err == nil {
		return nil
	}
	install, err := program("mariadb-install-db")
	if err != nil {
		return err
	}
	if err := os.MkdirAll(dir, 0o700); err != nil {
		return err
	}
	cmd := exec.Command(install, "--no-defaults", "--datadir="+dir, "--user=root",
		"--auth-root-authentication-method=normal", "--skip-test-db", "--innodb-log-file-size=8M")
	cmd.Env = env
	out, err := cmd.CombinedOutput()
	if err != nil {
		return fmt.Errorf("prepare a MariaDB folder: %w\n%s", err, tail(out))
	}
	return nil
}

// freePort is a port that nobody listens on, below those that Linux gives to whoever connects (ip_local_port_range: from 32768
// on): one of these may be taken again before the server is up.
func freePort() (int, error) {
	const first, last = 20_000, 32_000
	var err error
	for range 100 {
		port := first + rand.IntN(last-first)
		var l net.Listener
		if l, err = net.Listen("tcp", fmt.Sprintf("127.0.0.1:%d", port)); err == nil {
			return port, l.Close()
		}
	}
	return 0, err
}

// DSN is the address of a database on this server for go-sql-driver/mysql.
func (s *Server) DSN(database string) string {
	return fmt.Sprintf("root@tcp(127.0.0.1:%d)/%s?parseTime=true&loc=UTC&clientFoundRows=true&interpolateParams=true&collation=utf8mb4_uca1400_ai_ci&multiStatements=false", s.port, database)
}

// Create makes a database.
func (s *Server) Create(database string) error {
	db, err := sql.Open("mysql", s.DSN(""))
	if err != nil {
		return err
	}
	defer db.Close()
	_, err = db.Exec("CREATE DATABASE IF NOT EXISTS `" + database + "`")
	return err
}

func (s *Server) wait() error {
	ctx, cancel := context.WithTimeout(context.Background(), 30*time.Second)
	defer cancel()
	db, err := sql.Open("mysql", s.DSN(""))
	if err != nil {
		return err
	}
	defer db.Close()
	tick := time.NewTicker(50 * time.Millisecond)
	defer tick.Stop()
	for {
		if err = db.PingContext(ctx); err == nil {
			return nil
		}
		select {
		case gone := <-s.gone:
			s.gone <- gone
			return fmt.Errorf("it ended: %w", gone)
		case <-ctx.Done():
			return errors.Join(ctx.Err(), err)
		case <-tick.C:
		}
	}
}

// Stop ends the server and waits until it has written everything.
func (s *Server) Stop() {
	if s.cmd.Process == nil {
		return
	}
	_ = s.cmd.Process.Signal(syscall.SIGTERM)
	select {
	case <-s.gone:
	case <-time.After(20 * time.Second):
		_ = s.cmd.Process.Kill()
	}
}
