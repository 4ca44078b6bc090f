package act

import (
	"fmt"

	"mendry/internal/core/change"
	"mendry/internal/core/page"
	"mendry/internal/core/thread"
)

// Setting gives a set another setting, of those that its markup has.
type Setting struct {
	Part  string `json:"part"` // whose element carries it
	Name  string `json:"name"`
	Key   string `json:"key,omitempty"` // in an attribute that holds several
	Value string `json:"value"`
}

var _ = register("setting", func() Act { return &Setting{} })

func (a *Setting) do(w *work) error { return w.keep(a, a.Part) }

// goesOn: one of several in an attribute is a change of its own each time, since others of them may have been set
// since.
func (a *Setting) goesOn(d *thread.Draft, k int) bool {
	s := d.Kept[k].Step
	return a.Key == "" && len(s) == 1 && s[0].Op.Op == change.SetAttribute && s[0].Name == a.Name && !staysAt(d, k)
}

func (a *Setting) edit(_ *work, at place) (edit, error) {
	set, setting, ok := a.find(at.base, at.part)
	if !ok {
		return edit{}, refuse("“%s” has no setting of this name.", at.part.Name)
	}
	if no := setting.Allows(a.Value); no != "" {
		return edit{}, refuse("%s", no)
	}
	now := setting.With(at.part.Attributes.Get(a.Name), a.Value)
	say, unit := setting.Says()
	with := func(value string) string {
		if unit == "" {
			return value
		}
		return value + " " + unit
	}
	return edit{
		kind: OfSection, part: at.part, name: say + ", " + set.Name, before: with(setting.Value), after: with(a.Value),
		say: fmt.Sprintf("%s: %s instead of %s", say, with(a.Value), with(setting.Value)),
		ops: []change.Op{{Op: change.SetAttribute, Part: at.part.ID, Name: a.Name, Value: &now}},
	}, nil
}

// find finds the setting, and the set that it is of.
func (a *Setting) find(p *page.Page, part *page.Part) (*page.Part, page.Setting, bool) {
	for _, set := range p.OfKind(page.Set) {
		for _, s := range set.Settings {
			if s.Part == part.ID && s.Name == a.Name && s.Key == a.Key {
				return set, s, true
			}
		}
	}
	return nil, page.Setting{}, false
}
