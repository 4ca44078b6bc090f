package act

import (
	"fmt"
	"strings"

	"mendry/internal/core/change"
	"mendry/internal/core/page"
	"mendry/internal/core/picture"
	"mendry/internal/core/source"
	"mendry/internal/core/style"
)

// behind puts another picture behind a part in the place of the one that a style sheet puts there: for this element
// alone, by a style of its own that stands above the sheet's, or wherever the file is shown, under its address. It
// reports false where no sheet does.
func (a *Picture) behind(w *work, at place) (e edit, ok bool, err error) {
	part := at.part
	if part.Run != nil || !part.Placed() || at.base.Doc.Format != source.HTML {
		return e, false, nil
	}
	b, src, ok := w.rest.Behind(at.base, part)
	if !ok {
		return a.firstBehind(w, at)
	}
	e = edit{kind: OfPicture, part: part, name: part.Name + ", behind it", before: src, made: a, shape: a.Shape}
	if a.Everywhere {
		f, err := a.asWideAs(w, src)
		if err != nil {
			return e, true, err
		}
		e.files, e.after, e.ops = []Brought{f}, src, []change.Op{asItIs(part, "class")}
		e.say = fmt.Sprintf(
			"Behind %s: the file is replaced, under the same address, wherever it is shown (%s)",
			part.Name,
			picture.Weight(int(f.Size)),
		)
		return e, true, nil
	}
	fs := files{rest: w.rest, instead: w.instead}
	f, err := fs.make(a.pick(), src)
	if err != nil {
		return e, true, err
	}
	image := b.Image(f.Src, func(other string) string { return w.rest.Address(b, other) })
	image = "background-image:" + image
	e.ops = []change.Op{{Op: change.Dress, Part: part.ID, Name: "style", Value: &image, Without: []string{"background-image"}}}
	e.pictures, e.after = fs.all, f.Src
	e.say = fmt.Sprintf(
		"Behind %s, here alone: %s, %d × %d, %s",
		part.Name,
		newOr(f),
		f.Width,
		f.Height,
		picture.Weight(int(f.Size)),
	)
	return e, true, nil
}

// firstBehind puts a picture behind a section that has none, where the site does so: it fills the section from its
// middle.
func (a *Picture) firstBehind(w *work, at place) (e edit, ok bool, err error) {
	part := at.part
	if part.Kind != page.Section || a.Everywhere || !w.rest.PutsBehind(at.base) {
		return e, false, nil
	}
	for _, d := range style.Declarations(part.Attributes.Get("style")) {
		if strings.HasPrefix(d.Property, "background") && strings.Contains(strings.ToLower(d.Value), "url(") {
			return e, true, refuse("There is a picture behind “%s” already. Choose that one.", part.Name)
		}
	}
	fs := files{rest: w.rest, instead: w.instead}
	f, err := fs.make(a.pick(), picturesLike(at.base).src)
	if err != nil {
		return e, true, err
	}
	image := style.Filling(f.Src)
	return edit{
		kind: OfPicture, part: part, name: part.Name + ", behind it", after: f.Src, made: a, shape: a.Shape, pictures: fs.all,
		say: fmt.Sprintf("Behind %s: %s, %d × %d, %s", part.Name, newOr(f), f.Width, f.Height, picture.Weight(int(f.Size))),
		ops: []change.Op{{
			Op: change.Dress, Part: part.ID, Name: "style", Value: &image,
			Without: []string{"background-image", "background-size", "background-position"},
		}},
	}, true, nil
}
