package httpd

import (
	"bytes"
	"context"
	"encoding/json"
	"io"
	"log/slog"
	"net/http"
	"net/http/cookiejar"
	"net/http/httptest"
	"net/url"
	"strings"
	"testing"

	"mendry/internal/desk"
	"mendry/internal/host"
	"mendry/internal/localdb/dbtest"
	"mendry/internal/store"
	"mendry/internal/tries"
)

func TestMain(m *testing.M) { dbtest.Main(m) }

type client struct {
	t     testing.TB
	http  *http.Client
	base  string
	token string
}

func serve(t testing.TB) (*client, *Server, *store.Store) {
	t.Helper()
	return serveOn(t, dbtest.DSN(t))
}

func serveOn(t testing.TB, dsn string) (*client, *Server, *store.Store) {
	t.Helper()
	ctx := context.Background()
	s, err := store.Open(ctx, dsn)
	if err != nil {
		t.Fatal(err)
	}
	t.Cleanup(func() { _ = s.Close() })
	log := slog.New(slog.NewTextHandler(io.Discard, nil))
	d, err := desk.New(s, desk.Config{Network: host.Network{Loopback: true}, Secret: make([]byte, 32), Clock: tries.Clock, PreviewURL: "http://{token}.preview.example:81", Log: log})
	if err != nil {
		t.Fatal(err)
	}
	if _, err := d.AddPerson(ctx, "ines", "Ines Oakley", "maintainer", "harbour lane"); err != nil {
		t.Fatal(err)
	}
	srv, err := New(d, s, Options{PreviewURL: "http://{token}.preview.example:81", Log: log})
	if err != nil {
		t.Fatal(err)
	}
	web := httptest.NewServer(srv.Handler())
	t.Cleanup(web.Close)
	jar, err := cookiejar.New(nil)
	if err != nil {
		t.Fatal(err)
	}
	return &client{t: t, http: &http.Client{Jar: jar}, base: web.URL}, srv, s
}

func (c *client) call(method, path, body string) (int, map[string]any, *http.Response) {
	c.t.Helper()
	req, err := http.NewRequest(method, c.base+path, strings.NewReader(body))
	if err != nil {
		c.t.Fatal(err)
	}
	req.Header.Set("Content-Type", "application/json")
	if c.token != "" {
		req.Header.Set("X-Mendry-Token", c.token)
	}
	r, err := c.http.Do(req)
	if err != nil {
		c.t.Fatal(err)
	}
	defer r.Body.Close()
	b, err := io.ReadAll(r.Body)
	if err != nil {
		c.t.Fatal(err)
	}
	var v map[string]any
	if len(b) > 0 && bytes.HasPrefix(bytes.TrimSpace(b), []byte("{")) {
		if err := json.Unmarshal(b, &v); err != nil {
			c.t.Fatalf("%s: %v", b, err)
		}
	}
	return r.StatusCode, v, r
}

func (c *client) signIn() {
	c.t.Helper()
	status, me, _ := c.call("POST", "/api/session", `{"sign_in":"ines","password":"harbour lane"}`)
	if status != http.StatusOK {
		c.t.Fatalf("sign in: %d %v", status, me)
	}
	c.token, _ = me["csrf"].(string)
}

func TestNothingWithoutSigningIn(t *testing.T) {
	c, _, _ := serve(t)
	for _, path := range []string{"/api/session", "/api/today", "/api/sites", "/api/sites/1", "/api/requests/201", "/api/attachments/1", "/api/find?words=fares", "/api/record", "/api/record/export?site=1"} {
		if status, v, _ := c.call("GET", path, ""); status != http.StatusUnauthorized || v["say"] != "Sign in first." {
			t.Errorf("%s: %d %v", path, status, v)
		}
	}
}

func TestCallsThatChangeSomethingNeedTheToken(t *testing.T) {
	c, _, _ := serve(t)
	c.signIn()
	if status, _, _ := c.call("GET", "/api/today", ""); status != http.StatusOK {
		t.Fatalf("today: %d", status)
	}
	good := c.token
	for _, token := range []string{"", "wrong", good + "x"} {
		c.token = token
		if status, v, _ := c.call("DELETE", "/api/session", ""); status != http.StatusForbidden {
			t.Errorf("token %q: %d %v", token, status, v)
		}
	}
	c.token = good
	if status, _, _ := c.call("DELETE", "/api/session", ""); status != http.StatusNoContent {
		t.Errorf("sign out: %d", status)
	}
	if status, _, _ := c.call("GET", "/api/today", ""); status != http.StatusUnauthorized {
		t.Errorf("after signing out: %d", status)
	}
}

func TestTheSessionChangesAtSignInAndItsCookieIsClosed(t *testing.T) {
	c, _, _ := serve(t)
	_, _, r := c.call("POST", "/api/session", `{"sign_in":"ines","password":"harbour lane"}`)
	set := r.Header.Get("Set-Cookie")
	if !strings.Contains(set, "HttpOnly") || !strings.Contains(set, "SameSite=Lax") {
		t.Errorf("cookie %q", set)
	}
	_, _, again := c.call("POST", "/api/session", `{"sign_in":"ines","password":"harbour lane"}`)
	if again.Header.Get("Set-Cookie") == set || again.Header.Get("Set-Cookie") == "" {
		t.Error("the session's name stays the same over a sign-in")
	}
}

func TestBadInputGetsPlainWords(t *testing.T) {
	c, _, _ := serve(t)
	c.signIn()
	long := strings.Repeat("x", 400)
	tests := []struct {
		method, path, body string
		status             int
		say                string
	}{
		{"POST", "/api/requests", `{`, 400, "could not be read"},
		{"POST", "/api/requests", `{"site_id":"one","subject":"x","letter":"y","kind":"mail"}`, 400, "“site id”"},
		{"POST", "/api/requests", `{"site_id":1,"subject":"` + long + `","letter":"y","kind":"mail"}`, 400, "“subject” is too long"},
		{"POST", "/api/requests", `{"site_id":1,"subject":"x","letter":" ","kind":"mail"}`, 422, "what the client wrote"},
		{"POST", "/api/requests", `{"site_id":99,"subject":"x","letter":"y","kind":"mail"}`, 404, "no such site"},
		{"GET", "/api/find?words=" + long, "", 400, "“words” is too long"},
		{"GET", "/api/requests/99", "", 404, "no such request"},
		{"GET", "/api/requests/abc", "", 400, "could not be read"},
		{"GET", "/api/nothing", "", 404, "no such call"},
		{"POST", "/api/sites", `{"name":"x","host_url":"ftp://x","public_url":"x","host_user":"","host_password":"","zone":"Europe/London"}`, 422, ""},
		{"POST", "/api/sites", `{"name":"x","host_url":"https://x.example","public_url":"https://x.example","host_user":"","host_password":"","zone":"Moon/Base"}`, 422, "no time zone"},
		{"POST", "/api/releases/1/melt", "", 400, ""},
	}
	for _, tt := range tests {
		status, v, r := c.call(tt.method, tt.path, tt.body)
		say, _ := v["say"].(string)
		if tt.path == "/api/sites" && strings.Contains(tt.body, "ftp") {
			tt.status, tt.say = 502, "no address"
		}
		if status != tt.status || !strings.Contains(say, tt.say) || r.Header.Get("X-Request-Id") == "" {
			t.Errorf("%s %s %.60s: %d %q", tt.method, tt.path, tt.body, status, say)
		}
		for _, leak := range []string{"sql", "goroutine", "panic", ".go:", "json:"} {
			if strings.Contains(strings.ToLower(say), leak) {
				t.Errorf("%s leaks: %q", tt.path, say)
			}
		}
	}
}

func TestTooMuchAtOnceIsRefused(t *testing.T) {
	c, _, _ := serve(t)
	c.signIn()
	status, v, _ := c.call("POST", "/api/requests", `{"letter":"`+strings.Repeat("x", 2<<20)+`"}`)
	if status != http.StatusRequestEntityTooLarge || !strings.Contains(v["say"].(string), "too much") {
		t.Errorf("%d %v", status, v)
	}
}

func TestThePolicyOfPages(t *testing.T) {
	c, srv, _ := serve(t)
	_, _, r := c.call("GET", "/", "")
	csp := r.Header.Get("Content-Security-Policy")
	for _, want := range []string{"default-src 'none'", "script-src 'self'", "frame-src http://*.preview.example:81", "frame-ancestors 'none'"} {
		if !strings.Contains(csp, want) {
			t.Errorf("%q lacks %q", csp, want)
		}
	}
	if strings.Contains(csp, "unsafe-eval") || strings.Contains(strings.Split(csp, "style-src")[0], "unsafe-inline") {
		t.Errorf("scripts are too free: %q", csp)
	}
	w := httptest.NewRecorder()
	srv.Previews().ServeHTTP(w, httptest.NewRequest("GET", "http://aaaaaaaaaaaaaaaaaaaaaaaaaa.preview.example:81/fares.html", nil))
	if w.Code != http.StatusNotFound || w.Header().Get("Content-Security-Policy") != "sandbox allow-scripts" || w.Header().Get("Set-Cookie") != "" {
		t.Errorf("a guessed view: %d %v", w.Code, w.Header())
	}
	w = httptest.NewRecorder()
	srv.Previews().ServeHTTP(w, httptest.NewRequest("POST", "http://a.preview.example:81/", strings.NewReader(url.Values{"x": {"y"}}.Encode())))
	if w.Code != http.StatusMethodNotAllowed {
		t.Errorf("a form sent from a preview: %d", w.Code)
	}
}

func TestPastedMarkupIsCleanedByACall(t *testing.T) {
	c, _, _ := serve(t)
	c.signIn()
	status, v, _ := c.call("POST", "/api/clean", `{"html":"<p style=\"x\">One <b>two</b><script>x</script></p><p>Three</p>","plain":false}`)
	if status != http.StatusOK || v["html"] != "One <strong>two</strong><br>Three" || v["blocks"] != "<p>One <strong>two</strong></p><p>Three</p>" {
		t.Errorf("%d %v", status, v)
	}
	if dropped, _ := v["dropped"].([]any); len(dropped) != 2 {
		t.Errorf("dropped %v", v["dropped"])
	}
	if status, v, _ = c.call("POST", "/api/clean", `{"html":"<p>a & <i>b</i></p><p>c</p>","plain":true}`); status != http.StatusOK || v["html"] != "a &amp; b<br>c" {
		t.Errorf("words only: %d %v", status, v)
	}
	if status, v, _ = c.call("POST", "/api/links/try", `{"address":"http://127.0.0.2:9/"}`); status != http.StatusOK || v["ok"] != false || v["say"] == "" {
		t.Errorf("an address that does not answer: %d %v", status, v)
	}
	for _, path := range []string{"/api/requests/99/proposals", "/api/requests/99/changes/1/elsewhere"} {
		if status, v, _ := c.call("GET", path, ""); status != http.StatusNotFound || v["say"] == "" {
			t.Errorf("%s: %d %v", path, status, v)
		}
	}
	c.token = ""
	if status, _, _ := c.call("POST", "/api/clean", `{"html":"x","plain":true}`); status != http.StatusForbidden {
		t.Errorf("without the token: %d", status)
	}
}
