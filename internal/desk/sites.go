package desk

import (
	"bytes"
	"context"
	"errors"
	"fmt"
	"path"
	"regexp"
	"strings"
	"sync"
	"time"

	"mendry/api"
	"mendry/internal/core/link"
	"mendry/internal/core/page"
	"mendry/internal/core/source"
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
	return api.Site{
		ID: s.ID, ClientID: s.ClientID, ClientName: s.ClientName, Name: s.Name, Initials: s.Initials, Colour: s.Colour,
		HostURL: s.HostURL, PublicURL: s.PublicURL, HostUser: s.HostUser, Zone: s.Zone, State: api.SiteState(s.State),
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
	rs, err := d.store.RequestRows(ctx, id)
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
	t.Public = api.Tried{Good: true, Say: fmt.Sprintf("Visitors get a page there: “%s”.", page.Short(first(p.Facts.Title, "without a title"), 60))}
	return t
}

func first(ss ...string) string {
	for _, s := range ss {
		if s != "" {
			return s
		}
	}
	return ""
}

func (d *Desk) visit(ctx context.Context, address string) (host.Visit, error) {
	u, err := host.Address(address)
	if err != nil {
		return host.Visit{}, err
	}
	return d.visits.Get(ctx, u.String())
}

func (d *Desk) testHost(ctx context.Context, f api.SiteForm) (string, bool) {
	h, err := host.NewWebDAV(d.Network, f.HostURL, f.HostUser, f.HostPassword, 20*time.Second)
	if err != nil {
		return err.Error(), false
	}
	files, err := h.List(ctx, nil)
	if err != nil {
		return err.Error(), false
	}
	pages := 0
	for _, file := range files {
		if isPage(file.Path) {
			pages++
		}
	}
	if pages == 0 {
		return fmt.Sprintf("The host answers and accepts the password, but there is no page among its %d files. Point at the folder in which the pages are.", len(files)), false
	}
	return fmt.Sprintf("The host answers and accepts the password. It has %d pages and %d other files.", pages, len(files)-pages), true
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
	hostURL, err := host.Address(f.HostURL)
	if err != nil {
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
			HostURL: hostURL.String(), PublicURL: publicURL.String(), HostUser: f.HostUser, HostSecret: d.seal(f.HostPassword),
			Zone: f.Zone, State: "new", CreatedAt: store.Now(),
		})
		if err != nil {
			return err
		}
		return note(ctx, q, id, nil, nil, event{Who: who.Name, What: "site added", Say: name + " at " + publicURL.String()})
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
	c := store.Client{Name: text(f.ClientName), ContactName: text(f.ContactName), ContactMail: text(f.ContactMail), CreatedAt: store.Now()}
	c.MayClear = f.MayClear != nil && *f.MayClear
	if c.Name == "" || c.ContactName == "" || !mailForm.MatchString(c.ContactMail) {
		return 0, refused("Choose a client, or give a new one a name, somebody to write to and a mail address.")
	}
	return q.AddClient(ctx, c)
}

// TakeIn reads a site's pages from its host, in the background.
func (d *Desk) TakeIn(ctx context.Context, site int64) error {
	s, err := d.store.Site(ctx, site)
	if err != nil {
		return missing(err, "site")
	}
	h, err := d.hostOf(s)
	if err != nil {
		return err
	}
	if err := d.store.SetSiteState(ctx, site, "taking in", "Listing the files", 0, 0); err != nil {
		return err
	}
	go func() {
		ctx, cancel := context.WithTimeout(context.Background(), 30*time.Minute)
		defer cancel()
		if err := d.takeIn(ctx, s, h); err != nil {
			say := "The pages could not be taken in. Try again."
			var p *host.Problem
			if errors.As(err, &p) {
				say = p.Say
			} else {
				d.Log.Error("take in a site", "site", site, "err", err)
			}
			if err := d.store.SetSiteState(ctx, site, "failed", say, 0, 0); err != nil {
				d.Log.Error("note a failed taking in", "site", site, "err", err)
			}
		}
	}()
	return nil
}

func (d *Desk) takeIn(ctx context.Context, s store.Site, h *host.WebDAV) error {
	start := store.Now()
	files, err := h.List(ctx, func(n int) {
		_ = d.store.SetSiteState(ctx, s.ID, "taking in", fmt.Sprintf("Listing the files: %d so far", n), 0, 0) // progress only
	})
	if err != nil {
		return err
	}
	var pages []host.File
	for _, f := range files {
		if isPage(f.Path) {
			pages = append(pages, f)
		}
	}
	var mu sync.Mutex
	seen, locked := 0, 0
	var firstErr error
	work := make(chan host.File)
	var wg sync.WaitGroup
	for range 4 {
		wg.Go(func() {
			for f := range work {
				p, err := d.readPage(ctx, s.ID, h, f)
				if err == nil {
					err = d.store.Tx(ctx, func(q store.Queries) error { return q.KeepPage(ctx, p) })
				}
				mu.Lock()
				seen++
				if p.Locked != "" {
					locked++
				}
				if firstErr == nil {
					firstErr = err
				}
				n := seen
				mu.Unlock()
				_ = d.store.SetSiteState(ctx, s.ID, "taking in", "Reading "+link.AddressOf(f.Path), n, len(pages)) // progress only
			}
		})
	}
	for _, f := range pages {
		work <- f
	}
	close(work)
	wg.Wait()
	if firstErr != nil {
		return firstErr
	}
	if err := d.store.GoneExcept(ctx, s.ID, start, store.Now()); err != nil {
		return err
	}
	say := fmt.Sprintf("%d pages taken in", len(pages))
	if locked > 0 {
		say += fmt.Sprintf(", %d of them locked", locked)
	}
	if err := d.store.Tx(ctx, func(q store.Queries) error {
		return note(ctx, q, s.ID, nil, nil, event{Who: "Mendry", What: "site taken in", Say: say})
	}); err != nil {
		return err
	}
	return d.store.SetSiteState(ctx, s.ID, "ready", say, len(pages), len(pages))
}

// readPage reads a page from its host and finds out what can be done with it. A page that cannot be edited is taken in
// locked, with the reason.
func (d *Desk) readPage(ctx context.Context, site int64, h *host.WebDAV, f host.File) (store.Page, error) {
	p := store.Page{SiteID: site, Path: f.Path, Address: link.AddressOf(f.Path), Size: f.Size, SeenAt: store.Now(), Title: f.Path}
	if f.Size > source.MaxBytes {
		p.Locked = fmt.Sprintf("The page has %d MB. Mendry edits pages of up to %d MB.", f.Size>>20, source.MaxBytes>>20)
		return p, nil
	}
	c, err := h.Read(ctx, f.Path)
	if err != nil {
		return p, err
	}
	return takeInPage(p, c), nil
}

// takeInPage fills a page's row from what its host has.
func takeInPage(p store.Page, c host.Content) store.Page {
	p.Bytes, p.Hash, p.ETag, p.Media, p.Size = c.Bytes, hash(c.Bytes), c.ETag, c.Media, int64(len(c.Bytes))
	if !page.IsMarkdown(p.Path) && !looksLikePage(c.Bytes) {
		p.Locked = "This is no HTML page, whatever its name says. It is shown as it is and kept as it is."
		p.Words = ""
		return p
	}
	parsed, err := page.ParseFile(p.Path, c.Bytes, c.Media)
	if err != nil {
		p.Locked = err.Error()
		return p
	}
	p.Title = page.Short(first(parsed.Facts.Title, p.Path), 200)
	p.Description, p.Encoding = parsed.Facts.Description, parsed.Doc.Encoding.Name
	p.Words, p.Hidden = wordsOf(parsed), parsed.Hidden()
	if day := parsed.Dated(p.Address); !day.IsZero() {
		p.Dated = &day
	}
	return p
}

func looksLikePage(b []byte) bool {
	if bytes.HasPrefix(b, []byte("\xff\xfe")) || bytes.HasPrefix(b, []byte("\xfe\xff")) {
		return true // UTF-16: refused with a reason of its own
	}
	head := strings.ToLower(string(b[:min(len(b), 4096)]))
	if strings.Contains(head, "\x00") {
		return false
	}
	for _, mark := range []string{"<!doctype html", "<html", "<head", "<body", "<title", "<p", "<h1", "<div"} {
		if strings.Contains(head, mark) {
			return true
		}
	}
	return false
}

// wordsOf are the words of a page that are searched.
func wordsOf(p *page.Page) string {
	var b strings.Builder
	for _, part := range p.All {
		switch {
		case part.Kind == page.Picture:
			b.WriteString(part.Attributes.Get("alt"))
		case part.Kind.HasWords() && (part.Parent == nil || !part.Parent.Kind.HasWords()):
			b.WriteString(part.Text)
		default:
			continue
		}
		b.WriteByte('\n')
	}
	return b.String()
}
