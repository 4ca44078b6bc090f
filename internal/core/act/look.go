package act

import (
	"fmt"
	"slices"
	"strings"

	"mendry/internal/core/change"
	"mendry/internal/core/page"
	"mendry/internal/core/source"
	"mendry/internal/core/style"
	"mendry/internal/core/thread"
)

// Look makes a part look as the site itself makes others look, or no longer so: what is behind it, the colour of its
// words, its letters, the space around it, a shadow, how it appears.
type Look struct {
	Part   string `json:"part"`
	Choice string `json:"choice"` // by the key of one that the site has for the part
	Off    bool   `json:"off,omitempty"`
}

var _ = register("look", func() Act { return &Look{} })

// Dressed reports whether a part has an element that can carry a look.
func Dressed(p *page.Page, part *page.Part) bool {
	return part.Locked == "" && part.Run == nil && part.Placed() && !part.Background && p.Doc.Format == source.HTML &&
		(part.Kind.HasWords() || part.Kind == page.Section || part.Kind == page.Item || part.Kind == page.Set)
}

// looking is a Look under way: the choices of the part as they are on the draft.
type looking struct {
	Look
	all    []style.Choice
	choice style.Choice
}

func (a *Look) do(w *work) error { return (&looking{Look: *a}).do(w) }

func (a *looking) do(w *work) error {
	part, err := w.pointed(a.Part)
	if err != nil {
		return err
	}
	if !Dressed(w.draft.Page(), part) {
		return refuse("“%s” has no look of its own that could be changed.", part.Name)
	}
	if a.all, err = w.rest.Looks(w.draft.Page(), part); err != nil {
		return err
	}
	i := slices.IndexFunc(a.all, func(c style.Choice) bool { return c.Key() == a.Choice })
	if i < 0 {
		return refuse("The site has no such look for “%s”. Its looks were read again.", part.Name)
	}
	a.choice = a.all[i]
	defer w.stay(w.draft, part)
	return w.keep(a, a.Part)
}

// goesOn: what was chosen in the place of what competes with it is another wording of the same change.
func (a *looking) goesOn(d *thread.Draft, k int) bool {
	s := d.Kept[k].Step
	if len(s) != 1 || s[0].Op.Op != change.Dress && s[0].Op.Op != change.SetAttribute || s[0].Name != a.choice.Attribute() || staysAt(d, k) {
		return false
	}
	return slices.ContainsFunc(a.all, func(c style.Choice) bool {
		same := c.Key() == a.choice.Key() || c.Competes(a.choice)
		return same && (s[0].Value != nil && *s[0].Value == c.Worn() || slices.Contains(s[0].Without, c.Worn()) || slices.Contains(s[0].Without, c.Name))
	})
}

func (a *looking) edit(w *work, at place) (edit, error) {
	op := change.Op{Op: change.Dress, Part: at.part.ID, Name: a.choice.Attribute()}
	if !a.Off {
		value := a.choice.Worn()
		op.Value = &value
	}
	was := ""
	switch a.choice.By {
	case style.ByAttribute:
		op.Op = change.SetAttribute
		was = at.part.Attributes.Get(a.choice.Name)
	case style.ByStyle:
		op.Without = []string{a.choice.Name}
	default:
		have := strings.Fields(at.part.Attributes.Get("class"))
		var called []string
		for _, class := range a.choice.Rivals(a.all, a.Off) {
			if slices.Contains(have, class) {
				op.Without = append(op.Without, class)
				called = append(called, style.Choice{By: style.ByClass, Value: class}.Called())
			}
		}
		was = strings.Join(called, ", ")
	}
	before, after := was, a.choice.Called()
	if a.Off {
		before, after = a.choice.Called(), ""
	}
	if a.choice.By == style.ByStyle && before == "" {
		before = declared(at.part.Attributes.Get("style"), a.choice.Name)
	}
	name := aspectSays(a.choice.Aspect)
	e := edit{
		kind: OfSection, part: at.part, name: name + ", " + at.part.Name, before: before, after: after, ops: []change.Op{op},
		say: fmt.Sprintf("%s of %s: %s instead of %s", name, at.part.Name, orNone(after), orNone(before)),
	}
	return e, nil
}

// declared is what a style attribute says of a property.
func declared(attribute, property string) string {
	for _, d := range style.Declarations(attribute) {
		if d.Property == property {
			return d.Value
		}
	}
	return ""
}

func orNone(words string) string {
	if words == "" {
		return "none of its own"
	}
	return words
}

// aspectSays is what a side of the look is called.
func aspectSays(a style.Aspect) string {
	return map[style.Aspect]string{
		style.Ground: "Background", style.Ink: "Colour of the words", style.Letters: "Letters", style.Space: "Space", style.Shadow: "Shadow",
		style.Motion: "Motion",
	}[a]
}
