package act

import (
	"fmt"

	"mendry/internal/core/change"
	"mendry/internal/core/page"
	"mendry/internal/core/thread"
)

// Fact sets a page fact: title, description, language, canonical address, share picture.
type Fact struct {
	Name  string `json:"name"`
	Words string `json:"words"`
}

var _ = register("fact", func() Act { return &Fact{} })

func (a *Fact) do(w *work) error { return w.keep(a, "") }

func (a *Fact) goesOn(d *thread.Draft, k int) bool {
	op := d.Kept[k].Step[0].Op
	return op.Op == change.SetFact && op.Name == a.Name
}

func (a *Fact) edit(_ *work, at place) (edit, error) {
	return edit{
		kind: OfFacts, name: "Page " + a.Name, before: fact(at.base, a.Name), after: a.Words,
		say: fmt.Sprintf("Page %s: “%s”", a.Name, page.Short(a.Words, 80)),
		ops: []change.Op{{Op: change.SetFact, Name: a.Name, Value: &a.Words}},
	}, nil
}

func fact(p *page.Page, name string) string {
	return map[string]string{
		"title": p.Facts.Title, "description": p.Facts.Description, "lang": p.Facts.Lang,
		"canonical": p.Facts.Canonical, "image": p.Facts.Image,
	}[name]
}
