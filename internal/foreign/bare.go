package foreign

import (
	"bytes"
	"regexp"

	"golang.org/x/net/html"
)

// inDoubleQuotes is an attribute whose value may stand without quotes (HTML 13.1.2.3), and what comes after it.
var inDoubleQuotes = regexp.MustCompile("(\\s[\\w:.-]+=)\"([^\\s\"'=<>`/]+)\"([\\s>])")

// Bare is a page as minifiers write it: values of attributes without quotes where they can be, which is most of them.
func Bare(b []byte) []byte {
	var out bytes.Buffer
	z := html.NewTokenizer(bytes.NewReader(b))
	for {
		kind := z.Next()
		raw := z.Raw()
		if kind == html.StartTagToken {
			raw = inDoubleQuotes.ReplaceAll(raw, []byte("$1$2$3"))
			raw = inDoubleQuotes.ReplaceAll(raw, []byte("$1$2$3")) // neighbours share the blank between them
		}
		out.Write(raw)
		if kind == html.ErrorToken {
			return out.Bytes()
		}
	}
}
