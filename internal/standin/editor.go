package standin

import (
	"bytes"
	"html/template"
	"io"
	"io/fs"
	"net/http"
	"os"
	"path"
	"path/filepath"
	"strings"

	"mendry/internal/core/link"
)

// Editor is a program of the site's own in which somebody edits it by hand: the pages as they are stored, and a way to
// put pictures beside them. It stands for what a client has who gives nobody else a way in.
func (h *Host) Editor() http.Handler {
	m := http.NewServeMux()
	m.HandleFunc("GET /{$}", func(w http.ResponseWriter, _ *http.Request) {
		files, err := h.editable()
		if err != nil {
			http.Error(w, err.Error(), http.StatusInternalServerError)
			return
		}
		render(w, editorView{Files: files})
	})
	m.HandleFunc("GET /edit", func(w http.ResponseWriter, r *http.Request) {
		file := r.FormValue("file")
		b, err := os.ReadFile(h.file(file))
		if err != nil {
			http.NotFound(w, r)
			return
		}
		render(w, editorView{File: file, Address: link.AddressOf(file), Text: string(b), Saved: r.FormValue("saved") != ""})
	})
	m.HandleFunc("POST /edit", func(w http.ResponseWriter, r *http.Request) {
		file, text := r.FormValue("file"), r.FormValue("text")
		h.mu.Lock()
		defer h.mu.Unlock()
		old, err := os.ReadFile(h.file(file))
		if err != nil {
			http.NotFound(w, r)
			return
		}
		if !bytes.Contains(old, []byte("\r\n")) { // a form's lines end so, whatever the file's do
			text = strings.ReplaceAll(text, "\r\n", "\n")
		}
		if err := writeWhole(h.file(file), []byte(text)); err != nil {
			http.Error(w, err.Error(), http.StatusInternalServerError)
			return
		}
		http.Redirect(w, r, "/edit?saved=yes&file="+template.URLQueryEscaper(file), http.StatusSeeOther)
	})
	m.HandleFunc("POST /files", func(w http.ResponseWriter, r *http.Request) {
		r.Body = http.MaxBytesReader(w, r.Body, 64<<20)
		f, head, err := r.FormFile("file")
		if err != nil {
			http.Error(w, "choose a file", http.StatusBadRequest)
			return
		}
		b, err := io.ReadAll(f)
		if err == nil {
			err = writeWhole(h.file(path.Join(r.FormValue("folder"), path.Base(head.Filename))), b)
		}
		if err != nil {
			http.Error(w, err.Error(), http.StatusBadRequest)
			return
		}
		http.Redirect(w, r, "/", http.StatusSeeOther)
	})
	return m
}

// editable are the site's files, but for those that nobody edits.
func (h *Host) editable() (files []string, err error) {
	err = filepath.WalkDir(h.Dir, func(p string, d fs.DirEntry, err error) error {
		if err != nil || d.IsDir() {
			return err
		}
		rel, err := filepath.Rel(h.Dir, p)
		if err == nil && path.Ext(rel) == ".html" {
			files = append(files, filepath.ToSlash(rel))
		}
		return err
	})
	return files, err
}

type editorView struct {
	Files               []string
	File, Address, Text string
	Saved               bool
}

func render(w http.ResponseWriter, v editorView) {
	w.Header().Set("Content-Type", "text/html; charset=utf-8")
	_ = editorPage.Execute(w, v) // who asked may have gone
}

var editorPage = template.Must(template.New("").Parse(`<!doctype html>
<html lang="en"><head><meta charset="utf-8"><title>The workshop’s own pages</title>
<style>
body { font: 16px/1.5 system-ui, sans-serif; max-width: 60rem; margin: 2rem auto; padding: 0 1rem; color: #222; }
textarea { width: 100%; height: 60vh; font: 14px/1.5 monospace; }
button, input { font: inherit; }
</style></head><body>
{{if .File}}
<p><a href="/">All pages</a></p>
<h1>{{.Address}}</h1>
{{if .Saved}}<p role="status">Saved. Visitors see it as soon as their copy is old.</p>{{end}}
<form method="post" action="/edit"><input type="hidden" name="file" value="{{.File}}">
<p><label>What the page is made of<textarea name="text" spellcheck="false">
{{.Text}}</textarea></label></p>
<p><button>Save</button></p></form>
{{else}}
<h1>The workshop’s own pages</h1>
<p>A stand-in for the program in which a client edits pages that nobody else is let into.</p>
<ul>{{range .Files}}<li><a href="/edit?file={{.}}">{{.}}</a></li>{{end}}</ul>
<form method="post" action="/files" enctype="multipart/form-data"><h2>Put a picture beside them</h2>
<p><label>Folder <input name="folder" value="pictures"></label> <input type="file" name="file" aria-label="Picture"> <button>Put it there</button></p></form>
{{end}}
</body></html>`))
