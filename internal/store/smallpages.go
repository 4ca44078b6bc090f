package store

import (
	"context"
	"time"
)

// PagesToPicture lists pages of a site of which there is no small picture yet, or one of an earlier state.
func (q Queries) PagesToPicture(ctx context.Context, site int64, most int) (ps []Page, err error) {
	return ps, q.all(ctx, &ps, `SELECT `+pageColumns+` FROM page WHERE site_id = ? AND gone_at IS NULL AND locked = '' AND hash <> ''
		AND NOT EXISTS (SELECT 1 FROM page_small m WHERE m.page_id = page.id AND m.of_hash = page.hash) ORDER BY address LIMIT ?`, site, most)
}

// FrontsToPicture is PagesToPicture for the start pages of all sites.
func (q Queries) FrontsToPicture(ctx context.Context, most int) (ps []Page, err error) {
	return ps, q.all(ctx, &ps, `SELECT `+pageColumns+` FROM page WHERE address_back = '/' AND gone_at IS NULL AND locked = '' AND hash <> ''
		AND NOT EXISTS (SELECT 1 FROM page_small m WHERE m.page_id = page.id AND m.of_hash = page.hash) ORDER BY site_id LIMIT ?`, most)
}

// Front is the start page of a site, and its small picture.
type Front struct {
	SiteID int64  `db:"site_id"`
	PageID int64  `db:"page_id"`
	Small  string `db:"small"` // hash; empty where there is none
}

// Fronts finds the start pages of all sites, by site.
func (q Queries) Fronts(ctx context.Context) (map[int64]Front, error) {
	var rows []Front
	err := q.all(ctx, &rows, `SELECT p.site_id, p.id page_id, `+smallOf+` FROM page p WHERE p.address_back = '/' AND p.gone_at IS NULL`)
	all := map[int64]Front{}
	for _, r := range rows {
		all[r.SiteID] = r
	}
	return all, err
}

// SetSmallPage notes the small picture of a page, by the hashes of the page and of the picture's bytes; none where it
// could not be drawn.
func (q Queries) SetSmallPage(ctx context.Context, p Page, small string, at time.Time) error {
	_, err := q.do(ctx, `REPLACE INTO page_small (page_id, of_hash, small, at) VALUES (?, ?, ?, ?)`, p.ID, p.Hash, small, at)
	return err
}

// SmallPage is the hash of a page's small picture; ErrNone where there is none.
func (q Queries) SmallPage(ctx context.Context, page int64) (small string, err error) {
	return small, q.get(ctx, &small, `SELECT small FROM page_small WHERE page_id = ? AND small <> ''`, page)
}
