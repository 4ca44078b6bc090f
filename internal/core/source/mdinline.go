package source

import (
	"bytes"
	"slices"
	"strings"

	"github.com/yuin/goldmark/ast"
	east "github.com/yuin/goldmark/extension/ast"
	"github.com/yuin/goldmark/util"
	"golang.org/x/net/html"
)

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
		n.outer(start, min(end+ticks, len(m.src)))
		n.inner(at.Start, at.End)
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
	end := n.Start() + width
	for _, k := range n.Kids {
		end = max(end, k.End())
	}
	n.outer(n.Start(), end+width)
	n.inner(n.Start()+width, end)
	n.Placed = n.Start() >= 0 && n.End() <= len(m.src)
	for i := 0; n.Placed && i < width; i++ {
		n.Placed = strings.IndexByte(marks, m.src[n.Start()+i]) >= 0 && strings.IndexByte(marks, m.src[end+i]) >= 0
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
			end = max(end, k.End())
		}
	} else {
		end = m.closing(end)
	}
	n.inner(start+open, end)
	n.Placed = end < len(m.src) && m.src[end] == ']'
	if !n.Placed {
		return
	}
	n.outer(start, m.linkTail(end+1))
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
