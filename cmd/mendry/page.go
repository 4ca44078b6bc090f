package main

import (
	"encoding/json"
	"errors"
	"io"
	"os"

	"mendry/internal/core/change"
	"mendry/internal/core/page"
	"mendry/internal/core/record"
)

func readPage(file string) (*page.Page, error) {
	b, err := os.ReadFile(file)
	if err != nil {
		return nil, fail(refused, "%v", err)
	}
	p, err := page.Parse(b, "")
	if err != nil {
		return nil, fail(refused, "%s: %v", file, err)
	}
	return p, nil
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
	return writeJSON(out, map[string]any{
		"format": "html", "encoding": p.Doc.Encoding.Name, "newline": p.Doc.Newline, "facts": p.Facts, "parts": p.Parts,
	})
}

func pageApply(args []string, _ io.Reader, out io.Writer) error {
	undoTo := ""
	var files []string
	for i := 0; i < len(args); i++ {
		if args[i] == "--undo" && i+1 < len(args) {
			undoTo = args[i+1]
			i++
			continue
		}
		files = append(files, args[i])
	}
	if len(files) != 2 {
		return fail(refused, "usage: mendry page apply FILE CHANGES.json [--undo UNDO.json]")
	}
	p, err := readPage(files[0])
	if err != nil {
		return err
	}
	f, err := os.Open(files[1])
	if err != nil {
		return fail(refused, "%v", err)
	}
	defer f.Close()
	var changes change.File
	dec := json.NewDecoder(f)
	dec.DisallowUnknownFields()
	if err := dec.Decode(&changes); err != nil {
		return fail(refused, "%s is no list of changes: %v", files[1], err)
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
	return writeJSON(out, change.Compare(old, now))
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
