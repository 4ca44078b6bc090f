package desk

import (
	"context"
	"encoding/json"
	"fmt"
	"net/url"
	"path"
	"strings"
	"time"

	"mendry/api"
	"mendry/internal/core/act"
	"mendry/internal/core/diff"
	"mendry/internal/core/page"
	"mendry/internal/core/picture"
	"mendry/internal/core/thread"
	"mendry/internal/store"
)

// Bench shows a page on the bench: its parts as the draft has them, and views for the frames.
func (d *Desk) Bench(ctx context.Context, number, pageID int64) (api.Bench, error) {
	done, err := d.turn(ctx)
	if err != nil {
		return api.Bench{}, err
	}
	defer done()
	r, row, err := d.onBench(ctx, number, pageID)
	if err != nil {
		return api.Bench{}, err
	}
	v, err := d.bench(ctx, r, row, d.stages, nil)
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

// bench shows a page on the bench, with all its parts; where the draft is given that whoever asks has before them,
// with those that are no longer as they were in it, if that can be told.
func (d *Desk) bench(ctx context.Context, r store.RequestRow, row store.Page, memory thread.Memory, before *draft) (api.Bench, error) {
	v := api.Bench{Page: rowOf(row), Whole: true, Parts: []api.Part{}, Runs: []api.PageRun{}, Keys: map[string]string{}, Changes: []api.Change{}, Hidden: []api.HiddenPart{}}
	var err error
	if v.Changes, err = d.thread(ctx, r.ID); err != nil {
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
	if v.Hidden, err = d.hidden(ctx, r.ID, row.ID); err != nil {
		return v, err
	}
	dr, err := d.draftOn(ctx, d.store.Queries, r.ID, row, memory)
	if err != nil {
		return v, err
	}
	v.Draft, v.Conflict = dr.Hash(), dr.ConflictSay()
	f := dr.Page().Facts
	v.Facts = api.Facts{Title: f.Title, Description: f.Description, Lang: f.Lang, Canonical: f.Canonical, Image: f.Image}
	of := dr.changeOf()
	standsAt(v.Changes, row.ID, dr)
	for i, id := range dr.Parts() {
		for k := range v.Changes {
			if v.Changes[k].ID == dr.changes[i].ID {
				v.Changes[k].Part = id
			}
		}
	}
	if before != nil {
		if parts, ok := partsSince(before, dr); ok {
			v.Whole, v.Parts = false, parts
			return v, nil
		}
	}
	shared, err := d.sharedOn(ctx, dr)
	if err != nil {
		return v, err
	}
	for _, part := range dr.Page().All {
		view := partView(dr.Page(), part, of[part.ID])
		view.Shared, view.Reach = shared[part.ID].say, shared[part.ID].reach
		v.Parts = append(v.Parts, view)
	}
	v.Runs = runViews(dr.Page())
	return v, nil
}

// hidden lists what is hidden of a page, as a request's draft has it.
func (d *Desk) hidden(ctx context.Context, request, pageID int64) ([]api.HiddenPart, error) {
	out := []api.HiddenPart{}
	cs, err := d.store.Hidden(ctx, request, pageID)
	for _, c := range cs {
		out = append(out, api.HiddenPart{
			ChangeID: c.ID, Name: c.PartName, Words: page.Short(c.BeforeWords, 120), State: api.ChangeState(c.State), By: c.MadeOf, At: c.MadeAt,
		})
	}
	return out, err
}

// standsAt finds the parts in which live changes of a page stand, by what they say.
func standsAt(changes []api.Change, pageID int64, dr *draft) {
	for i, c := range changes {
		if c.PageID != pageID || c.Kind != api.ChangeKindWords || c.AfterWords == "" || c.State != api.ChangeStateLive && c.State != api.ChangeStateSure {
			continue
		}
		said := ""
		for _, part := range dr.Page().All {
			if part.Kind.HasWords() && part.Text == c.AfterWords && !(part.Parent != nil && part.Parent.Kind.HasWords()) {
				if said != "" {
					said = ""
					break // which of them cannot be told
				}
				said = part.ID
			}
		}
		changes[i].Part = said
	}
}

// thread lists the changes of a request.
func (d *Desk) thread(ctx context.Context, number int64) ([]api.Change, error) {
	out := []api.Change{}
	cs, err := d.store.Thread(ctx, number)
	for _, c := range cs {
		v, err := d.changeView(ctx, d.store.Queries, c)
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
		OnPages: c.OnPages, LeftOn: c.LeftOn, MadeBy: c.MadeOf, MadeAt: c.MadeAt, Words: []api.Run{},
	}
	if c.Kind == "words" || c.Kind == "facts" || c.Kind == "file" {
		v.Words = runs(diff.Words(c.BeforeWords, c.AfterWords))
	}
	if c.ShapeWidth > 0 {
		v.Shape = &api.PictureShape{Width: c.ShapeWidth, Height: c.ShapeHeight, Fit: api.PictureFit(c.ShapeFit)}
	}
	if act.Kind(c.Kind).Shown() && !strings.HasPrefix(c.BeforeHTML, "<") {
		v.BeforePicture, v.AfterPicture = c.BeforeHTML, c.AfterHTML
	}
	if k := act.Kind(c.Kind); k == act.OfFile || k == act.OfVideo {
		fs, err := q.ChangeFiles(ctx, c.ID)
		if err != nil {
			return v, err
		}
		v.Files = fileViews(fs)
	}
	if c.MadeFrom == "" {
		return v, nil
	}
	pictures, err := q.ChangePictures(ctx, c.ID)
	if err != nil {
		return v, err
	}
	for i, f := range pictures {
		if i == 0 {
			v.PictureSay = fmt.Sprintf("%s, %d × %d, %s", f.Path, f.Width, f.Height, picture.Weight(int(f.Size)))
		} else {
			v.PictureSay += ", " + path.Base(f.Path)
		}
	}
	var made struct {
		Picture *api.PictureAct
		Put     *api.PutPictureAct
		Film    *api.PutVideoAct
	}
	if err := json.Unmarshal([]byte(c.MadeFrom), &made); err != nil {
		return v, err
	}
	if v.Made, v.Put = made.Picture, made.Put; v.Made != nil {
		v.Made.Do = api.DoPicture
	}
	if v.Put != nil {
		v.Put.Do = api.DoPutPicture
	}
	if v.Film = made.Film; v.Film != nil {
		v.Film.Do = api.DoPutVideo
	}
	return v, nil
}
