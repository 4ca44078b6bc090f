package desk

import (
	"context"
	"regexp"
	"strconv"
	"strings"
	"time"

	"mendry/api"
	"mendry/internal/host"
	"mendry/internal/store"
)

// Clients lists every client.
func (d *Desk) Clients(ctx context.Context) ([]api.Client, error) {
	cs, err := d.store.Clients(ctx)
	out := []api.Client{}
	for _, c := range cs {
		out = append(out, api.Client{ID: c.ID, Name: c.Name, ContactName: c.ContactName, ContactMail: c.ContactMail, MayClear: c.MayClear})
	}
	return out, err
}

func siteView(s store.SiteRow) api.Site {
	knows, says := knowsOf(s.HostKnows), []string{}
	if s.HostTried != nil {
		says = knows.Words()
	}
	return api.Site{
		ID: s.ID, ClientID: s.ClientID, ClientName: s.ClientName, Name: s.Name, Initials: s.Initials, Colour: s.Colour,
		HostKind: api.HostKind(s.HostKind), HostURL: s.HostURL, HostKnows: says, HostTriedAt: s.HostTried,
		HostReadsOnly: s.HostTried != nil && !knows.MayWrite, PublicURL: s.PublicURL, HostUser: s.HostUser, Zone: s.Zone, State: api.SiteState(s.State),
		Said: s.Said, FilesSeen: s.FilesSeen, FilesAll: s.FilesAll, TakenInAt: s.TakenInAt, Pages: s.Pages,
		LockedPages: s.Locked, Kept: s.Kept, OpenRequests: s.Open, Elsewhere: s.Elsewhere,
	}
}

// Sites lists every site.
func (d *Desk) Sites(ctx context.Context) ([]api.Site, error) {
	out := []api.Site{}
	ss, err := d.store.SiteRows(ctx)
	if err != nil {
		return out, err
	}
	first, err := d.store.Fronts(ctx)
	for _, s := range ss {
		v := siteView(s)
		if f := first[s.ID]; f.Small != "" {
			v.Front = &api.SiteFront{ID: f.PageID, Small: f.Small}
		}
		out = append(out, v)
	}
	return out, err
}

func pageRow(p store.PageRow) api.PageRow {
	return api.PageRow{
		ID: p.ID, SiteID: p.SiteID, Address: p.Address, Path: p.Path, Title: p.Title, Size: p.Size, Encoding: p.Encoding,
		Locked: p.Locked, Kept: p.Kept, SeenAt: p.SeenAt, ElsewhereAt: p.ElsewhereAt, Hidden: p.Hidden, Dated: dayOf(p.Dated), ChangedAt: p.ChangedAt,
		Small: p.Small,
	}
}

func rowOf(p store.Page) api.PageRow {
	return api.PageRow{
		ID: p.ID, SiteID: p.SiteID, Address: p.Address, Path: p.Path, Title: p.Title, Size: p.Size, Encoding: p.Encoding,
		Locked: p.Locked, SeenAt: p.SeenAt, ElsewhereAt: p.ElsewhereAt,
	}
}

const endedShown = 20 // requests of a site that are over

// Site shows one site with its pages and requests.
func (d *Desk) Site(ctx context.Context, id int64) (api.SiteView, error) {
	v := api.SiteView{Pages: []api.PageRow{}, Words: []string{}, Requests: []api.RequestRow{}}
	s, err := d.store.SiteRow(ctx, id)
	if err != nil {
		return v, missing(err, "site")
	}
	v.Site = siteView(s)
	_, err = d.store.JobOf(ctx, smallPagesJob, strconv.FormatInt(id, 10))
	if v.Picturing = err == nil; ignoreNone(err) != nil {
		return v, err
	}
	ps, err := d.store.PageRows(ctx, id)
	if err != nil {
		return v, err
	}
	if v.Pages, err = d.tree(ctx, s, ps); err != nil {
		return v, err
	}
	if v.Words, err = d.store.SiteWords(ctx, id); err != nil {
		return v, err
	}
	if v.Words == nil {
		v.Words = []string{}
	}
	rs, err := d.store.RequestsOf(ctx, id, endedShown)
	for _, r := range rs {
		row, err := d.rowWithProblem(ctx, r)
		if err != nil {
			return v, err
		}
		v.Requests = append(v.Requests, row)
	}
	return v, err
}

var colours = []string{"#24547a", "#7a3d1d", "#4b3a78", "#3d6b55", "#8a2d4d", "#6a641d", "#2f5f66", "#5a4632"}

var mailForm = regexp.MustCompile(`^[^\s@]+@[^\s@]+$`)

// AddSite adds a site and begins to take in its pages.
func (d *Desk) AddSite(ctx context.Context, who Who, f api.SiteForm) (api.Site, error) {
	name := strings.TrimSpace(f.Name)
	if name == "" {
		return api.Site{}, refused("Give the site a name.")
	}
	if _, err := time.LoadLocation(f.Zone); err != nil || f.Zone == "" {
		return api.Site{}, refused("“%s” is no time zone. Write it like Europe/London.", f.Zone)
	}
	reach := reachOf(f)
	if _, err := host.Open(d.Network, reach, hostTimeout); err != nil {
		return api.Site{}, err
	}
	if reach.Kind == "hand" && reach.URL != "" { // it is followed by people
		if _, err := host.Address(reach.URL); err != nil {
			return api.Site{}, err
		}
	}
	publicURL, err := host.Address(f.PublicURL)
	if err != nil {
		return api.Site{}, err
	}
	var id int64
	err = d.store.Tx(ctx, func(q store.Queries) error {
		client, err := d.clientFor(ctx, q, f)
		if err != nil {
			return err
		}
		all, err := q.SiteRows(ctx)
		if err != nil {
			return err
		}
		id, err = q.AddSite(ctx, store.Site{
			ClientID: client, Name: name, Initials: initials(name), Colour: colours[len(all)%len(colours)],
			PublicURL: publicURL.String(), Zone: f.Zone, State: "new", CreatedAt: d.now(),
		})
		if err != nil {
			return err
		}
		if err := q.SetSiteHost(ctx, store.SiteHost{
			SiteID: id, Role: "live", Kind: reach.Kind, URL: reach.URL, User: reach.User, Secret: d.sealReach(reach),
		}); err != nil {
			return err
		}
		return d.note(ctx, q, id, nil, nil, event{Who: who.Name, What: "site added", Say: name + " at " + publicURL.String()})
	})
	if err != nil {
		return api.Site{}, err
	}
	if err := d.TakeIn(ctx, id); err != nil {
		return api.Site{}, err
	}
	s, err := d.store.SiteRow(ctx, id)
	return siteView(s), err
}

func (d *Desk) clientFor(ctx context.Context, q store.Queries, f api.SiteForm) (int64, error) {
	if f.ClientID != nil && *f.ClientID > 0 {
		c, err := q.Client(ctx, *f.ClientID)
		return c.ID, missing(err, "client")
	}
	text := func(s *string) string {
		if s == nil {
			return ""
		}
		return strings.TrimSpace(*s)
	}
	c := store.Client{Name: text(f.ClientName), ContactName: text(f.ContactName), ContactMail: text(f.ContactMail), CreatedAt: d.now()}
	c.MayClear = f.MayClear != nil && *f.MayClear
	if c.Name == "" || c.ContactName == "" || !mailForm.MatchString(c.ContactMail) {
		return 0, refused("Choose a client, or give a new one a name, somebody to write to and a mail address.")
	}
	return q.AddClient(ctx, c)
}
