package httpd

import (
	"io"
	"net"
	"net/http"
	"regexp"
	"sync"
	"testing"

	"mendry/internal/localdb/dbtest"
)

// line is the way to a database, which can be cut and mended.
type line struct {
	net.Listener
	to    string
	mu    sync.Mutex
	open  map[net.Conn]bool
	isCut bool
	cutAt int // the question to the database at which it is cut; 0 for none
}

func (l *line) carry() {
	for {
		here, err := l.Accept()
		if err != nil {
			return
		}
		there, err := net.Dial("tcp", l.to)
		l.mu.Lock()
		if err != nil || l.isCut {
			_ = here.Close()
			l.mu.Unlock()
			continue
		}
		l.open[here], l.open[there] = true, true
		l.mu.Unlock()
		for _, way := range [][2]io.ReadWriteCloser{{here, there}, {there, &asking{here, l}}} {
			go func() {
				_, _ = io.Copy(way[0], way[1])
				_, _ = way[0].Close(), way[1].Close()
			}()
		}
	}
}

// asking is the side that asks; a question counts.
type asking struct {
	net.Conn
	of *line
}

func (a *asking) Read(b []byte) (int, error) {
	n, err := a.Conn.Read(b)
	a.of.mu.Lock()
	a.of.cutAt--
	now := a.of.cutAt == 0
	a.of.mu.Unlock()
	if now {
		a.of.cut(true, 0)
		return 0, io.EOF
	}
	return n, err
}

// cut cuts the line, or mends it until a question comes.
func (l *line) cut(is bool, at int) {
	l.mu.Lock()
	defer l.mu.Unlock()
	for c := range l.open {
		_ = c.Close()
	}
	l.open, l.isCut, l.cutAt = map[net.Conn]bool{}, is, at
}

var hostInDSN = regexp.MustCompile(`tcp\(([^)]*)\)`)

// While the database dies, and until it is back, calls are answered that they may be made again; none that something
// is wrong with Mendry.
func TestADatabaseThatDiesIsSaidToBeAway(t *testing.T) {
	dsn := dbtest.DSN(t)
	at := hostInDSN.FindStringSubmatch(dsn)
	if at == nil {
		t.Fatalf("%s names no host", dsn)
	}
	listener, err := net.Listen("tcp", "127.0.0.1:0")
	if err != nil {
		t.Fatal(err)
	}
	l := &line{Listener: listener, to: at[1], open: map[net.Conn]bool{}}
	t.Cleanup(func() { _ = l.Close(); l.cut(true, 0) })
	go l.carry()
	c, _, _ := serveOn(t, hostInDSN.ReplaceAllString(dsn, "tcp("+l.Addr().String()+")"))
	c.signIn()
	met := map[int]int{}
	for at := 1; at < 40; at++ { // the database dies at each question in turn
		l.cut(false, at)
		status, said, _ := c.call("GET", "/api/today", "")
		if met[status]++; status != http.StatusOK && status != http.StatusServiceUnavailable {
			t.Errorf("died at question %d: %d %v", at, status, said)
		}
	}
	if met[http.StatusOK] == 0 || met[http.StatusServiceUnavailable] < 5 {
		t.Errorf("answered %v", met)
	}
	l.cut(true, 0)
	if status, said, r := c.call("GET", "/api/today", ""); status != http.StatusServiceUnavailable || said["say"] == "" {
		t.Errorf("away: %d %v %v", status, said, r.Header)
	}
	l.cut(false, 0)
	if status, said, _ := c.call("GET", "/api/today", ""); status != http.StatusOK {
		t.Errorf("back: %d %v", status, said)
	}
}
