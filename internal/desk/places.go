package desk

import (
	"context"

	"mendry/api"
	"mendry/internal/core/check"
	"mendry/internal/core/link"
	"mendry/internal/core/page"
	"mendry/internal/core/picture"
	"mendry/internal/store"
)

// SetPlaces notes how large pictures of a draft are shown, as a frame said. Of a draft that is no longer so, nothing
// is noted.
func (d *Desk) SetPlaces(ctx context.Context, number, pageID int64, said api.PicturePlaces) error {
	done, err := d.turn(ctx)
	if err != nil {
		return err
	}
	defer done()
	dr, err := d.draftOf(ctx, d.store.Queries, number, pageID)
	if err != nil || dr.Hash() != said.Draft {
		return err
	}
	now := d.now()
	var ps []store.PicturePlace
	for _, p := range said.Places {
		if part, ok := dr.Page().Part(p.Part); ok && part.Kind == page.Picture {
			ps = append(ps, store.PicturePlace{
				PageID: pageID, SrcHash: dr.placeOf(part), AtWidth: int(p.At), Width: p.Width, Height: p.Height, Fit: string(p.Fit), OwnShape: p.Own,
				SeenAt: now,
			})
		}
	}
	return d.store.SetPicturePlaces(ctx, ps)
}

// placeOf is by what the place of a picture is known, whatever stands in it on the draft: the picture that is there
// live, or the new one where there is none.
func (dr *draft) placeOf(part *page.Part) string {
	if first := dr.First(part); first != nil {
		part = first
	}
	return hash([]byte(page.PictureAddress(part)))
}

// picturesOf answers what the rules ask of pictures.
type picturesOf struct {
	ctx    context.Context
	d      *Desk
	site   store.Site
	dr     *draft
	places map[string][]check.Place
	looked map[string]picture.Info // files by their public path: looked at before, or not kept yet
}

func (d *Desk) picturesOf(ctx context.Context, site store.Site, dr *draft) (*picturesOf, error) {
	p := &picturesOf{
		ctx:    ctx,
		d:      d,
		site:   site,
		dr:     dr,
		places: map[string][]check.Place{},
		looked: map[string]picture.Info{},
	}
	known, err := d.store.PicturePlaces(ctx, dr.row.ID)
	for _, k := range known {
		p.places[k.SrcHash] = append(p.places[k.SrcHash], check.Place{
			At: k.AtWidth, Width: k.Width, Height: k.Height, Fit: k.Fit, Own: k.OwnShape,
		})
	}
	return p, err
}

// Places implements check.Pictures.
func (p *picturesOf) Places(part *page.Part) []check.Place { return p.places[p.dr.placeOf(part)] }

// File implements check.Pictures: what a change brings, or else what visitors get.
func (p *picturesOf) File(src string) (picture.Info, bool) {
	kind, to, _ := link.Of(p.site.PublicURL, p.dr.row.Address, src)
	if kind != link.Inside {
		return picture.Info{}, false
	}
	if i, ok := p.looked[to]; ok {
		return i, true
	}
	i, ok := p.d.lookAt(p.ctx, store.Preview{SiteID: p.site.ID, RequestID: &p.dr.request, View: "draft"}, to)
	if ok { // several rules ask for the same
		p.looked[to] = i
	}
	return i, ok
}
