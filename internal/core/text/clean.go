package text

import (
	"bytes"
	"regexp"
	"strconv"
	"strings"
	"unicode"

	"golang.org/x/net/html"
	"golang.org/x/net/html/atom"
)

// Allow says what may stay of pasted markup.
type Allow struct {
	Blocks   bool // paragraphs, quotes and lists; otherwise all becomes one run of words with line breaks
	Headings string
	Tables   bool
	Links    bool
	Marks    bool // bold, italic, underlined, struck out, raised, lowered, code
}

// Everything is what the words of a page can hold.
var Everything = Allow{Blocks: true, Headings: "123456", Tables: true, Links: true, Marks: true}

// Inline is what one line of words can hold.
var Inline = Allow{Links: true, Marks: true}

// Dropped is what Clean left out.
type Dropped struct {
	What  string `json:"what"`
	Count int    `json:"count"`
}

// MaxPaste is the largest markup that Clean reads, in bytes.
const MaxPaste = 4 << 20

// Clean reads markup that was pasted from a word processor, a web page or a mail, and writes what of it is words:
// plain HTML without styles, classes and hidden rubbish. It says what it left out.
func Clean(markup string, allow Allow) (string, []Dropped) {
	c := &cleaner{allow: allow, counts: map[string]int{}}
	if len(markup) > MaxPaste {
		c.drop("text past 4 MB")
		markup = strings.ToValidUTF8(markup[:MaxPaste], "")
	}
	root, err := html.Parse(strings.NewReader(markup))
	if err != nil {
		c.drop("markup nested too deeply")
		return html.EscapeString(c.words(markup)), c.dropped()
	}
	out := &html.Node{Type: html.ElementNode, Data: "body", DataAtom: atom.Body}
	c.languages(root)
	c.block(out, root)
	c.withoutQuotes(out)
	c.typedLists(out)
	c.lists(out)
	c.tidy(out)
	var b bytes.Buffer
	if !allow.Blocks {
		out = c.flatten(out)
	}
	for n := out.FirstChild; n != nil; n = n.NextSibling {
		_ = html.Render(&b, n) // a bytes.Buffer never fails
	}
	return plainQuotes(b.String()), c.dropped()
}

// plainQuotes writes quotes in text as they are typed; in attributes they stay references.
func plainQuotes(markup string) string {
	z := html.NewTokenizer(strings.NewReader(markup))
	var b strings.Builder
	for z.Next() != html.ErrorToken {
		raw := string(z.Raw())
		switch {
		case raw == "<br/>":
			raw = "<br>"
		case !strings.HasPrefix(raw, "<"):
			raw = strings.NewReplacer("&#34;", `"`, "&#39;", "'").Replace(raw)
		}
		b.WriteString(raw)
	}
	return b.String()
}

// Plain is the words of pasted markup alone, a line for each block.
func Plain(markup string) (string, []Dropped) {
	clean, dropped := Clean(markup, Inline)
	s := strings.ReplaceAll(clean, "<br>", "\n")
	root, err := html.Parse(strings.NewReader(s))
	if err != nil {
		return html.UnescapeString(s), dropped
	}
	var b strings.Builder
	var walk func(*html.Node)
	walk = func(n *html.Node) {
		if n.Type == html.TextNode {
			b.WriteString(n.Data)
		}
		for k := n.FirstChild; k != nil; k = k.NextSibling {
			walk(k)
		}
	}
	walk(root)
	return b.String(), dropped
}

type cleaner struct {
	allow  Allow
	lang   string // in which most of the fragment is
	order  []string
	counts map[string]int
}

func (c *cleaner) drop(what string) { c.dropN(what, 1) }

func (c *cleaner) dropN(what string, n int) {
	if n == 0 {
		return
	}
	if c.counts[what] == 0 {
		c.order = append(c.order, what)
	}
	c.counts[what] += n
}

func (c *cleaner) dropped() []Dropped {
	ds := []Dropped{}
	for _, what := range c.order {
		ds = append(ds, Dropped{what, c.counts[what]})
	}
	return ds
}

// marks are the elements that say how words look, by the name that is kept.
var marks = map[string]string{
	"b": "strong", "strong": "strong", "i": "em", "em": "em", "cite": "em", "dfn": "em", "u": "u", "ins": "u", "s": "s", "strike": "s", "del": "s",
	"mark": "mark", "sup": "sup", "sub": "sub", "code": "code", "kbd": "code", "tt": "code", "samp": "code",
}

var hidden = map[string]string{
	"script": "script", "style": "style sheet", "head": "", "title": "", "meta": "", "link": "style sheet", "noscript": "script", "template": "",
	"iframe": "frame", "object": "object", "embed": "object", "svg": "drawing", "math": "", "canvas": "", "video": "video", "audio": "sound",
	"form": "", "input": "form field", "select": "form field", "textarea": "form field", "colgroup": "", "col": "",
}

// keptHidden are hidden elements whose words stay.
var keptHidden = map[string]bool{"form": true}

// block cleans n's children into out, which holds blocks; loose words become paragraphs.
func (c *cleaner) block(out, n *html.Node) {
	for k := n.FirstChild; k != nil; k = k.NextSibling {
		c.oneBlock(out, k)
	}
}

func (c *cleaner) oneBlock(out, n *html.Node) {
	if n.Type != html.ElementNode {
		c.inline(c.paragraph(out, n), n)
		return
	}
	tag := n.Data
	if what, ok := hidden[tag]; ok && !keptHidden[tag] {
		if what != "" {
			c.drop(what)
		}
		if tag == "head" {
			c.head(n)
		}
		return
	}
	if what := junk(n); what != "" {
		c.drop(what)
		return
	}
	switch tag {
	case "dl":
		c.attributes(n)
		c.endParagraph(out)
		if !c.allow.Tables { // as with them, what stands beside what would be lost
			c.block(out, n)
			return
		}
		dl := newElement("dl")
		out.AppendChild(dl)
		c.terms(dl, n)
		c.endParagraph(out)
	case "html", "body", "form", "main", "article", "section", "header", "footer", "nav", "aside", "figure", "fieldset", "center", "details", "hgroup":
		c.attributes(n)
		c.endParagraph(out)
		c.block(out, n)
		c.endParagraph(out)
	case "div", "p", "address", "figcaption", "summary", "pre", "dt", "dd", "caption", "legend":
		c.attributes(n)
		c.endParagraph(out)
		if holdsBlocks(n) {
			c.block(out, n)
		} else {
			p := newElement("p")
			p.Attr = listMark(n)
			out.AppendChild(p)
			c.inlines(c.spoken(p, n), n)
		}
		c.endParagraph(out)
	case "h1", "h2", "h3", "h4", "h5", "h6":
		c.attributes(n)
		c.endParagraph(out)
		h := newElement(c.heading(tag))
		out.AppendChild(h)
		c.inlines(c.spoken(h, n), n)
		c.endParagraph(out)
	case "ul", "ol", "menu", "dir":
		c.attributes(n)
		c.endParagraph(out)
		l := newElement("ul")
		if tag == "ol" {
			l = newElement("ol")
		}
		out.AppendChild(l)
		c.items(l, n)
	case "li":
		c.endParagraph(out)
		l := newElement("ul")
		out.AppendChild(l)
		c.item(l, n)
	case "blockquote":
		c.attributes(n)
		c.endParagraph(out)
		q := newElement("blockquote")
		out.AppendChild(q)
		c.block(q, n)
	case "table":
		c.table(out, n)
	case "hr":
		c.endParagraph(out)
		c.drop("rule")
	case "thead", "tbody", "tfoot", "tr", "td", "th":
		c.attributes(n)
		c.endParagraph(out)
		c.block(out, n)
		c.endParagraph(out)
	default:
		if holdsBlocks(n) {
			c.attributes(n)
			c.block(out, n)
			return
		}
		c.inline(c.paragraph(out, n), n)
	}
}

// head counts what a pasted head holds.
func (c *cleaner) head(n *html.Node) {
	for k := n.FirstChild; k != nil; k = k.NextSibling {
		switch {
		case k.Type == html.CommentNode:
			c.comment(k)
		case hidden[k.Data] != "":
			c.drop(hidden[k.Data])
		}
	}
}

func (c *cleaner) comment(n *html.Node) {
	if strings.HasPrefix(n.Data, "[if") || strings.HasPrefix(n.Data, "[endif") {
		c.drop("conditional comment")
		return
	}
	c.drop("comment")
}

func newElement(tag string, as ...html.Attribute) *html.Node {
	return &html.Node{Type: html.ElementNode, Data: tag, DataAtom: atom.Lookup([]byte(tag)), Attr: as}
}

// open marks a paragraph that loose words still go into.
const open = "data-open"

// paragraph is the paragraph that n goes into: the open one at the end of out, or a new one.
func (c *cleaner) paragraph(out, n *html.Node) *html.Node {
	last := out.LastChild
	if last != nil && last.Data == "p" && len(last.Attr) == 1 && last.Attr[0].Key == open {
		return last
	}
	if out.Data == "p" || out.Data == "li" || out.Data == "td" || out.Data == "th" {
		return out
	}
	p := newElement("p", html.Attribute{Key: open})
	if n.Type == html.TextNode && strings.TrimSpace(n.Data) == "" || n.Type == html.CommentNode {
		return &html.Node{Type: html.ElementNode, Data: "p"} // blanks between blocks
	}
	out.AppendChild(p)
	return p
}

func (c *cleaner) endParagraph(out *html.Node) {
	if last := out.LastChild; last != nil && last.Data == "p" && len(last.Attr) == 1 && last.Attr[0].Key == open {
		last.Attr = nil
	}
}

var blockNames = map[string]bool{}

func init() {
	for _, t := range strings.Fields("div p dl h1 h2 h3 h4 h5 h6 ul ol li table tr td th thead tbody tfoot blockquote section article header footer nav aside main figure figcaption form fieldset address pre dl dt dd center hr details summary menu caption") {
		blockNames[t] = true
	}
}

func holdsBlocks(n *html.Node) bool {
	for k := n.FirstChild; k != nil; k = k.NextSibling {
		if k.Type == html.ElementNode && (blockNames[k.Data] || holdsBlocks(k)) {
			return true
		}
	}
	return false
}

// heading is the heading that is allowed in the place of tag.
func (c *cleaner) heading(tag string) string {
	if strings.Contains(c.allow.Headings, tag[1:]) {
		return tag
	}
	for level := int(tag[1] - '0'); level <= 6; level++ {
		if strings.Contains(c.allow.Headings, strconv.Itoa(level)) {
			c.drop("heading of a level that does not fit")
			return "h" + strconv.Itoa(level)
		}
	}
	c.drop("heading")
	return "p"
}

func (c *cleaner) inlines(out, n *html.Node) {
	for k := n.FirstChild; k != nil; k = k.NextSibling {
		c.inline(out, k)
	}
}

func (c *cleaner) inline(out, n *html.Node) {
	switch n.Type {
	case html.TextNode:
		if s := c.words(n.Data); s != "" {
			out.AppendChild(&html.Node{Type: html.TextNode, Data: s})
		}
		return
	case html.CommentNode:
		c.comment(n)
		return
	case html.ElementNode:
	default:
		return
	}
	tag := n.Data
	if what, ok := hidden[tag]; ok && !keptHidden[tag] {
		if what != "" {
			c.drop(what)
		}
		return
	}
	if what := junk(n); what != "" {
		c.drop(what)
		return
	}
	style := c.attributes(n)
	switch tag {
	case "q":
		out.AppendChild(&html.Node{Type: html.TextNode, Data: "“"})
		c.inlines(out, n)
		out.AppendChild(&html.Node{Type: html.TextNode, Data: "”"})
		return
	case "abbr", "acronym":
		if t := attributeOf(n, "title"); t != "" && c.allow.Marks {
			e := newElement("abbr", html.Attribute{Key: "title", Val: c.words(t)})
			out.AppendChild(e)
			out = e
		}
	case "br":
		out.AppendChild(newElement("br"))
		return
	case "img":
		if strings.HasPrefix(attributeOf(n, "src"), "data:") {
			c.drop("embedded picture")
		} else {
			c.drop("picture")
		}
		return
	case "a":
		if href, ok := c.href(attributeOf(n, "href")); ok && c.allow.Links {
			a := newElement("a", html.Attribute{Key: "href", Val: href})
			if t := attributeOf(n, "title"); t != "" {
				a.Attr = append(a.Attr, html.Attribute{Key: "title", Val: c.words(t)})
			}
			out.AppendChild(a)
			out = a
		}
	case "o:p", "font", "span":
		if strings.Contains(tag, ":") {
			c.drop("word processor tag")
		}
	default:
		if strings.Contains(tag, ":") {
			c.drop("word processor tag")
		}
	}
	out = c.spoken(out, n)
	tracked := tag == "ins" && (attributeOf(n, "datetime") != "" || attributeOf(n, "cite") != "")
	if c.allow.Marks && !tracked {
		if m := marks[tag]; m != "" && !(m == "strong" && style.plain) && !(m == "em" && style.upright) {
			e := newElement(m)
			out.AppendChild(e)
			out = e
		}
		for _, m := range style.marks {
			if marks[tag] == m {
				continue
			}
			e := newElement(m)
			out.AppendChild(e)
			out = e
		}
	}
	c.inlines(out, n)
}

var language = regexp.MustCompile(`^[a-zA-Z]{2,3}(?:-[a-zA-Z0-9]{2,8})*$`) // as a page may say it (BCP 47)

func attributeOf(n *html.Node, name string) string {
	for _, a := range n.Attr {
		if a.Key == name {
			return a.Val
		}
	}
	return ""
}

// words cleans running text: signs that cannot be seen go, white space becomes one blank.
func (c *cleaner) words(s string) string {
	var b strings.Builder
	blank := false
	for _, r := range s {
		switch {
		case r == '\u200b' || r == '\u200c' || r == '\u2060' || r == '\ufeff' || r == '\u00ad' || r == '\u200e' || r == '\u200f' || r >= '\u202a' && r <= '\u202e' || r >= '\u2066' && r <= '\u2069':
			c.drop("invisible sign")
			continue
		case r == unicode.ReplacementChar || r < ' ' && r != '\n' && r != '\t' && r != '\r':
			c.drop("broken sign")
			continue
		case unicode.IsSpace(r):
			if !blank {
				b.WriteByte(' ')
			} else if r == '\u00a0' {
				c.drop("non-breaking blank")
			}
			blank = true
			continue
		}
		blank = false
		b.WriteRune(r)
	}
	return b.String()
}
