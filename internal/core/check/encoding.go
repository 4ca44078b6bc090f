package check

import (
	"fmt"
	"mime"
	"strings"
	"unicode/utf8"

	"golang.org/x/net/html/charset"

	"mendry/internal/core/page"
	"mendry/internal/core/source"
)

// encodingAgrees: the host, the page and its bytes say the same of how the page is written.
func encodingAgrees(s *Subject) []Finding {
	if say := Contradiction(s.After, s.Media); say != "" {
		return []Finding{{Level: Look, Words: s.After.Doc.Encoding.Name, Say: say}}
	}
	d := s.After.Doc
	if d.BOM || d.Format != source.HTML || plain(d.Bytes) || told(s.Media) != "" || saysOfItself(s.After) != "" {
		return nil
	}
	return []Finding{{Level: Look, Words: d.Encoding.Name, Say: fmt.Sprintf(
		"Nothing says how the page is written; browsers guess, and Mendry took it for %s. A line <meta charset=\"%s\"> in its head settles it.",
		strings.ToUpper(d.Encoding.Name), d.Encoding.Name,
	)}}
}

// Contradiction says what of a page's media type, its meta element and its bytes tells different encodings, and what
// comes of it; empty where they agree. Browsers go by a byte order mark, then by the media type, then by the page
// (HTML Living Standard, 13.2.3.2; Encoding Standard, 4.2).
func Contradiction(p *page.Page, media string) string {
	d := p.Doc
	if d.Encoding.Name == "utf-8" && !utf8.Valid(d.Bytes) {
		return "The page is told to be UTF-8, and some of its bytes are not: visitors see � there. Find the letters on the page and type them again, or have the file saved as UTF-8."
	}
	header, own := told(media), saysOfItself(p)
	if d.BOM || plain(d.Bytes) || header == "" || own == "" || header == own {
		return ""
	}
	return fmt.Sprintf(
		"The host tells browsers that the page is written in %s, the page says %s. Browsers go by the host: look at letters with accents on the live page, and have the host say what the page does.",
		strings.ToUpper(header), strings.ToUpper(own),
	)
}

func plain(b []byte) bool {
	for _, c := range b {
		if c >= utf8.RuneSelf {
			return false
		}
	}
	return true
}

// told is the encoding in a media type, by its name in the Encoding Standard; empty where there is none.
func told(media string) string {
	_, of, err := mime.ParseMediaType(media)
	if err != nil {
		return ""
	}
	return encodingOf(of["charset"])
}

func encodingOf(label string) string {
	_, name := charset.Lookup(label)
	return name
}

// saysOfItself is the encoding that a page's meta element names.
func saysOfItself(p *page.Page) (name string) {
	p.Doc.Root.Walk(func(n *source.Node) bool {
		if name != "" || !n.Is("meta") {
			return name == ""
		}
		if label := p.Doc.Value(n, "charset"); label != "" {
			name = encodingOf(label)
		} else if strings.EqualFold(p.Doc.Value(n, "http-equiv"), "content-type") {
			name = told(p.Doc.Value(n, "content"))
		}
		return false
	})
	if name == "utf-16le" || name == "utf-16be" { // what has been read so far is not
		name = "utf-8"
	}
	return name
}
