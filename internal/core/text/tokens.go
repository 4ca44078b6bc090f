package text

import (
	"regexp"
	"strings"
)

// Token is a code that another program fills in, as a stretch of text: a bracketed code like [tabs id="3"], or a
// template mark between {{ }}, {% %}, <? ?> or %% %%. Offsets are bytes.
type Token struct{ Start, End int }

var (
	templateMark = regexp.MustCompile(`\{\{[^{}]*(?:\{[^{}]*\}[^{}]*)*\}\}|\{%.*?%\}|<\?(?s:.*?)\?>|%%[A-Za-z][A-Za-z0-9_.:-]*%%`)
	bracketed    = regexp.MustCompile(`\[(/?)([A-Za-z][A-Za-z0-9_-]*)((?:[ \t\n=][^\[\]]*)?)\]`)
	attribute    = regexp.MustCompile(`(?:^|[ \t\n])[A-Za-z][\w-]*=(?:"[^"]*"|'[^']*'|&quot;|\S)`)
)

// Tokens finds the codes of other programs in running text or markup, in order. A word in brackets is a code only if
// it has attributes, closes itself, has a twin that it opens or closes, or is named with an underscore: "[sic]" and
// "[1]" are words.
func Tokens(s string) (ts []Token) {
	if strings.Contains(s, "{{") || strings.Contains(s, "{%") || strings.Contains(s, "<?") || strings.Contains(s, "%%") {
		for _, m := range templateMark.FindAllStringIndex(s, -1) {
			ts = append(ts, Token{m[0], m[1]})
		}
	}
	if !strings.Contains(s, "[") {
		return ts
	}
	marks := len(ts)
	for _, m := range bracketed.FindAllStringSubmatchIndex(s, -1) {
		closing, name, rest := s[m[2]:m[3]], s[m[4]:m[5]], s[m[6]:m[7]]
		if isCode(s, closing, name, rest) && !within(ts[:marks], m[0]) {
			ts = insert(ts, Token{m[0], m[1]})
			marks = len(ts)
		}
	}
	return ts
}

func isCode(s, closing, name, rest string) bool {
	switch {
	case closing != "":
		return true
	case strings.Contains(name, "_"), strings.HasSuffix(strings.TrimSpace(rest), "/"), attribute.MatchString(rest):
		return true
	case strings.HasPrefix(rest, "="):
		return true
	}
	return strings.Contains(s, "[/"+name+"]")
}

func within(ts []Token, at int) bool {
	for _, t := range ts {
		if at >= t.Start && at < t.End {
			return true
		}
	}
	return false
}

func insert(ts []Token, t Token) []Token {
	i := len(ts)
	for i > 0 && ts[i-1].Start > t.Start {
		i--
	}
	return append(ts[:i], append([]Token{t}, ts[i:]...)...)
}

// Broken returns what is left of a code that was cut in two: an opening mark without its end, or an end without its
// beginning; empty where every code is whole.
func Broken(s string) string {
	var rest strings.Builder
	at := 0
	for _, t := range Tokens(s) {
		rest.WriteString(s[at:t.Start])
		rest.WriteByte(0)
		at = t.End
	}
	rest.WriteString(s[at:])
	for _, mark := range []string{"{{", "}}", "{%", "%}", "<?", "?>"} {
		if strings.Contains(rest.String(), mark) {
			return mark
		}
	}
	return ""
}
