package standin

import (
	"bytes"
	"html"
	"net/http"
	"os"
	"path"
	"strconv"
	"strings"
	"time"

	"github.com/yuin/goldmark"
	"github.com/yuin/goldmark/extension"

	"mendry/internal/core/link"
	"mendry/internal/core/page"
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
		clean := path.Clean("/" + r.URL.Path)
		if strings.Contains(r.Header.Get("Cache-Control"), "no-cache") { // RFC 9111, 5.2.1.4
			h.forget(clean)
		}
		s, ok := h.visit(clean, clean != "/" && strings.HasSuffix(r.URL.Path, "/"))
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

func (h *Host) forget(p string) {
	h.mu.Lock()
	defer h.mu.Unlock()
	delete(h.cache, p)
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
	var b []byte
	var kind string
	for _, file := range link.FilesOf(p + slash(folder)) {
		body, err := os.ReadFile(h.file(file))
		if err != nil {
			continue
		}
		if b, kind = body, media(file); path.Ext(file) == ".md" {
			b, kind = h.build(body), "text/html; charset=utf-8"
		}
		break
	}
	if kind == "" {
		return stored{}, false
	}
	s := stored{body: b, media: kind, at: time.Now()}
	if h.Keep > 0 {
		if h.cache == nil {
			h.cache = map[string]stored{}
		}
		h.cache[p] = s
	}
	return s, true
}

func slash(folder bool) string {
	if folder {
		return "/"
	}
	return ""
}

// build makes a page of Markdown, as the host's builder does: the content goes into _layout.html.
func (h *Host) build(b []byte) []byte {
	layout, err := os.ReadFile(h.file("_layout.html"))
	if err != nil {
		layout = []byte("<!doctype html><title>{{title}}</title><main>{{body}}</main>")
	}
	p, err := page.ParseMarkdown(b)
	if err != nil {
		return layout
	}
	text := b
	if front := p.Doc.Front; front.End > front.Start {
		_, text, _ = bytes.Cut(b[front.End:], []byte("\n"))
	}
	var body bytes.Buffer
	if err := builder.Convert(text, &body); err != nil {
		return layout
	}
	out := bytes.ReplaceAll(layout, []byte("{{title}}"), []byte(html.EscapeString(p.Facts.Title)))
	out = bytes.ReplaceAll(out, []byte("{{description}}"), []byte(html.EscapeString(p.Facts.Description)))
	return bytes.Replace(out, []byte("{{body}}"), body.Bytes(), 1)
}

var builder = goldmark.New(goldmark.WithExtensions(extension.Table, extension.Strikethrough))
