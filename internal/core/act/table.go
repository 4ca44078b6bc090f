package act

import (
	"fmt"

	"mendry/internal/core/change"
	"mendry/internal/core/page"
)

// Table changes the rows and columns of the table that a part is in, or puts a new one below the part.
type Table struct {
	Part  string          `json:"part"`
	Table change.TableAct `json:"table"`
}

var _ = register("table", func() Act { return &Table{} })

// newTable is the one that makes a table.
const newTable change.TableAct = "new"

var tableSays = map[change.TableAct]string{
	change.RowAbove: "new row above", change.RowBelow: "new row below", change.RowOut: "row taken out",
	change.ColumnBefore: "new column before", change.ColumnAfter: "new column after", change.ColumnOut: "column taken out",
}

func (a *Table) do(w *work) error {
	part, err := w.pointed(a.Part)
	if err != nil {
		return err
	}
	defer w.goIn()
	p := w.draft.Page()
	e := edit{kind: OfSection, name: part.Name, before: part.Text}
	if a.Table == newTable {
		e.name, e.before = part.Name, ""
		e.say = fmt.Sprintf("New table after %s", page.Quoted(part.Name))
		e.ops = []change.Op{{Op: change.Insert, Anchor: part.ID, Where: change.After, HTML: change.NewTable(p)}}
		return w.settle(-1, p, e)
	}
	if e.ops, err = change.TableOps(p, part, a.Table); err != nil {
		return err
	}
	e.around = change.TableOf(part)
	e.say = fmt.Sprintf("%s: %s, at %s", e.around.Name, tableSays[a.Table], page.Quoted(part.Name))
	return w.settle(-1, p, e)
}
