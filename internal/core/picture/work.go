package picture

import (
	"bytes"
	"image"
	"image/color"
	"image/gif"
	"image/jpeg"
	"image/png"
	"math"
	"strconv"
	"strings"

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
	Format     string  `json:"format,omitempty"`     // jpeg or png; empty for its own
	Quality    int     `json:"quality,omitempty"`    // of JPEG, 1 to 100; 0 for 82
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

// steepest is the largest angle by which a picture is straightened; beyond it another turn is meant.
const steepest = 45

// Do does work on a picture. The error is a *refusal.Refusal.
func Do(b []byte, w Work) ([]byte, Info, error) {
	i, err := Look(b)
	if err != nil {
		return nil, i, err
	}
	switch {
	case i.Media == "image/svg+xml":
		return nil, i, refuse("A drawing has no points to turn or cut; its size is set on the page.")
	case i.Animated:
		return nil, i, refuse("The picture moves. Mendry keeps such pictures as they are.")
	}
	m, err := decode(b, i)
	if err != nil {
		return nil, i, err
	}
	m = upright(m, i.Orientation)
	if m, err = w.shape(m); err != nil {
		return nil, i, err
	}
	format := w.Format
	if format == "" {
		if format = strings.TrimPrefix(i.Media, "image/"); format == "webp" {
			format = "png"
			if !i.Alpha {
				format = "jpeg"
			}
		}
	}
	out, err := encode(m, format, w.Quality)
	if err != nil {
		return nil, i, err
	}
	i, err = Look(out)
	return out, i, err
}

func refuse(say string, args ...any) error { return refusal.New(refusal.Rule, say, args...) }

// upright turns a picture as its orientation says that it is shown (CIPA DC-008, 4.6.5, Orientation).
func upright(m image.Image, orientation int) image.Image {
	switch orientation {
	case 2:
		return flip(m, true)
	case 3:
		return turn(m, 180)
	case 4:
		return flip(m, false)
	case 5:
		return flip(turn(m, 90), true)
	case 6:
		return turn(m, 90)
	case 7:
		return flip(turn(m, 270), true)
	case 8:
		return turn(m, 270)
	}
	return m
}

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
			return nil, refuse("What is to be kept does not lie in the picture, which is %d × %d by then.", size.X, size.Y)
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

// blank is an empty picture of the kind that m is best kept in.
func blank(m image.Image, r image.Rectangle) draw.Image {
	switch p := m.(type) {
	case *image.Paletted:
		return image.NewPaletted(r, p.Palette)
	case *image.Gray:
		return image.NewGray(r)
	}
	return image.NewNRGBA(r)
}

// mapped makes a picture of a size whose points are those of another one.
func mapped(m image.Image, size image.Point, from func(x, y int) (int, int)) image.Image {
	b := m.Bounds()
	out := blank(m, image.Rectangle{Max: size})
	if p, ok := m.(*image.Paletted); ok {
		o := out.(*image.Paletted)
		for y := range size.Y {
			for x := range size.X {
				fx, fy := from(x, y)
				o.SetColorIndex(x, y, p.ColorIndexAt(b.Min.X+fx, b.Min.Y+fy))
			}
		}
		return out
	}
	for y := range size.Y {
		for x := range size.X {
			fx, fy := from(x, y)
			out.Set(x, y, m.At(b.Min.X+fx, b.Min.Y+fy))
		}
	}
	return out
}

// turn turns a picture clockwise.
func turn(m image.Image, degrees int) image.Image {
	s := m.Bounds().Size()
	switch degrees {
	case 90:
		return mapped(m, image.Pt(s.Y, s.X), func(x, y int) (int, int) { return y, s.Y - 1 - x })
	case 180:
		return mapped(m, s, func(x, y int) (int, int) { return s.X - 1 - x, s.Y - 1 - y })
	}
	return mapped(m, image.Pt(s.Y, s.X), func(x, y int) (int, int) { return s.X - 1 - y, x })
}

func flip(m image.Image, horizontal bool) image.Image {
	s := m.Bounds().Size()
	if horizontal {
		return mapped(m, s, func(x, y int) (int, int) { return s.X - 1 - x, y })
	}
	return mapped(m, s, func(x, y int) (int, int) { return x, s.Y - 1 - y })
}

func crop(m image.Image, c image.Rectangle) image.Image {
	return mapped(m, c.Size(), func(x, y int) (int, int) { return c.Min.X + x, c.Min.Y + y })
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
	out := image.NewNRGBA(image.Rect(0, 0, ow, oh))
	sin, cos := math.Sin(a), math.Cos(a)
	cx, cy := float64(b.Min.X)+w/2, float64(b.Min.Y)+h/2
	draw.CatmullRom.Transform(out, f64.Aff3{
		cos, -sin, float64(ow)/2 - cos*cx + sin*cy,
		sin, cos, float64(oh)/2 - sin*cx - cos*cy,
	}, m, b, draw.Src, nil)
	return out
}

// shrink makes a picture smaller, its shape kept.
func shrink(m image.Image, width int) image.Image {
	b := m.Bounds()
	height := max(1, int(math.Round(float64(b.Dy())*float64(width)/float64(b.Dx()))))
	out := image.NewNRGBA(image.Rect(0, 0, width, height))
	draw.CatmullRom.Scale(out, out.Bounds(), m, b, draw.Src, nil)
	p, ok := m.(*image.Paletted)
	if !ok {
		return out
	}
	few := image.NewPaletted(out.Bounds(), p.Palette)
	draw.FloydSteinberg.Draw(few, few.Bounds(), out, image.Point{})
	return few
}

// encode writes a picture. Nothing goes into it but its points: no place, no camera, no thumbnail.
func encode(m image.Image, format string, quality int) ([]byte, error) {
	if quality == 0 {
		quality = usualQuality
	}
	if quality < 1 || quality > 100 {
		return nil, refuse("Quality is a number from 1 to 100.")
	}
	var b bytes.Buffer
	var err error
	switch format {
	case "jpeg":
		err = jpeg.Encode(&b, onWhite(m), &jpeg.Options{Quality: quality})
	case "png":
		err = png.Encode(&b, m)
	case "gif":
		err = gif.Encode(&b, m, nil)
	default:
		return nil, refuse("A picture is written as jpeg or png.")
	}
	return b.Bytes(), err
}

// onWhite lays what can be seen through on white, since JPEG knows nothing of that.
func onWhite(m image.Image) image.Image {
	if o, ok := m.(interface{ Opaque() bool }); ok && o.Opaque() {
		return m
	}
	out := image.NewRGBA(image.Rectangle{Max: m.Bounds().Size()})
	draw.Draw(out, out.Bounds(), image.NewUniform(color.White), image.Point{}, draw.Src)
	draw.Draw(out, out.Bounds(), m, m.Bounds().Min, draw.Over)
	return out
}
