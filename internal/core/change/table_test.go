package change

import (
	"strings"
	"testing"

	"mendry/internal/core/page"
)

const fareTable = "<!doctype html><html><head><title>t</title></head><body>\r\n<table class=\"f\">\r\n  <tr id=\"top\">\r\n    <th scope=\"col\">Who</th>\r\n    <th>Single</th>\r\n  </tr>\r\n" +
	"  <tr class=\"o\">\r\n    <td id=\"a\">Adult</td>\r\n    <td class=\"n\">£6.90</td>\r\n  </tr>\r\n</table>\r\n</body></html>\r\n"

func TestRowsAndColumnsComeAndGo(t *testing.T) {
	t.Parallel()
	for _, c := range []struct {
		act      TableAct
		cell     string
		was, now string // each pair of lines
	}{
		{RowBelow, "Adult", "£6.90</td>\r\n  </tr>", "£6.90</td>\r\n  </tr>\r\n  <tr class=\"o\">\r\n    <td></td>\r\n    <td class=\"n\"></td>\r\n  </tr>"},
		{RowAbove, "£6.90", "  <tr class=\"o\">", "  <tr class=\"o\">\r\n    <td></td>\r\n    <td class=\"n\"></td>\r\n  </tr>\r\n  <tr class=\"o\">"},
		{RowOut, "Adult", "  <tr class=\"o\">\r\n    <td id=\"a\">Adult</td>\r\n    <td class=\"n\">£6.90</td>\r\n  </tr>\r\n", ""},
		{ColumnAfter, "Adult", "", ""},
		{ColumnBefore, "Who", "", ""},
		{ColumnOut, "Single", "", ""},
	} {
		t.Run(string(c.act), func(t *testing.T) {
			p := formPage(t, "a.html", fareTable)
			ops, err := TableOps(p, saying(t, p, c.cell), c.act)
			if err != nil {
				t.Fatal(err)
			}
			want := strings.Replace(fareTable, c.was, c.now, 1)
			switch c.act {
			case ColumnAfter:
				want = strings.NewReplacer("Who</th>", "Who</th>\r\n    <th scope=\"col\"></th>", "Adult</td>", "Adult</td>\r\n    <td></td>").Replace(fareTable)
			case ColumnBefore:
				want = strings.NewReplacer("<th scope", "<th scope=\"col\"></th>\r\n    <th scope", "<td id", "<td></td>\r\n    <td id").Replace(fareTable)
			case ColumnOut:
				want = strings.NewReplacer("    <th>Single</th>\r\n", "", "    <td class=\"n\">£6.90</td>\r\n", "").Replace(fareTable)
			}
			makes(t, p, want, ops...)
		})
	}
}

func TestTablesThatAreNotPlainAreLeftWithAReason(t *testing.T) {
	t.Parallel()
	for markup, why := range map[string]string{
		"<table><tr><td>a<td>b</tr><tr><td colspan=2>c<td>d</tr></table>":   "joined",
		"<table><tr><td>a<td>b</tr><tr><td>c</tr></table>":                  "not of one length",
		"<table><colgroup><col><col></colgroup><tr><td>a<td>b</tr></table>": "sets its columns",
		"<table><tr><td>a</td></tr></table>":                                "last column",
	} {
		p := formPage(t, "a.html", "<!doctype html><title>t</title><body>"+markup)
		if _, err := TableOps(p, saying(t, p, "a"), ColumnOut); err == nil || !strings.Contains(err.Error(), why) {
			t.Errorf("%s: %v", markup, err)
		}
	}
}

func TestACellNamesItsRowOrColumn(t *testing.T) {
	t.Parallel()
	for _, c := range []struct {
		cell string
		form Form
		was  string
		now  string
	}{
		{"Adult", HeaderCell, `<td id="a">Adult</td>`, `<th id="a" scope="row">Adult</th>`},
		{"Single", PlainCell, `<th>Single</th>`, `<td>Single</td>`},
		{"Who", PlainCell, `<th scope="col">Who</th>`, `<td>Who</td>`},
	} {
		p := formPage(t, "a.html", fareTable)
		makes(t, p, strings.Replace(fareTable, c.was, c.now, 1), Op{Op: Recast, Part: saying(t, p, c.cell).ID, Form: c.form})
	}
}

func TestANewTableIsLikeTheOthers(t *testing.T) {
	t.Parallel()
	p := formPage(t, "a.html", strings.Replace(fareTable, "</table>", "</table>\r\n<p>After</p>", 1))
	markup := NewTable(p)
	r, err := Apply(p, []Op{{Op: Insert, Anchor: saying(t, p, "After").ID, Where: After, HTML: markup}})
	if err != nil {
		t.Fatal(err)
	}
	var tables []*page.Part
	for _, part := range r.Page.All {
		if part.Kind == page.Table {
			tables = append(tables, part)
		}
	}
	if len(tables) != 2 || tables[1].Attributes.Get("class") != "f" || len(rowsOf(tables[1])) != 2 || len(cellsOf(rowsOf(tables[1])[0])) != 2 {
		t.Errorf("%q", r.Bytes)
	}
	md := formPage(t, "a.md", "# T\n\nAfter\n")
	r, err = Apply(md, []Op{{Op: Insert, Anchor: saying(t, md, "After").ID, Where: After, HTML: NewTable(md)}})
	if err != nil || !strings.Contains(string(r.Bytes), "| New words | New words |") {
		t.Errorf("%v %+v", err, r)
	}
}
