package desk

import (
	"cmp"
	"context"
	"fmt"
	"slices"
	"strings"

	"mendry/api"
	"mendry/internal/core/act"
	"mendry/internal/core/change"
	"mendry/internal/core/diff"
	"mendry/internal/core/page"
	"mendry/internal/core/text"
	"mendry/internal/core/thread"
	"mendry/internal/store"
)

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
	swaps := change.Swaps(c.BeforeWords, c.AfterWords)
	said, ok := change.Foremost(swaps)
	if !ok {
		return v, nil
	}
	v.Old, v.New = said.Old, said.New
	leads, made, err := d.linkOf(ctx, number, c)
	if made || err != nil {
		return v, err // its old words were not the site's
	}
	sites, err := d.sitesOf(ctx, r, wholeClient)
	if err != nil {
		return v, err
	}
	for _, s := range sites {
		err := d.eachSame(ctx, r, s, swaps, func(h samePlace) bool {
			if h.page.ID == c.PageID && h.part.Text == c.AfterWords {
				return true
			}
			if len(v.Places) == 0 || h.swap.Whole {
				v.Old, v.New = h.swap.Old, h.swap.New
			}
			p := h.view(s)
			p.Sure = p.Sure || h.sameLink(c, leads)
			v.Places = append(v.Places, p)
			return len(v.Places) < mostElsewhere
		})
		if err != nil {
			return v, err
		}
	}
	slices.SortStableFunc(v.Places, func(a, b api.ElsewherePlace) int { return cmp.Compare(unsure(a), unsure(b)) })
	return v, nil
}

// unsure is by what places are ordered: those first that surely mean the same, those last that cannot be changed.
func unsure(p api.ElsewherePlace) int {
	switch {
	case p.Locked != "":
		return 2
	case p.Sure:
		return 0
	}
	return 1
}

// linkOf is where the part leads that a change is to, empty where it is no link, and whether the request itself put it on
// the page, as a copy.
func (d *Desk) linkOf(ctx context.Context, number int64, c store.Change) (leads string, made bool, err error) {
	dr, err := d.draftOf(ctx, d.store.Queries, number, c.PageID)
	if err != nil {
		return "", false, err
	}
	k := slices.IndexFunc(dr.Kept, func(k thread.Kept) bool { return k.ID == c.ID })
	if k < 0 || k >= dr.Fits() {
		return "", false, nil
	}
	part, ok := dr.Page().Part(dr.Parts()[k])
	if !ok {
		return "", false, nil
	}
	return leadsTo(dr.row.Address, part), dr.First(part) == nil, nil
}

// leadsTo is where a part leads whose words are those of one link, as a path of its site; empty where they are not.
func leadsTo(address string, part *page.Part) string {
	for up := part; up != nil && up.Text == part.Text; up = up.Parent {
		if href := up.Attributes.Get("href"); href != "" && up.Node.Is("a") {
			return publicPath(address, href)
		}
	}
	for _, k := range part.Parts {
		if k.Kind == page.Link && k.Text == part.Text {
			return publicPath(address, k.Attributes.Get("href"))
		}
	}
	return ""
}

// sameLink reports whether a place is a link with the same words and target as the one that a change is to, such as the
// same entry of another page's menu.
func (h samePlace) sameLink(c store.Change, leads string) bool {
	return leads != "" && h.part.Text == c.BeforeWords && leadsTo(h.page.Address, h.part) == leads
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
	found []text.Value // empty for a link that reaches it without showing it
	swap  change.Swap
}

func (h samePlace) view(s store.SiteRow) api.ElsewherePlace {
	v := api.ElsewherePlace{
		PageID: h.page.ID, SiteID: s.ID, SiteName: s.Name, Address: h.page.Address, Title: h.draft.Page().Facts.Title, Part: h.part.ID, PartName: h.part.Name,
		Heading: h.draft.Page().HeadingBefore(h.part), Locked: h.part.Locked,
	}
	if len(h.found) == 0 {
		v.Old, v.Sure = text.Reaches(h.part.Attributes.Get("href")), true
		v.Around = runs([]diff.Run{{Is: diff.Same, Text: "“" + h.part.Text + "” leads to "}, {Is: diff.Gone, Text: v.Old}})
		return v
	}
	at := h.found[0]
	t := h.part.Text
	lead, tail := t[:at.Start], t[at.End:]
	if rs := []rune(lead); len(rs) > leadShown {
		lead = "…" + string(rs[len(rs)-leadShown:])
	}
	if rs := []rune(tail); len(rs) > tailShown {
		tail = string(rs[:tailShown]) + "…"
	}
	v.Old, v.Sure = t[at.Start:at.End], h.swap.Sure(t, at)
	v.Around = runs([]diff.Run{{Is: diff.Same, Text: lead}, {Is: diff.Gone, Text: v.Old}, {Is: diff.Same, Text: tail}})
	return v
}

// How many letters are shown around words that stand elsewhere, to judge them by.
const (
	leadShown = 60
	tailShown = 80
)

// eachSame goes through the places on a site where old words stand, until yield says that it is enough.
func (d *Desk) eachSame(ctx context.Context, r store.RequestRow, s store.SiteRow, swaps []change.Swap, yield func(samePlace) bool) error {
	pages, err := d.store.PageWords(ctx, s.ID)
	if err != nil {
		return err
	}
	for _, p := range pages {
		if !slices.ContainsFunc(swaps, func(sw change.Swap) bool { return len(sw.In(p.Words)) > 0 }) {
			continue
		}
		dr, err := d.draftOf(ctx, d.store.Queries, r.ID, p.ID)
		if err != nil {
			continue // a page that cannot be read cannot be changed
		}
		for _, part := range dr.Page().All {
			for _, sw := range swaps {
				found := []text.Value(nil)
				if speaks(part) {
					found = sw.In(part.Text)
				}
				if len(found) > 0 || part.Locked == "" && part.Node.Is("a") && sw.Reached(part.Attributes.Get("href")) && len(sw.In(part.Text)) == 0 {
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

// speaks reports whether a part's words are looked through: those of each once.
func speaks(part *page.Part) bool {
	inner := part.Parent != nil && part.Parent.Kind.HasWords() && part.Parent.Locked == ""
	return part.Kind.HasWords() && part.Text != "" && !inner && !(part.Kind == page.Cell && part.Locked != "")
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
	swaps := change.Swaps(c.BeforeWords, c.AfterWords)
	if err := d.changeThese(ctx, who, r, swaps, f.Places, c.WishID); err != nil {
		return api.Elsewhere{}, err
	}
	if why := strings.TrimSpace(value(f.LeaveWhy)); why != "" {
		err := d.store.Tx(ctx, func(q store.Queries) error {
			if err := q.SetLeftWhy(ctx, c.ID, why); err != nil {
				return err
			}
			return d.note(ctx, q, r.SiteID, &r.ID, &c.PageID, event{Who: who.Name, What: "left elsewhere", Say: fmt.Sprintf("“%s” stays in other places", page.Short(c.BeforeWords, 60)), Note: why})
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
func (d *Desk) changeThese(ctx context.Context, who Who, r store.RequestRow, swaps []change.Swap, picks []api.ElsewherePick, wish *int64) error {
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

// changeThere replaces the old words in one place, or lets a link there reach who is reached now.
func (d *Desk) changeThere(ctx context.Context, who Who, r store.RequestRow, h samePlace, wish *int64) error {
	ask := Ask{Draft: h.current(ctx, d, r.ID), Wish: wish, Here: true}
	if len(h.found) == 0 {
		to := text.Following(h.part.Attributes.Get("href"), h.swap.New)
		ask.Act = &act.Attribute{Part: h.part.ID, Name: "href", Words: to}
	} else {
		ask.Act = &act.Words{Part: h.part.ID, Words: h.swap.Into(h.part.Text, h.found)}
	}
	_, err := d.Keep(ctx, who, r.ID, h.page.ID, ask)
	return err
}

// current is the hash of the place's draft now: an earlier place on the same page may have changed it.
func (h samePlace) current(ctx context.Context, d *Desk, number int64) string {
	dr, err := d.draftOf(ctx, d.store.Queries, number, h.page.ID)
	if err != nil {
		return ""
	}
	return dr.Hash()
}
