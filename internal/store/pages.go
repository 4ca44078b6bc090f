package store

import (
	"context"
	"time"

	"mendry/internal/core/page"

	"github.com/jmoiron/sqlx"
)

// Page is a page of a site as Mendry last knew it.
type Page struct {
	ID          int64      `db:"id"`
	SiteID      int64      `db:"site_id"`
	Path        string     `db:"path"`    // the file on the host
	Address     string     `db:"address"` // the public path
	Title       string     `db:"title"`
	Description string     `db:"description"`
	Hash        string     `db:"hash"` // of its bytes; empty where the page is too large to be kept
	Media       string     `db:"media"`
	Size        int64      `db:"size"`
	Encoding    string     `db:"encoding"`
	Locked      string     `db:"locked"`
	Words       string     `db:"words"` // filled by whoever keeps the page
	SeenAt      time.Time  `db:"seen_at"`
	ElsewhereAt *time.Time `db:"elsewhere_at"` // when an edit by others was seen
	GoneAt      *time.Time `db:"gone_at"`
	Hidden      bool       `db:"hidden"`
	Dated       *time.Time `db:"dated"` // the day that it is of
	Findable    bool       `db:"findable"`
	Prints      []string   `db:"-"` // what page.Shared tells its parts by; filled by whoever keeps the page
	found       *foundBy   // what it is found by; told anew where it is nil
}

// Take fills a page's row from its file. hash is empty where the bytes are too large to be kept.
func (p *Page) Take(k page.Known, hash, media string, size int64) {
	if len(media) > mostMedia {
		media = "" // no type that anybody knows
	}
	p.Title, p.Description, p.Encoding, p.Locked, p.Words, p.Hidden = k.Title, k.Description, k.Encoding, k.Locked, k.Words, k.Hidden
	p.Prints, p.Dated = k.Prints, nil
	if !k.Dated.IsZero() {
		p.Dated = &k.Dated
	}
	p.Hash, p.Media, p.Size = hash, media, size
	by := foundByOf(*p) // here and not in the transaction that keeps it: it takes as long as reading the page
	p.found = &by
}

// What a page's path may be long, in characters, and its media type, in bytes (the columns of page).
const (
	MostPath  = 500
	mostMedia = 190
)

// PageRow is a page as a list shows it.
type PageRow struct {
	ID          int64      `db:"id"`
	SiteID      int64      `db:"site_id"`
	Path        string     `db:"path"`
	Address     string     `db:"address"`
	Title       string     `db:"title"`
	Size        int64      `db:"size"`
	Encoding    string     `db:"encoding"`
	Locked      string     `db:"locked"`
	SeenAt      time.Time  `db:"seen_at"`
	ElsewhereAt *time.Time `db:"elsewhere_at"`
	Kept        int        `db:"kept"`
	Hidden      bool       `db:"hidden"`
	Dated       *time.Time `db:"dated"`
	ChangedAt   *time.Time `db:"changed_at"` // when Mendry last wrote it
	Small       string     `db:"small"`      // hash of its small picture; empty where there is none
}

// KeepPage stores what is known of a page, and what it is found by; one of the same path is replaced.
func (q Queries) KeepPage(ctx context.Context, p Page) error { return q.KeepPages(ctx, []Page{p}, nil) }

// KeepPages is KeepPage for pages of one site, no two of one path; a hundred cost little more than a few. known are
// words that need not be looked up; it may be nil.
func (q Queries) KeepPages(ctx context.Context, ps []Page, known Words) error {
	if len(ps) == 0 {
		return nil
	}
	paths := make([]string, len(ps))
	for i, p := range ps {
		paths[i] = p.Path
	}
	var there []Page
	err := q.in(ctx, &there, `SELECT id, path, title, address, words, findable, hash FROM page WHERE site_id = ? AND path IN (?)`, ps[0].SiteID, paths)
	if err != nil {
		return err
	}
	before := map[string]Page{}
	for _, p := range there {
		before[p.Path] = p
	}
	if err := q.keepRows(ctx, ps); err != nil {
		return err
	}
	var old []int64
	var prints, versions []any
	all := make([]indexed, len(ps))
	for i, p := range ps {
		was := before[p.Path]
		if was.ID != 0 {
			old = append(old, p.ID)
		}
		if p.Hash != "" && p.Hash != was.Hash {
			versions = append(versions, p.ID, p.Hash, p.Media, At(p.SeenAt))
		}
		if !was.Findable {
			was = Page{}
		}
		all[i] = indexed{before: was, now: p}
		for _, print := range p.Prints {
			prints = append(prints, p.ID, p.SiteID, print)
		}
	}
	if len(old) > 0 {
		if err := q.doIn(ctx, `DELETE FROM shared_part WHERE page_id IN (?)`, old); err != nil {
			return err
		}
	}
	if err := q.fill(ctx, `INSERT IGNORE INTO shared_part (page_id, site_id, print) VALUES `, "(?,?,?)", prints); err != nil {
		return err
	}
	if err := q.fill(ctx, `INSERT INTO page_version (page_id, hash, media, seen_at) VALUES `, "(?,?,?,?)", versions); err != nil {
		return err
	}
	return q.index(ctx, all, known)
}

// PageVersion is a page as it stood on its host at some time.
type PageVersion struct {
	ID     int64     `db:"id"`
	PageID int64     `db:"page_id"`
	Hash   string    `db:"hash"`
	Media  string    `db:"media"`
	SeenAt time.Time `db:"seen_at"`
}

// PageVersions lists the versions of a page that Mendry knew, the newest first: the last most of them, and the first
// one always.
func (q Queries) PageVersions(ctx context.Context, page int64, most int) (vs []PageVersion, err error) {
	return vs, q.all(ctx, &vs, `(SELECT id, page_id, hash, media, seen_at FROM page_version WHERE page_id = ? ORDER BY id DESC LIMIT ?)
		UNION (SELECT id, page_id, hash, media, seen_at FROM page_version WHERE page_id = ? ORDER BY id LIMIT 1) ORDER BY id DESC`, page, most, page)
}

// PageVersion finds a version of a page.
func (q Queries) PageVersion(ctx context.Context, id int64) (v PageVersion, err error) {
	return v, q.get(ctx, &v, `SELECT id, page_id, hash, media, seen_at FROM page_version WHERE id = ?`, id)
}

// keepRows stores the rows of pages and fills in their keys.
func (q Queries) keepRows(ctx context.Context, ps []Page) error {
	query, args, err := sqlx.Named(`INSERT INTO page (site_id, path, address, title, description, hash, media, size, encoding, locked, words, seen_at, hidden, dated)
		VALUES (:site_id, :path, :address, :title, :description, :hash, :media, :size, :encoding, :locked, :words, :seen_at, :hidden, :dated)
		ON DUPLICATE KEY UPDATE address = VALUES(address), title = VALUES(title), description = VALUES(description), 
		hash = VALUES(hash), media = VALUES(media), size = VALUES(size), encoding = VALUES(encoding),
		locked = VALUES(locked), words = VALUES(words), hidden = VALUES(hidden), dated = VALUES(dated), seen_at = VALUES(seen_at), elsewhere_at = NULL, gone_at = NULL RETURNING id, path`, ps)
	if err != nil {
		return err
	}
	defer q.count()
	var kept []Page
	if err := q.all(ctx, &kept, query, args...); err != nil {
		return err
	}
	ids := map[string]int64{}
	for _, p := range kept {
		ids[p.Path] = p.ID
	}
	for i := range ps {
		ps[i].ID = ids[ps[i].Path]
	}
	return nil
}

// SeenPages notes that pages of a site were seen as they were known.
func (q Queries) SeenPages(ctx context.Context, site int64, paths []string, at time.Time) error {
	if len(paths) == 0 {
		return nil
	}
	return q.doIn(ctx, `UPDATE page SET seen_at = ?, elsewhere_at = NULL, gone_at = NULL WHERE site_id = ? AND path IN (?)`, At(at), site, paths)
}

// Standing is what taking in needs to know of a page that is known already.
type Standing struct {
	Path     string    `db:"path"`
	Hash     string    `db:"hash"`
	Media    string    `db:"media"`
	Address  string    `db:"address"`
	Locked   string    `db:"locked"`
	Findable bool      `db:"findable"`
	SeenAt   time.Time `db:"seen_at"`
}

// StandingPages are the pages of a site that are known, those too that are gone, by path.
func (q Queries) StandingPages(ctx context.Context, site int64) (map[string]Standing, error) {
	var rows []Standing
	err := q.all(ctx, &rows, `SELECT path, hash, media, address, locked, findable, seen_at FROM page WHERE site_id = ?`, site)
	all := make(map[string]Standing, len(rows))
	for _, r := range rows {
		all[r.Path] = r
	}
	return all, err
}

const pageColumns = `id, site_id, path, address, title, description, hash, media, size, encoding, locked, seen_at, elsewhere_at, gone_at, hidden, dated`

// Page finds a page by key.
func (q Queries) Page(ctx context.Context, id int64) (p Page, err error) {
	return p, q.get(ctx, &p, `SELECT `+pageColumns+` FROM page WHERE id = ?`, id)
}

// FirstPages lists the first pages of a site that can be changed, by address.
func (q Queries) FirstPages(ctx context.Context, site int64, most int) (ps []Page, err error) {
	return ps, q.all(ctx, &ps, `SELECT `+pageColumns+` FROM page WHERE site_id = ? AND gone_at IS NULL AND locked = '' AND hash <> '' ORDER BY address LIMIT ?`, site, most)
}

// PagesOf finds pages by key.
func (q Queries) PagesOf(ctx context.Context, ids []int64) (map[int64]Page, error) {
	all := map[int64]Page{}
	if len(ids) == 0 {
		return all, nil
	}
	var rows []Page
	err := q.in(ctx, &rows, `SELECT `+pageColumns+` FROM page WHERE id IN (?)`, ids)
	for _, p := range rows {
		all[p.ID] = p
	}
	return all, err
}

// PageByPath finds a page of a site by its file.
func (q Queries) PageByPath(ctx context.Context, site int64, path string) (p Page, err error) {
	return p, q.get(ctx, &p, `SELECT `+pageColumns+` FROM page WHERE site_id = ? AND path = ? AND gone_at IS NULL`, site, path)
}

// smallOf is the small picture of a page p.
const smallOf = `COALESCE((SELECT m.small FROM page_small m WHERE m.page_id = p.id), '') small`

const pageRows = `SELECT p.id, p.site_id, p.path, p.address, p.title, p.size, p.encoding, p.locked, p.seen_at, p.elsewhere_at, p.hidden, p.dated,
	(SELECT MAX(COALESCE(r.done_at, r.made_at)) FROM release_step s JOIN site_release r ON r.id = s.release_id WHERE s.page_id = p.id AND s.state = 'written') changed_at,
	(SELECT COUNT(*) FROM change_page h WHERE h.page_id = p.id AND h.state = 'kept') kept,
	` + smallOf + ` FROM page p`

// PageRows lists a site's pages by address.
func (q Queries) PageRows(ctx context.Context, site int64) (ps []PageRow, err error) {
	return ps, q.all(ctx, &ps, pageRows+` WHERE p.site_id = ? AND p.gone_at IS NULL ORDER BY p.address`, site)
}

// PagesElsewhere lists pages that others edited since Mendry last knew them.
func (q Queries) PagesElsewhere(ctx context.Context) (ps []PageRow, err error) {
	return ps, q.all(ctx, &ps, pageRows+` WHERE p.elsewhere_at IS NOT NULL AND p.gone_at IS NULL ORDER BY p.elsewhere_at DESC LIMIT 50`)
}

// SetElsewhere notes that a page was edited by others.
func (q Queries) SetElsewhere(ctx context.Context, id int64, at time.Time) error {
	return q.one(ctx, `UPDATE page SET elsewhere_at = COALESCE(elsewhere_at, ?) WHERE id = ?`, at, id)
}

// GoneExcept marks every page of a site as gone that was not seen since a time.
func (q Queries) GoneExcept(ctx context.Context, site int64, since, now time.Time) error {
	_, err := q.do(ctx, `UPDATE page SET gone_at = ? WHERE site_id = ? AND seen_at < ? AND gone_at IS NULL`, now, site, since)
	return err
}

// PageWords lists the pages of a site that can be changed, with their words.
func (q Queries) PageWords(ctx context.Context, site int64) (ps []PageFound, err error) {
	return ps, q.all(ctx, &ps, `SELECT p.id, p.site_id, p.path, p.address, p.title, p.size, p.encoding, p.locked, p.seen_at, p.elsewhere_at, 0 kept, p.words
		FROM page p WHERE p.site_id = ? AND p.gone_at IS NULL AND p.locked = '' ORDER BY p.address`, site)
}

// Titled lists the addresses of a site's other pages with a title, the first few.
func (q Queries) Titled(ctx context.Context, site, except int64, title string) (addresses []string, err error) {
	return addresses, q.all(ctx, &addresses, `SELECT address FROM page
		WHERE site_id = ? AND id <> ? AND title = ? AND gone_at IS NULL AND hidden = 0 ORDER BY address LIMIT 3`, site, except, title)
}

// PagesWithout lists pages of a site that can be changed and have no part of a print, by address.
func (q Queries) PagesWithout(ctx context.Context, site int64, print string, most int) (ps []Page, err error) {
	return ps, q.all(ctx, &ps, `SELECT `+pageColumns+` FROM page p WHERE site_id = ? AND gone_at IS NULL AND locked = '' AND hash <> ''
		AND NOT EXISTS (SELECT 1 FROM shared_part s WHERE s.page_id = p.id AND s.print = ?) ORDER BY address LIMIT ?`, site, print, most)
}

// SharedOn counts, for each of some parts' prints, the pages of a site that have such a part.
func (q Queries) SharedOn(ctx context.Context, site int64, prints []string) (map[string]int, error) {
	on := map[string]int{}
	if len(prints) == 0 {
		return on, nil
	}
	var rows []struct {
		Print string `db:"print"`
		Pages int    `db:"pages"`
	}
	err := q.in(ctx, &rows, `SELECT s.print, COUNT(*) pages FROM shared_part s JOIN page p ON p.id = s.page_id
		WHERE s.site_id = ? AND s.print IN (?) AND p.gone_at IS NULL GROUP BY s.print`, site, prints)
	for _, r := range rows {
		on[r.Print] = r.Pages
	}
	return on, err
}

// PageCount counts the pages of a site.
func (q Queries) PageCount(ctx context.Context, site int64) (n int, err error) {
	return n, q.get(ctx, &n, `SELECT COUNT(*) FROM page WHERE site_id = ? AND gone_at IS NULL`, site)
}
