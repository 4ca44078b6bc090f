package httpd

import (
	"bufio"
	"encoding/json"
	"errors"
	"net/http"
	"net/http/httptest"
	"strings"
	"testing"

	. "mendry/api" //nolint:revive // as in server.go
)

// News go out as server-sent events, each at once: a field "data" and an empty line, a comment where nothing happened
// (WHATWG HTML, 9.2.5 and 9.2.6).
func TestNewsAreServerSentEvents(t *testing.T) {
	next, done := make(chan *BenchNews), make(chan error, 1)
	web := httptest.NewServer(http.HandlerFunc(func(w http.ResponseWriter, _ *http.Request) {
		n := &news{follow: func(tell func(*BenchNews) error) error {
			for v := range next {
				if err := tell(v); err != nil {
					return err
				}
			}
			return errors.New("the line is dead")
		}}
		done <- n.VisitBenchNewsResponse(w)
	}))
	t.Cleanup(web.Close)
	go func() { next <- nil }()
	r, err := http.Get(web.URL)
	if err != nil {
		t.Fatal(err)
	}
	t.Cleanup(func() { _ = r.Body.Close() })
	if got := r.Header.Get("Content-Type"); got != "text/event-stream" {
		t.Errorf("it is sent as %q", got)
	}
	lines := bufio.NewScanner(r.Body)
	line := func() string {
		lines.Scan()
		return lines.Text()
	}
	if got := line() + "|" + line(); got != ":|" {
		t.Errorf("a beat is %q", got)
	}
	for _, draft := range []string{"one", "two\nlines"} {
		next <- &BenchNews{Draft: draft, Here: []BenchGuest{{Name: "Tobias", Part: "words-1"}}}
		data, ok := strings.CutPrefix(line(), "data: ")
		var v BenchNews
		if err := json.Unmarshal([]byte(data), &v); err != nil || !ok || v.Draft != draft || v.Here[0].Part != "words-1" || line() != "" {
			t.Errorf("news are %q %v", data, err)
		}
	}
	close(next)
	if err := <-done; err != nil {
		t.Errorf("an answer that has begun ends with %v", err)
	}
}

// What cannot be followed is said as every call says it, and a server that stops ends what goes on.
func TestWhatCannotBeFollowedIsSaid(t *testing.T) {
	c, srv, _ := serve(t)
	c.signIn()
	if status, v, _ := c.call(http.MethodGet, "/api/requests/1/bench/1/news?tab=12345678", ""); status != http.StatusNotFound || v["say"] == "" {
		t.Errorf("of a page that is not there: %d %v", status, v)
	}
	for _, tab := range []string{"", "short", "<script>alert(1)</script>"} {
		if status, _, _ := c.call(http.MethodGet, "/api/requests/1/bench/1/news?tab="+tab, ""); status != http.StatusBadRequest {
			t.Errorf("tab %q: %d", tab, status)
		}
	}
	if status, _, _ := c.call(http.MethodPut, "/api/requests/1/bench/1/here", `{"tab":"12345678","part":"words-1"}`); status != http.StatusNoContent {
		t.Errorf("a seat at a page that nobody follows: %d", status)
	}
	srv.Stop()
	if srv.stopping.Err() == nil {
		t.Error("it goes on")
	}
}
