package page

import (
	"regexp"
	"strings"

	"golang.org/x/net/html"

	"mendry/internal/core/source"
)

const rawNode = html.RawNode

// inStyle finds the address of a picture in a style attribute (CSS Values 4, 4.5), without its quotes.
var inStyle = regexp.MustCompile(`(?i)background(?:-image)?\s*:[^;]*?url\(\s*(?:"([^"]*)"|'([^']*)'|([^)"'\s]+))\s*\)`)

var asQuotes = strings.NewReplacer("&quot;", `"     `, "&#34;", `"    `, "&apos;", "'     ", "&#39;", "'    ")

// backgrounds takes in the background picture that n's style attribute names.
func (p *Page) backgrounds(n *source.Node, parent *Part) {
	style := ""
	for _, a := range n.HTML.Attr {
		if a.Key == "style" {
			style = a.Val
		}
	}
	if style == "" || !n.Placed || !strings.Contains(style, "url(") {
		return
	}
	at := p.backgroundIn(n)
	if at.End == 0 {
		return
	}
	part := p.newPart()
	part.Kind, part.Node, part.Background = Picture, n, true
	part.Attributes = Attributes{{Key: "src", Val: p.Doc.Decode(p.Doc.Bytes[at.Start:at.End])}}
	p.add(part, parent)
}

// backgroundIn is where the address of a picture stands in n's style attribute; nowhere is empty.
func (p *Page) backgroundIn(n *source.Node) (at source.Span) {
	a, ok := p.Doc.Attribute(n, "style")
	if !ok {
		return at
	}
	// Quotes that are written as references are read as quotes, at their place and of their length.
	raw := asQuotes.Replace(string(p.Doc.Bytes[a.Raw.Start:a.Raw.End]))
	m := inStyle.FindStringSubmatchIndex(raw)
	for i := 2; i < len(m); i += 2 {
		if m[i] >= 0 {
			address := strings.TrimLeft(raw[m[i]:m[i+1]], " ")
			at.Start = a.Raw.Start + m[i+1] - len(address)
			at.End = at.Start + len(strings.TrimRight(address, " "))
		}
	}
	return at
}

// htmlOfTree writes nodes of a Markdown page as the HTML that they make.
func htmlOfTree(ns []*source.Node) string {
	var b strings.Builder
	for _, n := range ns {
		_ = html.Render(&b, n.HTML) // a strings.Builder never fails
	}
	return b.String()
}
