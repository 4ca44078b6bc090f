package act

import (
	"fmt"
	"slices"

	"mendry/internal/core/change"
	"mendry/internal/core/page"
)

// Restore brings back what an earlier version of the page had: all of it, one part or section, or what stood in the
// place of one difference.
type Restore struct {
	Version int64  `json:"version"`
	Part    string `json:"part,omitempty"` // of the draft: it becomes what it was
	Row     string `json:"row,omitempty"`  // by RowKey, a difference between that version and the draft
}

var _ = register("restore", func() Act { return &Restore{} })

// RowKey names a difference between two versions of a page among all of them.
func RowKey(d change.Diff) string {
	state := "changed"
	switch {
	case len(d.Was) == 0 && len(d.Now) > 0:
		state = "new"
	case len(d.Now) == 0 && len(d.Was) > 0:
		state = "gone"
	}
	return fmt.Sprintf("%s %s %s", d.Kind, state, d.Part)
}

func (a *Restore) do(w *work) error {
	then, since, err := w.rest.Version(a.Version)
	if err != nil {
		return err
	}
	defer w.takeUp()
	p := w.draft.Page()
	if a.Part == "" && a.Row == "" {
		ops, err := change.Restore(p, then)
		if err != nil {
			return err
		}
		if len(ops) == 0 {
			return refuse("The draft is as the page was then.")
		}
		return w.settle(-1, p, edit{
			kind: OfSection, name: "The page", ops: ops, say: "The whole page is as it was " + since,
			markup: &[2]string{"", ""},
		})
	}
	d, err := a.difference(w, then)
	if err != nil {
		return err
	}
	if d.Kind == "facts" {
		return w.keep(&Fact{Name: d.Part, Words: d.Before}, "")
	}
	ops, err := change.RestorePart(p, then, d)
	if err != nil {
		return err
	}
	e := edit{kind: kindOf(d), name: d.Name, before: d.After, after: d.Before, ops: ops, say: fmt.Sprintf("%s is as it was %s", d.Name, since)}
	e.markup = &[2]string{markupOf(d.Now), markupOf(d.Was)}
	if d.Kind == "words" && len(d.Now) == 1 && len(d.Was) == 1 {
		e.before, e.after = d.Now[0].Text, d.Was[0].Text
	}
	if err := w.settle(-1, p, e); err != nil {
		return err
	}
	return w.noWorse(p, then)
}

func kindOf(d change.Diff) Kind {
	if d.Kind == "words" {
		return OfWords
	}
	return OfSection
}

func markupOf(parts []*page.Part) string {
	if len(parts) == 0 {
		return ""
	}
	return parts[0].HTML
}

// difference is what is to be brought back.
func (a *Restore) difference(w *work, then *page.Page) (d change.Diff, err error) {
	p := w.draft.Page()
	if a.Row != "" {
		all := change.Compare(then, p).Changes
		i := slices.IndexFunc(all, func(d change.Diff) bool { return RowKey(d) == a.Row })
		if i < 0 {
			return d, errGone()
		}
		return all[i], nil
	}
	part, err := w.pointed(a.Part)
	if err != nil {
		return d, err
	}
	was := change.Then(p, then, part)
	if was == nil {
		return d, refuse("“%s” did not stand on the page then, or it cannot be told which part it was.", part.Name)
	}
	if was.HTML == part.HTML {
		return d, refuse("“%s” is as it was then.", part.Name)
	}
	d = change.Between(was, part)
	d.Was, d.Now = []*page.Part{was}, []*page.Part{part}
	if part.Kind == page.Section {
		d.Kind, d.Before, d.After = "section", was.HTML, part.HTML
	}
	return d, nil
}
