package link

import (
	"net/url"
	"path"
	"strings"
)

// Relative is how a page at the path from names the path to on the same site: the shortest reference of segments that
// leads there (RFC 3986, 4.2 and 5.2). Both begin with "/"; what follows a path, such as a fragment, is left as it is.
func Relative(from, to string) string {
	end := strings.IndexAny(to, "?#")
	if end < 0 {
		end = len(to)
	}
	to, more := to[:end], to[end:]
	if to == from && more != "" && more[0] == '#' {
		return more
	}
	own, there := strings.Split(from, "/"), strings.Split(to, "/")
	own = own[:len(own)-1] // the folder that the page is in
	same := 0
	for same < len(own) && same < len(there)-1 && own[same] == there[same] {
		same++
	}
	ref := strings.Repeat("../", len(own)-same) + strings.Join(there[same:], "/")
	switch first, _, _ := strings.Cut(ref, "/"); {
	case ref == "" || strings.Contains(first, ":") || first == "" && ref != "": // a colon would end a scheme, "//" begin a host
		ref = "./" + ref
	}
	return ref + more
}

// Moved is a reference as a page at the path to has to write it to lead where it leads from the page at the path from;
// false where it may stay as it is, since it is absolute, or leads there from both. A place on the page itself is one
// on that page then.
func Moved(ref, from, to string) (string, bool) {
	trimmed := strings.TrimSpace(ref)
	u, err := url.Parse(trimmed)
	if err != nil || u.Scheme != "" || u.Host != "" || strings.HasPrefix(trimmed, "/") || trimmed == "" || from == to {
		return ref, false
	}
	base := &url.URL{Path: from}
	target := base.ResolveReference(u)
	if strings.HasPrefix(trimmed, "#") {
		target = &url.URL{Path: from, RawFragment: u.RawFragment, Fragment: u.Fragment}
	}
	if same := (&url.URL{Path: to}).ResolveReference(u); !strings.HasPrefix(trimmed, "#") &&
		same.String() == target.String() {
		return ref, false
	}
	moved := Relative(escaped(to), target.String())
	return moved, moved != ref
}

func escaped(p string) string { return (&url.URL{Path: path.Clean("/"+p) + slash(p)}).EscapedPath() }
