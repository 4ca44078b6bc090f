package act

import (
	"fmt"
	"strings"

	"mendry/internal/core/change"
	"mendry/internal/core/page"
	"mendry/internal/core/text"
)

// Split ends a part at a place in its words and begins a new one below it with what came after; before the first of its
// words it begins one above.
type Split struct {
	Part string `json:"part"`
	HTML string `json:"html"` // the words that stay
	Rest string `json:"rest"` // the words of the new part
}

var _ = register("split", func() Act { return &Split{} })

func (a *Split) do(w *work) error {
	part, err := w.pointed(a.Part)
	if err != nil {
		return err
	}
	if !change.Splits(part) {
		return refuse("Nothing can be begun below “%s”.", part.Name)
	}
	p := w.draft.Page()
	plain, rest, where := "", "", change.After
	if !change.Says(a.HTML) && change.Says(a.Rest) {
		where = change.Before
	} else if change.Says(a.Rest) {
		plain, _ = text.Plain(a.Rest)
		if rest, err = change.Rewrite(p, part, a.Rest); err != nil {
			return err
		}
	}
	markup := change.Begun(p, part, strings.TrimSpace(rest), where)
	if rest != "" {
		if err := w.keep(&Markup{a.Part, a.HTML}, a.Part); err != nil {
			return err
		}
		if part, err = w.pointed(a.Part); err != nil {
			return err
		}
	}
	if err := w.settle(-1, w.draft.Page(), putIn(part, where, markup, plain)); err != nil {
		return err
	}
	if made := w.draft.Made(w.last); made != nil {
		w.made = made.ID
		return nil
	}
	return refuse("Nothing can be begun below “%s”.", part.Name)
}

// putIn is the edit that puts markup beside a part; plain are its words.
func putIn(beside *page.Part, where change.Where, markup, plain string) edit {
	plain = strings.TrimSpace(plain)
	return edit{
		kind: OfSection, name: newName(plain), after: plain,
		say: fmt.Sprintf("New %s %s: “%s”", where, page.Quoted(beside.Name), page.Short(plain, 60)),
		ops: []change.Op{{Op: change.Insert, Anchor: beside.ID, Where: where, HTML: markup}},
	}
}
