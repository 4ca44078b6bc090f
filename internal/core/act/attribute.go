package act

import (
	"mendry/internal/core/change"
	"mendry/internal/core/link"
	"mendry/internal/core/page"
	"mendry/internal/core/thread"
)

// Attribute sets a property of a part: a picture's alternative text or title, a link's target or title.
type Attribute struct {
	Part  string `json:"part"`
	Name  string `json:"name"`
	Words string `json:"words"`
}

var _ = register("attribute", func() Act { return &Attribute{} })

func (a *Attribute) do(w *work) error { return w.keep(a, a.Part) }

func (a *Attribute) goesOn(d *thread.Draft, k int) bool {
	s := d.Kept[k].Step
	return s[0].Op.Op == change.SetAttribute && len(s) == 1 && s[0].Name == a.Name && !staysAt(d, k)
}

func (a *Attribute) edit(_ *work, at place) (edit, error) {
	part := at.part
	switch {
	case a.Name == "alt" && part.Kind == page.Picture:
	case a.Name == "href" && part.Node.Is("a"):
		if err := followable(a.Words); err != nil {
			return edit{}, err
		}
	case a.Name == "title" && (part.Kind == page.Picture || part.Node.Is("a")):
	default:
		return edit{}, refuse("A %s has no %s.", part.Kind, a.Name)
	}
	label := map[string]string{"alt": "alternative text", "href": "target", "title": "title"}[a.Name]
	return edit{
		kind: OfWords, part: part, name: part.Name + ", " + label, before: part.Attributes.Get(a.Name), after: a.Words,
		ops: []change.Op{{Op: change.SetAttribute, Part: part.ID, Name: a.Name, Value: &a.Words}},
	}, nil
}

// followable refuses an address that leads nowhere a visitor can go, as a script's.
func followable(href string) error {
	if kind, _, _ := link.Of("http://site.example/", "/", href); kind == link.Other {
		return refuse("“%s” is no address that a visitor can follow.", href)
	}
	return nil
}

// asItIs is an operation that leaves an attribute as it is. It takes an earlier wording of a change out; of a change
// that brings a file it says where the file belongs, while the page stays.
func asItIs(part *page.Part, name string) change.Op {
	op := change.Op{Op: change.SetAttribute, Part: part.ID, Name: name}
	if value, has := part.Attributes.Lookup(name); has {
		op.Value = &value
	}
	return op
}
