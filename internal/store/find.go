package store

import (
	"context"
	"slices"
	"strings"

	"github.com/jmoiron/sqlx"

	"mendry/internal/core/find"
)

// PageFound is a page that a search found.
type PageFound struct {
	PageRow
	Words string `db:"words"`
}

const (
	mostValues = 2000 // values of one page that it is found by
	keyLength  = 60   // bytes of a value's key
	wordLength = 40
)

// index stores what a page is found by beside its full text: its values, and its words for words with typing errors.
func (q Queries) index(ctx context.Context, p Page) error {
	if _, err := q.do(ctx, `DELETE FROM page_value WHERE page_id = ?`, p.ID); err != nil {
		return err
	}
	keys := slices.DeleteFunc(find.Keys(p.Words), func(k string) bool { return len(k) > keyLength })
	if len(keys) > 0 {
		var rows []any
		for _, k := range keys[:min(len(keys), mostValues)] {
			rows = append(rows, p.ID, k)
		}
		if _, err := q.do(ctx, `INSERT IGNORE INTO page_value (page_id, value_key) VALUES `+places(len(rows)/2, "(?,?)"), rows...); err != nil {
			return err
		}
	}
	return q.learn(ctx, find.Words(p.Title+" "+p.Words))
}

func places(n int, one string) string { return strings.TrimSuffix(strings.Repeat(one+",", n), ",") }

// learn notes words that pages use, so that they are found with a typing error.
func (q Queries) learn(ctx context.Context, words []string) error {
	slices.Sort(words)
	words = slices.DeleteFunc(slices.Compact(words), func(w string) bool { return len(w) > wordLength || find.Near(w) == nil })
	for some := range slices.Chunk(words, 500) {
		var known []string
		query, args, err := sqlx.In(`SELECT word FROM word WHERE word IN (?)`, some)
		if err != nil {
			return err
		}
		if err := q.all(ctx, &known, query, args...); err != nil {
			return err
		}
		for _, w := range some {
			if slices.Contains(known, w) {
				continue
			}
			if _, err := q.do(ctx, `INSERT IGNORE INTO word (word) VALUES (?)`, w); err != nil {
				return err
			}
			var rows []any
			for _, n := range find.Near(w) {
				rows = append(rows, n, w)
			}
			if _, err := q.do(ctx, `INSERT IGNORE INTO word_near (near, word) VALUES `+places(len(rows)/2, "(?,?)"), rows...); err != nil {
				return err
			}
		}
	}
	return nil
}

// WordsNear lists, for each of the words that no page begins a word with, those that pages use and that are one typing
// error away from it.
func (q Queries) WordsNear(ctx context.Context, words []string) (map[string][]string, error) {
	near := map[string][]string{}
	for _, w := range words {
		all := find.Near(w)
		if all == nil {
			continue
		}
		n := 0
		if err := q.get(ctx, &n, `SELECT COUNT(*) FROM (SELECT 1 FROM word WHERE word LIKE ? LIMIT 1) a`, w+"%"); err != nil {
			return nil, err
		}
		if n > 0 {
			continue
		}
		query, args, err := sqlx.In(`SELECT DISTINCT word FROM word_near WHERE near IN (?)`, all)
		if err != nil {
			return nil, err
		}
		var some []string
		if err := q.all(ctx, &some, query, args...); err != nil {
			return nil, err
		}
		some = slices.DeleteFunc(some, func(s string) bool { return !find.Close(s, w) })
		if len(some) > 0 {
			near[w] = some[:min(len(some), 12)]
		}
	}
	return near, nil
}

// FindPages finds the pages that may answer a question, on one site, or on all where site is 0: by the end of their
// address, by values, and by words, of which near gives those that are meant too. No more than most of each kind.
func (q Queries) FindPages(ctx context.Context, site int64, asked find.Query, near map[string][]string, most int) (ps []PageFound, err error) {
	here := ` AND gone_at IS NULL`
	var on []any
	if site != 0 {
		here, on = here+` AND site_id = ?`, []any{site}
	}
	var ids []int64
	seek := func(query string, args ...any) error {
		var some []int64
		err := q.all(ctx, &some, query+` LIMIT ?`, append(append(args, on...), most)...)
		ids = append(ids, some...)
		return err
	}
	if path := strings.TrimSuffix(asked.Path, "/"); path != "" {
		if err := seek(`SELECT id FROM page WHERE address_back LIKE ?`+here, likePrefix(backwards(path))); err != nil {
			return nil, err
		}
	} else if asked.Path == "/" {
		if err := seek(`SELECT id FROM page WHERE address_back = '/'` + here); err != nil {
			return nil, err
		}
	}
	for _, key := range asked.Asked() {
		if err := seek(`SELECT p.id FROM page_value v JOIN page p ON p.id = v.page_id WHERE v.value_key = ?`+here, key); err != nil {
			return nil, err
		}
	}
	if terms := question(asked.Terms, near); terms != "" {
		if err := seek(`SELECT id FROM page WHERE MATCH (title, words, address_words) AGAINST (? IN BOOLEAN MODE)`+here, terms); err != nil {
			return nil, err
		}
	}
	slices.Sort(ids)
	ids = slices.Compact(ids)
	if len(ids) == 0 {
		return nil, nil
	}
	query, args, err := sqlx.In(`SELECT id, site_id, path, address, title, size, encoding, locked, seen_at, elsewhere_at, 0 kept, words FROM page WHERE id IN (?)`, ids)
	if err != nil {
		return nil, err
	}
	return ps, q.all(ctx, &ps, query, args...)
}

func backwards(s string) string {
	rs := []rune(s)
	slices.Reverse(rs)
	return string(rs)
}

func likePrefix(s string) string {
	return strings.NewReplacer(`\`, `\\`, `%`, `\%`, `_`, `\_`).Replace(s) + "%"
}

// question makes a full-text question: every term must begin a word of the page, in one of its spellings.
func question(terms []string, near map[string][]string) string {
	var b strings.Builder
	for _, t := range terms {
		b.WriteString(" +(" + t + "*")
		for _, n := range near[t] {
			b.WriteString(" " + n)
		}
		b.WriteString(")")
	}
	return strings.TrimSpace(b.String())
}

// DraftFound is a kept change that a search found.
type DraftFound struct {
	PageRow
	RequestID int64  `db:"request_id"`
	ChangeID  int64  `db:"change_id"`
	PartName  string `db:"part_name"`
	Words     string `db:"after_words"`
}

// FindDrafts finds kept changes by the words that they will bring.
func (q Queries) FindDrafts(ctx context.Context, site int64, words string, most int) (ds []DraftFound, err error) {
	return ds, q.all(ctx, &ds, `SELECT p.id, p.site_id, p.path, p.address, p.title, p.size, p.encoding, p.locked, p.seen_at, p.elsewhere_at, 0 kept,
		h.request_id, h.id change_id, h.part_name, h.after_words
		FROM page_change h JOIN page p ON p.id = h.page_id
		WHERE h.state = 'kept' AND (? = 0 OR p.site_id = ?) AND h.after_words LIKE ? ORDER BY h.changed_at DESC LIMIT ?`, site, site, "%"+likePrefix(words), most)
}

// SiteWords lists the words that are right on a site though no dictionary has them.
func (q Queries) SiteWords(ctx context.Context, site int64) (words []string, err error) {
	return words, q.all(ctx, &words, `SELECT word FROM site_word WHERE site_id = ? ORDER BY word`, site)
}

// AddSiteWord makes a word right on a site.
func (q Queries) AddSiteWord(ctx context.Context, site int64, word string, by int64) error {
	_, err := q.do(ctx, `INSERT IGNORE INTO site_word (site_id, word, added_by, added_at) VALUES (?, ?, ?, ?)`, site, word, by, Now())
	return err
}

// DropSiteWord takes a word from a site's own.
func (q Queries) DropSiteWord(ctx context.Context, site int64, word string) error {
	_, err := q.do(ctx, `DELETE FROM site_word WHERE site_id = ? AND word = ?`, site, word)
	return err
}

// PagesSaying counts the pages of a site, but for one, whose words hold a word.
func (q Queries) PagesSaying(ctx context.Context, site, but int64, word string) (n int, err error) {
	terms := find.Words(word)
	if len(terms) == 0 {
		return 0, nil
	}
	return n, q.get(ctx, &n, `SELECT COUNT(*) FROM page WHERE site_id = ? AND id <> ? AND gone_at IS NULL AND MATCH (title, words, address_words) AGAINST (? IN BOOLEAN MODE)`,
		site, but, "+"+strings.Join(terms, " +"))
}
