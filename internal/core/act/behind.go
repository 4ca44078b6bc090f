package act

import (
	"fmt"
	"strings"

	"mendry/internal/core/change"
	"mendry/internal/core/picture"
	"mendry/internal/core/source"
)

// behind puts another picture behind a part in the place of the one that a style sheet puts there: for this element alone, by
// a style of its own that stands above the sheet's, or wherever the file is shown, under its address. It reports false
// where no sheet does.
func (a *Picture) behind(w *work, at place) (e edit, ok bool, err error) {
	part := at.part
	if part.Run != nil || !part.Placed() || at.base.Doc.Format != source.HTML {
		return e, false, nil
	}
	b, src, ok := w.rest.Behind(at.base, part)
	if !ok {
		return e, false, nil
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
	style := strings.Join(append(without(part.Attributes.Get("style")), "background-image:"+image), ";")
	e.ops = []change.Op{{Op: change.SetAttribute, Part: part.ID, Name: "style", Value: &style}}
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
