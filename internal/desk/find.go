package desk

import (
	"cmp"
	"context"
	"net/url"
	"slices"
	"strings"
	"time"

	"mendry/api"
	"mendry/internal/core/diff"
	"mendry/internal/core/find"
	"mendry/internal/core/page"
	"mendry/internal/store"
)

const (
	mostRead  = 40 // pages read
	mostPages = 12 // pages shown
	mostParts = 4  // places shown of one page
)

// makeFindable does the job of the index: it reads pages anew that an older Mendry took in, until none is left.
func (d *Desk) makeFindable(ctx context.Context, _ string) (again time.Time, err error) {
	for {
		ps, err := d.store.Unread(ctx)
		if err != nil || len(ps) == 0 {
			return again, err
		}
		for _, p := range ps {
			var b []byte
			if p.Hash != "" {
				if b, err = d.store.Bytes(ctx, p.Hash); err != nil {
					return again, err
				}
			}
			known := page.Know(p.Path, p.Address, b, p.Media)
			if p.Hash == "" {
				known.Title, known.Locked = p.Title, p.Locked
			}
			p.Take(known, p.Hash, p.Media, p.Size)
			if err := d.store.Tx(ctx, func(q store.Queries) error { return q.KeepPage(ctx, p) }); err != nil {
				return again, err
			}
		}
	}
}

// Sought is what is looked for, and where.
type Sought struct {
	Words   string
	Site    int64 // 0: on all sites
	Request int64 // the request in hand, 0 where there is none
}

// Find finds places on live pages and in kept changes, the likeliest first: by the address of a page or the end of it,
// its title, words that stand there, with typing errors too, and values in any spelling.
func (d *Desk) Find(ctx context.Context, s Sought) ([]api.Found, error) {
	out := []api.Found{}
	q := find.Read(s.Words)
	if len([]rune(q.Words)) < 2 && q.Words != "/" {
		return out, nil
	}
	near, err := d.store.WordsNear(ctx, q.Terms)
	if err != nil {
		return nil, err
	}
	pages, err := d.store.FindPages(ctx, s.Site, q, near, mostRead)
	if err != nil {
		return nil, err
	}
	sites, err := d.foundSites(ctx, s.Request)
	if err != nil {
		return nil, err
	}
	drafts, err := d.store.FindDrafts(ctx, s.Site, q.Words, mostParts)
	if err != nil {
		return nil, err
	}
	for _, f := range drafts {
		hit := sites[f.SiteID].found(f.PageRow)
		a := q.Rank(find.Page{Words: strings.Join(strings.Fields(f.Words), " ")}, near)
		if len(a.Lines) == 0 {
			continue
		}
		hit.PartName, hit.Around, hit.Draft = f.PartName, around(a.Lines[0]), true
		hit.Request = &f.RequestID
		out = append(out, hit)
	}
	type ranked struct {
		store.PageFound
		find.Answer
	}
	var rs []ranked
	for _, f := range pages {
		a := q.Rank(find.Page{Host: sites[f.SiteID].host, Address: f.Address, Title: f.Title, Words: f.Words}, near)
		if a.Score > 0 {
			rs = append(rs, ranked{f, a})
		}
	}
	slices.SortStableFunc(rs, func(a, b ranked) int {
		return cmp.Or(cmp.Compare(b.Score, a.Score), cmp.Compare(a.SiteID, b.SiteID), cmp.Compare(a.Address, b.Address))
	})
	rs = rs[:min(len(rs), mostPages)]
	var withLines []int64
	for _, r := range rs {
		if len(r.Lines) > 0 {
			withLines = append(withLines, r.ID)
		}
	}
	rows, err := d.store.PagesOf(ctx, withLines)
	if err != nil {
		return nil, err
	}
	for _, r := range rs {
		head := sites[r.SiteID].found(r.PageRow)
		parts := d.partsOf(ctx, rows[r.ID], r.Lines)
		if r.ByName || len(parts) == 0 {
			out = append(out, head)
		}
		for _, p := range parts {
			hit := head
			hit.Part, hit.Kind, hit.PartName, hit.Around = p.part.ID, string(p.part.Kind), p.part.Name, around(p.line)
			out = append(out, hit)
		}
	}
	return out, nil
}

// foundSite is what a result says of its site.
type foundSite struct {
	id         int64
	name, host string
	request    *int64 // in which its pages open on the bench
}

func (s foundSite) found(p store.PageRow) api.Found {
	return api.Found{PageID: p.ID, SiteID: p.SiteID, SiteName: s.name, Address: p.Address, Title: p.Title, Small: p.Small, Around: []api.Run{}, Request: s.request}
}

// foundSites knows every site, and in which request its pages would be changed: the one in hand, or its newest open
// one.
func (d *Desk) foundSites(ctx context.Context, inHand int64) (map[int64]foundSite, error) {
	rows, err := d.store.SiteNames(ctx)
	if err != nil {
		return nil, err
	}
	open, err := d.store.OpenRequests(ctx)
	if err != nil {
		return nil, err
	}
	sites := map[int64]foundSite{}
	for _, r := range rows {
		s := foundSite{id: r.ID, name: r.Name}
		if u, err := url.Parse(r.PublicURL); err == nil {
			s.host = u.Host
		}
		for _, o := range open {
			if o.SiteID == r.ID && (s.request == nil || o.ID == inHand) {
				s.request = &o.ID
			}
		}
		sites[r.ID] = s
	}
	return sites, nil
}

// foundPart is a part in which a found line stands.
type foundPart struct {
	part *page.Part
	line find.Line
}

// partsOf finds the parts of a page that hold the found lines.
func (d *Desk) partsOf(ctx context.Context, row store.Page, lines []find.Line) (ps []foundPart) {
	if row.ID == 0 || len(lines) == 0 {
		return nil
	}
	p, err := d.parse(ctx, row)
	if err != nil {
		return nil
	}
	for _, line := range lines {
		for _, part := range p.All {
			inner := part.Parent != nil && part.Parent.Kind.HasWords() && part.Parent.Locked == ""
			said := part.Kind.HasWords() && !inner && part.Text == line.Text || part.Kind == page.Picture && part.Attributes.Get("alt") == line.Text
			if !said || slices.ContainsFunc(ps, func(h foundPart) bool { return h.part == part }) {
				continue
			}
			if ps = append(ps, foundPart{part, line}); len(ps) == mostParts {
				return ps
			}
		}
	}
	return ps
}

const (
	mostLead = 40 // letters shown before what was found
	mostTail = 60
)

// around shows what was found in its surroundings: as runs, what was looked for as new.
func around(l find.Line) []api.Run {
	var rs []diff.Run
	add := func(is diff.Is, text string) {
		if text != "" {
			rs = append(rs, diff.Run{Is: is, Text: text})
		}
	}
	at := 0
	for i, m := range l.Marks {
		if m.Start < at {
			continue
		}
		lead := l.Text[at:m.Start]
		if letters := []rune(lead); i == 0 && len(letters) > mostLead {
			lead = "…" + string(letters[len(letters)-mostLead:])
		} else if i > 0 && len(letters) > mostTail {
			break
		}
		add(diff.Same, lead)
		add(diff.New, l.Text[m.Start:m.End])
		at = m.End
	}
	tail := l.Text[at:]
	if letters := []rune(tail); len(letters) > mostTail {
		tail = string(letters[:mostTail]) + "…"
	}
	add(diff.Same, tail)
	return runs(rs)
}
