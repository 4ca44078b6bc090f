package desk

import (
	"cmp"
	"context"
	"slices"
	"strconv"
	"strings"
	"time"

	"mendry/api"
	"mendry/internal/core/act"
	"mendry/internal/core/change"
	"mendry/internal/core/page"
	"mendry/internal/core/picture"
	"mendry/internal/core/refusal"
	"mendry/internal/shots"
	"mendry/internal/store"
)

// sectionsJob is the kind of job that finds out which sections the pages of a site lend, and takes small pictures of
// them.
const sectionsJob = "sections"

// Of what a job of sections does at once, before others have their turn.
const (
	lookedAtOnce = 20 // pages that are read
	drawnAtOnce  = 3  // pages that are drawn
)

// Bounds of what is told of a section.
const (
	mostSections  = 300 // of a site that are listed, alike ones once
	sectionWords  = 200 // letters that it begins with
	sectionWide   = 360 // pixels of its small picture
	sectionTall   = 1.1 // of its width: what stands below is left out
	narrowSection = 200 // pixels on the page; narrower ones are drawn no larger than they are
)

// Sections lists the sections that the pages of a site lend, alike ones once, and tells how far looking for them has
// come.
func (d *Desk) Sections(ctx context.Context, site int64) (v api.SiteSections, err error) {
	v.Sections = []api.LentSection{}
	if _, err := d.store.Site(ctx, site); err != nil {
		return v, missing(err, "site")
	}
	if v.Left, err = d.store.CountToLookThrough(ctx, site); err != nil {
		return v, err
	}
	rows, err := d.store.Sections(ctx, site)
	if err != nil {
		return v, err
	}
	for _, group := range alikeSections(rows) {
		s := shownOf(group)
		on := map[int64]bool{}
		for _, row := range group {
			on[row.PageID] = true
		}
		one := api.LentSection{
			PageID: s.PageID, Address: s.Address, Title: s.Title, Of: s.Of, Part: s.Part, Name: s.Name, Holds: s.Holds, Words: s.Words,
			Sample: api.SectionSample(s.Sample), Alike: len(group), Pages: len(on),
		}
		switch {
		case s.Small == nil && d.Camera != nil:
			v.Drawing++
		case s.Small != nil && *s.Small != "":
			one.Small = s.Small
		}
		if len(v.Sections) < mostSections {
			v.Sections = append(v.Sections, one)
		}
	}
	return v, nil
}

// alikeSections puts sections that are built alike together, in the order of the first of each.
func alikeSections(rows []store.Section) (groups [][]store.Section) {
	at := map[string]int{}
	for _, s := range rows {
		i, there := at[s.Look]
		if !there {
			i = len(groups)
			at[s.Look] = i
			groups = append(groups, nil)
		}
		groups[i] = append(groups[i], s)
	}
	return groups
}

// shownOf is the section that stands for those that are alike: one that has a picture.
func shownOf(group []store.Section) store.Section {
	for _, s := range group {
		if s.Small != nil && *s.Small != "" {
			return s
		}
	}
	return group[0]
}

// AskSections asks for what a site's pages lend to be found and drawn, by a job.
func (d *Desk) AskSections(ctx context.Context, site int64) error {
	v, err := d.Sections(ctx, site)
	if err != nil || v.Left == 0 && v.Drawing == 0 {
		return err
	}
	return d.askShots(ctx, sectionsJob, strconv.FormatInt(site, 10))
}

// lookThrough does the job of finding the sections that a site's pages lend, and of drawing them, some at a time.
func (d *Desk) lookThrough(ctx context.Context, about string) (again time.Time, err error) {
	site, err := strconv.ParseInt(about, 10, 64)
	if err != nil {
		return again, nil
	}
	pages, err := d.store.PagesToLookThrough(ctx, site, lookedAtOnce)
	if err != nil {
		return again, err
	}
	for _, row := range pages {
		if err := d.noteSections(ctx, row); err != nil {
			return again, err
		}
	}
	if len(pages) > 0 {
		return d.now(), nil
	}
	more, err := d.drawSections(ctx, site)
	if err != nil || !more {
		return again, err
	}
	return d.now(), nil
}

func (d *Desk) noteSections(ctx context.Context, row store.Page) error {
	p, err := d.parse(ctx, row)
	if err != nil {
		return err
	}
	var all []store.Section
	for _, l := range p.Lends() {
		all = append(all, store.Section{
			Part: l.Part.ID, Name: page.Short(l.Part.Name, 240), Holds: page.Short(l.Holds, 240), Words: page.Short(l.Part.Text, sectionWords),
			Look: l.Look, Sample: string(l.Sample),
		})
	}
	return d.store.Tx(ctx, func(q store.Queries) error { return q.SetSections(ctx, row, all) })
}

// drawSections takes small pictures of sections that have none, of some pages; more says that there are others.
func (d *Desk) drawSections(ctx context.Context, site int64) (more bool, err error) {
	if d.Camera == nil {
		return false, nil
	}
	rows, err := d.store.Sections(ctx, site)
	if err != nil {
		return false, err
	}
	wanted := map[int64][]store.Section{}
	var order []int64
	for _, group := range alikeSections(rows) {
		if s := shownOf(group); s.Small == nil {
			if wanted[s.PageID] == nil {
				order = append(order, s.PageID)
			}
			wanted[s.PageID] = append(wanted[s.PageID], s)
		}
	}
	for _, id := range order[:min(drawnAtOnce, len(order))] {
		err := d.drawOn(ctx, id, wanted[id])
		if refusal.Of(err) == nil && err != nil {
			return false, err
		}
		if err != nil { // the page cannot be drawn
			for _, s := range wanted[id] {
				if err := d.store.SetSmallSection(ctx, id, s.Nth, ""); err != nil {
					return false, err
				}
			}
		}
	}
	return len(order) > drawnAtOnce, nil
}

// drawOn takes small pictures of sections of one page.
func (d *Desk) drawOn(ctx context.Context, pageID int64, sections []store.Section) error {
	row, err := d.store.Page(ctx, pageID)
	if err != nil {
		return missing(err, "page")
	}
	address, err := d.view(ctx, store.Preview{SiteID: row.SiteID, View: "live", Marked: true}, row.Address)
	if err != nil {
		return err
	}
	taken, err := d.Camera.Take(ctx, []shots.View{{Address: throughDoor(address), Width: smallWindow}}, nil)
	if err != nil {
		return err
	}
	seen, err := picture.Look(taken[0].PNG)
	if err != nil {
		return err
	}
	at := rects(taken[0].Parts)
	for _, s := range sections {
		r := at[s.Part]
		cut := picture.Rect{X: max(0, r.Min.X), Y: max(0, r.Min.Y)}
		cut.Width = min(r.Max.X, seen.Width) - cut.X
		cut.Height = min(r.Max.Y, seen.Height, cut.Y+int(sectionTall*float64(max(cut.Width, narrowSection)))) - cut.Y
		small := ""
		if cut.Width > 8 && cut.Height > 8 {
			if small, err = d.keepSmall(ctx, taken[0], cut, min(sectionWide, cut.Width)); err != nil {
				return err
			}
		}
		if err := d.store.SetSmallSection(ctx, pageID, s.Nth, small); err != nil {
			return err
		}
	}
	return nil
}

// SmallSection is a small picture of a section of a site, a JPEG.
func (d *Desk) SmallSection(ctx context.Context, site int64, small string) ([]byte, error) {
	n, err := d.store.HasSmallSection(ctx, site, small)
	if err != nil || n == 0 {
		return nil, cmp.Or(err, error(refusal.New(refusal.Nothing, "There is no such picture of a section.")))
	}
	return d.store.Bytes(ctx, small)
}

// Here implements act.Rest.
func (r *rest) Here() string { return r.dr.row.Address }

// Lender implements act.Rest.
func (r *rest) Lender(id int64, of, section string) (l act.Lender, err error) {
	if r.lender != nil {
		return *r.lender, nil
	}
	row, err := r.d.store.Page(r.ctx, id)
	if err != nil {
		return l, missing(err, "page")
	}
	if row.SiteID != r.site.ID || row.GoneAt != nil || row.Locked != "" {
		return l, refusal.New(refusal.Nothing, "There is no such page on this site.")
	}
	p, err := r.d.parse(r.ctx, row)
	if err != nil {
		return l, err
	}
	part, ok := p.Part(section)
	if !ok || row.Hash != of || !slices.ContainsFunc(p.Lends(), func(l page.Lent) bool { return l.Part == part }) {
		return l, stale(
			"“%s” has changed meanwhile and does not have that section as it was. The list was loaded again: choose once more.",
			cmp.Or(row.Title, row.Address),
		)
	}
	return act.Lender{
		At: change.At{
			Page:    p,
			Address: row.Address,
		}, Title: cmp.Or(strings.TrimSpace(row.Title), row.Address), Section: part, Code: r.code,
	}, nil
}

// code reads a style sheet or script of the site; nil where it cannot be read: then it is not needed, as far as
// anybody can tell.
func (r *rest) code(path string) []byte {
	c, err := r.d.publicFile(r.ctx, r.site.ID, path, "")
	if err != nil {
		return nil
	}
	return c.Bytes
}
