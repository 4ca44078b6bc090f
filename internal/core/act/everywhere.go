package act

import (
	"fmt"
	"slices"
	"strings"

	"mendry/internal/core/change"
	"mendry/internal/core/page"
	"mendry/internal/core/picture"
)

// everywhere replaces the file of a picture under its address: this page stays as it is, and so does every other one
// that names it. The new file has the size of the old one, so that it fits wherever that did.
func (a *Picture) everywhere(w *work, at place) (edit, error) {
	part, was := at.part, page.PictureAddress(at.part)
	several := slices.ContainsFunc(page.Srcsets, func(name string) bool { return part.Attributes.Get(name) != "" })
	switch {
	case !part.ShowsPicture():
		return edit{}, refuse("A background is replaced on this page, by a file of another name.")
	case several || part.Node.Parent != nil && part.Node.Parent.Is("picture"):
		return edit{}, refuse(
			"The page has this picture in several sizes, each a file of its own. Replace it on this page; they are made anew then.",
		)
	}
	f, err := a.asWideAs(w, was)
	if err != nil {
		return edit{}, err
	}
	e := edit{
		kind: OfPicture, part: part, name: part.Name, files: []Brought{f}, made: a, before: was, after: was, shape: a.Shape,
		say: fmt.Sprintf(
			"%s: its file is replaced, under the same address, wherever it is shown (%s)",
			part.Name,
			picture.Weight(int(f.Size)),
		),
	}
	for _, name := range page.PictureAddresses {
		if v := part.Attributes.Get(name); v == was && len(e.ops) == 0 {
			e.ops = append(e.ops, change.Op{Op: change.SetAttribute, Part: part.ID, Name: name, Value: &v})
		}
	}
	if a.Alt != nil {
		alt := strings.TrimSpace(*a.Alt)
		e.ops = append(e.ops, change.Op{Op: change.SetAttribute, Part: part.ID, Name: "alt", Value: &alt})
	}
	return e, nil
}

// asWideAs is the file that takes the place of a picture under its address, in the size of that.
func (a *Picture) asWideAs(w *work, was string) (Brought, error) {
	known, ok := w.rest.Known(was)
	if !ok {
		return Brought{}, refuse(
			"The picture that stands there cannot be seen, so it is not known how large the new one has to be.",
		)
	}
	pick := a.pick()
	if known.Width > 0 && known.Media != picture.SVG {
		if pick.Work.Crop == nil ||
			picture.Shape(pick.Work.Crop.Width, pick.Work.Crop.Height, known.Width, known.Height) > picture.SameShape {
			pick.Work.Crop, pick.Work.Shape = nil, fmt.Sprintf("%d:%d", known.Width, known.Height)
		}
		pick.Work.Width, pick.Work.Percent = known.Width, 0
	}
	return w.rest.Replaced(pick, was, w.instead)
}
