package store

import (
	"context"
	"errors"
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
	mostSpellings = 24   // words that a term may begin or mean
	mostEndings   = 8    // words that a finished term may begin
	mostAsked     = 40   // pages that one way of finding brings
	firstMany     = 100  // pages with the rarest word that are looked at first
	countedTo     = 1000 // pages that a word stands on
	mostPoints    = 2000 // places of the index that one question looks at
)

// in is a query with a list in it.
func (q Queries) in(ctx context.Context, dest any, query string, args ...any) error {
	query, args, err := sqlx.In(query, args...)
	if err != nil {
		return err
	}
	return q.all(ctx, dest, query, args...)
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
		err := q.get(ctx, new(int), `SELECT 1 FROM word WHERE word LIKE ? LIMIT 1`, likePrefix(w))
		if err == nil {
			continue
		}
		if !errors.Is(err, ErrNone) {
			return nil, err
		}
		var some []string
		if err := q.in(ctx, &some, `SELECT DISTINCT w.word FROM word_near n JOIN word w ON w.id = n.word_id WHERE n.near IN (?)`, all); err != nil {
			return nil, err
		}
		some = slices.DeleteFunc(some, func(s string) bool { return !find.Close(s, w) })
		if len(some) > 0 {
			near[w] = some[:min(len(some), mostSpellings)]
		}
	}
	return near, nil
}

// FindPages finds the pages that may answer a question, on one site, or on all where site is 0: by the end of their
// address, by values, and by words, of which near gives those that are meant too: no more than most, besides those by
// their address.
func (q Queries) FindPages(ctx context.Context, site int64, asked find.Query, near map[string][]string, most int) (ps []PageFound, err error) {
	here := ` AND p.gone_at IS NULL`
	var on []any
	if site != 0 {
		here, on = here+` AND p.site_id = ?`, []any{site}
	}
	var named, ids []int64
	if path := strings.TrimSuffix(asked.Path, "/"); path != "" {
		err = q.all(ctx, &named, `SELECT p.id FROM page p WHERE p.address_back LIKE ?`+here+` LIMIT ?`, append(append([]any{likePrefix(backwards(path))}, on...), most)...)
	} else if asked.Path == "/" {
		err = q.all(ctx, &named, `SELECT p.id FROM page p WHERE p.address_back = '/'`+here+` LIMIT ?`, append(on, most)...)
	}
	if err != nil {
		return nil, err
	}
	if keys := asked.Asked(); len(keys) > 0 {
		if err := q.in(ctx, &ids, `SELECT v.page_id FROM page_value v STRAIGHT_JOIN page p ON p.id = v.page_id WHERE v.value_key IN (?)`+here+` LIMIT ?`, append(append([]any{keys}, on...), mostAsked)...); err != nil {
			return nil, err
		}
	}
	if len(named) == 0 || !asked.NamesFile() { // whoever names a page does not look for its name's words
		words, err := q.pagesWith(ctx, asked.Terms, near, here, on)
		if err != nil {
			return nil, err
		}
		ids = append(ids, words...)
	}
	ids = append(ids[:min(len(ids), most)], named...)
	if len(ids) == 0 {
		return nil, nil
	}
	return ps, q.in(ctx, &ps, `SELECT p.id, p.site_id, p.path, p.address, p.title, p.size, p.encoding, p.locked, p.seen_at, p.elsewhere_at, 0 kept, p.words, `+smallOf+` FROM page p WHERE p.id IN (?)`, ids)
}

// meant is a term of a question: the words that it begins or means, and on how many pages they stand, as far as
// counted.
type meant struct {
	words []int64
	pages int
}

// meantBy finds what terms mean, the rarest first. It gives nil where no page uses one of them.
func (q Queries) meantBy(ctx context.Context, terms []string, near map[string][]string) (all []meant, err error) {
	for i, t := range terms {
		var m meant
		most := mostEndings
		if i == len(terms)-1 {
			most = mostSpellings // it may be unfinished
		}
		if err := q.all(ctx, &m.words, `SELECT id FROM word WHERE word LIKE ? ORDER BY CHAR_LENGTH(word) LIMIT ?`, likePrefix(t), most); err != nil {
			return nil, err
		}
		if len(near[t]) > 0 {
			var more []int64
			if err := q.in(ctx, &more, `SELECT id FROM word WHERE word IN (?)`, near[t]); err != nil {
				return nil, err
			}
			m.words = append(m.words, more...)
		}
		if len(m.words) == 0 {
			return nil, nil
		}
		if all = append(all, m); len(terms) == 1 {
			return all, nil
		}
		var n []int
		if err := q.in(ctx, &n, `SELECT COUNT(*) FROM (SELECT 1 FROM page_word WHERE word_id IN (?) LIMIT ?) some`, m.words, countedTo); err != nil {
			return nil, err
		}
		all[i].pages = n[0]
	}
	slices.SortStableFunc(all, func(a, b meant) int { return a.pages - b.pages })
	return all, nil
}

// pagesWith finds pages on which every term begins a word, in one of its spellings: those with the rarest term are
// gone through, so many at a time, until enough hold the others too.
func (q Queries) pagesWith(ctx context.Context, terms []string, near map[string][]string, here string, on []any) (ids []int64, err error) {
	all, err := q.meantBy(ctx, terms, near)
	if err != nil || len(all) == 0 {
		return nil, err
	}
	for from, n := 0, firstMany; ; from, n = from+n, 2*n {
		var some []int64
		if err := q.in(ctx, &some, `SELECT page_id FROM page_word WHERE word_id IN (?) LIMIT ? OFFSET ?`, all[0].words, n, from); err != nil {
			return nil, err
		}
		last := len(some) < n
		slices.Sort(some)
		if some = slices.Compact(some); len(some) > 0 {
			found := some
			some = nil
			if err := q.in(ctx, &some, `SELECT p.id FROM page p WHERE p.id IN (?)`+here, append([]any{found}, on...)...); err != nil {
				return nil, err
			}
		}
		for _, m := range all[1:] {
			if some, err = q.having(ctx, m, some, mostAsked-len(ids)); err != nil {
				return nil, err
			}
		}
		if ids = append(ids, some...); last || len(ids) >= mostAsked {
			return ids[:min(len(ids), mostAsked)], nil
		}
	}
}

// having are those of the pages on which a term stands. The word itself, or the shortest that begins so, is looked for
// first: where enough pages have it, the other spellings are left.
func (q Queries) having(ctx context.Context, m meant, pages []int64, enough int) (have []int64, err error) {
	for _, words := range [][]int64{m.words[:1], m.words[1:]} {
		if len(words) == 0 || len(have) >= enough {
			break
		}
		var more []int64
		for part := range slices.Chunk(pages, max(1, mostPoints/len(words))) {
			var some []int64
			if err := q.in(ctx, &some, `SELECT DISTINCT page_id FROM page_word WHERE word_id IN (?) AND page_id IN (?)`, words, part); err != nil {
				return nil, err
			}
			more = append(more, some...)
		}
		have = append(have, more...)
		pages = slices.DeleteFunc(slices.Clone(pages), func(id int64) bool { return slices.Contains(more, id) })
	}
	return have, nil
}

func backwards(s string) string {
	rs := []rune(s)
	slices.Reverse(rs)
	return string(rs)
}

// likePrefix is what LIKE finds beginnings by.
func likePrefix(s string) string {
	return strings.NewReplacer(`\`, `\\`, `%`, `\%`, `_`, `\_`).Replace(s) + "%"
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
	return ds, q.all(ctx, &ds, `SELECT p.id, p.site_id, p.path, p.address, p.title, p.size, p.encoding, p.locked, p.seen_at, p.elsewhere_at, 0 kept, `+smallOf+`,
		h.request_id, h.id change_id, h.part_name, h.after_words
		FROM page_change h JOIN change_page n ON n.change_id = h.id JOIN page p ON p.id = n.page_id
		WHERE n.leads AND n.state IN ('kept', 'going') AND (? = 0 OR p.site_id = ?) AND h.after_words LIKE ? ORDER BY h.changed_at DESC LIMIT ?`, site, site, "%"+likePrefix(words), most)
}
