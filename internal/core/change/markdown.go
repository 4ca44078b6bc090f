package change

import (
	"slices"
	"strings"

	"golang.org/x/net/html"

	"mendry/internal/core/page"
	"mendry/internal/core/source"
)

// setMarkdown gives a part of a Markdown page other words. The markup is HTML; it is written as Markdown in the way
// that the page is written already, and refused where Markdown cannot say it.
func (w *work) setMarkdown(part *page.Part, markup string) ([]source.Edit, error) {
	kids, err := w.inlineKids(part, markup)
	if err != nil {
		return nil, err
	}
	d := w.p.Doc
	m := w.writer(part)
	if part.Node.Is("img") || part.Node.Is("a") && part.Run == nil && d.Bytes[part.Start] == '<' {
		return nil, refuse("Change the address of “%s” instead: it is what is shown.", part.Name)
	}
	if e, ok := w.mergedMarkdown(part, m, markup, kids); ok {
		return []source.Edit{e}, nil
	}
	var first error
	for _, m.careful = range []bool{false, true} {
		raw, err := m.inlines(kids)
		if err != nil {
			return nil, err
		}
		raw = strings.ReplaceAll(raw, "\n", "\n"+m.prefix)
		out, err := w.encode(raw)
		if err != nil {
			return nil, err
		}
		e := source.Edit{Span: source.Span{Start: part.InnerStart, End: part.InnerEnd}, New: out}
		try := &work{p: w.p, plan: source.NewPlan(d)}
		try.replace(part, kids)
		if first = try.holds(e); first == nil {
			w.replace(part, kids)
			return []source.Edit{source.Narrow(d.Bytes, e)}, nil
		}
	}
	return nil, first
}

// mergedMarkdown brings the new words into the Markdown as it stands: line ends, escapes and marks stay as they are
// where the words do. It reports false where that does not read as it should.
func (w *work) mergedMarkdown(part *page.Part, m *mdWriter, markup string, kids []*html.Node) (source.Edit, bool) {
	old := inlineOf(w.p, part)
	now, err := inlineFrom(markup, old, old, false)
	if err != nil {
		return source.Edit{}, false
	}
	oldKids, err := w.inlineKids(part, old.asHTML())
	if err != nil {
		return source.Edit{}, false
	}
	base, errB := m.inlines(oldKids)
	mine, errM := m.inlines(kids)
	if errB != nil || errM != nil {
		return source.Edit{}, false
	}
	d := w.p.Doc
	var b strings.Builder
	for _, g := range mergeInto(piecesOf(base), piecesOf(mine), piecesOf(string(d.Bytes[part.InnerStart:part.InnerEnd])), theirsFirst) {
		b.WriteString(g.item)
	}
	e := source.Narrow(d.Bytes, source.Edit{Span: source.Span{Start: part.InnerStart, End: part.InnerEnd}, New: []byte(b.String())})
	out, _, err := source.Splice(d.Bytes, []source.Edit{e})
	if err != nil {
		return e, false
	}
	after, err := page.ParseMarkdown(out)
	if err != nil {
		return e, false
	}
	for _, q := range after.All {
		if q.Kind != part.Kind || q.Start != part.Start {
			continue
		}
		got := inlineOf(after, q)
		got.orderBy(old)
		if !slices.Equal(got.items(), now.items()) {
			return e, false
		}
		try := &work{p: w.p, plan: source.NewPlan(d)}
		try.replace(part, clonesOf(q.Content()))
		if try.plan.Difference(after.Doc.Root.HTML) != "" {
			return e, false
		}
		w.replace(part, clonesOf(q.Content()))
		return e, true
	}
	return e, false
}

func clonesOf(ns []*source.Node) (kids []*html.Node) {
	for _, n := range ns {
		kids = append(kids, clone(n.HTML))
	}
	return kids
}

// holds reports whether an edit makes the planned page. The error is a *refusal.Refusal.
func (w *work) holds(e source.Edit) error {
	out, _, err := source.Splice(w.p.Doc.Bytes, []source.Edit{e})
	if err != nil {
		return err
	}
	now, err := source.ParseMarkdown(out)
	if err != nil {
		return refuse("The changed page could not be read: %v", err)
	}
	if where := w.plan.Difference(now.Root.HTML); where != "" {
		return refuse("Markdown cannot say this here: it would be read differently, at %s. Mark whole words, without blanks at their ends.", where)
	}
	return nil
}

// inlineKids reads markup as the words of a part of a Markdown page.
func (w *work) inlineKids(part *page.Part, markup string) ([]*html.Node, error) {
	kids, err := fragment([]byte(markup), part.Node.HTML)
	if err != nil {
		return nil, err
	}
	if part.Node.Is("tr", "td", "th") {
		kids, err = fragment([]byte(markup), &html.Node{Type: html.ElementNode, Data: "p", DataAtom: 0})
		if err != nil {
			return nil, err
		}
	}
	kids, err = normalInline(kids)
	if err != nil {
		return nil, err
	}
	return tidy(kids, part.Node.Is("h1", "h2", "h3", "h4", "h5", "h6", "td", "th")), nil
}

// normalInline rewrites inline nodes as Markdown would make them.
func normalInline(ns []*html.Node) (out []*html.Node, err error) {
	for _, n := range ns {
		switch n.Type {
		case html.TextNode:
			out = append(out, &html.Node{Type: html.TextNode, Data: n.Data})
			continue
		case html.CommentNode:
			continue
		case html.ElementNode:
		default:
			return nil, refuse("Markdown cannot hold this.")
		}
		var inner []*html.Node
		for c := n.FirstChild; c != nil; c = c.NextSibling {
			inner = append(inner, c)
		}
		if inner, err = normalInline(inner); err != nil {
			return nil, err
		}
		tag, keep := n.Data, ""
		switch n.Data {
		case "strong", "b":
			tag = "strong"
		case "em", "i":
			tag = "em"
		case "del", "s", "strike":
			tag = "del"
		case "code", "br":
		case "a":
			keep = "href title"
		case "img":
			keep = "src alt title"
		case "span", "font", "p":
			out = append(out, inner...)
			continue
		default:
			return nil, refuse("Markdown has no <%s>. Say it in another way, or ask for the page to be kept as HTML.", n.Data)
		}
		if tag != "img" && tag != "br" && tag != "a" && plainOf(inner) == "" {
			out = append(out, inner...) // marks around nothing
			continue
		}
		e := &html.Node{Type: html.ElementNode, Data: tag}
		for _, name := range strings.Fields(keep) {
			for _, a := range n.Attr {
				if a.Key == name && (a.Val != "" || name == "alt" || name == "href" || name == "src") {
					e.Attr = append(e.Attr, html.Attribute{Key: name, Val: a.Val})
				}
			}
		}
		if tag == "img" && len(e.Attr) > 0 && attributeOf(e, "alt") == nil {
			e.Attr = append(e.Attr, html.Attribute{Key: "alt"})
		}
		for _, k := range inner {
			e.AppendChild(k)
		}
		out = append(out, e)
	}
	return out, nil
}

func attributeOf(n *html.Node, name string) *string {
	for i := range n.Attr {
		if n.Attr[i].Key == name {
			return &n.Attr[i].Val
		}
	}
	return nil
}

func plainOf(ns []*html.Node) string {
	var b strings.Builder
	var walk func(*html.Node)
	walk = func(n *html.Node) {
		if n.Type == html.TextNode {
			b.WriteString(n.Data)
		}
		for c := n.FirstChild; c != nil; c = c.NextSibling {
			walk(c)
		}
	}
	for _, n := range ns {
		walk(n)
	}
	return b.String()
}

// tidy takes out the white space that Markdown does not keep: at the ends, around line ends, and line ends where the
// words have to stay on one line.
func tidy(ns []*html.Node, oneLine bool) []*html.Node {
	fresh := true // nothing since the last line end
	var last *html.Node
	var walk func(*html.Node)
	walk = func(n *html.Node) {
		switch {
		case n.Type == html.TextNode:
			var b strings.Builder
			for _, r := range n.Data {
				switch {
				case r == '\n' && !oneLine:
					if !fresh {
						trimEnd(&b, last)
						b.WriteByte('\n')
						fresh = true
					}
				case r == ' ' || r == '\t' || r == '\n' || r == '\r' || r == '\f':
					if !fresh && r != '\r' {
						b.WriteByte(' ')
						fresh = fresh || oneLine && r == '\n'
					}
				default:
					b.WriteRune(r)
					fresh = false
				}
			}
			n.Data = b.String()
			last = n
		case n.Data == "br":
			if last != nil {
				last.Data = strings.TrimRight(last.Data, " ")
			}
			fresh = true
		case n.Data == "img" || n.Data == "code":
			fresh = false
			last = nil
		}
		if n.Data != "code" {
			for c := n.FirstChild; c != nil; c = c.NextSibling {
				walk(c)
			}
		}
	}
	for _, n := range ns {
		walk(n)
	}
	for i := len(ns) - 1; i >= 0; i-- { // the end
		if ns[i].Type != html.TextNode {
			break
		}
		if ns[i].Data = strings.TrimRight(ns[i].Data, " \n"); ns[i].Data != "" {
			break
		}
	}
	return ns
}

func trimEnd(b *strings.Builder, last *html.Node) {
	s := strings.TrimRight(b.String(), " ")
	b.Reset()
	b.WriteString(s)
	if s == "" && last != nil {
		last.Data = strings.TrimRight(last.Data, " ")
	}
}

// setMarkdownAttribute gives a link or picture another address, title or alternative text. All of them stand in one
// mark, so that those asked for at once are written at the first of them.
func (w *work) setMarkdownAttribute(part *page.Part, name string) ([]source.Edit, error) {
	n := part.Node
	asked, first := map[string]*string{}, ""
	for _, op := range w.ops {
		if op.Op != SetAttribute || op.Part != part.ID {
			continue
		}
		key := strings.ToLower(op.Name)
		if !(n.Is("a") && (key == "href" || key == "title") || n.Is("img") && (key == "src" || key == "alt" || key == "title")) {
			return nil, refuse("Markdown has no %s here.", key)
		}
		if first == "" {
			first = key
		}
		asked[key] = op.Value
		if key == "title" && op.Value != nil && *op.Value == "" {
			asked[key] = nil
		}
	}
	if name != first {
		return nil, nil
	}
	now := clone(n.HTML)
	now.Attr = now.Attr[:0]
	order := "href title"
	if n.Is("img") {
		order = "src alt title"
	}
	for _, key := range strings.Fields(order) {
		v, set := asked[key]
		if !set {
			v = attributeOf(n.HTML, key)
		}
		if v == nil && (key == "alt" || key == "href" || key == "src") {
			v = new(string)
		}
		if v != nil {
			now.Attr = append(now.Attr, html.Attribute{Key: key, Val: *v})
		}
	}
	d := w.p.Doc
	inner := string(d.Bytes[n.InnerStart():n.InnerEnd()])
	m := w.writer(part)
	m.careful = true
	open := "["
	if n.Is("img") {
		open = "!["
		inner = m.escape(*attributeOf(now, "alt"))
	}
	raw := open + inner + "]" + m.target(now)
	if n.Is("a") && d.Bytes[n.Start()] == '<' {
		raw = "[" + m.escape(inner) + "]" + m.target(now)
	}
	out, err := w.encode(raw)
	if err != nil {
		return nil, err
	}
	for _, a := range n.HTML.Attr {
		w.plan.SetAttribute(n.HTML, a.Key, nil)
	}
	for i := range now.Attr {
		w.plan.SetAttribute(n.HTML, now.Attr[i].Key, &now.Attr[i].Val)
	}
	return []source.Edit{source.Narrow(d.Bytes, source.Edit{Span: source.Span{Start: n.Start(), End: n.End()}, New: out})}, nil
}
