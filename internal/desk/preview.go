package desk

import (
	"bytes"
	"context"
	"errors"
	"sort"
	"time"

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

// keepFile is how long a file of a host is shown in previews without asking the host again; none larger than
// keepFileBytes is kept.
const (
	keepFile      = time.Minute
	keepFileBytes = 2 << 20
)

// View finds a view by the token in its address.
func (d *Desk) View(ctx context.Context, token string) (store.Preview, error) {
	p, err := d.store.Preview(ctx, hash([]byte(token)), store.Now())
	return p, missing(err, "view")
}

// ViewFile gives the file at a public path in a view: pages as they are last known or as the draft has them, pictures
// that the draft brings, everything else as the host has it.
func (d *Desk) ViewFile(ctx context.Context, v store.Preview, publicPath string) (host.Content, error) {
	var row store.Page
	var err error
	for _, file := range link.FilesOf(publicPath) {
		if row, err = d.store.PageByPath(ctx, v.SiteID, file); !errors.Is(err, store.ErrNone) {
			break
		}
	}
	switch {
	case errors.Is(err, store.ErrNone) || err == nil && row.Bytes == nil:
		return d.otherFile(ctx, v, link.FileOf(publicPath))
	case err != nil:
		return host.Content{}, err
	}
	c := host.Content{Bytes: row.Bytes, Media: row.Media}
	if row.Locked != "" {
		return c, nil
	}
	parsed, err := d.parse(row)
	if err != nil {
		return c, err
	}
	if v.View == "draft" && v.RequestID != nil {
		dr, err := d.draftOf(ctx, d.store.Queries, *v.RequestID, row.ID)
		if err != nil {
			return c, err
		}
		parsed = dr.Page()
		c.Bytes = parsed.Doc.Bytes
	}
	if parsed.Doc.Format == source.Markdown {
		return d.built(ctx, row, parsed, v.Marked)
	}
	if v.Marked {
		c.Bytes = mark(parsed)
	}
	return c, nil
}

func (d *Desk) otherFile(ctx context.Context, v store.Preview, file string) (host.Content, error) {
	if v.View == "draft" {
		f, err := d.store.PictureByPath(ctx, v.SiteID, file)
		if err == nil {
			return host.Content{Bytes: f.Bytes, Media: f.Media}, nil
		}
		if !errors.Is(err, store.ErrNone) {
			return host.Content{}, err
		}
	}
	key := itoa(int(v.SiteID)) + " " + file
	if seen, ok := d.files.Get(key); ok && time.Since(seen.at) < keepFile {
		return seen.content, nil
	}
	s, err := d.store.Site(ctx, v.SiteID)
	if err != nil {
		return host.Content{}, err
	}
	h, err := d.hostOf(s)
	if err != nil {
		return host.Content{}, err
	}
	c, err := h.Read(ctx, file)
	if err == nil && len(c.Bytes) <= keepFileBytes {
		d.files.Add(key, fileSeen{c, time.Now()})
	}
	return c, err
}

const benchScript = `<script src="/.mendry/bench.js"></script>`

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
		case part.Background || !part.Placed():
		case part.Run == nil:
			spots = append(spots, spot{part.Start + 1 + len(part.Node.Tag()), ` data-mendry="` + part.ID + `"`})
		case part.Kind == page.Words:
			spots = append(spots, spot{part.Start, `<span data-mendry="` + part.ID + `">`}, spot{part.End, "</span>"})
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
	b.WriteString(benchScript)
	return b.Bytes()
}
