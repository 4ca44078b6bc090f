package desk

import (
	"cmp"
	"context"
	"errors"
	"fmt"
	"path"
	"regexp"
	"slices"
	"strconv"
	"strings"
	"sync"
	"time"

	"golang.org/x/sync/errgroup"

	"mendry/api"
	"mendry/internal/core/link"
	"mendry/internal/core/page"
	"mendry/internal/core/refusal"
	"mendry/internal/core/source"
	"mendry/internal/host"
	"mendry/internal/release"
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
	ss, err := d.store.SiteRows(ctx)
	out := []api.Site{}
	for _, s := range ss {
		out = append(out, siteView(s))
	}
	return out, err
}

func pageRow(p store.PageRow) api.PageRow {
	return api.PageRow{
		ID: p.ID, SiteID: p.SiteID, Address: p.Address, Path: p.Path, Title: p.Title, Size: p.Size, Encoding: p.Encoding,
		Locked: p.Locked, Kept: p.Kept, SeenAt: p.SeenAt, ElsewhereAt: p.ElsewhereAt, Hidden: p.Hidden, Dated: dayOf(p.Dated), ChangedAt: p.ChangedAt,
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

// TestSite tries the addresses and the password of a site and says in words what was found.
func (d *Desk) TestSite(ctx context.Context, f api.SiteForm) api.SiteTest {
	ctx, cancel := context.WithTimeout(ctx, 25*time.Second)
	defer cancel()
	var t api.SiteTest
	t.Host.Say, t.Host.Good = d.testHost(ctx, f)
	v, err := d.visit(ctx, f.PublicURL)
	if err != nil {
		t.Public.Say = err.Error()
		return t
	}
	p, err := page.Parse(v.Bytes, v.Media)
	if err != nil || !strings.Contains(v.Media, "html") {
		t.Public.Say = "Something answers at the public address, but it is no page. Enter the address of the first page."
		return t
	}
	t.Public = api.Tried{Good: true, Say: fmt.Sprintf("Visitors get a page there: “%s”.", page.Short(cmp.Or(p.Facts.Title, "without a title"), 60))}
	return t
}

func (d *Desk) visit(ctx context.Context, address string) (host.Visit, error) {
	u, err := host.Address(address)
	if err != nil {
		return host.Visit{}, err
	}
	return d.visits.Get(ctx, u.String())
}

// isPage tells pages from other files by their names. What begins with an underscore is a part that a builder uses.
func isPage(p string) bool {
	if strings.HasPrefix(path.Base(p), "_") {
		return false
	}
	switch strings.ToLower(path.Ext(p)) {
	case ".html", ".htm", ".xhtml", ".md", ".markdown":
		return true
	}
	return false
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

// TakeIn lets a site's pages be read from its host, as a job.
func (d *Desk) TakeIn(ctx context.Context, site int64) error {
	if _, err := d.liveHost(ctx, site); err != nil {
		return err
	}
	err := d.store.Tx(ctx, func(q store.Queries) error {
		if err := q.SetSiteState(ctx, site, "taking in", "Waiting for its turn", 0, 0, d.now()); err != nil {
			return missing(err, "site")
		}
		return q.AskJob(ctx, "take in", strconv.FormatInt(site, 10), release.Lane(site), d.now())
	})
	d.jobs.Wake()
	return err
}

// takeInSite does the job of taking in a site. What a person has to put right is said on the site's page, and the job is
// done; taken up by another process, it begins anew.
func (d *Desk) takeInSite(ctx context.Context, about string) (again time.Time, err error) {
	site, err := strconv.ParseInt(about, 10, 64)
	if err != nil {
		return again, nil
	}
	h, err := d.liveHost(ctx, site)
	if err == nil {
		err = d.takeIn(ctx, site, h)
	}
	if err == nil || ctx.Err() != nil || refusal.Is(err, refusal.Nothing) {
		return again, err
	}
	say := "The pages could not be taken in. Try again."
	if no := refusal.Of(err); no != nil {
		say = no.Say
	} else {
		d.Log.Error("take in a site", "site", site, "err", err)
	}
	return again, d.store.SetSiteState(ctx, site, "failed", say, 0, 0, d.now())
}

const (
	readAtOnce = 4 // pages of a site
	leftShown  = 3 // folders that were left out
)

func (d *Desk) takeIn(ctx context.Context, site int64, h host.Host) error {
	start := d.now()
	progress := func(said string, seen, all int) { // it is progress only, and the next one tells more
		_ = d.store.SetSiteState(ctx, site, "taking in", said, seen, all, d.now())
	}
	if _, err := d.findOut(ctx, site, h); err != nil {
		return err
	}
	listed, err := h.List(ctx, func(n int) { progress(fmt.Sprintf("Listing the files: %d so far", n), 0, 0) })
	if err != nil {
		return err
	}
	pages := slices.DeleteFunc(listed.Files, func(f host.File) bool { return !f.Page && !isPage(f.Path) })
	var mu sync.Mutex
	seen, locked := 0, 0
	g, ctx := errgroup.WithContext(ctx)
	g.SetLimit(readAtOnce)
	for _, f := range pages {
		g.Go(func() error {
			p, err := d.readPage(ctx, site, h, f)
			if err != nil {
				return err
			}
			mu.Lock()
			seen++
			if p.Locked != "" {
				locked++
			}
			n := seen
			mu.Unlock()
			progress("Reading "+link.AddressOf(f.Path), n, len(pages))
			return nil
		})
	}
	if err := g.Wait(); err != nil {
		return err
	}
	ctx = context.WithoutCancel(ctx) // of the group, which has ended
	say := fmt.Sprintf("%d pages taken in", len(pages))
	if locked > 0 {
		say += fmt.Sprintf(", %d of them locked", locked)
	}
	if len(listed.Left) > 0 {
		say += ". " + strings.Join(listed.Left[:min(len(listed.Left), leftShown)], " ")
	}
	return d.store.Tx(ctx, func(q store.Queries) error {
		if err := q.GoneExcept(ctx, site, start, d.now()); err != nil {
			return err
		}
		if err := q.SetSiteState(ctx, site, "ready", say, len(pages), len(pages), d.now()); err != nil {
			return err
		}
		return d.note(ctx, q, site, nil, nil, event{Who: "Mendry", What: "site taken in", Say: say})
	})
}

// readPage reads a page from its host and keeps what can be done with it. A page that cannot be read or edited is taken in
// locked, with the reason: one odd page does not keep the site out.
func (d *Desk) readPage(ctx context.Context, site int64, h host.Host, f host.File) (store.Page, error) {
	p := store.Page{SiteID: site, Path: f.Path, Address: link.AddressOf(f.Path)}
	why := f.Odd
	if why == "" && f.Size > source.MaxBytes {
		why = fmt.Sprintf("The page has %d MB. Mendry edits pages of up to %d MB.", f.Size>>20, source.MaxBytes>>20)
	}
	var c host.Content
	if why == "" {
		var err error
		c, err = h.Read(ctx, f.Path)
		var no *host.Problem
		if errors.As(err, &no) && ofOneFile(no.Kind) {
			why, err = "The host does not give the page. "+no.Say, nil
		}
		if err != nil {
			return p, err
		}
	}
	if why != "" {
		p.Take(page.Known{Title: f.Path, Locked: why}, "", "", f.Size)
		p.SeenAt = d.now()
		return p, d.store.Tx(ctx, func(q store.Queries) error { return q.KeepPage(ctx, p) })
	}
	known := page.Know(p.Path, p.Address, c.Bytes, c.Media)
	err := d.store.Tx(ctx, func(q store.Queries) error { return d.keepPage(ctx, q, &p, known, c) })
	return p, err
}

// ofOneFile tells what is wrong with one file from what is wrong with the host.
func ofOneFile(k host.Kind) bool {
	return k == host.Forbidden || k == host.Gone || k == host.Broken || k == host.Odd || k == host.Locked
}

// keepPage keeps a page as its host has it, with what is known of it.
func (d *Desk) keepPage(ctx context.Context, q store.Queries, p *store.Page, known page.Known, c host.Content) error {
	hash, err := q.KeepBytes(ctx, c.Bytes)
	if err != nil {
		return err
	}
	p.Take(known, hash, c.Media, int64(len(c.Bytes)))
	p.SeenAt = d.now()
	return q.KeepPage(ctx, *p)
}
