package demo

import (
	"os"
	"path/filepath"
	"strings"
	"testing"

	"mendry/internal/core/act"
	"mendry/internal/core/change"
	"mendry/internal/core/check"
	"mendry/internal/core/link"
	"mendry/internal/core/page"
	"mendry/internal/core/thread"
	"mendry/internal/tries"
)

// pagesOf writes the demo's sites and reads their pages.
func pagesOf(t *testing.T, yield func(address string, p *page.Page)) {
	t.Helper()
	for _, s := range Sites() {
		dir := t.TempDir()
		if err := s.writePages(dir, "https://site.example"); err != nil {
			t.Fatal(err)
		}
		err := filepath.WalkDir(dir, func(file string, d os.DirEntry, err error) error {
			if err != nil || d.IsDir() || !strings.HasSuffix(file, ".html") && !strings.HasSuffix(file, ".md") || strings.HasPrefix(d.Name(), "_") {
				return err
			}
			b, err := os.ReadFile(file)
			if err != nil {
				return err
			}
			p, err := page.ParseFile(file, b, "")
			if err != nil {
				return err
			}
			rel, _ := filepath.Rel(dir, file)
			yield(s.Dir+link.AddressOf(filepath.ToSlash(rel)), p)
			return nil
		})
		if err != nil {
			t.Fatal(err)
		}
	}
}

// The sites are as large as the demo's world says.
func TestTheSitesHaveTheirPages(t *testing.T) {
	t.Parallel()
	got := map[string]int{}
	pagesOf(t, func(address string, _ *page.Page) { got[strings.SplitN(address, "/", 2)[0]]++ })
	for site, want := range map[string]int{"larkspur": 23, "marlow": 40} {
		if got[site] != want {
			t.Errorf("%s has %d pages, want %d", site, got[site], want)
		}
	}
	for _, site := range []string{"osprey", "saltgate", "pennyfield", "fenwick", "bramble"} {
		if got[site] < 5 {
			t.Errorf("%s has %d pages", site, got[site])
		}
	}
}

// Every section, item, table and picture of every demo page is copied, moved and taken out: the checks stop none of
// it, no identifier stands twice that stood once, and compared, each is one change with nothing else.
func TestSectionsOfTheDemoAreCopiedMovedAndTakenOut(t *testing.T) {
	tried, odd := map[string]int{}, map[string]int{}
	pagesOf(t, func(address string, p *page.Page) {
		d, err := thread.Of(p, nil, nil)
		if err != nil {
			t.Fatal(err)
		}
		for i, part := range p.All {
			if !tries.Some(i, 5) {
				continue
			}
			if !part.Kind.Whole() && part.Kind != page.Picture || part.Kind == page.Row || part.Background || part.Locked != "" {
				continue
			}
			acts := map[string]act.Act{"copy": &act.Copy{Part: part.ID}, "remove": &act.Remove{Part: part.ID}}
			before, after := p.Beside(part)
			if before != nil {
				acts["copy before"] = &act.Copy{Part: part.ID, Anchor: before.ID, Where: change.Before}
				acts["move up"] = &act.Move{Part: part.ID, Anchor: before.ID, Where: change.Before}
			}
			if after != nil {
				acts["move down"] = &act.Move{Part: part.ID, Anchor: after.ID, Where: change.After}
			}
			for name, a := range acts {
				done, err := act.Do(d, a, nil)
				if err != nil || len(done.Effects) == 0 {
					continue
				}
				tried[name]++
				if made := done.Draft.Made(len(done.Draft.Kept) - 1); name != "remove" && made == nil {
					t.Errorf("%s: %s: nothing of %s %s comes in hand", address, name, part.Kind, part.Name)
				}
				s := &check.Subject{
					Before: p, After: done.Draft.Page(), Changed: check.TouchedBy(done.Draft), Edits: check.EditsOf(done.Draft),
					Address: link.AddressOf("x.html"), Public: "https://site.example",
				}
				for _, f := range check.Run(s) {
					if f.Rule == "outside-same" && f.Level == check.Stop {
						t.Errorf("%s: %s %s: %s", address, name, part.Name, f.Say)
					}
				}
				was, is := count(p), count(done.Draft.Page())
				for id, n := range is {
					if n > max(was[id], 1) {
						t.Errorf("%s: %s %s: the identifier %q stands %d times", address, name, part.Name, id, n)
					}
				}
				if part.Half != "" { // it stands in two places, which core/act holds
					continue
				}
				cmp := change.Compare(p, done.Draft.Page())
				if !cmp.OutsideSame || len(cmp.Changes) != 1 {
					odd[name]++
					if odd[name] < 4 {
						var say []string
						for _, c := range cmp.Changes {
							say = append(say, c.Say)
						}
						t.Errorf("%s: %s %s %q: compared, outside same %v, %d changes: %q", address, name, part.Kind, part.Name, cmp.OutsideSame, len(cmp.Changes), say)
					}
				}
			}
		}
	})
	t.Logf("tried %v; told as something else than one change: %v", tried, odd)
}

// count tells how often each identifier stands on a page.
func count(p *page.Page) map[string]int {
	ids := map[string]int{}
	for _, n := range p.Doc.Nodes {
		if n.Tag() != "" && p.Doc.Value(n, "id") != "" {
			ids[p.Doc.Value(n, "id")]++
		}
	}
	return ids
}
