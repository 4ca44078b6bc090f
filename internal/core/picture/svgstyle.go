package picture

import (
	"bytes"
	"strings"

	"github.com/tdewolff/parse/v2"
	"github.com/tdewolff/parse/v2/css"
)

// withinOnly is a style sheet without the declarations, rules and imports that lead out of the drawing (CSS Syntax 3,
// 5.4). It is empty where something is left that does.
func withinOnly(sheet []byte) []byte {
	s := styleReader{lexer: css.NewLexer(parse.NewInputBytes(bytes.Clone(sheet)))}
	out := s.block()
	for !s.ended { // a brace that closes nothing
		out = append(out, s.block()...)
	}
	if outside.Match(out) {
		return nil
	}
	return out
}

type styleReader struct {
	lexer *css.Lexer
	ended bool
}

// block reads what stands between braces, and past the one that closes it.
func (s *styleReader) block() (out []byte) {
	var one []byte // a declaration, or what stands before a block
	take := func() {
		if !outside.Match(one) {
			out = append(out, one...)
		}
		one = nil
	}
	for {
		t, raw := s.lexer.Next()
		switch t {
		case css.ErrorToken:
			s.ended = true
			take()
			return out
		case css.LeftBraceToken:
			before := one
			inner := s.block()
			if !outside.Match(before) {
				out = append(append(append(append(out, before...), '{'), inner...), '}')
			}
			one = nil
		case css.RightBraceToken:
			take()
			return out
		case css.SemicolonToken:
			one = append(one, ';')
			take()
		default:
			one = append(one, raw...)
		}
	}
}

var escapedStyle = strings.NewReplacer("&", "&amp;", "<", "&lt;")
