package desk

import (
	"bytes"
	"cmp"
	"context"
	"fmt"
	"strings"
	"time"

	"mendry/api"
	"mendry/internal/core/link"
	"mendry/internal/core/page"
	"mendry/internal/host"
)

// TestSite tries the addresses and the password of a site and says in words what was found: whether the host answers,
// what is there, whether Mendry may write, what visitors get, and whether that is what is on the host.
func (d *Desk) TestSite(ctx context.Context, f api.SiteForm) api.SiteTest {
	ctx, cancel := context.WithTimeout(ctx, 25*time.Second)
	defer cancel()
	var t api.SiteTest
	tried := d.tryHost(ctx, f)
	t.Host = tried.Tried
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
	if tried.first == "" {
		return t
	}
	switch {
	case bytes.Equal(tried.bytes, v.Bytes):
		t.Public.Say += " It is the host’s " + tried.first + ", byte for byte."
	case page.IsMarkdown(tried.first) && page.BuiltOf(v.Bytes, tried.bytes):
		t.Public.Say += " It is built of the host’s " + tried.first + "."
	default:
		t.Public.Good = false
		t.Public.Say += fmt.Sprintf(
			" But that is not the host’s %s: a cache holds an older one, something alters pages on the way, or the host’s folder is another site’s. Compare the two addresses.",
			tried.first,
		)
	}
	return t
}

// hostTried is what was found of a host, and its first page.
type hostTried struct {
	api.Tried
	first string // its file; empty where there is none
	bytes []byte
}

// tryHost tries a host by what was entered.
func (d *Desk) tryHost(ctx context.Context, f api.SiteForm) hostTried {
	bad := func(err error) hostTried { return hostTried{Tried: api.Tried{Say: err.Error()}} }
	reach := reachOf(f)
	h, err := host.Open(d.Network, reach, 20*time.Second)
	if err != nil {
		return bad(err)
	}
	listed, err := h.List(ctx, nil)
	if err != nil {
		return bad(err)
	}
	pages := 0
	for _, file := range listed.Files {
		if isPage(file) {
			pages++
		}
	}
	others := len(listed.Files) - pages
	if pages == 0 {
		return bad(refused(
			"The host answers and accepts the password, but there is no page among its %d files. Point at the folder in which the pages are.",
			others,
		))
	}
	if reach.Kind == "hand" {
		return hostTried{Tried: api.Tried{Good: true, Say: fmt.Sprintf(
			"By its links and its map the site has %d pages. Mendry only reads them: what is published becomes a list for you to put in.", pages,
		)}}
	}
	k, err := h.Try(ctx)
	if err != nil {
		return bad(err)
	}
	t := hostTried{Tried: api.Tried{Say: fmt.Sprintf("The host answers and accepts the password. It has %d pages and %d other files.", pages, others)}}
	if !k.MayWrite {
		t.Say += " But Mendry may not write there: " + k.WhyNot
		return t
	}
	if k.Key != "" {
		t.Say += " It shows the key " + host.Fingerprint(k.Key) + "."
	}
	t.Good, t.Say = true, t.Say+" Mendry may write there."
	for _, file := range link.FilesOf("/") {
		if c, err := h.Read(ctx, file); err == nil {
			t.first, t.bytes = file, c.Bytes
			break
		}
	}
	return t
}

// visit reads the first page of a site as visitors get it.
func (d *Desk) visit(ctx context.Context, address string) (host.Visit, error) {
	u, err := host.Address(address)
	if err != nil {
		return host.Visit{}, err
	}
	return d.visits.Get(ctx, u.String())
}
