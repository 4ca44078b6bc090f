package check

import (
	"fmt"
	"path"
	"strings"

	"mendry/internal/core/page"
)

// pictureAlternative: alternative text present, not the file name (WCAG 2.2, 1.1.1 and failures F30, F65).
func pictureAlternative(s *Subject) (fs []Finding) {
	n := 0
	for _, p := range s.parts() {
		if p.Kind != page.Picture {
			continue
		}
		n++
		alt, has := p.Attributes.Lookup("alt")
		file := path.Base(p.Attributes.Get("src"))
		bare := strings.TrimSuffix(file, path.Ext(file))
		switch {
		case !has:
			fs = append(fs, Finding{Level: Stop, Part: p.ID, Words: file, Say: fmt.Sprintf("The picture %s has no alternative text. Say in a few words what it shows.", file)})
		case strings.EqualFold(strings.TrimSpace(alt), file) || alt != "" && strings.EqualFold(alt, bare):
			fs = append(fs, Finding{Level: Stop, Part: p.ID, Words: alt, Say: fmt.Sprintf("The alternative text of %s is its file name. Say in a few words what it shows.", file)})
		case strings.TrimSpace(alt) == "":
			fs = append(fs, Finding{Level: Look, Part: p.ID, Words: file, Say: fmt.Sprintf("The picture %s has an empty alternative text: right for an ornament only.", file)})
		}
	}
	if n > 0 && len(fs) == 0 {
		fs = append(fs, Finding{Level: Fine, Say: fmt.Sprintf("Changed pictures have alternative text (%d looked at).", n)})
	}
	return fs
}
