package act

import (
	"bytes"
	"fmt"
	"slices"
	"strings"

	"mendry/internal/core/change"
	"mendry/internal/core/page"
	"mendry/internal/core/picture"
	"mendry/internal/core/source"
)

// AddPictures adds pictures to a set, each made like its last item: with the same elements around it, the same sizes,
// and a link to a large one where the item has one.
type AddPictures struct {
	Part     string   `json:"part"` // the set, or something in it
	Pictures []Titled `json:"pictures"`
}

// Titled is a picture with its words.
type Titled struct {
	Attachment int64        `json:"attachment_id,omitempty"`
	Path       string       `json:"path,omitempty"`
	Work       picture.Work `json:"work,omitzero"` // the zero value: the shape and size of the last item's picture
	Alt        string       `json:"alt"`
	Caption    string       `json:"caption,omitempty"` // used where the last item has one
}

var _ = register("add-pictures", func() Act { return &AddPictures{} })

// mostAdded is how many pictures are added at once.
const mostAdded = 40

// SetOf is the set of pictures that a part is in, and the item that new ones are made like: the last of those whose
// pictures have the size that most have; false where there is none.
func SetOf(part *page.Part) (set, like *page.Part, ok bool) {
	for set = part; set != nil && set.Kind != page.Set; set = set.Parent {
	}
	if set == nil || set.Locked != "" {
		return nil, nil, false
	}
	sizes, most := map[string]int{}, 0
	for _, count := range []bool{true, false} {
		for _, item := range set.Items() {
			p := pictureIn(item)
			if p == nil || !item.Placed() || item.Locked != "" {
				continue
			}
			size := p.Attributes.Get("width") + "x" + p.Attributes.Get("height")
			if count {
				sizes[size]++
				most = max(most, sizes[size])
			} else if sizes[size] == most {
				like = item
			}
		}
	}
	return set, like, like != nil
}

// pictureIn is the first picture in an item.
func pictureIn(item *page.Part) *page.Part {
	if item.ShowsPicture() {
		return item
	}
	for _, p := range item.Parts {
		if found := pictureIn(p); found != nil {
			return found
		}
	}
	return nil
}

func (a *AddPictures) do(w *work) error {
	part, err := w.pointed(a.Part)
	if err != nil {
		return err
	}
	p := w.draft.Page()
	set, like, ok := SetOf(part)
	switch {
	case p.Doc.Format != source.HTML || !ok:
		return refuse("“%s” is no set of pictures.", part.Name)
	case len(a.Pictures) == 0:
		return refuse("No picture is chosen.")
	case len(a.Pictures) > mostAdded:
		return refuse("Add up to %d pictures at once.", mostAdded)
	}
	item, err := itemLike(p, like, w.rest)
	if err != nil {
		return err
	}
	items := set.Items()
	last := items[len(items)-1]
	gap := change.GapBefore(p.Doc, last.Start)
	fs := files{rest: w.rest}
	var markup bytes.Buffer
	var first File
	for i, t := range a.Pictures {
		made, lead, err := item.with(t, &fs)
		if err != nil {
			return err
		}
		if i == 0 {
			first = lead
		}
		markup.Write(gap)
		markup.Write(made)
	}
	op := change.Op{Op: change.Insert, Anchor: last.ID, Where: change.After, HTML: p.Doc.Markup(markup.Bytes())}
	many := "a picture"
	if len(a.Pictures) > 1 {
		many = fmt.Sprintf("%d pictures", len(a.Pictures))
	}
	brought := fs.named([]change.Op{op})
	return w.settle(-1, p, edit{
		kind: OfPicture, name: set.Name, pictures: brought, after: shown(first, brought),
		say: fmt.Sprintf("%s gets %s more", set.Name, many),
		ops: []change.Op{op},
	})
}

// item is one of a set, as a page of its own, to be made again with other pictures.
type item struct {
	page    *page.Page
	picture *page.Part
	caption *page.Part   // nil where it has none
	usual   picture.Work // the shape and size of its picture
}

// itemLike prepares an item to be made again.
func itemLike(p *page.Page, like *page.Part, rest Rest) (item, error) {
	alone, err := withoutIdentifiers(p, like)
	if err != nil {
		return item{}, err
	}
	it := item{page: alone, picture: pictureOf(alone)}
	if it.picture == nil {
		return it, refuse("“%s” cannot be made again with another picture. Copy it, and change the copy.", like.Name)
	}
	words := append(slices.Clone(alone.OfKind(page.Words)), alone.OfKind(page.Heading)...)
	if len(words) > 1 {
		return it, refuse("The items of this set say more than a caption. Copy one, and change the copy.")
	}
	if len(words) == 1 {
		it.caption = words[0]
	}
	known, ok := rest.Known(page.PictureAddress(it.picture))
	if ok && known.Width > 0 && known.Media != picture.SVG {
		it.usual = picture.Work{Shape: fmt.Sprintf("%d:%d", known.Width, known.Height), Width: known.Width}
	}
	return it, nil
}

// with is the item made with a picture: its bytes, and the file that it shows.
func (it item) with(t Titled, fs *files) ([]byte, File, error) {
	caption := strings.TrimSpace(t.Caption)
	if it.caption != nil && caption == "" {
		return nil, File{}, refuse(
			"The pictures of this set have a caption, like “%s”. Write one for each.", page.Short(it.caption.Text, 60),
		)
	}
	pic := &Picture{Part: it.picture.ID, Attachment: t.Attachment, Path: t.Path, Work: t.Work, Alt: &t.Alt}
	if t.Work == (picture.Work{}) {
		pic.Work = it.usual
	}
	s := swapOf(pic, *fs, it.page, it.picture)
	lead, err := s.make(pic.pick(), s.was)
	if err == nil && lead.Fixed { // it is not cut
		pic.Work = picture.Work{}
	}
	for _, do := range []func(File) error{s.itself, s.sources, s.link, s.noscript} {
		if err == nil {
			err = do(lead)
		}
	}
	if err != nil {
		return nil, lead, err
	}
	*fs = s.files
	if it.caption != nil {
		op := change.Op{Op: change.SetWords, Part: it.caption.ID, HTML: change.EscapeText(caption)}
		s.ops = append(s.ops, op)
	}
	r, err := change.Apply(it.page, s.ops)
	if err != nil {
		return nil, lead, err
	}
	return r.Bytes, lead, nil
}

func pictureOf(p *page.Page) *page.Part {
	for _, q := range p.OfKind(page.Picture) {
		if q.ShowsPicture() {
			return q
		}
	}
	return nil
}

// pointsAt reports whether something in a part points at one of its identifiers.
func pointsAt(p *page.Page, part *page.Part, name string) (points bool) {
	for _, top := range part.Nodes() {
		top.Walk(func(n *source.Node) bool {
			for _, a := range p.Doc.Attributes(n) {
				to := slices.Contains(strings.Fields(a.Value), name) || strings.HasSuffix(a.Value, "#"+name)
				points = points || to && a.Name != "id" && a.Name != "class" && a.Name != "alt" && a.Name != "title"
			}
			return true
		})
	}
	return points
}

// withoutIdentifiers is an item as a page of its own, without the identifiers that may stand only once. One whose
// parts point at each other by them is refused.
func withoutIdentifiers(p *page.Page, like *page.Part) (*page.Page, error) {
	raw := p.Doc.Bytes[like.Start:like.End]
	var edits []source.Edit
	var names []string
	for _, top := range like.Nodes() {
		top.Walk(func(n *source.Node) bool {
			if id, ok := p.Doc.Attribute(n, "id"); ok && n.Placed {
				names = append(names, id.Value)
				edits = append(
					edits,
					source.Edit{Span: source.Span{Start: id.Whole.Start - like.Start, End: id.Whole.End - like.Start}},
				)
			}
			return true
		})
	}
	for _, name := range names {
		if pointsAt(p, like, name) {
			return nil, refuse("“%s” points at itself by an identifier. Copy it, and change the copy.", like.Name)
		}
	}
	out, _, err := source.Splice(raw, edits)
	if err != nil {
		return nil, err
	}
	return p.Again(out)
}
