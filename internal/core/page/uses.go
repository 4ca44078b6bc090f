package page

import (
	"regexp"
	"strings"

	"mendry/internal/core/file"
	"mendry/internal/core/link"
	"mendry/internal/core/picture"
)

// Use is a picture, or a file to download or to play, that a page names.
type Use struct {
	File string // of the site, as a path without a slash at the beginning
	Src  string // as the page names it
	Part string // the name of the part that shows it; empty where none does: a link to it, the share picture
	Alt  string // its alternative text
	Says bool   // it has one, if only an empty one, or needs none
}

// namesPicture is an address of a picture file.
var namesPicture = regexp.MustCompile(`(?i)\.(?:jpe?g|png|gif|webp|avif|svg|ico)$`)

// IsPicture reports whether a file is a picture by its name.
func IsPicture(file string) bool { return namesPicture.MatchString(file) }

// IsFile reports whether a file is a picture, or one to download or to play, by its name.
func IsFile(name string) bool {
	media, _ := file.Named(name)
	return media != "" || IsPicture(name)
}

// filesIn are the attributes in which elements name files that are no pictures (HTML, 4.6 and 4.8).
var filesIn = map[string]string{
	"a":      "href",
	"area":   "href",
	"video":  "src",
	"audio":  "src",
	"source": "src",
	"track":  "src",
	"embed":  "src",
	"iframe": "src",
	"object": "data",
}

// Uses lists the files of its own site that a page at a public path names, pictures and files to download, each once
// for each place. public is the site's address.
func (p *Page) Uses(public, address string) (all []Use) {
	seen := map[Use]bool{}
	add := func(src string, u Use) {
		kind, to, _ := link.Of(public, address, src)
		if kind != link.Inside || !IsFile(to) {
			return
		}
		u.File, u.Src = strings.TrimPrefix(to, "/"), src
		if !seen[u] {
			seen[u] = true
			all = append(all, u)
		}
	}
	add(p.Facts.Image, Use{Says: true})
	for _, part := range p.All {
		if part.Kind == Link || part.Kind == Button || part.Node.Is("a") && part.Run == nil {
			add(part.Attributes.Get("href"), Use{Says: true})
		}
		if part.Kind == Video && part.Run == nil {
			add(part.Attributes.Get("poster"), Use{Part: part.Name, Says: true})
		}
		if part.Kind != Picture {
			continue
		}
		u := Use{Part: part.Name, Alt: part.Attributes.Get("alt")}
		_, u.Says = part.Attributes.Lookup("alt")
		u.Says = u.Says || part.Background || part.Node.Is("source")
		for _, name := range PictureAddresses {
			add(part.Attributes.Get(name), u)
		}
		for _, name := range Srcsets {
			for _, c := range picture.ReadSrcset(part.Attributes.Get(name)) {
				add(c.URL, u)
			}
		}
	}
	shown := map[string]bool{}
	for _, u := range all {
		shown[u.File] = true
	}
	for _, n := range p.Doc.Nodes {
		if name, ok := filesIn[n.Tag()]; ok && n.HTML.Namespace == "" {
			src := p.Doc.Value(n, name)
			if _, to, _ := link.Of(public, address, src); !shown[strings.TrimPrefix(to, "/")] {
				add(src, Use{Says: true}) // in the middle of words
			}
		}
		if n.Is("link") {
			add(p.Doc.Value(n, "href"), Use{Says: true}) // the sign in a browser's tab
		}
	}
	return all
}

// inSheet is an address in a style sheet (CSS Values 4, 4.5).
var inSheet = regexp.MustCompile(`(?i)url\(\s*["']?([^"')]+)["']?\s*\)`)

// WithAddresses is a style in which to gives every address another one.
func WithAddresses(style string, to func(address string) string) string {
	var b strings.Builder
	at := 0
	for _, m := range inSheet.FindAllStringSubmatchIndex(style, -1) {
		b.WriteString(style[at:m[2]])
		b.WriteString(to(strings.TrimSpace(style[m[2]:m[3]])))
		at = m[3]
	}
	return b.String() + style[at:]
}

// UsesIn lists the picture files that a style sheet at a public path names.
func UsesIn(sheet []byte, public, address string) (files []string) {
	for _, m := range inSheet.FindAllSubmatch(sheet, -1) {
		if kind, to, _ := link.Of(public, address, strings.TrimSpace(string(m[1]))); kind == link.Inside &&
			IsPicture(to) {
			files = append(files, strings.TrimPrefix(to, "/"))
		}
	}
	return files
}
