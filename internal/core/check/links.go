package check

import (
	"fmt"

	"mendry/internal/core/link"
	"mendry/internal/core/page"
)

// linksLead: inside links lead to a page and place that exist.
func linksLead(s *Subject) (fs []Finding) {
	n := 0
	for _, p := range s.links() {
		n++
		kind, to, place := link.Of(s.Public, s.Address, p.Attributes.Get("href"))
		say := ""
		switch {
		case kind == link.Other:
			say = fmt.Sprintf("“%s” is no address that a visitor can follow.", p.Attributes.Get("href"))
		case kind == link.Place && place != "" && !s.After.HasPlace(place):
			say = fmt.Sprintf("There is no place “#%s” on this page.", place)
		case kind == link.Inside && s.Site != nil && !s.Site.Has(to):
			say = fmt.Sprintf("There is no page %s on the site.", to)
		case kind == link.Inside && place != "" && s.Site != nil && !s.Site.HasPlace(to, place):
			say = fmt.Sprintf("There is no place “#%s” on %s.", place, to)
		}
		if say != "" {
			fs = append(fs, Finding{Level: Stop, Part: p.ID, Words: p.Text, Say: say + " Choose another target for “" + page.Short(p.Text, 40) + "”."})
		}
	}
	if n > 0 && len(fs) == 0 {
		fs = append(fs, Finding{Level: Fine, Say: fmt.Sprintf("Links inside the site lead to pages that exist (%d looked at).", n)})
	}
	return fs
}

// Links runs the rules on links over the whole page of s.
func Links(s *Subject) (fs []Finding) {
	for _, rule := range []func(*Subject) []Finding{linksLead, linkTargets, contactsAgree, linkWords, linksOut} {
		for _, f := range rule(s) {
			if f.Level != Fine {
				fs = append(fs, f)
			}
		}
	}
	return fs
}
