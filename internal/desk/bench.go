package desk

import (
	"context"
	"fmt"
	"net/url"
	"strings"
	"time"

	"mendry/api"
	"mendry/internal/core/change"
	"mendry/internal/core/diff"
	"mendry/internal/core/page"
	"mendry/internal/core/picture"
	"mendry/internal/store"
)

// Bench shows a page on the bench: its parts as the draft has them, and views for the frames.
func (d *Desk) Bench(ctx context.Context, number, pageID int64) (api.Bench, error) {
	r, row, err := d.onBench(ctx, number, pageID)
	if err != nil {
		return api.Bench{}, err
	}
	v, err := d.bench(ctx, d.store.Queries, r, row)
	if err != nil {
		return v, err
	}
	for _, view := range []struct {
		kind string
		to   *string
	}{{"live", &v.LiveURL}, {"draft", &v.DraftURL}} {
		if *view.to, err = d.view(ctx, store.Preview{SiteID: r.SiteID, RequestID: &number, View: view.kind, Marked: row.Locked == ""}, row.Address); err != nil {
			return v, err
		}
	}
	return v, nil
}

// onBench finds a request and a page of its site.
func (d *Desk) onBench(ctx context.Context, number, pageID int64) (store.RequestRow, store.Page, error) {
	r, err := d.store.RequestRow(ctx, number)
	if err != nil {
		return r, store.Page{}, missing(err, "request")
	}
	row, err := d.store.Page(ctx, pageID)
	if err != nil {
		return r, row, missing(err, "page")
	}
	if row.SiteID != r.SiteID {
		return r, row, refused("That page belongs to another site than this request.")
	}
	return r, row, nil
}

// view opens a view of a site for a frame and returns the address of a page in it.
func (d *Desk) view(ctx context.Context, p store.Preview, address string) (string, error) {
	t := token()
	p.TokenHash, p.ExpiresAt = hash([]byte(t)), d.now().Add(12*time.Hour)
	if err := d.store.AddPreview(ctx, p, d.now()); err != nil {
		return "", err
	}
	base := strings.TrimSuffix(strings.ReplaceAll(d.PreviewURL, "{token}", t), "/")
	return base + (&url.URL{Path: address}).EscapedPath(), nil
}

func (d *Desk) bench(ctx context.Context, q store.Queries, r store.RequestRow, row store.Page) (api.Bench, error) {
	v := api.Bench{Page: rowOf(row), Parts: []api.Part{}, Changes: []api.Change{}}
	var err error
	if v.Changes, err = d.threadOn(ctx, q, r.ID); err != nil {
		return v, err
	}
	for _, c := range v.Changes {
		if c.State == api.ChangeStateKept {
			v.Kept++
		}
	}
	if row.Locked != "" {
		return v, nil
	}
	dr, err := d.draftOn(ctx, q, r.ID, row)
	if err != nil {
		return v, err
	}
	p := dr.Page()
	v.Draft, v.Conflict = dr.Hash(), dr.ConflictSay()
	f := p.Facts
	v.Facts = api.Facts{Title: f.Title, Description: f.Description, Lang: f.Lang, Canonical: f.Canonical, Image: f.Image}
	of := map[string]int{}
	for i, id := range dr.Parts() {
		if id != "" {
			of[id] = i
		}
		for k := range v.Changes {
			if v.Changes[k].ID == dr.changes[i].ID {
				v.Changes[k].Part = id
			}
		}
	}
	shared, err := d.sharedOn(ctx, q, dr)
	if err != nil {
		return v, err
	}
	for _, part := range p.All {
		view := partView(p, part)
		if i, ok := of[part.ID]; ok {
			view.ChangeID, view.LiveText = &dr.changes[i].ID, dr.changes[i].BeforeWords
		}
		view.Shared = shared[part.ID]
		v.Parts = append(v.Parts, view)
	}
	return v, nil
}

// sharedOn says of a draft's parts, by ID, on how many pages they are, if they are shared; parts in others are left out.
func (d *Desk) sharedOn(ctx context.Context, q store.Queries, dr *draft) (map[string]string, error) {
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
	on, err := q.SharedOn(ctx, dr.row.SiteID, sums)
	if err != nil {
		return said, err
	}
	pages, err := q.PageCount(ctx, dr.row.SiteID)
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

func partView(p *page.Page, part *page.Part) api.Part {
	a := part.Attributes
	v := api.Part{
		ID: part.ID, Kind: string(part.Kind), Name: part.Name, Text: part.Text, Locked: part.Locked, Codes: append([]string{}, part.Tokens...),
		Src: a.Get("src"), Alt: a.Get("alt"), Href: a.Get("href"), Title: a.Get("title"), Fits: []api.PartMove{}, Form: string(change.FormOf(part)), Forms: []api.PartForm{}, Splits: part.Locked == "" && change.Splits(part),
	}
	if above := change.Above(p, part); above != nil {
		v.Above = above.ID
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
	if part.Locked != "" || part.Kind == page.Cell || part.Kind == page.Link || !part.Placed() || part.Background {
		return v
	}
	prev, next := p.Beside(part)
	if prev != nil {
		v.Fits = append(v.Fits, api.PartMove{Anchor: prev.ID, Where: api.Before, Name: prev.Name})
	}
	if next != nil {
		v.Fits = append(v.Fits, api.PartMove{Anchor: next.ID, Where: api.After, Name: next.Name})
	}
	return v
}

// thread lists the changes of a request.
func (d *Desk) thread(ctx context.Context, number int64) ([]api.Change, error) {
	return d.threadOn(ctx, d.store.Queries, number)
}

func (d *Desk) threadOn(ctx context.Context, q store.Queries, number int64) ([]api.Change, error) {
	out := []api.Change{}
	cs, err := q.Thread(ctx, number)
	for _, c := range cs {
		v, err := d.changeView(ctx, q, c)
		if err != nil {
			return out, err
		}
		out = append(out, v)
	}
	return out, err
}

func (d *Desk) changeView(ctx context.Context, q store.Queries, c store.ChangeRow) (api.Change, error) {
	v := api.Change{
		ID: c.ID, PageID: c.PageID, Address: c.Address, PageTitle: c.Title, WishID: c.WishID, Kind: api.ChangeKind(c.Kind),
		PartName: c.PartName, Say: c.Say, BeforeWords: c.BeforeWords, AfterWords: c.AfterWords, State: api.ChangeState(c.State),
		MadeBy: c.MadeOf, MadeAt: c.MadeAt, Words: []api.Run{},
	}
	if c.Kind == "words" || c.Kind == "facts" {
		v.Words = runs(diff.Words(c.BeforeWords, c.AfterWords))
	}
	if c.PictureID != nil {
		v.BeforePicture, v.AfterPicture = c.BeforeHTML, c.AfterHTML
		f, err := q.PictureFile(ctx, *c.PictureID)
		if err != nil {
			return v, err
		}
		v.PictureSay = fmt.Sprintf("%s, %d × %d, %s", f.Path, f.Width, f.Height, picture.Weight(int(f.Size)))
	}
	return v, nil
}
