package desk

import (
	"bytes"
	"context"
	"errors"
	"slices"
	"sort"
	"strconv"
	"strings"
	"time"

	"golang.org/x/net/html"

	"mendry/internal/core/link"
	"mendry/internal/core/page"
	"mendry/internal/core/source"
	"mendry/internal/host"
	"mendry/internal/store"
)

type fileSeen struct {
	content host.Content
	at      time.Time
}

// keepFile is how long a file of a site is shown in previews without asking for it again; none larger than
// keepFileBytes is kept.
const (
	keepFile      = time.Minute
	keepFileBytes = 2 << 20
)

// View finds a view by the token in its address.
func (d *Desk) View(ctx context.Context, token string) (store.Preview, error) {
	p, err := d.store.Preview(ctx, hash([]byte(token)), d.now())
	return p, missing(err, "view")
}

// ViewFile gives the file at a public path in a view: pages as they are last known, as the draft has them, or as they
// were in the round that a client was shown; pictures that the draft brings; everything else as a visitor gets it.
// Nothing is fetched with the studio's password on a page's word.
func (d *Desk) ViewFile(ctx context.Context, v store.Preview, publicPath, query string) (host.Content, error) {
	var row store.Page
	var err error
	for _, file := range link.FilesOf(publicPath) {
		if row, err = d.store.PageByPath(ctx, v.SiteID, file); !errors.Is(err, store.ErrNone) {
			break
		}
	}
	switch {
	case errors.Is(err, store.ErrNone) || err == nil && row.Hash == "":
		return d.otherFile(ctx, v, publicPath, query)
	case err != nil:
		return host.Content{}, err
	}
	if v.RoundID != nil {
		if row.Hash, err = d.roundHash(ctx, v, row); err != nil {
			return host.Content{}, err
		}
	}
	if earlier, ok := d.versionIn(ctx, v, row, query); ok {
		row.Hash, row.Media, v.View, v.Marked = earlier.Hash, earlier.Media, "live", false
	}
	if row.Locked != "" {
		b, err := d.store.Bytes(ctx, row.Hash)
		return host.Content{Bytes: b, Media: row.Media}, err
	}
	parsed, err := d.shown(ctx, v, row)
	if err != nil {
		return host.Content{}, err
	}
	if parsed.Doc.Format == source.Markdown {
		return d.built(ctx, row, parsed, v.Marked)
	}
	c := host.Content{Bytes: parsed.Doc.Bytes, Media: row.Media}
	if v.Marked {
		c.Bytes = mark(parsed)
	}
	return c, nil
}

// versionIn is the earlier version of a page that a query asks a view of a draft for.
func (d *Desk) versionIn(ctx context.Context, v store.Preview, row store.Page, query string) (earlier store.PageVersion, ok bool) {
	asked, ok := strings.CutPrefix(query, "mendry-version=")
	id, err := strconv.ParseInt(asked, 10, 64)
	if !ok || err != nil || v.View != "draft" || v.RoundID != nil {
		return earlier, false
	}
	earlier, err = d.store.PageVersion(ctx, id)
	return earlier, err == nil && earlier.PageID == row.ID
}

// shown is the page that a view shows: as it is live, or the draft of its request.
func (d *Desk) shown(ctx context.Context, v store.Preview, row store.Page) (*page.Page, error) {
	done, err := d.turn(ctx)
	if err != nil {
		return nil, err
	}
	defer done()
	if v.View != "draft" || v.RequestID == nil || v.RoundID != nil {
		return d.parse(ctx, row)
	}
	dr, err := d.draftOn(ctx, d.store.Queries, *v.RequestID, row, d.stages)
	if err != nil {
		return nil, err
	}
	return dr.Page(), nil
}

// roundHash is the hash of a page as it was in the round of a view: before or after; what the round does not have is
// as it is last known.
func (d *Desk) roundHash(ctx context.Context, v store.Preview, row store.Page) (string, error) {
	shown, err := d.store.RoundPages(ctx, *v.RoundID)
	for _, p := range shown {
		if p.PageID != row.ID {
			continue
		}
		if v.View == "draft" {
			return p.AfterHash, nil
		}
		return p.BeforeHash, nil
	}
	return row.Hash, err
}

// otherFile gives what is no page that Mendry knows.
func (d *Desk) otherFile(ctx context.Context, v store.Preview, publicPath, query string) (host.Content, error) {
	if v.View == "draft" {
		f, err := d.store.PictureByPath(ctx, v.SiteID, link.FileOf(publicPath))
		if err == nil {
			b, err := d.store.Bytes(ctx, f.Hash)
			return host.Content{Bytes: b, Media: f.Media}, err
		}
		if !errors.Is(err, store.ErrNone) {
			return host.Content{}, err
		}
		if v.RequestID != nil {
			f, err := d.store.DraftFile(ctx, *v.RequestID, link.FileOf(publicPath))
			if err == nil {
				b, err := d.store.Bytes(ctx, f.Hash)
				return host.Content{Bytes: b, Media: f.Media}, err
			}
			if !errors.Is(err, store.ErrNone) {
				return host.Content{}, err
			}
		}
	}
	return d.publicFile(ctx, v.SiteID, publicPath, query)
}

// publicFile gives a file of a site as a visitor gets it, without credentials. Names that begin with a dot are asked
// of nobody: what they hold (passwords, settings, the history of a repository) is on no page.
func (d *Desk) publicFile(ctx context.Context, site int64, publicPath, query string) (host.Content, error) {
	for _, name := range strings.Split(publicPath, "/") {
		if strings.HasPrefix(name, ".") && name != ".well-known" {
			return host.Content{}, missing(store.ErrNone, "file")
		}
	}
	key := itoa(int(site)) + " " + publicPath + "?" + query
	if seen, ok := d.files.Get(key); ok && d.now().Sub(seen.at) < keepFile {
		return seen.content, nil
	}
	s, err := d.store.Site(ctx, site)
	if err != nil {
		return host.Content{}, err
	}
	to, err := link.Public(s.PublicURL, publicPath, query)
	if err != nil {
		return host.Content{}, missing(store.ErrNone, "file")
	}
	v, err := d.visits.Get(ctx, to)
	if err == nil && len(v.Bytes) <= keepFileBytes {
		d.files.Add(key, fileSeen{v.Content, d.now()})
	}
	return v.Content, err
}

// benchScript is the script by which the bench points at parts, and the hash of the draft by which these have their
// IDs.
func benchScript(draft string) string {
	return `<script src="/.mendry/bench.js" data-draft="` + draft + `"></script>`
}

// mark gives every part's start tag its ID and adds the script by which the bench points at parts; words among blocks
// get an element of their own for it. The bytes that are published never carry any of this.
func mark(p *page.Page) []byte {
	type spot struct {
		at   int
		text string
	}
	var spots []spot
	for _, part := range p.All {
		switch {
		case part.Background && part.Node.Placed:
			spots = append(spots, spot{part.Node.Start() + 1 + len(part.Node.Tag()), ` data-mendry-behind="` + part.ID + `"`})
		case part.Background || !part.Placed():
		case part.Run == nil:
			spots = append(spots, spot{part.Start + 1 + len(part.Node.Tag()), ` data-mendry="` + part.ID + `"`})
		case part.Kind == page.Words:
			spots = append(spots, spot{part.Start, `<span data-mendry="` + part.ID + `">`}, spot{part.End, "</span>"})
		}
	}
	for _, n := range p.Doc.Nodes {
		if n.Placed && captioned(p, n) {
			spots = append(spots, spot{n.Start() + 1 + len(n.Tag()), " crossorigin"})
		}
	}
	sort.SliceStable(spots, func(i, j int) bool { return spots[i].at < spots[j].at })
	var b bytes.Buffer
	from := 0
	for _, s := range spots {
		b.Write(p.Doc.Bytes[from:s.at])
		b.WriteString(s.text)
		from = s.at
	}
	b.Write(p.Doc.Bytes[from:])
	return scripted(b.Bytes(), p.Doc.Hash())
}

// captioned reports whether a node is a film or sound of the site with captions. A preview stands in an opaque origin,
// to which its own site is another one: captions of another origin are loaded where the page asks for them with CORS
// (HTML, 4.8.11.11).
func captioned(p *page.Page, n *source.Node) bool {
	if !n.Is("video", "audio") || link.Origin(p.Doc.Value(n, "src")) != "" {
		return false
	}
	if _, has := p.Doc.Attribute(n, "crossorigin"); has {
		return false
	}
	captions := false
	for _, k := range n.Kids {
		if k.Is("source") && link.Origin(p.Doc.Value(k, "src")) != "" {
			return false
		}
		captions = captions || k.Is("track")
	}
	return captions
}

// scripted adds the script by which the bench points at parts, before everything that a page shows: what is clicked
// before the rest has come is not lost, and follows no link.
func scripted(b []byte, draft string) []byte {
	at := 0
	z := html.NewTokenizer(bytes.NewReader(b))
	for {
		kind := z.Next()
		raw := z.Raw()
		name, _ := z.TagName()
		switch {
		case kind == html.DoctypeToken, kind == html.CommentToken,
			kind == html.TextToken && len(bytes.TrimSpace(raw)) == 0,
			kind == html.StartTagToken && string(name) == "html":
			at += len(raw)
			continue
		case kind == html.StartTagToken && string(name) == "head":
			at += len(raw)
		}
		return slices.Concat(b[:at], []byte(benchScript(draft)), b[at:])
	}
}
