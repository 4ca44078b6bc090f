package desk

import (
	"context"
	"strings"

	"mendry/api"
	"mendry/internal/core/act"
	"mendry/internal/core/link"
	"mendry/internal/core/page"
	"mendry/internal/core/source"
	"mendry/internal/core/style"
	"mendry/internal/store"
)

// sheetOf reads the style sheets of a page: those of its own site and those in the page. What cannot be read is left
// out, as a visitor's browser would.
func (d *Desk) sheetOf(ctx context.Context, site store.Site, address string, p *page.Page) *style.Sheet {
	s := &style.Sheet{}
	for _, n := range p.Doc.Nodes {
		switch {
		case n.Is("style"):
			if k := n.HTML.FirstChild; k != nil {
				s.Read([]byte(k.Data))
			}
		case p.IsSheet(n):
			if media := strings.ToLower(p.Doc.Value(n, "media")); media != "" && media != "all" && media != "screen" {
				continue
			}
			if to, b, ok := d.ownFile(ctx, site, address, p.Doc.Value(n, "href")); ok {
				s.ReadFrom(to, b)
			}
		}
	}
	return s
}

// ownFile reads a file of the site that a page names; false where it is none, or cannot be read.
func (d *Desk) ownFile(ctx context.Context, site store.Site, address, href string) (to string, b []byte, ok bool) {
	kind, to, _ := link.Of(site.PublicURL, address, href)
	if kind != link.Inside {
		return to, nil, false
	}
	c, err := d.publicFile(ctx, site.ID, to, "")
	return to, c.Bytes, err == nil
}

// Styles lists the site's own styles that chosen words of a part may be given.
func (d *Desk) Styles(ctx context.Context, number, pageID int64, id string) ([]api.PartStyle, error) {
	dr, site, err := d.draftAndSite(ctx, number, pageID)
	if err != nil {
		return nil, err
	}
	part, err := dr.part(id)
	if err != nil {
		return nil, err
	}
	return d.stylesOf(ctx, site, dr.row.Address, dr.Page(), part), nil
}

// Settings shows the settings of a set, with the words that the site's style sheets and scripts know for them.
func (d *Desk) Settings(ctx context.Context, number, pageID int64, id string) ([]api.SetSetting, error) {
	dr, site, err := d.draftAndSite(ctx, number, pageID)
	if err != nil {
		return nil, err
	}
	p := dr.Page()
	part, err := dr.part(id)
	if err != nil {
		return nil, err
	}
	return settingViews(p, part, d.codeOf(ctx, site, dr.row.Address, p)...), nil
}

// codeOf reads the style sheets and scripts of a page: those of its own site and those in the page.
func (d *Desk) codeOf(ctx context.Context, site store.Site, address string, p *page.Page) [][]byte {
	return append(d.scriptsOf(ctx, site, address, p), d.code(ctx, site, address, p, func(n *source.Node) (href string, ok bool) {
		return p.Doc.Value(n, "href"), n.Is("style") || p.IsSheet(n)
	})...)
}

// scriptsOf is codeOf without style sheets.
func (d *Desk) scriptsOf(ctx context.Context, site store.Site, address string, p *page.Page) [][]byte {
	return d.code(ctx, site, address, p, func(n *source.Node) (src string, ok bool) { return p.Doc.Value(n, "src"), n.Is("script") })
}

// code reads what some elements of a page hold, or lead to on the site.
func (d *Desk) code(
	ctx context.Context, site store.Site, address string, p *page.Page, of func(*source.Node) (href string, ok bool),
) (all [][]byte) {
	for _, n := range p.Doc.Nodes {
		href, ok := of(n)
		if !ok {
			continue
		}
		if k := n.HTML.FirstChild; k != nil && href == "" {
			all = append(all, []byte(k.Data))
		}
		if href == "" {
			continue
		}
		if _, b, ok := d.ownFile(ctx, site, address, href); ok {
			all = append(all, b)
		}
	}
	return all
}

// stylesOf lists the styles that words of a part may be given.
func (d *Desk) stylesOf(ctx context.Context, site store.Site, address string, p *page.Page, part *page.Part) []api.PartStyle {
	out := []api.PartStyle{}
	if !act.Dressed(p, part) {
		return out
	}
	s := d.sheetOf(ctx, site, address, p)
	carried := map[string]int{}
	for _, q := range p.All {
		if q != part && q.Kind == part.Kind && q.Run == nil {
			for _, class := range strings.Fields(q.Attributes.Get("class")) {
				carried[class]++
			}
		}
	}
	for _, st := range s.Styles(part.Node.Tag(), carried) {
		v := api.PartStyle{Class: st.Class, Say: st.Say, Like: st.Like}
		n := part.Node.HTML
		if words, behind, ok := s.Words(style.Choice{By: style.ByClass, Value: st.Class}.With(n, n, nil)); ok {
			v.Contrast = style.Contrast(words, behind)
		}
		out = append(out, v)
	}
	return out
}

// stylesFor are the style sheets by which a draft is looked at; nil where the host makes the page of it.
func (d *Desk) stylesFor(ctx context.Context, site store.Site, dr *draft) *style.Sheet {
	if dr.Page().Doc.Format == source.Markdown {
		return nil
	}
	return d.sheetOf(ctx, site, dr.row.Address, dr.Page())
}
