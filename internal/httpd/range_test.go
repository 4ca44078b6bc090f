package httpd

import (
	"net/http"
	"net/http/httptest"
	"strings"
	"testing"
)

// A file is given whole, from a place on, or not again, as RFC 9110 has it (14.2, 15.3.7 and 13.1.2).
func TestAFileIsGivenInRanges(t *testing.T) {
	for _, c := range []struct {
		name, header, value string
		status              int
		body, said          string
	}{
		{"whole", "", "", http.StatusOK, "0123456789", ""},
		{"from a place on", "Range", "bytes=4-", http.StatusPartialContent, "456789", "bytes 4-9/10"},
		{"its end", "Range", "bytes=-3", http.StatusPartialContent, "789", "bytes 7-9/10"},
		{"past its end", "Range", "bytes=20-", http.StatusRequestedRangeNotSatisfiable, "", "bytes */10"},
		{"known already", "If-None-Match", `"abc"`, http.StatusNotModified, "", ""},
	} {
		call := httptest.NewRequest("GET", "/api/attachments/1", nil)
		if c.header != "" {
			call.Header.Set(c.header, c.value)
		}
		w := httptest.NewRecorder()
		if err := (rangeResponse{call, "video/mp4", strings.NewReader("0123456789"), "abc", 60}).VisitGetAttachmentResponse(w); err != nil {
			t.Fatal(err)
		}
		got := w.Result()
		if got.StatusCode != c.status || got.Header.Get("Content-Range") != c.said || c.body != "" && w.Body.String() != c.body {
			t.Errorf("%s: %d %q %q", c.name, got.StatusCode, got.Header.Get("Content-Range"), w.Body)
		}
		if c.status < 300 && (got.Header.Get("Content-Type") != "video/mp4" || !strings.Contains(got.Header.Get("Content-Security-Policy"), "sandbox")) {
			t.Errorf("%s: %v", c.name, got.Header)
		}
	}
}
