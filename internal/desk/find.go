package desk

import (
	"context"
	"slices"
	"strings"

	"mendry/api"
	"mendry/internal/core/diff"
	"mendry/internal/core/page"
	"mendry/internal/core/request"
	"mendry/internal/core/text"
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
	if site != 0 && text.IsValue(words) { // in any spelling
		if pages, err = d.pagesSaying(ctx, site, words, pages); err != nil {
			return nil, err
		}
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

// pagesSaying adds the pages of a site on which a price, number, date or phone number stands in another spelling.
func (d *Desk) pagesSaying(ctx context.Context, site int64, value string, have []store.PageFound) ([]store.PageFound, error) {
	all, err := d.store.PageWords(ctx, site)
	if err != nil {
		return nil, err
	}
	for _, p := range all {
		known := slices.ContainsFunc(have, func(h store.PageFound) bool { return h.ID == p.ID })
		if !known && len(have) < mostPages && len(text.Same(p.Words, value)) > 0 {
			have = append(have, p)
		}
	}
	return have, nil
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
			if !loose && (contains(part.Text, words) || text.IsValue(words) && len(text.Same(part.Text, words)) > 0) || loose && containsAll(part.Text, words) {
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
func around(line, words string) []api.Run {
	line = strings.Join(strings.Fields(line), " ")
	at := strings.Index(strings.ToLower(line), strings.ToLower(words))
	if found := text.Same(line, words); at < 0 && len(found) > 0 {
		at, words = found[0].Start, line[found[0].Start:found[0].End]
	}
	if at < 0 || len(strings.ToLower(line)) != len(line) {
		return runs([]diff.Run{{Is: diff.Same, Text: page.Short(line, 110)}})
	}
	before, hit, after := line[:at], line[at:at+len(words)], line[at+len(words):]
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

const mostSeeks = 3 // searches for a proposal's place

// Proposals lists what a letter seems to ask for and is no wish yet, each with its likeliest places.
func (d *Desk) Proposals(ctx context.Context, number int64) ([]api.Proposal, error) {
	out := []api.Proposal{}
	r, err := d.store.RequestRow(ctx, number)
	if err != nil {
		return out, missing(err, "request")
	}
	ws, err := d.store.Wishes(ctx, number)
	if err != nil {
		return out, err
	}
	for _, p := range request.Propose(r.Letter) {
		v := api.Proposal{Start: len(units(r.Letter[:p.Start])), Words: p.Words, Places: []api.Found{}}
		v.End = v.Start + len(units(p.Words))
		if slices.ContainsFunc(ws, func(w store.Wish) bool { return w.StartAt < v.End && w.EndAt > v.Start }) {
			continue
		}
		for _, seek := range p.Seek[:min(len(p.Seek), mostSeeks)] {
			found, err := d.Find(ctx, r.SiteID, seek)
			if err != nil {
				return out, err
			}
			for _, f := range found {
				if f.Part != "" && f.Kind != string(page.Link) && f.Kind != string(page.Button) && len(v.Places) < 3 && !slices.ContainsFunc(v.Places, func(h api.Found) bool { return h.PageID == f.PageID && h.Part == f.Part }) {
					v.Places = append(v.Places, f)
				}
			}
			if len(v.Places) > 0 {
				break
			}
		}
		out = append(out, v)
	}
	return out, nil
}
