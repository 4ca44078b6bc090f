package desk

import (
	"context"
	"time"

	openapi_types "github.com/oapi-codegen/runtime/types"

	"mendry/api"
	"mendry/internal/core/release"
	"mendry/internal/core/request"
	"mendry/internal/store"
)

// Today shows what is to be done next.
func (d *Desk) Today(ctx context.Context) (api.Today, error) {
	now := d.now()
	v := api.Today{Day: openapi_types.Date{Time: now}, Groups: []api.TodayGroup{}, Fortnight: []api.FortnightRow{}, Odd: []api.Odd{}}
	rs, err := d.store.RequestRows(ctx, 0)
	if err != nil {
		return v, err
	}
	hints := []struct{ name, hint string }{
		{"Ready to go live", "cleared, not published"},
		{"Read and place", "say where on the site each wish lands"},
		{"On the bench", "drafts to finish"},
		{"With the client", "waiting for a word"},
		{"Live, to be signed off", "seen by visitors"},
		{"On hold", ""},
	}
	groups := map[string]*api.TodayGroup{}
	for _, h := range hints {
		groups[h.name] = &api.TodayGroup{Name: h.name, Hint: h.hint, Requests: []api.RequestRow{}}
	}
	sites := map[int64]bool{}
	for _, r := range rs {
		g := groups[request.NextMove(request.State(r.State))]
		if g == nil {
			continue
		}
		row, err := d.rowWithProblem(ctx, r)
		if err != nil {
			return v, err
		}
		g.Requests = append(g.Requests, row)
		v.Open++
		sites[r.SiteID] = true
	}
	v.Sites = len(sites)
	for _, h := range hints {
		if g := groups[h.name]; len(g.Requests) > 0 {
			v.Groups = append(v.Groups, *g)
		}
	}
	v.Fortnight = fortnight(rs, now)
	v.Odd, err = d.odd(ctx)
	return v, err
}

// fortnight lays out what is due in the next 14 days, a row a site.
func fortnight(rs []store.RequestRow, now time.Time) []api.FortnightRow {
	rows := []api.FortnightRow{}
	at := map[int64]int{}
	first := time.Date(now.Year(), now.Month(), now.Day(), 0, 0, 0, 0, time.UTC)
	for _, r := range rs {
		state := request.State(r.State)
		if r.DueOn == nil || state == request.SignedOff || state == request.Declined {
			continue
		}
		if r.DueOn.After(first.AddDate(0, 0, 13)) {
			continue
		}
		i, ok := at[r.SiteID]
		if !ok {
			i = len(rows)
			at[r.SiteID] = i
			rows = append(rows, api.FortnightRow{SiteID: r.SiteID, Name: r.SiteName, Initials: r.Initials, Colour: r.Colour, Marks: []api.FortnightMark{}})
		}
		what := api.MarkKind("due")
		if state == request.Live {
			what = "published"
		}
		rows[i].Marks = append(rows[i].Marks, api.FortnightMark{Day: openapi_types.Date{Time: *r.DueOn}, Number: r.ID, Subject: r.Subject, What: what})
	}
	return rows
}

// odd lists what is not as Mendry left it.
func (d *Desk) odd(ctx context.Context) ([]api.Odd, error) {
	out := []api.Odd{}
	rows, err := d.store.OddReleases(ctx)
	if err != nil {
		return out, err
	}
	for _, r := range rows {
		n := r.RequestID
		o := api.Odd{SiteID: r.SiteID, SiteName: r.SiteName, Number: &n}
		switch r.State {
		case release.Stopped:
			o.Level, o.Mark, o.Say = api.LevelStop, "stopped", "a release stopped on the way"
		case release.Live:
			o.Level, o.Mark, o.Say = api.LevelLook, "cached", "visitors do not all see the new page yet"
		default:
			o.Level, o.Mark, o.Say = api.LevelLook, "running", "a release is under way"
		}
		out = append(out, o)
	}
	pages, err := d.store.PagesElsewhere(ctx)
	if err != nil {
		return out, err
	}
	for _, p := range pages {
		s, err := d.store.Site(ctx, p.SiteID)
		if err != nil {
			return out, err
		}
		id := p.ID
		out = append(out, api.Odd{SiteID: s.ID, SiteName: s.Name, PageID: &id, Level: api.LevelLook, Mark: p.ElsewhereAt.In(zone(s)).Format("15:04"), Say: p.Address + " was edited outside Mendry"})
	}
	return out, nil
}
