package change

import (
	"bytes"

	"golang.org/x/net/html"

	"mendry/internal/core/page"
	"mendry/internal/core/source"
)

func (w *work) setFact(op Op) ([]source.Edit, error) {
	if op.Value == nil {
		return nil, refuse("A page fact needs a value.")
	}
	if page.FrontKey(op.Name) == "" {
		return nil, refuse("There is no page fact %q.", op.Name)
	}
	if w.markdown() {
		return w.setFrontFact(op.Name, *op.Value, op)
	}
	n := w.p.HeadNode(op.Name)
	if n == nil || !n.Placed || n.Torn {
		return w.addFact(op.Name, *op.Value)
	}
	switch op.Name {
	case "title":
		raw, err := w.encode(EscapeText(*op.Value))
		if err != nil {
			return nil, err
		}
		var kids []*html.Node
		if len(raw) > 0 {
			kids = []*html.Node{{Type: html.TextNode, Data: source.ReadAttribute(raw)}}
		}
		w.plan.SetKids(n.HTML, kids)
		e := source.Edit{Span: source.Span{Start: n.InnerStart(), End: n.InnerEnd()}, New: raw}
		return []source.Edit{source.Narrow(w.p.Doc.Bytes, e)}, nil
	case "canonical":
		return w.setOn(n, "href", op.Value)
	case "lang":
		return w.setOn(n, "lang", op.Value)
	}
	return w.setOn(n, "content", op.Value)
}

// addFact writes a fact that the page does not have yet, at the end of its head.
func (w *work) addFact(name, value string) ([]source.Edit, error) {
	var head *source.Node
	w.p.Doc.Root.Walk(func(n *source.Node) bool {
		if n.Is("head") {
			head = n
		}
		return head == nil && !n.Is("body")
	})
	if head == nil || !head.Placed || head.Torn || name == "lang" {
		return nil, refuse("The page has no head of its own in which its %s could stand.", name)
	}
	markup := map[string]string{
		"title":       "<title>" + EscapeText(value) + "</title>",
		"description": `<meta name="description" content="` + escapeAttribute(value) + `">`,
		"image":       `<meta property="og:image" content="` + escapeAttribute(value) + `">`,
		"address":     `<meta property="og:url" content="` + escapeAttribute(value) + `">`,
		"canonical":   `<link rel="canonical" href="` + escapeAttribute(value) + `">`,
	}[name]
	raw, err := w.encode(markup)
	if err != nil {
		return nil, err
	}
	kids, err := fragment(raw, head.HTML)
	if err != nil {
		return nil, err
	}
	return w.graft(head, nil, kids, raw, head.InnerEnd()), nil
}

// setFrontFact writes a fact into the front matter of a Markdown page.
func (w *work) setFrontFact(name, value string, op Op) ([]source.Edit, error) {
	d := w.p.Doc
	w.facts = append(w.facts, op)
	if s, ok := w.p.FrontFact(name); ok {
		if !s.Plain && s.Value != "" {
			return nil, refuse("The page's %s runs over several lines in the front matter; it is kept as it is.", name)
		}
		if s.Plain {
			raw := []byte(source.ScalarOf(value, d.Bytes[s.Start:s.End]))
			return []source.Edit{source.Narrow(d.Bytes, source.Edit{Span: s.Span, New: raw})}, nil
		}
		if line, ok := w.p.FrontFactLine(name); ok { // a key without a value
			if i := bytes.IndexByte(d.Bytes[line.Start:line.End], ':'); i >= 0 {
				at := line.Start + i + 1
				return []source.Edit{{Span: source.Span{Start: at, End: at}, New: []byte(" " + source.ScalarOf(value, nil))}}, nil
			}
		}
	}
	end := d.LineEnd()
	line := page.FrontKey(name) + ": " + source.ScalarOf(value, nil) + end
	at := d.Front.End
	if d.Front.Start == 0 {
		line = "---" + end + line + "---" + end + end
		at = bom(d)
	}
	return []source.Edit{{Span: source.Span{Start: at, End: at}, New: []byte(line)}}, nil
}

// bom is where the text of a page begins.
func bom(d *source.Doc) int {
	if d.BOM {
		return len("\ufeff")
	}
	return 0
}

// factsHold checks that a Markdown page says what it was told to.
func (w *work) factsHold(now *page.Page) error {
	for _, op := range w.facts {
		if s, ok := now.FrontFact(op.Name); !ok || s.Value != *op.Value {
			return refuse("The front matter cannot be changed safely: the page's %s would not be read as “%s”.", op.Name, *op.Value)
		}
	}
	return nil
}
