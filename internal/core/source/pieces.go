package source

import (
	"bytes"

	"golang.org/x/net/html"
)

// Pieces cuts the page's bytes into what is compared and merged as a whole: tags and comments, words, and the white
// space between them. Laid end to end they are the page.
func (d *Doc) Pieces() (ps []string) {
	if d.Format == Markdown {
		return wordsOf(ps, string(d.Bytes))
	}
	z := html.NewTokenizer(bytes.NewReader(d.Bytes))
	all := string(d.Bytes)
	at := 0
	for {
		kind := z.Next()
		n := len(z.Raw())
		raw := all[at : at+n]
		at += n
		switch {
		case kind == html.TextToken:
			ps = wordsOf(ps, raw)
		case n > 0:
			ps = append(ps, raw)
		}
		if kind == html.ErrorToken {
			if at < len(all) {
				ps = append(ps, all[at:])
			}
			return ps
		}
	}
}

func wordsOf(ps []string, s string) []string {
	for len(s) > 0 {
		n := 1
		blank := isSpace(s[0])
		for n < len(s) && isSpace(s[n]) == blank && !(blank && s[n-1] == '\n') {
			n++
		}
		ps = append(ps, s[:n])
		s = s[n:]
	}
	return ps
}
