package act

import (
	"fmt"
	"html"
	"regexp"
	"strconv"
	"strings"

	"mendry/internal/core/change"
)

// noscript lets the copy of the picture for browsers without scripts show the new one.
func (s *swap) noscript(lead File) error {
	n := change.NoscriptOf(s.part)
	if n == nil {
		return nil
	}
	was := s.page.Doc.Markup(s.page.Doc.Bytes[n.InnerStart():n.InnerEnd()])
	now := renamed(was, s.renamed)
	if now == was {
		return nil // it shows something else
	}
	if s.Alt != nil {
		old := `alt="` + html.EscapeString(s.part.Attributes.Get("alt")) + `"`
		now = strings.Replace(now, old, `alt="`+html.EscapeString(strings.TrimSpace(*s.Alt))+`"`, 1)
	}
	if width := wideAs.FindStringSubmatch(now); width != nil && lead.Width > 0 {
		if w, err := strconv.Atoi(width[1]); err == nil {
			now = highAs.ReplaceAllString(now, fmt.Sprintf(`${1}"%d"`, lead.high(w)))
		}
	}
	s.ops = append(s.ops, change.Op{Op: change.SetNoscript, Part: s.part.ID, HTML: now})
	s.said = append(s.said, "the copy for browsers without scripts")
	return nil
}

var (
	wideAs = regexp.MustCompile(`\swidth="?(\d+)"?`)
	highAs = regexp.MustCompile(`(\sheight=)"?\d+"?`)
	inTag  = regexp.MustCompile(`[^\s"',=<>]+`)
)

// renamed puts new addresses in the place of old ones in markup.
func renamed(markup string, instead map[string]string) string {
	return inTag.ReplaceAllStringFunc(markup, func(word string) string {
		if now, ok := instead[html.UnescapeString(word)]; ok {
			return html.EscapeString(now)
		}
		return word
	})
}
