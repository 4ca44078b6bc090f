package httpd

import (
	"bytes"
	"fmt"
	"log/slog"
	"net"
	"net/http"
	"net/http/httptest"
	"strings"
	"syscall"
	"testing"

	"github.com/gin-gonic/gin"
)

// A caller's address is what a trusted proxy says of it, and nobody else.
func TestWhoseAddressIsBelieved(t *testing.T) {
	for _, tt := range []struct {
		proxies []string
		peer    string
		status  int // of the next caller, after too many tries of the first
	}{
		{[]string{"198.51.100.1"}, "198.51.100.1:7", http.StatusForbidden},
		{nil, "198.51.100.1:7", http.StatusTooManyRequests},                        // it names callers, but who is it?
		{[]string{"198.51.100.0/24"}, "203.0.113.5:7", http.StatusTooManyRequests}, // another one that says it is a proxy
	} {
		_, srv, _ := serve(t)
		srv.proxies = tt.proxies
		h := srv.Handler()
		try := func(name, from string) int {
			r := httptest.NewRequest("POST", "/api/session", strings.NewReader(fmt.Sprintf(`{"sign_in":%q,"password":"guess"}`, name)))
			r.Header.Set("Content-Type", "application/json")
			r.Header.Set("X-Forwarded-For", from)
			r.RemoteAddr = tt.peer
			w := httptest.NewRecorder()
			h.ServeHTTP(w, r)
			return w.Code
		}
		for i := range 25 {
			try(fmt.Sprintf("somebody %d", i), "203.0.113.9")
		}
		if got := try("somebody", "203.0.113.9"); got != http.StatusTooManyRequests {
			t.Errorf("%v: the same caller once more: %d", tt.proxies, got)
		}
		if got := try("somebody else", "203.0.113.10"); got != tt.status {
			t.Errorf("%v at %s: the next caller: %d, want %d", tt.proxies, tt.peer, got, tt.status)
		}
	}
}

func TestNothingOfABodyIsLogged(t *testing.T) {
	c, srv, _ := serve(t)
	var log bytes.Buffer
	srv.log = slog.New(slog.NewTextHandler(&log, &slog.HandlerOptions{Level: slog.LevelDebug}))
	c.signIn()
	for path, body := range map[string]string{
		"/api/session":   `{"sign_in":"ines","password":["hunter2"]}`,
		"/api/sites":     `{"name":"x","host_password":{"is":"hunter2"},"zone":7}`,
		"/api/site-test": `{"host_password":"hunter2"`,
		"/api/requests":  `{"letter":["hunter2"],"site_id":"hunter2"}`,
	} {
		if status, v, _ := c.call("POST", path, body); status != http.StatusBadRequest || strings.Contains(fmt.Sprint(v), "hunter2") {
			t.Errorf("%s: %d %v", path, status, v)
		}
	}
	if strings.Contains(log.String(), "hunter2") || !strings.Contains(log.String(), "call refused") {
		t.Errorf("the log:\n%s", log.String())
	}
}

func TestACallerWhoHasGoneIsNoFaultOfOurs(t *testing.T) {
	_, srv, _ := serve(t)
	caller := &net.TCPAddr{IP: net.IPv4(203, 0, 113, 9), Port: 1234}
	database := &net.TCPAddr{IP: net.IPv4(127, 0, 0, 1), Port: 3306}
	for _, peer := range []*net.TCPAddr{caller, database} {
		var log bytes.Buffer
		srv.log = slog.New(slog.NewTextHandler(&log, nil))
		c, _ := gin.CreateTestContext(httptest.NewRecorder())
		c.Request = httptest.NewRequest(http.MethodGet, "/api/today", nil)
		c.Request.RemoteAddr = caller.String()
		srv.fail(c, fmt.Errorf("write it out: %w", &net.OpError{Op: "write", Net: "tcp", Addr: peer, Err: syscall.EPIPE}))
		if logged := log.Len() > 0; logged != (peer == database) {
			t.Errorf("a broken line to %s: logged %v", peer, logged)
		}
	}
}
