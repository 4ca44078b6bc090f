package check

import (
	"fmt"
	"path"
	"regexp"
	"strings"
)

var (
	fileName   = regexp.MustCompile(`(?i)^\s*\S+\.(?:jpe?g|png|gif|webp|svg|avif|heic|tiff?)\s*$|^\s*(?:img|dsc[nf]?|pict|image|photo|pxl|screenshot)[_-]?\d{3,}[\w-]*\s*$`)
	sayNothing = regexp.MustCompile(`(?i)^\W*(?:an? |the )?(?:image|img|picture|pic|photo|photograph|placeholder|spacer|graphic|logo here|alt|alt text|alternative text|untitled|null|undefined|todo|tbc|bild|foto)(?: (?:here|text|of|of the|von|\d+))?\W*$`)
)

// pictureAlternative: alternative text present, not the file name (WCAG 2.2, 1.1.1 and failures F30, F65).
func pictureAlternative(s *Subject) (fs []Finding) {
	n := 0
	for _, p := range s.parts() {
		if !p.ShowsPicture() { // backgrounds and other files, which have none of their own (HTML, 4.8.2)
			continue
		}
		n++
		alt, has := p.Attributes.Lookup("alt")
		file := path.Base(p.Attributes.Get("src"))
		bare := strings.TrimSuffix(file, path.Ext(file))
		switch {
		case !has:
			fs = append(fs, Finding{Level: Stop, Part: p.ID, Words: file, Say: fmt.Sprintf("The picture %s has no alternative text. Say in a few words what it shows.", file)})
		case fileName.MatchString(alt) || alt != "" && strings.EqualFold(strings.TrimSpace(alt), bare):
			fs = append(fs, Finding{Level: Stop, Part: p.ID, Words: alt, Say: fmt.Sprintf("The alternative text of %s is its file name. Say in a few words what it shows.", file)})
		case sayNothing.MatchString(alt):
			fs = append(fs, Finding{Level: Stop, Part: p.ID, Words: alt, Say: fmt.Sprintf("The alternative text of %s is “%s”, which tells nobody anything. Say in a few words what it shows.", file, alt)})
		case strings.TrimSpace(alt) == "" && !s.all:
			fs = append(fs, Finding{Level: Look, Part: p.ID, Words: file, Say: fmt.Sprintf("The picture %s has an empty alternative text: right for an ornament only.", file)})
		}
	}
	if n > 0 && len(fs) == 0 {
		fs = append(fs, Finding{Level: Fine, Say: fmt.Sprintf("Changed pictures have alternative text (%d looked at).", n)})
	}
	return fs
}
