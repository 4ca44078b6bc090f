package store

import (
	"cmp"
	"context"
	"slices"
	"strconv"
	"strings"

	"github.com/jmoiron/sqlx"

	"mendry/internal/core/find"
)

const (
	mostValues = 2000 // values of one page that it is found by
	keyLength  = 60   // bytes of a value's key
	wordLength = 40   // letters of the longest word
	atOnce     = 1000 // rows of one statement
	// pairsAtOnce are rows of one statement of numbers: some 200 kB.
	pairsAtOnce = 12_000
)

// foundBy are the words and values that a page is found by, each in order.
type foundBy struct{ words, values []string }

func foundByOf(p Page) (f foundBy) {
	f.words = find.Words(p.Title + " " + p.Address + " " + p.Words)
	slices.Sort(f.words)
	f.words = slices.DeleteFunc(slices.Compact(f.words), func(w string) bool { return len([]rune(w)) > wordLength })
	f.values = slices.DeleteFunc(find.KeysOn(p.Words), func(k string) bool { return len(k) > keyLength })
	f.values = f.values[:min(len(f.values), mostValues)]
	slices.Sort(f.values)
	return f
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

// indexed is a page that is to be found by what it says now, and as it was indexed last.
type indexed struct{ before, now Page }

// Words are keys of words that stand in the database; none is ever taken out of it.
type Words map[string]int64

// index makes pages findable by their words and values. Words that are known need not be looked up.
func (q Queries) index(ctx context.Context, ps []indexed, known Words) error {
	type valued struct {
		key  string
		page int64
	}
	var values []valued
	fresh := make([][]string, len(ps)) // words that a page did not have
	var ids []int64
	for i, p := range ps {
		var old, now foundBy
		if p.before.ID != 0 {
			old = foundByOf(p.before)
		}
		if p.now.found != nil {
			now = *p.now.found
		} else {
			now = foundByOf(p.now)
		}
		if gone := without(old.values, now.values); len(gone) > 0 {
			if err := q.doIn(ctx, `DELETE FROM page_value WHERE page_id = ? AND value_key IN (?)`, p.now.ID, gone); err != nil {
				return err
			}
		}
		for _, k := range without(now.values, old.values) {
			values = append(values, valued{k, p.now.ID})
		}
		if gone := without(old.words, now.words); len(gone) > 0 {
			if err := q.doIn(ctx, `DELETE page_word FROM page_word JOIN word ON word.id = page_word.word_id WHERE page_word.page_id = ? AND word.word IN (?)`, p.now.ID, gone); err != nil {
				return err
			}
		}
		fresh[i] = without(now.words, old.words)
		ids = append(ids, p.now.ID)
	}
	// In the order of the tables' keys: neighbours go into one leaf of their trees.
	slices.SortFunc(values, func(a, b valued) int { return cmp.Or(cmp.Compare(a.key, b.key), cmp.Compare(a.page, b.page)) })
	rows := make([]any, 0, 2*len(values))
	for _, v := range values {
		rows = append(rows, v.key, v.page)
	}
	if err := q.fill(ctx, `INSERT IGNORE INTO page_value (value_key, page_id) VALUES `, "(?,?)", rows); err != nil {
		return err
	}
	all := slices.Concat(fresh...)
	slices.Sort(all)
	learned, err := q.learn(ctx, known.without(slices.Compact(all)))
	if err != nil {
		return err
	}
	var pairs [][2]int64 // word and page
	for i, words := range fresh {
		for _, w := range words {
			id, ok := known[w]
			if !ok {
				if id, ok = learned[w]; !ok {
					continue // one that the database takes for another
				}
			}
			pairs = append(pairs, [2]int64{id, ids[i]})
		}
	}
	slices.SortFunc(pairs, func(a, b [2]int64) int { return slices.Compare(a[:], b[:]) })
	for some := range slices.Chunk(pairs, pairsAtOnce) {
		if err := q.fillPairs(ctx, `INSERT IGNORE INTO page_word (word_id, page_id) VALUES `, some); err != nil {
			return err
		}
	}
	return q.doIn(ctx, `UPDATE page SET findable = TRUE WHERE id IN (?)`, ids)
}

// without lists those of some words that are not known.
func (k Words) without(words []string) (rest []string) {
	for _, w := range words {
		if _, ok := k[w]; !ok {
			rest = append(rest, w)
		}
	}
	return rest
}

// fillPairs runs an INSERT of many rows of two numbers, which are written out here: there are a hundred thousand of
// them in a batch of pages, and nothing about a number needs a driver's care.
func (q Queries) fillPairs(ctx context.Context, insert string, pairs [][2]int64) error {
	b := []byte(insert)
	for i, p := range pairs {
		if i > 0 {
			b = append(b, ',')
		}
		b = append(b, '(')
		b = strconv.AppendInt(b, p[0], 10)
		b = append(b, ',')
		b = strconv.AppendInt(b, p[1], 10)
		b = append(b, ')')
	}
	_, err := q.do(ctx, string(b))
	return err
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

// Learn notes the words of pages that are to be kept, so that it need not be done with their rows in hand: two who
// learn the same words at once wait for each other. It gives those that were not known yet.
func (q Queries) Learn(ctx context.Context, ps []Page, known Words) (Words, error) {
	var all []string
	for _, p := range ps {
		if p.found != nil {
			all = append(all, p.found.words...)
		}
	}
	slices.Sort(all)
	return q.learn(ctx, known.without(slices.Compact(all)))
}

// learn gives the IDs of words, which are in order. Those that are new are noted, with what finds them despite a
// typing error.
func (q Queries) learn(ctx context.Context, words []string) (Words, error) {
	ids := make(Words, len(words))
	for some := range slices.Chunk(words, atOnce) {
		var known []wordRow
		if err := q.in(ctx, &known, `SELECT id, word FROM word WHERE word IN (?)`, some); err != nil {
			return nil, err
		}
		var have []string
		for _, k := range known {
			ids[k.Word], have = k.ID, append(have, k.Word)
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
			ids[m.Word] = m.ID
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
