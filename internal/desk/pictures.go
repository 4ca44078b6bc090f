package desk

import (
	"cmp"
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"path"
	"slices"
	"strings"
	"time"

	"mendry/api"
	"mendry/internal/core/act"
	"mendry/internal/core/check"
	"mendry/internal/core/link"
	"mendry/internal/core/page"
	"mendry/internal/core/picture"
	"mendry/internal/core/source"
	"mendry/internal/store"
)

// original is a picture that is chosen, as it came.
type original struct {
	name  string
	path  string // its file on the site; empty where it came with the request
	hash  string
	bytes func() ([]byte, error)
}

// original finds what a pick is of. The bytes are read when they are asked for.
func (d *Desk) original(ctx context.Context, r store.RequestRow, p act.Pick) (original, error) {
	if p.Path != "" {
		return d.siteOriginal(ctx, r.SiteID, p.Path)
	}
	a, err := d.store.Attachment(ctx, p.Attachment)
	if err != nil || a.RequestID != r.ID {
		return original{}, missing(store.ErrNone, "picture with this request")
	}
	return original{
		name:  a.Name,
		hash:  a.Hash,
		bytes: func() ([]byte, error) { return d.store.Bytes(ctx, a.Hash) },
	}, nil
}

// siteOriginal is a picture of the site, as visitors get it.
func (d *Desk) siteOriginal(ctx context.Context, site int64, file string) (original, error) {
	if file = strings.TrimPrefix(path.Clean("/"+file), "/"); file == "" {
		return original{}, missing(store.ErrNone, "picture on the site")
	}
	c, err := d.publicFile(ctx, site, "/"+file, "")
	if err != nil {
		return original{}, refused("The picture %s cannot be read from the site: %v", path.Base(file), err)
	}
	if len(c.Bytes) > picture.MaxBytes {
		return original{}, refused("The picture %s is too heavy to be worked on.", path.Base(file))
	}
	return original{
		name:  path.Base(file),
		path:  file,
		hash:  hash(c.Bytes),
		bytes: func() ([]byte, error) { return c.Bytes, nil },
	}, nil
}

// picturesAtOnce is how many pictures are worked on at the same time: each of 60 million points takes up to 600 MB.
const picturesAtOnce = 2

// made does work on an original, or finds what it came to before. What is only tried is remembered for a while, and
// kept when it is taken.
func (d *Desk) made(ctx context.Context, o original, w picture.Work, trying bool) (store.PictureMade, error) {
	asked, err := json.Marshal(w)
	if err != nil {
		return store.PictureMade{}, err
	}
	do := func(b []byte) (picture.Done, error) { return picture.Do(b, w) }
	return d.makeOnce(ctx, o, hash(asked), trying, do)
}

// triedPicture is what work came to that nobody has taken yet.
type triedPicture struct {
	made  store.PictureMade
	bytes []byte
}

// small makes a small picture to be looked at, or finds it. It is the original where that is small enough.
func (d *Desk) small(ctx context.Context, o original, size int) (store.PictureMade, error) {
	return d.makeOnce(ctx, o, hash(fmt.Appendf(nil, "small %d", size)), false, func(b []byte) (picture.Done, error) {
		made, media, ok, err := picture.Small(b, size, size)
		if !ok {
			made = b
		}
		return picture.Done{Bytes: made, Info: picture.Info{Media: media, Size: len(made)}}, err
	})
}

func (d *Desk) makeOnce(
	ctx context.Context, o original, work string, trying bool, do func(b []byte) (picture.Done, error),
) (store.PictureMade, error) {
	had, err := d.store.PictureMade(ctx, o.hash, work)
	if !errors.Is(err, store.ErrNone) {
		return had, err
	}
	tried, known := d.triedPictures.Get(o.hash + work)
	if !known {
		if tried, err = d.makeNow(ctx, o, work, do); err != nil {
			return had, err
		}
		d.triedPictures.Add(o.hash+work, tried)
	}
	if trying {
		return tried.made, nil
	}
	if _, err := d.store.KeepBytes(ctx, tried.bytes); err != nil {
		return had, err
	}
	return tried.made, d.store.AddPictureMade(ctx, tried.made)
}

func (d *Desk) makeNow(
	ctx context.Context, o original, work string, do func(b []byte) (picture.Done, error),
) (t triedPicture, err error) {
	select {
	case d.picturing <- struct{}{}:
		defer func() { <-d.picturing }()
	case <-ctx.Done():
		return t, ctx.Err()
	}
	b, err := o.bytes()
	if err != nil {
		return t, err
	}
	done, err := do(b)
	if err != nil {
		return t, err
	}
	return triedPicture{store.PictureMade{
		OfHash: o.hash, Work: work, Media: done.Info.Media, Width: done.Info.Width, Height: done.Info.Height,
		Hash: hash(done.Bytes), Size: int64(done.Info.Size), Said: strings.Join(done.Said, "\n"),
	}, done.Bytes}, nil
}

// Picture implements act.Rest. A new file gets a name of its own beside the old one, so that neither a cache nor
// another page shows the wrong one; one of the site that nothing was done to stays where it is.
func (r *rest) Picture(p act.Pick, src string, others []act.File, instead int64) (act.File, error) {
	o, err := r.d.original(r.ctx, r.r, p)
	if err != nil {
		return act.File{}, err
	}
	m, err := r.d.made(r.ctx, o, p.Work, r.trying)
	if err != nil {
		return act.File{}, err
	}
	f := act.File{Media: m.Media, Width: m.Width, Height: m.Height, Size: m.Size, Hash: m.Hash}
	f.Fixed = m.Media == picture.SVG || m.Media == "image/gif" || m.Media == "image/avif"
	kind, to, _ := link.Of(r.site.PublicURL, r.dr.row.Address, src)
	if src == "" || kind != link.Inside && kind != link.Outside { // the page has no picture yet, or a place for one: data, "#"
		if src, err = r.besidePictures(); err != nil {
			return f, err
		}
		kind, to, _ = link.Of(r.site.PublicURL, r.dr.row.Address, src)
	}
	if kind != link.Inside {
		return act.File{}, refused("The picture on the page comes from another site; it can only be changed there.")
	}
	dir := strings.TrimPrefix(path.Dir(to), "/")
	if o.path != "" && p.Work == (picture.Work{}) {
		f.Path, f.Hash = o.path, ""
	} else if f.Path, err = r.newPath(o, f, dir, others, instead); err != nil {
		return f, err
	}
	f.Src = sourceOf(f.Path, dir, src)
	return f, nil
}

// noPictures is where the first picture of a site goes (common practice, no source).
const noPictures = "img"

// besidePictures is how the page would name a file beside most pictures of the site.
func (r *rest) besidePictures() (string, error) {
	all, err := r.d.store.SitePictures(r.ctx, r.site.ID)
	if err != nil {
		return "", err
	}
	in, most := map[string]int{}, noPictures
	for _, p := range all {
		dir := path.Dir(p.Path)
		if in[dir]++; in[dir] > in[most] {
			most = dir
		}
	}
	return link.Relative(r.dr.row.Address, path.Join("/", most, "new")), nil
}

// sourceOf names a file of the site in the way in which the page names the one at src, which stands in dir.
func sourceOf(file, dir, src string) string {
	inDir := path.Dir(file)
	if inDir == "." {
		inDir = ""
	}
	if inDir != strings.Trim(dir, "./") {
		return "/" + file
	}
	if i := strings.LastIndexByte(src, '/'); i >= 0 {
		return src[:i+1] + path.Base(file)
	}
	return path.Base(file)
}

// newPath is where a new file goes: a name by the rules for addresses, which no other file has.
func (r *rest) newPath(o original, f act.File, dir string, others []act.File, instead int64) (string, error) {
	for _, g := range others {
		if g.Hash == f.Hash {
			return g.Path, nil
		}
	}
	known, err := r.d.store.PictureByHash(r.ctx, r.r.ID, f.Hash)
	if err == nil || !errors.Is(err, store.ErrNone) {
		return known.Path, err
	}
	name := safeName(o.name, extensions[f.Media])
	if len(others) > 0 { // another size of the one before
		ext := path.Ext(name)
		name = fmt.Sprintf("%s-%d%s", strings.TrimSuffix(name, ext), f.Width, ext)
	}
	taken := func(file string) bool {
		return slices.ContainsFunc(others, func(g act.File) bool { return g.Path == file })
	}
	return r.d.freePath(r.ctx, r.r.SiteID, path.Join(dir, name), instead, taken)
}

// Known implements act.Rest.
func (r *rest) Known(src string) (picture.Info, bool) {
	if i, ok := r.looked[src]; ok {
		return i, true
	}
	ctx, cancel := context.WithTimeout(r.ctx, 5*time.Second)
	defer cancel()
	kind, to, _ := link.Of(r.site.PublicURL, r.dr.row.Address, src)
	if kind != link.Inside {
		return picture.Info{}, false
	}
	i, ok := r.d.lookAt(ctx, store.Preview{SiteID: r.r.SiteID, View: "live"}, to)
	if ok { // each of several pictures asks for the same
		if r.looked == nil {
			r.looked = map[string]picture.Info{}
		}
		r.looked[src] = i
	}
	return i, ok
}

// lookAt looks at a picture of a site at a public path, as a view shows it; false where it cannot be seen.
func (d *Desk) lookAt(ctx context.Context, v store.Preview, publicPath string) (picture.Info, bool) {
	c, err := d.otherFile(ctx, v, publicPath, "")
	if err != nil {
		return picture.Info{}, false
	}
	i, err := picture.Look(c.Bytes)
	return i, err == nil
}

// Sides implements act.Rest.
func (r *rest) Sides(p *page.Page) map[string]string {
	if p.Doc.Format == source.Markdown {
		return nil
	}
	return r.d.sheetOf(r.ctx, r.site, r.dr.row.Address, p).Sides()
}

// pictureFiles are the files that pictures become on the site; those that are new are kept.
func (d *Desk) pictureFiles(ctx context.Context, q store.Queries, dr *draft, fs []act.File) (ids []int64, err error) {
	for _, f := range fs {
		known, err := q.PictureByHash(ctx, dr.request, f.Hash)
		if errors.Is(err, store.ErrNone) {
			known.ID, err = q.PutPictureFile(ctx, store.PictureFile{
				SiteID: dr.row.SiteID, RequestID: dr.request, Path: f.Path, Media: f.Media, Width: f.Width, Height: f.Height, Size: f.Size,
				Hash: f.Hash,
			})
		}
		if err != nil {
			return nil, err
		}
		if !slices.Contains(ids, known.ID) {
			ids = append(ids, known.ID)
		}
	}
	return ids, nil
}

// freePath finds a name that no file of the site has.
func (d *Desk) freePath(
	ctx context.Context,
	site int64,
	want string,
	instead int64,
	taken func(string) bool,
) (string, error) {
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
		if taken(p) {
			continue
		}
		brought, err := d.store.BringFile(ctx, site, p)
		if err != nil {
			return "", err
		}
		if slices.ContainsFunc(brought, func(b store.BringsFile) bool { return b.ChangeID != instead }) {
			continue
		}
		known, err := d.store.PictureByPath(ctx, site, p)
		if err == nil {
			own, err := d.store.PictureOnlyOf(ctx, known.ID, instead)
			if err != nil {
				return "", err
			}
			if own {
				return p, nil
			}
			continue
		}
		if !errors.Is(err, store.ErrNone) {
			return "", err
		}
		if _, err := h.Read(ctx, p); err == nil {
			continue
		}
		return p, nil // where the host cannot be asked, the conditional write will tell
	}
	return "", refused("There are too many files of the name %s. Give the file another name.", path.Base(want))
}

// extensions are how files of each kind end.
var extensions = map[string]string{
	"image/jpeg": ".jpg", "image/png": ".png", "image/gif": ".gif", "image/webp": ".webp", "image/avif": ".avif", picture.SVG: ".svg",
}

// safeName makes a file name by the trade's rules that ends as it should, by what the file is.
func safeName(name, want string) string {
	name = link.FileName(name)
	if i := strings.LastIndexByte(name, '.'); i >= 0 {
		if ext := name[i:]; ext == want || ext == ".jpeg" && want == ".jpg" {
			return name
		}
		name = name[:i]
	}
	return name + want
}

// TryPicture tells what a picture would be in a place on a draft, and what the rules say of it there. Nothing is kept.
func (d *Desk) TryPicture(ctx context.Context, number, pageID int64, a act.Act) (api.PictureTold, error) {
	v := api.PictureTold{Said: []string{}, Findings: []api.Finding{}}
	r, row, err := d.onBench(ctx, number, pageID)
	if err != nil {
		return v, err
	}
	dr, site, err := d.draftAndSite(ctx, number, pageID)
	if err != nil {
		return v, err
	}
	pick, on, err := act.PickOf(a)
	if err != nil {
		return v, err
	}
	o, err := d.original(ctx, r, pick)
	if err != nil {
		return v, err
	}
	if err := d.tellOriginal(ctx, &v, o); err != nil {
		return v, err
	}
	m, err := d.made(ctx, o, pick.Work, true)
	if err != nil {
		return v, err
	}
	v.MadeMedia, v.MadeWidth, v.MadeHeight, v.MadeSize = m.Media, m.Width, m.Height, m.Size
	if m.Said != "" {
		v.Said = strings.Split(m.Said, "\n")
	}
	done, err := act.Do(dr.Draft, a, &rest{ctx: ctx, d: d, r: r, dr: dr, site: site, trying: true})
	if err != nil || len(done.Effects) == 0 {
		return v, err
	}
	change := done.Effects[0].Change
	v.Files = len(change.Pictures)
	tried := &draft{Draft: done.Draft, request: dr.request, row: row}
	pictures, err := d.picturesOf(ctx, site, tried)
	if err != nil {
		return v, err
	}
	for _, f := range change.Pictures {
		pictures.looked["/"+f.Path] = picture.Info{Media: f.Media, Width: f.Width, Height: f.Height, Size: int(f.Size)}
	}
	for _, f := range change.Files {
		v.Files++
		pictures.looked["/"+f.Path] = picture.Info{Media: f.Media, Width: m.Width, Height: m.Height, Size: int(f.Size)}
		places, err := d.store.PictureUsesOf(ctx, row.SiteID, f.Path)
		if err != nil {
			return v, err
		}
		v.Said = append(v.Said, everywhereSaid(places))
	}
	part, ok := done.Draft.Page().Part(cmp.Or(done.Made, on))
	if !ok {
		return v, nil
	}
	v.Findings = found(check.OfPicture(&check.Subject{
		Before: dr.Live, After: done.Draft.Page(), Changed: []*page.Part{part}, Edits: check.EditsOf(done.Draft), Pictures: pictures,
	}), tried)
	return v, nil
}

// everywhereSaid says where a file is named that is replaced under its address.
func everywhereSaid(uses []store.PictureUse) string {
	var at []string
	for _, u := range uses {
		if !slices.Contains(at, u.Address) {
			at = append(at, u.Address)
		}
	}
	if len(at) == 0 {
		return "As far as is known no other page names it."
	}
	said := "It changes on " + strings.Join(at[:min(len(at), 6)], ", ")
	if len(at) > 6 {
		said += fmt.Sprintf(", and %d more", len(at)-6)
	}
	return said + "."
}

// tellOriginal tells what a picture is, as it came.
func (d *Desk) tellOriginal(ctx context.Context, v *api.PictureTold, o original) error {
	m, err := d.makeOnce(ctx, o, hash([]byte("as it came")), true, func(b []byte) (picture.Done, error) {
		i, err := picture.Look(b)
		said := []string{}
		if i.Animated {
			said = append(said, "moves")
		}
		return picture.Done{Info: i, Said: said}, err // its bytes are kept already
	})
	v.Name, v.Media, v.Width, v.Height, v.Size, v.Animated = o.name, m.Media, m.Width, m.Height, m.Size, m.Said != ""
	return err
}

// Small is a picture of a request made small, to be looked at: its bytes and media type.
func (d *Desk) Small(ctx context.Context, number int64, p act.Pick, size int) (string, []byte, error) {
	r, err := d.store.RequestRow(ctx, number)
	if err != nil {
		return "", nil, missing(err, "request")
	}
	if p.Path != "" {
		return d.SmallOfSite(ctx, r.SiteID, p.Path, size)
	}
	o, err := d.original(ctx, r, p)
	if err != nil {
		return "", nil, err
	}
	return d.smallBytes(ctx, o, size)
}
