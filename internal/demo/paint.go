package demo

import (
	"bytes"
	"image"
	"image/color"
	"image/draw"
	"image/jpeg"
	"image/png"
	"math"
	"math/rand"

	"golang.org/x/image/vector"
)

// canvas draws flat pictures with soft edges; everything on the demo's sites is drawn with it.
type canvas struct {
	img  *image.RGBA
	w, h float64
	r    *rand.Rand
}

func newCanvas(w, h int, seed int64) *canvas {
	return &canvas{img: image.NewRGBA(image.Rect(0, 0, w, h)), w: float64(w), h: float64(h), r: rand.New(rand.NewSource(seed))}
}

func rgb(hex uint32) color.RGBA {
	return color.RGBA{uint8(hex >> 16), uint8(hex >> 8), uint8(hex), 255}
}

func mix(a, b color.RGBA, t float64) color.RGBA {
	f := func(x, y uint8) uint8 { return uint8(float64(x) + (float64(y)-float64(x))*t) }
	return color.RGBA{f(a.R, b.R), f(a.G, b.G), f(a.B, b.B), 255}
}

// sky fills from top to bottom with a run of colours.
func (c *canvas) sky(from, to float64, colours ...color.RGBA) {
	for y := int(from); y < int(to); y++ {
		t := (float64(y) - from) / (to - from) * float64(len(colours)-1)
		i := min(int(t), len(colours)-2)
		line := mix(colours[i], colours[i+1], t-float64(i))
		for x := 0; x < int(c.w); x++ {
			n := int8(c.r.Intn(5) - 2) // grain, as of a photograph
			c.img.SetRGBA(x, y, color.RGBA{add(line.R, n), add(line.G, n), add(line.B, n), 255})
		}
	}
}

func add(v uint8, n int8) uint8 { return uint8(max(0, min(255, int(v)+int(n)))) }

// shape fills a polygon; points are fractions of the picture.
func (c *canvas) shape(col color.Color, pts ...float64) {
	x0, y0, x1, y1 := c.w, c.h, 0.0, 0.0
	for i := 0; i+1 < len(pts); i += 2 {
		x0, x1 = min(x0, pts[i]*c.w), max(x1, pts[i]*c.w)
		y0, y1 = min(y0, pts[i+1]*c.h), max(y1, pts[i+1]*c.h)
	}
	box := image.Rect(int(x0)-1, int(y0)-1, int(x1)+2, int(y1)+2).Intersect(c.img.Bounds()) // only this much is drawn
	if box.Empty() {
		return
	}
	z := vector.NewRasterizer(box.Dx(), box.Dy())
	for i := 0; i+1 < len(pts); i += 2 {
		x, y := float32(pts[i]*c.w)-float32(box.Min.X), float32(pts[i+1]*c.h)-float32(box.Min.Y)
		if i == 0 {
			z.MoveTo(x, y)
		} else {
			z.LineTo(x, y)
		}
	}
	z.ClosePath()
	z.Draw(c.img, box, image.NewUniform(col), image.Point{})
}

// disc fills an ellipse with radii in fractions of the height.
func (c *canvas) disc(col color.Color, x, y, rx, ry float64) {
	var pts []float64
	for i := range 72 {
		a := float64(i) / 72 * 2 * math.Pi
		pts = append(pts, x+math.Cos(a)*rx*c.h/c.w, y+math.Sin(a)*ry)
	}
	c.shape(col, pts...)
}

// hills draws a ridge at height y with waves of the given size.
func (c *canvas) hills(col color.Color, y, size, waves float64) {
	phase := c.r.Float64() * 6
	pts := []float64{0, 1}
	for i := 0; i <= 160; i++ {
		x := float64(i) / 160
		v := math.Sin(x*waves+phase)*0.6 + math.Sin(x*waves*2.3+phase*2)*0.3 + math.Sin(x*waves*5.1)*0.1
		pts = append(pts, x, y-size*(v+1)/2)
	}
	c.shape(col, append(pts, 1, 1)...)
}

// ripples draws short lines of light on water.
func (c *canvas) ripples(col color.RGBA, from float64, n int) {
	for range n {
		y := from + (1-from)*c.r.Float64()
		x, l := c.r.Float64(), 0.01+0.05*c.r.Float64()*(y-from+0.2)
		t := 0.0016 + 0.003*(y-from)
		c.shape(color.NRGBA{col.R, col.G, col.B, 110}, x, y, x+l/2, y-t, x+l, y, x+l/2, y+t)
	}
}

// ferry draws a boat whose keel is at (x, y), s wide, in fractions of the width.
func (c *canvas) ferry(hull, top color.RGBA, x, y, s float64) {
	v := s * c.w / c.h
	c.shape(hull, x, y-0.16*v, x+s, y-0.16*v, x+0.9*s, y, x+0.08*s, y)
	c.shape(rgb(0xf7f3ea), x, y-0.16*v, x+s, y-0.16*v, x+0.985*s, y-0.135*v, x+0.012*s, y-0.135*v)
	c.shape(top, x+0.14*s, y-0.3*v, x+0.78*s, y-0.3*v, x+0.83*s, y-0.16*v, x+0.12*s, y-0.16*v)
	for i := range 7 {
		wx := x + (0.18+0.085*float64(i))*s
		c.shape(rgb(0x2e4a5e), wx, y-0.265*v, wx+0.05*s, y-0.265*v, wx+0.05*s, y-0.205*v, wx, y-0.205*v)
	}
	c.shape(rgb(0xc2452d), x+0.36*s, y-0.42*v, x+0.45*s, y-0.42*v, x+0.45*s, y-0.3*v, x+0.36*s, y-0.3*v)
	c.shape(color.NRGBA{255, 255, 255, 120}, x-0.12*s, y+0.01*v, x+1.1*s, y-0.004*v, x+1.2*s, y+0.02*v, x-0.2*s, y+0.035*v)
}

func sea(w, h int, seed int64, evening bool, boat func(*canvas)) *canvas {
	c := newCanvas(w, h, seed)
	if evening {
		c.sky(0, c.h*0.62, rgb(0x3a4a78), rgb(0xc98a86), rgb(0xf3cf9c))
		c.disc(rgb(0xffe9bf), 0.7, 0.5, 0.07, 0.07)
	} else {
		c.sky(0, c.h*0.62, rgb(0x8fbfdc), rgb(0xc5dfea), rgb(0xeaf1ee))
		c.disc(color.NRGBA{255, 255, 255, 150}, 0.22, 0.2, 0.2, 0.05)
		c.disc(color.NRGBA{255, 255, 255, 120}, 0.3, 0.24, 0.24, 0.04)
	}
	c.hills(rgb(0x8ea7b4), 0.6, 0.14, 7)
	c.hills(rgb(0x5f8079), 0.61, 0.08, 11)
	c.sky(c.h*0.6, c.h, rgb(0x4e8aa8), rgb(0x2d6285), rgb(0x1d4666))
	c.ripples(rgb(0xdcebf0), 0.62, 260)
	if boat != nil {
		boat(c)
	}
	return c
}

func island(w, h int, seed int64, light bool) *canvas {
	c := sea(w, h, seed, seed%2 == 0, nil)
	c.shape(rgb(0x4d6b4a), 0.2, 0.66, 0.3, 0.5, 0.42, 0.44, 0.56, 0.48, 0.7, 0.56, 0.84, 0.66, 0.6, 0.7, 0.35, 0.7)
	c.shape(rgb(0x7d8d6a), 0.3, 0.5, 0.42, 0.44, 0.56, 0.48, 0.48, 0.56, 0.36, 0.57)
	c.shape(rgb(0xd9c9a1), 0.34, 0.68, 0.5, 0.65, 0.68, 0.67, 0.6, 0.705, 0.4, 0.705)
	if light {
		c.shape(rgb(0xf5f0e4), 0.44, 0.46, 0.452, 0.24, 0.474, 0.24, 0.486, 0.46)
		c.shape(rgb(0xb8402c), 0.447, 0.34, 0.4495, 0.3, 0.4765, 0.3, 0.479, 0.34)
		c.shape(rgb(0x28323e), 0.448, 0.24, 0.463, 0.18, 0.478, 0.24)
	}
	return c
}

func wall(w, h int, seed int64) *canvas {
	c := newCanvas(w, h, seed)
	c.sky(0, c.h, rgb(0x4a3c34), rgb(0x6d5748), rgb(0x8a6f58))
	planes := []uint32{0xb7a48c, 0xcdbba1, 0xa08d77, 0xd8c9b0, 0x93806b}
	for i := range 5 {
		x := float64(i) * 0.22
		c.shape(rgb(planes[i]), x-0.06, 0.02+0.05*c.r.Float64(), x+0.2, 0.04, x+0.26, 0.9, x-0.02, 0.9)
	}
	c.shape(rgb(0x2f3b52), 0, 0.86, 1, 0.86, 1, 1, 0, 1)
	holds := []uint32{0xd2492a, 0x2f7f8a, 0xe0a92e, 0x5b8c3a, 0x7b4a9c, 0xf0ece2}
	for range 70 {
		x, y, s := c.r.Float64(), 0.08+0.74*c.r.Float64(), 0.012+0.02*c.r.Float64()
		c.disc(color.NRGBA{20, 16, 14, 70}, x+0.004, y+0.012, s, s*0.8)
		c.disc(rgb(holds[c.r.Intn(len(holds))]), x, y, s, s*0.8)
	}
	return c
}

func night(w, h int, seed int64, dome bool) *canvas {
	c := newCanvas(w, h, seed)
	c.sky(0, c.h, rgb(0x0b1030), rgb(0x1c2560), rgb(0x4b3f7c), rgb(0xb0708a))
	for range 420 {
		s := 0.0008 + 0.0022*c.r.Float64()*c.r.Float64()
		c.disc(color.NRGBA{255, 250, 235, uint8(120 + c.r.Intn(135))}, c.r.Float64(), c.r.Float64()*0.8, s, s)
	}
	for range 60 {
		t := c.r.Float64()
		c.disc(color.NRGBA{200, 190, 255, 10}, 0.1+0.8*t, 0.62-0.5*t+0.1*c.r.Float64(), 0.12, 0.06)
	}
	c.hills(rgb(0x1a1c3a), 0.86, 0.1, 6)
	c.hills(rgb(0x0e1024), 0.94, 0.08, 9)
	if dome {
		c.shape(rgb(0x2b2f55), 0.62, 0.86, 0.62, 0.68, 0.82, 0.68, 0.82, 0.86)
		c.disc(rgb(0xc9cbe0), 0.72, 0.68, 0.2, 0.22)
		c.shape(rgb(0x2b2f55), 0.6, 0.7, 0.84, 0.7, 0.84, 0.92, 0.6, 0.92)
		c.shape(rgb(0x11142b), 0.705, 0.47, 0.735, 0.47, 0.745, 0.69, 0.7, 0.69)
		c.shape(rgb(0xf2c869), 0.655, 0.8, 0.675, 0.8, 0.675, 0.86, 0.655, 0.86)
	}
	return c
}

func planet(w, h int, seed int64, base, ring uint32) *canvas {
	c := night(w, h, seed, false)
	c.disc(rgb(base), 0.5, 0.46, 0.26, 0.26)
	for i := range 5 {
		y := 0.3 + 0.08*float64(i)
		half := math.Sqrt(max(0, 0.26*0.26-(y-0.46)*(y-0.46))) * c.h / c.w
		c.shape(color.NRGBA{255, 255, 255, 34}, 0.5-half, y, 0.5+half, y, 0.5+half*0.98, y+0.025, 0.5-half*0.98, y+0.025)
	}
	if ring != 0 {
		r := rgb(ring)
		c.shape(color.NRGBA{r.R, r.G, r.B, 210}, 0.2, 0.52, 0.5, 0.475, 0.8, 0.4, 0.82, 0.42, 0.5, 0.51, 0.2, 0.55)
	}
	return c
}

func (c *canvas) jpeg(quality int) []byte {
	var b bytes.Buffer
	_ = jpeg.Encode(&b, c.img, &jpeg.Options{Quality: quality}) // into memory: cannot fail
	return b.Bytes()
}

func (c *canvas) png() []byte {
	var b bytes.Buffer
	small := image.NewRGBA(c.img.Bounds())
	draw.Draw(small, small.Bounds(), c.img, image.Point{}, draw.Src)
	_ = png.Encode(&b, small) // into memory: cannot fail
	return b.Bytes()
}
