package main

import (
	"bytes"
	"encoding/json"
	"errors"
	"io"
	"io/fs"
	"os"
	"path"
	"path/filepath"
	"slices"
	"strings"
	"time"

	"mendry/internal/core/change"
	"mendry/internal/core/check"
	"mendry/internal/core/link"
	"mendry/internal/core/page"
	"mendry/internal/core/record"
	"mendry/internal/core/text"
)

// readPage reads a page; one whose name ends in .md or .markdown is Markdown.
func readPage(file string) (*page.Page, error) {
	b, err := os.ReadFile(file)
	if err != nil {
		return nil, fail(refused, "%v", err)
	}
	p, err := page.ParseFile(file, b, "")
	if err != nil {
		return nil, fail(refused, "%s: %v", file, err)
	}
	return p, nil
}

// options tells files from flags that take a value.
func options(args []string, names ...string) (files []string, flags map[string]string, err error) {
	flags = map[string]string{}
	for i := 0; i < len(args); i++ {
		name, isFlag := strings.CutPrefix(args[i], "--")
		if !isFlag {
			files = append(files, args[i])
			continue
		}
		if !slices.Contains(names, name) || i+1 == len(args) {
			return nil, nil, fail(refused, "--%s is not known here, or lacks its value", name)
		}
		i++
		flags[name] = args[i]
	}
	return files, flags, nil
}

func writeJSON(out io.Writer, v any) error {
	enc := json.NewEncoder(out)
	enc.SetEscapeHTML(false)
	enc.SetIndent("", "  ")
	return enc.Encode(v)
}

func pageParts(args []string, _ io.Reader, out io.Writer) error {
	if len(args) != 1 {
		return fail(refused, "usage: mendry page parts FILE")
	}
	p, err := readPage(args[0])
	if err != nil {
		return err
	}
	if p.Parts == nil {
		p.Parts = []*page.Part{}
	}
	return writeJSON(out, map[string]any{
		"format": p.Doc.Format, "encoding": p.Doc.Encoding.Name, "newline": p.Doc.Newline, "facts": p.Facts, "parts": p.Parts,
	})
}

// readChanges reads a list of changes.
func readChanges(file string) (change.File, error) {
	var changes change.File
	f, err := os.Open(file)
	if err != nil {
		return changes, fail(refused, "%v", err)
	}
	defer f.Close()
	dec := json.NewDecoder(f)
	dec.DisallowUnknownFields()
	if err := dec.Decode(&changes); err != nil {
		return changes, fail(refused, "%s is no list of changes: %v", file, err)
	}
	return changes, nil
}

// quietly fails with JSON as the reason.
func quietly(code int, v any) error {
	var b bytes.Buffer
	if err := writeJSON(&b, v); err != nil {
		return err
	}
	return &failure{code, strings.TrimSuffix(b.String(), "\n"), true}
}

func pageRebase(args []string, _ io.Reader, out io.Writer) error {
	if len(args) != 3 {
		return fail(refused, "usage: mendry page rebase OLD CHANGES.json NEW")
	}
	old, err := readPage(args[0])
	if err != nil {
		return err
	}
	changes, err := readChanges(args[1])
	if err != nil {
		return err
	}
	now, err := readPage(args[2])
	if err != nil {
		return err
	}
	if old.Doc.Format != now.Doc.Format {
		return fail(refused, "%s and %s are not written in one format", args[0], args[2])
	}
	r, no := change.Rebase(old, changes.Changes, now)
	if len(no) > 0 {
		return quietly(conflict, map[string]any{"refused": no})
	}
	_, err = out.Write(r.Bytes)
	return err
}

func pageApply(args []string, _ io.Reader, out io.Writer) error {
	files, flags, err := options(args, "undo")
	if err != nil {
		return err
	}
	undoTo := flags["undo"]
	if len(files) != 2 {
		return fail(refused, "usage: mendry page apply FILE CHANGES.json [--undo UNDO.json]")
	}
	p, err := readPage(files[0])
	if err != nil {
		return err
	}
	changes, err := readChanges(files[1])
	if err != nil {
		return err
	}
	r, err := change.Apply(p, changes.Changes)
	if err != nil {
		var c *change.Conflict
		if errors.As(err, &c) {
			return fail(conflict, "%v", err)
		}
		return fail(refused, "%v", err)
	}
	if undoTo != "" {
		b, err := json.Marshal(change.File{Changes: r.Undo})
		if err != nil {
			return err
		}
		if err := os.WriteFile(undoTo, b, 0o644); err != nil {
			return fail(refused, "%v", err)
		}
	}
	_, err = out.Write(r.Bytes)
	return err
}

func pageCompare(args []string, _ io.Reader, out io.Writer) error {
	if len(args) != 2 {
		return fail(refused, "usage: mendry page compare OLD NEW")
	}
	old, err := readPage(args[0])
	if err != nil {
		return err
	}
	now, err := readPage(args[1])
	if err != nil {
		return err
	}
	d := change.Compare(old, now)
	d.Changes = d.All()
	return writeJSON(out, d)
}

func pageMerge(args []string, _ io.Reader, out io.Writer) error {
	if len(args) != 3 {
		return fail(refused, "usage: mendry page merge BASE MINE THEIRS")
	}
	var ps [3]*page.Page
	for i, file := range args {
		p, err := readPage(file)
		if err != nil {
			return err
		}
		if ps[i] = p; p.Doc.Format != ps[0].Doc.Format {
			return fail(refused, "%s and %s are not written in one format", args[0], file)
		}
	}
	merged, err := change.Merge(ps[0], ps[1], ps[2])
	var clashes *change.Clashes
	if errors.As(err, &clashes) {
		return quietly(conflict, clashes)
	}
	if err != nil {
		return fail(refused, "%v", err)
	}
	_, err = out.Write(merged.Doc.Bytes)
	return err
}

func pageCheck(args []string, _ io.Reader, out io.Writer) error {
	files, flags, err := options(args, "site", "on")
	if err != nil {
		return err
	}
	if len(files) != 1 {
		return fail(refused, "usage: mendry page check FILE [--site DIR] [--on DATE]")
	}
	p, err := readPage(files[0])
	if err != nil {
		return err
	}
	on := time.Now()
	if flags["on"] != "" {
		if on, err = time.Parse(time.DateOnly, flags["on"]); err != nil {
			return fail(refused, "%q is no date; write it as 2026-12-01", flags["on"])
		}
	}
	s := &check.Subject{After: p, Address: link.AddressOf(filepath.Base(files[0])), Public: "http://site.example", On: on}
	if dir := flags["site"]; dir != "" {
		rel, err := filepath.Rel(dir, files[0])
		if err != nil || strings.HasPrefix(rel, "..") {
			return fail(refused, "%s is not in %s", files[0], dir)
		}
		s.Address, s.Site = link.AddressOf(filepath.ToSlash(rel)), folder{os.DirFS(dir), link.AddressOf(filepath.ToSlash(rel))}
	}
	findings := check.Run(s)
	if err := writeJSON(out, map[string]any{"findings": findings}); err != nil {
		return err
	}
	for _, f := range findings {
		if f.Level == check.Stop {
			return &failure{code: conflict, quiet: true}
		}
	}
	return nil
}

// folder is a site as a folder of files.
type folder struct {
	files fs.FS
	of    string // the page that is looked at
}

func (f folder) read(address string) ([]byte, bool) {
	for _, try := range link.FilesOf(address) {
		if b, err := fs.ReadFile(f.files, try); err == nil {
			return b, true
		}
	}
	return nil, false
}

// Has reports whether a page or file stands at a public path.
func (f folder) Has(address string) bool {
	_, ok := f.read(address)
	return ok
}

// HasPlace reports whether the page at a public path has an element with this id.
func (f folder) HasPlace(address, id string) bool {
	b, ok := f.read(address)
	if !ok {
		return false
	}
	p, err := page.Parse(b, "")
	return err != nil || p.HasPlace(id)
}

// Titled reads every page of the folder for its title.
func (f folder) Titled(title string) (addresses []string) {
	_ = fs.WalkDir(f.files, ".", func(name string, _ fs.DirEntry, err error) error {
		at := link.AddressOf(name)
		if ext := path.Ext(name); err != nil || at == f.of || ext != ".html" && ext != ".htm" && ext != ".md" {
			return nil
		}
		if b, err := fs.ReadFile(f.files, name); err == nil {
			if p, err := page.Parse(b, ""); err == nil && p.Facts.Title == title {
				addresses = append(addresses, at)
			}
		}
		return nil
	})
	return addresses
}

// Answers asks nobody: the command line does not go out.
func (f folder) Answers(string) string { return "" }

func textClean(args []string, in io.Reader, out io.Writer) error {
	plain := len(args) == 1 && args[0] == "--plain"
	if len(args) > 0 && !plain {
		return fail(refused, "usage: mendry text clean [--plain]")
	}
	b, err := io.ReadAll(io.LimitReader(in, text.MaxPaste+1))
	if err != nil {
		return fail(refused, "%v", err)
	}
	clean, dropped := "", []text.Dropped(nil)
	if plain {
		clean, dropped = text.Plain(string(b))
	} else {
		clean, dropped = text.Clean(string(b), text.Everything)
	}
	if _, err := io.WriteString(out, clean); err != nil {
		return err
	}
	return json.NewEncoder(os.Stderr).Encode(map[string]any{"dropped": dropped})
}

func recordVerify(args []string, _ io.Reader, out io.Writer) error {
	if len(args) != 1 {
		return fail(refused, "usage: mendry record verify FILE")
	}
	f, err := os.Open(args[0])
	if err != nil {
		return fail(refused, "%v", err)
	}
	defer f.Close()
	file, bodies, err := record.Read(f)
	var fault *record.Fault
	if errors.As(err, &fault) {
		return fail(conflict, "the record is not whole: %v", fault)
	}
	if err != nil {
		return fail(refused, "%v", err)
	}
	return writeJSON(out, map[string]any{"whole": true, "site": file.Site, "entries": len(file.Entries), "readable": bodies, "last": file.Entries[len(file.Entries)-1].Hash})
}
