package check

import (
	"fmt"
	"regexp"
	"strings"
	"unicode"

	"mendry/internal/core/change"
	"mendry/internal/core/page"
	"mendry/internal/core/text"
)

// codesWhole: no code of another program is lost.
func codesWhole(s *Subject) (fs []Finding) {
	if s.Before == nil {
		return nil
	}
	left := map[string]int{}
	for _, c := range codesOf(s.After) {
		left[c]++
	}
	all := codesOf(s.Before)
	for _, c := range all {
		if left[c]--; left[c] < 0 {
			fs = append(fs, Finding{Level: Stop, Words: c, Say: fmt.Sprintf("The code “%s” is no longer on the page; the program that fills it in would miss it. Undo the change, or move the code instead.", page.Short(c, 60))})
		}
	}
	if len(all) > 0 && len(fs) == 0 {
		fs = append(fs, Finding{Level: Fine, Say: fmt.Sprintf("Codes of other programs are whole (%d looked at).", len(all))})
	}
	return fs
}

func codesOf(p *page.Page) (all []string) {
	for _, part := range p.All {
		if part.Parent == nil || !part.Parent.Kind.HasWords() {
			all = append(all, part.Tokens...)
		}
	}
	return all
}

// fillers are words that hold a place until the real ones come (common practice, no source).
var fillers = regexp.MustCompile(`(?i)lorem ipsum|dolor sit amet|\bconsectetur\b|\b(?:your|sample|placeholder|dummy) (?:text|title|heading|words)\b|\btext goes here\b|\bxxx+\b|\bt\.?b\.?[acd]\b`)

// fillersGone: no words that only hold a place.
func fillersGone(s *Subject) (fs []Finding) {
	for _, p := range s.spoken() {
		found := fillers.FindString(p.Text)
		if p.Text == change.NewWords {
			found = p.Text
		}
		if found != "" {
			fs = append(fs, Finding{Level: Stop, Part: p.ID, Words: found, Say: fmt.Sprintf("“%s” holds a place for words that are still to come.", found)})
		}
	}
	return fs
}

// signsWhole: no characters that a wrong encoding broke.
func signsWhole(s *Subject) (fs []Finding) {
	for _, p := range s.spoken() {
		if repaired, broken := text.Repair(p.Text); broken {
			fs = append(fs, Finding{Level: Stop, Part: p.ID, Words: page.Short(p.Text, 60), Mend: repaired, Say: fmt.Sprintf("These characters were broken by a wrong encoding. Meant is probably “%s”.", page.Short(repaired, 80))})
		} else if strings.ContainsRune(p.Text, unicode.ReplacementChar) {
			fs = append(fs, Finding{Level: Stop, Part: p.ID, Words: page.Short(p.Text, 60), Say: "A character is missing here: “\ufffd” stands in its place. Type it again."})
		}
	}
	return fs
}

var doubled = regexp.MustCompile("[ \u00a0]\u00a0|\u00a0[ \u00a0]|(?i)\\b(the|a|an|of|to|in|and|is|we)\\s+(the|a|an|of|to|in|and|is|we)\\b")

// slips: doubled blanks and little words, words in capitals, and empty paragraphs.
func slips(s *Subject) (fs []Finding) {
	for _, p := range s.spoken() {
		for _, m := range doubled.FindAllStringSubmatch(p.Text, -1) {
			switch {
			case m[1] == "":
				fs = append(fs, Finding{Level: Look, Part: p.ID, Words: page.Short(p.Text, 60), Mend: strings.Join(strings.Fields(p.Text), " "), Say: "Two blanks stand beside each other."})
			case strings.EqualFold(m[1], m[2]):
				fs = append(fs, Finding{Level: Look, Part: p.ID, Words: m[0], Mend: strings.Replace(p.Text, m[0], m[1], 1), Say: fmt.Sprintf("“%s” stands twice.", m[1])})
			}
		}
		if shouted(p.Text) && !wasThere(s.Before, p.Text) {
			fs = append(fs, Finding{Level: Look, Part: p.ID, Words: page.Short(p.Text, 60), Say: "The words are all in capitals. If they are to look like that, the style sheet does it better."})
		}
	}
	if s.Before != nil && emptyParagraphs(s.After) > emptyParagraphs(s.Before) {
		fs = append(fs, Finding{Level: Look, Say: "A paragraph without words was left. Take it out; space is the style sheet's affair."})
	}
	return fs
}

func shouted(s string) bool {
	upper, letters := 0, 0
	for _, r := range s {
		if unicode.IsLetter(r) {
			letters++
			if unicode.IsUpper(r) {
				upper++
			}
		}
	}
	return letters > 12 && upper == letters && len(strings.Fields(s)) > 1
}

func wasThere(p *page.Page, words string) bool {
	if p == nil {
		return false
	}
	for _, q := range p.All {
		if q.Text == words {
			return true
		}
	}
	return false
}

func emptyParagraphs(p *page.Page) (n int) {
	for _, node := range p.Doc.Nodes {
		if node.Is("p") && node.Placed && p.TextOf(node) == "" && len(node.Kids) == 0 {
			n++
		}
	}
	return n
}

// headingsInOrder: one heading of the first level, and no level skipped (WCAG 2.2, technique G141). What was so before
// is not held against the change.
func headingsInOrder(s *Subject) (fs []Finding) {
	faults := headingFaults(s.After)
	old := map[string]bool{}
	if s.Before != nil {
		for _, f := range headingFaults(s.Before) {
			old[f.Say] = true
		}
	}
	for _, f := range faults {
		if !old[f.Say] {
			fs = append(fs, f)
		}
	}
	return fs
}

func headingFaults(p *page.Page) (fs []Finding) {
	first, last := 0, 0
	for _, part := range p.All {
		if part.Kind != page.Heading {
			continue
		}
		level := int(part.Node.Tag()[1] - '0')
		if level == 1 {
			if first++; first == 2 {
				fs = append(fs, Finding{Level: Look, Part: part.ID, Words: part.Text, Say: "There is a second heading of the first level. Make it one of the second."})
			}
		}
		if last > 0 && level > last+1 {
			fs = append(fs, Finding{Level: Look, Part: part.ID, Words: part.Text, Say: fmt.Sprintf("The heading “%s” skips a level: it follows one of level %d and is of level %d.", page.Short(part.Text, 40), last, level)})
		}
		last = level
	}
	return fs
}

// vague are link texts that say nothing on their own (WCAG 2.2, failure F84).
var vague = regexp.MustCompile(`(?i)^(?:click )?(?:here|this|more|link|read more|learn more|go|details)\W*$`)

// linkWords: a link says where it leads.
func linkWords(s *Subject) (fs []Finding) {
	for _, p := range s.parts() {
		if p.Kind == page.Link && vague.MatchString(p.Text) {
			fs = append(fs, Finding{Level: Look, Part: p.ID, Words: p.Text, Say: fmt.Sprintf("A link that says only “%s” tells nobody where it leads. Link the words that name the target.", p.Text)})
		}
	}
	return fs
}
