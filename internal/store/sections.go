package store

import (
	"context"
)

// Section is one that a page can lend to others of its site.
type Section struct {
	PageID  int64   `db:"page_id"`
	Nth     int     `db:"nth"` // on its page, from 1
	Part    string  `db:"part"`
	Name    string  `db:"name"`
	Holds   string  `db:"holds"` // in words
	Words   string  `db:"words"` // that it begins with
	Look    string  `db:"look"`
	Sample  string  `db:"sample"`
	Small   *string `db:"small"`   // hash of its small picture; nil until it is taken, empty where it could not be
	Of      string  `db:"of_hash"` // of its page
	Address string  `db:"address"`
	Title   string  `db:"title"`
}

// notLookedThrough are pages of a site of which it is not known which sections they lend.
const notLookedThrough = ` FROM page WHERE site_id = ? AND gone_at IS NULL AND locked = '' AND hash <> ''
	AND NOT EXISTS (SELECT 1 FROM page_section s WHERE s.page_id = page.id AND s.nth = 0 AND s.of_hash = page.hash)`

// PagesToLookThrough lists pages of a site of which it is not known which sections they lend, or only of an earlier
// state.
func (q Queries) PagesToLookThrough(ctx context.Context, site int64, most int) (ps []Page, err error) {
	return ps, q.all(ctx, &ps, `SELECT `+pageColumns+notLookedThrough+` ORDER BY address LIMIT ?`, site, most)
}

// CountToLookThrough counts them.
func (q Queries) CountToLookThrough(ctx context.Context, site int64) (n int, err error) {
	return n, q.get(ctx, &n, `SELECT COUNT(*)`+notLookedThrough, site)
}

// SetSections notes which sections a page lends. Small pictures of ones that look as they did before stay.
func (q Queries) SetSections(ctx context.Context, p Page, all []Section) error {
	var had []Section
	if err := q.all(ctx, &had, `SELECT look, words, small FROM page_section WHERE page_id = ? AND small IS NOT NULL`, p.ID); err != nil {
		return err
	}
	small := map[string]*string{}
	for _, s := range had {
		small[s.Look+s.Words] = s.Small
	}
	if _, err := q.do(ctx, `DELETE FROM page_section WHERE page_id = ?`, p.ID); err != nil {
		return err
	}
	for i, s := range append([]Section{{}}, all...) {
		_, err := q.do(
			ctx,
			`INSERT INTO page_section (page_id, nth, site_id, of_hash, part, name, holds, words, look, sample, small)
			VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)`,
			p.ID,
			i,
			p.SiteID,
			p.Hash,
			s.Part,
			s.Name,
			s.Holds,
			s.Words,
			s.Look,
			s.Sample,
			small[s.Look+s.Words],
		)
		if err != nil {
			return err
		}
	}
	return nil
}

// Sections lists the sections that a site's pages lend as they are live, by address.
func (q Queries) Sections(ctx context.Context, site int64) (all []Section, err error) {
	return all, q.all(
		ctx,
		&all,
		`SELECT s.page_id, s.nth, s.of_hash, s.part, s.name, s.holds, s.words, s.look, s.sample, s.small, p.address, p.title
		FROM page_section s JOIN page p ON p.id = s.page_id AND p.hash = s.of_hash
		WHERE s.site_id = ? AND s.nth > 0 AND p.gone_at IS NULL ORDER BY p.address, s.nth`,
		site,
	)
}

// SetSmallSection notes the small picture of a section; none where it could not be drawn.
func (q Queries) SetSmallSection(ctx context.Context, page int64, nth int, small string) error {
	_, err := q.do(ctx, `UPDATE page_section SET small = ? WHERE page_id = ? AND nth = ?`, small, page, nth)
	return err
}

// HasSmallSection reports whether a site has a section with a small picture of a hash.
func (q Queries) HasSmallSection(ctx context.Context, site int64, small string) (n int, err error) {
	return n, q.get(ctx, &n, `SELECT COUNT(*) FROM page_section WHERE site_id = ? AND small = ?`, site, small)
}
