package host

import (
	"context"
	"encoding/xml"
	"net/http"
	"net/url"
	"strconv"
	"strings"
	"unicode/utf8"
)

// multistatus is the answer to PROPFIND (RFC 4918, 14.16), as far as it is asked for.
type multistatus struct {
	Responses []struct {
		Href     string `xml:"DAV: href"`
		Propstat []struct {
			Status string `xml:"DAV: status"`
			Prop   struct {
				Length string    `xml:"DAV: getcontentlength"`
				Folder *struct{} `xml:"DAV: resourcetype>collection"`
			} `xml:"DAV: prop"`
		} `xml:"DAV: propstat"`
	} `xml:"DAV: response"`
}

// List implements Host.
func (w *WebDAV) List(ctx context.Context, found func(n int)) (Listing, error) {
	return walk(ctx, found, func(dir string) (folderHeld, error) {
		return w.members(ctx, dir)
	}, Forbidden, Gone, Broken, Odd)
}

// members lists one folder: its files, and its folders with a slash at their ends. Hidden names are left out.
func (w *WebDAV) members(ctx context.Context, dir string) (held folderHeld, err error) {
	r, err := w.ask(
		ctx,
		"PROPFIND",
		dir,
		[]byte(
			`<?xml version="1.0" encoding="utf-8"?><D:propfind xmlns:D="DAV:"><D:prop><D:resourcetype/><D:getcontentlength/></D:prop></D:propfind>`,
		),
		map[string]string{
			"Depth":           "1",
			"Content-Type":    "application/xml; charset=utf-8",
			"Accept-Encoding": "identity",
		},
	)
	if err != nil {
		return held, err
	}
	defer r.Body.Close()
	switch r.StatusCode {
	case http.StatusMultiStatus:
	case http.StatusMethodNotAllowed, http.StatusNotImplemented, http.StatusOK:
		return held, noDAV(r.StatusCode)
	default:
		name := "folder of that address"
		if dir != "" {
			name = dir
		}
		return held, fromStatus(r.StatusCode, name)
	}
	b, err := readAll(r, 64<<20)
	if err != nil {
		return held, fromError(err, w.root.Host)
	}
	var m multistatus
	if err := xml.Unmarshal(b, &m); err != nil {
		return held, &Problem{
			Kind: Odd,
			Say:  "The host lists its files in a way that cannot be read. Tell whoever runs it.",
		}
	}
	self := m.self(w.url(dir))
	for i, m := range m.Responses {
		name, fair := nameIn(m.Href)
		if i == self || strings.HasPrefix(name, ".") && !remnant.MatchString(name) {
			continue
		}
		f := File{Path: dir + name}
		isFolder := strings.HasSuffix(m.Href, "/")
		for _, p := range m.Propstat {
			if !strings.Contains(p.Status, " 200") {
				continue
			}
			isFolder = isFolder || p.Prop.Folder != nil
			if n, err := strconv.ParseInt(strings.TrimSpace(p.Prop.Length), 10, 64); err == nil {
				f.Size = n
			}
		}
		switch {
		case !fair && !isFolder:
			f.Odd = noUTF8
			held.files = append(held.files, f)
		case isFolder:
			held.below = append(held.below, f.Path+"/")
		default:
			held.files = append(held.files, f)
		}
	}
	return held, nil
}

// self is which answer of a listing is about the listed folder itself: the one at its address, or, behind a proxy that
// rewrites addresses, the shortest one, since all others are in it.
func (m multistatus) self(folder string) int {
	want, shortest := trimmed(folder), 0
	for i, r := range m.Responses {
		if trimmed(r.Href) == want {
			return i
		}
		if len(trimmed(r.Href)) < len(trimmed(m.Responses[shortest].Href)) {
			shortest = i
		}
	}
	return shortest
}

// trimmed is the path of an address of a listing (RFC 4918, 8.3), decoded where it can be, without slashes at its
// ends.
func trimmed(href string) string {
	href = strings.TrimSpace(href)
	if i := strings.Index(href, "://"); i >= 0 {
		_, at, _ := strings.Cut(href[i+3:], "/")
		href = at
	}
	href = strings.Trim(href, "/")
	if s, err := url.PathUnescape(href); err == nil {
		return s
	}
	return href
}

// nameIn is the last name in an address of a listing. Where it is no UTF-8 it stays as the address has it, and fair is
// false.
func nameIn(href string) (name string, fair bool) {
	base := strings.TrimSuffix(strings.TrimSpace(href), "/")
	raw := base[strings.LastIndexByte(base, '/')+1:]
	name, err := url.PathUnescape(raw)
	if err != nil {
		name = raw // some servers leave % as it is
	}
	if !utf8.ValidString(name) || strings.ContainsAny(name, "/\x00") {
		return raw, false
	}
	return name, true
}

// noDAV says that what answers does not list folders over WebDAV.
func noDAV(status int) error {
	say := "What answers at the host's address does not speak WebDAV. Enter the WebDAV address, not the public one."
	if status == http.StatusMethodNotAllowed {
		say += " If it is the right one and the folder has an index page, Apache refuses to list it: whoever runs the host has to set “DirectoryIndex disabled” for editing."
	}
	return &Problem{Kind: Odd, Status: status, Say: say}
}
