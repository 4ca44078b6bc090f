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
	"mendry/internal/core/check"
	"mendry/internal/core/file"
	"mendry/internal/core/link"
	"mendry/internal/core/page"
	"mendry/internal/host"
	"mendry/internal/store"
)

// Download implements act.Rest.
func (r *rest) Download(attachment int64, href string, keep bool, instead int64) (act.Brought, error) {
	a, err := r.d.store.Attachment(r.ctx, attachment)
	if err != nil || a.RequestID != r.r.ID {
		return act.Brought{}, missing(store.ErrNone, "file with this request")
	}
	b, err := r.d.store.Bytes(r.ctx, a.Hash)
	if err != nil {
		return act.Brought{}, err
	}
	f := act.Brought{Name: a.Name, Hash: a.Hash}
	if f.Info, err = file.Look(b); err != nil {
		return f, err
	}
	kind, to, _ := link.Of(r.site.PublicURL, r.dr.row.Address, href)
	if keep {
		if kind != link.Inside {
			return f, refused("“%s” leads out of the site; what stands there cannot be replaced.", href)
		}
		f.Path, f.Src = link.FileOf(to), href
		return f, r.replaces(&f, instead)
	}
	if href == "" || kind != link.Inside {
		if href, err = r.habit(f.Ext); err != nil {
			return f, err
		}
		to = href
	}
	dir := strings.TrimPrefix(path.Dir(to), "/")
	none := func(string) bool { return false }
	want := path.Join(dir, safeName(a.Name, f.Ext))
	if f.Path, err = r.d.freePath(r.ctx, r.r.SiteID, want, instead, none); err != nil {
		return f, err
	}
	f.Src = sourceOf(f.Path, dir, href)
	return f, nil
}

// replaces looks at what a file takes the place of. The error is a refusal where it cannot.
func (r *rest) replaces(f *act.Brought, instead int64) error {
	if ext := path.Ext(f.Path); !strings.EqualFold(ext, f.Ext) {
		return refused(
			"The address ends in “%s”, and this is a file of the kind %s. Let the link lead to the new file instead.",
			ext,
			f.Kind,
		)
	}
	others, err := r.d.store.BringFile(r.ctx, r.r.SiteID, f.Path)
	if err != nil {
		return err
	}
	for _, o := range others {
		switch {
		case o.ChangeID == instead:
		case o.RequestID != r.r.ID:
			return refused(
				"Request %d brings another file to this address, and is not live yet. Settle that one first.",
				o.RequestID,
			)
		default:
			return refused("This request brings a file to this address already. Change it there, or undo it.")
		}
	}
	c, err := r.d.hostFile(r.ctx, r.r.SiteID, f.Path)
	switch {
	case host.Is(err, host.Gone):
		return refused("There is no file under this address on the host. Let the link lead to the new file instead.")
	case err != nil:
		return err
	case len(c.Bytes) > file.MaxBytes:
		return refused(
			"The file that stands there is too heavy to be kept for an undo. Let the link lead to the new file instead.",
		)
	}
	if f.Was, err = file.Look(c.Bytes); err != nil { // whatever it is, it can be put back
		kind, _ := file.IsAddress(f.Path)
		f.Was = file.Info{Media: c.Media, Kind: kind, Size: int64(len(c.Bytes))}
	}
	if f.WasHash, err = r.d.store.KeepBytes(r.ctx, c.Bytes); err != nil {
		return err
	}
	if f.WasHash == f.Hash {
		return refused("This very file stands there already, byte for byte.")
	}
	return nil
}

// formats are the formats of pictures by how the names of their files end.
var formats = map[string]string{".jpg": "jpeg", ".jpeg": "jpeg", ".png": "png", ".webp": "webp"}

// Replaced implements act.Rest.
func (r *rest) Replaced(p act.Pick, src string, instead int64) (act.Brought, error) {
	kind, to, _ := link.Of(r.site.PublicURL, r.dr.row.Address, src)
	if kind != link.Inside {
		return act.Brought{}, refused("The picture on the page comes from another site; it can only be changed there.")
	}
	f := act.Brought{Path: link.FileOf(to), Src: src}
	o, err := r.d.original(r.ctx, r.r, p)
	if err != nil {
		return f, err
	}
	ext := strings.ToLower(path.Ext(f.Path))
	if p.Work.Format = formats[ext]; p.Work.Format == "" && strings.ToLower(path.Ext(o.name)) != ext {
		return f, refused(
			"The address ends in “%s”, and this picture is of another kind. Replace it on this page instead.",
			ext,
		)
	}
	m, err := r.d.made(r.ctx, o, p.Work, r.trying)
	if err != nil {
		return f, err
	}
	f.Name, f.Hash = o.name, m.Hash
	f.Info = file.Info{Media: m.Media, Kind: "picture", Ext: path.Ext(f.Path), Size: m.Size}
	if r.trying {
		f.WasHash = m.Hash // what stands there is read when it is taken
		return f, nil
	}
	err = r.replaces(&f, instead)
	if f.Was.Kind == "" {
		f.Was.Kind = f.Kind
	}
	return f, err
}

// hostFile reads a file of a site from its host, for at most ten seconds.
func (d *Desk) hostFile(ctx context.Context, site int64, file string) (host.Content, error) {
	h, err := d.liveHost(ctx, site)
	if err != nil {
		return host.Content{}, err
	}
	ctx, cancel := context.WithTimeout(ctx, 10*time.Second)
	defer cancel()
	return h.Read(ctx, file)
}

// mostNaming is how many pages are looked through for links to a file.
const mostNaming = 200

// habit is the address of a file to download of the site, beside which new ones go: of the same kind where there is
// one.
func (r *rest) habit(ext string) (string, error) {
	for _, end := range []string{ext, ".pdf"} {
		rows, err := r.d.store.PagesNaming(r.ctx, r.r.SiteID, end, 3)
		if err != nil {
			return "", err
		}
		for _, row := range rows {
			links, err := r.d.downloadLinks(r.ctx, r.site, row, "")
			if err != nil {
				return "", err
			}
			if len(links) > 0 {
				return links[0].path, nil
			}
		}
	}
	return "/files/", nil
}

// downloadLink is a link to a file to download.
type downloadLink struct {
	page store.Page
	part *page.Part
	path string // public
}

// downloadLinks are the links of a live page that lead to files to download, or to the one at a public path.
func (d *Desk) downloadLinks(
	ctx context.Context,
	site store.Site,
	row store.Page,
	only string,
) (ls []downloadLink, err error) {
	p, err := d.parse(ctx, row)
	if err != nil {
		return nil, err
	}
	for _, part := range p.All {
		if !part.IsLink() {
			continue
		}
		href := part.Attributes.Get("href")
		kind, to, _ := link.Of(site.PublicURL, row.Address, href)
		if _, is := file.IsAddress(to); kind == link.Inside && is && (only == "" || to == only) {
			ls = append(ls, downloadLink{row, part, to})
		}
	}
	return ls, nil
}

// linksTo lists the links of a site's live pages to a file.
func (d *Desk) linksTo(ctx context.Context, site store.Site, publicPath string) (ls []downloadLink, err error) {
	rows, err := d.store.PagesNaming(ctx, site.ID, path.Base(publicPath), mostNaming)
	if err != nil {
		return nil, err
	}
	for _, row := range rows {
		own, err := d.downloadLinks(ctx, site, row, publicPath)
		if err != nil {
			return nil, err
		}
		ls = append(ls, own...)
	}
	return ls, nil
}

// File implements check.Files.
func (s *siteOf) File(publicPath string) (file.Info, bool) {
	c, err := s.seen(publicPath)
	if err != nil {
		return file.Info{}, false
	}
	i, err := file.Look(c.Bytes)
	return i, err == nil
}

// Brings implements check.Files.
func (s *siteOf) Brings(publicPath string) bool {
	if s.draft == 0 {
		return false
	}
	_, err := s.d.store.DraftFile(s.ctx, s.draft, link.FileOf(publicPath))
	if err != nil && !errors.Is(err, store.ErrNone) {
		s.err = err
	}
	return err == nil
}

// LinkedFrom implements check.Files.
func (s *siteOf) LinkedFrom(publicPath string) (ls []check.FileLink) {
	all, err := s.d.linksTo(s.ctx, s.site, publicPath)
	if err != nil {
		s.err = err
	}
	for _, l := range all {
		if l.page.ID != s.of {
			ls = append(ls, check.FileLink{Address: l.page.Address, Words: l.part.Text})
		}
	}
	return ls
}

// FilesAt tells of the files that a part of a draft leads to, itself or by links in it.
func (d *Desk) FilesAt(ctx context.Context, number, pageID int64, id string) ([]api.LinkedFile, error) {
	out := []api.LinkedFile{}
	dr, site, err := d.draftAndSite(ctx, number, pageID)
	if err != nil {
		return out, err
	}
	part, err := dr.part(id)
	if err != nil {
		return out, err
	}
	asks := &siteOf{ctx: ctx, d: d, site: site, of: pageID, draft: number}
	for _, l := range append([]*page.Part{part}, part.Parts...) {
		kind, to, _ := link.Of(site.PublicURL, dr.row.Address, l.Attributes.Get("href"))
		kindOf, is := file.IsAddress(to)
		if !l.IsLink() || kind != link.Inside || !is {
			continue
		}
		v := api.LinkedFile{
			Part:  l.ID,
			Words: l.Text,
			Path:  to,
			Name:  path.Base(to),
			Kind:  kindOf,
			Links: []api.FileLink{},
		}
		if i, ok := asks.File(to); ok {
			v.Kind, v.Size = i.Kind, i.Size
		}
		all, err := d.linksTo(ctx, site, to)
		if err != nil {
			return out, err
		}
		for _, from := range all {
			v.Links = append(
				v.Links,
				api.FileLink{PageID: from.page.ID, Address: from.page.Address, Words: from.part.Text},
			)
		}
		out = append(out, v)
	}
	return out, nil
}

// ChangedFile is a file that a change brings, or what stood in its place: its name and bytes.
func (d *Desk) ChangedFile(ctx context.Context, number, change int64, n int, before bool) (string, []byte, error) {
	c, err := d.store.Change(ctx, change)
	if err != nil || c.RequestID != number {
		return "", nil, missing(store.ErrNone, "file")
	}
	fs, err := d.store.ChangeFiles(ctx, change)
	if err != nil {
		return "", nil, err
	}
	if n < 0 || n >= len(fs) || before && fs[n].WasHash == "" {
		return "", nil, missing(store.ErrNone, "file")
	}
	name, hash := path.Base(fs[n].Path), fs[n].Hash
	if before {
		name, hash = "before-"+name, fs[n].WasHash
	}
	b, err := d.store.Bytes(ctx, hash)
	return name, b, err
}

// ClientFile is ChangedFile by the link that a client has, for what they were shown.
func (d *Desk) ClientFile(ctx context.Context, t string, change int64, n int, before bool) (string, []byte, error) {
	r, err := d.roundOf(ctx, d.store.Queries, t)
	if err != nil {
		return "", nil, err
	}
	shown, err := d.store.RoundChanges(ctx, r.ID)
	if err != nil {
		return "", nil, err
	}
	if !slices.ContainsFunc(shown, func(c store.RoundChange) bool { return c.ChangeID == change }) {
		return "", nil, missing(store.ErrNone, "file")
	}
	return d.ChangedFile(ctx, r.RequestID, change, n, before)
}

// fileViews are the files that a change brings, as they are shown.
func fileViews(fs []store.ChangeFile) *[]api.ChangeFile {
	if len(fs) == 0 {
		return nil
	}
	out := []api.ChangeFile{}
	for _, f := range fs {
		v := api.ChangeFile{N: f.N, Name: path.Base(f.Path), Path: "/" + f.Path, Kind: f.Kind, Size: f.Size}
		if f.WasHash != "" {
			v.WasKind, v.WasSize = &f.WasKind, &f.WasSize
		}
		out = append(out, v)
	}
	return &out
}

func changeFiles(site int64, fs []act.Brought) (rows []store.ChangeFile) {
	for _, f := range fs {
		rows = append(rows, store.ChangeFile{
			SiteID: site, Name: f.Name, Path: f.Path, Media: f.Media, Kind: f.Kind, Size: f.Size, Hash: f.Hash, WasMedia: f.Was.Media,
			WasKind: f.Was.Kind, WasSize: f.Was.Size, WasHash: f.WasHash,
		})
	}
	return rows
}

func broughtFiles(rows []store.ChangeFile) (fs []act.Brought) {
	for _, r := range rows {
		fs = append(fs, act.Brought{
			Name: r.Name, Path: r.Path, Hash: r.Hash, Info: infoOf(r.Media, r.Kind, r.Path, r.Size),
			Was: infoOf(r.WasMedia, r.WasKind, r.Path, r.WasSize), WasHash: r.WasHash,
		})
	}
	return fs
}

func infoOf(media, kind, at string, size int64) file.Info {
	return file.Info{Media: media, Kind: kind, Ext: path.Ext(at), Size: size}
}
