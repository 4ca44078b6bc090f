package page

import (
	"fmt"
	"path"
	"strings"
	"unicode"

	"mendry/internal/core/source"
)

// Text is what a visitor reads of n: blanks collapsed, a line break where <br> or a block ends a line.
func (p *Page) Text(n *source.Node) string {
	var t textWriter
	t.write(p, n)
	return strings.TrimSpace(t.b.String())
}

type textWriter struct {
	b     strings.Builder
	blank bool
	line  bool
}

func (t *textWriter) write(p *Page, n *source.Node) {
	if n.IsText() {
		for _, r := range p.Doc.Text(n) {
			if unicode.IsSpace(r) && r != '\u00a0' {
				t.blank = true
				continue
			}
			t.gap()
			t.b.WriteRune(r)
		}
		return
	}
	if unseen[n.Tag()] {
		return
	}
	if n.Is("br") {
		t.b.WriteByte('\n')
		t.blank, t.line = false, false
		return
	}
	block := blocks[n.Tag()]
	if block {
		t.line = true
	}
	for _, k := range n.Kids {
		t.write(p, k)
	}
	if block {
		t.line = true
	}
}

// gap writes what stands between the last sign and the next one.
func (t *textWriter) gap() {
	switch {
	case t.line && t.b.Len() > 0:
		t.b.WriteByte('\n')
	case t.blank && t.b.Len() > 0 && !strings.HasSuffix(t.b.String(), "\n"):
		t.b.WriteByte(' ')
	}
	t.blank, t.line = false, false
}

func (p *Page) raw(n *source.Node) string {
	s := ""
	for _, k := range n.Kids {
		if k.IsText() {
			s += p.Doc.Text(k)
		}
	}
	return s
}

func collapse(s string) string { return strings.Join(strings.Fields(s), " ") }

// Short cuts s to about n signs at the end of a word.
func Short(s string, n int) string {
	s = collapse(s)
	rs := []rune(s)
	if len(rs) <= n {
		return s
	}
	cut := string(rs[:n])
	if i := strings.LastIndexByte(cut, ' '); i > n/2 {
		cut = cut[:i]
	}
	return strings.TrimRight(cut, " ,.;:–-") + "…"
}

// name is what a person calls the part.
func (p *Page) name(part *Part) string {
	switch part.Kind {
	case Heading, Link, Button:
		if part.Text != "" {
			return Short(part.Text, 48)
		}
		for _, k := range part.Parts {
			if k.Kind == Picture {
				return p.name(k)
			}
		}
		return first(part.Attributes["aria-label"], part.Attributes["title"], string(part.Kind))
	case Picture:
		return Short(first(part.Attributes["alt"], fileName(part.Attributes["src"]), "picture without a file"), 48)
	case Cell:
		return p.cellName(part)
	case Row:
		return Short(first(rowHead(part), "row"), 48)
	case Words:
		if p.opensPage(part) {
			return "Opening words"
		}
		return "“" + Short(part.Text, 36) + "”"
	}
	return p.wrapperName(part)
}

// wrapperName names a section, table, form and the like by the heading in it.
func (p *Page) wrapperName(part *Part) string {
	switch part.Node.Tag() {
	case "nav":
		return "Menu"
	case "footer":
		if part.Parent == nil || part.Parent.Kind != Section || part.Parent.Node.Is("main") {
			return "Footer"
		}
	case "header":
		if part.Parent == nil {
			return "Page header"
		}
	case "main":
		return "Whole content"
	}
	name := ""
	var look func(*Part)
	look = func(q *Part) {
		for _, k := range q.Parts {
			if name == "" && (k.Kind == Heading || k.Node.Is("caption")) && k.Text != "" {
				name = Short(k.Text, 48)
			}
			look(k)
		}
	}
	look(part)
	if name == "" && part.Kind == Table {
		if h := p.headingBefore(part); h != "" {
			return "Table under “" + Short(h, 32) + "”"
		}
	}
	return first(name, part.Attributes["aria-label"], part.Attributes["title"], quoted(Short(part.Text, 36)), string(part.Kind))
}

func quoted(s string) string {
	if s == "" {
		return ""
	}
	return "“" + s + "”"
}

func (p *Page) headingBefore(part *Part) string {
	h := ""
	for _, q := range p.All {
		if q == part {
			break
		}
		if q.Kind == Heading {
			h = q.Text
		}
	}
	return h
}

// opensPage reports whether part holds the first words after the page's first heading.
func (p *Page) opensPage(part *Part) bool {
	seen := false
	for _, q := range p.All {
		if q.Node.Is("h1") {
			seen = true
		} else if seen && q.Kind == Words {
			return q == part
		}
	}
	return false
}

func cells(row *Part) (cs []*Part) {
	for _, k := range row.Parts {
		if k.Kind == Cell {
			cs = append(cs, k)
		}
	}
	return cs
}

func rowHead(row *Part) string {
	if cs := cells(row); len(cs) > 0 {
		return cs[0].Text
	}
	return ""
}

// cellName names a cell by its row and column: "Adult, Single".
func (p *Page) cellName(cell *Part) string {
	row := cell.Parent
	if row == nil || row.Kind != Row {
		return Short(first(cell.Text, "cell"), 48)
	}
	at := -1
	for i, c := range cells(row) {
		if c == cell {
			at = i
		}
	}
	var head *Part
	if row.Parent != nil && len(row.Parent.Parts) > 0 {
		for _, r := range row.Parent.Parts {
			if r.Kind == Row {
				head = r
				break
			}
		}
	}
	if head == nil || head == row || at == 0 {
		return Short(first(cell.Text, "empty cell"), 48)
	}
	column := ""
	if cs := cells(head); at < len(cs) {
		column = cs[at].Text
	}
	name := Short(rowHead(row), 32)
	if column != "" {
		name += ", " + Short(column, 24)
	}
	return first(name, fmt.Sprintf("cell %d", at+1))
}

func fileName(src string) string {
	if strings.HasPrefix(src, "data:") || src == "" {
		return ""
	}
	if i := strings.IndexAny(src, "?#"); i >= 0 {
		src = src[:i]
	}
	return path.Base(src)
}

func first(ss ...string) string {
	for _, s := range ss {
		if strings.TrimSpace(s) != "" {
			return s
		}
	}
	return ""
}
