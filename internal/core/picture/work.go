package picture

import (
	"cmp"
	"image"
	"image/color"
	"maps"
	"math"
	"slices"
	"strconv"
	"strings"

	"github.com/soniakeys/quant/median"
	"golang.org/x/image/draw"
	"golang.org/x/image/math/f64"

	"mendry/internal/core/refusal"
)

// Work is what is done to a picture, always to the untouched original, in the order in which it stands here. The zero
// value makes no change but that the picture stands upright and holds no private data any more.
type Work struct {
	Turn       int     `json:"turn,omitempty"`       // clockwise, in degrees: 90, 180 or 270
	Flip       string  `json:"flip,omitempty"`       // horizontal or vertical
	Straighten float64 `json:"straighten,omitempty"` // clockwise, in degrees, up to 45; the largest picture of the same shape is kept
	Crop       *Rect   `json:"crop,omitempty"`       // in pixels of the picture as it is by then
	Shape      string  `json:"shape,omitempty"`      // width to height, like 16:9: the largest part of it around Focus is kept
	Focus      *Point  `json:"focus,omitempty"`      // what is to stay in the middle; nil for the middle of the picture
	Width      int     `json:"width,omitempty"`      // pixels; a picture is never made larger
	Percent    float64 `json:"percent,omitempty"`    // of its width, up to 100
	Format     string  `json:"format,omitempty"`     // jpeg, png or webp; empty for its own
	Quality    int     `json:"quality,omitempty"`    // of JPEG and WebP, 1 to 100; 0 for 82
	Weight     int     `json:"weight,omitempty"`     // bytes that it may have at most; 0 for no limit
}

// Rect is a part of a picture, in pixels.
type Rect struct {
	X      int `json:"x"`
	Y      int `json:"y"`
	Width  int `json:"width"`
	Height int `json:"height"`
}

// Point is a place on a picture, from 0 to 1 in both directions.
type Point struct {
	X float64 `json:"x"`
	Y float64 `json:"y"`
}

// usualQuality is one at which photographs are a quarter of their full weight and look the same (common practice, no
// source).
const usualQuality = 82

// fullest is the quality above which photographs only weigh more (common practice, no source).
const fullest = 95

// steepest is the largest angle by which a picture is straightened; beyond it another turn is meant.
const steepest = 45

// Done is a picture that was worked on.
type Done struct {
	Bytes []byte
	Info  Info
	Said  []string // what else was done to it, in words
}

// plain reports whether nothing is asked but that the picture can go out.
func (w Work) plain() bool { return w == Work{} }

// Do does work on a picture. One of which nothing is asked keeps its points as they are. The error is a
// *refusal.Refusal.
func Do(b []byte, w Work) (Done, error) {
	i, err := Look(b)
	if err != nil {
		return Done{}, err
	}
	switch {
	case w.plain() && i.Media == SVG:
		out, dropped, err := CleanSVG(b)
		return finished(out, left(dropped), err)
	case i.Media == SVG:
		return Done{}, refuse("A drawing has no points to turn or cut; its size is set on the page.")
	case w.plain() && (i.Animated || i.Media == "image/avif"):
		return finished(b, nil, nil)
	case i.Animated:
		return Done{}, refuse("The picture moves. Mendry keeps such pictures as they are.")
	case i.Media == "image/avif":
		return Done{}, refuse(
			"Mendry does not work on AVIF pictures. Put it on the page as it is, or send it as JPEG, PNG or WebP.",
		)
	}
	m, err := decode(b, i)
	if err != nil {
		return Done{}, err
	}
	profile, said := profileOf(b, i.Media), left(i.Private)
	c, byMatrix := readColours(profile)
	if byMatrix && c.same() {
		profile, byMatrix = nil, false // sRGB is what a picture without a profile has (CSS Color 4, 12.2)
	}
	if w.plain() && i.Orientation == 1 && !byMatrix {
		return finished(stripped(b, i.Media), said, nil)
	}
	if m, err = w.shape(upright(normal(m), i.Orientation)); err != nil {
		return Done{}, err
	}
	out := output{format: cmp.Or(w.Format, strings.TrimPrefix(i.Media, "image/")), quality: w.Quality, most: w.Weight}
	if _, grey := m.(*image.Gray); byMatrix && !grey {
		c.convert(m)
		said = append(said, "colours taken from "+i.Profile+" to sRGB")
		profile = nil
	} else if grey && (!ofGrey(profile) || out.format == "webp") {
		profile = nil // points without a colour are shown as those of sRGB
	}
	out.profile = profile
	if w.plain() && i.Media == "image/jpeg" {
		out.quality = min(qualityOf(b), fullest) // it is only turned: it is to look as it did
	}
	if profile != nil {
		said = append(said, "colours kept as "+i.Profile)
	}
	made, more, err := out.write(m)
	return finished(made, append(said, more...), err)
}

// left says what was left out.
func left(dropped []string) []string {
	if len(dropped) == 0 {
		return nil
	}
	return []string{"left out: " + strings.Join(dropped, ", ")}
}

func finished(b []byte, said []string, err error) (Done, error) {
	if err != nil {
		return Done{}, err
	}
	i, err := Look(b)
	return Done{b, i, said}, err
}

func refuse(say string, args ...any) error { return refusal.New(refusal.Rule, say, args...) }

// shape does all of the work but the writing.
func (w Work) shape(m image.Image) (image.Image, error) {
	switch w.Turn {
	case 0:
	case 90, 180, 270:
		m = turn(m, w.Turn)
	default:
		return nil, refuse("A picture is turned by 90, 180 or 270 degrees.")
	}
	switch w.Flip {
	case "":
	case "horizontal", "vertical":
		m = flip(m, w.Flip == "horizontal")
	default:
		return nil, refuse("A picture is flipped horizontally or vertically.")
	}
	if math.IsNaN(w.Straighten) || math.Abs(w.Straighten) > steepest {
		return nil, refuse("A picture is straightened by up to %d degrees.", steepest)
	}
	if w.Straighten != 0 {
		m = straighten(m, w.Straighten)
	}
	if w.Crop != nil {
		c := image.Rect(w.Crop.X, w.Crop.Y, w.Crop.X+w.Crop.Width, w.Crop.Y+w.Crop.Height)
		size := m.Bounds().Size()
		if w.Crop.Width <= 0 || w.Crop.Height <= 0 || !c.In(image.Rectangle{Max: size}) {
			return nil, refuse(
				"What is to be kept does not lie in the picture, which is %d × %d by then.",
				size.X,
				size.Y,
			)
		}
		m = crop(m, c)
	}
	if w.Shape != "" {
		c, err := around(m.Bounds().Size(), w.Shape, w.Focus)
		if err != nil {
			return nil, err
		}
		m = crop(m, c)
	}
	size := m.Bounds().Size()
	width := size.X
	if w.Percent < 0 || w.Percent > 100 || w.Width < 0 || math.IsNaN(w.Percent) {
		return nil, refuse("A picture is made smaller: to a width in points, or to a percentage up to 100.")
	}
	if w.Percent > 0 {
		width = max(1, int(math.Round(float64(size.X)*w.Percent/100)))
	}
	if w.Width > 0 {
		width = min(width, w.Width)
	}
	if width < size.X {
		m = shrink(m, width)
	}
	return m, nil
}

// around is the largest part of a shape that a picture has around a focus.
func around(size image.Point, shape string, focus *Point) (image.Rectangle, error) {
	ws, hs, ok := strings.Cut(shape, ":")
	w, errW := strconv.ParseFloat(strings.TrimSpace(ws), 64)
	h, errH := strconv.ParseFloat(strings.TrimSpace(hs), 64)
	if !ok || errW != nil || errH != nil || !(w > 0) || !(h > 0) || w/h > 100 || h/w > 100 {
		return image.Rectangle{}, refuse("“%s” is no shape. Write it like 16:9, width first.", shape)
	}
	at := Point{0.5, 0.5}
	if focus != nil {
		at = *focus
	}
	if !(at.X >= 0 && at.X <= 1 && at.Y >= 0 && at.Y <= 1) {
		return image.Rectangle{}, refuse("The focus does not lie in the picture.")
	}
	kw, kh := size.X, max(1, int(math.Round(float64(size.X)*h/w)))
	if kh > size.Y {
		kw, kh = max(1, int(math.Round(float64(size.Y)*w/h))), size.Y
	}
	place := func(all, kept int, at float64) int {
		return min(max(int(math.Round(float64(all)*at-float64(kept)/2)), 0), all-kept)
	}
	x, y := place(size.X, kw, at.X), place(size.Y, kh, at.Y)
	return image.Rect(x, y, x+kw, y+kh), nil
}

// kept is how much of width and height is left of a picture that is straightened by an angle: the largest rectangle of
// the same shape in the one that is turned, by what of it the turned edges leave in either direction.
func kept(w, h, radians float64) float64 {
	sin, cos := math.Abs(math.Sin(radians)), math.Cos(radians)
	return min(w/(w*cos+h*sin), h/(w*sin+h*cos))
}

// straighten turns a picture clockwise by a few degrees and keeps the largest part of the same shape.
func straighten(m image.Image, degrees float64) image.Image {
	b := m.Bounds()
	w, h, a := float64(b.Dx()), float64(b.Dy()), degrees*math.Pi/180
	by := kept(w, h, a)
	ow, oh := max(1, int(w*by)), max(1, int(h*by))
	out, opaque := canvas(m, ow, oh)
	sin, cos := math.Sin(a), math.Cos(a)
	cx, cy := float64(b.Min.X)+w/2, float64(b.Min.Y)+h/2
	draw.CatmullRom.Transform(out, f64.Aff3{
		cos, -sin, float64(ow)/2 - cos*cx + sin*cy,
		sin, cos, float64(oh)/2 - sin*cx - cos*cy,
	}, m, b, draw.Src, nil)
	return opaque(out)
}

// shrink makes a picture smaller, its shape kept.
func shrink(m image.Image, width int) image.Image {
	b := m.Bounds()
	height := max(1, int(math.Round(float64(b.Dy())*float64(width)/float64(b.Dx()))))
	out, opaque := canvas(m, width, height)
	draw.CatmullRom.Scale(out, out.Bounds(), m, b, draw.Src, nil)
	p, ok := m.(*image.Paletted)
	if !ok {
		return opaque(out)
	}
	few := image.NewPaletted(out.Bounds(), withBetween(p.Palette, out))
	draw.FloydSteinberg.Draw(few, few.Bounds(), out, image.Point{})
	return few
}

// toSample is how wide and high, in points, a picture is looked at for its colours: enough for each that is seen.
const toSample = 300

// withBetween fills a palette up with the colours that come between its own where a picture was made smaller: of black
// and white these are greys.
func withBetween(own color.Palette, m image.Image) color.Palette {
	free := 256 - len(own)
	if free <= 0 {
		return own
	}
	size := m.Bounds().Size()
	sample := image.NewNRGBA(image.Rect(0, 0, min(size.X, toSample), min(size.Y, toSample)))
	draw.NearestNeighbor.Scale(sample, sample.Bounds(), m, m.Bounds(), draw.Src, nil)
	between := commonest(sample)
	if isOpaque(sample) && len(between) > free { // the library heeds no transparency
		between = median.Quantizer(free).Quantize(make(color.Palette, 0, free), sample)
	}
	own = slices.Clip(own)
	for _, c := range between {
		if len(own) < 256 && !slices.Contains(own, c) {
			own = append(own, c)
		}
	}
	return own
}

// commonest lists the colours of a picture, the commonest first.
func commonest(m *image.NRGBA) color.Palette {
	count := map[color.NRGBA]int{}
	for i := 0; i < len(m.Pix); i += 4 {
		count[color.NRGBA{m.Pix[i], m.Pix[i+1], m.Pix[i+2], m.Pix[i+3]}]++
	}
	all := slices.SortedFunc(maps.Keys(count), func(a, b color.NRGBA) int {
		return cmp.Or(count[b]-count[a], int(a.R)-int(b.R), int(a.G)-int(b.G), int(a.B)-int(b.B), int(a.A)-int(b.A))
	})
	palette := make(color.Palette, len(all))
	for i, c := range all {
		palette[i] = c
	}
	return palette
}
