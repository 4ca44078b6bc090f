package text

import (
	"regexp"
	"slices"
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

// Marks finds the template marks in markup: what stands between {{ }}, {% %}, <? ?> or %% %%.
func Marks(s string) (ts []Token) {
	if !mayHoldMark(s) {
		return nil
	}
	for _, m := range templateMark.FindAllStringIndex(s, -1) {
		if !spokenOf(s, m[0], m[0]+2) {
			ts = append(ts, Token{m[0], m[1]})
		}
	}
	return ts
}

// Quotation marks in which prose names a sign, as they are written in markup (common practice, no source).
var (
	quoteOpens  = []string{"“", "„", "‘", "‚", "«", "»", `"`, "'", "`", "&ldquo;", "&lsquo;", "&bdquo;", "&laquo;", "&raquo;", "&quot;", "&#34;", "<code>", "<kbd>"}
	quoteCloses = []string{"”", "“", "’", "‘", "»", "«", `"`, "'", "`", "&rdquo;", "&ldquo;", "&rsquo;", "&lsquo;", "&laquo;", "&raquo;", "&quot;", "&#34;", "</code>", "</kbd>"}
)

// spokenOf reports whether a sign stands in quotation marks by itself: it is spoken of, and opens or closes nothing.
func spokenOf(s string, start, end int) bool {
	return slices.ContainsFunc(quoteOpens, func(q string) bool { return strings.HasSuffix(s[:start], q) }) &&
		slices.ContainsFunc(quoteCloses, func(q string) bool { return strings.HasPrefix(s[end:], q) })
}

// Tokens finds the codes of other programs in running text or markup, in order. A word in brackets is a code only if
// it has attributes, closes itself, has a twin that it opens or closes, or is named with an underscore: "[sic]" and
// "[1]" are words.
func Tokens(s string) (ts []Token) {
	ts = Marks(s)
	if !mayHoldCode(s) {
		return ts
	}
	found := bracketed.FindAllStringSubmatchIndex(s, -1)
	closed := map[string]bool{}
	for _, m := range found {
		if m[2] < m[3] {
			closed[s[m[4]:m[5]]] = true
		}
	}
	marks := ts
	for _, m := range found {
		for len(marks) > 0 && marks[0].End <= m[0] {
			marks = marks[1:]
		}
		if len(marks) > 0 && marks[0].Start <= m[0] {
			continue // in a template mark
		}
		if closed[s[m[4]:m[5]]] || isCode(s[m[4]:m[5]], s[m[6]:m[7]]) {
			ts = append(ts, Token{m[0], m[1]})
		}
	}
	slices.SortFunc(ts, func(a, b Token) int { return a.Start - b.Start })
	return ts
}

// MayHoldTokens reports whether codes of other programs may stand in s. It is quick and says no only where there are
// none.
func MayHoldTokens(s string) bool { return mayHoldMark(s) || mayHoldCode(s) }

// mayHoldMark looks for the rarer sign of each mark: "<" is everywhere.
func mayHoldMark(s string) bool {
	for at := 0; ; at++ {
		i := strings.IndexByte(s[at:], '{')
		if i < 0 {
			break
		}
		if at += i; at+1 < len(s) && (s[at+1] == '{' || s[at+1] == '%') {
			return true
		}
	}
	for at := 0; ; at++ {
		i := strings.IndexByte(s[at:], '?')
		if i < 0 {
			break
		}
		if at += i; at > 0 && s[at-1] == '<' {
			return true
		}
	}
	return strings.Contains(s, "%%")
}

// mayHoldCode reports whether a bracket stands in s that closes a code or says more than a word does.
func mayHoldCode(s string) bool {
	for {
		i := strings.IndexByte(s, '[')
		if i < 0 || i+1 == len(s) {
			return false
		}
		s = s[i+1:]
		if s[0] == '/' {
			return true
		}
		if c := s[0] | 0x20; c < 'a' || c > 'z' {
			continue
		}
		if end := strings.IndexAny(s, "[]=_/"); end >= 0 && s[end] != '[' && s[end] != ']' {
			return true
		}
	}
}

// isCode reports whether a name in brackets, with what follows it, is a code by itself.
func isCode(name, rest string) bool {
	return strings.Contains(name, "_") || strings.HasSuffix(strings.TrimSpace(rest), "/") || strings.HasPrefix(rest, "=") || attribute.MatchString(rest)
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
		left := rest.String()
		for at := strings.Index(left, mark); at >= 0; {
			if !spokenOf(left, at, at+len(mark)) {
				return mark
			}
			next := strings.Index(left[at+len(mark):], mark)
			if next < 0 {
				break
			}
			at += len(mark) + next
		}
	}
	return ""
}
