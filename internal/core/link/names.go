package link

import (
	"bytes"
	"net/url"
	"path"
	"strings"
)

// Names reports whether something written, a page, a style sheet or a script, may name a file of its site: whether the
// file's name stands in it, as it is or percent-encoded (RFC 3986, 2.1), after a folder that may be its own. What is
// put together when a script runs is not seen.
func Names(b []byte, file string) bool {
	dir, base := path.Split(path.Clean("/" + file))
	own := path.Base(dir) // "/" at the top
	for _, name := range names(base) {
		for at := 0; ; {
			i := bytes.Index(b[at:], []byte(name))
			if i < 0 {
				break
			}
			before := b[:at+i]
			at += i + 1
			if len(before) > 0 && inName(before[len(before)-1]) {
				continue // the end of a longer name
			}
			if mayBeIn(before, own) {
				return true
			}
		}
	}
	return false
}

// names are the ways in which a name is written.
func names(base string) []string {
	all := []string{base}
	for _, other := range []string{url.PathEscape(base), (&url.URL{Path: base}).EscapedPath(), strings.ReplaceAll(base, " ", "+")} {
		if other != base {
			all = append(all, other)
		}
	}
	return all
}

func inName(c byte) bool {
	return c == '-' || c == '_' || c == '.' || c >= '0' && c <= '9' || c >= 'A' && c <= 'Z' || c >= 'a' && c <= 'z' ||
		c >= 0x80
}

// mayBeIn reports whether what stands before a file's name may lead to a folder called own.
func mayBeIn(before []byte, own string) bool {
	if len(before) == 0 || before[len(before)-1] != '/' && before[len(before)-1] != '\\' {
		return true // relative, or put together
	}
	before = bytes.TrimRight(before, `/\`)
	start := len(before)
	for start > 0 && (inName(before[start-1]) || before[start-1] == '%' || before[start-1] == ':' || before[start-1] == '+' || before[start-1] == '~') {
		start--
	}
	folder := string(before[start:])
	if plain, err := url.PathUnescape(folder); err == nil {
		folder = plain
	}
	switch {
	case folder == "." || folder == "..":
		return true
	case folder == "":
		return own == "/"
	case own == "/":
		return bytes.HasSuffix(before[:start], []byte("//")) // a host's name
	}
	return folder == own || strings.HasSuffix(folder, " "+own) ||
		strings.ContainsAny(own, " ,()'") && strings.HasSuffix(own, folder)
}
