package host

import (
	"fmt"
	"path"
	"strings"
)

// deepest is how many folders stand in each other at most: deeper ones are a circle of links that was not known as one.
const deepest = 40

// inner is a folder that is to be listed, with the prints of those that it is in.
type inner struct {
	path  string // with a slash at its end; empty for the site's own
	above []string
}

// printOf is what a folder is known by: the names and sizes of what is in it.
func printOf(files []File, inner []string) string {
	var b strings.Builder
	for _, f := range files {
		fmt.Fprintf(&b, "%s %d\n", path.Base(f.Path), f.Size)
	}
	for _, f := range inner {
		b.WriteString(path.Base(f) + "/\n")
	}
	return b.String()
}

// circle reports whether a folder is one that it is in: over WebDAV, and to some over FTP, a symbolic link looks like what it leads to. A folder
// that holds the same names and sizes as one above it, a folder among them, is taken for it.
func circle(f inner, mark string, folders int) bool {
	if len(f.above) > deepest {
		return true
	}
	for _, a := range f.above {
		if folders > 0 && a == mark {
			return true
		}
	}
	return false
}
