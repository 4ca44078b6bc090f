package store

import (
	"context"
	"slices"
	"strings"

	"github.com/jmoiron/sqlx"

	"mendry/internal/core/find"
)

const (
	mostValues = 2000 // values of one page that it is found by
	keyLength  = 60   // bytes of a value's key
	wordLength = 40   // letters of the longest word
	atOnce     = 500  // rows of one statement
)

// wordsOf are the words and values that a page is found by.
func wordsOf(p Page) (words, values []string) {
	words = find.Words(p.Title + " " + p.Address + " " + p.Words)
	slices.Sort(words)
	words = slices.DeleteFunc(slices.Compact(words), func(w string) bool { return len([]rune(w)) > wordLength })
	values = slices.DeleteFunc(find.KeysOn(p.Words), func(k string) bool { return len(k) > keyLength })
	return words, values[:min(len(values), mostValues)]
}

// without lists what of a is not in b; both are in order.
func without(a, b []string) (rest []string) {
	for _, s := range a {
		if _, ok := slices.BinarySearch(b, s); !ok {
			rest = append(rest, s)
		}
	}
	return rest
}

// index makes a page findable by its words and values; before is the page as it was indexed last.
func (q Queries) index(ctx context.Context, before, p Page) error {
	oldWords, oldValues := wordsOf(before)
	words, values := wordsOf(p)
	slices.Sort(oldValues)
	slices.Sort(values)
	if gone := without(oldValues, values); len(gone) > 0 {
		if err := q.doIn(ctx, `DELETE FROM page_value WHERE page_id = ? AND value_key IN (?)`, p.ID, gone); err != nil {
			return err
		}
	}
	if err := q.fill(ctx, `INSERT IGNORE INTO page_value (value_key, page_id) VALUES `, "(?,?)", valueRows(without(values, oldValues), p.ID)); err != nil {
		return err
	}
	if gone := without(oldWords, words); len(gone) > 0 {
		if err := q.doIn(ctx, `DELETE page_word FROM page_word JOIN word ON word.id = page_word.word_id WHERE page_word.page_id = ? AND word.word IN (?)`, p.ID, gone); err != nil {
			return err
		}
	}
	ids, err := q.learn(ctx, without(words, oldWords))
	if err != nil {
		return err
	}
	var rows []any
	for _, id := range ids {
		rows = append(rows, id, p.ID)
	}
	if err := q.fill(ctx, `INSERT IGNORE INTO page_word (word_id, page_id) VALUES `, "(?,?)", rows); err != nil {
		return err
	}
	return q.one(ctx, `UPDATE page SET findable = TRUE WHERE id = ?`, p.ID)
}

func valueRows(keys []string, page int64) (rows []any) {
	for _, k := range keys {
		rows = append(rows, k, page)
	}
	return rows
}

// doIn runs a statement with a list in it.
func (q Queries) doIn(ctx context.Context, query string, args ...any) error {
	query, args, err := sqlx.In(query, args...)
	if err != nil {
		return err
	}
	_, err = q.do(ctx, query, args...)
	return err
}

// fill runs an INSERT of many rows, each with as many values as one has places.
func (q Queries) fill(ctx context.Context, insert, one string, values []any) error {
	for some := range slices.Chunk(values, atOnce*strings.Count(one, "?")) {
		n := len(some) / strings.Count(one, "?")
		if _, err := q.do(ctx, insert+strings.TrimSuffix(strings.Repeat(one+",", n), ","), some...); err != nil {
			return err
		}
	}
	return nil
}

type wordRow struct {
	ID   int64  `db:"id"`
	Word string `db:"word"`
}

// learn gives the IDs of words. Those that are new are noted, with what finds them despite a typing error.
func (q Queries) learn(ctx context.Context, words []string) (ids []int64, err error) {
	for some := range slices.Chunk(words, atOnce) {
		var known []wordRow
		if err := q.in(ctx, &known, `SELECT id, word FROM word WHERE word IN (?)`, some); err != nil {
			return nil, err
		}
		var have []string
		for _, k := range known {
			ids, have = append(ids, k.ID), append(have, k.Word)
		}
		slices.Sort(have)
		fresh := without(some, have)
		if len(fresh) == 0 {
			continue
		}
		var rows []any
		for _, w := range fresh {
			rows = append(rows, w)
		}
		if err := q.fill(ctx, `INSERT IGNORE INTO word (word) VALUES `, "(?)", rows); err != nil {
			return nil, err
		}
		var made []wordRow
		if err := q.in(ctx, &made, `SELECT id, word FROM word WHERE word IN (?) LOCK IN SHARE MODE`, fresh); err != nil { // another process may have been first
			return nil, err
		}
		rows = nil
		for _, m := range made {
			ids = append(ids, m.ID)
			for _, n := range find.Near(m.Word) {
				rows = append(rows, n, m.ID)
			}
		}
		if err := q.fill(ctx, `INSERT IGNORE INTO word_near (near, word_id) VALUES `, "(?,?)", rows); err != nil {
			return nil, err
		}
	}
	return ids, nil
}

// Unread lists pages that an older Mendry took in and that are not findable yet, a few at a time.
func (q Queries) Unread(ctx context.Context) (ps []Page, err error) {
	return ps, q.all(ctx, &ps, `SELECT `+pageColumns+` FROM page WHERE findable = FALSE AND gone_at IS NULL LIMIT 50`)
}

// PagesSaying counts the pages of a site, but for one, whose words hold a word.
func (q Queries) PagesSaying(ctx context.Context, site, but int64, word string) (n int, err error) {
	terms := find.Words(word)
	if len(terms) == 0 {
		return 0, nil
	}
	return n, q.get(ctx, &n, `SELECT COUNT(*) FROM word w JOIN page_word a ON a.word_id = w.id JOIN page p ON p.id = a.page_id
		WHERE w.word = ? AND p.site_id = ? AND p.id <> ? AND p.gone_at IS NULL`, terms[0], site, but)
}
