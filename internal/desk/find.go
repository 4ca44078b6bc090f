package desk

import (
	"context"
	"strings"

	"mendry/api"
	"mendry/internal/core/diff"
	"mendry/internal/core/page"
	"mendry/internal/store"
)

const (
	mostPages = 12 // pages looked into
	mostParts = 4  // places shown of one page
)

// Find finds places by page address, title or words that stand there.
func (d *Desk) Find(ctx context.Context, site int64, words string) ([]api.Found, error) {
	out := []api.Found{}
	words = strings.Join(strings.Fields(words), " ")
	if len([]rune(words)) < 2 {
		return out, nil
	}
	pages, err := d.store.FindPages(ctx, site, words, mostPages)
	if err != nil {
		return nil, err
	}
	sites, err := d.store.SiteRows(ctx)
	if err != nil {
		return nil, err
	}
	names := map[int64]string{}
	for _, s := range sites {
		names[s.ID] = s.Name
	}
	for _, f := range pages {
		head := api.Found{PageID: f.ID, SiteID: f.SiteID, SiteName: names[f.SiteID], Address: f.Address, Title: f.Title, Around: []api.Run{}}
		byName := contains(f.Address, words) || contains(f.Title, words)
		parts := d.partsWith(ctx, f, words)
		if byName || len(parts) == 0 {
			out = append(out, head)
		}
		for _, p := range parts {
			hit := head
			hit.Part, hit.Kind, hit.PartName, hit.Around = p.ID, string(p.Kind), p.Name, around(p.Text, words)
			out = append(out, hit)
		}
	}
	return out, nil
}

func contains(s, words string) bool {
	return strings.Contains(strings.ToLower(s), strings.ToLower(words))
}

// partsWith finds the parts of a page in which the words stand, or failing that all of the words.
func (d *Desk) partsWith(ctx context.Context, f store.PageFound, words string) (ps []*page.Part) {
	if f.Locked != "" {
		return nil
	}
	row, err := d.store.Page(ctx, f.ID)
	if err != nil {
		return nil
	}
	p, err := d.parse(row)
	if err != nil {
		return nil
	}
	for _, loose := range []bool{false, true} {
		for _, part := range p.All {
			inner := part.Parent != nil && part.Parent.Kind.HasWords() && part.Parent.Locked == ""
			if !part.Kind.HasWords() || inner || len(ps) == mostParts {
				continue
			}
			if !loose && contains(part.Text, words) || loose && containsAll(part.Text, words) {
				ps = append(ps, part)
			}
		}
		if len(ps) > 0 {
			break
		}
	}
	return ps
}

func containsAll(s, words string) bool {
	for _, w := range strings.Fields(words) {
		if !contains(s, w) {
			return false
		}
	}
	return true
}

// around shows the words in their surroundings: as runs, the words themselves as new.
func around(text, words string) []api.Run {
	text = strings.Join(strings.Fields(text), " ")
	at := strings.Index(strings.ToLower(text), strings.ToLower(words))
	if at < 0 || len(strings.ToLower(text)) != len(text) {
		return runs([]diff.Run{{Is: diff.Same, Text: page.Short(text, 110)}})
	}
	before, hit, after := text[:at], text[at:at+len(words)], text[at+len(words):]
	if rs := []rune(before); len(rs) > 40 {
		before = "…" + string(rs[len(rs)-40:])
	}
	if rs := []rune(after); len(rs) > 60 {
		after = string(rs[:60]) + "…"
	}
	var rs []diff.Run
	for _, r := range []diff.Run{{Is: diff.Same, Text: before}, {Is: diff.New, Text: hit}, {Is: diff.Same, Text: after}} {
		if r.Text != "" {
			rs = append(rs, r)
		}
	}
	return runs(rs)
}
