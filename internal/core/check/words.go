package check

import (
	"fmt"
	"html"
	"regexp"
	"slices"
	"strings"
	"unicode"
	"unicode/utf8"

	"mendry/internal/core/change"
	"mendry/internal/core/page"
	"mendry/internal/core/source"
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

var (
	openCode = regexp.MustCompile(`\[/?[a-z][a-z0-9_-]*(?:\s+[a-z_-]+=(?:"[^"\[\]]*"?|'[^'\[\]]*'?))+\s*(?:$|[^\]\s/"'])|\[/[a-z][a-z0-9_-]*\s*(?:$|[^\]a-z0-9_\s-])`)
	openMark = regexp.MustCompile(`\{\{[^{}]*\}?(?:[^}]|$)|\{%[^%}]*(?:[^%]\}|$)|(?:^|[^{])\{[^{}]*\}\}`)
)

// codesClosed: the brackets of codes of other programs are whole.
func codesClosed(s *Subject) (fs []Finding) {
	for _, p := range s.spoken() {
		words := s.plain(p)
		found := openCode.FindString(words)
		if found == "" {
			found = openMark.FindString(words)
		}
		if found != "" {
			fs = append(fs, Finding{Level: Stop, Part: p.ID, Words: page.Short(found, 60),
				Say: fmt.Sprintf("The brackets of “%s” are broken: visitors would read the code itself. Take the wording from before, or set the bracket right.", page.Short(strings.TrimSpace(found), 60))})
		}
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
var fillers = regexp.MustCompile(`(?i)lorem ipsum|dolor sit amet|\bconsectetur\b|\b(?:your|sample|placeholder|dummy) (?:text|title|heading|words)\b|` +
	`\b(?:text|content|copy) goes here\b|\bxxx+\b|\bt\.?b\.?[acd]\b|\bto ?do\b:|\bTODO\b|\bFIXME\b|[\[<(]\s*(?:insert|add|your|enter|put|date|name|price|tbc)\b[^\])>]{0,60}[\])>]|` +
	`\[\s*(?:\.{3}|…|\?+)\s*\]|\?{3,}|[£€$]\s?x+(?:[.,]x+)?\b|\bx+[.,]xx\s?[£€$]|%(?:[A-Z]+[_-])?(?:(?:FIRST|LAST|FULL|USER|SUR|VOR|NACH)?[_-]?NAME|E?MAIL|DATE|CITY|TOWN|COMPANY|PHONE|PRICE|TITLE|ADDRESS)%|\*\|[A-Z_]{2,}\|\*|` +
	`\b(?:0?1234[ -]?567[ -]?890|0?123[ -]?456[ -]?7890?)\b|\b(?:name|you|email)@(?:example|domain|yourdomain|company)\.com\b|` +
	`\b(?:(?:text|bild|inhalt) folgt|blindtext|mustertext|platzhalter|texte (?:à venir|ici))(?:\s*$|[^\pL])|à compléter(?:\s*$|[^\pL])`)

// fillersGone: no words that only hold a place.
func fillersGone(s *Subject) (fs []Finding) {
	for _, p := range s.spoken() {
		found := fillers.FindString(s.plain(p))
		if prompt := promptIn(p); prompt != "" {
			found = prompt
		}
		if found != "" {
			fs = append(fs, Finding{Level: Stop, Part: p.ID, Words: found, Say: fmt.Sprintf("“%s” holds a place for words that are still to come.", found)})
		}
	}
	return fs
}

// promptIn is a prompt that a part says, or a link in it, or what stands beside that; empty where there is none.
func promptIn(p *page.Part) string {
	rest := p.Text
	for _, k := range p.Parts {
		if prompt := change.Prompt(k.Text); prompt != "" {
			return prompt
		}
		rest = strings.Replace(rest, k.Text, "", 1)
	}
	return change.Prompt(rest)
}

// picturesFilled: no drawing stands where a picture is still to come.
func picturesFilled(s *Subject) (fs []Finding) {
	for _, p := range s.parts() {
		if p.Kind == page.Picture && page.IsToCome(page.PictureAddress(p)) {
			fs = append(fs, Finding{Level: Stop, Part: p.ID, Words: p.Name, Say: "A picture is still to come here. Choose one, or take the item out."})
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

var (
	twoBlanks = regexp.MustCompile("[ \u00a0]\u00a0|\u00a0[ \u00a0]")
	// Blanks before a comma or a full stop; before other stops French and others have one.
	blankStop = regexp.MustCompile(`[\pL\d)”"’'][ \x{a0}]+([,.;:!?])(?:\s|$)`)
	twoStops  = regexp.MustCompile(`[^,.;:][,;:]{2,}|[^.]\.\.(?:[^.]|$)|,\.|\.,\s`)
	rawEntity = regexp.MustCompile(`&(?:amp|nbsp|quot|lt|gt|apos|copy|pound|euro|[mn]dash|[lr][sd]quo|hellip|[aeiouAEIOU](?:acute|grave|circ|uml)|[nN]tilde|[cC]cedil|szlig|#\d{2,5}|#x[0-9a-fA-F]{2,5});`)
	// Days and months that are shortened by a point, before a comma.
	shortened = regexp.MustCompile(`(?i)\b(?:mo|di|mi|do|fr|sa|so|mon|tues?|wed|thurs?|fri|sat|sun|lun|mar|mer|jeu|ven|sam|dim|jan|feb|mär|apr|jun|jul|aug|sept?|o[ck]t|nov|de[cz]|janv|févr|avr|juil|déc)\.,\s*$`)
	// A letter in the place of a digit: in an amount, or in a time.
	letterDigit = regexp.MustCompile(`[£€$¥] ?\d*[OoIl]\d[\d.,]*\b|[£€$¥] ?\d[\d.,]*(?:[OoIl][\d.,]*\d|O)\b|\b\d+[.,]\d?O ?[£€]|\b\d[OoIl]:\d\d\b|\b\d\d?:(?:[OoIl]\d|\d[OoIl])\b`)
	// A mail address with a comma or two points in its domain.
	mailSlip   = regexp.MustCompile(`\b[\w.+-]+@[\w-]+(?:\.[\w-]+)*(?:,|\.\.)[a-z]{2,}\b`)
	mayBeTwice = map[string]bool{"had": true, "that": true, "bye": true, "ha": true, "very": true, "so": true, "no": true, "yes": true, "knock": true,
		"there": true, "now": true, "blah": true, "tut": true, "hear": true, "well": true, "die": true, "der": true, "das": true, "sie": true, "nous": true, "vous": true}
)

// slips: doubled blanks and words, blanks before stops, characters written for machines, words in capitals.
func slips(s *Subject) (fs []Finding) {
	lang := strings.ToLower(s.After.Facts.Lang)
	for _, p := range s.spoken() {
		words := s.plain(p)
		add := func(found, mend, say string) {
			if words != p.Text {
				mend = "" // codes stand in it
			}
			fs = append(fs, Finding{Level: Look, Part: p.ID, Words: found, Mend: mend, Say: say})
		}
		if twoBlanks.MatchString(words) {
			add(page.Short(words, 60), strings.Join(strings.Fields(words), " "), "Two blanks stand beside each other.")
		}
		for _, at := range twice(words) {
			one := words[at[0]:at[1]]
			add(words[at[0]:at[2]], words[:at[1]]+words[at[2]:], fmt.Sprintf("“%s” stands twice.", one))
		}
		for _, m := range blankStop.FindAllStringSubmatchIndex(words, -1) {
			stop := words[m[2]:m[3]]
			if stop != "," && stop != "." && strings.HasPrefix(lang, "fr") || strings.HasPrefix(words[m[2]:], "...") {
				continue
			}
			end := strings.TrimRight(words[:m[2]], " \u00a0")
			add(around(words, m[0], m[3]), end+words[m[2]:], fmt.Sprintf("A blank stands before “%s”.", stop))
		}
		if found := mailSlip.FindString(words); found != "" {
			fs = append(fs, Finding{Level: Stop, Part: p.ID, Words: found, Say: fmt.Sprintf("“%s” is no mail address: a comma or a point stands in it that is none of it.", found)})
		} else if m := twoStops.FindStringIndex(words); m != nil && !shortened.MatchString(words[:m[1]]) {
			add(around(words, m[0], m[1]), "", "Two stops stand beside each other.")
		}
		if found := letterDigit.FindString(words); found != "" {
			fs = append(fs, Finding{Level: Stop, Part: p.ID, Words: found, Say: fmt.Sprintf("“%s” has a letter in the place of a digit. Type the number again.", found)})
		}
		if found := rawEntity.FindString(words); found != "" {
			fs = append(fs, Finding{Level: Stop, Part: p.ID, Words: found, Mend: html.UnescapeString(p.Text),
				Say: fmt.Sprintf("“%s” is shown as it is written here: it was written for machines twice. Meant is “%s”.", found, html.UnescapeString(found))})
		}
		if shouted(p.Text) && !wasThere(s.Before, p.Text) {
			add(page.Short(p.Text, 60), "", "The words are all in capitals. If they are to look like that, the style sheet does it better.")
		}
	}
	return fs
}

// plain are the words of a part without the codes of other programs.
func (s *Subject) plain(p *page.Part) string {
	words := p.Text
	for _, c := range p.Tokens {
		words = strings.Replace(words, c, " ", 1)
	}
	return words
}

// around are the words around a slip.
func around(s string, start, end int) string {
	if i := strings.LastIndexAny(s[:start], " \n"); i >= 0 {
		start = i + 1
	} else {
		start = 0
	}
	return strings.TrimSpace(s[start:end])
}

// twice finds words that stand twice in a row: where the first begins and ends and the second ends.
func twice(s string) (found [][3]int) {
	ws := wordish.FindAllStringIndex(s, -1)
	for i := 1; i < len(ws); i++ {
		a, b := s[ws[i-1][0]:ws[i-1][1]], s[ws[i][0]:ws[i][1]]
		gap := s[ws[i-1][1]:ws[i][0]]
		if gap == "" || strings.TrimLeft(gap, " \n\u00a0") != "" || strings.Contains(gap, "\n") || !strings.EqualFold(a, b) || mayBeTwice[strings.ToLower(a)] {
			continue
		}
		if first, _ := utf8.DecodeRuneInString(b); unicode.IsUpper(first) && a == b {
			continue // a name, like Baden Baden
		}
		found = append(found, [3]int{ws[i-1][0], ws[i-1][1], ws[i][1]})
	}
	return found
}

var wordish = regexp.MustCompile(`\pL[\pL\pM’']*`)

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
	if p.Doc.Format != source.Markdown && len(p.OfKind(page.Heading)) > 0 && !slices.ContainsFunc(p.OfKind(page.Heading), func(h *page.Part) bool { return h.Node.Is("h1") }) {
		fs = append(fs, Finding{Level: Look, Say: "No heading of the first level stands on the page: it says what the page is about."})
	}
	for _, part := range p.All {
		if part.Kind != page.Heading {
			continue
		}
		level := page.Level(part.Node)
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
