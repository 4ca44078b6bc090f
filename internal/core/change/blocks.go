package change

import (
	"strings"

	"mendry/internal/core/page"
	"mendry/internal/core/source"
	"mendry/internal/core/text"
)

// NewWords stand in the cells of a new table until they get their own.
const NewWords = "New words"

// Splits reports whether something can be begun below a part, as below a paragraph.
func Splits(part *page.Part) bool {
	return part.Run == nil && part.Placed() && (part.Kind == page.Heading || part.Kind == page.Words) && part.Node.Is("p", "li", "h1", "h2", "h3", "h4", "h5", "h6")
}

// NewBlock is the markup of a block of a form that is put in before or after a part, with words: dressed as that part
// is where it is of the same form, and on a line of its own where the part has one. Among the items of a list it is an
// item.
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
		gap = p.Doc.Markup(GapBefore(p.Doc, line))
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

// Says reports whether words or a sealed thing stand in what came from an editor.
func Says(edited string) bool {
	plain, _ := text.Plain(edited)
	return strings.TrimSpace(plain) != "" || strings.Contains(edited, "data-seal")
}
