package change

import (
	"strings"

	"golang.org/x/net/html"
)

// normalTable is a table as Markdown has it (GitHub Flavored Markdown, 4.10): rows of plain cells, of which the first
// names the columns.
func normalTable(table *html.Node) ([]*html.Node, error) {
	out := &html.Node{Type: html.ElementNode, Data: "table"}
	width := 0
	for tr := range table.Descendants() {
		if tr.Data != "tr" {
			continue
		}
		row := &html.Node{Type: html.ElementNode, Data: "tr"}
		tag, n := "td", 0
		if out.FirstChild == nil {
			tag = "th"
		}
		for _, k := range elements(tr, true) {
			for _, a := range k.Attr {
				if a.Key == "colspan" || a.Key == "rowspan" {
					return nil, refuse("Markdown has no joined cells. Part them first.")
				}
			}
			kids, err := normalInline(kidsOf(k))
			if err != nil {
				return nil, err
			}
			cell := &html.Node{Type: html.ElementNode, Data: tag}
			for _, k := range tidy(kids, true) {
				cell.AppendChild(k)
			}
			row.AppendChild(cell)
			n++
		}
		if tag == "th" {
			width = n
		}
		if n > width {
			return nil, refuse("A row of the table is longer than its first one. In Markdown none may be.")
		}
		for ; n < width; n++ {
			row.AppendChild(&html.Node{Type: html.ElementNode, Data: tag})
		}
		out.AppendChild(row)
	}
	if width == 0 {
		return nil, nil
	}
	return []*html.Node{out}, nil
}

// table writes a table with pipes.
func (m *mdWriter) table(n *html.Node) (string, error) {
	cell := *m
	cell.cell, cell.oneLine = true, true
	var lines []string
	for i, tr := range kidsOf(n) {
		line := "|"
		for _, k := range kidsOf(tr) {
			s, err := cell.inlines(kidsOf(k))
			if err != nil {
				return "", err
			}
			line += " " + s + " |"
		}
		lines = append(lines, line)
		if i == 0 {
			lines = append(lines, "|"+strings.Repeat(" --- |", len(kidsOf(tr))))
		}
	}
	return strings.Join(lines, "\n"), nil
}
