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

var yes = true

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
	if part.Half != "" {
		v.Half = &part.Half
	}
	if around := p.Around(part); around != nil {
		v.Around = &around.ID
	}
	v.Row = rowView(p, part)
	v.Unders = underViews(p, part)
	if part.Locked == "" && part.Kind != page.Section && part.Run == nil && page.MayHoldIcon(part.Node) {
		v.Iconic = &yes
	}
	if part.Kind == page.Set {
		v.Set = setView(p, part)
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

// setView shows what a set is made of.
func setView(p *page.Page, set *page.Part) *api.PartSet {
	v := &api.PartSet{Like: p.Like(set), Items: []string{}, OneShows: p.OneShows(set)}
	if title := p.TitleOf(set); title != nil {
		v.Title = title.ID
	}
	for _, item := range set.Items() {
		v.Items = append(v.Items, item.ID)
	}
	v.Settings = settingViews(p, set)
	return v
}

// settingViews shows the settings of a set; code are style sheets and scripts that know words for them.
func settingViews(p *page.Page, set *page.Part, code ...[]byte) []api.SetSetting {
	views := []api.SetSetting{}
	for _, s := range set.Settings {
		say, unit := s.Says()
		choices := []string{}
		switch s.Is {
		case page.IsWord:
			choices = p.Choices(s, code...)
		case page.IsYesNo:
			yes, no := s.YesNo()
			choices = []string{yes, no}
		}
		views = append(views, api.SetSetting{
			Part: s.Part, Name: s.Name, Key: s.Key, Value: s.Value, Is: api.SetSettingIs(s.Is), Say: say, Unit: unit, Choices: choices,
		})
	}
	return views
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

// sharedPart is a part of a live page that stands on several pages of its site.
type sharedPart struct {
	live *page.Part
	sum  string // its print
	on   int    // pages
}

// printsOf are the prints of a draft's live page.
func (d *Desk) printsOf(dr *draft) []page.Print {
	key := dr.row.Hash + dr.row.Address
	prints, ok := d.prints.Get(key)
	if !ok {
		prints = dr.Live.Prints(dr.row.Address)
		d.prints.Add(key, prints)
	}
	return prints
}

// sharedParts are those of a draft's live page, in the order of the page, also those that stand in others.
func (d *Desk) sharedParts(ctx context.Context, dr *draft) (all []sharedPart, err error) {
	prints := d.printsOf(dr)
	sums := make([]string, len(prints))
	for i, p := range prints {
		sums[i] = p.Sum
	}
	on, err := d.store.SharedOn(ctx, dr.row.SiteID, sums)
	if err != nil {
		return nil, err
	}
	pages, err := d.store.PageCount(ctx, dr.row.SiteID)
	for _, p := range prints {
		live, found := dr.Live.Part(p.Part)
		if found && on[p.Sum] >= 2 && page.SharedOn(live, on[p.Sum], pages) {
			all = append(all, sharedPart{live, p.Sum, on[p.Sum]})
		}
	}
	return all, err
}

// underViews are the entries of a menu below which one of them can be put; nil for other parts.
func underViews(p *page.Page, part *page.Part) *[]api.PartUnder {
	if part.Kind != page.Item || part.Locked != "" {
		return nil
	}
	var all []api.PartUnder
	for _, e := range act.Unders(p, part) {
		u := api.PartUnder{}
		if e.Part != nil {
			u.Entry, u.Name = e.Part.ID, act.EntryName(p, e)
		}
		all = append(all, u)
	}
	if all == nil {
		return nil
	}
	return &all
}

// sharing is what is said of a shared part: on how many pages it is, and on which of them it is changed.
type sharing struct {
	say   string
	reach api.Reach
}

// sharedOn tells of a draft's shared parts, by ID; parts in others are left out.
func (d *Desk) sharedOn(ctx context.Context, dr *draft) (map[string]sharing, error) {
	said := map[string]sharing{}
	all, err := d.sharedParts(ctx, dr)
	if err != nil {
		return said, err
	}
	chosen, err := d.store.SharedChoices(ctx, dr.request)
	inside := map[*page.Part]bool{}
	for _, s := range all {
		inside[s.live] = true
		if s.live.Parent != nil && inside[s.live.Parent] {
			continue
		}
		now := dr.Now(s.live, 0)
		if now == nil {
			continue
		}
		one := sharing{say: fmt.Sprintf("is on %d pages", s.on)}
		if everywhere, ok := chosen[s.sum]; ok {
			if one.reach = api.ReachThis; everywhere {
				one.reach = api.ReachAll
			}
		}
		said[now.ID] = one
	}
	return said, err
}
