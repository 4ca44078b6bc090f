package desk

import (
	"slices"
	"strings"

	"mendry/api"
	"mendry/internal/core/act"
	"mendry/internal/core/page"
	"mendry/internal/core/source"
)

// Row implements act.Rest.
func (r *rest) Row(p *page.Page, column *page.Part) (row act.Row) {
	up := column.Node.Parent
	sheet := r.d.sheetOf(r.ctx, r.site, r.dr.row.Address, p)
	row.Flexes = strings.Contains(sheet.Own(up.HTML, "display"), "flex")
	for _, flow := range []string{sheet.Own(up.HTML, "flex-wrap"), sheet.Own(up.HTML, "flex-flow")} {
		row.Wraps = row.Wraps || slices.Contains(strings.Fields(flow), "wrap")
	}
	row.Uses = columnClasses(p, nil)
	for _, other := range r.d.pagesToLearn(r.ctx, r.site.ID) {
		if other.Doc.Format == source.HTML {
			row.Uses = columnClasses(other, row.Uses)
		}
	}
	return row
}

// columnClasses adds the class attributes of the columns of a page's rows to those that are known, where all of a row
// say how wide they are.
func columnClasses(p *page.Page, known [][]string) [][]string {
	for _, n := range p.Doc.Nodes {
		columns := page.Columns(n)
		if columns == nil {
			continue
		}
		var use []string
		for _, c := range columns {
			class := p.Doc.Value(c, "class")
			if size, _ := page.SizeClasses(class); len(size) == 0 {
				use = nil
				break
			}
			use = append(use, class)
		}
		if use != nil && !slices.ContainsFunc(known, func(k []string) bool { return slices.Equal(k, use) }) {
			known = append(known, use)
		}
	}
	return known
}

// rowView shows the row that a part stands in; nil where it stands in none.
func rowView(p *page.Page, part *page.Part) *api.PartRow {
	columns, own := p.RowOf(part)
	if columns == nil {
		return nil
	}
	v := &api.PartRow{Own: own, Wide: page.Wide(columns), Columns: []string{}}
	for _, c := range columns {
		v.Columns = append(v.Columns, c.ID)
	}
	return v
}
