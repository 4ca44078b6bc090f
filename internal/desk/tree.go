package desk

import (
	"context"
	"errors"
	"time"

	"github.com/oapi-codegen/runtime/types"

	"mendry/api"
	"mendry/internal/core/link"
	"mendry/internal/store"
)

// tree lists a site's pages each under the one that it lies under, in the order of the home page's menu.
func (d *Desk) tree(ctx context.Context, s store.SiteRow, ps []store.PageRow) ([]api.PageRow, error) {
	out := []api.PageRow{}
	var addresses []string
	var home *store.PageRow
	for i, p := range ps {
		addresses = append(addresses, p.Address)
		if p.Address == "/" && p.Locked == "" {
			home = &ps[i]
		}
	}
	var order []string
	if home != nil {
		row, err := d.store.Page(ctx, home.ID)
		if err != nil && !errors.Is(err, store.ErrNone) {
			return nil, err
		}
		if p, err := d.parse(ctx, row); err == nil {
			for _, href := range p.MenuLinks() {
				if kind, to, _ := link.Of(s.PublicURL, "/", href); kind == link.Inside {
					order = append(order, to)
				}
			}
		}
	}
	for _, b := range link.Tree(addresses, order) {
		row := pageRow(ps[b.At])
		row.Depth, row.Parent = &b.Depth, &b.Parent
		out = append(out, row)
	}
	return out, nil
}

func dayOf(t *time.Time) *types.Date {
	if t == nil {
		return nil
	}
	return &types.Date{Time: *t}
}
