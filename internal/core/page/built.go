package page

import "mendry/internal/core/source"

// Holding finds the innermost element of a built page that reads as a Markdown page does.
func Holding(built, markdown *Page) (in *source.Node) {
	want := markdown.TextOf(markdown.Doc.Root)
	for _, n := range built.Doc.Nodes {
		if n.Placed && !n.Torn && n.Is("main", "article", "section", "div", "body") && built.TextOf(n) == want {
			in = n
		}
	}
	return in
}

// BuiltOf reports whether a built page holds what the Markdown of a file reads as.
func BuiltOf(built, markdown []byte) bool {
	p, err := Parse(built, "")
	if err != nil {
		return false
	}
	m, err := ParseMarkdown(markdown)
	return err == nil && Holding(p, m) != nil
}
