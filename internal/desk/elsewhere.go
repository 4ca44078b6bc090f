package desk

import (
	"context"
	"fmt"
	"slices"
	"strings"
	"unicode"
	"unicode/utf8"

	"mendry/api"
	"mendry/internal/core/act"
	"mendry/internal/core/diff"
	"mendry/internal/core/page"
	"mendry/internal/core/text"
	"mendry/internal/store"
)

// swap is what a change replaced, and by what.
type swap struct{ old, new string }

// swapsOf lists the words that a change replaced: prices, numbers, dates and names that could stand elsewhere too.
func swapsOf(before, after string) (all []swap) {
	runs := diff.Words(before, after)
	for i := 0; i+1 < len(runs); i++ {
		if runs[i].Is != diff.Gone || runs[i+1].Is != diff.New {
			continue
		}
		s := swap{strings.Trim(runs[i].Text, " .,;:!?"), strings.Trim(runs[i+1].Text, " .,;:!?")}
		if s.old == "" || s.new == "" || strings.EqualFold(s.old, s.new) {
			continue
		}
		gone, now := text.Values(s.old), text.Values(s.new)
		if len(gone) == len(now) && len(gone) > 0 { // values in a phrase are looked for by themselves
			for k, v := range gone {
				all = append(all, swap{s.old[v.Start:v.End], s.new[now[k].Start:now[k].End]})
			}
			continue
		}
		if len([]rune(s.old)) > 3 {
			all = append(all, s)
		}
	}
	return all
}

const mostElsewhere = 200

// Elsewhere finds where else on the site, or on all sites of the client, the words stand that a change replaced.
func (d *Desk) Elsewhere(ctx context.Context, number, id int64, wholeClient bool) (api.Elsewhere, error) {
	v := api.Elsewhere{Places: []api.ElsewherePlace{}}
	r, err := d.store.RequestRow(ctx, number)
	if err != nil {
		return v, missing(err, "request")
	}
	c, err := d.changeOf(ctx, number, id)
	if err != nil {
		return v, err
	}
	v.LeftWhy = c.LeftWhy
	if c.Kind != "words" {
		return v, nil
	}
	swaps := swapsOf(c.BeforeWords, c.AfterWords)
	if len(swaps) == 0 {
		return v, nil
	}
	v.Old, v.New = swaps[0].old, swaps[0].new
	sites, err := d.sitesOf(ctx, r, wholeClient)
	if err != nil {
		return v, err
	}
	for _, s := range sites {
		err := d.eachSame(ctx, r, s, swaps, func(h samePlace) bool {
			if h.page.ID == c.PageID && h.part.Text == c.AfterWords {
				return true
			}
			v.Places = append(v.Places, h.view(s))
			return len(v.Places) < mostElsewhere
		})
		if err != nil {
			return v, err
		}
	}
	return v, nil
}

func (d *Desk) changeOf(ctx context.Context, number, id int64) (store.Change, error) {
	c, err := d.store.Change(ctx, id)
	if err == nil && c.RequestID != number {
		err = store.ErrNone
	}
	return c, missing(err, "change")
}

func (d *Desk) sitesOf(ctx context.Context, r store.RequestRow, wholeClient bool) (some []store.SiteRow, err error) {
	all, err := d.store.SiteRows(ctx)
	for _, s := range all {
		if s.ID == r.SiteID || wholeClient && s.ClientID == r.ClientID {
			some = append(some, s)
		}
	}
	return some, err
}

// samePlace is a part in which old words stand, as the request's draft has it.
type samePlace struct {
	page  store.Page
	draft *draft
	part  *page.Part
	found []text.Value
	swap  swap
}

func (h samePlace) view(s store.SiteRow) api.ElsewherePlace {
	at := h.found[0]
	t := h.part.Text
	lead, tail := t[:at.Start], t[at.End:]
	if rs := []rune(lead); len(rs) > 40 {
		lead = "…" + string(rs[len(rs)-40:])
	}
	if rs := []rune(tail); len(rs) > 50 {
		tail = string(rs[:50]) + "…"
	}
	return api.ElsewherePlace{
		PageID: h.page.ID, SiteID: s.ID, SiteName: s.Name, Address: h.page.Address, Part: h.part.ID, PartName: h.part.Name, Old: t[at.Start:at.End], Locked: h.part.Locked,
		Around: runs([]diff.Run{{Is: diff.Same, Text: lead}, {Is: diff.Gone, Text: t[at.Start:at.End]}, {Is: diff.Same, Text: tail}}),
	}
}

// eachSame goes through the places on a site where old words stand, until yield says that it is enough.
func (d *Desk) eachSame(ctx context.Context, r store.RequestRow, s store.SiteRow, swaps []swap, yield func(samePlace) bool) error {
	pages, err := d.store.PageWords(ctx, s.ID)
	if err != nil {
		return err
	}
	var sought []text.Sought
	for _, sw := range swaps {
		sought = append(sought, text.Seek(sw.old))
	}
	for _, p := range pages {
		if !slices.ContainsFunc(sought, func(q text.Sought) bool { return len(q.In(p.Words)) > 0 }) {
			continue
		}
		dr, err := d.draftOf(ctx, d.store.Queries, r.ID, p.ID)
		if err != nil {
			continue // a page that cannot be read cannot be changed
		}
		for _, part := range dr.Page().All {
			if !part.Kind.HasWords() || part.Text == "" || part.Parent != nil && part.Parent.Kind.HasWords() && part.Parent.Locked == "" || part.Kind == page.Cell && part.Locked != "" {
				continue
			}
			for i, sw := range swaps {
				if found := sought[i].In(part.Text); len(found) > 0 {
					if !yield(samePlace{dr.row, dr, part, found, sw}) {
						return nil
					}
					break
				}
			}
		}
	}
	return nil
}

// ChangeElsewhere makes the same change in chosen places, each as a change of its own, or notes why the others stay.
func (d *Desk) ChangeElsewhere(ctx context.Context, who Who, number, id int64, f api.ElsewhereForm) (api.Elsewhere, error) {
	r, err := d.store.RequestRow(ctx, number)
	if err != nil {
		return api.Elsewhere{}, missing(err, "request")
	}
	c, err := d.changeOf(ctx, number, id)
	if err != nil {
		return api.Elsewhere{}, err
	}
	swaps := swapsOf(c.BeforeWords, c.AfterWords)
	if err := d.changeThese(ctx, who, r, swaps, f.Places, c.WishID); err != nil {
		return api.Elsewhere{}, err
	}
	if why := strings.TrimSpace(value(f.LeaveWhy)); why != "" {
		err := d.store.Tx(ctx, func(q store.Queries) error {
			if err := q.SetLeftWhy(ctx, c.ID, why); err != nil {
				return err
			}
			return d.note(ctx, q, r.SiteID, &r.ID, &c.PageID, event{Who: who.Name, What: "left elsewhere", Say: fmt.Sprintf("“%s” stays in other places", page.Short(swaps[0].old, 60)), Note: why})
		})
		if err != nil {
			return api.Elsewhere{}, err
		}
	}
	return d.Elsewhere(ctx, number, id, false)
}

func value(s *string) string {
	if s == nil {
		return ""
	}
	return *s
}

// changeThese replaces old words in chosen places, each as a change of its own.
func (d *Desk) changeThese(ctx context.Context, who Who, r store.RequestRow, swaps []swap, picks []api.ElsewherePick, wish *int64) error {
	if len(picks) == 0 {
		return nil
	}
	chosen := map[api.ElsewherePick]bool{}
	for _, p := range picks {
		chosen[p] = true
	}
	site, err := d.store.SiteRow(ctx, r.SiteID)
	if err != nil {
		return err
	}
	var hits []samePlace
	if err := d.eachSame(ctx, r, site, swaps, func(h samePlace) bool {
		if chosen[api.ElsewherePick{PageID: h.page.ID, Part: h.part.ID}] {
			hits = append(hits, h)
		}
		return true
	}); err != nil {
		return err
	}
	if len(hits) < len(chosen) {
		return stale("Some of these places have changed in the meantime. They were looked for again; choose once more.")
	}
	for i := len(hits) - 1; i >= 0; i-- { // from the end, so that parts before keep their IDs
		if err := d.changeThere(ctx, who, r, hits[i], wish); err != nil {
			return err
		}
	}
	return nil
}

// changeThere replaces the old words in one place. A word that begins with a capital there keeps it.
func (d *Desk) changeThere(ctx context.Context, who Who, r store.RequestRow, h samePlace, wish *int64) error {
	words := h.part.Text
	for i := len(h.found) - 1; i >= 0; i-- {
		at := h.found[i]
		words = words[:at.Start] + likeCase(h.swap.new, words[at.Start:at.End], h.swap.old) + words[at.End:]
	}
	_, err := d.Keep(ctx, who, r.ID, h.page.ID, Ask{Draft: h.current(ctx, d, r.ID), Wish: wish, Act: &act.Words{Part: h.part.ID, Words: words}})
	return err
}

// likeCase gives new a capital where there has one and what was looked for has none.
func likeCase(new, there, old string) string {
	a, _ := utf8.DecodeRuneInString(there)
	b, _ := utf8.DecodeRuneInString(old)
	c, n := utf8.DecodeRuneInString(new)
	if unicode.IsUpper(a) && unicode.IsLower(b) && unicode.IsLower(c) {
		return string(unicode.ToUpper(c)) + new[n:]
	}
	return new
}

// current is the hash of the place's draft now: an earlier place on the same page may have changed it.
func (h samePlace) current(ctx context.Context, d *Desk, number int64) string {
	dr, err := d.draftOf(ctx, d.store.Queries, number, h.page.ID)
	if err != nil {
		return ""
	}
	return dr.Hash()
}
