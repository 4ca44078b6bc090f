package desk

import (
	"context"
	"fmt"

	"mendry/api"
	"mendry/internal/core/act"
	"mendry/internal/core/change"
	"mendry/internal/core/page"
	"mendry/internal/store"
)

// changeOf are the changes that the draft's parts carry, by the part's ID.
func (dr *draft) changeOf() map[string]*store.Change {
	of := map[string]*store.Change{}
	for i, id := range dr.Parts() {
		if id != "" {
			of[id] = &dr.changes[i]
		}
	}
	return of
}

// partsSince shows the parts of a draft that are not as they were in the one before. It reports false where the parts
// cannot be told one by one, since the page is built differently.
func partsSince(before, dr *draft) ([]api.Part, bool) {
	was, is := before.Page(), dr.Page()
	if was != is && !page.SameShape(was, is) {
		return nil, false
	}
	views := []api.Part{}
	carried, carries := before.changeOf(), dr.changeOf()
	for i, part := range is.All {
		old, now := carried[part.ID], carries[part.ID]
		same := old == nil && now == nil || old != nil && now != nil && old.ID == now.ID && old.BeforeWords == now.BeforeWords
		if !same || part != was.All[i] && !part.Same(was.All[i]) {
			views = append(views, partView(is, part, now))
		}
	}
	return views, true
}

// partView shows a part of a draft; c is the change that it carries, nil where it is as it is live.
func partView(p *page.Page, part *page.Part, c *store.Change) api.Part {
	a := part.Attributes
	v := api.Part{
		ID: part.ID, Kind: string(part.Kind), Name: part.Name, Text: part.Text, Locked: part.Locked, Codes: append([]string{}, part.Tokens...),
		Src: page.PictureAddress(part), Alt: a.Get("alt"), Href: a.Get("href"), Title: a.Get("title"), Fits: []api.PartMove{}, Form: string(change.FormOf(part)), Forms: []api.PartForm{}, Splits: part.Locked == "" && change.Splits(part),
	}
	if c != nil {
		v.ChangeID, v.LiveText = &c.ID, c.BeforeWords
	}
	for _, form := range change.FormsFor(p, part) {
		v.Forms = append(v.Forms, api.PartForm(form))
	}
	switch {
	case !part.Kind.HasWords():
		v.Text = page.Short(part.Text, 120)
	case part.Locked == "":
		v.Edit = change.Editable(p, part)
	}
	if part.Parent != nil {
		v.Parent = part.Parent.ID
	}
	if part.Background || part.ShowsPicture() {
		v.Picture = &api.PartPicture{
			Background: part.Background, Share: act.Shares(p, part), Linked: act.LeadsToLarge(p, part), Narrow: act.ForNarrow(p, part),
		}
		side, percent := act.LaidAs(p, part)
		if link, ok := act.LinkOf(p, part); ok && !part.Background {
			v.Picture.Link = link.Attributes.Get("href")
		}
		if caption := act.CaptionOf(p, part); caption != nil {
			v.Picture.Caption = caption.Text
		}
		v.Picture.Side, v.Picture.Percent = api.PictureSide(side), float32(percent)
	}
	if part.Locked != "" || part.Kind == page.Cell || part.Kind == page.Link || !part.Placed() || part.Background {
		return v
	}
	prev, next := p.Beside(p.Whole(part))
	if prev != nil {
		v.Fits = append(v.Fits, api.PartMove{Anchor: prev.ID, Where: api.Before})
	}
	if next != nil {
		v.Fits = append(v.Fits, api.PartMove{Anchor: next.ID, Where: api.After})
	}
	return v
}

// runViews shows the runs of a page.
func runViews(p *page.Page) []api.PageRun {
	views := []api.PageRun{}
	for _, r := range change.Runs(p) {
		v := api.PageRun{Blocks: make([]api.RunBlock, len(r.Blocks))}
		for i, b := range r.Blocks {
			if b.Part != nil {
				v.Blocks[i].Part = b.Part.ID
			}
			if !b.Sealed() {
				form := api.PartForm(b.Form)
				v.Blocks[i].Form = &form
			}
			v.Blocks[i].Name = b.Name
		}
		views = append(views, v)
	}
	return views
}

// sharedOn says of a draft's parts, by ID, on how many pages they are, if they are shared; parts in others are left out.
func (d *Desk) sharedOn(ctx context.Context, dr *draft) (map[string]string, error) {
	said := map[string]string{}
	key := dr.row.Hash + dr.row.Address
	prints, ok := d.prints.Get(key)
	if !ok {
		prints = dr.Live.Prints(dr.row.Address)
		d.prints.Add(key, prints)
	}
	sums := make([]string, len(prints))
	for i, p := range prints {
		sums[i] = p.Sum
	}
	on, err := d.store.SharedOn(ctx, dr.row.SiteID, sums)
	if err != nil {
		return said, err
	}
	pages, err := d.store.PageCount(ctx, dr.row.SiteID)
	inside := map[*page.Part]bool{}
	for _, p := range prints {
		live, found := dr.Live.Part(p.Part)
		if !found || on[p.Sum] < 2 || !page.SharedOn(live, on[p.Sum], pages) {
			continue
		}
		inside[live] = true
		if live.Parent != nil && inside[live.Parent] {
			continue
		}
		if now := dr.Now(live, 0); now != nil {
			said[now.ID] = fmt.Sprintf("is on %d pages", on[p.Sum])
		}
	}
	return said, err
}
