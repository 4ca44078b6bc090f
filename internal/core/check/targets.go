package check

import (
	"fmt"
	"regexp"
	"strings"

	"mendry/internal/core/link"
	"mendry/internal/core/page"
	"mendry/internal/core/text"
)

var (
	toTop    = regexp.MustCompile(`(?i)\b(?:top|up|oben|haut)\b|^\W*$`)
	byScript = regexp.MustCompile(`^(?:on\w+|data-.+|aria-(?:controls|expanded|haspopup))$`)
)

// linkTargets: a link has a target, and one to a mail address names it whole.
func linkTargets(s *Subject) (fs []Finding) {
	for _, p := range s.links() {
		href, is := p.Attributes.Lookup("href")
		to := strings.TrimSpace(href)
		say := ""
		reached := text.Reaches(href)
		switch kind, _, _ := link.Of(s.Public, s.Address, href); {
		case !is:
			continue
		case to == "", to == "#" && !toTop.MatchString(p.Text) && !moved(p):
			say = "leads nowhere: it has no target."
		case kind == link.Mail && !strings.Contains(reached, "@"):
			say = fmt.Sprintf("writes to “%s”, which is no mail address.", reached)
		case kind == link.Phone && !strings.ContainsAny(reached, "0123456789"):
			say = fmt.Sprintf("dials “%s”, which is no phone number.", reached)
		}
		if say != "" {
			fs = append(fs, Finding{Level: Stop, Part: p.ID, Words: p.Text,
				Say: "“" + page.Short(p.Text, 40) + "” " + say + " Choose where it leads."})
		}
	}
	return fs
}

// moved reports whether a script makes something of a link.
func moved(p *page.Part) bool {
	for _, a := range p.Attributes {
		if byScript.MatchString(a.Key) || a.Key == "role" && a.Val != "link" {
			return true
		}
	}
	return false
}

// linksAnswer: other sites that a change leads to answer.
func linksAnswer(s *Subject) (fs []Finding) {
	if s.Site == nil || s.Changed == nil {
		return nil
	}
	had := map[string]bool{}
	if s.Before != nil {
		for _, p := range s.Before.All {
			had[p.Attributes.Get("href")] = true
		}
	}
	n := 0
	for _, p := range s.links() {
		href := p.Attributes.Get("href")
		kind, to, _ := link.Of(s.Public, s.Address, href)
		if kind != link.Outside || had[href] {
			continue
		}
		had[href] = true
		n++
		if why := s.Site.Answers(to); why != "" {
			fs = append(fs, Finding{Level: Look, Part: p.ID, Words: p.Text,
				Say: fmt.Sprintf("“%s” leads to %s: %s", page.Short(p.Text, 40), page.Short(to, 60), why)})
		}
	}
	if n > 0 && len(fs) == 0 {
		fs = append(fs, Finding{Level: Fine, Say: fmt.Sprintf("Other sites that new links lead to answer (%d tried).", n)})
	}
	return fs
}
