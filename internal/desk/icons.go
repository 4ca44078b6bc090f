package desk

import (
	"bytes"
	"context"
	"fmt"
	"html"
	"slices"
	"strings"

	"mendry/api"
	"mendry/internal/core/act"
	"mendry/internal/core/page"
	"mendry/internal/core/refusal"
	"mendry/internal/core/source"
	"mendry/internal/host"
	"mendry/internal/store"
)

// mostIcons are offered for the place of one: more are not looked through by eye.
const mostIcons = 240

// iconSide is how wide and high the cell of an icon is on a sheet of them, in CSS pixels, and iconColumns how many
// stand in a row.
const (
	iconSide    = 44
	iconColumns = 8
)

// Icons shows the icons in a part, and those of the site that may take the place of one of them.
func (d *Desk) Icons(ctx context.Context, number, pageID int64, id string, at int) (api.PartIcons, error) {
	v := api.PartIcons{In: []api.PartIcon{}, Choices: []api.PartIcon{}}
	dr, site, err := d.draftAndSite(ctx, number, pageID)
	if err != nil {
		return v, err
	}
	p := dr.Page()
	part, err := dr.part(id)
	if err != nil {
		return v, err
	}
	icons := d.iconsOf(ctx, site, dr.row.Address, p, part)
	for _, icon := range icons.In {
		v.In = append(v.In, api.PartIcon{Key: icon.Key(), Name: icon.Name})
	}
	if at < 0 || at >= len(icons.In) {
		return v, nil
	}
	for _, icon := range icons.For(icons.In[at]) {
		v.Choices = append(v.Choices, api.PartIcon{Key: icon.Key(), Name: icon.Name})
	}
	return v, nil
}

// Icons implements act.Rest.
func (r *rest) Icons(p *page.Page, part *page.Part) (act.Icons, error) {
	return r.d.iconsOf(r.ctx, r.site, r.dr.row.Address, p, part), nil
}

// iconsOf finds the icons in a part. Those that may take the place of one are of its kind: of the same font or the
// same sheet of drawings, those that the site's pages show first, or drawings on the site's pages.
func (d *Desk) iconsOf(ctx context.Context, site store.Site, address string, p *page.Page, part *page.Part) (icons act.Icons) {
	if part.Run != nil || part.Background || part.Locked != "" || p.Doc.Format != source.HTML || part.Kind == page.Section {
		return icons
	}
	drawn := d.sheetOf(ctx, site, address, p).Drawn()
	icons.In = p.Icons(part.Node, drawn)
	icons.For = func(was page.Icon) (all []page.Icon) {
		seen := map[string]bool{}
		add := func(icon page.Icon) {
			if icon.By == was.By && icon.Family() == was.Family() && !seen[icon.Key()] && len(all) < mostIcons {
				seen[icon.Key()] = true
				all = append(all, icon)
			}
		}
		for _, icon := range p.Icons(p.Doc.Root, drawn) {
			add(icon)
		}
		for _, other := range d.pagesToLearn(ctx, site.ID) {
			if other.Doc.Encoding.Name == p.Doc.Encoding.Name {
				for _, icon := range other.Icons(other.Doc.Root, drawn) {
					add(icon)
				}
			}
		}
		for _, says := range d.moreIcons(ctx, site, address, p, was, drawn) {
			icon := page.Icon{By: was.By, Says: says}
			icon.Name = strings.TrimPrefix(says, icon.Family())
			add(icon)
		}
		return all
	}
	return icons
}

// moreIcons are the other icons of a font or of a sheet of drawings, whether a page shows them or not.
func (d *Desk) moreIcons(ctx context.Context, site store.Site, address string, p *page.Page, was page.Icon, drawn map[string]bool) (all []string) {
	switch was.By {
	case page.IconByFont:
		for class := range drawn {
			all = append(all, class)
		}
		slices.Sort(all)
	case page.IconByUse:
		sheet := p.Doc.Bytes
		if file := strings.TrimSuffix(was.Family(), "#"); file != "" {
			_, sheet, _ = d.ownFile(ctx, site, address, file)
		}
		for _, name := range page.Symbols(sheet) {
			all = append(all, was.Family()+name)
		}
	}
	return all
}

// IconSheet is a page that shows the icons which may take the place of one, as the site draws them: cells of iconSide,
// iconColumns in a row, in the order in which Icons lists them.
func (d *Desk) IconSheet(ctx context.Context, v store.Preview, pageID int64, id string, at int) (host.Content, error) {
	none := refusal.New(refusal.Nothing, "There is no such icon.")
	if v.RequestID == nil || v.View != "draft" {
		return host.Content{}, none
	}
	dr, site, err := d.draftAndSite(ctx, *v.RequestID, pageID)
	if err != nil {
		return host.Content{}, err
	}
	p := dr.Page()
	part, ok := p.Part(id)
	if !ok || site.ID != v.SiteID {
		return host.Content{}, none
	}
	icons := d.iconsOf(ctx, site, dr.row.Address, p, part)
	if at < 0 || at >= len(icons.In) {
		return host.Content{}, none
	}
	var b bytes.Buffer
	fmt.Fprintf(&b, `<!doctype html><html><head><meta charset="utf-8"><base href="%s">`, html.EscapeString(dr.row.Address))
	for _, n := range p.Doc.Nodes {
		if n.Placed && (n.Is("style") || p.IsSheet(n)) {
			b.WriteString(p.Doc.Decode(p.Doc.Bytes[n.Start():n.End()]))
		}
	}
	fmt.Fprintf(&b, `<style>html,body{all:revert!important;margin:0!important;padding:0!important;background:#fff!important;overflow:hidden!important}
#of{all:revert!important;display:grid!important;grid-template-columns:repeat(%d,%dpx)!important;grid-auto-rows:%[2]dpx!important}
#of>div{all:revert!important;display:grid!important;place-items:center!important;overflow:hidden!important;font-size:22px!important;line-height:1!important;color:#1a2136!important}
#of>div>*{margin:0!important;max-width:30px!important;max-height:30px!important;position:static!important;color:#1a2136!important}</style></head><body>`, iconColumns, iconSide)
	for _, n := range p.Doc.Nodes {
		if n.Placed && n.Is("symbol") && n.Parent != nil {
			fmt.Fprintf(&b, `<svg style="display:none">%s</svg>`, p.Doc.Decode(p.Doc.Bytes[n.Start():n.End()]))
		}
	}
	was := icons.In[at]
	b.WriteString(`<div id="of">`)
	for _, icon := range icons.For(was) {
		fmt.Fprintf(&b, "<div>%s</div>", p.Doc.Decode([]byte(was.As(p.Doc, icon))))
	}
	b.WriteString("</div></body></html>")
	return host.Content{Bytes: b.Bytes(), Media: "text/html; charset=utf-8"}, nil
}
