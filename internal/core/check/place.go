package check

import (
	"fmt"
	"math"
	"path"
	"regexp"
	"strings"

	"mendry/internal/core/page"
	"mendry/internal/core/picture"
)

// Place is how large a picture is shown in a window of a width, in CSS pixels.
type Place struct {
	At            int    // the window's width
	Width, Height int    // of the picture there
	Fit           string // CSS Images 3, object-fit; of a background cover, contain or none
	Own           bool   // the place has a shape of its own, whatever stands in it
}

// Pictures answers what the rules ask of pictures.
type Pictures interface {
	// Places tells how large a picture of the page is shown, in windows of several widths; nothing where no frame was
	// open yet.
	Places(part *page.Part) []Place
	// File looks at the file that the page names by src, as it would be published; false where it cannot be seen.
	File(src string) (picture.Info, bool)
}

// hung is a picture that was changed, with its place and its file.
type hung struct {
	part   *page.Part
	name   string // of its file
	places []Place
	file   picture.Info
	media  string // of a file for other windows, which has a shape of its own: for which
}

// OfPicture runs the rules on pictures alone, as when one is chosen for a place.
func OfPicture(s *Subject) []Finding {
	all := []Finding{}
	for _, r := range Rules {
		if !strings.Contains(r.Name, "picture") {
			continue
		}
		for _, f := range r.Check(s) {
			f.Rule = r.Name
			all = append(all, f)
		}
	}
	return all
}

// mostPlaced is how many pictures of one page are looked at.
const mostPlaced = 40

func (s *Subject) hung() (all []hung) {
	if s.Pictures == nil {
		return nil
	}
	for _, p := range s.parts() {
		if !p.Background && !p.ShowsPicture() || len(all) == mostPlaced {
			continue
		}
		src := largest(p)
		file, ok := s.Pictures.File(src)
		if !ok || file.Width == 0 {
			continue
		}
		all = append(all, s.bySource(hung{part: p, name: path.Base(src), places: s.Pictures.Places(p), file: file})...)
	}
	return all
}

// largest is the largest file that a picture offers.
func largest(p *page.Part) string {
	src := page.PictureAddress(p)
	best := 0.
	for _, name := range page.Srcsets {
		for _, c := range picture.ReadSrcset(p.Attributes.Get(name)) {
			if v := float64(c.Width) + c.Density; v > best {
				src, best = c.URL, v
			}
		}
	}
	return src
}

// mostCut is how much of a picture that is cut by its place has to be seen (a choice: half of a picture is another
// one).
const mostCut = 0.55

// pictureShape: shape within 2 % of the place's shape, or cut by it on purpose.
func pictureShape(s *Subject) (fs []Finding) {
	for _, p := range s.hung() {
		level, say := Fine, ""
		widest := 0
		for _, at := range p.places {
			widest = max(widest, at.At)
		}
		for _, at := range p.places {
			off := picture.Shape(p.file.Width, p.file.Height, at.Width, at.Height)
			seen := 100 / (100 + off)
			is, there := ratio(p.file.Width, p.file.Height), ratio(at.Width, at.Height)
			switch {
			case at.Width <= 0 || at.Height <= 0,
				off <= picture.SameShape,
				p.media != "" && !at.Own, // it was chosen to take another shape there
				at.Fit == "contain",
				at.Fit == "scale-down",
				at.Fit == "none":
			case at.Fit == "cover" && seen < mostCut && (at.At < widest || p.media != ""): // one file cannot have the shape of all of them
				if level == Fine {
					level, say = Look, fmt.Sprintf(
						"In a window of %d, where its place is %s, only %.0f %% of %s is seen.",
						at.At,
						there,
						seen*100,
						p.name,
					)
				}
			case at.Fit == "cover" && seen < mostCut:
				level, say = Stop, fmt.Sprintf(
					"%s is %s, its place %s in a window of %d: only %.0f %% of it would be seen. Cut it to the shape.",
					p.name,
					is,
					there,
					at.At,
					seen*100,
				)
			case at.Fit == "cover":
			case at.Own:
				level, say = Stop, fmt.Sprintf(
					"%s is %s, its place %s in a window of %d: it would be squeezed. Cut it to the shape.",
					p.name,
					is,
					there,
					at.At,
				)
			case seen < mostCut:
				level, say = Stop, fmt.Sprintf(
					"%s is %s, the one before was %s in a window of %d: it would push the page apart. Cut it to the shape.",
					p.name,
					is,
					there,
					at.At,
				)
			case level == Fine:
				level, say = Look, fmt.Sprintf(
					"%s is %s, the one before was %s: its place would take another shape.",
					p.name,
					is,
					there,
				)
			}
			if level == Stop {
				break
			}
		}
		if say != "" {
			fs = append(fs, Finding{Level: level, Part: p.part.ID, Words: p.name, Say: say})
		} else if len(p.places) > 0 {
			fs = append(fs, Finding{Level: Fine, Part: p.part.ID, Words: p.name, Say: p.name + " has the shape of its place."})
		}
	}
	return fs
}

// ratio writes a shape: 16:9, 5:2, 1:1 where it is near to small numbers, or else 1.85:1.
func ratio(w, h int) string {
	if h == 0 {
		return "flat"
	}
	r := float64(w) / float64(h)
	for _, b := range []float64{1, 2, 3, 4, 5, 9} {
		if a := math.Round(r * b); a >= 1 && (b < 9 || a == 16) && math.Abs(a/b/r-1) < 0.008 {
			return fmt.Sprintf("%.0f:%.0f", a, b)
		}
	}
	return fmt.Sprintf("%.2f:1", r)
}

// shownAt is the largest width at which a picture's own points are shown: one that is cut by its place is shown larger
// than the place is wide, where the place is the higher one.
func (p hung) shownAt() (width int, at Place) {
	for _, pl := range p.places {
		w := float64(pl.Width)
		if pl.Fit == "cover" && p.file.Height > 0 {
			w = max(w, float64(pl.Height)*float64(p.file.Width)/float64(p.file.Height))
		}
		if int(w+0.5) > width {
			width, at = int(w+0.5), pl
		}
	}
	return width, at
}

// pictureSharp: at least as many points as it is shown wide, twice that for sharp screens.
func pictureSharp(s *Subject) (fs []Finding) {
	for _, p := range s.hung() {
		width, at := p.shownAt()
		if width == 0 || p.file.Media == picture.SVG {
			continue
		}
		f := Finding{
			Level: Fine,
			Part:  p.part.ID,
			Words: p.name,
			Say:   fmt.Sprintf("%s is sharp at twice the size.", p.name),
		}
		switch {
		case float64(p.file.Width) < 0.98*float64(width):
			f.Level, f.Say = Stop, fmt.Sprintf(
				"%s has %d points and is shown %d wide in a window of %d: it would be blurred. Ask for a larger one.",
				p.name,
				p.file.Width,
				width,
				at.At,
			)
		case float64(p.file.Width) < 1.9*float64(width):
			f.Level, f.Say = Look, fmt.Sprintf(
				"%s has %d points and is shown %d wide: on sharp screens, which show twice as many, it looks soft.",
				p.name,
				p.file.Width,
				width,
			)
		}
		fs = append(fs, f)
	}
	return fs
}

// farTooHeavy is how many times of what it may weigh a picture has that stops publishing (a choice).
const farTooHeavy = 4

// pictureWeight: weight in proportion to what is shown.
func pictureWeight(s *Subject) (fs []Finding) {
	for _, p := range s.hung() {
		width, at := p.shownAt()
		if width == 0 {
			continue
		}
		may := picture.MayWeigh(width, p.file.Width, p.file.Height)
		f := Finding{
			Level: Fine,
			Part:  p.part.ID,
			Words: p.name,
			Say:   fmt.Sprintf("%s weighs %s, in proportion to its place.", p.name, picture.Weight(p.file.Size)),
		}
		if over := float64(p.file.Size) / float64(may); over > 1 {
			f.Level = Look
			if over > farTooHeavy {
				f.Level = Stop
			}
			f.Say = fmt.Sprintf(
				"%s weighs %s for a place of %d × %d. Make it smaller or lighter: %s are enough.",
				p.name,
				picture.Weight(p.file.Size),
				at.Width,
				at.Height,
				picture.Weight(may),
			)
		}
		fs = append(fs, f)
	}
	return fs
}

// pictureNarrow: a picture for narrow screens where those beside it have one.
func pictureNarrow(s *Subject) (fs []Finding) {
	for _, p := range s.parts() {
		if !p.ShowsPicture() || p.Parent == nil ||
			p.Node.Parent.Is("picture") {
			continue
		}
		up := p.Parent
		if up.Kind == page.Item && up.Parent != nil {
			up = up.Parent
		}
		with, without := 0, 0
		for _, q := range s.After.OfKind(page.Picture) {
			if q == p || q.Node.Is("source") || q.Start < up.Start || q.End > up.End {
				continue
			}
			if q.Node.Parent.Is("picture") {
				with++
			} else {
				without++
			}
		}
		if with > 1 && with > without {
			name := path.Base(page.PictureAddress(p))
			fs = append(
				fs,
				Finding{
					Level: Look,
					Part:  p.ID,
					Words: name,
					Say: fmt.Sprintf(
						"%s has no picture of its own for narrow screens; %d of those beside it have one.",
						name,
						with,
					),
				},
			)
		}
	}
	return fs
}

// The shape and width that share pictures are shown at (common practice, no source).
const (
	shareShape = 1.91
	shareWidth = 1200
)

// sharePicture: 1.91:1 and at least 1200 points wide.
func sharePicture(s *Subject) (fs []Finding) {
	if s.Before == nil || s.Pictures == nil || s.After.Facts.Image == s.Before.Facts.Image ||
		s.After.Facts.Image == "" {
		return nil
	}
	name := path.Base(s.After.Facts.Image)
	i, ok := s.Pictures.File(s.After.Facts.Image)
	if !ok {
		return []Finding{{Level: Stop, Words: name, Say: "The share picture " + name + " cannot be seen on the site."}}
	}
	switch off := picture.Shape(i.Width, i.Height, int(shareShape*1000), 1000); {
	case i.Width < shareWidth:
		fs = append(
			fs,
			Finding{
				Level: Look,
				Words: name,
				Say: fmt.Sprintf(
					"The share picture %s is %d points wide; %d are shown where a page is shared.",
					name,
					i.Width,
					shareWidth,
				),
			},
		)
	case off > picture.SameShape:
		fs = append(
			fs,
			Finding{
				Level: Look,
				Words: name,
				Say: fmt.Sprintf(
					"The share picture %s is %s; where a page is shared it is cut to 1.91:1.",
					name,
					ratio(i.Width, i.Height),
				),
			},
		)
	default:
		fs = append(
			fs,
			Finding{Level: Fine, Words: name, Say: "The share picture has the shape and size that it is shown in."},
		)
	}
	return fs
}

// beginsByKind is an alternative text that says first that there is a picture: whoever hears it is told so anyway.
var beginsByKind = regexp.MustCompile(
	`(?i)^\s*(?:an? |the )?(?:image|picture|photo(?:graph)?|graphic|icon) (?:of|showing|shows) `,
)

// pictureSays: an alternative text of its own, that does not begin by saying that there is a picture; an old one that
// was carried over to a new picture is asked about.
func pictureSays(s *Subject) (fs []Finding) {
	for _, p := range s.parts() {
		alt := strings.TrimSpace(p.Attributes.Get("alt"))
		if p.Kind != page.Picture || p.Background || alt == "" {
			continue
		}
		if m := beginsByKind.FindString(alt); m != "" {
			fs = append(
				fs,
				Finding{
					Level: Look,
					Part:  p.ID,
					Words: alt,
					Say: fmt.Sprintf(
						"The alternative text begins with “%s”: whoever hears it knows that. Say what is to be seen.",
						strings.TrimSpace(m),
					),
				},
			)
		}
		for _, q := range s.After.OfKind(page.Picture) {
			same := strings.EqualFold(strings.TrimSpace(q.Attributes.Get("alt")), alt)
			if q != p && same && !q.Background && page.PictureAddress(q) != page.PictureAddress(p) {
				fs = append(
					fs,
					Finding{
						Level: Look,
						Part:  p.ID,
						Words: alt,
						Say: fmt.Sprintf(
							"Another picture on the page, %s, has the same alternative text. Say what sets this one apart.",
							path.Base(page.PictureAddress(q)),
						),
					},
				)
				break
			}
		}
	}
	for _, e := range s.Edits {
		if e.Was == nil || e.Now == nil || e.Now.Kind != page.Picture || e.Now.Background ||
			page.PictureAddress(e.Was) == page.PictureAddress(e.Now) {
			continue
		}
		i := -1
		for k, p := range s.After.All {
			if page.PictureAddress(p) == page.PictureAddress(e.Now) && p.Kind == page.Picture && !p.Node.Is("source") {
				i = k
			}
		}
		if i < 0 {
			continue
		}
		if now := s.After.All[i]; now.Attributes.Get("alt") == e.Was.Attributes.Get("alt") &&
			now.Attributes.Get("alt") != "" {
			fs = append(
				fs,
				Finding{
					Level: Look,
					Part:  now.ID,
					Words: now.Attributes.Get("alt"),
					Say: fmt.Sprintf(
						"The picture is new, its alternative text is the old one: “%s”. Is it still true?",
						now.Attributes.Get("alt"),
					),
				},
			)
		}
	}
	return fs
}
