package standin

import (
	"net/http"
	"os"
	"path"
	"strconv"
	"strings"
	"time"
)

type stored struct {
	body  []byte
	media string
	at    time.Time
}

// Public is the visitors' side: the folder over plain HTTP, behind a cache that keeps pages for h.Keep and says so
// (RFC 9111).
func (h *Host) Public() http.Handler {
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		if r.Method != http.MethodGet && r.Method != http.MethodHead {
			http.Error(w, "visitors read", http.StatusMethodNotAllowed)
			return
		}
		s, ok := h.visit(path.Clean("/"+r.URL.Path), strings.HasSuffix(r.URL.Path, "/"))
		if !ok {
			http.NotFound(w, r)
			return
		}
		tag := ETag(s.body)
		head := w.Header()
		head.Set("Content-Type", s.media)
		head.Set("ETag", tag)
		head.Set("Date", s.at.UTC().Format(http.TimeFormat))
		head.Set("Cache-Control", "max-age="+strconv.Itoa(int(h.Keep.Seconds())))
		head.Set("Age", strconv.Itoa(int(time.Since(s.at).Seconds())))
		if listed(r.Header.Get("If-None-Match"), tag) {
			w.WriteHeader(http.StatusNotModified)
			return
		}
		head.Set("Content-Length", strconv.Itoa(len(s.body)))
		if r.Method == http.MethodGet {
			_, _ = w.Write(s.body)
		}
	})
}

// visit gives what the cache holds, or reads the file and lets the cache keep it.
func (h *Host) visit(p string, folder bool) (stored, bool) {
	h.mu.Lock()
	defer h.mu.Unlock()
	if strings.Contains(p, "/.") {
		return stored{}, false
	}
	if s, ok := h.cache[p]; ok && time.Since(s.at) < h.Keep {
		return s, true
	}
	file := p
	if folder || p == "/" {
		file = path.Join(p, "index.html")
	} else if i, err := os.Stat(h.file(p)); err == nil && i.IsDir() {
		file = path.Join(p, "index.html")
	}
	b, err := os.ReadFile(h.file(file))
	if err != nil {
		return stored{}, false
	}
	s := stored{body: b, media: media(file), at: time.Now()}
	if h.Keep > 0 {
		if h.cache == nil {
			h.cache = map[string]stored{}
		}
		h.cache[p] = s
	}
	return s, true
}
