package text

import (
	"html"
	"regexp"
	"slices"
	"strings"
)

// Words that were set for paper hold signs of two or three letters in one, and are cut at the ends of lines.
var (
	ligatures  = strings.NewReplacer("ﬀ", "ff", "ﬁ", "fi", "ﬂ", "fl", "ﬃ", "ffi", "ﬄ", "ffl", "ﬅ", "ft", "ﬆ", "st") // Unicode, Latin ligatures FB00 to FB06
	ligature   = regexp.MustCompile("[ﬀ-ﬆ]")
	cutAtEnd   = regexp.MustCompile(`(\p{Ll})[-\x{2010}\x{00ad}][ \t]*\n[ \t]*(\p{Ll})`)
	cutAtBreak = regexp.MustCompile(`(?i)(\p{Ll})[-\x{2010}\x{00ad}]\s*<br\s*/?>\s*(\p{Ll})`)
)

// What mail and chat programs put around words (forms from memory, no source, but where one is named).
var (
	headerLine = regexp.MustCompile(`(?i)^[\s>*]*(?:from|von|de|sent|gesendet|envoyé|date|datum|to|an|à|cc|kopie|subject|betreff|objet)\s*:\*?\s`)
	senderLine = regexp.MustCompile(`(?i)^[\s>*]*(?:from|von|de)\s*:\*?\s`)
	headerRun  = regexp.MustCompile(`(?is)^\s*(?:from|von|de)\s*:.{0,200}?(?:sent|gesendet|envoyé|date|datum)\s*:.{0,200}?(?:to|an|à)\s*:`)
	quotedLine = regexp.MustCompile(`^>`) // RFC 3676, 4.5
	quoteSigns = regexp.MustCompile(`^(?:>[ \t]?)+`)
	signature  = regexp.MustCompile(`^--[ \x{00a0}]?$`) // RFC 3676, 4.3
	stamped    = regexp.MustCompile(`(?i)^(?:\[[^\]]{0,12}\b\d{1,2}[:.]\d{2}[^\]]{0,16}\]\s*|\d{1,2}[./]\d{1,2}[./]\d{2,4},?\s+\d{1,2}[:.]\d{2}(?:\s?[ap]m)?\s*[-–]\s*)(\p{Lu}[^:\n]{0,40}:\s)`)
	glued      = regexp.MustCompile(`(\b(?:[01]?\d|2[0-3]):[0-5]\d)(\p{Lu}\p{Ll})`)
	listLine   = regexp.MustCompile(`^\s*(?:[-*•·–]|\d{1,2}[.)])\s+\S`)
)

// CleanPlain is Clean of words that came without markup, as from a PDF, a plain mail, a chat or a sheet: paragraphs are
// set apart by an empty line, a line for each item of a list, and lines of cells between tabs are a table.
func CleanPlain(s string, allow Allow) (string, []Dropped) {
	c := &cleaner{allow: allow, counts: map[string]int{}}
	if len(s) > MaxPaste {
		c.drop("text past 4 MB")
		s = strings.ToValidUTF8(s[:MaxPaste], "")
	}
	s = strings.NewReplacer("\r\n", "\n", "\r", "\n").Replace(s)
	s = c.asSpoken(c.whole(s, cutAtEnd))
	clean, more := Clean(marked(c.ownWords(strings.Split(s, "\n")), allow.Tables), allow)
	for _, d := range more {
		c.dropN(d.What, d.Count)
	}
	return clean, c.dropped()
}

// Unset writes words out that were set for paper: a letter for each letter, and no hyphen where a line of the paper
// ended.
func Unset(markup string) (string, []Dropped) {
	c := &cleaner{counts: map[string]int{}}
	return c.whole(markup, cutAtBreak), c.dropped()
}

func (c *cleaner) whole(s string, cut *regexp.Regexp) string {
	c.dropN("ligature", len(ligature.FindAllString(s, -1)))
	c.dropN("hyphen at the end of a line", len(cut.FindAllString(s, -1)))
	return cut.ReplaceAllString(ligatures.Replace(s), "$1$2")
}

// asSpoken takes the times out that a chat puts before words, and sets those apart that were copied without a blank.
func (c *cleaner) asSpoken(s string) string {
	lines := strings.Split(s, "\n")
	for i, line := range lines {
		if stamped.MatchString(line) {
			c.drop("time of a message")
			lines[i] = stamped.ReplaceAllString(line, "$1")
		}
	}
	return glued.ReplaceAllString(strings.Join(lines, "\n"), "$1 $2")
}

// ownWords are the lines that somebody wrote, without what they answer to and how they sign. Where all of it is quoted,
// that is what was meant.
func (c *cleaner) ownWords(lines []string) (own []string) {
	if !slices.ContainsFunc(lines, func(s string) bool { return strings.TrimSpace(s) != "" && !quotedLine.MatchString(s) }) {
		for i, line := range lines {
			lines[i] = quoteSigns.ReplaceAllString(line, "")
		}
	}
	written := func() bool { return strings.TrimSpace(strings.Join(own, "")) != "" }
	for i, line := range lines {
		switch {
		case quoteBegins.MatchString(line) && written(), senderLine.MatchString(line) && headers(lines[i:]) >= 3 && written():
			c.drop("quoted mail")
			return own
		case signature.MatchString(line) && written():
			c.drop("signature")
			return own
		case quotedLine.MatchString(line):
			if i == 0 || !quotedLine.MatchString(lines[i-1]) {
				c.drop("quoted mail")
			}
		default:
			own = append(own, line)
		}
	}
	return own
}

// headers counts the lines at the beginning that say of a mail whence it came.
func headers(lines []string) (n int) {
	for _, line := range lines[:min(len(lines), 6)] {
		if !headerLine.MatchString(line) {
			return n
		}
		n++
	}
	return n
}

// marked is markup for lines of words.
func marked(lines []string, tables bool) string {
	var b strings.Builder
	inside := false
	end := func() {
		if inside {
			b.WriteString("</p>")
		}
		inside = false
	}
	for i := 0; i < len(lines); i++ {
		line := strings.TrimRight(lines[i], " \u00a0")
		if n := sheet(lines[i:]); n > 1 && tables {
			end()
			b.WriteString("<table>")
			for _, row := range lines[i : i+n] {
				b.WriteString("<tr>")
				for cell := range strings.SplitSeq(row, "\t") {
					b.WriteString("<td>" + html.EscapeString(strings.TrimSpace(cell)) + "</td>")
				}
				b.WriteString("</tr>")
			}
			b.WriteString("</table>")
			i += n - 1
			continue
		}
		switch {
		case strings.TrimSpace(line) == "":
			end()
			continue
		case listLine.MatchString(line):
			end()
		}
		if inside {
			b.WriteString("<br>")
		} else {
			b.WriteString("<p>")
		}
		inside = true
		b.WriteString(html.EscapeString(line))
	}
	end()
	return b.String()
}

// sheet is how many lines at the beginning are rows of one table: as many tabs in each.
func sheet(lines []string) (n int) {
	tabs := strings.Count(lines[0], "\t")
	for n < len(lines) && tabs > 0 && strings.Count(lines[n], "\t") == tabs && strings.TrimSpace(lines[n]) != "" {
		n++
	}
	return n
}
