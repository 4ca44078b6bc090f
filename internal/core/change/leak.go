package change

import (
	"bytes"
	"slices"

	"golang.org/x/net/html"

	"mendry/internal/core/page"
	"mendry/internal/core/refusal"
)

// leak is a refusal because of ErrLeak.
type leak struct{ *refusal.Refusal }

func (l leak) Unwrap() error      { return l.Refusal }
func (leak) Is(target error) bool { return target == ErrLeak }

// leaking refuses what would make browsers read more of a page differently than the parts that change: it says which
// part that is, and what can be done instead.
func leaking(p *page.Page, ops []Op, now *page.Page) error {
	what := "The markup around it"
	if q := altered(p, ops, now); q != nil {
		what = page.Quoted(q.Name)
	}
	return leak{refusal.New(refusal.Rule, "%s would be read differently too: a tag on the page is left open or is closed twice, and what it reaches would change. Change fewer words at a time, or mend the markup of what holds them first.", what)}
}

// altered is the first part beside those that change which browsers would make something else of; nil where none is
// found.
func altered(p *page.Page, ops []Op, now *page.Page) *page.Part {
	own := func(q *page.Part) bool {
		return slices.ContainsFunc(ops, func(op Op) bool {
			part, ok := p.Part(op.Part)
			return ok && q.Start < part.End && part.Start < q.End
		})
	}
	after := now.All
	for _, q := range p.All {
		if !q.Kind.HasWords() || own(q) {
			continue
		}
		i := slices.IndexFunc(after, func(r *page.Part) bool { return r.Kind == q.Kind && r.Text == q.Text })
		if i < 0 || !bytes.Equal(asRead(q), asRead(after[i])) {
			return q
		}
		after = after[i+1:]
	}
	return nil
}

// asRead is what browsers make of a part: the names of what it is in, and its tree.
func asRead(q *page.Part) []byte {
	var b bytes.Buffer
	for up := q.Node.HTML.Parent; up != nil; up = up.Parent {
		b.WriteString(up.Data + " ")
	}
	_ = html.Render(&b, q.Node.HTML) // to memory: it fails on no tree that was parsed
	return b.Bytes()
}
