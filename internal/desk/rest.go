package desk

import (
	"context"
	"errors"
	"path"
	"slices"
	"strings"
	"time"

	"mendry/api"
	"mendry/internal/core/act"
	"mendry/internal/core/link"
	"mendry/internal/core/page"
	"mendry/internal/core/thread"
	"mendry/internal/store"
)

// rest answers what acts ask of outside the page.
type rest struct {
	ctx context.Context
	d   *Desk
	r   store.RequestRow
	dr  *draft
}

// Picture implements act.Rest. The new file gets a name of its own beside the old one, so that neither a cache nor
// another page shows the wrong one.
func (r *rest) Picture(attachment int64, src string) (act.File, error) {
	q := r.d.store.Queries
	a, err := q.Attachment(r.ctx, attachment)
	if err != nil || a.RequestID != r.r.ID {
		return act.File{}, missing(store.ErrNone, "picture with this request")
	}
	kind, to, _ := link.Of("http://site.example/", r.dr.row.Address, src)
	if kind != link.Inside {
		return act.File{}, refused("The picture on the page comes from another site; it can only be changed there.")
	}
	dir := strings.TrimPrefix(path.Dir(to), "/")
	f := act.File{Attachment: a.ID, Media: a.Media, Width: a.Width, Height: a.Height, Size: a.Size, Hash: a.Hash}
	known, err := q.PictureByHash(r.ctx, r.r.ID, f.Hash)
	switch {
	case err == nil:
		f.Path = known.Path
	case !errors.Is(err, store.ErrNone):
		return f, err
	default:
		if f.Path, err = r.d.freePath(r.ctx, r.r.SiteID, path.Join(dir, safeName(a))); err != nil {
			return f, err
		}
	}
	f.Src = path.Base(f.Path)
	if path.Dir(f.Path) != path.Clean(dir) && !(path.Dir(f.Path) == "." && dir == "") {
		f.Src = "/" + f.Path
	} else if i := strings.LastIndexByte(src, '/'); i >= 0 {
		f.Src = src[:i+1] + path.Base(f.Path)
	}
	return f, nil
}

// Wording implements act.Rest.
func (r *rest) Wording(d *thread.Draft, part *page.Part, version string) (*page.Page, *page.Part, error) {
	ws, err := r.d.wordings(r.ctx, r.d.store.Queries, r.dr.row, d, part)
	if err != nil {
		return nil, nil, err
	}
	i := slices.IndexFunc(ws, func(w wording) bool { return w.Version == version })
	if i < 0 {
		return nil, nil, stale("That wording is no longer known. The list was loaded again.")
	}
	return ws[i].page, ws[i].part, nil
}

// Style implements act.Rest.
func (r *rest) Style(d *thread.Draft, part *page.Part, class string) (string, error) {
	site, err := r.d.store.Site(r.ctx, r.r.SiteID)
	if err != nil {
		return "", err
	}
	styles := r.d.stylesOf(r.ctx, site, r.dr.row.Address, d.Page(), part)
	i := slices.IndexFunc(styles, func(s api.PartStyle) bool { return s.Class == class })
	if i < 0 {
		return "", refused("The site’s style sheets have no style “%s” for words.", class)
	}
	return styles[i].Say, nil
}

// pictureFile is the file that a picture becomes on the site; it is kept where it is new.
func (d *Desk) pictureFile(ctx context.Context, q store.Queries, dr *draft, f act.File) (store.PictureFile, error) {
	known, err := q.PictureByHash(ctx, dr.request, f.Hash)
	if !errors.Is(err, store.ErrNone) {
		return known, err
	}
	p := store.PictureFile{
		SiteID: dr.row.SiteID, RequestID: dr.request, Path: f.Path, Media: f.Media, Width: f.Width, Height: f.Height, Size: f.Size,
		Hash: f.Hash,
	}
	p.ID, err = q.AddPictureFile(ctx, p)
	return p, err
}

// freePath finds a name that no file of the site has.
func (d *Desk) freePath(ctx context.Context, site int64, want string) (string, error) {
	h, err := d.liveHost(ctx, site)
	if err != nil {
		return "", err
	}
	ctx, cancel := context.WithTimeout(ctx, 10*time.Second)
	defer cancel()
	ext := path.Ext(want)
	for n := 1; n < 100; n++ {
		p := want
		if n > 1 {
			p = strings.TrimSuffix(want, ext) + "-" + itoa(n) + ext
		}
		if _, err := d.store.PictureByPath(ctx, site, p); !errors.Is(err, store.ErrNone) {
			if err != nil {
				return "", err
			}
			continue
		}
		if _, err := h.Read(ctx, p); err == nil {
			continue
		}
		return p, nil // where the host cannot be asked, the conditional write will tell
	}
	return "", refused("There are too many pictures of the name %s. Give the file another name.", path.Base(want))
}

// publicPath is where a page's reference leads, as a path of its site.
func publicPath(address, ref string) string {
	_, to, _ := link.Of("http://site.example/", address, ref)
	return to
}
