package act

import (
	"fmt"
	"strconv"
	"strings"

	"mendry/internal/core/change"
	"mendry/internal/core/page"
	"mendry/internal/core/picture"
	"mendry/internal/core/thread"
)

// Picture puts a picture that came with the letter in the place of one on the page.
type Picture struct {
	Part       string  `json:"part"`
	Attachment int64   `json:"attachment_id"`
	Alt        *string `json:"alt,omitempty"`   // nil: as it is
	Shape      *Shape  `json:"shape,omitempty"` // nil: the place has none of its own, or it was not seen
}

// Shape is the shape of a picture's place as it was shown, in CSS pixels, and how pictures are fitted into it (CSS Images
// 3, object-fit). It is a hint: the page says it of itself.
type Shape struct {
	Width  int    `json:"width"`
	Height int    `json:"height"`
	Fit    string `json:"fit"`
}

var _ = register("picture", func() Act { return &Picture{} })

func (a *Picture) do(w *work) error { return w.keep(a, a.Part) }

func (a *Picture) goesOn(d *thread.Draft, k int) bool {
	op := d.Kept[k].Step[0].Op
	return op.Op == change.SetAttribute && op.Name == "src"
}

func (a *Picture) edit(w *work, at place) (edit, error) {
	part := at.part
	if part.Kind != page.Picture {
		return edit{}, refuse("“%s” is no picture.", part.Name)
	}
	if part.Node.Parent != nil && part.Node.Parent.Is("picture") {
		return edit{}, refuse("This picture has other files for other widths; they have to be changed together, which Mendry cannot do yet.")
	}
	src := part.Attributes.Get("src")
	file, err := w.rest.Picture(a.Attachment, src)
	if err != nil {
		return edit{}, err
	}
	e := edit{
		kind: OfPicture, part: part, name: part.Name, picture: &file, before: src, after: file.Src, shape: a.Shape,
		say: fmt.Sprintf("%s: new picture, %d × %d, %s", part.Name, file.Width, file.Height, picture.Weight(int(file.Size))),
	}
	set := func(name string, value *string) {
		e.ops = append(e.ops, change.Op{Op: change.SetAttribute, Part: part.ID, Name: name, Value: value})
	}
	set("src", &file.Src)
	if a.Alt != nil {
		alt := strings.TrimSpace(*a.Alt)
		set("alt", &alt)
	}
	for _, name := range []string{"srcset", "sizes"} {
		if _, has := part.Attributes.Lookup(name); has {
			set(name, nil)
		}
	}
	width, errWidth := strconv.Atoi(part.Attributes.Get("width"))
	if _, errHeight := strconv.Atoi(part.Attributes.Get("height")); errWidth == nil && errHeight == nil && file.Width > 0 {
		height := strconv.Itoa((width*file.Height + file.Width/2) / file.Width)
		set("height", &height)
	}
	return e, nil
}
