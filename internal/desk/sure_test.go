package desk

import (
	"context"
	"net/http"
	"net/http/httptest"
	"os"
	"path/filepath"
	"strings"
	"testing"
)

// A page arrives to the byte, and visitors' browsers are told to read it in another encoding (RFC 9110, 8.3; HTML
// Living Standard, 13.2.3.2).
func TestAnEncodingThatVisitorsAreToldIsHeldAgainstThePage(t *testing.T) {
	t.Parallel()
	ctx := context.Background()
	w := newWorld(t, true, "a")
	w.write("a.html", "<!doctype html><meta charset=utf-8><title>A</title><h1>Café</h1><p>A single is £6.90.</p>")
	w.takeIn()
	charset := "; charset=ISO-8859-1"
	visitors := httptest.NewServer(http.HandlerFunc(func(rw http.ResponseWriter, r *http.Request) {
		b, err := os.ReadFile(filepath.Join(w.dir, filepath.Base(r.URL.Path)))
		if err != nil {
			http.NotFound(rw, r)
			return
		}
		rw.Header().Set("Content-Type", "text/html"+charset)
		_, _ = rw.Write(b)
	}))
	t.Cleanup(visitors.Close)
	_, err := w.s.DB().ExecContext(ctx, `UPDATE site SET public_url = ?`, visitors.URL+"/")
	w.must(err)
	number := w.request("Fares")
	w.must(w.keep(number, "/a.html", "A single is £6.90.", "A single is £7.40."))
	if rel := w.goLive(number); !strings.Contains(rel.Steps[0].Said, "written in WINDOWS-1252, the page says UTF-8") {
		t.Errorf("told another encoding: %q", rel.Steps[0].Said)
	}
	charset = ""
	w.must(w.keep(number, "/a.html", "A single is £7.40.", "A single is £8."))
	if rel := w.goLive(number); rel.Steps[0].Said != "" {
		t.Errorf("told none: %q", rel.Steps[0].Said)
	}
}
