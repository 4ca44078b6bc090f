package check

import (
	"fmt"

	"mendry/internal/core/page"
	"mendry/internal/core/style"
)

// The least contrast of words and of large words, 24 px or bold and 18.66 px (WCAG 2.2, success criterion 1.4.3).
// Headings are taken for large words.
const (
	leastContrast      = 4.5
	leastContrastLarge = 3
)

// LeastContrast is the contrast that words need; those of headings are taken for large ones.
func LeastContrast(heading bool) float64 {
	if heading {
		return leastContrastLarge
	}
	return leastContrast
}

// contrast: words whose colour or place a change chose stand out from what is behind them.
func contrast(s *Subject) (fs []Finding) {
	if s.Styles == nil {
		return nil
	}
	n := 0
	for _, p := range s.parts() {
		words, behind, ok := s.seen(p)
		if !ok {
			continue
		}
		n++
		least := LeastContrast(p.Kind == page.Heading)
		if got := style.Contrast(words, behind); got < least && !s.wasSeen(words, behind) {
			fs = append(fs, Finding{Level: Look, Part: p.ID, Words: page.Short(p.Text, 60), Say: fmt.Sprintf("The words are hard to read: %s on %s has a contrast of %.1f to 1, and %g to 1 is needed. Choose another style.", words, behind, got, least)})
		}
	}
	if n > 0 && len(fs) == 0 {
		fs = append(fs, Finding{Level: Fine, Say: fmt.Sprintf("The words stand out from what is behind them (%d looked at).", n)})
	}
	return fs
}

// seen tells the colours of a part's words and of what is behind them.
func (s *Subject) seen(p *page.Part) (words, behind style.Color, ok bool) {
	if !p.Kind.HasWords() || p.Run != nil || p.Text == "" {
		return words, behind, false
	}
	return s.Styles.Words(p.Node.HTML)
}

// wasSeen reports whether words stood in these colours before: that is not held against the change.
func (s *Subject) wasSeen(words, behind style.Color) bool {
	if s.Before == nil {
		return false
	}
	for _, p := range s.Before.All {
		if w, b, ok := s.seen(p); ok && w == words && b == behind {
			return true
		}
	}
	return false
}
