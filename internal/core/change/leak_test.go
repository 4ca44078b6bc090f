package change

import (
	"errors"
	"strings"
	"testing"

	"mendry/internal/core/refusal"
)

// What would be read differently beside a part is named, with what can be done instead.
func TestARefusalNamesWhatWouldBeReadDifferently(t *testing.T) {
	for _, tt := range []struct{ page, part, want string }{
		{`<main><p>One <b>bold<p>Two</b> and more</p><p>Three</p></main>`, "One bold", "“Two and more” would be read differently too"},
		{`<main><ul><li>One<li><i>Two<li>Three</ul><p>Four</p></main>`, "Two", "“Three” would be read differently too"},
	} {
		p := parse(t, tt.page)
		for _, q := range p.All {
			if q.Text != tt.part || !q.Kind.HasWords() {
				continue
			}
			for _, op := range []Op{{Op: SetWords, Part: q.ID, HTML: "Other"}, {Op: Remove, Part: q.ID}} {
				_, err := Apply(p, []Op{op})
				if !errors.Is(err, ErrLeak) || refusal.Of(err) == nil || !strings.Contains(err.Error(), tt.want) {
					t.Errorf("%s %s: %v", op.Op, q.Text, err)
				}
			}
		}
	}
}
