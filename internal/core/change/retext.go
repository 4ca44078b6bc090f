package change

import (
	"strings"
	"unicode"

	"mendry/internal/core/diff"
	"mendry/internal/core/page"
	"mendry/internal/core/source"

	"golang.org/x/net/html"
)

// sign is one sign of a part's rendered words and the bytes that it comes from.
type sign struct {
	r          rune
	start, end int
}

// Retext writes new words into a part and leaves the markup between them where it is: links, bold and line breaks
// stay around the words that they hold. The words are plain text; a line break in them becomes <br>. It returns the
// part's new inner markup.
func Retext(p *page.Page, part *page.Part, words string) (string, error) {
	if !part.Kind.HasWords() {
		return "", refuse("A %s has no words of its own; change the parts in it.", part.Kind)
	}
	if part.Locked != "" {
		return "", refuse("“%s” is locked. %s", part.Name, part.Locked)
	}
	words = strings.TrimSpace(strings.ReplaceAll(words, "\r\n", "\n"))
	if p.Doc.Format == source.Markdown {
		return retextTree(part, words), nil
	}
	old, err := signs(p, part)
	if err != nil {
		return "", err
	}
	before := make([]rune, len(old))
	for i, s := range old {
		before[i] = s.r
	}
	inner := p.Doc.Bytes[part.InnerStart:part.InnerEnd]
	var edits []source.Edit
	i := 0
	for _, run := range diff.Words(string(before), words) {
		n := len([]rune(run.Text))
		switch run.Is {
		case diff.Same:
			i += n
		case diff.Gone:
			edits = append(edits, cut(old[i:i+n], part.InnerStart)...)
			i += n
		case diff.New:
			raw, err := p.Doc.Encode(plain(run.Text))
			if err != nil {
				return "", refuse("The words cannot be written in %s.", p.Doc.Encoding.Name)
			}
			at := spot(old, i, part) - part.InnerStart
			replaced := false
			if len(edits) > 0 && i > 0 { // what replaces words stands where the first of them stood
				first := firstGone(edits, old, i, part.InnerStart)
				if first >= 0 {
					edits[first].New = raw
					replaced = true
				}
			}
			if !replaced {
				edits = append(edits, source.Edit{Span: source.Span{Start: at, End: at}, New: raw})
			}
		}
	}
	out, _, err := source.Splice(inner, edits)
	if err != nil {
		return "", refuse("The words could not be brought into the markup of “%s”.", part.Name)
	}
	return p.Doc.Markup(out), nil
}

// firstGone finds the first edit of the run of cuts that ends at sign i, or -1.
func firstGone(edits []source.Edit, old []sign, i, base int) int {
	end := old[i-1].end - base
	last := len(edits) - 1
	if edits[last].End != end || edits[last].New != nil {
		return -1
	}
	for last > 0 && edits[last-1].New == nil && onlyMarkup(old, edits[last-1].End+base, edits[last].Start+base) {
		last--
	}
	return last
}

// onlyMarkup reports whether no sign stands between two offsets.
func onlyMarkup(old []sign, from, to int) bool {
	for _, s := range old {
		if s.start >= from && s.end <= to && s.end > s.start {
			return false
		}
	}
	return true
}

// cut gives the edits that take signs out: one for each stretch of bytes that lies together.
func cut(ss []sign, base int) (edits []source.Edit) {
	for _, s := range ss {
		if s.start == s.end {
			continue
		}
		if n := len(edits) - 1; n >= 0 && edits[n].End == s.start-base {
			edits[n].End = s.end - base
			continue
		}
		edits = append(edits, source.Edit{Span: source.Span{Start: s.start - base, End: s.end - base}})
	}
	return edits
}

// spot is the byte offset at which text before sign i is put: right behind the sign before it.
func spot(old []sign, i int, part *page.Part) int {
	switch {
	case len(old) == 0:
		return part.InnerStart
	case i == 0:
		return old[0].start
	}
	return old[i-1].end
}

func plain(s string) string {
	s = EscapeText(s)
	s = strings.ReplaceAll(s, "\u00a0", "&nbsp;")
	return strings.ReplaceAll(s, "\n", "<br>")
}

// signs lists what a visitor reads in a part, sign by sign, with blanks collapsed as page.Page.Text does.
func signs(p *page.Page, part *page.Part) ([]sign, error) {
	w := signWriter{p: p}
	for _, n := range part.Content() {
		w.write(n)
	}
	if w.torn {
		return nil, refuse("The text in it cannot be told apart from the markup around it.")
	}
	ss := w.out
	for len(ss) > 0 && (ss[len(ss)-1].r == ' ' || ss[len(ss)-1].r == '\n') {
		ss = ss[:len(ss)-1]
	}
	for len(ss) > 0 && (ss[0].r == ' ' || ss[0].r == '\n') {
		ss = ss[1:]
	}
	return ss, nil
}

type signWriter struct {
	p    *page.Page
	out  []sign
	gap  *sign
	torn bool
}

func (w *signWriter) write(n *source.Node) {
	switch {
	case n.IsText():
		runs := n.Runs()
		if runs == nil && n.HTML.Data != "" {
			w.torn = true
			return
		}
		for _, r := range runs {
			w.text(r)
		}
	case n.Is("br"):
		w.gap = nil
		w.out = append(w.out, sign{'\n', n.Start(), n.End()})
	case n.Is("script", "style", "template", "svg", "math", "noscript"):
	default:
		for _, k := range n.Kids {
			w.write(k)
		}
	}
}

func (w *signWriter) text(run source.Span) {
	for i := run.Start; i < run.End; {
		j, text := next(w.p.Doc, i, run.End)
		for _, r := range text {
			if unicode.IsSpace(r) && r != '\u00a0' {
				if w.gap == nil {
					w.gap = &sign{' ', i, j}
				} else if w.gap.end == i {
					w.gap.end = j
				}
				continue
			}
			if w.gap != nil && len(w.out) > 0 && w.out[len(w.out)-1].r != '\n' {
				w.out = append(w.out, *w.gap)
			}
			w.gap = nil
			w.out = append(w.out, sign{r, i, j})
			i = j // a reference to two signs: the second has no bytes of its own
		}
		i = j
	}
}

// next reads one sign or character reference at i.
func next(d *source.Doc, i, end int) (int, string) {
	b := d.Bytes
	if b[i] == '&' {
		j := i + 1
		for j < end && j < i+34 && (b[j] == '#' || b[j] >= '0' && b[j] <= '9' || b[j]|0x20 >= 'a' && b[j]|0x20 <= 'z') {
			j++
		}
		if j < end && b[j] == ';' {
			j++
		}
		for k := j; k > i+1; k-- { // the longest prefix that is a reference, as the parser takes it
			if s := html.UnescapeString(string(b[i:k])); !strings.HasPrefix(s, "&") || s == "&" && k > i+1 {
				if len([]rune(s)) <= 2 {
					return k, s
				}
			}
		}
		return i + 1, "&"
	}
	if b[i] < 0x80 {
		return i + 1, string(rune(b[i]))
	}
	j := i + 1
	if d.Encoding.Name == "utf-8" {
		for j < end && j < i+4 && b[j]&0xC0 == 0x80 {
			j++
		}
	}
	s := d.Markup(b[i:j])
	for strings.ContainsRune(s, '\uFFFD') && j < end && j < i+4 { // a sign of several bytes in another encoding
		j++
		s = d.Markup(b[i:j])
	}
	return j, s
}
