package page

import (
	"regexp"
	"slices"
	"strconv"
	"strings"

	"mendry/internal/core/source"
)

// MostColumns of one row; more are a grid of items.
const MostColumns = 4

// Columns are the columns of a row: the elements that stand side by side in it, by what it or they are called, or by
// its own style; nil where it is no row.
func Columns(n *source.Node) (kids []*source.Node) {
	if n.Tag() == "" || n.Is("nav", "ul", "ol", "dl", "table", "tr", "form", "figure", "picture", "p") {
		return nil
	}
	columns := true
	for _, k := range n.Kids {
		switch {
		case k.IsText() && !k.Blank:
			return nil
		case k.Tag() == "" || unseen[k.Tag()]:
			continue
		case !k.Is("div", "section", "article", "aside", "figure", "blockquote", "picture", "img"):
			return nil
		}
		columns = columns && classSays(k)&saysColumn != 0
		if kids = append(kids, k); len(kids) > MostColumns {
			return nil
		}
	}
	if len(kids) < 2 || !columns && !laysOut(n) {
		return nil
	}
	return kids
}

// laysOut reports whether an element says of itself that its children stand side by side, by what it is called or by
// its own style.
func laysOut(n *source.Node) bool { return classSays(n)&saysRow != 0 || styledAsRow(n) }

func styledAsRow(n *source.Node) bool {
	for i := range n.HTML.Attr {
		if n.HTML.Attr[i].Key == "style" {
			style := strings.ReplaceAll(strings.ToLower(n.HTML.Attr[i].Val), " ", "")
			return strings.Contains(style, "display:flex") && !strings.Contains(style, "direction:column") ||
				strings.Contains(style, "display:grid")
		}
	}
	return false
}

// markColumns notes the columns of a row. It says what Columns does, faster.
func (f *finder) markColumns(n *source.Node) {
	if len(n.Kids) > 2*MostColumns+1 || !n.Is("div", "section", "article", "main", "aside") {
		return
	}
	if f.says(n)&saysRow == 0 && !styledAsRow(n) &&
		!slices.ContainsFunc(n.Kids, func(k *source.Node) bool { return k.Is("div") && f.says(k)&saysColumn != 0 }) {
		return
	}
	for _, k := range Columns(n) {
		f.p.traits[k.Index].bits |= isColumn
	}
}

// isPart reports whether a column is a part of its own: one that stands among the contents of a page, and is not what
// holds a set.
func (p *Page) isPart(column *source.Node, t *trait) bool {
	up := column.Parent
	return t.things > 0 && !p.traits[up.Index].is(isInSet|hasRuns|isSetOf) && !inFrame(up) && !p.wrapsSet(column)
}

// RowOf are the columns of the row that a part stands in, in order, and which of them it stands in; none where it
// stands in no row, or where one of its columns is no part.
func (p *Page) RowOf(part *Part) (columns []*Part, own int) {
	if part.Run != nil || p.Doc.Format != source.HTML || inFrame(part.Node) {
		return nil, -1
	}
	for n := part.Node; n != nil && n.Parent != nil; n = n.Parent {
		kids := Columns(n.Parent)
		i := slices.Index(kids, n)
		if i < 0 {
			continue
		}
		for _, k := range kids {
			column, ok := p.At(k)
			if !ok || column.Background || column.Locked != "" || !column.Placed() {
				return nil, -1
			}
			columns = append(columns, column)
		}
		return columns, i
	}
	return nil, -1
}

// sizes are the classes by which sites say how wide a column is: a number behind a word for columns (common practice,
// no source; held against the templates of the tests).
var sizes = regexp.MustCompile(
	`^(?:col|cols|column|columns|span|is|size|w|uk-width|pure-u|medium|large|small|xl|lg|md|sm|width|grid|cell)(?:-[a-z]+)*-?(\d{1,2})(?:-(\d{1,2}))?$`,
)

// SizeClasses are those classes of a column that say how wide it is, and the others.
func SizeClasses(class string) (size, others []string) {
	for _, c := range strings.Fields(class) {
		if sizes.MatchString(c) {
			size = append(size, c)
		} else {
			others = append(others, c)
		}
	}
	return size, others
}

// Wide tells how wide columns are beside each other, in the smallest whole numbers, by their own styles (CSS Flexible
// Box 1, 7.1) or by their classes, of which the last is for the widest windows; all are as wide where neither says so.
func Wide(columns []*Part) []int {
	wide := make([]int, len(columns))
	for i, c := range columns {
		if wide[i] = grows(c.Attributes.Get("style")); wide[i] == 0 {
			wide[i] = sized(c.Attributes.Get("class"))
		}
	}
	return Smallest(wide)
}

// WideAs is Wide of columns that have these class attributes.
func WideAs(classes []string) []int {
	wide := make([]int, len(classes))
	for i, class := range classes {
		wide[i] = sized(class)
	}
	return Smallest(wide)
}

var growing = regexp.MustCompile(`(?i)(?:^|;)\s*flex(?:-grow)?\s*:\s*(\d{1,2})\b`)

func grows(style string) (n int) {
	if m := growing.FindStringSubmatch(style); m != nil {
		n, _ = strconv.Atoi(m[1])
	}
	return n
}

// sized is how wide classes say that a column is: in columns of a grid of twelve, or as a share such as 1-3.
func sized(class string) (n int) {
	size, _ := SizeClasses(class)
	for _, c := range size {
		m := sizes.FindStringSubmatch(c)
		n, _ = strconv.Atoi(m[1])
		if of, err := strconv.Atoi(m[2]); err == nil && of > 0 {
			n = n * 12 / of
		}
	}
	return n
}

// Smallest are whole numbers in the same proportions; ones where one of them is not known.
func Smallest(wide []int) []int {
	wide = slices.Clone(wide)
	by := 0
	for _, n := range wide {
		if n == 0 {
			return slices.Repeat([]int{1}, len(wide))
		}
		for a, b := by, n; ; a, b = b, a%b { // Euclid's greatest common divisor
			if b == 0 {
				by = a
				break
			}
		}
	}
	for i := range wide {
		wide[i] /= by
	}
	return wide
}
