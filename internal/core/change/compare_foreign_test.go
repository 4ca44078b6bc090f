package change_test

import (
	"regexp"
	"strings"
	"testing"

	"mendry/internal/core/change"
	"mendry/internal/core/page"
)

var anyLink = regexp.MustCompile(`</?a\b[^>]*>`)

// One act is one change, and nothing else differs: on pages that nobody here wrote.
func TestOneActIsOneChangeOnPagesOfOthers(t *testing.T) {
	forms := []change.Form{"p", "h2", "h4", "quote", "bullets"}
	acts := []change.TableAct{change.ColumnOut, change.ColumnBefore, change.RowOut, change.RowBelow}
	tried, one, outside := map[string]int{}, map[string]int{}, map[string]int{}
	for _, p := range pool(t) {
		try := func(kind string, part *page.Part, ops []change.Op, err error) {
			if err != nil {
				return
			}
			r, err := change.Apply(p, ops)
			if err != nil {
				return
			}
			d := change.Compare(p, r.Page)
			if d.Same {
				return
			}
			tried[kind]++
			if len(d.All()) == 1 {
				one[kind]++
			}
			if d.OutsideSame {
				outside[kind]++
			}
		}
		for i, part := range p.All {
			if part.Locked != "" || !part.Kind.HasWords() {
				continue
			}
			switch part.Kind {
			case page.Heading, page.Words:
				f := forms[i%len(forms)]
				try("form", part, []change.Op{{Op: change.Recast, Part: part.ID, Form: f}}, nil)
			case page.Cell:
				ops, err := change.TableOps(p, part, acts[i%len(acts)])
				try(strings.SplitN(string(acts[i%len(acts)]), "-", 2)[0], part, ops, err)
			case page.Button:
				long := "More words than a button has, enough of them for a whole line and then some more of them"
				try("button", part, []change.Op{{Op: change.SetWords, Part: part.ID, HTML: long}}, nil)
			}
			if strings.Contains(part.HTML, "<a") && part.Kind != page.Link {
				raw := p.Doc.Markup(p.Doc.Bytes[part.InnerStart:part.InnerEnd])
				try("link", part, []change.Op{{Op: change.SetWords, Part: part.ID, HTML: anyLink.ReplaceAllString(raw, "")}}, nil)
			}
		}
	}
	for kind, n := range tried {
		t.Logf("%s: %d tried, %d one change, %d the same outside", kind, n, one[kind], outside[kind])
		if 100*one[kind] < 99*n || 100*outside[kind] < 95*n {
			t.Errorf("%s: of %d acts %d are told as one, and %d leave what is outside as it was", kind, n, one[kind], outside[kind])
		}
	}
}
