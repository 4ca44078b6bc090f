package act

import (
	"fmt"
	"regexp"
	"slices"
	"strings"

	"mendry/internal/core/change"
	"mendry/internal/core/page"
	"mendry/internal/core/source"
	"mendry/internal/core/thread"
)

// Style puts a style of the site on a part, or takes it off.
type Style struct {
	Part  string `json:"part"`
	Class string `json:"class"`
}

var _ = register("style", func() Act { return &Style{} })

var className = regexp.MustCompile(`^-?[A-Za-z_][\w-]*$`)

// Dressed reports whether a part can carry a style of its own.
func Dressed(p *page.Page, part *page.Part) bool {
	return part.Locked == "" && part.Run == nil && part.Placed() && part.Kind.HasWords() && p.Doc.Format != source.Markdown
}

func (a *Style) do(w *work) error {
	defer w.goIn()
	return w.keep(a, a.Part)
}

func (a *Style) goesOn(d *thread.Draft, k int) bool {
	op := d.Kept[k].Step[0].Op
	return op.Op == change.SetAttribute && op.Name == "class"
}

func (a *Style) edit(w *work, at place) (edit, error) {
	if !className.MatchString(a.Class) || !Dressed(at.draft.Page(), at.now) {
		return edit{}, refuse("“%s” can carry no such style.", at.part.Name)
	}
	does, err := w.rest.Style(at.draft, at.now, a.Class)
	if err != nil {
		return edit{}, err
	}
	have := strings.Fields(at.now.Attributes.Get("class"))
	say := "gets the style “%s” (%s)"
	if i := slices.Index(have, a.Class); i >= 0 {
		have = slices.Delete(have, i, i+1)
		say = "loses the style “%s” (%s)"
	} else {
		have = append(have, a.Class)
	}
	op := change.Op{Op: change.SetAttribute, Part: at.part.ID, Name: "class"}
	if value := strings.Join(have, " "); value != "" {
		op.Value = &value
	}
	return edit{
		kind: OfSection, part: at.part, name: at.part.Name, before: at.part.Text, after: at.part.Text,
		say: fmt.Sprintf("%s "+say, page.Quoted(at.part.Name), a.Class, does), ops: []change.Op{op},
	}, nil
}
