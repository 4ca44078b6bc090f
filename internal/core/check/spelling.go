package check

import (
	"fmt"
	"strings"

	"mendry/internal/core/spell"
)

// Spelling answers which words are right on a site.
type Spelling interface {
	// Right reports whether a word stands in the dictionary or among the site's own words.
	Right(word string) bool
	// Suggest gives words that may be meant, the likeliest first.
	Suggest(word string) []string
}

// spelling: words that a change brings stand in the dictionary or among the site's own.
func spelling(s *Subject) (fs []Finding) {
	if s.Spelling == nil && s.Unread == "" {
		return nil
	}
	old := map[string]bool{}
	if s.Before != nil {
		for _, p := range s.Before.All {
			if p.Kind.HasWords() {
				for _, w := range spell.Words(p.Text) {
					old[w.Text] = true
				}
			}
		}
	}
	n := 0
	said := map[string]bool{}
	for _, p := range s.spoken() {
		for _, w := range spell.Words(p.Text) {
			if old[w.Text] || said[w.Text] {
				continue
			}
			n++
			if s.Spelling == nil {
				return []Finding{{Level: Look, Part: p.ID, Say: "Spelling was not looked at. " + s.Unread}}
			}
			if s.Spelling.Right(w.Text) {
				continue
			}
			said[w.Text] = true
			f := Finding{Level: Look, Part: p.ID, Words: w.Text, Learn: w.Text, Say: fmt.Sprintf("“%s” is not in the dictionary.", w.Text)}
			if meant := s.Spelling.Suggest(w.Text); len(meant) > 0 {
				f.Say += fmt.Sprintf(" Is “%s” meant?", strings.Join(meant, "” or “"))
				f.Mend = p.Text[:w.Start] + meant[0] + p.Text[w.End:]
			}
			fs = append(fs, f)
		}
	}
	if n > 0 && len(fs) == 0 {
		fs = append(fs, Finding{Level: Fine, Say: fmt.Sprintf("New words are spelled as the dictionary or the site has them (%d looked at).", n)})
	}
	return fs
}
