package source

import (
	"bytes"

	"golang.org/x/net/html"
)

// scanner finds where tokens end (HTML Living Standard, 13.2.5).
type scanner struct {
	b    []byte
	toks []token
}

func isLetter(c byte) bool { return 'a' <= c|0x20 && c|0x20 <= 'z' }

// next is the token that begins at an offset. foreign says that CDATA sections may stand there.
func (s *scanner) next(at int, foreign bool) token {
	b := s.b
	if b[at] != '<' || at+1 == len(b) {
		return s.text(at)
	}
	switch c := b[at+1]; {
	case isLetter(c):
		return s.tag(at, at+1, html.StartTagToken)
	case c == '/' && at+2 < len(b) && isLetter(b[at+2]):
		return s.tag(at, at+2, html.EndTagToken)
	case c == '/' && at+2 == len(b):
		return token{kind: html.TextToken, start: at, end: len(b)}
	case c == '/' || c == '?':
		return s.until(at, at+2, html.CommentToken)
	case c == '!':
		return s.declaration(at, foreign)
	}
	return s.text(at)
}

// text ends where a tag, comment or declaration begins.
func (s *scanner) text(at int) token {
	for i := at + 1; ; {
		k := bytes.IndexByte(s.b[i:], '<')
		if k < 0 || i+k+1 == len(s.b) {
			return token{kind: html.TextToken, start: at, end: len(s.b)}
		}
		if i += k; isLetter(s.b[i+1]) || s.b[i+1] == '/' || s.b[i+1] == '!' || s.b[i+1] == '?' {
			return token{kind: html.TextToken, start: at, end: i}
		}
		i++
	}
}

// until is a token that ends at the next ">".
func (s *scanner) until(at, from int, kind html.TokenType) token {
	if i := bytes.IndexByte(s.b[from:], '>'); i >= 0 {
		return token{kind: kind, start: at, end: from + i + 1}
	}
	return token{kind: kind, start: at, end: len(s.b)}
}

func (s *scanner) declaration(at int, foreign bool) token {
	rest := s.b[at+2:]
	switch {
	case bytes.HasPrefix(rest, []byte("--")):
		end := bytes.Index(rest[2:], []byte("-->"))
		if inner := rest[2:]; end >= 0 && !bytes.HasPrefix(inner, []byte(">")) && !bytes.HasPrefix(inner, []byte("->")) && !bytes.Contains(inner[:end], []byte("--!")) {
			return token{kind: html.CommentToken, start: at, end: at + 4 + end + 3}
		}
		return s.odd(at, foreign)
	case len(rest) >= 7 && bytes.EqualFold(rest[:7], []byte("doctype")):
		return s.until(at, at+9, html.DoctypeToken)
	case foreign && bytes.HasPrefix(rest, []byte("[CDATA[")):
		return s.odd(at, foreign)
	}
	return s.until(at, at+2, html.CommentToken)
}

// odd leaves a rare token to the library.
func (s *scanner) odd(at int, foreign bool) token {
	z := html.NewTokenizer(bytes.NewReader(s.b[at:]))
	z.AllowCDATA(foreign)
	kind := z.Next()
	if n := len(z.Raw()); n > 0 && kind != html.ErrorToken {
		return token{kind: kind, start: at, end: at + n}
	}
	return token{kind: html.CommentToken, start: at, end: len(s.b)}
}

// tag reads a tag whose name begins at i. One that the page ends in is no tag.
func (s *scanner) tag(at, i int, kind html.TokenType) token {
	b := s.b
	t := token{kind: kind, start: at}
	t.name, t.is = tagName(b[i:])
	for i < len(b) && !isSpace(b[i]) && b[i] != '/' && b[i] != '>' {
		i++
	}
	lastValue := -1 // where the last attribute's value ends
	for {
		for i < len(b) && isSpace(b[i]) {
			i++
		}
		if i >= len(b) {
			return token{kind: html.CommentToken, start: at, end: len(b)}
		}
		if b[i] == '>' {
			t.end = i + 1
			if kind == html.StartTagToken && b[i-1] == '/' {
				t.selfClosed = lastValue != i || s.selfClosed(at, t.end) // <p a=b/> is not, unless a is there twice
			}
			return t
		}
		i, lastValue = s.attribute(i, lastValue)
	}
}

// selfClosed asks the library.
func (s *scanner) selfClosed(at, end int) bool {
	return html.NewTokenizer(bytes.NewReader(s.b[at:end])).Next() == html.SelfClosingTagToken
}

// attribute reads an attribute at i and returns where it ends, and where its value does.
func (s *scanner) attribute(i, lastValue int) (int, int) {
	b := s.b
	key := i
	for i < len(b) && !isSpace(b[i]) && b[i] != '/' && b[i] != '>' && (b[i] != '=' || i == key) {
		i++
	}
	hasKey := i > key
	value := i
	for i < len(b) && isSpace(b[i]) {
		i++
	}
	end := func(v int) int {
		if hasKey {
			return v
		}
		return lastValue
	}
	switch {
	case i >= len(b):
		return i, lastValue
	case b[i] == '/':
		return i + 1, end(value)
	case b[i] != '=':
		return i, end(value)
	}
	for i++; i < len(b) && isSpace(b[i]); i++ {
	}
	if i >= len(b) {
		return i, lastValue
	}
	switch q := b[i]; q {
	case '>':
		return i, end(value)
	case '"', '\'':
		k := bytes.IndexByte(b[i+1:], q)
		if k < 0 {
			return len(b), lastValue
		}
		return i + k + 2, end(i + k + 1)
	}
	for i < len(b) && !isSpace(b[i]) && b[i] != '>' {
		i++
	}
	return i, end(i)
}

// rawEnd is where the text of an element with raw content ends.
func (s *scanner) rawEnd(at int, name string) int {
	b := s.b
	if name == "plaintext" {
		return len(b)
	}
	for i := at; ; i++ {
		k := bytes.Index(b[i:], []byte("</"))
		if k < 0 {
			return len(b)
		}
		i += k
		end := i + 2 + len(name)
		if end < len(b) && bytes.EqualFold(b[i+2:end], []byte(name)) && (isSpace(b[end]) || b[end] == '/' || b[end] == '>') {
			if name == "script" && bytes.Contains(b[at:i], []byte("<!--")) {
				return s.scriptEnd(at)
			}
			return i
		}
	}
}

// scriptEnd is where a script ends in which a comment begins: the library knows the states of 13.2.5.18 and on.
func (s *scanner) scriptEnd(at int) int {
	z := html.NewTokenizer(bytes.NewReader(append([]byte("<script>"), s.b[at:]...)))
	z.Next()
	if z.Next() == html.TextToken {
		return at + len(z.Raw())
	}
	return at
}
