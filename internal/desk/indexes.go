package desk

import (
	"bytes"
	"context"
	"fmt"
	"path"
	"slices"
	"strings"
	"time"

	"mendry/internal/core/link"
	"mendry/internal/host"
)

// The names under which servers look for a folder's page when nobody names one, the likeliest first: Apache's, nginx's
// and IIS's defaults.
var (
	pageIndexes    = []string{"index.html", "index.htm", "index.xhtml", "index.shtml", "default.html", "default.htm"}
	programIndexes = []string{"index.php", "index.cgi", "index.pl", "default.aspx", "default.asp", "index.jsp"}
)

const (
	mostIndexes  = 200 // folders whose page is asked for as visitors do
	longestVisit = 10 * time.Second
)

// indexes are the pages that stand for their folders: which, where a folder has several that may, is told by what
// visitors get. It fills in the addresses of those that are not told by their names, and adds programs that make a
// folder's page: they are shown, and locked.
func (t *taking) indexes(ctx context.Context, files, pages []host.File) []host.File {
	in := map[string][]string{} // names that may stand for a folder, by folder
	for _, f := range files {
		dir, name := path.Split(f.Path)
		if slices.Contains(pageIndexes, name) || slices.Contains(programIndexes, name) {
			in[dir] = append(in[dir], name)
		}
	}
	asked := 0
	for dir, names := range in {
		told := len(names) == 1 && link.AddressOf(dir+names[0]) == "/"+dir
		if told || asked == mostIndexes {
			continue
		}
		asked++
		winner := t.indexOf(ctx, dir, names)
		for _, name := range names {
			if file := dir + name; name == winner {
				t.addresses[file] = "/" + dir
			} else if slices.Contains(pageIndexes, name) {
				t.addresses[file] = "/" + file
			}
		}
		if slices.Contains(programIndexes, winner) {
			pages = append(pages, host.File{Path: dir + winner, Page: true, Odd: fmt.Sprintf(
				"A program makes this page (%s) each time that somebody asks for it. Mendry does not touch programs; change its words where it keeps them.", winner,
			)})
		}
	}
	return pages
}

// indexOf is the name whose file visitors get for a folder.
func (t *taking) indexOf(ctx context.Context, dir string, names []string) string {
	rank := func(of []string) (best string) {
		for _, n := range of {
			if slices.Contains(names, n) {
				return n
			}
		}
		return ""
	}
	page, program := rank(pageIndexes), rank(programIndexes)
	ctx, cancel := context.WithTimeout(ctx, longestVisit)
	defer cancel()
	to, err := link.Public(t.public, "/"+dir, "")
	if err != nil {
		return page
	}
	v, err := t.d.visits.Get(ctx, to)
	if err != nil || !strings.Contains(v.Media, "html") {
		return page
	}
	for _, name := range names {
		if !slices.Contains(pageIndexes, name) {
			continue
		}
		if c, err := t.h.Read(ctx, dir+name); err == nil && bytes.Equal(c.Bytes, v.Bytes) {
			return name
		}
	}
	if program != "" {
		return program
	}
	return page // a cache may have had an older one
}
