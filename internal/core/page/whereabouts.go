package page

import (
	"cmp"
	"regexp"
	"strconv"
)

// Whereabouts says where a part is for somebody who knows the page by sight and not by its parts: what kind of thing it is,
// and what stands above it. Its own words are no name for it: they are what changes.
func (p *Page) Whereabouts(part *Part) string {
	if within := wordsAround(part); within != nil {
		part = within // of a link in a sentence, the sentence
	}
	switch {
	case part.Kind == Cell:
		return p.cellPlace(part)
	case part.Kind == Row:
		return "The row " + Quoted(part.Name) + p.inTable(part)
	case part.Node.Is("h1"):
		return "The heading of the page"
	case part.Kind == Heading, part.Kind == Set:
		return kindSays[part.Kind] + p.below(part)
	case part.Kind == Words && part.Name == openingWords:
		return "The opening words"
	}
	return cmp.Or(kindSays[part.Kind], "The section") + p.under(part)
}

var kindSays = map[Kind]string{
	Table: "The table", Heading: "A heading", Words: "The words", Link: "A link", Button: "A button", Picture: "The picture",
	Video: "The film", Form: "The form", Item: "One of several", Set: "Several that are alike",
}

// wordsAround are the words that a part stands among; nil where it stands by itself.
func wordsAround(part *Part) *Part {
	for up := part.Parent; up != nil; up = up.Parent {
		if up.Kind.HasWords() && up.Text != part.Text {
			return up
		}
	}
	return nil
}

func (p *Page) cellPlace(cell *Part) string {
	row := cell.Parent
	if row == nil || row.Kind != Row || row.Parent == nil {
		return "A field of a table" + p.under(cell)
	}
	if first := cells(row)[0]; first != cell && first.Text != "" {
		if cell.Name == Short(cell.Text, 48) {
			return Quoted(Short(first.Text, 48)) + p.inTable(row)
		}
		return Quoted(cell.Name) + p.inTable(row) // by row and column
	}
	n := 0
	for _, r := range row.Parent.Parts {
		if r.Kind == Row {
			if n++; r == row {
				break
			}
		}
	}
	return "Row " + strconv.Itoa(n) + p.inTable(row)
}

// inTable names the table that a row is in, by its caption or the heading above it.
func (p *Page) inTable(row *Part) string {
	table := row.Parent
	if table == nil || table.Kind != Table {
		return p.under(row)
	}
	return ", in the table" + p.under(table)
}

// under says below which heading a part stands, or in which frame of the page.
func (p *Page) under(part *Part) string {
	if at := p.frameOf(part); at != "" {
		return " " + at
	}
	if held := heldName(part); held != "" && part.Kind.Whole() {
		return " " + Quoted(held)
	}
	return p.below(part)
}

// below names the heading that a part stands under; where it stands under none, the last one above it.
func (p *Page) below(part *Part) string {
	if h := p.TitleOf(part); h != nil {
		return " under " + Quoted(Short(h.Text, 48))
	}
	last := ""
	for _, h := range p.Headings() {
		if h.order < part.order {
			last = cmp.Or(h.Text, last)
		}
	}
	if last == "" {
		return " at the top of the page"
	}
	return " further down than " + Quoted(Short(last, 48))
}

// footNamed is how the foot of a page is called where its element does not say it (common practice, no source).
var footNamed = regexp.MustCompile(`(?i)(?:^| )(?:(?:site|page|main)[-_]?)?foot(?:er)?(?: |$)`)

// frameOf says that a part is in the menu, the head or the foot that a site's pages share.
func (p *Page) frameOf(part *Part) string {
	for up := part.Node; up != nil; up = up.Parent {
		switch up.Tag() {
		case "nav":
			return "in the menu"
		case "footer":
			return "at the foot of the page"
		case "div", "section", "aside", "table":
			if footNamed.MatchString(p.Doc.Value(up, "id") + " " + p.Doc.Value(up, "class")) {
				return "at the foot of the page"
			}
		case "main", "article":
			return ""
		}
	}
	return ""
}
