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
		for _, c := range [][2]net.Conn{{here, there}, {there, here}} {
			go func() {
				_, _ = io.Copy(c[0], c[1])
				_, _ = c[0].Close(), c[1].Close()
			}()
		}
	}
}

func (l *line) cut(is bool) {
	l.mu.Lock()
	defer l.mu.Unlock()
	for c := range l.open {
		_ = c.Close()
	}
	l.open, l.isCut = map[net.Conn]bool{}, is
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
	t.Cleanup(func() { _ = l.Close(); l.cut(true) })
	go l.carry()
	c, _, _ := serveOn(t, hostInDSN.ReplaceAllString(dsn, "tcp("+l.Addr().String()+")"))
	c.signIn()
	ask := func() map[int]int {
		var mu sync.Mutex
		var all sync.WaitGroup
		got := map[int]int{}
		for _, path := range []string{"/api/today", "/api/sites", "/api/clients", "/api/record"} {
			for range 6 {
				all.Go(func() {
					status, _, _ := c.call("GET", path, "")
					mu.Lock()
					defer mu.Unlock()
					got[status]++
				})
			}
		}
		for range 20 {
			l.cut(true) // while they are under way
		}
		all.Wait()
		return got
	}
	for range 5 {
		l.cut(false)
		got := ask()
		if got[http.StatusOK]+got[http.StatusServiceUnavailable] != 24 {
			t.Fatalf("answered %v", got)
		}
	}
	if status, said, r := c.call("GET", "/api/today", ""); status != http.StatusServiceUnavailable || said["say"] == "" {
		t.Errorf("away: %d %v %v", status, said, r.Header)
	}
	l.cut(false)
	if status, said, _ := c.call("GET", "/api/today", ""); status != http.StatusOK {
		t.Errorf("back: %d %v", status, said)
	}
}
