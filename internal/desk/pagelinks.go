package desk

import (
	"context"
	"strings"
	"sync"
	"time"

	"mendry/api"
	"mendry/internal/core/check"
	"mendry/internal/core/link"
	"mendry/internal/core/page"
)

const (
	triesAtOnce = 6
	triesLast   = 20 * time.Second // for all links of a page together
	mostTries   = 100
)

// PageLinks lists every link of a page's draft, with what is wrong with it. Outside ones are tried.
func (d *Desk) PageLinks(ctx context.Context, number, pageID int64) ([]api.PageLink, error) {
	out := []api.PageLink{}
	dr, site, err := d.draftAndSite(ctx, number, pageID)
	if err != nil {
		return out, err
	}
	p := dr.Page()
	said := map[string]check.Finding{}
	asks := &siteOf{ctx: ctx, d: d, site: site, of: pageID, draft: number}
	for _, f := range check.Links(&check.Subject{After: p, Address: dr.row.Address, Public: site.PublicURL, Site: asks}) {
		if was, ok := said[f.Part]; !ok || was.Level == check.Look {
			said[f.Part] = f
		}
	}
	if asks.err != nil {
		return out, asks.err
	}
	outside := map[string]api.LinkTried{}
	for _, part := range p.All {
		if !part.IsLink() {
			continue
		}
		v := api.PageLink{Part: part.ID, Words: part.Text, Href: part.Attributes.Get("href"), Level: api.LevelFine}
		if f, ok := said[part.ID]; ok {
			v.Level, v.Say = api.Level(f.Level), f.Say
		}
		if kind, _, _ := link.Of(site.PublicURL, dr.row.Address, v.Href); kind == link.Outside && len(outside) < mostTries {
			outside[absolute(site.PublicURL, v.Href)] = api.LinkTried{}
		}
		out = append(out, v)
	}
	d.tryAll(ctx, outside)
	for i, v := range out {
		tried, ok := outside[absolute(site.PublicURL, v.Href)]
		switch {
		case !ok:
		case !tried.Ok:
			out[i].Level, out[i].Say = api.LevelStop, tried.Say
		case v.Say == "" && tried.Say != answers:
			out[i].Level, out[i].Say = api.LevelLook, tried.Say
		}
	}
	return out, nil
}

// absolute is an outside address in full; one that begins with // takes the site's scheme.
func absolute(public, href string) string {
	if to, err := link.Resolve(public, href); err == nil {
		return to
	}
	return strings.TrimSpace(href)
}

// tryAll tries addresses, several at a time, and notes what each says.
func (d *Desk) tryAll(ctx context.Context, addresses map[string]api.LinkTried) {
	ctx, cancel := context.WithTimeout(ctx, triesLast)
	defer cancel()
	var mu sync.Mutex
	var wg sync.WaitGroup
	slots := make(chan struct{}, triesAtOnce)
	var all []string
	for a := range addresses {
		all = append(all, a)
	}
	for _, a := range all {
		slots <- struct{}{}
		wg.Go(func() {
			defer func() { <-slots }()
			tried, err := d.TryLink(ctx, a)
			if err != nil {
				tried = api.LinkTried{Say: "The address could not be tried."}
			}
			mu.Lock()
			addresses[a] = tried
			mu.Unlock()
		})
	}
	wg.Wait()
}

// Places lists the headings of a page, as it is live, that a link can lead to.
func (d *Desk) Places(ctx context.Context, pageID int64) ([]api.PagePlace, error) {
	out := []api.PagePlace{}
	row, err := d.store.Page(ctx, pageID)
	if err != nil {
		return out, missing(err, "page")
	}
	if row.Locked != "" {
		return out, nil
	}
	p, err := d.parse(ctx, row)
	if err != nil {
		return out, err
	}
	for _, part := range p.All {
		if part.Kind != page.Heading {
			continue
		}
		if id := p.PlaceOf(part); id != "" {
			out = append(out, api.PagePlace{Place: id, Words: part.Text, Level: page.Level(part.Node)})
		}
	}
	return out, nil
}
