package httpd

import (
	"context"
	"encoding/json"
	"fmt"
	"net/http"
	"time"

	. "mendry/api" //nolint:revive // as in server.go
)

// followedFor is how long one answer tells of a page, at most: then the browser asks again, and is looked at again.
const followedFor = 5 * time.Minute

// BenchNews tells what others do to a page on the bench, while it is open.
func (s *Server) BenchNews(ctx context.Context, r BenchNewsRequestObject) (BenchNewsResponseObject, error) {
	me, line := who(ctx), asked(ctx).Context()
	return &news{follow: func(tell func(*BenchNews) error) error {
		open, stop := context.WithTimeout(line, followedFor)
		defer stop()
		defer context.AfterFunc(s.stopping, stop)()
		return s.desk.Follow(open, me, r.Number, r.Page, r.Params.Tab, tell)
	}}, nil
}

// SitAt says which part of a page somebody has in hand.
func (s *Server) SitAt(ctx context.Context, r SitAtRequestObject) (SitAtResponseObject, error) {
	s.desk.Sit(who(ctx), r.Number, r.Page, r.Body.Tab, r.Body.Part)
	return SitAt204Response{}, nil
}

// news is an answer that goes on: server-sent events (WHATWG HTML, 9.2).
type news struct {
	follow func(tell func(*BenchNews) error) error
}

// VisitBenchNewsResponse sends them until nobody listens any more.
func (n *news) VisitBenchNewsResponse(w http.ResponseWriter) error {
	line := http.NewResponseController(w)
	begun := false
	send := func(text string) error {
		if !begun {
			begun = true
			h := w.Header()
			h.Set("Content-Type", "text/event-stream")
			h.Set("X-Accel-Buffering", "no") // a proxy in front of Mendry would hold them back (nginx, ngx_http_proxy_module)
			w.WriteHeader(http.StatusOK)
		}
		// A line over which nothing goes is given up, as with every other answer.
		if err := line.SetWriteDeadline(time.Now().Add(time.Minute)); err != nil {
			return err
		}
		if _, err := fmt.Fprint(w, text); err != nil {
			return err
		}
		return line.Flush()
	}
	err := n.follow(func(v *BenchNews) error {
		if v == nil {
			return send(":\n\n")
		}
		b, err := json.Marshal(v)
		if err != nil {
			return err
		}
		return send("data: " + string(b) + "\n\n")
	})
	if begun {
		return nil // whoever listened has gone, or asks again
	}
	return err
}
