package desk

import (
	"context"
	"slices"
	"strings"

	"golang.org/x/net/html"

	"mendry/internal/core/link"
	"mendry/internal/core/page"
	"mendry/internal/core/source"
	"mendry/internal/host"
	"mendry/internal/store"
)

// built shows a Markdown page as its host builds it: the live page as visitors get it, with the draft's content in the
// place of what was built of the live one. Where the host does not say how it builds, the content stands alone.
func (d *Desk) built(ctx context.Context, row store.Page, draft *page.Page, marked bool) (host.Content, error) {
	content := rendered(draft, marked)
	shown := func(b []byte) host.Content {
		if marked {
			b = scripted(b, draft.Doc.Hash())
		}
		return host.Content{Media: "text/html; charset=utf-8", Bytes: b}
	}
	alone := shown([]byte("<!doctype html><meta charset=utf-8><title>" + html.EscapeString(draft.Facts.Title) +
		"</title><body>" + content))
	live, err := d.parse(ctx, row)
	if err != nil {
		return alone, nil
	}
	around, ok := d.aroundBuilt(ctx, row, live)
	if !ok {
		return alone, nil
	}
	return shown(slices.Concat(around.before, []byte(content), around.after)), nil
}

// surround is what a host's builder puts before and after a page's content.
type surround struct{ before, after []byte }

func (d *Desk) aroundBuilt(ctx context.Context, row store.Page, live *page.Page) (surround, bool) {
	s, err := d.store.Site(ctx, row.SiteID)
	if err != nil {
		return surround{}, false
	}
	address, err := link.Public(s.PublicURL, row.Address, "")
	if err != nil {
		return surround{}, false
	}
	v, err := d.visits.Get(ctx, address)
	if err != nil {
		return surround{}, false
	}
	p, err := page.Parse(v.Bytes, v.Media)
	if err != nil {
		return surround{}, false
	}
	in := page.Holding(p, live)
	if in == nil {
		return surround{}, false
	}
	return surround{v.Bytes[:in.InnerStart()], v.Bytes[in.InnerEnd():]}, true
}

// rendered writes a Markdown page's content as HTML, with the IDs of its parts where they are to be pointed at.
func rendered(p *page.Page, marked bool) string {
	var b strings.Builder
	begins, ends := map[*source.Node]*page.Part{}, map[*source.Node]bool{} // words among blocks
	for _, part := range p.All {
		if marked && part.Kind == page.Words && part.Run != nil {
			begins[part.Run[0]], ends[part.Run[len(part.Run)-1]] = part, true
		}
	}
	var write func(n *source.Node)
	write = func(n *source.Node) {
		if n.Tag() == "" {
			_ = html.Render(&b, n.HTML) // a strings.Builder never fails
			return
		}
		t := html.Token{Type: html.StartTagToken, Data: n.HTML.Data, Attr: n.HTML.Attr}
		s := t.String()
		if part, ok := p.At(n); ok && marked {
			s = strings.TrimSuffix(s, ">") + ` data-mendry="` + part.ID + `">`
		}
		b.WriteString(s)
		if n.Is("img", "br", "hr") {
			return
		}
		for _, k := range n.Kids {
			if run := begins[k]; run != nil {
				b.WriteString(`<span data-mendry="` + run.ID + `">`)
			}
			write(k)
			if ends[k] {
				b.WriteString("</span>")
			}
		}
		b.WriteString("</" + n.HTML.Data + ">")
	}
	for _, k := range p.Doc.Root.Kids[0].Kids {
		write(k)
	}
	return b.String()
}
