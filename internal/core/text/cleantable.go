package text

import (
	"strings"

	"golang.org/x/net/html"
)

// table cleans a table of data, or takes one apart that only lays things out.
func (c *cleaner) table(out, n *html.Node) {
	c.attributes(n)
	c.endParagraph(out)
	var rows [][]*html.Node
	heads, top, nested, most := 0, 0, false, 0 // top: how many rows at the top say what stands below
	var walk func(*html.Node)
	walk = func(k *html.Node) {
		switch k.Data {
		case "table":
			if k != n {
				nested = true
				return
			}
		case "tr":
			rows = append(rows, nil)
			if k.Parent.Data == "thead" && top == len(rows)-1 {
				top = len(rows)
			}
		case "td", "th":
			if len(rows) > 0 {
				r := len(rows) - 1
				rows[r] = append(rows[r], k)
				most = max(most, len(rows[r]))
			}
			if k.Data == "th" {
				heads++
			}
		}
		for x := k.FirstChild; x != nil; x = x.NextSibling {
			if x.Type == html.ElementNode {
				walk(x)
			}
		}
	}
	walk(n)
	if !c.allow.Tables || nested || most < 2 || len(rows) < 2 && heads == 0 && !brief(rows) {
		c.drop("table for layout")
		c.block(out, n)
		return
	}
	for len(rows) > 1 && empty(rows[len(rows)-1]) { // of a sheet whose last line was copied too
		rows = rows[:len(rows)-1]
		c.drop("empty row")
	}
	t := newElement("table")
	out.AppendChild(t)
	if top = min(top, len(rows)-1); top > 0 {
		c.rows(t, "thead", rows[:top])
	}
	c.rows(t, "tbody", rows[top:])
}

func (c *cleaner) rows(t *html.Node, group string, rows [][]*html.Node) {
	g := newElement(group)
	t.AppendChild(g)
	for _, row := range rows {
		tr := newElement("tr")
		g.AppendChild(tr)
		for _, cell := range row {
			c.attributes(cell)
			td := newElement(cell.Data)
			for _, a := range cell.Attr {
				if (a.Key == "colspan" || a.Key == "rowspan") && a.Val != "1" {
					td.Attr = append(td.Attr, a)
				}
			}
			tr.AppendChild(td)
			c.oneRun(c.spoken(td, cell), cell)
		}
	}
}

func empty(row []*html.Node) bool {
	for _, cell := range row {
		if strings.TrimSpace(plain(cell)) != "" || holds(cell, "img") {
			return false
		}
	}
	return true
}

const briefCell = 80 // letters of a cell that holds a value or a name, and no part of a page (common practice, no source)

// brief reports whether a table of one row holds values: few words a cell, and nothing that lays a page out.
func brief(rows [][]*html.Node) bool {
	for _, row := range rows {
		for _, cell := range row {
			blocks := 0
			for d := range cell.Descendants() {
				if d.Type == html.ElementNode && (d.Data == "img" || blockNames[d.Data]) {
					blocks++
				}
			}
			words := strings.TrimSpace(plain(cell))
			if blocks > 1 || words == "" || len(words) > briefCell || holds(cell, "img") {
				return false
			}
		}
	}
	return len(rows) == 1
}
