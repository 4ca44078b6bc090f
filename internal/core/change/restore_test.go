package change_test

import (
	"slices"
	"strings"
	"testing"

	"mendry/internal/core/change"
	"mendry/internal/core/page"
)

const then = `<!doctype html>
<html><head><title>Fares</title></head><body>
<h1>Fares</h1>
<p>A single is £6.90.</p>
<section><h2>Dogs</h2><p>On a lead.</p></section>
<section><h2>Bicycles</h2><p>Two each.</p></section>
<p>See you.</p>
</body></html>`

// Each difference brought back alone leaves the others; all of them make the page what it was.
func TestWhatAPageWasComesBackPartByPart(t *testing.T) {
	read := func(s string) *page.Page {
		p, err := page.Parse([]byte(s), "")
		if err != nil {
			t.Fatal(err)
		}
		return p
	}
	old := read(then)
	changes := []string{
		"£6.90", "£7.40", "<section><h2>Dogs</h2><p>On a lead.</p></section>\n", "",
		"<p>See you.</p>", "<p>See you.</p>\n<section><h2>Prams</h2><p>Free.</p></section>", "Two each", "Four each",
	}
	now := read(strings.NewReplacer(changes...).Replace(then))
	rows := change.Compare(old, now).Changes
	if len(rows) != 4 {
		t.Fatalf("%+v", rows)
	}
	for _, row := range rows {
		ops, err := change.RestorePart(now, old, row)
		if err != nil {
			t.Errorf("%s: %v", row.Say, err)
			continue
		}
		r, err := change.Apply(now, ops)
		if err != nil {
			t.Errorf("%s: %v", row.Say, err)
			continue
		}
		left := change.Compare(old, r.Page).Changes
		if len(left) != 3 || slices.ContainsFunc(left, func(d change.Diff) bool { return d.Say == row.Say }) {
			t.Errorf("%s: left is %+v", row.Say, left)
		}
		alone := false
		for i := 0; i < len(changes); i += 2 {
			alone = alone || string(r.Bytes) == strings.NewReplacer(slices.Concat(changes[:i], changes[i+2:])...).Replace(then)
		}
		if !alone {
			t.Errorf("%s: something else differs:\n%s", row.Say, r.Bytes)
		}
	}
	for _, part := range now.OfKind(page.Section) { // a section that was changed in its middle is known again, one that is new is not
		was := change.Then(now, old, part)
		if known := !strings.Contains(part.Text, "Prams"); known != (was != nil) || known && !strings.HasPrefix(was.Text, part.Text[:4]) {
			t.Errorf("%s was %+v", part.Text, was)
		}
	}
	ops, err := change.Restore(now, old)
	if err != nil {
		t.Fatal(err)
	}
	if r, err := change.Apply(now, ops); err != nil || string(r.Bytes) != then {
		t.Errorf("%v\n%s", err, r.Bytes)
	}
	for p := now; len(change.Compare(old, p).Changes) > 0; { // one after the other
		ops, err := change.RestorePart(p, old, change.Compare(old, p).Changes[0])
		if err != nil {
			t.Fatal(err)
		}
		r, err := change.Apply(p, ops)
		if err != nil {
			t.Fatal(err)
		}
		if p = r.Page; change.Compare(old, p).Same && string(r.Bytes) != then {
			t.Errorf("at the end\n%s", r.Bytes)
		}
	}
}
