package check

import (
	"fmt"
	"strings"

	"mendry/internal/core/link"
	"mendry/internal/core/page"
	"mendry/internal/core/source"
)

// linksOut: links that lead to other sites go there over an encrypted connection and open in a new tab (common
// practice, no source). Markdown has no way to say where a link opens.
func linksOut(s *Subject) (fs []Finding) {
	old := map[string]bool{} // what was so before is not held against the change
	if s.Before != nil {
		for _, p := range s.Before.All {
			old[outFault(s, s.Before, p)] = true
		}
	}
	for _, p := range s.parts() {
		if fault := outFault(s, s.After, p); fault != "" && !old[fault] {
			fs = append(fs, Finding{Level: Look, Part: p.ID, Words: p.Text, Say: fault})
		}
	}
	return fs
}

// outFault says what is wrong with a link that leads to another site; empty for others.
func outFault(s *Subject, in *page.Page, p *page.Part) string {
	if !p.IsLink() {
		return ""
	}
	href := p.Attributes.Get("href")
	kind, _, _ := link.Of(s.Public, s.Address, href)
	switch {
	case kind != link.Outside:
	case strings.HasPrefix(strings.ToLower(strings.TrimSpace(href)), "http:"):
		return fmt.Sprintf("“%s” leads to %s without encryption. Try https:// there.", page.Short(p.Text, 40), page.Short(href, 60))
	case in.Doc.Format != source.Markdown && p.Attributes.Get("target") != "_blank":
		return fmt.Sprintf("“%s” leads to another site and opens in the same tab. Let it open in a new one.", page.Short(p.Text, 40))
	}
	return ""
}
