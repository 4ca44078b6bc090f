package store

import (
	"context"
	"time"
)

// Client is whoever the studio keeps sites for.
type Client struct {
	ID          int64     `db:"id"`
	Name        string    `db:"name"`
	ContactName string    `db:"contact_name"`
	ContactMail string    `db:"contact_mail"`
	MayClear    bool      `db:"may_clear"` // the client's terms let the maintainer clear
	CreatedAt   time.Time `db:"created_at"`
}

// Site is one site of a client.
type Site struct {
	ID        int64      `db:"id"`
	ClientID  int64      `db:"client_id"`
	Name      string     `db:"name"`
	Initials  string     `db:"initials"`
	Colour    string     `db:"colour"`
	PublicURL string     `db:"public_url"`
	Zone      string     `db:"zone"`
	State     string     `db:"state"`
	Said      string     `db:"said"`
	FilesSeen int        `db:"files_seen"`
	FilesAll  int        `db:"files_all"`
	TakenInAt *time.Time `db:"taken_in_at"`
	CreatedAt time.Time  `db:"created_at"`
	// TakingSince is when the last taking in was asked for: what was seen after it need not be read again.
	TakingSince *time.Time `db:"taking_since"`
	// PicturesAt is when its pictures were looked at last, PicturesSaid what was found, or how far the look is.
	PicturesAt   *time.Time `db:"pictures_at"`
	PicturesSaid string     `db:"pictures_said"`
}

// Clock is the site's zone; UTC where it names none that is known.
func (s Site) Clock() *time.Location {
	if l, err := time.LoadLocation(s.Zone); err == nil {
		return l
	}
	return time.UTC
}

// SiteRow is a site with what a list shows of it.
type SiteRow struct {
	Site
	ClientName string     `db:"client_name"`
	HostKind   string     `db:"host_kind"` // of the live host
	HostURL    string     `db:"host_url"`
	HostUser   string     `db:"host_user"`
	HostKnows  []byte     `db:"host_knows"` // JSON of host.Knows
	HostTried  *time.Time `db:"host_tried"`
	Pages      int        `db:"pages"`
	Locked     int        `db:"locked_pages"`
	Kept       int        `db:"kept"`
	Open       int        `db:"open_requests"`
	Elsewhere  int        `db:"elsewhere"`
}

// AddClient takes in a client.
func (q Queries) AddClient(ctx context.Context, c Client) (int64, error) {
	return q.add(ctx, `INSERT INTO client (name, contact_name, contact_mail, may_clear, created_at)
		VALUES (:name, :contact_name, :contact_mail, :may_clear, :created_at)`, c)
}

// Client finds a client by key.
func (q Queries) Client(ctx context.Context, id int64) (c Client, err error) {
	return c, q.get(ctx, &c, `SELECT * FROM client WHERE id = ?`, id)
}

// Clients lists every client.
func (q Queries) Clients(ctx context.Context) (cs []Client, err error) {
	return cs, q.all(ctx, &cs, `SELECT * FROM client ORDER BY name`)
}

// AddSite takes in a site.
func (q Queries) AddSite(ctx context.Context, s Site) (int64, error) {
	return q.add(ctx, `INSERT INTO site (client_id, name, initials, colour, public_url, zone, state, said, created_at)
		VALUES (:client_id, :name, :initials, :colour, :public_url, :zone, :state, :said, :created_at)`, s)
}

// SiteHost is where a site's files live.
type SiteHost struct {
	SiteID int64  `db:"site_id"`
	Role   string `db:"role"` // live, rehearsal
	Kind   string `db:"kind"` // as package host knows it
	URL    string `db:"url"`
	User   string `db:"user"`
	Secret []byte `db:"secret"` // sealed
	Knows  []byte `db:"knows"`  // JSON of host.Knows
	// Tried is when that was found out.
	Tried *time.Time `db:"tried_at"`
}

// SetSiteHost keeps where a site's files live, in one role.
func (q Queries) SetSiteHost(ctx context.Context, h SiteHost) error {
	_, err := q.add(ctx, `INSERT INTO site_host (site_id, role, kind, url, user, secret) VALUES (:site_id, :role, :kind, :url, :user, :secret)
		ON DUPLICATE KEY UPDATE kind = VALUES(kind), url = VALUES(url), user = VALUES(user), secret = VALUES(secret)`, h)
	return err
}

// HostSecrets are what signs in at the hosts, sealed.
func (q Queries) HostSecrets(ctx context.Context) (all [][]byte, err error) {
	return all, q.all(ctx, &all, `SELECT secret FROM site_host WHERE secret <> ''`)
}

// SiteHost finds where a site's files live, in one role.
func (q Queries) SiteHost(ctx context.Context, site int64, role string) (h SiteHost, err error) {
	return h, q.get(ctx, &h, `SELECT site_id, role, kind, url, user, secret, knows, tried_at FROM site_host WHERE site_id = ? AND role = ?`, site, role)
}

// SetHostKnows keeps what was found out about a site's host.
func (q Queries) SetHostKnows(ctx context.Context, site int64, role string, knows []byte, at time.Time) error {
	return q.one(ctx, `UPDATE site_host SET knows = ?, tried_at = ? WHERE site_id = ? AND role = ?`, knows, At(at), site, role)
}

// Site finds a site by key.
func (q Queries) Site(ctx context.Context, id int64) (s Site, err error) {
	return s, q.get(ctx, &s, `SELECT * FROM site WHERE id = ?`, id)
}

const siteRows = `SELECT s.*, c.name client_name, o.kind host_kind, o.url host_url, o.user host_user, o.knows host_knows, o.tried_at host_tried,
	(SELECT COUNT(*) FROM page p WHERE p.site_id = s.id AND p.gone_at IS NULL) pages,
	(SELECT COUNT(*) FROM page p WHERE p.site_id = s.id AND p.gone_at IS NULL AND p.locked <> '') locked_pages,
	(SELECT COUNT(*) FROM page p WHERE p.site_id = s.id AND p.gone_at IS NULL AND p.elsewhere_at IS NOT NULL) elsewhere,
	(SELECT COUNT(DISTINCT h.change_id) FROM change_page h JOIN request r ON r.id = h.request_id WHERE r.site_id = s.id AND h.state = 'kept') kept,
	(SELECT COUNT(*) FROM request r WHERE r.site_id = s.id AND r.state NOT IN ('signed off', 'declined')) open_requests
	FROM site s JOIN client c ON c.id = s.client_id JOIN site_host o ON o.site_id = s.id AND o.role = 'live'`

// SiteRows lists every site.
func (q Queries) SiteRows(ctx context.Context) (ss []SiteRow, err error) {
	return ss, q.all(ctx, &ss, siteRows+` ORDER BY s.name`)
}

// SiteName is what a site is called and where visitors find it.
type SiteName struct {
	ID        int64  `db:"id"`
	Name      string `db:"name"`
	PublicURL string `db:"public_url"`
	Zone      string `db:"zone"`
}

// SiteNames lists every site without counting anything.
func (q Queries) SiteNames(ctx context.Context) (ss []SiteName, err error) {
	return ss, q.all(ctx, &ss, `SELECT id, name, public_url, zone FROM site`)
}

// SiteRow finds one site as the list shows it.
func (q Queries) SiteRow(ctx context.Context, id int64) (s SiteRow, err error) {
	return s, q.get(ctx, &s, siteRows+` WHERE s.id = ?`, id)
}

// BeginTakingIn says that a site is to be taken in, from now on.
func (q Queries) BeginTakingIn(ctx context.Context, id int64, now time.Time) error {
	return q.one(ctx, `UPDATE site SET state = 'taking in', said = 'Waiting for its turn', files_seen = 0, files_all = 0, taking_since = ? WHERE id = ?`, At(now), id)
}

// TakingSince is when the taking in of a site was asked for; now where nobody noted it.
func (q Queries) TakingSince(ctx context.Context, id int64, now time.Time) (time.Time, error) {
	var noted *time.Time
	if err := q.get(ctx, &noted, `SELECT taking_since FROM site WHERE id = ?`, id); err != nil || noted == nil {
		return At(now), err
	}
	return *noted, nil
}

// SetSiteState says how far the taking in of a site has come.
func (q Queries) SetSiteState(ctx context.Context, id int64, state, said string, seen, all int, at time.Time) error {
	return q.one(ctx, `UPDATE site SET state = ?, said = ?, files_seen = ?, files_all = ?,
		taken_in_at = IF(? = 'ready', ?, taken_in_at) WHERE id = ?`, state, said, seen, all, state, at, id)
}
