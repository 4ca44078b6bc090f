package store

import (
	"context"
	"time"
)

// SitePicture is a picture file of a site, as it was seen last.
type SitePicture struct {
	ID     int64     `db:"id"`
	SiteID int64     `db:"site_id"`
	Path   string    `db:"path"`
	Folder string    `db:"folder"`
	Media  string    `db:"media"`
	Width  int       `db:"width"` // as shown; 0 where it could not be read
	Height int       `db:"height"`
	Size   int64     `db:"size"`
	Hash   string    `db:"hash"` // of its bytes; empty where it could not be read
	Said   string    `db:"said"` // why it could not
	SeenAt time.Time `db:"seen_at"`
}

// PictureUse is a place that names a picture file: a page, or a style sheet.
type PictureUse struct {
	SiteID  int64  `db:"site_id"`
	File    string `db:"file"`
	PageID  *int64 `db:"page_id"` // nil for a style sheet
	SrcHash string `db:"src_hash"`
	Address string `db:"address"` // of the page or sheet
	Part    string `db:"part"`
	Alt     string `db:"alt"`
	Says    bool   `db:"says"` // it has an alternative text, or needs none
	ShownAt int    `db:"shown"`
}

// SetSitePictures keeps what a look at a site's pictures found, in the place of what the one before found.
func (q Queries) SetSitePictures(
	ctx context.Context,
	site int64,
	ps []SitePicture,
	uses []PictureUse,
	say string,
	at time.Time,
) error {
	for _, table := range []string{"picture_use", "site_picture"} {
		if _, err := q.do(ctx, `DELETE FROM `+table+` WHERE site_id = ?`, site); err != nil {
			return err
		}
	}
	var rows []any
	for _, p := range ps {
		rows = append(rows, site, p.Path, p.Folder, p.Media, p.Width, p.Height, p.Size, p.Hash, p.Said, at)
	}
	if err := q.fill(ctx, `INSERT INTO site_picture (site_id, path, folder, media, width, height, size, hash, said, seen_at) VALUES `, "(?,?,?,?,?,?,?,?,?,?)", rows); err != nil {
		return err
	}
	rows = rows[:0]
	for _, u := range uses {
		rows = append(rows, site, u.File, u.PageID, u.SrcHash, u.Address, u.Part, u.Alt, u.Says)
	}
	if err := q.fill(ctx, `INSERT INTO picture_use (site_id, file, page_id, src_hash, address, part, alt, says) VALUES `, "(?,?,?,?,?,?,?,?)", rows); err != nil {
		return err
	}
	_, err := q.do(ctx, `UPDATE site SET pictures_at = ?, pictures_said = ? WHERE id = ?`, at, say, site)
	return err
}

// SayPictures says how far a look at a site's pictures has come.
func (q Queries) SayPictures(ctx context.Context, site int64, say string) error {
	_, err := q.do(ctx, `UPDATE site SET pictures_said = ? WHERE id = ?`, say, site)
	return err
}

// SitePictureByPath finds a picture file of a site.
func (q Queries) SitePictureByPath(ctx context.Context, site int64, path string) (p SitePicture, err error) {
	return p, q.get(ctx, &p, `SELECT * FROM site_picture WHERE site_id = ? AND path = ?`, site, path)
}

// SitePictures lists a site's picture files by path.
func (q Queries) SitePictures(ctx context.Context, site int64) (ps []SitePicture, err error) {
	return ps, q.all(ctx, &ps, `SELECT * FROM site_picture WHERE site_id = ? ORDER BY path`, site)
}

// PictureUses lists the places of a site that name its pictures, with how wide each is shown there at most, in CSS
// pixels; 0 where nobody saw it.
func (q Queries) PictureUses(ctx context.Context, site int64) (us []PictureUse, err error) {
	return us, q.all(
		ctx,
		&us,
		`SELECT u.*, COALESCE((SELECT MAX(p.width) FROM picture_place p WHERE p.page_id = u.page_id AND p.src_hash = u.src_hash), 0) shown
		FROM picture_use u WHERE u.site_id = ? ORDER BY u.file, u.address`,
		site,
	)
}

// PictureUsesOf lists the places of a site that name a picture file.
func (q Queries) PictureUsesOf(ctx context.Context, site int64, file string) (us []PictureUse, err error) {
	return us, q.all(ctx, &us, `SELECT u.*, 0 shown FROM picture_use u WHERE u.site_id = ? AND u.file = ? ORDER BY u.address`, site, file)
}

// PicturesOf is a site with what is known of its pictures.
type PicturesOf struct {
	SiteID   int64      `db:"site_id"`
	Name     string     `db:"name"`
	Initials string     `db:"initials"`
	Colour   string     `db:"colour"`
	Said     string     `db:"pictures_said"`
	At       *time.Time `db:"pictures_at"` // of the last look
	Pictures int        `db:"pictures"`
	Size     int64      `db:"size"` // bytes
	Unnamed  int        `db:"unnamed"`
}

// AllPictures lists every site with what is known of its pictures.
func (q Queries) AllPictures(ctx context.Context) (all []PicturesOf, err error) {
	return all, q.all(ctx, &all, `SELECT s.id site_id, s.name, s.initials, s.colour, s.pictures_said, s.pictures_at, COUNT(p.id) pictures, COALESCE(SUM(p.size), 0) size,
		COUNT(CASE WHEN p.id IS NOT NULL AND NOT EXISTS (SELECT 1 FROM picture_use u WHERE u.site_id = p.site_id AND u.file = p.path) THEN 1 END) unnamed
		FROM site s LEFT JOIN site_picture p ON p.site_id = s.id AND (p.media = '' OR p.media LIKE 'image/%') WHERE s.state = 'ready' GROUP BY s.id ORDER BY s.name`)
}

// FirstPictures lists some pictures of each site that can be shown, the largest first.
func (q Queries) FirstPictures(ctx context.Context, most int) (ps []SitePicture, err error) {
	return ps, q.all(ctx, &ps, `SELECT id, site_id, path, folder, media, width, height, size, hash, said, seen_at FROM (
		SELECT p.*, ROW_NUMBER() OVER (PARTITION BY site_id ORDER BY width * height DESC, path) n FROM site_picture p WHERE said = '' AND width > 0) ranked
		WHERE n <= ? ORDER BY site_id, n`, most)
}
