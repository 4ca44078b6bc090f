package act

import (
	"fmt"
	"slices"

	"mendry/internal/core/change"
	"mendry/internal/core/page"
	"mendry/internal/core/thread"
)

// Icon puts another icon of the site in the place of one in a part.
type Icon struct {
	Part   string `json:"part"`
	At     int    `json:"at"`     // which of the part's icons, from 0
	Choice string `json:"choice"` // by the key of one that the site has
}

// Icons are the icons in a part, and those that may take the place of one of them.
type Icons struct {
	In  []page.Icon
	For func(page.Icon) []page.Icon
}

var _ = register("icon", func() Act { return &Icon{} })

func (a *Icon) do(w *work) error {
	part, err := w.pointed(a.Part)
	if err != nil {
		return err
	}
	defer w.stay(w.draft, part)
	return w.keep(a, a.Part)
}

// goesOn: another icon in the place of one that was just chosen is the same change.
func (a *Icon) goesOn(d *thread.Draft, k int) bool {
	s := d.Kept[k].Step
	return len(s) == 1 && s[0].Op.Op == change.Redraw && s[0].At == a.At
}

func (a *Icon) edit(w *work, at place) (edit, error) {
	icons, err := w.rest.Icons(at.base, at.part)
	if err != nil {
		return edit{}, err
	}
	if a.At < 0 || a.At >= len(icons.In) {
		return edit{}, refuse("“%s” has no such icon.", at.part.Name)
	}
	was := icons.In[a.At]
	choices := icons.For(was)
	i := slices.IndexFunc(choices, func(c page.Icon) bool { return c.Key() == a.Choice })
	if i < 0 {
		return edit{}, refuse("The site has no such icon. The list was loaded again.")
	}
	ordinal := 0
	for _, other := range icons.In[:a.At] {
		if other.Markup == was.Markup {
			ordinal++
		}
	}
	now := was.As(at.base.Doc, choices[i])
	before, after := named(was), named(choices[i])
	return edit{
		kind: OfSection, part: at.part, name: "Icon, " + at.part.Name, before: before, after: after,
		say: fmt.Sprintf("Icon of %s: %s instead of %s", at.part.Name, after, before),
		ops: []change.Op{{Op: change.Redraw, Part: at.part.ID, At: ordinal, Gone: []byte(was.Markup), HTML: now}},
	}, nil
}

func named(i page.Icon) string {
	if i.Name == "" {
		return "another drawing"
	}
	return i.Name
}
