package act

import (
	"cmp"
	"fmt"
	"path"
	"strings"

	"mendry/internal/core/change"
	"mendry/internal/core/page"
	"mendry/internal/core/text"
)

// Borrow puts a section of any page of the site beside a part, or into it: with prompts in the place of its words and
// pictures, or as it is there.
type Borrow struct {
	Part    string       `json:"part"`
	Where   change.Where `json:"where,omitempty"` // empty: after
	Page    int64        `json:"page"`
	Of      string       `json:"of"` // the hash of that page's bytes, as whoever chose it saw it
	Section string       `json:"section"`
	Kept    bool         `json:"kept,omitempty"` // with its words and pictures
}

var _ = register("borrow", func() Act { return &Borrow{} })

// Lender is a page of the site with a section that it lends, and the code of the site that both pages may load.
type Lender struct {
	change.At
	Title   string
	Section *page.Part
	Code    func(path string) []byte
}

func (a *Borrow) do(w *work) error {
	anchor, err := w.pointed(a.Part)
	if err != nil {
		return err
	}
	from, err := w.rest.Lender(a.Page, a.Of, a.Section)
	if err != nil {
		return err
	}
	here := change.At{Page: w.draft.Page(), Address: w.rest.Here()}
	where := cmp.Or(a.Where, change.After)
	above, _ := headingsAround(here.Page, anchor, where)
	b, err := change.Borrow(from.At, from.Section, here, above, from.Code, !a.Kept)
	if err != nil {
		return err
	}
	say := fmt.Sprintf(
		"A new section %s %s, built like %s on “%s”",
		where,
		page.Quoted(anchor.Name),
		page.Quoted(from.Section.Name),
		from.Title,
	)
	if a.Kept {
		say = fmt.Sprintf(
			"%s from “%s” stands %s %s too",
			from.Section.Name,
			from.Title,
			where,
			page.Quoted(anchor.Name),
		)
	}
	if len(b.Brings) > 0 {
		var names []string
		for _, p := range b.Brings {
			names = append(names, path.Base(p))
		}
		say += "; with " + strings.Join(names, " and ") + ", which it needs"
	}
	if b.Raised > 0 {
		say += fmt.Sprintf("; its headings are %d higher, so that no level is skipped", b.Raised)
	}
	words, _ := text.Plain(b.HTML)
	name := "New section"
	if a.Kept {
		name = from.Section.Name
	}
	w.lenders = append(w.lenders, from.Page)
	defer w.goIn()
	return w.settle(-1, here.Page, edit{
		kind: OfSection, name: name, after: words, say: say,
		ops: []change.Op{insertOp(here.Page, anchor, where, b.HTML)},
	})
}
