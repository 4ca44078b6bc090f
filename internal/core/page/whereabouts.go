package page

import "strconv"

// Whereabouts says where a part is for somebody who knows the page by sight and not by its parts: what kind of thing it is,
// and what stands above it. Its own words are no name for it: they are what changes.
func (p *Page) Whereabouts(part *Part) string {
	if within := wordsAround(part); within != nil {
		part = within // of a link in a sentence, the sentence
	}
	switch part.Kind {
	case Cell:
		return p.cellPlace(part)
	case Row:
		return "The row " + Quoted(part.Name) + p.inTable(part)
	case Table:
		return "The table" + p.under(part)
	case Heading:
		if part.Node.Is("h1") {
			return "The heading of the page"
		}
		return "A heading" + p.below(part)
	case Words:
		if part.Name == openingWords {
			return "The opening words"
		}
		return "The words" + p.under(part)
	case Link:
		return "A link" + p.under(part)
	case Button:
		return "A button" + p.under(part)
	case Picture:
		return "The picture" + p.under(part)
	case Video:
		return "The film" + p.under(part)
	case Form:
		return "The form" + p.under(part)
	case Item:
		return "One of several" + p.under(part)
	case Set:
		return "Several that are alike" + p.below(part)
	}
	return "The section" + p.under(part)
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
	if name := heldName(table); name != "" {
		return ", in the table " + Quoted(name)
	}
	if h := p.headingOf(table); h != nil {
		return ", in the table under " + Quoted(Short(h.Text, 48))
	}
	return ", in the table"
}

// under says below which heading a part stands, or in which frame of the page.
func (p *Page) under(part *Part) string {
	if at := frameOf(part); at != "" {
		return " " + at
	}
	if held := heldName(part); held != "" && part.Kind.Whole() {
		return " " + Quoted(held)
	}
	return p.below(part)
}

func (p *Page) below(part *Part) string {
	if h := p.headingOf(part); h != nil {
		return " under " + Quoted(Short(h.Text, 48))
	}
	return " at the top of the page"
}

// headingOf is the heading that stands above a part.
func (p *Page) headingOf(part *Part) (last *Part) {
	for _, h := range p.Headings() {
		if h.Start >= part.Start {
			break
		}
		if h.Text != "" {
			last = h
		}
	}
	return last
}

// frameOf says that a part is in the menu, the head or the foot that a site's pages share.
func frameOf(part *Part) string {
	for up := part.Node; up != nil; up = up.Parent {
		switch up.Tag() {
		case "nav":
			return "in the menu"
		case "footer":
			return "at the foot of the page"
		case "main", "article":
			return ""
		}
	}
	return ""
}
