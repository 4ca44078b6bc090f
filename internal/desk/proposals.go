package desk

import (
	"cmp"
	"context"
	"slices"
	"strings"

	"mendry/api"
	"mendry/internal/core/diff"
	"mendry/internal/core/find"
	"mendry/internal/core/page"
	"mendry/internal/core/request"
	"mendry/internal/core/text"
	"mendry/internal/store"
)

// named are the places that a phrase most likely means on the pages that it names.
func (d *Desk) named(ctx context.Context, p request.Proposal, pages []store.PageRow, site foundSite) ([]api.Found, error) {
	out := []api.Found{}
	best := 0
	var ids []int64
	for _, row := range pages {
		if n := find.Names(p.Words, row.Title, row.Address); n > 0 && n >= best && row.Locked == "" {
			if n > best {
				best, ids = n, nil
			}
			ids = append(ids, row.ID)
		}
	}
	if len(ids) == 0 || len(ids) > mostNamed {
		return out, nil
	}
	rows, err := d.store.PagesOf(ctx, ids)
	if err != nil {
		return out, err
	}
	for _, row := range pages {
		if !slices.Contains(ids, row.ID) {
			continue
		}
		live, err := d.parse(ctx, rows[row.ID])
		if err != nil {
			continue
		}
		if part := find.Likely(live, p.Whole, row.Title, row.Address); part != nil {
			hit := site.found(row)
			hit.Part, hit.Kind, hit.PartName = part.ID, string(part.Kind), part.Name
			hit.Around = runs([]diff.Run{{Is: diff.Same, Text: page.Short(part.Text, mostLead+mostTail)}})
			out = append(out, hit)
		}
	}
	return out, nil
}

const mostNamed = 3 // pages that one phrase names; of more none is meant

// notPicture is 0 for a picture, and 1 for anything else.
func notPicture(f api.Found) int {
	if f.Kind == string(page.Picture) {
		return 0
	}
	return 1
}

// holds reports whether a value stands in what was found, in any spelling.
func holds(f api.Found, value string) bool {
	said := ""
	for _, r := range f.Around {
		said += r.Text
	}
	return len(text.Seek(value).In(said)) > 0
}

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
	pages, err := d.store.PageRows(ctx, r.SiteID)
	if err != nil {
		return out, err
	}
	sites, err := d.foundSites(ctx, number)
	if err != nil {
		return out, err
	}
	for _, p := range request.Propose(r.Letter) {
		v := api.Proposal{Start: len(units(r.Letter[:p.Start])), Words: p.Words, Places: []api.Found{}}
		v.End = v.Start + len(units(p.Words))
		if slices.ContainsFunc(ws, func(w store.Wish) bool { return w.StartAt < v.End && w.EndAt > v.Start }) {
			continue
		}
		if v.Places, err = d.placesOf(ctx, number, p, pages, sites[r.SiteID]); err != nil {
			return out, err
		}
		out = append(out, v)
	}
	return out, nil
}

// placesOf are the likeliest places of a proposal: on the pages that it names, or else where its words stand, or else
// where the kind of value stands that it speaks of.
func (d *Desk) placesOf(ctx context.Context, number int64, p request.Proposal, pages []store.PageRow, site foundSite) ([]api.Found, error) {
	places, err := d.named(ctx, p, pages, site)
	if err != nil || len(places) > 0 {
		return places, err
	}
	for _, seek := range p.Seek[:min(len(p.Seek), mostSeeks)] {
		found, err := d.Find(ctx, Sought{Words: seek, Site: site.id, Request: number})
		if err != nil {
			return places, err
		}
		if find.MeansPicture(p.Words) {
			slices.SortStableFunc(found, func(a, b api.Found) int { return cmp.Compare(notPicture(a), notPicture(b)) })
		}
		if places = likely(found, seek); len(places) > 0 {
			return places, nil
		}
	}
	if kind := find.MeansKind(p.Words); kind != "" {
		return d.ofKind(ctx, kind, pages, site)
	}
	return places, nil
}

const (
	mostProposed = 3 // places of one proposal
	mostSeeks    = 3 // searches for them
)

// likely are the places, of those found, that a letter may mean by the words that were looked for. A value, such as a
// telephone number, may be the words of a link; where many pages say it in the same words, one place stands for them.
func likely(found []api.Found, seek string) []api.Found {
	out := []api.Found{}
	value := text.IsValue(seek)
	for _, f := range found {
		link := f.Kind == string(page.Link) || f.Kind == string(page.Button)
		again := slices.ContainsFunc(out, func(h api.Found) bool {
			return h.PageID == f.PageID && h.Part == f.Part || value && h.PartName == f.PartName && slices.Equal(h.Around, f.Around)
		})
		other := value && !holds(f, seek) // a part of the value, or one like it
		if f.Part != "" && !f.Draft && !again && !other && (value || !link) && len(out) < mostProposed {
			out = append(out, f)
		}
	}
	return out
}

const mostSearched = 12 // pages on which a value is looked for that a letter does not say

// ofKind are the places of the value of a kind that stands on most pages of a site: what a letter calls its telephone
// number. There is one for each way in which a page says it.
func (d *Desk) ofKind(ctx context.Context, kind text.Kind, pages []store.PageRow, site foundSite) ([]api.Found, error) {
	pages = slices.DeleteFunc(slices.Clone(pages), func(p store.PageRow) bool { return p.Locked != "" })
	slices.SortStableFunc(pages, func(a, b store.PageRow) int {
		return cmp.Compare(strings.Count(a.Address, "/"), strings.Count(b.Address, "/"))
	})
	pages = pages[:min(len(pages), mostSearched)]
	ids := make([]int64, len(pages))
	for i, p := range pages {
		ids[i] = p.ID
	}
	rows, err := d.store.PagesOf(ctx, ids)
	if err != nil {
		return nil, err
	}
	on, places := map[string]int{}, map[string][]api.Found{} // by the value
	most := ""
	for _, row := range pages {
		live, err := d.parse(ctx, rows[row.ID])
		if err != nil {
			continue
		}
		seen := map[string]bool{}
		for _, h := range find.Holding(live, kind) {
			if !seen[h.Key] {
				seen[h.Key] = true
				on[h.Key]++
			}
			hit := site.found(row)
			hit.Part, hit.Kind, hit.PartName = h.Part.ID, string(h.Part.Kind), h.Part.Name
			hit.Around = around(find.Line{Text: h.Part.Text, Marks: []find.Span{{Start: h.Start, End: h.End}}})
			if ps := places[h.Key]; len(ps) < mostProposed && !slices.ContainsFunc(ps, func(p api.Found) bool { return slices.Equal(p.Around, hit.Around) }) {
				places[h.Key] = append(ps, hit)
			}
			if on[h.Key] > on[most] {
				most = h.Key
			}
		}
	}
	return append([]api.Found{}, places[most]...), nil
}
