package store

import (
	"context"
	"errors"
	"time"
)

// PictureFile is a picture that a change puts on a site.
type PictureFile struct {
	ID        int64  `db:"id"`
	SiteID    int64  `db:"site_id"`
	RequestID int64  `db:"request_id"`
	Path      string `db:"path"`
	Media     string `db:"media"`
	Width     int    `db:"width"`
	Height    int    `db:"height"`
	Size      int64  `db:"size"`
	Hash      string `db:"hash"` // of its bytes
}

// PutPictureFile keeps a picture for a site, in the place of one of the same path that the same change brought before.
func (q Queries) PutPictureFile(ctx context.Context, p PictureFile) (int64, error) {
	had, err := q.PictureByPath(ctx, p.SiteID, p.Path)
	if errors.Is(err, ErrNone) {
		return q.add(ctx, `INSERT INTO picture_file (site_id, request_id, path, media, width, height, size, hash)
			VALUES (:site_id, :request_id, :path, :media, :width, :height, :size, :hash)`, p)
	}
	if err != nil {
		return 0, err
	}
	_, err = q.do(ctx, `UPDATE picture_file SET media = ?, width = ?, height = ?, size = ?, hash = ? WHERE id = ?`,
		p.Media, p.Width, p.Height, p.Size, p.Hash, had.ID)
	return had.ID, err
}

// PictureOnlyOf reports whether a picture is brought by one change and no other, and neither a release wrote it nor a
// client was shown it: then another one may take its name.
func (q Queries) PictureOnlyOf(ctx context.Context, picture, change int64) (only bool, err error) {
	return only, q.get(ctx, &only, `SELECT EXISTS (SELECT 1 FROM change_picture WHERE picture_id = ? AND change_id = ?)
		AND NOT EXISTS (SELECT 1 FROM change_picture WHERE picture_id = ? AND change_id <> ?)
		AND NOT EXISTS (SELECT 1 FROM release_step WHERE picture_id = ?)
		AND NOT EXISTS (SELECT 1 FROM round_change WHERE change_id = ?)`, picture, change, picture, change, picture, change)
}

// PictureFile finds a picture by key.
func (q Queries) PictureFile(ctx context.Context, id int64) (p PictureFile, err error) {
	return p, q.get(ctx, &p, `SELECT * FROM picture_file WHERE id = ?`, id)
}

// PictureByPath finds a picture that Mendry keeps for a site.
func (q Queries) PictureByPath(ctx context.Context, site int64, path string) (p PictureFile, err error) {
	return p, q.get(ctx, &p, `SELECT * FROM picture_file WHERE site_id = ? AND path = ?`, site, path)
}

// PictureByHash finds a picture of a request by its bytes.
func (q Queries) PictureByHash(ctx context.Context, request int64, hash string) (p PictureFile, err error) {
	return p, q.get(ctx, &p, `SELECT * FROM picture_file WHERE request_id = ? AND hash = ? LIMIT 1`, request, hash)
}

// SetChangePictures says which pictures a change brings, in order. Those that no change brings any more and that no
// release wrote are forgotten.
func (q Queries) SetChangePictures(ctx context.Context, change, request int64, pictures []int64) error {
	if _, err := q.do(ctx, `DELETE FROM change_picture WHERE change_id = ?`, change); err != nil {
		return err
	}
	var rows []any
	for n, id := range pictures {
		rows = append(rows, change, n, id)
	}
	if err := q.fill(ctx, `INSERT INTO change_picture (change_id, n, picture_id) VALUES `, "(?,?,?)", rows); err != nil {
		return err
	}
	_, err := q.do(ctx, `DELETE FROM picture_file WHERE request_id = ?
		AND NOT EXISTS (SELECT 1 FROM change_picture c WHERE c.picture_id = picture_file.id)
		AND NOT EXISTS (SELECT 1 FROM release_step s WHERE s.picture_id = picture_file.id)`, request)
	return err
}

// ChangePictures lists the pictures that a change brings, the one that it is of first.
func (q Queries) ChangePictures(ctx context.Context, change int64) (ps []PictureFile, err error) {
	return ps, q.all(
		ctx,
		&ps,
		`SELECT p.* FROM change_picture c JOIN picture_file p ON p.id = c.picture_id WHERE c.change_id = ? ORDER BY c.n`,
		change,
	)
}

// PictureMade is what work on a picture came to.
type PictureMade struct {
	OfHash string `db:"of_hash"` // of the original
	Work   string `db:"work"`    // hash of what was done
	Hash   string `db:"hash"`
	Media  string `db:"media"`
	Width  int    `db:"width"`
	Height int    `db:"height"`
	Size   int64  `db:"size"`
	Said   string `db:"said"`
}

// PictureMade finds what work on a picture came to.
func (q Queries) PictureMade(ctx context.Context, of, work string) (p PictureMade, err error) {
	return p, q.get(ctx, &p, `SELECT * FROM picture_made WHERE of_hash = ? AND work = ?`, of, work)
}

// AddPictureMade notes what work on a picture came to.
func (q Queries) AddPictureMade(ctx context.Context, p PictureMade) error {
	_, err := q.do(
		ctx,
		`INSERT IGNORE INTO picture_made (of_hash, work, hash, media, width, height, size, said) VALUES (?, ?, ?, ?, ?, ?, ?, ?)`,
		p.OfHash,
		p.Work,
		p.Hash,
		p.Media,
		p.Width,
		p.Height,
		p.Size,
		p.Said,
	)
	return err
}

// PicturePlace is how large a picture is shown on a page at a width of the window, in CSS pixels.
type PicturePlace struct {
	PageID   int64     `db:"page_id"`
	SrcHash  string    `db:"src_hash"` // of its address on the page
	AtWidth  int       `db:"at_width"`
	Width    int       `db:"width"`
	Height   int       `db:"height"`
	Fit      string    `db:"fit"`
	OwnShape bool      `db:"own_shape"` // the place has a shape of its own, whatever stands in it
	SeenAt   time.Time `db:"seen_at"`
}

// SetPicturePlaces notes how large pictures are shown.
func (q Queries) SetPicturePlaces(ctx context.Context, ps []PicturePlace) error {
	var rows []any
	for _, p := range ps {
		rows = append(rows, p.PageID, p.SrcHash, p.AtWidth, p.Width, p.Height, p.Fit, p.OwnShape, p.SeenAt)
	}
	return q.fill(
		ctx,
		`REPLACE INTO picture_place (page_id, src_hash, at_width, width, height, fit, own_shape, seen_at) VALUES `,
		"(?,?,?,?,?,?,?,?)",
		rows,
	)
}

// PicturePlaces lists how large the pictures of a page are shown.
func (q Queries) PicturePlaces(ctx context.Context, page int64) (ps []PicturePlace, err error) {
	return ps, q.all(ctx, &ps, `SELECT * FROM picture_place WHERE page_id = ? ORDER BY src_hash, at_width`, page)
}
