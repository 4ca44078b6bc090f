package change

import (
	"bytes"
	"sort"
	"strings"

	"mendry/internal/core/diff"
	"mendry/internal/core/page"
	"mendry/internal/core/refusal"
)

// ErrBuiltUpon is what Revert refuses with where a later change stands in the place of the one to be taken back.
var ErrBuiltUpon = refusal.New(refusal.Rule, "A later change stands in the same place. Take that one back first.")

// Revert takes one change back on a page that was changed further since. undo is what Apply gave for the change, later
// what it gave for each change after it, in order; the last of them made now. The error is ErrBuiltUpon, or another
// *refusal.Refusal.
func Revert(now *page.Page, undo []Op, later ...[]Op) (*Result, error) {
	moved, err := reverting(now, undo, later)
	if err != nil {
		return nil, err
	}
	r, err := Apply(now, moved)
	if err != nil {
		return nil, err
	}
	if torn(r.Page) > torn(now) {
		return nil, refuse("Without this change the page would be broken: a later change builds upon it. Take that one back first.")
	}
	return r, nil
}

// reverting is undo, with its offsets where its bytes stand now.
func reverting(now *page.Page, undo []Op, later [][]Op) ([]Op, error) {
	maps := make([]Map, len(later))
	for i, step := range later {
		maps[i] = MapOf(step)
	}
	moved := make([]Op, len(undo))
	for i, u := range undo {
		start, end := u.At, u.At+len(u.Gone)
		for _, m := range maps {
			var ok bool
			if start, end, ok = m.Range(start, end); !ok {
				return nil, ErrBuiltUpon
			}
		}
		moved[i] = Op{Op: PutBack, At: start, Gone: u.Gone, Back: u.Back}
		if end > len(now.Doc.Bytes) || !bytes.Equal(now.Doc.Bytes[start:end], u.Gone) {
			return nil, ErrBuiltUpon
		}
	}
	sort.SliceStable(moved, func(i, j int) bool { return moved[i].At < moved[j].At })
	return moved, nil
}

func torn(p *page.Page) (n int) {
	for _, node := range p.Doc.Nodes {
		if node.Torn {
			n++
		}
	}
	return n
}

// Steps tells a change that others made, of which only both versions are known, as Apply would have told what undoes
// it.
func Steps(before, after *page.Page) (undo []Op) {
	a, b := before.Doc.Pieces(), after.Doc.Pieces()
	i, j, at := 0, 0, 0
	for _, op := range diff.Script(a, b) {
		switch op.Is {
		case diff.Same:
			for _, s := range b[j : j+op.N] {
				at += len(s)
			}
			i, j = i+op.N, j+op.N
		case diff.Gone:
			undo = append(undo, Op{Op: PutBack, At: at, Back: []byte(strings.Join(a[i:i+op.N], ""))})
			i += op.N
		case diff.New:
			gone := []byte(strings.Join(b[j:j+op.N], ""))
			if n := len(undo) - 1; n >= 0 && undo[n].At == at && undo[n].Gone == nil {
				undo[n].Gone = gone
			} else {
				undo = append(undo, Op{Op: PutBack, At: at, Gone: gone})
			}
			at += len(gone)
			j += op.N
		}
	}
	return undo
}
