package source

import (
	"bytes"
	"fmt"
	"unicode/utf8"

	"mendry/internal/core/refusal"

	"github.com/yuin/goldmark"
	"github.com/yuin/goldmark/ast"
	"github.com/yuin/goldmark/extension"
	east "github.com/yuin/goldmark/extension/ast"
	"github.com/yuin/goldmark/text"
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
// head and without white space between blocks; nodes know the bytes of the Markdown that they come from. The error is
// a *refusal.Refusal.
func ParseMarkdown(b []byte) (*Doc, error) {
	if len(b) > MaxBytes {
		return nil, tooLarge(b)
	}
	bom := 0
	if bytes.HasPrefix(b, []byte("\xef\xbb\xbf")) {
		bom = 3
	}
	if !utf8.Valid(b) {
		return nil, refusal.New(refusal.Rule, "The page is not written in UTF-8. Markdown has to be; save it as UTF-8 on the host.")
	}
	marks := 0
	for _, c := range b {
		if c == '[' || c == '*' || c == '_' || c == '`' || c == '<' || c == '|' {
			marks++
		}
	}
	if marks > MaxElements {
		return nil, refusal.New(refusal.Rule, "The page has more than 100,000 marks of Markdown. It cannot be edited safely.")
	}
	d := &Doc{Bytes: b, Format: Markdown, Encoding: Encoding{Name: "utf-8", utf8: true}, Newline: newline(b), BOM: bom > 0}
	at := d.frontMatter(bom)
	d.readFront()
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
	n.outer(at, len(b))
	n.inner(at, len(b))
	d.Root.outer(0, len(b))
	d.Root.inner(0, len(b))
	n.Placed, d.Root.Placed = true, true
	if err := m.blocks(root, n, 0); err != nil {
		return nil, err
	}
	return d, nil
}

func tooLarge(b []byte) error {
	return refusal.New(refusal.Rule, "The page has %d MB. Mendry edits pages of up to %d MB.", len(b)>>20, MaxBytes>>20)
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
	n.outer(start, end)
	n.inner(innerStart, innerEnd)
	n.Placed = start >= 0 && start <= innerStart && innerStart <= innerEnd && innerEnd <= end && end <= len(m.src)
	return n
}

const deepest = 100 // nesting of blocks

func (m *markdown) blocks(in ast.Node, to *Node, depth int) error {
	if depth > deepest || len(m.d.Nodes) > 2*MaxElements {
		return refusal.New(refusal.Rule, "The page is nested too deeply, or too large, to be edited safely.")
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
			if n.innerStart = int32(inner.Start); c.ChildCount() == 1 {
				n.innerEnd = int32(inner.End)
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
	if n.Start() < 0 {
		n.Placed = false
		return nil
	}
	end := n.Start()
	if n.HTML.Data == "li" || n.HTML.Data == "blockquote" {
		end = min(m.lineEnd(n.Start()), n.Start()+1) // an empty one is its mark
	}
	for t := c.FirstChild(); t != nil; t = t.NextSibling() {
		if b, ok := t.(*ast.TextBlock); ok {
			end = max(end, m.lines(b).End)
		}
	}
	for _, k := range n.Kids {
		if k.Placed {
			end = max(end, k.End())
		}
	}
	if n.HTML.Data == "table" {
		end = m.tableEnd(n, end)
	}
	n.outer(n.Start(), end)
	n.inner(n.Start(), end)
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
	m.put(&html.Node{Type: kind, Data: data}, to, at.Start, at.End, at.Start, at.End)
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
