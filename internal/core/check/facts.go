package check

import (
	"fmt"
	"strings"
	"unicode/utf8"

	"golang.org/x/text/language"

	"mendry/internal/core/page"
	"mendry/internal/core/source"
)

// How long the facts of a page may be, in characters, so that whoever lists the page shows them whole (common
// practice, no source).
const (
	longTitle        = 65
	shortDescription = 50
	longDescription  = 170
)

// pageFacts: a title that no other page has, short enough to be shown whole, a description, and the language (WCAG
// 2.2,
// 2.4.2 and 3.1.1). What was so before is not held against a change.
func pageFacts(s *Subject) (fs []Finding) {
	had := map[string]bool{}
	if s.Before != nil {
		for _, f := range factFaults(s, s.Before) {
			had[f.Say] = true
		}
	}
	for _, f := range factFaults(s, s.After) {
		if !had[f.Say] {
			fs = append(fs, f)
		}
	}
	return fs
}

func factFaults(s *Subject, p *page.Page) (fs []Finding) {
	add := func(l Level, words, say string) { fs = append(fs, Finding{Level: l, Words: words, Say: say}) }
	title, description := strings.TrimSpace(p.Facts.Title), strings.TrimSpace(p.Facts.Description)
	switch n := utf8.RuneCountInString(title); {
	case n == 0:
		add(Stop, "", "The page has no title. Write one: it stands in the tab and in every list of pages.")
	case n > longTitle:
		add(Look, title, fmt.Sprintf("The title “%s” has %d characters; what is longer than about %d is cut off in lists.", page.Short(title, 40), n, longTitle))
	}
	if title != "" && s.Site != nil {
		if others := s.Site.Titled(title); len(others) > 0 {
			add(Look, title, fmt.Sprintf("The title “%s” stands on %s too. Each page has its own.", page.Short(title, 60), strings.Join(others, " and ")))
		}
	}
	switch n := utf8.RuneCountInString(description); {
	case n == 0:
		add(Look, "", "The page has no description. Say in some 150 characters what it tells.")
	case n < shortDescription:
		add(Look, description, fmt.Sprintf("The description “%s” has only %d characters; about 150 are shown.", page.Short(description, 40), n))
	case n > longDescription:
		add(Look, description, fmt.Sprintf("The description has %d characters; what is longer than about 160 is cut off.", n))
	}
	if p.Doc.Format == source.Markdown {
		return fs
	}
	if p.Facts.Lang == "" {
		add(Look, "", "The page does not say in which language it is written. Set it among the page facts.")
	} else if _, err := language.Parse(p.Facts.Lang); err != nil {
		add(Look, p.Facts.Lang, fmt.Sprintf("“%s” is no language (BCP 47). Write “en” or “en-GB”.", p.Facts.Lang))
	}
	return fs
}
