package standin

import (
	"bytes"
	"context"
	"encoding/xml"
	"errors"
	"io"
	"net/http"
	"os"
	"path"
	"strings"
	"sync"

	"golang.org/x/net/webdav"
)

// propertied is a folder whose files keep properties that clients set (RFC 4918, 4), for as long as the host runs.
type propertied struct {
	tagged
	mu  sync.Mutex
	has map[string]map[xml.Name]webdav.Property // by name
}

func key(name string) string { return path.Clean("/" + name) }

// OpenFile implements webdav.FileSystem.
func (p *propertied) OpenFile(ctx context.Context, name string, flag int, perm os.FileMode) (webdav.File, error) {
	f, err := p.tagged.OpenFile(ctx, name, flag, perm)
	if err != nil {
		return nil, err
	}
	return propertiedFile{f, p, key(name)}, nil
}

// RemoveAll implements webdav.FileSystem.
func (p *propertied) RemoveAll(ctx context.Context, name string) error {
	p.forget(name)
	return p.tagged.RemoveAll(ctx, name)
}

// forget drops the properties of a name and of all below it.
func (p *propertied) forget(name string) {
	p.mu.Lock()
	defer p.mu.Unlock()
	for k := range p.has {
		if k == key(name) || strings.HasPrefix(k, key(name)+"/") {
			delete(p.has, k)
		}
	}
}

// Rename implements webdav.FileSystem.
func (p *propertied) Rename(ctx context.Context, old, name string) error {
	if err := p.tagged.Rename(ctx, old, name); err != nil {
		return err
	}
	p.mu.Lock()
	defer p.mu.Unlock()
	for k, v := range p.has {
		if rest, ok := strings.CutPrefix(k, key(old)); ok && (rest == "" || rest[0] == '/') {
			delete(p.has, k)
			p.has[key(name)+rest] = v
		}
	}
	return nil
}

type propertiedFile struct {
	webdav.File
	of   *propertied
	name string
}

// DeadProps implements webdav.DeadPropsHolder.
func (f propertiedFile) DeadProps() (map[xml.Name]webdav.Property, error) {
	f.of.mu.Lock()
	defer f.of.mu.Unlock()
	all := map[xml.Name]webdav.Property{}
	for k, v := range f.of.has[f.name] {
		all[k] = v
	}
	return all, nil
}

// Patch implements webdav.DeadPropsHolder.
func (f propertiedFile) Patch(patches []webdav.Proppatch) ([]webdav.Propstat, error) {
	f.of.mu.Lock()
	defer f.of.mu.Unlock()
	if f.of.has[f.name] == nil {
		f.of.has[f.name] = map[xml.Name]webdav.Property{}
	}
	done := webdav.Propstat{Status: http.StatusOK}
	for _, p := range patches {
		for _, prop := range p.Props {
			if p.Remove {
				delete(f.of.has[f.name], prop.XMLName)
			} else {
				f.of.has[f.name][prop.XMLName] = prop
			}
			done.Props = append(done.Props, webdav.Property{XMLName: prop.XMLName})
		}
	}
	return []webdav.Propstat{done}, nil
}

// wellNamed refuses a body with a prefix that stands for no namespace (Namespaces in XML 1.0, 5), which the library
// lets through.
func wellNamed(w http.ResponseWriter, r *http.Request) bool {
	b, err := io.ReadAll(http.MaxBytesReader(w, r.Body, 1<<20))
	if err != nil {
		w.WriteHeader(http.StatusRequestEntityTooLarge)
		return false
	}
	r.Body = io.NopCloser(bytes.NewReader(b))
	for d := xml.NewDecoder(bytes.NewReader(b)); ; {
		t, err := d.Token()
		if errors.Is(err, io.EOF) {
			return true
		}
		if err != nil {
			return true // the library says what is wrong
		}
		e, ok := t.(xml.StartElement)
		if !ok {
			continue
		}
		for _, a := range e.Attr {
			if a.Name.Space == "xmlns" && a.Value == "" {
				w.WriteHeader(http.StatusBadRequest)
				return false
			}
		}
	}
}
