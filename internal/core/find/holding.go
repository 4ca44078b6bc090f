package find

import (
	"regexp"

	"mendry/internal/core/page"
	"mendry/internal/core/text"
)

// What people call a value of which they do not say how it was (common practice, no source).
var (
	callsPhone = regexp.MustCompile(`(?i)\b(?:tele)?phones?\b|\btel\b|\bmobile\b|\b(?:call|ring) us\b`)
	callsMail  = regexp.MustCompile(`(?i)\be-?mails?\b|\bmail address\b`)
)

// MeansKind is the kind of value that a phrase speaks of by name; empty where it speaks of none.
func MeansKind(phrase string) text.Kind {
	switch {
	case callsPhone.MatchString(phrase):
		return text.Phone
	case callsMail.MatchString(phrase):
		return text.Mail
	}
	return ""
}

// Holder is a part that a value stands in.
type Holder struct {
	Part *page.Part
	text.Value
}

// Holding finds the words of a page that hold a value of a kind, those around a link and not the link.
func Holding(p *page.Page, kind text.Kind) (all []Holder) {
	within := map[*page.Part]bool{} // words, and all in them
	for _, part := range p.All {
		if within[part.Parent] {
			within[part] = true
			continue
		}
		if !part.Kind.HasWords() || part.Locked != "" {
			continue
		}
		within[part] = true
		for _, v := range text.Values(part.Text) {
			if v.Kind == kind {
				all = append(all, Holder{part, v})
				break
			}
		}
	}
	return all
}
