package desk

import (
	"context"
	"errors"
	"fmt"
	"path"
	"strconv"
	"strings"
	"time"

	"mendry/api"
	"mendry/internal/core/change"
	"mendry/internal/core/link"
	"mendry/internal/core/page"
	"mendry/internal/core/picture"
	"mendry/internal/store"
)

// pictureEdit puts an attached picture in the place of one on the page. The new file gets a name of its own beside the
// old one, so that neither a cache nor another page shows the wrong one.
func (d *Desk) pictureEdit(ctx context.Context, q store.Queries, r store.RequestRow, dr *draft, e edit, part *page.Part, f api.ChangeForm) (edit, error) {
	if part.Kind != page.Picture {
		return e, refused("“%s” is no picture.", part.Name)
	}
	if part.Node.Parent != nil && part.Node.Parent.Is("picture") {
		return e, refused("This picture has other files for other widths; they have to be changed together, which Mendry cannot do yet.")
	}
	if f.AttachmentID == nil {
		return e, refused("Choose a picture that came with the letter, or add one.")
	}
	a, err := q.Attachment(ctx, *f.AttachmentID)
	if err != nil || a.RequestID != r.ID {
		return e, missing(store.ErrNone, "picture with this request")
	}
	file, src, err := d.pictureFor(ctx, q, r, dr, part, a)
	if err != nil {
		return e, err
	}
	e.kind, e.picture, e.before, e.after = "picture", &file, part.Attributes.Get("src"), src
	e.say = fmt.Sprintf("%s: new picture, %d × %d, %s", part.Name, a.Width, a.Height, picture.Weight(int(a.Size)))
	set := func(name, value string) {
		e.ops = append(e.ops, change.Op{Op: change.SetAttribute, Part: part.ID, Name: name, Value: &value})
	}
	set("src", src)
	if f.Words != nil {
		set("alt", strings.TrimSpace(*f.Words))
	}
	for _, name := range []string{"srcset", "sizes"} {
		if _, has := part.Attributes.Lookup(name); has {
			e.ops = append(e.ops, change.Op{Op: change.SetAttribute, Part: part.ID, Name: name})
		}
	}
	w, errW := strconv.Atoi(part.Attributes.Get("width"))
	if _, errH := strconv.Atoi(part.Attributes.Get("height")); errW == nil && errH == nil && a.Width > 0 {
		set("height", strconv.Itoa((w*a.Height+a.Width/2)/a.Width))
	}
	return e, nil
}

func (d *Desk) pictureFor(ctx context.Context, q store.Queries, r store.RequestRow, dr *draft, part *page.Part, a store.Attachment) (store.PictureFile, string, error) {
	old := part.Attributes.Get("src")
	kind, to, _ := link.Of("http://site.example/", dr.row.Address, old)
	if kind != link.Inside {
		return store.PictureFile{}, "", refused("The picture on the page comes from another site; it can only be changed there.")
	}
	dir := strings.TrimPrefix(path.Dir(to), "/")
	sum := hash(a.Bytes)
	f, err := q.PictureByHash(ctx, r.ID, sum)
	if errors.Is(err, store.ErrNone) {
		f = store.PictureFile{SiteID: r.SiteID, RequestID: r.ID, Media: a.Media, Width: a.Width, Height: a.Height, Size: a.Size, Hash: sum, Bytes: a.Bytes}
		if f.Path, err = d.freePath(ctx, q, r.SiteID, path.Join(dir, safeName(a))); err != nil {
			return f, "", err
		}
		f.ID, err = q.AddPictureFile(ctx, f)
	}
	if err != nil {
		return f, "", err
	}
	if path.Dir(f.Path) != path.Clean(dir) && !(path.Dir(f.Path) == "." && dir == "") {
		return f, "/" + f.Path, nil
	}
	if i := strings.LastIndexByte(old, '/'); i >= 0 {
		return f, old[:i+1] + path.Base(f.Path), nil
	}
	return f, path.Base(f.Path), nil
}

// freePath finds a name that no file of the site has.
func (d *Desk) freePath(ctx context.Context, q store.Queries, site int64, want string) (string, error) {
	s, err := q.Site(ctx, site)
	if err != nil {
		return "", err
	}
	h, err := d.hostOf(s)
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
		if _, err := q.PictureByPath(ctx, site, p); !errors.Is(err, store.ErrNone) {
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
