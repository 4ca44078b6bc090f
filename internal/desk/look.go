package desk

import (
	"context"
	"time"

	"mendry/api"
	"mendry/internal/core/change"
	"mendry/internal/core/page"
	"mendry/internal/host"
	"mendry/internal/store"
)

// readNow reads a page from its host as it is now.
func (d *Desk) readNow(ctx context.Context, pageID int64) (store.Site, store.Page, host.Content, error) {
	p, err := d.store.Page(ctx, pageID)
	if err != nil {
		return store.Site{}, p, host.Content{}, missing(err, "page")
	}
	s, err := d.store.Site(ctx, p.SiteID)
	if err != nil {
		return s, p, host.Content{}, err
	}
	h, err := d.liveHost(ctx, s.ID)
	if err != nil {
		return s, p, host.Content{}, err
	}
	ctx, cancel := context.WithTimeout(ctx, 20*time.Second)
	defer cancel()
	c, err := h.Read(ctx, p.Path)
	return s, p, c, err
}

// LookAtPage compares what the host has with what Mendry last knew. Nothing is overwritten, on neither side.
func (d *Desk) LookAtPage(ctx context.Context, pageID int64) (api.PageLook, error) {
	out := api.PageLook{Differences: []api.PageDifference{}}
	_, p, c, err := d.readNow(ctx, pageID)
	if host.Is(err, host.Gone) {
		out.Say = "The page is no longer on the host. Take in the site again to see what became of it."
		return out, nil
	}
	if err != nil {
		return out, err
	}
	if hash(c.Bytes) == p.Hash || p.Hash == "" {
		out.Same, out.Say = true, "The live page is as Mendry last knew it."
		return out, nil
	}
	if err := d.store.SetElsewhere(ctx, p.ID, d.now()); err != nil {
		return out, err
	}
	out.Say = "Somebody else changed the live page since Mendry last knew it."
	known, err := d.store.Bytes(ctx, p.Hash)
	if err != nil {
		return out, err
	}
	out.Differences = differences(p.Path, known, p.Media, c.Bytes, c.Media)
	return out, nil
}

// differences lists what became of a page's parts, as far as both versions can be read.
func differences(file string, old []byte, oldMedia string, now []byte, nowMedia string) []api.PageDifference {
	ds := []api.PageDifference{}
	a, errA := page.ParseFile(file, old, oldMedia)
	b, errB := page.ParseFile(file, now, nowMedia)
	if errA != nil || errB != nil {
		return append(ds, api.PageDifference{Name: "the page", Say: "The page can no longer be read as a page.", Words: []api.Run{}})
	}
	return between(a, b)
}

// between lists what became of a page's parts.
func between(old, now *page.Page) []api.PageDifference {
	ds := []api.PageDifference{}
	cmp := change.Compare(old, now)
	for _, c := range cmp.All() {
		ds = append(ds, api.PageDifference{Name: c.Name, Say: c.Say, Words: runs(c.Words)})
	}
	if !cmp.OutsideSame {
		ds = append(ds, api.PageDifference{Name: "the rest", Say: "Markup outside the parts differs too.", Words: []api.Run{}})
	}
	return ds
}

// TakeInPage takes in the page as the host has it. Kept changes stay and are brought onto the newer page; one that no
// longer fits is shown as a conflict.
func (d *Desk) TakeInPage(ctx context.Context, who Who, pageID int64) error {
	s, p, c, err := d.readNow(ctx, pageID)
	if err != nil {
		return err
	}
	before := p.Hash
	known := page.Know(p.Path, p.Address, c.Bytes, c.Media)
	return d.store.Tx(ctx, func(q store.Queries) error {
		if err := d.keepPage(ctx, q, &p, known, c); err != nil {
			return err
		}
		if p.Hash == before {
			return nil
		}
		return d.note(ctx, q, s.ID, nil, &p.ID, event{
			Who: who.Name, What: "edit by others taken in", Say: p.Address + " was changed outside Mendry and taken in",
			Pages: []eventPage{{Address: p.Address, Before: before, After: p.Hash}},
		})
	})
}
