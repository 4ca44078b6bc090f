package httpd

import (
	_ "embed"
	"net/http"
	"path"
	"strconv"
	"strings"

	"mendry/internal/core/refusal"
	"mendry/internal/host"
)

//go:embed bench.js
var benchScript []byte

// Previews serves the views that frames show. A view is addressed by an unguessable, expiring token, the first label
// of the host name, so that the site's own addresses work as they do for visitors. Every answer is put into an opaque
// origin: its scripts reach neither Mendry nor its cookies.
func (s *Server) Previews() http.Handler {
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		h := w.Header()
		h.Set("Content-Security-Policy", "sandbox allow-scripts")
		h.Set("Access-Control-Allow-Origin", "*")
		h.Set("Referrer-Policy", "no-referrer")
		h.Set("Cache-Control", "no-store")
		h.Set("X-Robots-Tag", "noindex")
		h.Set("Origin-Agent-Cluster", "?1")
		if r.Method != http.MethodGet && r.Method != http.MethodHead {
			http.Error(w, "A preview only shows; nothing is sent from it.", http.StatusMethodNotAllowed)
			return
		}
		if r.URL.Path == "/.mendry/bench.js" {
			h.Set("Content-Type", "text/javascript; charset=utf-8")
			_, _ = w.Write(benchScript)
			return
		}
		token, _, _ := strings.Cut(r.Host, ".")
		view, err := s.desk.View(r.Context(), token)
		if err != nil {
			previewError(w, err)
			return
		}
		p := path.Clean("/" + r.URL.Path)
		if strings.HasSuffix(r.URL.Path, "/") && p != "/" {
			p += "/"
		}
		var c host.Content
		if p == "/.mendry/icons" {
			q := r.URL.Query()
			pageID, _ := strconv.ParseInt(q.Get("page"), 10, 64) // what is no number is no page
			at, _ := strconv.Atoi(q.Get("at"))
			c, err = s.desk.IconSheet(r.Context(), view, pageID, q.Get("part"), at)
		} else {
			c, err = s.desk.ViewFile(r.Context(), view, p, r.URL.RawQuery)
		}
		if err != nil {
			previewError(w, err)
			return
		}
		if c.Media == "" {
			c.Media = "application/octet-stream"
		}
		h.Set("Content-Type", c.Media)
		if r.Method == http.MethodGet {
			_, _ = w.Write(c.Bytes)
		}
	})
}

func previewError(w http.ResponseWriter, err error) {
	say, status := "The page cannot be shown just now.", http.StatusBadGateway
	if no := refusal.Of(err); no != nil {
		say = no.Say
	}
	if refusal.Is(err, refusal.Nothing) || host.Is(err, host.Gone) {
		status = http.StatusNotFound
	}
	http.Error(w, say, status)
}
