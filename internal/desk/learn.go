package desk

import (
	"context"
	"iter"

	"mendry/internal/core/page"
	"mendry/internal/store"
)

// mostPagesLearnt is how many pages of a site are read to learn how it does something.
const mostPagesLearnt = 40

// pagesToLearn reads the first pages of a site, as they are live. What cannot be read is left out: what the page in
// hand says is enough to go on.
func (d *Desk) pagesToLearn(ctx context.Context, site int64) iter.Seq2[store.Page, *page.Page] {
	return func(yield func(store.Page, *page.Page) bool) {
		rows, err := d.store.FirstPages(ctx, site, mostPagesLearnt)
		if err != nil {
			return
		}
		for _, row := range rows {
			if p, err := d.parse(ctx, row); err == nil && !yield(row, p) {
				return
			}
		}
	}
}
