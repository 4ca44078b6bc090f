package page

import (
	"fmt"
	"net/url"
	"path"
	"regexp"
	"strings"

	"mendry/internal/core/source"
)

const openingWords = "Opening words" // of a page: those after its title

// nameAll names every part.
func (p *Page) nameAll() {
	h1 := false
	for _, part := range p.All {
		h1 = h1 || part.Kind == Heading && part.Node.Is("h1") && part.Text != ""
		if h1 && part.Kind == Words {
			part.Name = openingWords
			break
		}
	}
	heading, at := "", 0 // the last one before a part, which are asked for in turn
	p.nameThese(p.All, func(part *Part) string {
		for ; at < int(part.order); at++ {
			if p.All[at].Kind == Heading {
				heading = p.All[at].Text
			}
		}
		return heading
	})
	for _, part := range p.All {
		p.settle(part)
	}
}

// nameThese names parts, given in document order, in an order in which names that others build on are there first.
func (p *Page) nameThese(parts []*Part, headingBefore func(*Part) string) {
	for i := len(parts) - 1; i >= 0; i-- { // from the inside out
		switch part := parts[i]; {
		case part.Kind == Cell:
			part.Name = ""
		case part.Kind == Words && part.Name == openingWords, part.Kind == Table, part.Kind == Set:
		default:
			part.Name = p.name(part)
		}
	}
	for _, part := range parts {
		switch part.Kind {
		case Row:
			nameCells(part)
		case Cell:
			part.Name = first(part.Name, Short(part.Text, 48), "empty cell")
		case Table:
			heading := headingBefore(part)
			if part.Name = heldName(part); part.Name == "" && heading != "" {
				part.Name = "Table under “" + Short(heading, 32) + "”"
			}
			part.Name = first(part.Name, part.Attributes.Get("aria-label"), quoted(Short(part.Text, 36)), "table")
		case Set:
			part.Name = p.setName(part)
		}
	}
}

// settle says which parts carry a set's settings; what is on no part cannot be pointed at.
func (p *Page) settle(part *Part) {
	if len(part.Settings) == 0 {
		return
	}
	var kept []Setting
	for _, s := range part.Settings {
		if on, ok := p.At(s.node); ok {
			s.Part = on.ID
			kept = append(kept, s)
		}
	}
	part.Settings = kept
}

// Quoted is a part's name in quotes, of which it may have its own.
func Quoted(name string) string {
	if strings.HasPrefix(name, "“") {
		return name
	}
	return quoted(name)
}

func quoted(s string) string {
	if s == "" {
		return ""
	}
	return "“" + s + "”"
}

// name is what a person calls the part.
func (p *Page) name(part *Part) string {
	if part.Half != "" && part.inSet {
		if tab, ok := p.Part(part.Half); ok && tab.Text != "" {
			return Short(strings.ReplaceAll(tab.Text, "\n", " "), 48)
		}
	}
	switch part.Kind {
	case Heading, Link, Button:
		if part.Text != "" {
			return Short(part.Text, 48)
		}
		for _, k := range part.Parts {
			if k.Kind == Picture {
				return p.name(k)
			}
		}
		if said := first(part.Attributes.Get("aria-label"), part.Attributes.Get("title")); said != "" {
			return Short(said, 48)
		}
		return Short(first(iconName(part), string(part.Kind)), 48)
	case Picture:
		return pictureName(part)
	case Row:
		return Short(first(rowHead(part), "row"), 48)
	case Words:
		if part.Node.Is("figcaption") && part.Run == nil {
			return "Caption “" + Short(part.Text, 30) + "”"
		}
		return quoted(Short(withoutCodes(part), 36))
	case Video, Embed:
		return Short(first(part.Attributes.Get("title"), part.Attributes.Get("aria-label"), fileName(part.Attributes.Get("src")), string(part.Kind)), 48)
	case Form:
		return "Form" + formFields(part)
	}
	return p.wrapperName(part)
}

// withoutCodes is the text of words less the codes of other programs in it, unless nothing else stands there.
func withoutCodes(part *Part) string {
	if len(part.Tokens) == 0 {
		return part.Text
	}
	s := part.Text
	for _, code := range part.Tokens {
		s = strings.Replace(s, code, " ", 1)
	}
	return first(s, part.Text)
}

func pictureName(part *Part) string {
	switch {
	case part.Background:
		return Short(first(fileName(part.Attributes.Get("src")), "picture"), 36) + ", background"
	case part.Node.Is("source"):
		return Short(first(fileName(part.Attributes.Get("srcset")), "picture"), 36) + ", for " + first(part.Attributes.Get("media"), part.Attributes.Get("type"), "other screens")
	}
	name := part.Attributes.Get("alt")
	if IsToCome(PictureAddress(part)) {
		name = first(name, "picture to come")
	}
	for _, address := range PictureAddresses {
		name = first(name, fileName(part.Attributes.Get(address)))
	}
	return Short(first(name, "picture without a file"), 48)
}

// formFields names the fields of a form by their labels.
func formFields(part *Part) string {
	var labels []string
	part.Node.Walk(func(n *source.Node) bool {
		if n.Is("label") && len(labels) < 4 {
			s := ""
			n.Walk(func(k *source.Node) bool {
				if k.IsText() {
					s += k.HTML.Data
				}
				return !k.Is("select", "textarea")
			})
			if s = strings.TrimRight(collapse(s), ":* "); s != "" {
				labels = append(labels, Short(s, 20))
			}
		}
		return true
	})
	if len(labels) == 0 {
		return ""
	}
	return ": " + strings.Join(labels, ", ")
}

// wrapperName names a section, item and the like by the heading in it.
func (p *Page) wrapperName(part *Part) string {
	if part.Run != nil { // a question with its answer, a term with what is said of it
		return first(Short(p.text.of(part.Run[0]), 48), string(part.Kind))
	}
	tag := part.Node.Tag()
	if as := frames(part.Node); as != "" && part.Kind == Section {
		tag = as
	}
	switch tag {
	case "nav":
		return "Menu"
	case "footer":
		if part.Parent == nil || part.Parent.Kind != Section || part.Parent.Node.Is("main") {
			return "Footer"
		}
	case "header":
		if part.Parent == nil {
			return "Page header"
		}
	case "main":
		return "Whole content"
	}
	if link, ok := entryLink(part.Node); ok { // not by the entries below it
		return quoted(Short(p.text.of(link), 36))
	}
	if name := first(heldName(part), part.Attributes.Get("aria-label"), part.Attributes.Get("title"), pictured(part)); name != "" {
		return name
	}
	if part.Text == "" && len(part.Parts) > 0 {
		return part.Parts[0].Name
	}
	if part.Text != "" {
		return quoted(Short(part.Text, 36))
	}
	return first(iconName(part), string(part.Kind))
}

// iconName is what a link or button without words is called by: where it leads to on another site, or the class of its
// icon.
func iconName(part *Part) string {
	if u, err := url.Parse(part.Attributes.Get("href")); err == nil && u.Host != "" {
		return strings.TrimPrefix(u.Host, "www.")
	}
	name := ""
	part.Node.Walk(func(n *source.Node) bool {
		for _, class := range strings.Fields(classOf(n)) {
			if m := iconClass.FindStringSubmatch(class); name == "" && m != nil && !iconSizes[m[1]] {
				name = m[1]
			}
		}
		return name == ""
	})
	return name
}

// iconClass is a class that draws an icon, as icon fonts name them: a short word of the font's, and what it shows
// (common practice, no source).
var (
	iconClass = regexp.MustCompile(`^(?:fa|bi|icon|icons|nc|ni|glyphicon|ti|mdi|feather|lnr|ion)-([a-z][a-z0-9-]{1,24})$`)
	iconSizes = words("fw lg xs sm 2x 3x ul li spin feature icon social")
)

// heldName is the first heading or caption in a part.
func heldName(part *Part) string {
	for _, k := range part.Parts {
		if (k.Kind == Heading || k.Node.Is("caption")) && k.Text != "" {
			return Short(k.Text, 48)
		}
		if k.Kind.Whole() {
			if name := heldName(k); name != "" {
				return name
			}
		}
	}
	return ""
}

// pictured names an item without words by its picture.
func pictured(part *Part) string {
	if part.Text != "" {
		return ""
	}
	for _, k := range part.Parts {
		if k.Kind == Picture && !k.Node.Is("source") {
			return k.Name
		}
		if name := pictured(k); name != "" {
			return name
		}
	}
	return ""
}

func cells(row *Part) (cs []*Part) {
	for _, k := range row.Parts {
		if k.Kind == Cell {
			cs = append(cs, k)
		}
	}
	return cs
}

func rowHead(row *Part) string {
	for _, k := range row.Parts {
		if k.Kind == Cell {
			return k.Text
		}
	}
	return ""
}

// nameCells names the cells of a row by row and column: "Adult, Single".
func nameCells(row *Part) {
	var head []*Part
	if row.Parent != nil {
		for _, r := range row.Parent.Parts {
			if r.Kind == Row {
				if r != row {
					head = cells(r)
				}
				break
			}
		}
	}
	all := cells(row)
	for at, cell := range all {
		if at == 0 || cell.Node.Is("th") {
			continue
		}
		name, column := Short(all[0].Text, 32), ""
		if at < len(head) && head[at].Node.Is("th") {
			column = Short(head[at].Text, 24)
		}
		switch {
		case column != "" && name != "":
			cell.Name = name + ", " + column
		case column != "":
			cell.Name = column
		case head == nil && !all[0].Node.Is("th"):
		case len(all) > 2 && name != "":
			cell.Name = fmt.Sprintf("%s, column %d", name, at+1)
		default:
			cell.Name = first(name, fmt.Sprintf("cell %d", at+1))
		}
	}
}

func fileName(src string) string {
	if strings.HasPrefix(src, "data:") || src == "" {
		return ""
	}
	if i := strings.IndexAny(src, "?#, "); i > 0 {
		src = src[:i]
	}
	return path.Base(src)
}

func first(ss ...string) string {
	for _, s := range ss {
		if strings.TrimSpace(s) != "" {
			return s
		}
	}
	return ""
}
