package check

import (
	"fmt"
	"net/url"
	"regexp"
	"strings"

	"mendry/internal/core/link"
	"mendry/internal/core/page"
	"mendry/internal/core/text"
)

// contactsAgree: the phone number or mail address that a link shows is the one that it dials or writes to (RFC 3966,
// RFC 6068).
func contactsAgree(s *Subject) (fs []Finding) {
	n := 0
	for _, p := range s.links() {
		kind, to, _ := link.Of(s.Public, s.Address, p.Attributes.Get("href"))
		shown, agrees := "", true
		switch kind {
		case link.Phone:
			shown, agrees = phoneShown(p.Text, to)
		case link.Mail:
			shown, agrees = mailShown(p.Text, to)
		default:
			continue
		}
		n++
		if !agrees {
			fs = append(fs, Finding{Level: Stop, Part: p.ID, Words: shown,
				Say: fmt.Sprintf("“%s” is shown, and the link leads to “%s”. Make both the same.", shown, to)})
		}
	}
	if n > 0 && len(fs) == 0 {
		fs = append(fs, Finding{Level: Fine, Say: fmt.Sprintf("Phone numbers and mail addresses lead to what they show (%d looked at).", n)})
	}
	return fs
}

var pause = regexp.MustCompile(`[;,pwPW].*$`) // what is dialled later, or says more of the number

// phoneShown finds the one phone number in the words of a link and reports whether it is the number dialled. What is
// shown may leave out the code of the land or of the place.
func phoneShown(words, dialled string) (shown string, agrees bool) {
	dialled = pause.ReplaceAllString(dialled, "")
	for _, v := range text.Values(words) {
		if v.Kind != text.Phone && v.Kind != text.Number || v.End-v.Start < leastPhone {
			continue
		}
		if shown != "" {
			return "", true // two of them: which is meant cannot be told
		}
		shown = words[v.Start:v.End]
	}
	a, b := dialsAs(shown), dialsAs(dialled)
	return shown, shown == "" || strings.HasSuffix(a, b) || strings.HasSuffix(b, a)
}

const leastPhone = 5 // digits of a number that is dialled within a place

func dialsAs(number string) string {
	if key := text.PhoneKey(number); key != "" {
		return key
	}
	return strings.TrimLeft(strings.Map(func(r rune) rune {
		if r < '0' || r > '9' {
			return -1
		}
		return r
	}, number), "0")
}

// mailAddress is an address as people write it (RFC 5322, dot-atom).
var mailAddress = regexp.MustCompile(`[\w.+-]+@[\w-]+(?:\.[\w-]+)+`)

func mailShown(words, to string) (shown string, agrees bool) {
	found := mailAddress.FindAllString(words, -1)
	if len(found) != 1 {
		return "", true
	}
	to, _, _ = strings.Cut(to, "?")
	if plain, err := url.PathUnescape(to); err == nil {
		to = plain
	}
	return found[0], strings.EqualFold(strings.TrimRight(found[0], "."), to)
}

// links are the links among the parts that the subject is about.
func (s *Subject) links() (ps []*page.Part) {
	for _, p := range s.parts() {
		if (p.Kind == page.Link || p.Kind == page.Button) && p.Node.Is("a") {
			ps = append(ps, p)
		}
	}
	return ps
}
