package act

import (
	"strings"

	"mendry/internal/core/change"
	"mendry/internal/core/page"
	"mendry/internal/core/thread"
)

// Words gives a part plain words; they go into the markup that is there.
type Words struct {
	Part  string `json:"part"`
	Words string `json:"words"`
}

var _ = register("words", func() Act { return &Words{} })

func (a *Words) do(w *work) error { return w.keep(a, a.Part) }

func (a *Words) renames() {}

func (a *Words) goesOn(d *thread.Draft, k int) bool { return wordsGoOn(d, k) }

func (a *Words) inner(d *thread.Draft, now *page.Part) (string, error) {
	return change.Retext(d.Page(), now, a.Words)
}

func (a *Words) edit(_ *work, at place) (edit, error) {
	markup, err := change.Retext(at.base, at.part, a.Words)
	e := setWords(at.part, markup)
	e.after = strings.TrimSpace(a.Words)
	return e, err
}

// wordsGoOn reports whether words go on in step k: it gave a part words, or put the part in.
func wordsGoOn(d *thread.Draft, k int) bool {
	op := d.Kept[k].Step[0].Op.Op
	return op == change.SetWords || op == change.Insert && d.PutOne(k)
}

func setWords(part *page.Part, markup string) edit {
	return edit{
		kind: OfWords, part: part, name: part.Name, before: part.Text,
		ops: []change.Op{{Op: change.SetWords, Part: part.ID, HTML: markup}},
	}
}
