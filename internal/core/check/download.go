package check

import (
	"fmt"
	"strings"

	"mendry/internal/core/file"
	"mendry/internal/core/link"
	"mendry/internal/core/page"
	"mendry/internal/core/picture"
)

// Files answers what a rule must know of the site's files to download, as they would be after publishing.
type Files interface {
	// File looks at the one at a public path; false where it cannot be seen.
	File(publicPath string) (file.Info, bool)
	// Brings reports whether the changes bring the one at a public path.
	Brings(publicPath string) bool
	// LinkedFrom lists the links of other pages to it.
	LinkedFrom(publicPath string) []FileLink
}

// FileLink is a link to a file on another page.
type FileLink struct {
	Address string // of the page
	Words   string
}

// heavy is the weight over which a file is no quick thing on a phone: some ten seconds at 10 Mbit/s (common practice,
// no source).
const heavy = 12_000_000

// downloads: a link to a file says what it leads to and how heavy it is, and says it rightly on every page.
func downloads(s *Subject) (fs []Finding) {
	if s.Files == nil {
		return nil
	}
	n := 0
	had := map[[2]string]bool{} // as they stood: their files, which may be heavy, are not fetched again
	if s.Before != nil && s.Changed != nil {
		for _, p := range s.Before.All {
			had[[2]string{p.Attributes.Get("href"), p.Text}] = p.IsLink()
		}
	}
	for _, p := range s.links() {
		href := p.Attributes.Get("href")
		kind, to, _ := link.Of(s.Public, s.Address, href)
		if _, is := file.IsAddress(to); kind != link.Inside || !is || had[[2]string{href, p.Text}] && !s.Files.Brings(to) {
			continue
		}
		i, ok := s.Files.File(to)
		if !ok {
			continue // that it is not there is told by another rule
		}
		n++
		look := func(format string, args ...any) {
			fs = append(fs, Finding{Level: Look, Part: p.ID, Words: p.Text, Say: fmt.Sprintf(format, args...)})
		}
		name := "“" + page.Short(p.Text, 40) + "”"
		switch said := file.SaidOf(p.Text); {
		case !said.Right(i):
			look("%s leads to a file of another kind or weight than it says: %s.", name, i.Words())
		case said.Kind == "" || said.Weight == "":
			look("%s does not say what it leads to: add “%s”, so that nobody on a phone is surprised.", name, i.Words())
		}
		if i.Locked {
			look("%s leads to a file that opens only with a password. Do its readers have it?", name)
		}
		if i.Size > heavy {
			look(
				"%s leads to %s: on a phone that takes long. Ask for a lighter one.",
				name,
				picture.Weight(int(i.Size)),
			)
		}
		var wrong []string
		for _, l := range s.Files.LinkedFrom(to) {
			if !file.SaidOf(l.Words).Right(i) {
				wrong = append(wrong, fmt.Sprintf("%s (“%s”)", l.Address, page.Short(l.Words, 40)))
			}
		}
		if len(wrong) > 0 {
			look(
				"Other pages lead to the same file and tell another kind or weight than %s: %s.",
				i.Words(),
				strings.Join(wrong, ", "),
			)
		}
	}
	if n > 0 && len(fs) == 0 {
		fs = append(
			fs,
			Finding{Level: Fine, Say: fmt.Sprintf("Links to files say what they lead to (%d looked at).", n)},
		)
	}
	return fs
}
