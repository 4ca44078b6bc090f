package act

import (
	"mendry/internal/core/change"
	"mendry/internal/core/page"
	"mendry/internal/core/picture"
	"mendry/internal/core/refusal"
	"mendry/internal/core/style"
	"mendry/internal/core/thread"
)

// No is an act on a part that would be refused.
type No struct {
	Do  string // the act
	How string // which of its ways: where a move goes, what becomes of a table
	Why string // in words
}

// Refused tries the acts on a part as a whole that a person is offered, and tells which of them would be refused, and
// why, so that it is said before. Nothing is kept. Of a part that is not on the draft, nothing is told.
func Refused(d *thread.Draft, id string) ([]No, error) {
	no := []No{}
	part, ok := d.Page().Part(id)
	if !ok || part.Locked != "" || d.Conflict != nil {
		return no, nil
	}
	tries := []tried{{"copy", "", &Copy{Part: id}}, {"remove", "", &Remove{Part: id}}}
	if part.Kind == page.Cell {
		tries = tries[:0]
		for _, t := range []change.TableAct{change.RowAbove, change.RowBelow, change.RowOut, change.ColumnBefore, change.ColumnAfter, change.ColumnOut} {
			tries = append(tries, tried{"table", string(t), &Table{Part: id, Table: t}})
		}
	} else if before, after := d.Page().Beside(d.Page().Whole(part)); part.Placed() {
		if before != nil {
			tries = append(tries, tried{"move", string(change.Before), &Move{Part: id, Anchor: before.ID, Where: change.Before}})
		}
		if after != nil {
			tries = append(tries, tried{"move", string(change.After), &Move{Part: id, Anchor: after.ID, Where: change.After}})
		}
		if change.Splits(part) {
			tries = append(tries, tried{"table", string(newTable), &Table{Part: id, Table: newTable}})
		}
	}
	if part.Kind == page.Picture {
		tries = append(tries, tried{"picture", "", &Picture{Part: id, Attachment: 1}})
	}
	for _, t := range tries {
		_, err := Do(d, t.act, anyFile{})
		if why := refusal.Of(err); why != nil {
			no = append(no, No{t.do, t.how, why.Say})
		} else if err != nil {
			return no, err
		}
	}
	return no, nil
}

// tried is an act with the way in which it is done.
type tried struct {
	do, how string
	act     Act
}

// anyFile stands for whatever picture will be chosen.
type anyFile struct{ Rest }

func (anyFile) Picture(Pick, string, []File, int64) (File, error) {
	return File{Path: "picture", Src: "picture", Width: 1, Height: 1}, nil
}

func (anyFile) Behind(*page.Page, *page.Part) (b style.Behind, src string, ok bool) {
	return b, "", false
}

func (anyFile) Known(string) (picture.Info, bool) { return picture.Info{}, false }
