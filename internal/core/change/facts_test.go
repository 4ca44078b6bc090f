package change

import (
	"testing"
)

func TestAFactOfAMarkdownPageChangesItsLineAndNothingElse(t *testing.T) {
	t.Parallel()
	for _, c := range []struct{ name, before, fact, value, after string }{
		{"in place", "---\ntitle: Old # why\ndate: 2026-01-01\n---\n# x\n", "title", "New", "---\ntitle: New # why\ndate: 2026-01-01\n---\n# x\n"},
		{"in quotes", "---\r\ntitle: 'It''s old'\r\n---\r\nx\r\n", "title", "It's new", "---\r\ntitle: 'It''s new'\r\n---\r\nx\r\n"},
		{"by another key", "---\nsummary: Old\n---\nx\n", "description", "New: all", "---\nsummary: \"New: all\"\n---\nx\n"},
		{"a new one", "---\r\ntitle: T\r\n---\r\nx\r\n", "description", "D é", "---\r\ntitle: T\r\ndescription: D é\r\n---\r\nx\r\n"},
		{"a key without a value", "---\ntitle:\ndate: 2026-01-01\n---\nx\n", "title", "New", "---\ntitle: New\ndate: 2026-01-01\n---\nx\n"},
		{"the first of all", "x\r\ny\r\n", "title", "New", "---\r\ntitle: New\r\n---\r\n\r\nx\r\ny\r\n"},
		{"the first of all, behind a mark", "\ufeffx\n", "title", "New", "\ufeff---\ntitle: New\n---\n\nx\n"},
		{"emptied", "---\ntitle: Old\n---\nx\n", "title", "", "---\ntitle: \"\"\n---\nx\n"},
	} {
		t.Run(c.name, func(t *testing.T) {
			t.Parallel()
			p := formPage(t, "a.md", c.before)
			r := makes(t, p, c.after, Op{Op: SetFact, Name: c.fact, Value: &c.value})
			if !OutsideFact(p, r.Page, c.fact) {
				t.Error("something else is said to differ")
			}
			if other := formPage(t, "a.md", c.after+"z\n"); OutsideFact(p, other, c.fact) {
				t.Error("what differs elsewhere is passed over")
			}
		})
	}
}

func TestAFactOverSeveralLinesIsKept(t *testing.T) {
	t.Parallel()
	p := formPage(t, "a.md", "---\ntitle: >\n  long\n  title\n---\nx\n")
	value := "New"
	if r, err := Apply(p, []Op{{Op: SetFact, Name: "title", Value: &value}}); err == nil {
		t.Errorf("it became %q", r.Bytes)
	}
}
