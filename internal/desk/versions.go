package desk

import (
	"context"
	"fmt"
	"slices"
	"time"

	"mendry/api"
	"mendry/internal/core/act"
	"mendry/internal/core/change"
	"mendry/internal/core/diff"
	"mendry/internal/core/page"
	"mendry/internal/store"
)

const mostVersions = 100 // of one page that are listed; the first one always is

// Versions lists every version of a page that stood on its host, the newest first, as far as Mendry knew it.
func (d *Desk) Versions(ctx context.Context, number, pageID int64) ([]api.PageVersion, error) {
	_, row, err := d.onBench(ctx, number, pageID)
	if err != nil {
		return nil, err
	}
	return d.versions(ctx, row)
}

func (d *Desk) versions(ctx context.Context, row store.Page) ([]api.PageVersion, error) {
	all, err := d.store.PageVersions(ctx, row.ID, mostVersions)
	if err != nil {
		return nil, err
	}
	steps, err := d.store.PageSteps(ctx, row.ID, mostReleases)
	if err != nil {
		return nil, err
	}
	out := []api.PageVersion{}
	for i, version := range all {
		v := api.PageVersion{ID: version.ID, At: version.SeenAt, Say: "changed elsewhere, not through Mendry", Now: i == 0, Start: i == len(all)-1}
		k := slices.IndexFunc(steps, func(s store.PageStep) bool {
			return s.AfterHash == version.Hash && (i+1 == len(all) || s.BeforeHash == all[i+1].Hash)
		})
		switch {
		case k >= 0:
			s := steps[k]
			v.At, v.Who, v.Request, v.Say = s.At, s.Who, &s.RequestID, fmt.Sprintf("published for request %d", s.RequestID)
			if s.Undoes != nil {
				v.Say = fmt.Sprintf("taken back, request %d", s.RequestID)
			}
			steps = steps[k+1:]
		case v.Start:
			v.Say = "the starting state, as Mendry first knew it"
		}
		out = append(out, v)
	}
	return out, nil
}

// version is an earlier version of a page, with what is said of it.
func (d *Desk) version(ctx context.Context, row store.Page, id int64) (*page.Page, api.PageVersion, error) {
	all, err := d.versions(ctx, row)
	if err != nil {
		return nil, api.PageVersion{}, err
	}
	i := slices.IndexFunc(all, func(v api.PageVersion) bool { return v.ID == id })
	if i < 0 {
		return nil, api.PageVersion{}, stale("That version is no longer known. The list was loaded again.")
	}
	known, err := d.store.PageVersion(ctx, id)
	if err != nil {
		return nil, all[i], err
	}
	p, err := d.parsed(ctx, row.Path, known.Hash, known.Media)
	return p, all[i], err
}

// Version implements act.Rest.
func (r *rest) Version(id int64) (*page.Page, string, error) {
	p, v, err := r.d.version(r.ctx, r.dr.row, id)
	if err != nil {
		return nil, "", err
	}
	zone, err := time.LoadLocation(r.site.Zone)
	if err != nil {
		zone = time.UTC // a zone that is no longer known
	}
	since := "on " + v.At.In(zone).Format("2 January 2006, 15:04")
	if v.Start {
		since = "at the start"
	}
	return p, since, nil
}

// CompareVersion tells part by part what an earlier version of a page had where the draft differs.
func (d *Desk) CompareVersion(ctx context.Context, number, pageID, version int64) (api.VersionDifference, error) {
	v := api.VersionDifference{Rows: []api.VersionRow{}}
	dr, _, err := d.draftAndSite(ctx, number, pageID)
	if err != nil {
		return v, err
	}
	then, about, err := d.version(ctx, dr.row, version)
	if err != nil {
		return v, err
	}
	v.Version = about
	now := dr.Page()
	told := change.Compare(then, now)
	v.Same = told.Same
	known := map[*page.Part]bool{} // sections that the version has too
	for _, c := range told.Changes {
		row := api.VersionRow{Key: act.RowKey(c), Kind: api.ChangeKind(c.Kind), Name: c.Name, Say: saidBack(c), Words: []api.Run{}}
		if len(c.Now) > 0 {
			row.Part = &c.Now[0].ID
			in := sectionOf(c.Now[0])
			if _, asked := known[in]; in != nil && !asked {
				known[in] = change.Then(now, then, in) != nil
			}
			if known[in] {
				row.Section, row.SectionName = &in.ID, &in.Name
			}
		}
		if c.Kind == "words" || c.Kind == "facts" {
			row.Words = runs(diff.Words(c.After, c.Before)) // from what is there to what would come back
		}
		v.Rows = append(v.Rows, row)
	}
	return v, nil
}

// saidBack says what a difference to an earlier version is, as seen from today.
func saidBack(c change.Diff) string {
	switch {
	case c.Kind != "section":
		return c.Say
	case len(c.Now) == 0:
		return c.Name + " stood there then"
	case len(c.Was) == 0:
		return c.Name + " did not stand there then"
	}
	return c.Name + " stood elsewhere on the page"
}

func sectionOf(part *page.Part) *page.Part {
	for up := part.Parent; up != nil; up = up.Parent {
		if up.Kind == page.Section {
			return up
		}
	}
	return nil
}
