package store

import (
	"context"
	"time"
)

// SiteWords lists the words that are right on a site though no dictionary has them.
func (q Queries) SiteWords(ctx context.Context, site int64) (words []string, err error) {
	return words, q.all(ctx, &words, `SELECT word FROM site_word WHERE site_id = ? ORDER BY word`, site)
}

// AddSiteWord makes a word right on a site.
func (q Queries) AddSiteWord(ctx context.Context, site int64, word string, by int64, at time.Time) error {
	_, err := q.do(ctx, `INSERT IGNORE INTO site_word (site_id, word, added_by, added_at) VALUES (?, ?, ?, ?)`, site, word, by, at)
	return err
}

// DropSiteWord takes a word from a site's own.
func (q Queries) DropSiteWord(ctx context.Context, site int64, word string) error {
	_, err := q.do(ctx, `DELETE FROM site_word WHERE site_id = ? AND word = ?`, site, word)
	return err
}
