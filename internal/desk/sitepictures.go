package desk

import (
	"cmp"
	"context"
	"fmt"
	"path"
	"slices"
	"strconv"
	"strings"
	"sync"
	"time"

	"golang.org/x/sync/errgroup"

	"mendry/api"
	kinds "mendry/internal/core/file"
	"mendry/internal/core/link"
	"mendry/internal/core/page"
	"mendry/internal/core/picture"
	"mendry/internal/store"
)

// LookAtPictures asks for a look at all pictures of a site, which is a job.
func (d *Desk) LookAtPictures(ctx context.Context, site int64) error {
	if _, err := d.store.Site(ctx, site); err != nil {
		return missing(err, "site")
	}
	err := d.store.Tx(ctx, func(q store.Queries) error {
		if err := q.SayPictures(ctx, site, "Waiting for a free hand"); err != nil {
			return err
		}
		return askForPictures(ctx, q, site, d.now())
	})
	d.jobs.Wake()
	return err
}

// picturesAfter is how long a look at pictures waits after a site was taken in: what people wait for comes first.
const picturesAfter = 2 * time.Second

func askForPictures(ctx context.Context, q store.Queries, site int64, at time.Time) error {
	return q.AskJob(ctx, "pictures", strconv.FormatInt(site, 10), "pictures", at) // one lane: releases need hands, too
}

// lookAtPictures does the job of looking at a site's pictures: which there are, who names them, and small ones to be
// looked at.
func (d *Desk) lookAtPictures(ctx context.Context, about string) (again time.Time, err error) {
	id, err := strconv.ParseInt(about, 10, 64)
	if err != nil {
		return again, nil
	}
	site, err := d.store.Site(ctx, id)
	if err != nil {
		return again, nil // it was taken away meanwhile
	}
	l := &pictureLook{d: d, site: site, files: map[string]int64{}}
	if err := l.uses(ctx); err != nil {
		return again, err
	}
	l.listed(ctx)
	pictures, err := l.all(ctx)
	if err != nil {
		return again, err
	}
	files := 0
	for _, p := range pictures {
		if kindOf(p) != "" {
			files++
		}
	}
	say := fmt.Sprintf("%d pictures and %d files, named in %d places", len(pictures)-files, files, len(l.named))
	return again, d.store.Tx(ctx, func(q store.Queries) error {
		return q.SetSitePictures(ctx, id, pictures, l.named, say, d.now())
	})
}

// pictureLook is a look at the pictures of one site.
type pictureLook struct {
	d     *Desk
	site  store.Site
	files map[string]int64 // paths of pictures, with their weight where the host told it
	named []store.PictureUse

	lies     map[string]bool // on the host
	complete bool            // all that lies there is known

	mu   sync.Mutex
	told time.Time
}

func (l *pictureLook) tell(ctx context.Context, say string) {
	l.mu.Lock()
	defer l.mu.Unlock()
	if now := time.Now(); now.Sub(l.told) > tellEvery {
		l.told = now
		_ = l.d.store.SayPictures(ctx, l.site.ID, say) // progress only
	}
}

// uses finds where pages and their style sheets name pictures.
func (l *pictureLook) uses(ctx context.Context) error {
	rows, err := l.d.store.PageRows(ctx, l.site.ID)
	if err != nil {
		return err
	}
	sheets := map[string]bool{}
	for i, r := range rows {
		if r.Locked != "" {
			continue
		}
		l.tell(ctx, fmt.Sprintf("Reading page %d of %d", i+1, len(rows)))
		row, err := l.d.store.Page(ctx, r.ID)
		if err != nil {
			return err
		}
		p, err := l.d.parse(ctx, row)
		if err != nil {
			continue // it is locked by now
		}
		for _, u := range p.Uses(l.site.PublicURL, r.Address) {
			l.files[u.File] = 0
			l.named = append(l.named, store.PictureUse{
				File: u.File, PageID: &row.ID, SrcHash: hash([]byte(u.Src)), Address: r.Address, Part: page.Short(u.Part, 250),
				Alt: u.Alt, Says: u.Says,
			})
		}
		for _, n := range p.Doc.Nodes {
			if !n.Is("link") || !strings.Contains(strings.ToLower(p.Doc.Value(n, "rel")), "stylesheet") {
				continue
			}
			if kind, to, _ := link.Of(l.site.PublicURL, r.Address, p.Doc.Value(n, "href")); kind == link.Inside {
				sheets[to] = true
			}
		}
	}
	for sheet := range sheets {
		c, err := l.d.publicFile(ctx, l.site.ID, sheet, "")
		if err != nil {
			continue // visitors do not get it either
		}
		for _, file := range page.UsesIn(c.Bytes, l.site.PublicURL, sheet) {
			l.files[file] = 0
			l.named = append(l.named, store.PictureUse{File: file, Address: sheet, Says: true})
		}
	}
	return nil
}

// listed adds the pictures that lie on the host, where it can be asked.
func (l *pictureLook) listed(ctx context.Context) {
	h, err := l.d.liveHost(ctx, l.site.ID)
	if err != nil {
		return
	}
	all, err := h.List(ctx, func(n int) { l.tell(ctx, fmt.Sprintf("Listing the files: %d so far", n)) })
	if err != nil {
		return // what pages name is told in any case
	}
	l.complete, l.lies = len(all.Left) == 0, map[string]bool{}
	for _, f := range all.Files {
		l.lies[f.Path] = true
		if f.Odd == "" && page.IsFile(f.Path) {
			l.files[f.Path] = f.Size
		}
	}
}

// all looks at each picture as visitors get it.
func (l *pictureLook) all(ctx context.Context) ([]store.SitePicture, error) {
	paths := make([]string, 0, len(l.files))
	for file := range l.files {
		paths = append(paths, file)
	}
	slices.Sort(paths)
	out := make([]store.SitePicture, len(paths))
	g, ctx := errgroup.WithContext(ctx)
	g.SetLimit(picturesAtOnce)
	done := 0
	for i, file := range paths {
		g.Go(func() error {
			out[i] = l.one(ctx, file)
			l.mu.Lock()
			done++
			n := done
			l.mu.Unlock()
			l.tell(ctx, fmt.Sprintf("Looking at picture %d of %d", n, len(paths)))
			return ctx.Err()
		})
	}
	return out, g.Wait()
}

func (l *pictureLook) one(ctx context.Context, file string) store.SitePicture {
	p := store.SitePicture{Path: file, Folder: strings.TrimPrefix(path.Dir("/"+file), "/"), Size: l.files[file]}
	if media, _ := kinds.Named(file); media != "" {
		p.Media = media // what it holds is looked at where it is put on a page
		if l.complete && !l.lies[file] {
			p.Said = "A page names it, and it does not stand on the host."
		}
		return p
	}
	o, err := l.d.siteOriginal(ctx, l.site.ID, file)
	if err != nil {
		p.Said = err.Error()
		return p
	}
	b, _ := o.bytes() // they were read to be known
	p.Hash, p.Size = o.hash, int64(len(b))
	i, err := picture.Look(b)
	if err != nil {
		p.Said = err.Error()
		return p
	}
	p.Media, p.Width, p.Height = i.Media, i.Width, i.Height
	if _, err := l.d.small(ctx, o, smallSize); err != nil {
		p.Said = err.Error()
	}
	return p
}

// smallSize is how large small pictures are that are made for lists, in pixels.
const smallSize = 320

// SitePictures shows the pictures of a site.
func (d *Desk) SitePictures(ctx context.Context, id int64) (api.SitePictures, error) {
	v := api.SitePictures{Pictures: []api.SitePicture{}, Away: []api.TakenAway{}}
	site, err := d.store.Site(ctx, id)
	if err != nil {
		return v, missing(err, "site")
	}
	v.SiteName, v.Initials, v.Colour, v.Said, v.LookedAt = site.Name, site.Initials, site.Colour, site.PicturesSaid, site.PicturesAt
	ps, err := d.store.SitePictures(ctx, id)
	if err != nil {
		return v, err
	}
	uses, err := d.store.PictureUses(ctx, id)
	if err != nil {
		return v, err
	}
	of, same := map[string][]store.PictureUse{}, map[string][]string{}
	for _, u := range uses {
		of[u.File] = append(of[u.File], u)
	}
	for _, p := range ps {
		if p.Hash != "" {
			same[p.Hash] = append(same[p.Hash], p.Path)
		}
	}
	if v.Away, err = d.takenAway(ctx, id); err != nil {
		return v, err
	}
	for _, p := range ps {
		v.Pictures = append(v.Pictures, sitePictureView(p, of[p.Path], same[p.Hash]))
	}
	return v, nil
}

func sitePictureView(p store.SitePicture, uses []store.PictureUse, same []string) api.SitePicture {
	v := api.SitePicture{
		Path: p.Path, Folder: p.Folder, Media: p.Media, Kind: kindOf(p), Width: p.Width, Height: p.Height, Size: p.Size, Said: p.Said, Findings: []string{},
		Uses: []api.PictureUse{}, Twice: []string{},
	}
	s := picture.Standing{
		Info: picture.Info{Media: p.Media, Width: p.Width, Height: p.Height, Size: int(p.Size)},
		Uses: len(uses),
	}
	for _, u := range uses {
		if !u.Says {
			s.Silent++
		}
		s.ShownAt = max(s.ShownAt, u.ShownAt)
		v.Uses = append(
			v.Uses,
			api.PictureUse{
				PageID:  u.PageID,
				Address: u.Address,
				Part:    u.Part,
				Alt:     u.Alt,
				Says:    u.Says,
				Shown:   u.ShownAt,
			},
		)
		v.Alt = cmp.Or(v.Alt, u.Alt)
	}
	for _, other := range same {
		if other != p.Path {
			v.Twice = append(v.Twice, other)
		}
	}
	s.Twice, v.Shown = len(v.Twice), s.ShownAt
	for _, f := range s.Says() {
		v.Findings = append(v.Findings, string(f))
	}
	return v
}

// kindOf is what visitors call a file to download; empty for a picture.
func kindOf(p store.SitePicture) string {
	_, kind := kinds.Named(p.Path)
	return kind
}

// SmallOfSite is a picture of a site made small, to be looked at. One that is made already is not fetched again.
func (d *Desk) SmallOfSite(ctx context.Context, site int64, file string, size int) (string, []byte, error) {
	if known, err := d.store.SitePictureByPath(ctx, site, file); err == nil && known.Hash != "" {
		o := original{name: path.Base(file), path: file, hash: known.Hash, bytes: func() ([]byte, error) {
			now, err := d.siteOriginal(ctx, site, file)
			if err != nil {
				return nil, err
			}
			if now.hash != known.Hash {
				return nil, stale(
					"The picture %s is another one by now. Look at the site's pictures again.",
					path.Base(file),
				)
			}
			return now.bytes()
		}}
		return d.smallBytes(ctx, o, size)
	}
	o, err := d.siteOriginal(ctx, site, file)
	if err != nil {
		return "", nil, err
	}
	return d.smallBytes(ctx, o, size)
}

func (d *Desk) smallBytes(ctx context.Context, o original, size int) (string, []byte, error) {
	m, err := d.small(ctx, o, size)
	if err != nil {
		return "", nil, err
	}
	b, err := d.store.Bytes(ctx, m.Hash)
	return m.Media, b, err
}

// firstPictures are shown of each site where all sites are listed.
const firstPictures = 6

// AllPictures lists every site with what is known of its pictures.
func (d *Desk) AllPictures(ctx context.Context) ([]api.PicturesOfSite, error) {
	out := []api.PicturesOfSite{}
	all, err := d.store.AllPictures(ctx)
	if err != nil {
		return out, err
	}
	first, err := d.store.FirstPictures(ctx, firstPictures)
	if err != nil {
		return out, err
	}
	paths := map[int64][]string{}
	for _, p := range first {
		paths[p.SiteID] = append(paths[p.SiteID], p.Path)
	}
	for _, s := range all {
		v := api.PicturesOfSite{
			SiteID: s.SiteID, Name: s.Name, Initials: s.Initials, Colour: s.Colour, Said: s.Said, LookedAt: s.At, Pictures: s.Pictures, Size: s.Size,
			Unnamed: s.Unnamed, First: []string{},
		}
		v.First = append(v.First, paths[s.SiteID]...)
		out = append(out, v)
	}
	return out, nil
}
