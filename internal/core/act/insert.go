package act

import (
	"fmt"
	"strings"

	"mendry/internal/core/change"
	"mendry/internal/core/page"
	"mendry/internal/core/text"
)

// Insert puts cleaned content beside a part.
type Insert struct {
	Part  string       `json:"part"`
	Where change.Where `json:"where"`
	HTML  string       `json:"html"`
}

var _ = register("insert", func() Act { return &Insert{} })

func (a *Insert) do(w *work) error {
	part, err := w.pointed(a.Part)
	if err != nil {
		return err
	}
	allow := text.Everything
	item := part.Node.Is("li")
	if item {
		allow.Headings = ""
	}
	markup, _ := text.Clean(a.HTML, allow)
	plain, _ := text.Plain(markup)
	if strings.TrimSpace(plain) == "" {
		return refuse("There is nothing to put in.")
	}
	if item && !strings.Contains(markup, "<li") {
		markup = "<li>" + strings.NewReplacer("<p>", "", "</p>", "").Replace(markup) + "</li>"
	}
	defer w.goIn()
	return w.settle(-1, w.draft.Page(), putIn(part, a.Where, change.AsWritten(w.draft.Page(), markup), plain))
}

// putAgain is step k, which put in one part, with other words in it.
func (w *work) putAgain(k int, now *page.Part, a rewords) (edit, error) {
	inner, err := a.inner(w.draft, now)
	if err != nil {
		return edit{}, err
	}
	op, _, err := w.draft.Kept[k].Step[0].Find(w.draft.Before(k))
	if err != nil {
		return edit{}, err
	}
	was := op.HTML
	start, end := strings.IndexByte(was, '<'), strings.LastIndex(was, "</")
	if start < 0 || end < start {
		return edit{}, refuse("“%s” is changed in its markup.", now.Name)
	}
	open := start + strings.IndexByte(was[start:], '>') + 1
	plain, _ := text.Plain(inner)
	beside, ok := w.draft.Before(k).Part(op.Anchor)
	if !ok {
		return edit{}, errGone()
	}
	e := putIn(beside, op.Where, was[:open]+inner+was[end:], plain)
	e.say = fmt.Sprintf("New %s %s: “%s”", op.Where, page.Quoted(beside.Name), page.Short(plain, 60))
	return e, nil
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
