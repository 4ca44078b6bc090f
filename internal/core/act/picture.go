package act

import (
	"fmt"
	"math"
	"path"
	"regexp"
	"slices"
	"strconv"
	"strings"

	"mendry/internal/core/change"
	"mendry/internal/core/link"
	"mendry/internal/core/page"
	"mendry/internal/core/picture"
	"mendry/internal/core/source"
	"mendry/internal/core/thread"
)

// Picture puts another picture in the place of one on the page, with all that belongs to it there: the sizes that the
// page offers, those for other windows, the link to a large one, the share picture. Of a part that is no picture it is
// the one that a style sheet puts behind it.
type Picture struct {
	Part       string       `json:"part"`
	Attachment int64        `json:"attachment_id,omitempty"`
	Path       string       `json:"path,omitempty"`
	Work       picture.Work `json:"work,omitzero"`
	Alt        *string      `json:"alt,omitempty"`        // nil: as it is
	Shape      *Shape       `json:"shape,omitempty"`      // nil: the place has none of its own, or it was not seen
	Narrow     *Pick        `json:"narrow,omitempty"`     // for narrow screens, where the page has one of its own for them
	Share      bool         `json:"share,omitempty"`      // the page's share picture becomes the new one, too
	Everywhere bool         `json:"everywhere,omitempty"` // its file is replaced under its address, for every page that names it
}

// Shape is the shape of a picture's place as it was shown, in CSS pixels, and how pictures are fitted into it (CSS
// Images 3, object-fit). It is a hint: the page says it of itself.
type Shape struct {
	Width  int    `json:"width"`
	Height int    `json:"height"`
	Fit    string `json:"fit"`
}

var _ = register("picture", func() Act { return &Picture{} })

func (a *Picture) do(w *work) error { return w.keep(a, a.Part) }

func (a *Picture) goesOn(d *thread.Draft, k int) bool {
	op := d.Kept[k].Step[0].Op
	return op.Op == change.SetAttribute && slices.Contains(page.PictureAddresses, op.Name)
}

func (a *Picture) pick() Pick { return Pick{a.Attachment, a.Path, a.Work} }

func (a *Picture) edit(w *work, at place) (edit, error) {
	part := at.part
	if part.Kind != page.Picture && !a.pick().none() {
		if e, ok, err := a.behind(w, at); ok || err != nil {
			return e, err
		}
	}
	switch {
	case part.Kind != page.Picture:
		return edit{}, refuse("“%s” is no picture.", part.Name)
	case part.Node.Is("source") && !part.Background:
		return edit{}, refuse("“%s” is one of several files of a picture. Choose the picture itself.", part.Name)
	case a.pick().none():
		return edit{}, refuse("No picture is chosen.")
	}
	if a.Everywhere {
		return a.everywhere(w, at)
	}
	s := swapOf(a, files{rest: w.rest, instead: w.instead}, at.base, part)
	lead, err := s.make(a.pick(), s.was)
	if err != nil {
		return edit{}, err
	}
	for _, do := range []func(File) error{s.itself, s.sources, s.link, s.noscript, s.shareToo} {
		if err := do(lead); err != nil {
			return edit{}, err
		}
	}
	brought := s.named(s.ops)
	e := edit{
		kind: OfPicture, part: part, name: part.Name, pictures: brought, made: a, before: s.was, after: shown(lead, brought),
		shape: a.Shape, ops: s.ops,
		say: fmt.Sprintf(
			"%s: %s, %d × %d, %s",
			part.Name,
			newOr(lead),
			lead.Width,
			lead.Height,
			picture.Weight(int(lead.Size)),
		),
	}
	if len(s.said) > 0 {
		e.say += "; " + strings.Join(s.said, ", ")
	}
	return e, nil
}

func newOr(f File) string {
	if f.Hash == "" {
		return "another picture of the site"
	}
	return "new picture"
}

// swap is one picture that takes the place of another.
type swap struct {
	*Picture
	files
	page *page.Page
	part *page.Part
	was  string // the address that was shown
	ops  []change.Op
	said []string

	renamed map[string]string // which address took the place of which
}

func swapOf(a *Picture, fs files, on *page.Page, part *page.Part) *swap {
	return &swap{Picture: a, files: fs, page: on, part: part, was: page.PictureAddress(part), renamed: map[string]string{}}
}

// make makes a file of a pick, in the folder of the picture at src; where that is still to come, of one of the page's
// own.
func (s *swap) make(p Pick, src string) (File, error) {
	if page.IsToCome(src) {
		src = picturesLike(s.page).src
	}
	return s.files.make(p, src)
}

func (s *swap) set(part *page.Part, name, value string) {
	s.ops = append(s.ops, change.Op{Op: change.SetAttribute, Part: part.ID, Name: name, Value: &value})
}

func (s *swap) unset(part *page.Part, name string) {
	if _, has := part.Attributes.Lookup(name); has {
		s.ops = append(s.ops, change.Op{Op: change.SetAttribute, Part: part.ID, Name: name})
	}
}

// itself changes the element of the picture.
func (s *swap) itself(lead File) error {
	own, src := s.part.Attributes, lead.Src
	offered, err := s.offers(s.part, s.pick(), lead)
	if err != nil {
		return err
	}
	if f, ok := offered[s.was]; ok {
		src = f.Src
	}
	s.renamed[s.was] = src
	lazy := false
	for _, name := range page.PictureAddresses[1:] {
		if v := own.Get(name); v != "" {
			s.set(s.part, name, src)
			lazy = true
		}
	}
	if v := own.Get("src"); !lazy || v != "" && !strings.HasPrefix(v, "data:") {
		s.set(s.part, "src", src)
	}
	s.ops = sorted(s.ops)
	if s.part.Background {
		return nil
	}
	if s.Alt != nil {
		s.set(s.part, "alt", strings.TrimSpace(*s.Alt))
	}
	if s.page.Doc.Format == source.HTML {
		s.inProportion(s.part, lead)
	}
	return nil
}

// sorted puts the address first, by which a change of a picture is known.
func sorted(ops []change.Op) []change.Op {
	i := slices.IndexFunc(ops, func(op change.Op) bool { return slices.Contains(page.PictureAddresses, op.Name) })
	return slices.Concat(ops[i:i+1], ops[:i], ops[i+1:])
}

// inProportion keeps an element's width, and gives it the height that goes with it.
func (s *swap) inProportion(part *page.Part, f File) {
	width, errWidth := strconv.Atoi(part.Attributes.Get("width"))
	if _, errHeight := strconv.Atoi(part.Attributes.Get("height")); errWidth == nil && errHeight == nil && f.Width > 0 {
		s.set(part, "height", strconv.Itoa(f.high(width)))
	}
}

// offers makes the sizes of a picture that an element offers, and tells which took the place of which.
func (s *swap) offers(part *page.Part, pick Pick, lead File) (map[string]File, error) {
	instead := map[string]File{}
	for _, name := range page.Srcsets {
		v, has := part.Attributes.Lookup(name)
		if !has {
			continue
		}
		offered := picture.ReadSrcset(v)
		if len(offered) == 0 && strings.TrimSpace(v) == "" {
			continue
		}
		if lead.Fixed || len(offered) == 0 {
			s.unset(part, name)
			s.unset(part, "sizes")
			continue
		}
		densest := 0.
		for _, c := range offered {
			densest = max(densest, c.Density)
		}
		var now []picture.Candidate
		for _, c := range offered {
			want := c.Width
			if want == 0 {
				want = int(math.Round(float64(lead.Width) * c.Density / densest))
			}
			f := lead
			if want < lead.Width {
				var err error
				if f, err = s.make(pick.wide(want), c.URL); err != nil {
					return nil, err
				}
			}
			instead[c.URL], s.renamed[c.URL] = f, f.Src
			c.URL = f.Src
			if c.Width > 0 {
				c.Width = f.Width
			}
			if !slices.Contains(now, c) {
				now = append(now, c)
			}
		}
		if len(now) > 1 {
			s.said = append(s.said, strconv.Itoa(len(now))+" sizes")
		}
		s.set(part, name, picture.WriteSrcset(now))
	}
	return instead, nil
}

// Only for narrow windows is what a media query of a source says with max-width (Media Queries 4, 4.1).
var narrowOnly = regexp.MustCompile(`(?i)max-width|width\s*<`)

// narrowest is how wide a picture is made for narrow screens where nothing says it: twice 390 CSS pixels.
const narrowest = 780

// ForNarrow is the file that a picture has for narrow screens alone, as the page names it; empty where it has none.
func ForNarrow(p *page.Page, part *page.Part) string {
	for _, other := range p.Sources(part) {
		offered := picture.ReadSrcset(other.Attributes.Get("srcset"))
		if narrowOnly.MatchString(other.Attributes.Get("media")) && len(offered) > 0 {
			return offered[0].URL
		}
	}
	return ""
}

// sources changes the other files of the picture.
func (s *swap) sources(lead File) error {
	for _, other := range s.page.Sources(s.part) {
		media := other.Attributes.Get("media")
		pick := s.pick()
		old := picture.ReadSrcset(other.Attributes.Get("srcset"))
		narrow := narrowOnly.MatchString(media)
		if media != "" && len(old) > 0 {
			wide := narrowest
			if was, ok := s.rest.Known(old[0].URL); ok {
				wide = max(wide, was.Width)
				if picture.Shape(was.Width, was.Height, lead.Width, lead.Height) > picture.SameShape && !lead.Fixed {
					pick.Work.Shape = fmt.Sprintf("%d:%d", was.Width, was.Height)
				}
			}
			pick = pick.wide(wide)
			if narrow && s.Narrow != nil && !s.Narrow.none() {
				pick = *s.Narrow
			}
		}
		switch kind := other.Attributes.Get("type"); {
		case lead.Fixed:
		case kind == "image/avif": // which Mendry does not write
			pick.Work.Format = "webp"
			s.set(other, "type", "image/webp")
		case kind == "image/webp", kind == "image/jpeg", kind == "image/png":
			pick.Work.Format = strings.TrimPrefix(kind, "image/")
		}
		beside := s.was
		if len(old) > 0 {
			beside = old[0].URL
		}
		f, err := s.make(pick, beside)
		if err != nil {
			return err
		}
		if lead.Fixed || len(old) == 0 {
			s.set(other, "srcset", f.Src)
			if lead.Fixed {
				s.unset(other, "type")
			}
		} else if _, err := s.offers(other, pick, f); err != nil {
			return err
		}
		s.inProportion(other, f)
		if narrow {
			s.said = append(s.said, "one for narrow screens")
		}
	}
	return nil
}

var pictureFile = regexp.MustCompile(`(?i)\.(?:jpe?g|png|gif|webp|avif|svg)(?:[?#].*)?$`)

// link lets a link around the picture that led to it in large lead to the new one, and every other attribute that
// named the old one name the new.
func (s *swap) link(lead File) error {
	if s.part.Background {
		return nil
	}
	instead := map[string]string{}
	if s.was != "" {
		instead[s.was] = lead.Src
	}
	around, ok := LinkOf(s.page, s.part)
	if ok {
		if href := around.Attributes.Get("href"); pictureFile.MatchString(href) {
			pick := s.pick()
			pick.Work.Width, pick.Work.Percent = 0, 0
			if was, ok := s.rest.Known(href); ok && pick.Work.Shape != "" && picture.Shape(was.Width, was.Height, lead.Width, lead.Height) > picture.SameShape {
				pick.Work.Shape = "" // the small one was cut, the large one is whole
			}
			large := lead
			if path.Base(href) != path.Base(s.was) {
				var err error
				if large, err = s.make(pick, href); err != nil {
					return err
				}
			}
			instead[href] = large.Src
			s.said = append(s.said, "the link to the large one")
		}
		s.follow(around, instead)
	}
	s.follow(s.part, instead)
	return nil
}

// follow puts new addresses in the place of old ones in attributes that no other rule is about.
func (s *swap) follow(part *page.Part, instead map[string]string) {
	for _, a := range part.Attributes {
		now, ok := instead[a.Val]
		done := slices.ContainsFunc(s.ops, func(op change.Op) bool { return op.Part == part.ID && op.Name == a.Key })
		if ok && !done && a.Key != "alt" && a.Key != "title" {
			s.set(part, a.Key, now)
		}
	}
}

// LeadsToLarge reports whether a link around a picture leads to a picture.
func LeadsToLarge(p *page.Page, part *page.Part) bool {
	link, ok := LinkOf(p, part)
	return ok && !part.Background && pictureFile.MatchString(link.Attributes.Get("href"))
}

// LinkOf is the link that a picture stands in.
func LinkOf(p *page.Page, part *page.Part) (*page.Part, bool) {
	for n := part.Node.Parent; n != nil && p.Doc.Format == source.HTML; n = n.Parent {
		if n.Is("a") {
			return p.At(n)
		}
		if !n.Is("picture", "span", "figure", "div") {
			break
		}
	}
	return nil, false
}

// The shape and width of a share picture where nothing else says it: 1.91 to 1 (common practice, no source).
const (
	shareShape = "1200:630"
	shareWidth = 1200
)

// Shares reports whether the page's share picture is the picture of a part, or stands for it: that is so for the first
// on the page.
func Shares(p *page.Page, part *page.Part) bool {
	if p.Facts.Image == "" || part.Kind != page.Picture || p.Doc.Format != source.HTML {
		return false
	}
	switch address := page.PictureAddress(part); {
	case page.IsToCome(address): // whatever is shared stood for something else
		return false
	case path.Base(p.Facts.Image) == path.Base(address):
		return true
	}
	first := slices.IndexFunc(
		p.All,
		func(q *page.Part) bool { return q.Kind == page.Picture && !q.Node.Is("source") && q.Shared == "" },
	)
	return first >= 0 && p.All[first] == part
}

// shareToo brings the share picture in step.
func (s *swap) shareToo(lead File) error {
	if !s.Share {
		return nil
	}
	old := s.page.Facts.Image
	f := lead
	if path.Base(old) != path.Base(s.was) && !lead.Fixed {
		pick := s.pick()
		pick.Work.Shape = shareShape
		if was, ok := s.rest.Known(old); ok && was.Width > 0 {
			pick.Work.Shape = fmt.Sprintf("%d:%d", was.Width, was.Height)
		}
		beside := old
		if beside == "" {
			beside = s.was
		}
		var err error
		if f, err = s.make(pick.wide(shareWidth), beside); err != nil {
			return err
		}
	}
	now := "/" + f.Path
	if origin := link.Origin(old); origin != "" {
		now = origin + now
	}
	if now != old {
		s.ops = append(s.ops, change.Op{Op: change.SetFact, Name: "image", Value: &now})
		s.said = append(s.said, "the share picture in step")
	}
	return nil
}
