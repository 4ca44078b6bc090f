package standin

import (
	"io"
	"net/http"
	"net/http/httptest"
	"os"
	"path/filepath"
	"strings"
	"testing"
	"time"
)

func folder(t *testing.T, files map[string]string) string {
	t.Helper()
	dir := t.TempDir()
	for name, content := range files {
		file := filepath.Join(dir, name)
		if err := os.MkdirAll(filepath.Dir(file), 0o755); err != nil {
			t.Fatal(err)
		}
		if err := os.WriteFile(file, []byte(content), 0o644); err != nil {
			t.Fatal(err)
		}
	}
	return dir
}

func ask(t *testing.T, method, url string, header http.Header, body string) (*http.Response, string) {
	t.Helper()
	r, err := http.NewRequest(method, url, strings.NewReader(body))
	if err != nil {
		t.Fatal(err)
	}
	for k, v := range header {
		r.Header[k] = v
	}
	res, err := http.DefaultClient.Do(r)
	if err != nil {
		t.Fatal(err)
	}
	defer res.Body.Close()
	b, err := io.ReadAll(res.Body)
	if err != nil {
		t.Fatal(err)
	}
	return res, string(b)
}

func TestVisitorsGetPagesByTheirAddresses(t *testing.T) {
	t.Parallel()
	h := &Host{Dir: folder(t, map[string]string{
		"index.html": "<p>home</p>", "fares.html": "<p>fares</p>", "news/index.html": "<p>news</p>", ".secret": "x", "_layout.html": "<title>{{title}}</title><main>{{body}}</main>",
		"beans.md": "---\ntitle: \"Beans & peas\"\n---\nBroad *beans*.\n", "quay.webp": "RIFF",
	})}
	s := httptest.NewServer(h.Public())
	t.Cleanup(s.Close)
	for _, c := range []struct {
		path, want, media string
		status            int
	}{
		{"/", "<p>home</p>", "text/html", 200},
		{"/fares.html", "<p>fares</p>", "text/html", 200},
		{"/fares", "404 page not found\n", "", 404}, // only what a builder made has an address without its ending
		{"/news/", "<p>news</p>", "text/html", 200},
		{"/beans", "<title>Beans &amp; peas</title><main><p>Broad <em>beans</em>.</p>\n</main>", "text/html; charset=utf-8", 200},
		{"/quay.webp", "RIFF", "image/webp", 200},
		{"/nothing", "404 page not found\n", "", 404},
		{"/.secret", "404 page not found\n", "", 404},
		{"/../standin_test.go", "404 page not found\n", "", 404},
	} {
		res, body := ask(t, "GET", s.URL+c.path, nil, "")
		if res.StatusCode != c.status || body != c.want || c.media != "" && res.Header.Get("Content-Type") != c.media {
			t.Errorf("%s: %d %s %q", c.path, res.StatusCode, res.Header.Get("Content-Type"), body)
		}
	}
	if res, _ := ask(t, "PUT", s.URL+"/fares.html", nil, "x"); res.StatusCode != http.StatusMethodNotAllowed {
		t.Errorf("a visitor wrote: %d", res.StatusCode)
	}
}

// RFC 9111: a fresh answer is given from the cache with its Age; RFC 9110, 13.1.2: If-None-Match is answered with 304.
func TestTheCacheHoldsAPageUntilItIsOldOrFlushed(t *testing.T) {
	t.Parallel()
	h := &Host{Dir: folder(t, map[string]string{"a.html": "<p>old</p>"}), Keep: time.Hour}
	s := httptest.NewServer(h.Public())
	t.Cleanup(s.Close)
	first, _ := ask(t, "GET", s.URL+"/a.html", nil, "")
	if first.Header.Get("Cache-Control") != "max-age=3600" || first.Header.Get("Age") != "0" {
		t.Errorf("%v", first.Header)
	}
	if err := h.Edit("a.html", "old", "new"); err != nil {
		t.Fatal(err)
	}
	if _, body := ask(t, "GET", s.URL+"/a.html", nil, ""); body != "<p>old</p>" {
		t.Errorf("the cache gave %q", body)
	}
	if res, body := ask(t, "GET", s.URL+"/a.html", http.Header{"If-None-Match": {first.Header.Get("ETag")}}, ""); res.StatusCode != http.StatusNotModified || body != "" {
		t.Errorf("%d %q", res.StatusCode, body)
	}
	h.Flush()
	now, body := ask(t, "GET", s.URL+"/a.html", nil, "")
	if body != "<p>new</p>" || now.Header.Get("ETag") == first.Header.Get("ETag") {
		t.Errorf("flushed: %q %v", body, now.Header)
	}
}

func TestTheHostDoesAsItIsTold(t *testing.T) {
	t.Parallel()
	h := &Host{Dir: folder(t, map[string]string{"a.html": "<p>old</p>"}), User: "keeper", Pass: "right"}
	s := httptest.NewServer(h.DAV())
	t.Cleanup(s.Close)
	in := http.Header{"Authorization": {"Basic a2VlcGVyOnJpZ2h0"}} // RFC 7617: base64 of keeper:right
	for _, c := range []struct {
		path, body string
		status     int
	}{
		{"faults", `[{"status":507,"method":"PUT","times":1}]`, 204},
		{"faults", `{`, 400},
		{"edit", `{"Path":"a.html","Old":"old","New":"other"}`, 204},
		{"edit", `{"Path":"a.html","Old":"old","New":"x"}`, 400},
		{"edit", `{"Path":"none.html","Old":"old","New":"x"}`, 400},
		{"flush", "", 204},
		{"dance", "", 400},
	} {
		if res, body := ask(t, "POST", s.URL+"/.standin/"+c.path, nil, c.body); res.StatusCode != c.status {
			t.Errorf("%s %s: %d %s", c.path, c.body, res.StatusCode, body)
		}
	}
	if res, body := ask(t, "GET", s.URL+"/a.html", in, ""); body != "<p>other</p>" || res.Header.Get("ETag") != ETag([]byte(body)) {
		t.Errorf("%q %v", body, res.Header)
	}
	for i, want := range []int{507, 204} {
		if res, _ := ask(t, "PUT", s.URL+"/a.html", in, "<p>mine</p>"); res.StatusCode != want {
			t.Errorf("write %d: %d", i, res.StatusCode)
		}
	}
	if res, _ := ask(t, "PUT", s.URL+"/a.html", http.Header{"Authorization": in["Authorization"], "If-Match": {`"older", "other"`}}, "x"); res.StatusCode != http.StatusPreconditionFailed {
		t.Errorf("written over a newer version: %d", res.StatusCode)
	}
	if res, _ := ask(t, "GET", s.URL+"/a.html", nil, ""); res.StatusCode != http.StatusUnauthorized || res.Header.Get("WWW-Authenticate") == "" {
		t.Errorf("without a password: %d", res.StatusCode)
	}
}

func TestTheMailboxShowsLettersAndRunsNothingInThem(t *testing.T) {
	t.Parallel()
	dir := folder(t, map[string]string{
		"2.eml": "From: a@b.example\r\nTo: maren@larkspur.example\r\nSubject: =?utf-8?q?=C2=A37.40?=\r\nDate: Thu, 26 Nov 2026 09:00:00 +0000\r\n\r\nSee http://localhost:8400/p/abc <script>x</script>\r\n",
		"1.eml": "half a let",
	})
	s := httptest.NewServer(&Mailbox{Dir: dir})
	t.Cleanup(s.Close)
	res, body := ask(t, "GET", s.URL, nil, "")
	for _, want := range []string{"<h2>£7.40</h2>", `<a href="http://localhost:8400/p/abc">http://localhost:8400/p/abc</a> &lt;script&gt;`, "26 November 2026, 09:00"} {
		if !strings.Contains(body, want) {
			t.Errorf("%q is not in\n%s", want, body)
		}
	}
	if !strings.HasPrefix(res.Header.Get("Content-Security-Policy"), "default-src 'none'") {
		t.Errorf("%v", res.Header)
	}
}
