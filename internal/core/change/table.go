package change

import (
	"strings"

	"mendry/internal/core/page"
	"mendry/internal/core/source"
)

// TableAct is what can be done to a table from one of its cells.
type TableAct string

// The acts. The new row or column stands beside that of the cell, with the same markup and no words.
const (
	RowAbove     TableAct = "row above"
	RowBelow     TableAct = "row below"
	RowOut       TableAct = "row out"
	ColumnBefore TableAct = "column before"
	ColumnAfter  TableAct = "column after"
	ColumnOut    TableAct = "column out"
)

// The forms of a cell, for Recast.
const (
	HeaderCell Form = "th"
	PlainCell  Form = "td"
)

// TableOf is the table in which a part stands; nil where it stands in none.
func TableOf(part *page.Part) *page.Part {
	for part != nil && part.Kind != page.Table {
		part = part.Parent
	}
	return part
}

func rowsOf(table *page.Part) (rows []*page.Part) {
	for _, p := range table.Parts {
		if p.Kind == page.Row {
			rows = append(rows, p)
		}
	}
	return rows
}

func cellsOf(row *page.Part) (cells []*page.Part) {
	for _, p := range row.Parts {
		if p.Kind == page.Cell {
			cells = append(cells, p)
		}
	}
	return cells
}

// TableOps gives the operations of an act on the table of a cell. The error is a *refusal.Refusal.
func TableOps(p *page.Page, cell *page.Part, act TableAct) ([]Op, error) {
	row, table := cell.Parent, TableOf(cell)
	if table == nil || row == nil || row.Kind != page.Row {
		return nil, refuse("“%s” is no cell of a table.", cell.Name)
	}
	rows := rowsOf(table)
	for _, part := range append([]*page.Part{table}, rows...) {
		if part.Locked != "" {
			return nil, refuse("“%s” is locked. %s", part.Name, part.Locked)
		}
	}
	switch act {
	case RowOut:
		if len(rows) < 2 {
			return nil, refuse("This is the last row. Take out the whole table.")
		}
		return []Op{{Op: Remove, Part: row.ID}}, nil
	case RowAbove, RowBelow:
		where := After
		if act == RowAbove {
			where = Before
		}
		if p.Doc.Format == source.Markdown {
			return []Op{{Op: Copy, Part: row.ID, Anchor: row.ID, Where: where}}, nil
		}
		gap := p.Doc.Markup(GapBefore(p.Doc, row.Start))
		markup := blankRow(p.Doc, row)
		if where == After {
			markup = gap + markup
		} else {
			markup += gap
		}
		return []Op{{Op: Insert, Anchor: row.ID, Where: where, HTML: markup}}, nil
	case ColumnBefore, ColumnAfter, ColumnOut:
		return columnOps(p.Doc, table, rows, cell, act)
	}
	return nil, refuse("There is no act %q on a table.", act)
}

func columnOps(d *source.Doc, table *page.Part, rows []*page.Part, cell *page.Part, act TableAct) (ops []Op, err error) {
	if d.Format == source.Markdown {
		return nil, refuse("Columns of a table in Markdown are changed in its markup.")
	}
	at, width := -1, -1
	for i, c := range cellsOf(cell.Parent) {
		if c == cell {
			at = i
		}
	}
	for _, n := range d.Nodes {
		if n.Is("col") && n.Start() > table.Start && n.End() <= table.End {
			return nil, refuse("The table sets its columns apart in its markup. Change them there.")
		}
	}
	for _, r := range rows {
		cells := cellsOf(r)
		if width >= 0 && len(cells) != width {
			return nil, refuse("The rows of this table are not of one length. Change it row by row.")
		}
		width = len(cells)
		for _, c := range cells {
			if _, joined := d.Attribute(c.Node, "colspan"); joined {
				return nil, refuse("“%s” is joined over several columns. Change the table in its markup.", c.Name)
			}
			if _, joined := d.Attribute(c.Node, "rowspan"); joined {
				return nil, refuse("“%s” is joined over several rows. Change the table in its markup.", c.Name)
			}
		}
		c := cells[at]
		switch act {
		case ColumnOut:
			ops = append(ops, Op{Op: Remove, Part: c.ID})
		case ColumnBefore:
			ops = append(ops, Op{Op: Insert, Anchor: c.ID, Where: Before, HTML: blankCell(d, c) + d.Markup(GapBefore(d, c.Start))})
		case ColumnAfter:
			ops = append(ops, Op{Op: Insert, Anchor: c.ID, Where: After, HTML: d.Markup(GapBefore(d, c.Start)) + blankCell(d, c)})
		}
	}
	if act == ColumnOut && width < 2 {
		return nil, refuse("This is the last column. Take out the whole table.")
	}
	return ops, nil
}

// blankRow is a row's markup without words and without what names it alone.
func blankRow(d *source.Doc, row *page.Part) string {
	var b strings.Builder
	b.WriteString(nameless(d, row.Node))
	at := row.InnerStart
	for _, c := range cellsOf(row) {
		b.WriteString(d.Markup(d.Bytes[at:c.Start]) + blankCell(d, c))
		at = c.End
	}
	return b.String() + d.Markup(d.Bytes[at:row.InnerEnd]) + "</tr>"
}

func blankCell(d *source.Doc, cell *page.Part) string {
	return nameless(d, cell.Node) + "</" + cell.Node.Tag() + ">"
}

// nameless is an element's start tag without its id, of which there is one only.
func nameless(d *source.Doc, n *source.Node) string {
	tag := d.Bytes[n.Start():n.InnerStart()]
	if id, ok := d.Attribute(n, "id"); ok {
		return d.Markup(d.Bytes[n.Start():id.Whole.Start]) + d.Markup(d.Bytes[id.Whole.End:n.InnerStart()])
	}
	return d.Markup(tag)
}

// NewTable is the markup of a small table to be filled in, like the others of the page.
func NewTable(p *page.Page) string {
	w := &work{p: p}
	tag := "<table>"
	if p.Doc.Format != source.Markdown {
		tag = w.startTag(nil, nil, "", "table")
	}
	cell := func(tag, words string) string { return "<" + tag + ">" + words + "</" + strings.Fields(tag)[0] + ">" }
	head := `th scope="col"`
	if p.Doc.Format == source.Markdown {
		head = "th"
	}
	return tag + "<thead><tr>" + cell(head, NewWords) + cell(head, NewWords) + "</tr></thead><tbody><tr>" +
		cell("td", NewWords) + cell("td", NewWords) + "</tr></tbody></table>"
}
