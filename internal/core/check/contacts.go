package check

import (
	"fmt"

	"mendry/internal/core/page"
	"mendry/internal/core/text"
)

// contactsAgree: the phone number or mail address that a link shows is the one that it dials or writes to (RFC 3966,
// RFC 6068).
func contactsAgree(s *Subject) (fs []Finding) {
	n := 0
	for _, p := range s.links() {
		href := p.Attributes.Get("href")
		if text.Reaches(href) == "" {
			continue
		}
		n++
		if shown, agrees := text.Contact(href, p.Text); !agrees {
			fs = append(fs, Finding{Level: Stop, Part: p.ID, Words: shown,
				Say: fmt.Sprintf("“%s” is shown, and the link leads to “%s”. Make both the same.", shown, text.Reaches(href))})
		}
	}
	if n > 0 && len(fs) == 0 {
		fs = append(fs, Finding{Level: Fine, Say: fmt.Sprintf("Phone numbers and mail addresses lead to what they show (%d looked at).", n)})
	}
	return fs
}

// links are the links among the parts that the subject is about.
func (s *Subject) links() (ps []*page.Part) {
	for _, p := range s.parts() {
		if p.IsLink() {
			ps = append(ps, p)
		}
	}
	return ps
}
