package desk

import (
	"context"
	"strings"

	"mendry/api"
	"mendry/internal/core/change"
)

// Everywhere finds where on a request's site words stand, in any spelling, as its draft has them.
func (d *Desk) Everywhere(ctx context.Context, number int64, words string) (api.Elsewhere, error) {
	v := api.Elsewhere{Old: strings.TrimSpace(words), Places: []api.ElsewherePlace{}}
	r, err := d.store.RequestRow(ctx, number)
	if err != nil {
		return v, missing(err, "request")
	}
	if v.Old == "" {
		return v, refused("Say which words.")
	}
	site, err := d.store.SiteRow(ctx, r.SiteID)
	if err != nil {
		return v, err
	}
	return v, d.eachSame(ctx, r, site, []change.Swap{change.Replace(v.Old, "")}, func(h samePlace) bool {
		v.Places = append(v.Places, h.view(site))
		return len(v.Places) < mostElsewhere
	})
}

// ReplaceEverywhere replaces words in chosen places of a request's site, each as a change of its own. It gives the
// places where they stand afterwards.
func (d *Desk) ReplaceEverywhere(ctx context.Context, who Who, number int64, f api.EverywhereForm) (api.Elsewhere, error) {
	r, err := d.store.RequestRow(ctx, number)
	if err != nil {
		return api.Elsewhere{}, missing(err, "request")
	}
	s := change.Replace(strings.TrimSpace(f.Old), strings.Join(strings.Fields(f.New), " "))
	switch {
	case s.Old == "":
		return api.Elsewhere{}, refused("Say which words.")
	case s.Old == s.New:
		return api.Elsewhere{}, refused("Old and new words are the same.")
	}
	if err := d.changeThese(ctx, who, r, []change.Swap{s}, f.Places, f.WishID); err != nil {
		return api.Elsewhere{}, err
	}
	return d.Everywhere(ctx, number, f.Old)
}
