package desk

import (
	"context"
	"slices"
	"strings"

	"golang.org/x/net/html"

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
		case n.Is("link") && slices.Contains(strings.Fields(strings.ToLower(p.Doc.Value(n, "rel"))), "stylesheet"):
			if media := strings.ToLower(p.Doc.Value(n, "media")); media != "" && media != "all" && media != "screen" {
				continue
			}
			kind, to, _ := link.Of(site.PublicURL, address, p.Doc.Value(n, "href"))
			if kind != link.Inside {
				continue
			}
			if c, err := d.publicFile(ctx, site.ID, to, ""); err == nil {
				s.ReadFrom(to, c.Bytes)
			}
		}
	}
	return s
}

// Styles lists the site's own styles that a part may be given.
func (d *Desk) Styles(ctx context.Context, number, pageID int64, id string) ([]api.PartStyle, error) {
	dr, site, err := d.draftAndSite(ctx, number, pageID)
	if err != nil {
		return nil, err
	}
	part, ok := dr.Page().Part(id)
	if !ok {
		return nil, stale("The part is no longer on the draft. It was loaded again.")
	}
	return d.stylesOf(ctx, site, dr.row.Address, dr.Page(), part), nil
}

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
	part, ok := dr.Page().Part(id)
	if !ok {
		return v, stale("The part is no longer on the draft. It was loaded again.")
	}
	rest := &rest{ctx: ctx, d: d, r: r, dr: dr, site: site, trying: true}
	b, src, ok := rest.Behind(dr.Page(), part)
	if !ok {
		return v, nil
	}
	v.Src, v.Sheet = src, b.Sheet
	if i, ok := rest.Known(src); ok {
		v.Width, v.Height = i.Width, i.Height
	}
	return v, nil
}

// stylesOf lists the styles that a part of a page may be given.
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
	own := strings.Fields(part.Attributes.Get("class"))
	for _, st := range s.Styles(part.Node.Tag(), carried) {
		v := api.PartStyle{Class: st.Class, Say: st.Say, Like: st.Like, Carried: slices.Contains(own, st.Class)}
		if words, behind, ok := s.Words(wearing(part.Node.HTML, append(slices.Clone(own), st.Class))); ok {
			v.Contrast = style.Contrast(words, behind)
		}
		out = append(out, v)
	}
	return out
}

// wearing is a node as it would be with other classes; it stands where n stands, and nothing is changed.
func wearing(n *html.Node, classes []string) *html.Node {
	c := *n
	c.Attr = slices.DeleteFunc(slices.Clone(n.Attr), func(a html.Attribute) bool { return a.Key == "class" })
	c.Attr = append(c.Attr, html.Attribute{Key: "class", Val: strings.Join(classes, " ")})
	return &c
}

// stylesFor are the style sheets by which a draft is looked at; nil where the host makes the page of it.
func (d *Desk) stylesFor(ctx context.Context, site store.Site, dr *draft) *style.Sheet {
	if dr.Page().Doc.Format == source.Markdown {
		return nil
	}
	return d.sheetOf(ctx, site, dr.row.Address, dr.Page())
}
