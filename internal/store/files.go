package store

import "context"

// ChangeFile is a file to download that a change puts on a site.
type ChangeFile struct {
	ChangeID int64  `db:"change_id"`
	N        int    `db:"n"`
	SiteID   int64  `db:"site_id"`
	Name     string `db:"name"` // as it came
	Path     string `db:"path"`
	Media    string `db:"media"`
	Kind     string `db:"kind"` // as visitors call it
	Size     int64  `db:"size"`
	Hash     string `db:"hash"`
	WasMedia string `db:"was_media"` // of what stood there before
	WasKind  string `db:"was_kind"`
	WasSize  int64  `db:"was_size"`
	WasHash  string `db:"was_hash"` // empty for a new file
}

// SetChangeFiles says which files a change brings.
func (q Queries) SetChangeFiles(ctx context.Context, change int64, fs []ChangeFile) error {
	if _, err := q.do(ctx, `DELETE FROM change_file WHERE change_id = ?`, change); err != nil {
		return err
	}
	for n, f := range fs {
		f.ChangeID, f.N = change, n
		if _, err := q.add(ctx, `INSERT INTO change_file (change_id, n, site_id, name, path, media, kind, size, hash, was_media, was_kind, was_size, was_hash)
			VALUES (:change_id, :n, :site_id, :name, :path, :media, :kind, :size, :hash, :was_media, :was_kind, :was_size, :was_hash)`, f); err != nil {
			return err
		}
	}
	return nil
}

// ChangeFiles lists the files that a change brings.
func (q Queries) ChangeFiles(ctx context.Context, change int64) (fs []ChangeFile, err error) {
	return fs, q.all(ctx, &fs, `SELECT * FROM change_file WHERE change_id = ? ORDER BY n`, change)
}

// DraftFile finds the file that the changes of a request put at a path, as long as they are not live.
func (q Queries) DraftFile(ctx context.Context, request int64, path string) (f ChangeFile, err error) {
	return f, q.get(ctx, &f, `SELECT f.* FROM change_file f WHERE f.path = ? AND EXISTS (SELECT 1 FROM change_page n
		WHERE n.change_id = f.change_id AND n.request_id = ? AND n.state IN ('kept', 'going')) ORDER BY f.change_id DESC LIMIT 1`, path, request)
}

// BringsFile is a change that brings a file and is not live, with its request.
type BringsFile struct {
	ChangeID  int64 `db:"change_id"`
	RequestID int64 `db:"request_id"`
}

// BringFile lists the changes that bring a file to a path of a site and are not live.
func (q Queries) BringFile(ctx context.Context, site int64, path string) (bs []BringsFile, err error) {
	return bs, q.all(
		ctx,
		&bs,
		`SELECT DISTINCT f.change_id, n.request_id FROM change_file f JOIN change_page n ON n.change_id = f.change_id
		WHERE f.site_id = ? AND f.path = ? AND n.state IN ('kept', 'going') ORDER BY f.change_id`,
		site,
		path,
	)
}

// PagesNaming lists the pages of a site whose bytes name something, up to so many.
func (q Queries) PagesNaming(ctx context.Context, site int64, name string, most int) (ps []Page, err error) {
	return ps, q.all(ctx, &ps, `SELECT `+pageColumns+` FROM page WHERE site_id = ? AND locked = '' AND gone_at IS NULL
		AND EXISTS (SELECT 1 FROM file_blob b WHERE b.hash = page.hash AND LOCATE(?, b.bytes) > 0) ORDER BY path LIMIT ?`, site, name, most)
}
