package change

import (
	"fmt"
	"strings"

	"golang.org/x/net/html"

	"mendry/internal/core/page"
)

// mdWriter writes trees as CommonMark, with the marks that the page uses already.
type mdWriter struct {
	em, strong, bullet, hard string
	prefix                   string // of lines after the first
	oneLine                  bool   // in a heading or a cell
	cell                     bool
	careful                  bool // every sign that could mean something is escaped
	// mark is that of the nth item that is put among others; nil where items make a list of their own.
	mark func(n int) string
}

// writer makes a writer for a part, with the marks that stand most often on the page.
func (w *work) writer(part *page.Part) *mdWriter {
	d := w.p.Doc
	m := &mdWriter{em: "*", strong: "**", bullet: "-", hard: "  \n", prefix: linePrefix(d, part.InnerStart)}
	m.cell = part.Node.Is("td", "th")
	m.oneLine = m.cell || part.Node.Is("h1", "h2", "h3", "h4", "h5", "h6")
	counts := map[string]int{}
	for _, n := range d.Nodes {
		if !n.Placed {
			continue
		}
		switch n.Tag() {
		case "em", "strong", "li", "br":
			counts[n.Tag()+string(d.Bytes[n.Start()])]++
		}
	}
	if counts["em_"] > counts["em*"] {
		m.em = "_"
	}
	if counts["strong_"] > counts["strong*"] {
		m.strong = "__"
	}
	for _, b := range []string{"*", "+"} {
		if counts["li"+b] > counts["li"+m.bullet] {
			m.bullet = b
		}
	}
	if counts[`br\`] > counts["br "] {
		m.hard = "\\\n"
	}
	return m
}

func (m *mdWriter) inlines(ns []*html.Node) (string, error) {
	var b strings.Builder
	for i, n := range ns {
		s, err := m.inline(n, b.Len() == 0 || strings.HasSuffix(b.String(), "\n"))
		if err != nil {
			return "", err
		}
		if i > 0 && n.Type == html.TextNode && !m.careful && strings.HasSuffix(b.String(), "!") && strings.HasPrefix(s, "[") {
			s = `\` + s
		}
		b.WriteString(s)
	}
	return b.String(), nil
}

func kidsOf(n *html.Node) (ks []*html.Node) {
	for c := n.FirstChild; c != nil; c = c.NextSibling {
		ks = append(ks, c)
	}
	return ks
}

func (m *mdWriter) inline(n *html.Node, lineStart bool) (string, error) {
	if n.Type == html.TextNode {
		return m.text(n.Data, lineStart), nil
	}
	if n.Data == "code" {
		return codeSpan(plainOf(kidsOf(n)))
	}
	inner, err := m.inlines(kidsOf(n))
	if err != nil {
		return "", err
	}
	switch n.Data {
	case "strong":
		return m.strong + inner + m.strong, nil
	case "em":
		return m.em + inner + m.em, nil
	case "del":
		return "~~" + inner + "~~", nil
	case "br":
		if m.oneLine {
			return "", refuse("A heading or a cell of a table has one line in Markdown.")
		}
		return m.hard, nil
	case "a":
		return "[" + inner + "]" + m.target(n), nil
	case "img":
		return "![" + m.escape(*attributeOf(n, "alt")) + "]" + m.target(n), nil
	}
	return "", refuse("Markdown has no <%s>.", n.Data)
}

// codeSpan writes code between more backticks than it holds (CommonMark 0.31, 6.1).
func codeSpan(s string) (string, error) {
	ticks := "`"
	for strings.Contains(s, ticks) {
		ticks += "`"
	}
	if strings.HasPrefix(s, "`") || strings.HasSuffix(s, "`") || strings.HasPrefix(s, " ") && strings.HasSuffix(s, " ") && strings.TrimSpace(s) != "" {
		s = " " + s + " "
	}
	return ticks + s + ticks, nil
}

// target writes the address and title of a link or picture.
func (m *mdWriter) target(n *html.Node) string {
	to := attributeOf(n, "href")
	if to == nil {
		to = attributeOf(n, "src")
	}
	address := ""
	if to != nil {
		address = strings.NewReplacer("\n", "", "\\", `\\`, "&", "&amp;", "|", "%7C").Replace(*to)
		if !strings.Contains(*to, ";") {
			address = strings.ReplaceAll(address, "&amp;", "&")
		}
	}
	if address == "" || strings.ContainsAny(address, " \t<>") || strings.Count(address, "(") != strings.Count(address, ")") || strings.HasPrefix(address, "<") {
		address = "<" + strings.NewReplacer("<", `\<`, ">", `\>`).Replace(address) + ">"
	}
	title := ""
	if t := attributeOf(n, "title"); t != nil && *t != "" {
		title = ` "` + strings.NewReplacer(`\`, `\\`, `"`, `\"`, "&", "&amp;", "\n", " ").Replace(*t) + `"`
	}
	return "(" + address + title + ")"
}

// text writes running text; what could be read as a mark is escaped.
func (m *mdWriter) text(s string, lineStart bool) string {
	if m.careful {
		s = m.escape(s)
	} else {
		s = strings.NewReplacer(`\`, `\\`, "`", "\\`", "*", `\*`, "<", `\<`).Replace(s)
		if strings.Contains(s, "&") && html.UnescapeString(s) != s {
			s = strings.ReplaceAll(s, "&", "&amp;")
		}
	}
	if m.cell {
		s = strings.ReplaceAll(s, "|", `\|`)
	}
	lines := strings.Split(s, "\n")
	for i, line := range lines {
		if i > 0 || lineStart {
			lines[i] = lineEscape(line)
		}
	}
	return strings.Join(lines, "\n")
}

// escape escapes every sign that could begin or end a mark.
func (m *mdWriter) escape(s string) string {
	s = strings.NewReplacer(`\`, `\\`, "`", "\\`", "*", `\*`, "_", `\_`, "[", `\[`, "]", `\]`, "<", `\<`, "~", `\~`, "!", `\!`).Replace(s)
	if html.UnescapeString(s) != s {
		s = strings.ReplaceAll(s, "&", "&amp;")
	}
	return s
}

// lineEscape keeps a line of text from being read as a heading, list, quote or rule.
func lineEscape(line string) string {
	if line == "" {
		return line
	}
	switch line[0] {
	case '#', '>', '=', '|', '~':
		return `\` + line
	case '+', '-':
		if len(line) == 1 || line[1] == ' ' || line[1] == '\t' || strings.Trim(line, "- ") == "" {
			return `\` + line
		}
	case '_':
		if strings.Trim(line, "_ ") == "" {
			return `\` + line
		}
	}
	digits := 0
	for digits < len(line) && digits < 10 && line[digits] >= '0' && line[digits] <= '9' {
		digits++
	}
	if digits > 0 && digits < len(line) && (line[digits] == '.' || line[digits] == ')') && (digits+1 == len(line) || line[digits+1] == ' ') {
		return line[:digits] + `\` + line[digits:]
	}
	return line
}

// normalBlocks rewrites blocks as Markdown would make them.
func normalBlocks(ns []*html.Node) (out []*html.Node, err error) {
	var loose []*html.Node
	flush := func() error {
		kids, err := normalInline(loose)
		loose = nil
		if kids = tidy(kids, false); err == nil && (plainOf(kids) != "" || len(kids) > 0 && kids[0].Data == "img") {
			p := &html.Node{Type: html.ElementNode, Data: "p"}
			for _, k := range kids {
				p.AppendChild(k)
			}
			out = append(out, p)
		}
		return err
	}
	for _, n := range ns {
		if n.Type != html.ElementNode || !mdBlocks[n.Data] {
			loose = append(loose, n)
			continue
		}
		if err := flush(); err != nil {
			return nil, err
		}
		made, err := normalBlock(n)
		if err != nil {
			return nil, err
		}
		out = append(out, made...)
	}
	return out, flush()
}

var mdBlocks = map[string]bool{
	"p": true, "h1": true, "h2": true, "h3": true, "h4": true, "h5": true, "h6": true, "ul": true, "ol": true, "li": true,
	"blockquote": true, "hr": true, "div": true, "section": true, "article": true, "figure": true, "table": true, "pre": true, "header": true,
}

func normalBlock(n *html.Node) ([]*html.Node, error) {
	e := &html.Node{Type: html.ElementNode, Data: n.Data}
	var kids []*html.Node
	var err error
	switch n.Data {
	case "div", "section", "article", "figure", "header":
		return normalBlocks(kidsOf(n))
	case "table":
		return normalTable(n)
	case "pre":
		return nil, refuse("A <%s> cannot be put into a Markdown page yet. Copy one that is there.", n.Data)
	case "hr":
		return []*html.Node{e}, nil
	case "ul", "ol", "blockquote":
		kids, err = normalBlocks(elements(n, n.Data != "blockquote"))
	case "li":
		kids, err = normalBlocks(kidsOf(n))
		if err == nil && len(kids) > 0 && kids[0].Data == "p" { // a tight item has no paragraph
			kids = append(detach(kids[0]), kids[1:]...)
		}
	default:
		if kids, err = normalInline(kidsOf(n)); err == nil {
			kids = tidy(kids, n.Data != "p")
		}
		if len(kids) == 0 {
			return nil, err
		}
	}
	for _, k := range kids {
		e.AppendChild(k)
	}
	return []*html.Node{e}, err
}

func detach(n *html.Node) (ks []*html.Node) {
	for n.FirstChild != nil {
		k := n.FirstChild
		n.RemoveChild(k)
		ks = append(ks, k)
	}
	return ks
}

func elements(n *html.Node, only bool) (ks []*html.Node) {
	for _, k := range kidsOf(n) {
		if k.Type == html.ElementNode || !only {
			ks = append(ks, k)
		}
	}
	return ks
}

// blocks writes blocks, with a blank line between them where apart says so.
func (m *mdWriter) blocks(ns []*html.Node, apart bool) (string, error) {
	var all []string
	for i, n := range ns {
		s, err := m.block(n, i)
		if err != nil {
			return "", err
		}
		all = append(all, s)
	}
	if apart {
		return strings.Join(all, "\n\n"), nil
	}
	return strings.Join(all, "\n"), nil
}

func (m *mdWriter) block(n *html.Node, index int) (string, error) {
	switch n.Data {
	case "hr":
		return "---", nil
	case "h1", "h2", "h3", "h4", "h5", "h6":
		line := *m
		line.oneLine = true
		s, err := line.inlines(kidsOf(n))
		return strings.Repeat("#", int(n.Data[1]-'0')) + " " + s, err
	case "ul", "ol":
		var items []string
		for i, k := range kidsOf(n) {
			mark := m.bullet
			if n.Data == "ol" {
				mark = fmt.Sprintf("%d.", i+1)
			}
			s, err := m.itemOf(k, mark)
			if err != nil {
				return "", err
			}
			items = append(items, s)
		}
		return strings.Join(items, "\n"), nil
	case "li":
		if m.mark != nil {
			return m.itemOf(n, m.mark(index))
		}
		return m.itemOf(n, m.bullet)
	case "table":
		return m.table(n)
	case "blockquote":
		s, err := m.blocks(kidsOf(n), true)
		return "> " + strings.ReplaceAll(strings.ReplaceAll(s, "\n", "\n> "), "\n> \n", "\n>\n"), err
	}
	return m.inlines(kidsOf(n))
}

// itemOf writes an item of a list: its words, and the lists in it.
func (m *mdWriter) itemOf(li *html.Node, mark string) (string, error) {
	var words, blocks []*html.Node
	for _, k := range kidsOf(li) {
		if k.Type == html.ElementNode && mdBlocks[k.Data] {
			blocks = append(blocks, k)
		} else {
			words = append(words, k)
		}
	}
	s, err := m.inlines(words)
	if err != nil {
		return "", err
	}
	for _, b := range blocks {
		inner, err := m.block(b, 0)
		if err != nil {
			return "", err
		}
		s += "\n" + inner
	}
	return mark + " " + strings.ReplaceAll(s, "\n", "\n"+strings.Repeat(" ", len(mark)+1)), nil
}
