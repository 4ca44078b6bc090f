package act_test

import (
	"bytes"
	"path/filepath"
	"slices"
	"strings"
	"testing"

	"mendry/internal/core/act"
	"mendry/internal/core/change"
	"mendry/internal/core/page"
	"mendry/internal/core/refusal"
	"mendry/internal/core/thread"
	"mendry/internal/foreign"
	"mendry/internal/tries"
)

// onShared are acts on a shared part: its words and links reworded, links led elsewhere, items of its sets added,
// taken out, moved, copied, entries of menus put below others.
func onShared(p *page.Page, shared *page.Part) (all []act.Act) {
	most := map[string]int{}
	few := func(kind string, a act.Act) {
		if most[kind]++; most[kind] <= 6 {
			all = append(all, a)
		}
	}
	for _, part := range p.All {
		if part.Start < shared.Start || part.End > shared.End || part.Locked != "" {
			continue
		}
		if part.Kind.HasWords() && part.Text != "" {
			few("words", &act.Words{Part: part.ID, Words: part.Text + " and more"})
		}
		if part.Kind == page.Link {
			few("target", &act.Attribute{Part: part.ID, Name: "href", Words: "elsewhere/index.html#there"})
		}
		for _, e := range act.Unders(p, part) {
			under := &act.Under{Part: part.ID}
			if e.Part != nil {
				under.Entry = e.Part.ID
			}
			few("under", under)
		}
		if part.Kind == page.Set && len(part.Items()) > 1 {
			items := part.Items()
			last := items[len(items)-1]
			few("add", &act.AddItem{Part: part.ID})
			few("out", &act.Remove{Part: items[0].ID})
			few("copy", &act.Copy{Part: last.ID})
			few("move", &act.Move{Part: items[0].ID, Anchor: last.ID, Where: change.After})
		}
	}
	return all
}

// What is done to a shared part of one page of a site that nobody here wrote is done to each page that has it: there,
// it is the same part afterwards, no byte outside of it changes, and it is undone to the bytes. Where it cannot be
// done, it says why.
func TestSharedPartsOfSitesNobodyHereWrote(t *testing.T) {
	t.Parallel()
	refused := map[string]int{}
	sites, parts, acts, tried, done := 0, 0, 0, 0, 0
	for dir, files := range foreign.Sites(t) {
		var site []page.Placed
		for _, f := range files {
			p, err := page.Parse(foreign.Read(t, f), "")
			if err != nil || p.Doc.Format == "markdown" {
				continue
			}
			rel, _ := filepath.Rel(dir, f)
			site = append(site, page.Placed{Address: "/" + filepath.ToSlash(rel), Page: p})
		}
		sites++
		for _, s := range page.Shared(site) {
			if s.Kind == page.Words {
				continue
			}
			var on []page.Placed
			for _, p := range site {
				if s.On[p.Address] != nil {
					on = append(on, p)
				}
			}
			parts++
			first := on[0]
			shared := change.Shared{At: change.At{Page: first.Page, Address: first.Address}, Part: s.On[first.Address]}
			d, err := thread.Of(first.Page, nil, nil)
			if err != nil {
				t.Fatal(err)
			}
			for i, a := range onShared(first.Page, shared.Part) {
				if !tries.Some(i+parts, 4) {
					continue
				}
				result, err := act.Do(d, a, nil)
				if err != nil || len(result.Effects) != 1 {
					continue
				}
				acts++
				for i := 1; i < len(on); i += 1 + len(on)/tries.Number("MENDRY_PAGES", 3, 8) { // some of many, in all folders
					p := on[i]
					tried++
					twin := change.Shared{At: change.At{Page: p.Page, Address: p.Address}, Part: s.On[p.Address]}
					other, err := thread.Of(p.Page, nil, nil)
					if err != nil {
						t.Fatal(err)
					}
					step, err := result.Draft.Spread(0, shared, other, twin)
					if err != nil {
						if refusal.Of(err) == nil {
							t.Errorf("%s%s: %v", dir, p.Address, err)
						}
						refused[generally(err.Error())]++
						continue
					}
					done++
					kept, err := thread.Of(p.Page, []thread.Kept{{ID: 1, Step: step}}, nil)
					if err != nil || kept.Conflict != nil {
						t.Errorf("%s%s: %v %v", dir, p.Address, err, kept.Conflict)
						continue
					}
					was, is := string(p.Page.Doc.Bytes), string(kept.Page().Doc.Bytes)
					at := reach(p.Page, twin.Part)
					if !strings.HasPrefix(is, was[:at[0]]) || !strings.HasSuffix(is, was[at[1]:]) {
						t.Errorf("%s%s: bytes outside changed", dir, p.Address)
					}
					back, err := change.Revert(kept.Page(), kept.Undo(0))
					if err != nil || !bytes.Equal(back.Bytes, p.Page.Doc.Bytes) {
						t.Errorf("%s%s: not undone: %v", dir, p.Address, err)
					}
					if now, before := currents(kept.Page()), currents(p.Page); now > before {
						t.Errorf("%s%s: %d links are marked as where a visitor is, %d before", dir, p.Address, now, before)
					}
				}
			}
		}
	}
	var whys []string
	no := 0
	for why, n := range refused {
		whys = append(whys, why)
		no += n
	}
	slices.Sort(whys)
	for _, why := range whys {
		t.Logf("refused %5d: %s", refused[why], why)
	}
	t.Logf("%d sites, %d shared parts, %d acts: brought to %d pages, %d done, %d refused (%.2f %%)", sites, parts, acts, tried, done, no, 100*float64(no)/float64(max(tried, 1)))
	if 100*no >= 3*tried {
		t.Errorf("3 %% or more refused")
	}
}

// currents is how many elements say that a visitor is there.
func currents(p *page.Page) (n int) {
	for _, node := range p.Doc.Nodes {
		if node.Tag() == "" {
			continue
		}
		if slices.Contains(strings.Fields(p.Doc.Value(node, "class")), "active") || p.Doc.Value(node, "aria-current") != "" {
			n++
		}
	}
	return n
}
