package desk

import (
	"context"
	"slices"

	"mendry/internal/core/act"
	"mendry/internal/core/link"
	"mendry/internal/core/page"
	"mendry/internal/core/picture"
	"mendry/internal/core/thread"
	"mendry/internal/store"
)

// rest answers what acts ask of outside the page.
type rest struct {
	ctx  context.Context
	d    *Desk
	r    store.RequestRow
	dr   *draft
	site store.Site
	// lender is a section that is lent whatever is asked for; nil where it is looked for.
	lender *act.Lender
	// trying says that nothing is kept of what is asked for.
	trying bool
	// looked are the pictures of the site that were looked at, by their addresses on the page.
	looked map[string]picture.Info
}

// Wording implements act.Rest.
func (r *rest) Wording(d *thread.Draft, part *page.Part, version string) (*page.Page, *page.Part, error) {
	ws, err := r.d.wordings(r.ctx, r.d.store.Queries, r.dr.row, d, part)
	if err != nil {
		return nil, nil, err
	}
	i := slices.IndexFunc(ws, func(w wording) bool { return w.Version == version })
	if i < 0 {
		return nil, nil, stale("That wording is no longer known. The list was loaded again.")
	}
	return ws[i].page, ws[i].part, nil
}

// publicPath is where a page's reference leads, as a path of its site.
func publicPath(address, ref string) string {
	_, to, _ := link.Of("http://site.example/", address, ref)
	return to
}
