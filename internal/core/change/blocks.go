package change

import (
	"slices"
	"strings"

	"mendry/internal/core/page"
	"mendry/internal/core/source"
	"mendry/internal/core/text"
)

// NewWords stand in a new part until it gets its own.
const NewWords = "New words"

// Splits reports whether a part can be begun below another one, from its words.
func Splits(part *page.Part) bool {
	return part.Run == nil && part.Placed() && (part.Kind == page.Heading || part.Kind == page.Words) && part.Node.Is("p", "li", "h1", "h2", "h3", "h4", "h5", "h6")
}

// Begun is the markup of a part that is begun before or after another one, with words of it or none: alike, on a line of
// its own where the other one has one. Without words it is a paragraph beside a heading, and NewWords stand in it.
func Begun(p *page.Page, part *page.Part, inner string, where Where) string {
	tag, class := part.Node.Tag(), part.Attributes.Get("class")
	if inner == "" {
		inner = NewWords
		if part.Kind == page.Heading {
			tag, class = "p", ""
		}
	}
	open, gap := "<"+tag, ""
	if p.Doc.Format != source.Markdown {
		gap = p.Doc.Markup(gapBefore(p.Doc, part.Start))
		if class != "" {
			open += ` class="` + escapeAttribute(class) + `"`
		}
	}
	whole := open + ">" + inner + "</" + tag + ">"
	if where == Before {
		return whole + gap
	}
	return gap + whole
}

// NewBlock is the markup of a block of a form that is put in before or after a part, with words: dressed as that part is
// where it is of the same form, and on a line of its own where the part has one. Among the items of a list it is an item.
func NewBlock(p *page.Page, beside *page.Part, form Form, inner string, where Where) string {
	tag, class, gap := forms[form], "", ""
	item := beside.Run == nil && beside.Node.Is("li") && (form == Bullets || form == Numbers || !atEdge(beside, where))
	if item || FormOf(beside) == form {
		class = beside.Attributes.Get("class")
	}
	if p.Doc.Format != source.Markdown {
		line := standing(beside, where, "")[0].Start()
		if item {
			line = beside.Start
		}
		gap = p.Doc.Markup(gapBefore(p.Doc, line))
	} else {
		class = ""
	}
	dressed := func(tag string) string {
		if class == "" {
			return "<" + tag + ">"
		}
		return "<" + tag + ` class="` + escapeAttribute(class) + `">`
	}
	var whole string
	switch {
	case item:
		whole = dressed("li") + inner + "</li>"
	case form == Bullets || form == Numbers:
		whole = "<" + tag + ">" + gap + "<li>" + inner + "</li>" + gap + "</" + tag + ">"
	case form == Quote:
		whole = "<" + tag + "><p>" + inner + "</p></" + tag + ">"
	default:
		whole = dressed(tag) + inner + "</" + tag + ">"
	}
	if where == Before {
		return whole + gap
	}
	return gap + whole
}

// Above finds the block of words with which those of part may be joined: the one right before it, with nothing but white
// space between them. It gives nil where there is none.
func Above(p *page.Page, part *page.Part) *page.Part {
	if part.Locked != "" || !Splits(part) {
		return nil
	}
	before, _ := p.Beside(part)
	if before == nil || before.Locked != "" || !Splits(before) {
		return nil
	}
	kids := part.Node.Parent.Kids
	from, to := slices.Index(kids, before.Node), slices.Index(kids, part.Node)
	for _, k := range kids[from+1 : to] {
		if !k.Blank {
			return nil
		}
	}
	return before
}

// Says reports whether words or a sealed thing stand in what came from an editor.
func Says(edited string) bool {
	plain, _ := text.Plain(edited)
	return strings.TrimSpace(plain) != "" || strings.Contains(edited, "data-seal")
}

// Joined is the inner markup, for SetWords, of the block above part when the words of part, as an editor left them, go
// on in it.
func Joined(p *page.Page, part *page.Part, edited string) (string, error) {
	above := Above(p, part)
	if above == nil {
		return "", refuse("Above %s stands nothing that its words could go on in.", page.Quoted(part.Name))
	}
	first, err := Rewrite(p, above, Editable(p, above))
	if err != nil {
		return "", err
	}
	rest := ""
	if Says(edited) {
		if rest, err = Rewrite(p, part, edited); err != nil {
			return "", err
		}
	}
	rest = strings.Trim(rest, " \t\r\n\f")
	words := strings.TrimRight(first, " \t\r\n\f")
	if words != "" && rest != "" {
		rest = " " + rest
	}
	return words + rest + first[len(words):], nil
}
