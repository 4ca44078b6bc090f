// Package link tells the kinds of addresses apart and resolves them against the page they stand on (RFC 3986).
package link

import (
	"net/url"
	"path"
	"strings"
	"unicode"

	"golang.org/x/text/unicode/norm"
)

// Kind is where an address leads.
type Kind string

// Where an address leads.
const (
	Inside  Kind = "inside"  // a page or file of the same site
	Place   Kind = "place"   // a place on the same page
	Outside Kind = "outside" // another site
	Mail    Kind = "mail"
	Phone   Kind = "phone"
	Other   Kind = "other" // a script, data, or what cannot be read
)

// Resolve is the target address of ref on a page at base (RFC 3986 §5.2).
func Resolve(base, ref string) (string, error) {
	b, err := url.Parse(base)
	if err != nil {
		return "", err
	}
	r, err := url.Parse(strings.TrimSpace(ref))
	if err != nil {
		return "", err
	}
	return b.ResolveReference(r).String(), nil
}

// Public is where visitors find a path of a site: what an address may not have as it is, is escaped (RFC 3986, 2.1 and
// 3.3). A query comes as it is in an address, without the question mark.
func Public(base, sitePath, query string) (string, error) {
	b, err := url.Parse(base)
	if err != nil {
		return "", err
	}
	b.Path = strings.TrimSuffix(b.Path, "/") + "/" + strings.TrimPrefix(sitePath, "/")
	b.RawPath, b.RawQuery, b.Fragment = "", query, ""
	return b.String(), nil
}

// Of tells where ref leads from the page at path from (a path on its site, beginning with "/"), on a site whose public
// address is public. For Inside, to is the path on the site, without query; fragment is the place on the target page.
func Of(public, from, ref string) (kind Kind, to, fragment string) {
	ref = strings.TrimSpace(ref)
	u, err := url.Parse(ref)
	if err != nil {
		return Other, "", ""
	}
	switch strings.ToLower(u.Scheme) {
	case "mailto":
		return Mail, u.Opaque, ""
	case "tel", "sms":
		return Phone, u.Opaque, ""
	case "", "http", "https":
	default:
		return Other, "", ""
	}
	if strings.HasPrefix(ref, "#") || ref == "" {
		return Place, from, u.Fragment
	}
	base, err := url.Parse(public)
	if err != nil {
		return Other, "", ""
	}
	here := base.ResolveReference(&url.URL{Path: path.Join(base.Path, from) + slash(from)})
	full := here.ResolveReference(u)
	root := strings.TrimSuffix(base.Path, "/")
	if !strings.EqualFold(full.Host, base.Host) || !strings.HasPrefix(full.Path, root) {
		return Outside, full.String(), ""
	}
	to = strings.TrimPrefix(full.Path, root)
	if to == "" {
		to = "/"
	}
	return Inside, to, u.Fragment
}

func slash(p string) string {
	if strings.HasSuffix(p, "/") && p != "/" {
		return "/"
	}
	return ""
}

// FileOf is the file that holds the page or picture at a public path: "/fares/" is fares/index.html.
func FileOf(publicPath string) string {
	p := strings.TrimPrefix(publicPath, "/")
	if p == "" || strings.HasSuffix(p, "/") {
		return p + "index.html"
	}
	return p
}

// AddressOf is the public path of a file: fares/index.html is "/fares/", and the page built from beans.md "/beans".
func AddressOf(file string) string {
	p := "/" + strings.TrimPrefix(file, "/")
	if ext := path.Ext(p); ext == ".md" || ext == ".markdown" { // built into a page of the same name
		p = strings.TrimSuffix(p, ext)
		if path.Base(p) == "index" {
			p += ".html"
		}
	}
	if dir, name := path.Split(p); name == "index.html" || name == "index.htm" {
		return dir
	}
	return p
}

// FilesOf are the files that may hold the page at a public path, the likeliest first.
func FilesOf(publicPath string) []string {
	file := FileOf(publicPath)
	if path.Ext(file) == "" {
		return []string{file, file + "/index.html", file + ".md", file + "/index.md"}
	}
	if dir, name := path.Split(file); name == "index.html" {
		return []string{file, dir + "index.md"}
	}
	return []string{file}
}

// spelled are letters that are no letter with a mark, as they are spelled without them.
var spelled = strings.NewReplacer("ß", "ss", "æ", "ae", "œ", "oe", "ø", "o", "ł", "l", "đ", "d", "ð", "d", "þ", "th", "ı", "i", "’", "", "'", "")

// FileName makes a file name by the trade's rules: lower case, words joined by hyphens, nothing to be escaped.
func FileName(name string) string {
	ext := strings.TrimRight(strings.ToLower(path.Ext(name)), ".")
	var b strings.Builder
	gap := false
	for _, r := range norm.NFD.String(spelled.Replace(strings.ToLower(strings.TrimSuffix(name, path.Ext(name))))) {
		if unicode.Is(unicode.Mn, r) { // a mark on the letter before: é is e with one (Unicode, annex 15)
			continue
		}
		if r >= 'a' && r <= 'z' || r >= '0' && r <= '9' {
			if gap && b.Len() > 0 {
				b.WriteByte('-')
			}
			b.WriteRune(r)
			gap = false
		} else {
			gap = true
		}
	}
	if b.Len() == 0 {
		b.WriteString("file")
	}
	return b.String() + ext
}

// Origin is the scheme and host of an absolute address, "" for one that has none.
func Origin(address string) string {
	u, err := url.Parse(address)
	if err != nil || u.Scheme == "" || u.Host == "" {
		return ""
	}
	return u.Scheme + "://" + u.Host
}
