package desk

import (
	"cmp"
	"context"
	"slices"

	"mendry/api"
	"mendry/internal/core/act"
	"mendry/internal/core/link"
	"mendry/internal/core/page"
	"mendry/internal/core/source"
	"mendry/internal/core/style"
)

// Behind tells which picture a style sheet of the site puts behind a part.
func (d *Desk) Behind(ctx context.Context, number, pageID int64, id string) (v api.PartBehind, err error) {
	r, _, err := d.onBench(ctx, number, pageID)
	if err != nil {
		return v, err
	}
	dr, site, err := d.draftAndSite(ctx, number, pageID)
	if err != nil {
		return v, err
	}
	part, err := dr.part(id)
	if err != nil {
		return v, err
	}
	rest := &rest{ctx: ctx, d: d, r: r, dr: dr, site: site, trying: true}
	b, src, ok := rest.Behind(dr.Page(), part)
	if !ok {
		v.May = part.Kind == page.Section && act.Dressed(dr.Page(), part) && rest.PutsBehind(dr.Page())
		return v, nil
	}
	v.Src, v.Sheet = src, b.Sheet
	if i, ok := rest.Known(src); ok {
		v.Width, v.Height = i.Width, i.Height
	}
	return v, nil
}

// Behind implements act.Rest.
func (r *rest) Behind(p *page.Page, part *page.Part) (b style.Behind, src string, ok bool) {
	if part.Run != nil || p.Doc.Format == source.Markdown {
		return b, "", false
	}
	if b, ok = r.d.sheetOf(r.ctx, r.site, r.dr.row.Address, p).Behind(part.Node.HTML); !ok {
		return b, "", false
	}
	src = r.Address(b, b.Src)
	kind, _, _ := link.Of(r.site.PublicURL, r.dr.row.Address, src)
	return b, src, kind == link.Inside
}

// PutsBehind implements act.Rest: it looks at the page, its sheets and the first pages of the site.
func (r *rest) PutsBehind(p *page.Page) bool {
	behind := func(p *page.Page) bool {
		return slices.ContainsFunc(p.All, func(q *page.Part) bool { return q.Background })
	}
	if behind(p) || r.d.sheetOf(r.ctx, r.site, r.dr.row.Address, p).PutsBehind() {
		return true
	}
	for _, other := range r.d.pagesToLearn(r.ctx, r.site.ID) {
		if behind(other) {
			return true
		}
	}
	return false
}

// Address implements act.Rest: addresses in a sheet begin where the sheet stands (CSS Values 4, 4.5), and on the page
// from the top of the site.
func (r *rest) Address(b style.Behind, src string) string {
	from := cmp.Or(b.Sheet, r.dr.row.Address)
	if kind, to, _ := link.Of(r.site.PublicURL, from, src); kind == link.Inside {
		return to
	}
	return src
}
