package act

import (
	"cmp"
	"fmt"
	"strings"

	"mendry/internal/core/change"
	"mendry/internal/core/page"
	"mendry/internal/core/source"
	"mendry/internal/core/text"
)

// Starter puts a plain new section beside a part, or into it, with prompts to fill: for sites that have none of the
// kind to borrow from. Its columns stand side by side where there is room and below each other where there is none, by
// a style of its own that touches nothing else.
type Starter struct {
	Part  string       `json:"part"`
	Where change.Where `json:"where,omitempty"` // empty: after
	Kind  page.Sample  `json:"kind"`
}

var _ = register("starter", func() Act { return &Starter{} })

// starters are what each kind is called, and what stands in it below its heading, a line each; "h" is the level below
// its heading's.
var starters = map[page.Sample]struct {
	name  string
	lines []string
}{
	page.SampleWords:  {"words", []string{words}},
	page.SampleBeside: {"a picture beside words", row(column("1 1 18rem", pictureToCome), column("1 1 18rem", words))},
	page.SampleTwo:    {"two columns", row(column("1 1 16rem", words), column("1 1 16rem", words))},
	page.SampleWide:   {"a wide and a narrow column", row(column("2 1 22rem", words), column("1 1 12rem", words))},
	page.SampleThree: {
		"three columns",
		row(column("1 1 14rem", words), column("1 1 14rem", words), column("1 1 14rem", words)),
	},
	page.SampleQuestions: {"questions and answers", []string{
		question, question, question,
	}},
	page.SampleVoices: {"voices", row(voice, voice, voice)},
	page.SampleCall:   {"a call to act", []string{words, `<p><a href="#">` + change.NewButton + `</a></p>`}},
	page.SamplePosts:  {"posts", row(column("1 1 16rem", post), column("1 1 16rem", post), column("1 1 16rem", post))},
}

const (
	words    = "<p>" + change.NewWords + "</p>"
	question = "<details><summary>" + change.NewQuestion + "</summary>\n" + words + "</details>"
	voice    = "<figure style=\"flex:1 1 14rem;min-width:0;margin:0\"><blockquote style=\"margin:0\">" + words + "</blockquote>\n<figcaption>" +
		change.NewName + "</figcaption></figure>"
)

// pictureToCome stands for a picture of the shape that most photographs have, 3:2.
var pictureToCome = fmt.Sprintf(
	`<img src="%s" alt="" width="600" height="400" style="max-width:100%%;height:auto">`,
	change.PromptPicture("600", "400"),
)

var post = pictureToCome + "\n<h>" + change.NewHeading + "</h>\n" + words

// row lays columns side by side: those that have no room fall below the others (CSS Flexible Box 1, 9.3), so that no
// rule for narrow windows is needed.
func row(columns ...string) []string {
	return append(append([]string{`<div style="display:flex;flex-wrap:wrap;gap:1.5rem">`}, columns...), "</div>")
}

func column(flex, inner string) string {
	return fmt.Sprintf(`<div style="flex:%s;min-width:0">`, flex) + "\n" + inner + "\n</div>"
}

func (a *Starter) do(w *work) error {
	anchor, err := w.pointed(a.Part)
	if err != nil {
		return err
	}
	p := w.draft.Page()
	s, ok := starters[a.Kind]
	switch {
	case p.Doc.Format == source.Markdown:
		return refuse("A page in Markdown gets no sections: its site's templates make them. Go on typing below.")
	case !ok:
		return refuse("There is no such beginning.")
	}
	where := cmp.Or(a.Where, change.After)
	level := levelAt(p, anchor, where)
	markup := fmt.Sprintf(
		"<section>\n<h%[1]d>%[2]s</h%[1]d>\n%[3]s\n</section>",
		level,
		change.NewHeading,
		strings.Join(s.lines, "\n"),
	)
	below := fmt.Sprintf("h%d>", min(level+1, 6))
	markup = strings.NewReplacer("<h>", "<"+below, "</h>", "</"+below).Replace(markup)
	plain, _ := text.Plain(markup)
	defer w.goIn()
	return w.settle(-1, p, edit{
		kind: OfSection, name: "New section, " + s.name, after: plain, say: fmt.Sprintf("A new section with %s stands %s %s", s.name, where, page.Quoted(anchor.Name)),
		ops: []change.Op{insertOp(p, anchor, where, markup)},
	})
}

// levelAt is the level of the heading of a section before or after a part: that of the first heading in the part,
// unless it would skip a level after the heading above it, or let the one below skip one.
func levelAt(p *page.Page, part *page.Part, where change.Where) int {
	above, below := headingsAround(p, part, where)
	level := 0
	for _, q := range p.OfKind(page.Heading) {
		if q.Run == nil && q.Start >= part.Start && q.Start < part.End {
			level = page.Level(q.Node)
			break
		}
	}
	if level < 2 {
		level = max(2, above)
	}
	return max(2, min(max(min(level, max(above, 1)+1), below-1), 6))
}

// headingsAround are the levels of the headings above and below a place beside a part; 0 where there is none.
func headingsAround(p *page.Page, part *page.Part, where change.Where) (above, below int) {
	at := part.Start
	if where == change.After {
		at = part.End
	}
	for _, q := range p.OfKind(page.Heading) {
		switch {
		case q.Run != nil:
		case q.Start < at:
			above = page.Level(q.Node)
		case below == 0:
			below = page.Level(q.Node)
		}
	}
	return above, below
}
