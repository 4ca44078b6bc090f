package desk

import (
	"context"
	"time"

	openapi_types "github.com/oapi-codegen/runtime/types"

	"mendry/api"
	"mendry/internal/core/release"
	"mendry/internal/core/request"
)

const (
	shownOfGroup = 25 // requests of a group, until all of it is asked for
	mostOfGroup  = 5000
	mostDue      = 400
	daysShown    = 14
)

// groups are the next moves in the order in which they are shown.
var groups = []struct{ name, hint string }{
	{"Ready to go live", "cleared, not published"},
	{"Read and place", "say where on the site each wish lands"},
	{"On the bench", "drafts to finish"},
	{"With the client", "waiting for a word"},
	{"Live, to be signed off", "seen by visitors"},
	{"On hold", ""},
}

// Today shows what is to be done next: of each next move the requests that are due first, or all of the one that is
// named.
func (d *Desk) Today(ctx context.Context, whole string) (api.Today, error) {
	now := d.now()
	v := api.Today{Day: openapi_types.Date{Time: now}, Groups: []api.TodayGroup{}, Fortnight: []api.FortnightRow{}, Odd: []api.Odd{}}
	counts, sites, err := d.store.CountStates(ctx)
	if err != nil {
		return v, err
	}
	v.Sites = sites
	states, total := map[string][]string{}, map[string]int{}
	for _, c := range counts {
		group := request.NextMove(request.State(c.State))
		states[group], total[group] = append(states[group], c.State), total[group]+c.N
		v.Open += c.N
	}
	for _, g := range groups {
		if total[g.name] == 0 {
			continue
		}
		most := shownOfGroup
		if g.name == whole {
			most = mostOfGroup
		}
		rs, err := d.store.RequestsIn(ctx, states[g.name], most)
		if err != nil {
			return v, err
		}
		out := api.TodayGroup{Name: g.name, Hint: g.hint, Total: total[g.name], Requests: []api.RequestRow{}}
		for _, r := range rs {
			row, err := d.rowWithProblem(ctx, r)
			if err != nil {
				return v, err
			}
			out.Requests = append(out.Requests, row)
		}
		v.Groups = append(v.Groups, out)
	}
	if v.Fortnight, err = d.fortnight(ctx, now); err != nil {
		return v, err
	}
	v.Odd, err = d.odd(ctx)
	return v, err
}

// fortnight lays out what is due in the next 14 days, a row a site.
func (d *Desk) fortnight(ctx context.Context, now time.Time) ([]api.FortnightRow, error) {
	first := time.Date(now.Year(), now.Month(), now.Day(), 0, 0, 0, 0, time.UTC)
	rs, err := d.store.DueBy(ctx, first.AddDate(0, 0, daysShown-1), mostDue)
	rows := []api.FortnightRow{}
	at := map[int64]int{}
	for _, r := range rs {
		i, ok := at[r.SiteID]
		if !ok {
			i = len(rows)
			at[r.SiteID] = i
			rows = append(rows, api.FortnightRow{SiteID: r.SiteID, Name: r.SiteName, Initials: r.Initials, Colour: r.Colour, Marks: []api.FortnightMark{}})
		}
		what := api.MarkKind("due")
		if request.State(r.State) == request.Live {
			what = "published"
		}
		rows[i].Marks = append(rows[i].Marks, api.FortnightMark{Day: openapi_types.Date{Time: r.DueOn}, Number: r.ID, Subject: r.Subject, What: what})
	}
	return rows, err
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
		case release.ByHand:
			o.Level, o.Mark, o.Say = api.LevelLook, "by hand", "a list waits to be put in"
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
		out = append(out, api.Odd{SiteID: s.ID, SiteName: s.Name, PageID: &id, Level: api.LevelLook, Mark: p.ElsewhereAt.In(s.Clock()).Format("15:04"), Say: p.Address + " was edited outside Mendry"})
	}
	return out, nil
}
