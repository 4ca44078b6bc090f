package text

import (
	"net/url"
	"regexp"
	"strings"
)

// dialledLater is what is dialled after a pause, or says more of a number (RFC 3966, 3).
var dialledLater = regexp.MustCompile(`[;,pwPW].*$`)

// contact parts the address of a link that dials or writes (RFC 3966, RFC 6068): the scheme, whom it reaches, and the
// rest.
func contact(href string) (scheme, to, rest string) {
	href = strings.TrimSpace(href)
	scheme, to, found := strings.Cut(href, ":")
	switch strings.ToLower(scheme) {
	case "tel", "sms":
		if at := dialledLater.FindStringIndex(to); at != nil {
			to, rest = to[:at[0]], to[at[0]:]
		}
	case "mailto":
		if i := strings.IndexByte(to, '?'); i >= 0 {
			to, rest = to[:i], to[i:]
		}
	default:
		found = false
	}
	if !found {
		return "", "", ""
	}
	return scheme + ":", to, rest
}

// Reaches is the phone number or mail address that a link dials or writes to; empty where it does neither.
func Reaches(href string) string {
	scheme, to, _ := contact(href)
	if strings.EqualFold(scheme, "mailto:") {
		if plain, err := url.PathUnescape(to); err == nil {
			to = plain
		}
	}
	return to
}

// Contact finds the one phone number or mail address that the words of a link show, and reports whether it is the one
// that the link reaches. What is shown may leave out the code of the land or of the place. shown is empty where the
// link reaches nobody, and where it shows none or several.
func Contact(href, words string) (shown string, agrees bool) {
	scheme, to, _ := contact(href)
	switch strings.ToLower(scheme) {
	case "":
		return "", true
	case "mailto:":
		shown = only(words, func(v Value) bool { return v.Kind == Mail })
		return shown, shown == "" || strings.EqualFold(shown, Reaches(href))
	}
	shown = only(words, func(v Value) bool { return v.Kind == Phone || v.Kind == Number && LocalPhone(v.Key) })
	a, b := dialled(shown), dialled(to)
	return shown, shown == "" || b != "" && (strings.HasSuffix(a, b) || strings.HasSuffix(b, a))
}

// only is the one value of a kind in words.
func only(words string, is func(Value) bool) (found string) {
	for _, v := range Values(words) {
		switch {
		case !is(v):
		case found != "":
			return ""
		default:
			found = words[v.Start:v.End]
		}
	}
	return found
}

// dialled are the digits of a phone number as they are dialled at home, without the trunk 0.
func dialled(number string) string {
	if key := PhoneKey(number); key != "" {
		return key
	}
	return strings.TrimLeft(digitsOf(number), "0")
}

func digitsOf(s string) string {
	return strings.Map(func(r rune) rune {
		if r < '0' || r > '9' {
			return -1
		}
		return r
	}, s)
}

// Following is the address of a link that reaches what is shown, written as href is: with the code of the land where
// href has it, and with what href says besides.
func Following(href, shown string) string {
	scheme, to, rest := contact(href)
	switch strings.ToLower(scheme) {
	case "":
		return href
	case "mailto:":
		return scheme + shown + rest
	}
	digits := digitsOf(strings.ReplaceAll(shown, "(0)", ""))
	had := digitsOf(to)
	abroad := strings.HasPrefix(to, "+") || strings.HasPrefix(had, "00")
	shown = strings.TrimSpace(shown)
	switch {
	case strings.HasPrefix(shown, "+"):
		return scheme + "+" + digits + rest
	case strings.HasPrefix(digits, "00"):
		return scheme + "+" + digits[2:] + rest
	case digits != "" && digits[0] != '0' && len(digits) < len(had): // without the code of its place
		return scheme + lead(to) + had[:len(had)-len(digits)] + digits + rest
	case abroad && strings.HasPrefix(digits, "0"):
		number := strings.TrimPrefix(had, "00")
		return scheme + "+" + number[:min(countryLength(number), len(number))] + digits[1:] + rest
	}
	return scheme + digits + rest
}

func lead(to string) string {
	if strings.HasPrefix(to, "+") {
		return "+"
	}
	return ""
}
