package act

import (
	"fmt"
	"slices"
	"strings"

	"mendry/internal/core/change"
	"mendry/internal/core/page"
	"mendry/internal/core/source"
)

// Columns makes the columns of a row as wide as is asked: by the site's own classes where some page of it has columns
// like that, otherwise by a style of their own, which falls as the site's row does.
type Columns struct {
	Part string `json:"part"` // a column, or a part in one
	Wide []int  `json:"wide"` // how wide each is beside the others, in order: 1 1, 2 1, 1 2
}

// AddColumn adds a column to a row, made like its last one: with prompts in the place of its words and pictures, or as
// a copy.
type AddColumn struct {
	Part   string `json:"part"` // a column, or a part in one
	Copied bool   `json:"copied,omitempty"`
}

var (
	_ = register("columns", func() Act { return &Columns{} })
	_ = register("add-column", func() Act { return &AddColumn{} })
)

// Row is how a site lays the columns of a row out.
type Row struct {
	Flexes bool       // its columns take the room that there is by their own measure (CSS Flexible Box 1)
	Wraps  bool       // those that have no room fall below
	Uses   [][]string // the class attributes of the columns of rows on the site's pages, each once
}

// widest is how wide a column may be beside another.
const widest = 3

// row finds the row that a part stands in.
func (w *work) row(id string) (part *page.Part, columns []*page.Part, own int, err error) {
	if part, err = w.pointed(id); err != nil {
		return nil, nil, 0, err
	}
	if columns, own = w.draft.Page().RowOf(part); columns == nil {
		return nil, nil, 0, refuse("“%s” stands in no row of columns.", part.Name)
	}
	return part, columns, own, nil
}

func (a *Columns) do(w *work) error {
	_, columns, own, err := w.row(a.Part)
	if err != nil {
		return err
	}
	if len(a.Wide) != len(columns) || slices.Max(a.Wide) > widest || slices.Min(a.Wide) < 1 {
		return refuse(
			"Say for each of the %d columns how wide it is beside the others, from 1 to %d.",
			len(columns),
			widest,
		)
	}
	p := w.draft.Page()
	ops, err := widened(columns, a.Wide, w.rest.Row(p, columns[own]))
	if err != nil {
		return err
	}
	if len(ops) == 0 {
		return nil
	}
	names := ""
	for i, c := range columns {
		names += strings.Repeat(" | ", min(i, 1)) + page.Short(c.Name, 24)
	}
	defer w.takeUp()
	return w.settle(-1, p, edit{
		kind: OfSection, name: "Columns " + page.Quoted(page.Short(names, 60)), before: wideSays(page.Wide(columns)), after: wideSays(a.Wide),
		say: fmt.Sprintf(
			"The columns %s are %s instead of %s",
			names,
			wideSays(a.Wide),
			wideSays(page.Wide(columns)),
		), ops: ops,
	})
}

// widened are the operations that make columns as wide as is asked.
func widened(columns []*page.Part, wide []int, row Row) (ops []change.Op, err error) {
	for _, use := range row.Uses {
		if !slices.Equal(page.WideAs(use), page.Smallest(wide)) || !sizedAlike(columns, use) {
			continue
		}
		for i, c := range columns {
			_, others := page.SizeClasses(c.Attributes.Get("class"))
			size, _ := page.SizeClasses(use[i])
			ops = append(ops, dressed(c, append(others, size...), without(c.Attributes.Get("style"), flexing...))...)
		}
		return ops, nil
	}
	if !row.Flexes {
		return nil, refuse(
			"The site lays this row out by a grid of its own, and has no columns like that on any page. Borrow a section that has them, or begin with a plain one.",
		)
	}
	for i, c := range columns {
		basis := "0" // a row that does not wrap falls by the site's own rules for narrow windows, if at all
		if row.Wraps {
			basis = fmt.Sprintf("%drem", 6+8*wide[i])
		}
		own := append(
			without(c.Attributes.Get("style"), flexing...),
			fmt.Sprintf("flex:%d 1 %s", wide[i], basis),
			"min-width:0",
		)
		ops = append(ops, dressed(c, strings.Fields(c.Attributes.Get("class")), own)...)
	}
	return ops, nil
}

// flexing are the properties by which a column takes its room.
var flexing = []string{"flex", "flex-grow", "flex-shrink", "flex-basis", "min-width", "width", "max-width"}

// sizedAlike reports whether columns say how wide they are by classes, as those of a use do.
func sizedAlike(columns []*page.Part, use []string) bool {
	for _, c := range columns {
		if size, _ := page.SizeClasses(c.Attributes.Get("class")); len(size) == 0 {
			return false
		}
	}
	return len(columns) == len(use)
}

func wideSays(wide []int) string {
	if slices.Max(wide) == slices.Min(wide) {
		return "equal"
	}
	var says []string
	for _, n := range wide {
		if n == slices.Max(wide) {
			says = append(says, "wide")
		} else {
			says = append(says, "narrow")
		}
	}
	return strings.Join(says, " and ")
}

func (a *AddColumn) do(w *work) error {
	_, columns, _, err := w.row(a.Part)
	if err != nil {
		return err
	}
	if len(columns) >= page.MostColumns {
		return refuse("A row holds %d columns at most: more are too narrow to be read.", page.MostColumns)
	}
	p, last := w.draft.Page(), columns[len(columns)-1]
	if item, _ := p.ItemOf(last); item != nil {
		return (&AddItem{Part: item.ID, Like: item.ID, Copied: a.Copied, Anchor: item.ID}).do(w)
	}
	markups, err := change.MakeAgain(p, []*page.Part{last}, [][]*page.Part{{last}}, !a.Copied)
	if err != nil {
		return err
	}
	defer w.goIn()
	return w.settle(-1, p, edit{
		kind: OfSection, name: "New column", say: fmt.Sprintf("A new column stands after %s, made like it", page.Quoted(last.Name)),
		ops: []change.Op{insertOp(p, last, change.After, markups[0])},
	})
}

// Put puts something new with a prompt beside a part, or into a column or another place for blocks.
type Put struct {
	Part  string       `json:"part"`
	Where change.Where `json:"where"`
	What  string       `json:"what"` // words, heading, list, button
}

var _ = register("put", func() Act { return &Put{} })

func (a *Put) do(w *work) error {
	beside, err := w.pointed(a.Part)
	if err != nil {
		return err
	}
	p := w.draft.Page()
	if p.Doc.Format != source.HTML {
		return refuse("On a page in Markdown, go on typing.")
	}
	if (a.Where == change.First || a.Where == change.Last) && beside.Kind != page.Section && beside.Kind != page.Item {
		return refuse("“%s” is no place that something can be put into. Put it before or after.", beside.Name)
	}
	level := levelAt(p, beside, a.Where)
	markup := map[string]string{
		"words":   words,
		"heading": fmt.Sprintf("<h%d>%s</h%[1]d>", level, change.NewHeading),
		"list":    "<ul>\n<li>" + change.NewWords + "</li>\n</ul>",
		"button":  fmt.Sprintf(`<p><a%s href="#">%s</a></p>`, buttonClass(p), change.NewButton),
	}[a.What]
	if markup == "" {
		return refuse("There is no such thing to put in.")
	}
	defer w.goIn()
	return w.settle(-1, p, edit{
		kind: OfSection, name: "New " + a.What, say: fmt.Sprintf("New %s %s %s", a.What, whereIn[a.Where], page.Quoted(beside.Name)),
		ops: []change.Op{insertOp(p, beside, a.Where, markup)},
	})
}

var whereIn = map[change.Where]string{
	change.Before: "before",
	change.After:  "after",
	change.First:  "at the top of",
	change.Last:   "at the end of",
}

// buttonClass is the class attribute that most links of a page have that look like buttons; empty where there is none.
func buttonClass(p *page.Page) string {
	counts := map[string]int{}
	most := ""
	for _, b := range p.OfKind(page.Button) {
		class := b.Attributes.Get("class")
		if counts[class]++; class != "" && b.IsLink() && (most == "" || counts[class] > counts[most]) {
			most = class
		}
	}
	if most == "" {
		return ""
	}
	return fmt.Sprintf(` class="%s"`, change.EscapeText(most))
}
