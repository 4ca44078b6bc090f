package source

import (
	"bytes"
	"fmt"
	"slices"
	"strings"
	"unicode/utf8"

	"github.com/yuin/goldmark"
	"github.com/yuin/goldmark/ast"
	"github.com/yuin/goldmark/extension"
	east "github.com/yuin/goldmark/extension/ast"
	"github.com/yuin/goldmark/text"
	"github.com/yuin/goldmark/util"
	"golang.org/x/net/html"
	"golang.org/x/net/html/atom"
)

// Formats of pages.
const (
	HTML     = "html"
	Markdown = "markdown"
)

// commonMark reads CommonMark with pipe tables and struck-out text, as most builders of sites do.
var commonMark = goldmark.New(goldmark.WithExtensions(extension.Table, extension.Strikethrough))

// ParseMarkdown reads b as a page in CommonMark with YAML front matter. The tree is the one that its HTML has, without
// head and without white space between blocks; nodes know the bytes of the Markdown that they come from. The error is a
// *Refusal.
func ParseMarkdown(b []byte) (*Doc, error) {
	if len(b) > MaxBytes {
		return nil, tooLarge(b)
	}
	bom := 0
	if bytes.HasPrefix(b, []byte("\xef\xbb\xbf")) {
		bom = 3
	}
	if !utf8.Valid(b) {
		return nil, &Refusal{"The page is not written in UTF-8. Markdown has to be; save it as UTF-8 on the host."}
	}
	marks := 0
	for _, c := range b {
		if c == '[' || c == '*' || c == '_' || c == '`' || c == '<' || c == '|' {
			marks++
		}
	}
	if marks > MaxElements {
		return nil, &Refusal{"The page has more than 100,000 marks of Markdown. It cannot be edited safely."}
	}
	d := &Doc{Bytes: b, Format: Markdown, Encoding: Encoding{Name: "utf-8", utf8: true}, Newline: newline(b), BOM: bom > 0}
	at := d.frontMatter(bom)
	// Offsets stay those of the page: what stands before the text is blanked out, not cut off.
	src := b
	if at > 0 {
		src = append(bytes.Repeat([]byte{'\n'}, at), b[at:]...)
	}
	m := &markdown{d: d, src: src}
	root := commonMark.Parser().Parse(text.NewReader(src))
	tree := &html.Node{Type: html.DocumentNode}
	d.Root = m.d.node(tree, nil)
	body := element("body")
	tree.AppendChild(body)
	n := m.d.node(body, d.Root)
	n.Start, n.InnerStart, n.End, n.InnerEnd, n.Placed = at, at, len(b), len(b), true
	d.Root.End, d.Root.InnerEnd, d.Root.Placed = len(b), len(b), true
	if err := m.blocks(root, n, 0); err != nil {
		return nil, err
	}
	return d, nil
}

func tooLarge(b []byte) error {
	return &Refusal{fmt.Sprintf("The page has %d MB. Mendry edits pages of up to %d MB.", len(b)>>20, MaxBytes>>20)}
}

// frontMatter finds the YAML between two lines of three hyphens at the beginning, and returns where the text begins.
func (d *Doc) frontMatter(from int) int {
	b := d.Bytes[from:]
	line, rest, ok := bytes.Cut(b, []byte("\n"))
	if !ok || string(bytes.TrimRight(line, " \t\r")) != "---" {
		return from
	}
	at := from + len(line) + 1
	d.Front = Span{at, at}
	for len(rest) > 0 {
		line, after, _ := bytes.Cut(rest, []byte("\n"))
		if mark := string(bytes.TrimRight(line, " \t\r")); mark == "---" || mark == "..." {
			d.Front.End = at
			return len(d.Bytes) - len(after)
		}
		at += len(rest) - len(after)
		rest = after
	}
	d.Front = Span{}
	return from
}

// markdown makes the tree of a page.
type markdown struct {
	d   *Doc
	src []byte
}

func element(tag string, attributes ...string) *html.Node {
	n := &html.Node{Type: html.ElementNode, Data: tag, DataAtom: atom.Lookup([]byte(tag))}
	for i := 0; i+1 < len(attributes); i += 2 {
		n.Attr = append(n.Attr, html.Attribute{Key: attributes[i], Val: attributes[i+1]})
	}
	return n
}

// put makes a placed node below parent, in both trees.
func (m *markdown) put(h *html.Node, parent *Node, start, end, innerStart, innerEnd int) *Node {
	parent.HTML.AppendChild(h)
	n := m.d.node(h, parent)
	n.Start, n.End, n.InnerStart, n.InnerEnd = start, end, innerStart, innerEnd
	n.Placed = start >= 0 && start <= innerStart && innerStart <= innerEnd && innerEnd <= end && end <= len(m.src)
	return n
}

const deepest = 100 // nesting of blocks

func (m *markdown) blocks(in ast.Node, to *Node, depth int) error {
	if depth > deepest || len(m.d.Nodes) > 2*MaxElements {
		return &Refusal{"The page is nested too deeply, or too large, to be edited safely."}
	}
	for c := in.FirstChild(); c != nil; c = c.NextSibling() {
		if err := m.block(c, to, depth); err != nil {
			return err
		}
	}
	return nil
}

func (m *markdown) block(c ast.Node, to *Node, depth int) error {
	start := c.Pos()
	switch c := c.(type) {
	case *ast.Heading:
		inner := m.lines(c)
		n := m.put(element(fmt.Sprintf("h%d", c.Level)), to, m.firstSign(start), m.headingEnd(c, inner), inner.Start, inner.End)
		m.inlines(c, n)
	case *ast.Paragraph:
		inner := m.lines(c)
		n := m.put(element("p"), to, inner.Start, inner.End, inner.Start, inner.End)
		m.inlines(c, n)
	case *ast.TextBlock:
		m.inlines(c, to)
	case *ast.List:
		tag, attributes := "ul", []string{}
		if c.IsOrdered() {
			if tag = "ol"; c.Start != 1 {
				attributes = []string{"start", fmt.Sprint(c.Start)}
			}
		}
		n := m.put(element(tag, attributes...), to, start, start, start, start)
		return m.container(c, n, depth)
	case *ast.ListItem:
		n := m.put(element("li"), to, start, start, start, start)
		if err := m.container(c, n, depth); err != nil {
			return err
		}
		if t, ok := c.FirstChild().(*ast.TextBlock); ok {
			inner := m.lines(t)
			if n.InnerStart = inner.Start; c.ChildCount() == 1 {
				n.InnerEnd = inner.End
			}
		}
		return nil
	case *ast.Blockquote:
		n := m.put(element("blockquote"), to, start, start, start, start)
		return m.container(c, n, depth)
	case *ast.ThematicBreak:
		m.put(element("hr"), to, start, m.lineEnd(start), start, start)
	case *ast.FencedCodeBlock, *ast.CodeBlock:
		inner := m.lines(c)
		end := inner.End
		if _, fenced := c.(*ast.FencedCodeBlock); fenced {
			end = m.lineEnd(m.nextLine(max(inner.End, m.lineEnd(start))))
		}
		n := m.put(element("pre"), to, start, end, inner.Start, inner.End)
		m.leaf(html.TextNode, string(c.Lines().Value(m.src)), n, inner)
	case *ast.HTMLBlock:
		inner := m.lines(c)
		if c.HasClosure() {
			inner.End = max(inner.End, m.trimmed(c.ClosureLine).End)
		}
		m.leaf(html.RawNode, string(m.src[inner.Start:inner.End]), to, inner)
	case *east.Table:
		n := m.put(element("table"), to, start, start, start, start)
		return m.container(c, n, depth)
	case *east.TableHeader, *east.TableRow:
		n := m.put(element("tr"), to, start, m.lineEnd(start), start, m.lineEnd(start))
		tag := "td"
		if _, ok := c.(*east.TableHeader); ok {
			tag = "th"
		}
		for cell := c.FirstChild(); cell != nil; cell = cell.NextSibling() {
			inner := m.lines(cell)
			k := m.put(element(tag), n, inner.Start, inner.End, inner.Start, inner.End)
			if cell.Lines().Len() == 0 {
				k.Placed = false // the row has fewer cells than the head
			}
			m.inlines(cell, k)
		}
	case *ast.LinkReferenceDefinition:
	default:
		m.leaf(html.RawNode, string(c.Kind().String()), to, Span{-1, -1})
	}
	return nil
}

// container places a block by the blocks in it.
func (m *markdown) container(c ast.Node, n *Node, depth int) error {
	if err := m.blocks(c, n, depth+1); err != nil {
		return err
	}
	if n.Start < 0 {
		n.Placed = false
		return nil
	}
	end := n.Start
	if n.HTML.Data == "li" || n.HTML.Data == "blockquote" {
		end = min(m.lineEnd(n.Start), n.Start+1) // an empty one is its mark
	}
	for t := c.FirstChild(); t != nil; t = t.NextSibling() {
		if b, ok := t.(*ast.TextBlock); ok {
			end = max(end, m.lines(b).End)
		}
	}
	for _, k := range n.Kids {
		if k.Placed {
			end = max(end, k.End)
		}
	}
	if n.HTML.Data == "table" {
		end = m.tableEnd(n, end)
	}
	n.InnerStart, n.End, n.InnerEnd = n.Start, end, end
	return nil
}

// tableEnd takes in the line of hyphens where a table has a head only.
func (m *markdown) tableEnd(n *Node, end int) int {
	if len(n.Kids) == 1 {
		return m.lineEnd(m.nextLine(end))
	}
	return end
}

func (m *markdown) leaf(kind html.NodeType, data string, to *Node, at Span) {
	n := m.put(&html.Node{Type: kind, Data: data}, to, at.Start, at.End, at.Start, at.End)
	if n.Placed {
		n.Runs = []Span{at}
	}
}

// lines is the range of a block's lines, without the blanks and the line end after the last.
func (m *markdown) lines(c ast.Node) Span {
	ls := c.Lines()
	if ls == nil || ls.Len() == 0 {
		at := min(max(c.Pos(), 0), len(m.src))
		return Span{at, at}
	}
	return Span{ls.At(0).Start, m.trimmed(ls.At(ls.Len() - 1)).End}
}

func (m *markdown) trimmed(s text.Segment) Span {
	end := s.Stop
	for end > s.Start && isSpace(m.src[end-1]) {
		end--
	}
	return Span{s.Start, end}
}

// firstSign passes over blanks.
func (m *markdown) firstSign(at int) int {
	for at >= 0 && at < len(m.src) && (m.src[at] == ' ' || m.src[at] == '\t') {
		at++
	}
	return at
}

func (m *markdown) lineEnd(at int) int {
	at = min(at, len(m.src)) // goldmark places an empty heading at the end behind it
	for at < len(m.src) && m.src[at] != '\n' {
		at++
	}
	if at > 0 && at <= len(m.src) && m.src[at-1] == '\r' {
		at--
	}
	return at
}

func (m *markdown) nextLine(at int) int {
	at = min(at, len(m.src))
	if i := bytes.IndexByte(m.src[at:], '\n'); i >= 0 {
		return at + i + 1
	}
	return len(m.src)
}

// headingEnd is where a heading ends: behind its closing marks, or behind the line below it.
func (m *markdown) headingEnd(c *ast.Heading, inner Span) int {
	if at := max(c.Pos(), 0); at < len(m.src) && m.src[at] == '#' {
		return m.lineEnd(inner.End)
	}
	return m.lineEnd(m.nextLine(inner.End))
}

func (m *markdown) inlines(in ast.Node, to *Node) {
	for c := in.FirstChild(); c != nil; c = c.NextSibling() {
		m.inline(c, to)
	}
}

func (m *markdown) inline(c ast.Node, to *Node) {
	start := c.Pos()
	switch c := c.(type) {
	case *ast.Text:
		m.text(c, to)
	case *ast.String:
		m.leaf(html.TextNode, string(c.Value), to, Span{-1, -1})
	case *ast.CodeSpan:
		n := m.put(element("code"), to, start, start, start, start)
		at := Span{start, start}
		words := ""
		for k := c.FirstChild(); k != nil; k = k.NextSibling() {
			t, ok := k.(*ast.Text)
			if !ok {
				continue
			}
			if words == "" {
				at.Start = t.Segment.Start
			}
			at.End = t.Segment.Stop
			words += strings.ReplaceAll(strings.ReplaceAll(string(t.Segment.Value(m.src)), "\r\n", "\n"), "\n", " ")
		}
		m.leaf(html.TextNode, words, n, at)
		ticks := 0
		for start+ticks < len(m.src) && m.src[start+ticks] == '`' {
			ticks++
		}
		end := at.End
		for end < len(m.src) && m.src[end] != '`' {
			end++
		}
		n.InnerStart, n.InnerEnd, n.End = at.Start, at.End, min(end+ticks, len(m.src))
	case *ast.Emphasis:
		tag := "em"
		if c.Level == 2 {
			tag = "strong"
		}
		m.wrapped(c, element(tag), to, c.Level, "*_")
	case *east.Strikethrough:
		width := 1
		if start >= 0 && bytes.HasPrefix(m.src[start:], []byte("~~")) {
			width = 2
		}
		m.wrapped(c, element("del"), to, width, "~")
	case *ast.Link:
		m.link(c, element("a", linkAttributes("href", c.Destination, c.Title)...), to, 1)
	case *ast.Image:
		h := element("img", linkAttributes("src", c.Destination, c.Title)...)
		h.Attr = slices.Insert(h.Attr, 1, html.Attribute{Key: "alt", Val: plainText(c, m.src)})
		m.link(c, h, to, 2)
	case *ast.AutoLink:
		href := string(c.URL(m.src))
		if c.AutoLinkType == ast.AutoLinkEmail && !strings.HasPrefix(strings.ToLower(href), "mailto:") {
			href = "mailto:" + href
		}
		end := bytes.IndexByte(m.src[start:], '>') + start + 1
		n := m.put(element("a", "href", href), to, start, end, start+1, end-1)
		m.leaf(html.TextNode, string(c.Label(m.src)), n, Span{start + 1, end - 1})
	case *ast.RawHTML:
		at := Span{start, start}
		if n := c.Segments.Len(); n > 0 {
			at = Span{c.Segments.At(0).Start, c.Segments.At(n - 1).Stop}
		}
		m.leaf(html.RawNode, string(m.src[at.Start:at.End]), to, at)
	default:
		m.leaf(html.RawNode, c.Kind().String(), to, Span{-1, -1})
	}
}

// text makes the text node of a run, and what the end of its line becomes.
func (m *markdown) text(c *ast.Text, to *Node) {
	at := Span{c.Segment.Start, c.Segment.Stop}
	raw := c.Segment.Value(m.src)
	data := string(raw)
	if !c.IsRaw() {
		data = unescape(raw)
	}
	if data != "" {
		m.leaf(html.TextNode, data, to, at)
	}
	next := m.nextLine(at.End)
	switch {
	case c.HardLineBreak():
		m.put(element("br"), to, at.End, next, next, next)
	case c.SoftLineBreak():
		m.leaf(html.TextNode, "\n", to, Span{at.End, next})
	}
}

// unescape reads text: backslash escapes and character references (CommonMark 0.31, 2.4 and 2.5).
func unescape(raw []byte) string {
	var b strings.Builder
	for i := 0; i < len(raw); {
		switch {
		case raw[i] == '\\' && i+1 < len(raw) && util.IsPunct(raw[i+1]):
			b.WriteByte(raw[i+1])
			i += 2
		case raw[i] == '&':
			j := bytes.IndexByte(raw[i:], ';')
			if j > 0 && j < 40 {
				ref := raw[i : i+j+1]
				if got := util.ResolveEntityNames(util.ResolveNumericReferences(ref)); !bytes.Equal(got, ref) {
					b.Write(got)
					i += j + 1
					continue
				}
			}
			fallthrough
		default:
			b.WriteByte(raw[i])
			i++
		}
	}
	return b.String()
}

// wrapped places an element whose marks are width signs on either side of its content.
func (m *markdown) wrapped(c ast.Node, h *html.Node, to *Node, width int, marks string) {
	n := m.put(h, to, c.Pos(), c.Pos(), c.Pos(), c.Pos())
	m.inlines(c, n)
	end := n.Start + width
	for _, k := range n.Kids {
		end = max(end, k.End)
	}
	n.InnerStart, n.InnerEnd, n.End = n.Start+width, end, end+width
	n.Placed = n.Start >= 0 && n.End <= len(m.src)
	for i := 0; n.Placed && i < width; i++ {
		n.Placed = strings.IndexByte(marks, m.src[n.Start+i]) >= 0 && strings.IndexByte(marks, m.src[end+i]) >= 0
	}
}

func linkAttributes(name string, destination, title []byte) []string {
	all := []string{name, unescape(destination)}
	if len(title) > 0 {
		all = append(all, "title", unescape(title))
	}
	return all
}

// link places a link or a picture, whose content begins open bytes after its start.
func (m *markdown) link(c ast.Node, h *html.Node, to *Node, open int) {
	start := c.Pos()
	n := m.put(h, to, start, start, start, start)
	end := start + open
	if h.Data == "a" {
		m.inlines(c, n)
		for _, k := range n.Kids {
			end = max(end, k.End)
		}
	} else {
		end = m.closing(end)
	}
	n.InnerStart, n.InnerEnd = start+open, end
	n.Placed = end < len(m.src) && m.src[end] == ']'
	if !n.Placed {
		return
	}
	n.End = m.linkTail(end + 1)
}

// closing finds the bracket that closes the one before at.
func (m *markdown) closing(at int) int {
	depth := 0
	for ; at < len(m.src); at++ {
		switch m.src[at] {
		case '\\':
			at++
		case '[':
			depth++
		case ']':
			if depth == 0 {
				return at
			}
			depth--
		}
	}
	return at
}

// linkTail finds the end of a link whose text ends before at: behind (destination "title"), [label], or at once.
func (m *markdown) linkTail(at int) int {
	if at >= len(m.src) {
		return at
	}
	switch m.src[at] {
	case '[':
		if end := m.closing(at + 1); end < len(m.src) {
			return end + 1
		}
	case '(':
		depth, quote := 0, byte(0)
		for i := at; i < len(m.src); i++ {
			c := m.src[i]
			switch {
			case c == '\\':
				i++
			case quote != 0:
				if c == quote {
					quote = 0
				}
			case c == '"' || c == '\'' && isSpace(m.src[i-1]):
				quote = c
			case c == '<' && depth == 1:
				quote = '>'
			case c == '(':
				depth++
			case c == ')':
				if depth--; depth == 0 {
					return i + 1
				}
			}
		}
	}
	return at
}

// plainText is the text of inlines, as a picture's alternative text.
func plainText(c ast.Node, src []byte) string {
	var b strings.Builder
	for k := c.FirstChild(); k != nil; k = k.NextSibling() {
		switch k := k.(type) {
		case *ast.Text:
			b.WriteString(unescape(k.Segment.Value(src)))
			if k.SoftLineBreak() || k.HardLineBreak() {
				b.WriteByte('\n')
			}
		case *ast.String:
			b.Write(k.Value)
		default:
			b.WriteString(plainText(k, src))
		}
	}
	return b.String()
}
