package demo

import (
	"bytes"
	"encoding/binary"
	"image"
	"image/color"
	"math"
	"strconv"
	"strings"

	"golang.org/x/image/vector"
)

// path fills an outline: M, L, C and Z as in SVG 2, 9.3, in fractions of the picture.
func (c *canvas) path(col color.Color, d string) {
	z := vector.NewRasterizer(c.img.Bounds().Dx(), c.img.Bounds().Dy())
	f := strings.Fields(d)
	xy := func(i int) (float32, float32) {
		x, _ := strconv.ParseFloat(f[i], 64)
		y, _ := strconv.ParseFloat(f[i+1], 64)
		return float32(x * c.w), float32(y * c.h)
	}
	for i := 0; i < len(f); {
		switch f[i] {
		case "M":
			z.MoveTo(xy(i + 1))
			i += 3
		case "L":
			z.LineTo(xy(i + 1))
			i += 3
		case "C":
			bx, by := xy(i + 1)
			cx, cy := xy(i + 3)
			dx, dy := xy(i + 5)
			z.CubeTo(bx, by, cx, cy, dx, dy)
			i += 7
		default:
			z.ClosePath()
			i++
		}
	}
	z.Draw(c.img, c.img.Bounds(), image.NewUniform(col), image.Point{})
}

// ring draws the line of an ellipse, thick in fractions of the height.
func (c *canvas) ring(col color.Color, x, y, rx, ry, thick float64) {
	const n = 72
	for i := range n {
		a, b := float64(i)/n*2*math.Pi, float64(i+1)/n*2*math.Pi
		px := func(a, r float64) float64 { return x + math.Cos(a)*(rx+r)*c.h/c.w }
		py := func(a, r float64) float64 { return y + math.Sin(a)*(ry+r) }
		c.shape(col, px(a, 0), py(a, 0), px(b, 0), py(b, 0), px(b, thick), py(b, thick), px(a, thick), py(a, thick))
	}
}

// trees draws a row of round trees whose feet are at y.
func (c *canvas) trees(col color.RGBA, y, size float64, n int) {
	for range n {
		x, s := c.r.Float64()*1.1-0.05, size*(0.6+0.7*c.r.Float64())
		tone := mix(col, rgb(0xffffff), 0.12*c.r.Float64())
		c.shape(rgb(0x4a3a2a), x-0.003, y, x-0.003, y-s*0.6, x+0.003, y-s*0.6, x+0.003, y)
		for range 5 {
			c.disc(tone, x+(c.r.Float64()-0.5)*s*0.5, y-s*(0.7+0.5*c.r.Float64()), s*0.42, s*0.38)
		}
		c.disc(mix(tone, rgb(0xffffff), 0.16), x-s*0.08, y-s*1.05, s*0.26, s*0.2)
	}
}

// canal draws a narrow boat on a canal under trees.
func canal(w, h int, seed int64, hull, cabin uint32) *canvas {
	c := newCanvas(w, h, seed)
	c.sky(0, c.h*0.5, rgb(0xa9cfe0), rgb(0xd9e9e6), rgb(0xf3eedd))
	c.hills(rgb(0x9db59a), 0.47, 0.1, 5)
	c.trees(rgb(0x6f9160), 0.5, 0.17, 16)
	c.trees(rgb(0x4f7648), 0.55, 0.2, 9)
	c.shape(rgb(0x9fae72), 0, 0.54, 1, 0.54, 1, 0.61, 0, 0.61)
	c.shape(rgb(0xcdb98f), 0, 0.6, 1, 0.59, 1, 0.625, 0, 0.63)
	c.sky(c.h*0.63, c.h, rgb(0x7c9a86), rgb(0x567a70), rgb(0x3b5d5a))
	c.ripples(rgb(0xe6efe2), 0.66, 170)
	body, top := rgb(hull), rgb(cabin)
	const x, y, s = 0.1, 0.76, 0.8
	c.shape(color.NRGBA{20, 34, 30, 90}, x+0.02, y, x+s-0.02, y, x+s-0.06, y+0.07, x+0.08, y+0.07)
	c.path(body, "M .085 .665 L .93 .665 C .925 .71 .91 .75 .885 .765 L .13 .765 C .105 .75 .09 .71 .085 .665 Z")
	c.shape(mix(body, rgb(0xffffff), 0.25), 0.085, 0.665, 0.93, 0.665, 0.928, 0.677, 0.087, 0.677)
	c.shape(top, 0.2, 0.56, 0.8, 0.56, 0.815, 0.667, 0.185, 0.667)
	c.shape(mix(top, rgb(0xffffff), 0.5), 0.19, 0.552, 0.81, 0.552, 0.812, 0.57, 0.188, 0.57)
	for i := range 6 {
		wx := 0.245 + 0.09*float64(i)
		c.disc(rgb(0xe8d9a8), wx+0.02, 0.615, 0.036, 0.036)
		c.disc(rgb(0x3d5560), wx+0.02, 0.615, 0.028, 0.028)
		c.disc(color.NRGBA{255, 255, 255, 90}, wx+0.016, 0.605, 0.01, 0.008)
	}
	c.shape(rgb(0x2b2a28), 0.3, 0.56, 0.302, 0.5, 0.318, 0.5, 0.32, 0.56)
	for i, col := range []uint32{0xc2452d, 0xe8b23a, 0xc2452d} { // flower pots on the roof
		fx := 0.55 + 0.05*float64(i)
		c.shape(rgb(0x8a5a3a), fx, 0.53, fx+0.022, 0.53, fx+0.018, 0.555, fx+0.004, 0.555)
		c.disc(rgb(col), fx+0.011, 0.518, 0.024, 0.02)
	}
	c.path(rgb(0xd7b25a), "M .83 .60 C .87 .59 .90 .60 .93 .62 L .928 .63 C .90 .612 .87 .602 .83 .612 Z")
	return c
}

// cabin draws the inside of a narrow boat.
func cabin(w, h int, seed int64) *canvas {
	c := newCanvas(w, h, seed)
	c.sky(0, c.h, rgb(0xc79a63), rgb(0xb5834c), rgb(0x8a5f36))
	for i := range 9 {
		y := float64(i) * 0.11
		c.shape(color.NRGBA{60, 36, 16, 60}, 0, y, 1, y, 1, y+0.006, 0, y+0.006)
	}
	for _, x := range []float64{0.14, 0.42} {
		c.shape(rgb(0xf2e3bd), x-0.015, 0.14, x+0.195, 0.14, x+0.195, 0.43, x-0.015, 0.43)
		c.shape(rgb(0xa9cfd8), x, 0.16, x+0.18, 0.16, x+0.18, 0.41, x, 0.41)
		c.shape(rgb(0x7fa377), x, 0.31, x+0.18, 0.29, x+0.18, 0.41, x, 0.41)
	}
	c.shape(rgb(0x23282c), 0.74, 0.42, 0.92, 0.42, 0.92, 0.82, 0.74, 0.82) // the stove
	c.shape(rgb(0x15181a), 0.8, 0, 0.84, 0, 0.84, 0.42, 0.8, 0.42)
	c.disc(rgb(0xf0a03a), 0.83, 0.62, 0.1, 0.1)
	c.disc(rgb(0xffd98a), 0.83, 0.64, 0.055, 0.06)
	c.shape(rgb(0x7a2a1b), 0, 0.66, 0.62, 0.66, 0.64, 0.84, 0, 0.84)
	c.shape(rgb(0x943626), 0, 0.6, 0.6, 0.6, 0.62, 0.68, 0, 0.68)
	for i := range 3 {
		x := 0.06 + 0.18*float64(i)
		c.disc(rgb([]uint32{0xe8d9a8, 0x2f6a5a, 0xe8d9a8}[i]), x, 0.57, 0.09, 0.07)
	}
	c.shape(rgb(0x5d3f22), 0, 0.84, 1, 0.84, 1, 1, 0, 1)
	return c
}

// lock draws a canal lock seen from below.
func lock(w, h int, seed int64) *canvas {
	c := canal(w, h, seed, 0x24323a, 0x3f6b57)
	c.shape(rgb(0x6d6a63), 0.3, 0.3, 0.7, 0.3, 0.74, 0.64, 0.26, 0.64)
	c.shape(rgb(0x2a241e), 0.4, 0.34, 0.6, 0.34, 0.61, 0.64, 0.39, 0.64)
	c.shape(rgb(0x14100c), 0.497, 0.34, 0.503, 0.34, 0.503, 0.64, 0.497, 0.64)
	c.shape(rgb(0xf2ede2), 0.12, 0.3, 0.47, 0.325, 0.47, 0.35, 0.12, 0.325)
	c.shape(rgb(0xf2ede2), 0.88, 0.3, 0.53, 0.325, 0.53, 0.35, 0.88, 0.325)
	return c
}

// stage draws a small stage with lanterns over it.
func stage(w, h int, seed int64) *canvas {
	c := newCanvas(w, h, seed)
	c.sky(0, c.h, rgb(0x140b1a), rgb(0x3a1f3c), rgb(0x7a3a3a))
	c.disc(color.NRGBA{255, 200, 110, 26}, 0.5, 0.55, 0.6, 0.45)
	c.disc(color.NRGBA{255, 210, 130, 30}, 0.5, 0.55, 0.4, 0.3)
	c.disc(rgb(0xf3e2b8), 0.66, 0.34, 0.13, 0.13)
	c.disc(rgb(0xe0c993), 0.645, 0.32, 0.03, 0.025)
	c.hills(rgb(0x4a2a4c), 0.72, 0.12, 6)
	for i, x := range []float64{0.2, 0.28, 0.37, 0.45} { // roofs of card
		y := 0.56 + 0.03*float64(i%2)
		c.shape(rgb(0x2a1730), x, 0.76, x, y, x+0.04, y-0.08, x+0.08, y, x+0.08, 0.76)
		c.shape(rgb(0xf5b84a), x+0.03, y+0.05, x+0.05, y+0.05, x+0.05, y+0.1, x+0.03, y+0.1)
	}
	c.shape(rgb(0x5b3a26), 0, 0.76, 1, 0.76, 1, 0.9, 0, 0.9)
	c.shape(rgb(0x7a5030), 0, 0.76, 1, 0.76, 1, 0.78, 0, 0.78)
	c.shape(rgb(0x120a14), 0, 0.9, 1, 0.9, 1, 1, 0, 1)
	for _, side := range []string{
		"M 0 0 L .13 0 C .11 .3 .15 .6 .09 .9 L 0 .9 Z", "M 1 0 L .87 0 C .89 .3 .85 .6 .91 .9 L 1 .9 Z",
	} {
		c.path(rgb(0x7a1f2b), side)
	}
	for _, fold := range []string{"M .03 0 L .05 0 C .05 .4 .06 .6 .04 .9 L .03 .9 Z", "M .95 0 L .97 0 C .96 .4 .95 .6 .97 .9 L .96 .9 Z"} {
		c.path(color.NRGBA{30, 4, 10, 90}, fold)
	}
	for i := range 9 {
		x, y := 0.17+0.0825*float64(i), 0.1+0.07*bow(float64(i)/8)
		c.shape(rgb(0x0c060e), x-0.0008, 0, x+0.0008, 0, x+0.0008, y, x-0.0008, y)
		c.disc(color.NRGBA{255, 200, 110, 40}, x, y+0.05, 0.09, 0.09)
		c.disc(rgb(0xf7c062), x, y+0.05, 0.028, 0.04)
		c.disc(rgb(0xffe9b0), x, y+0.055, 0.014, 0.022)
	}
	for i := range 11 { // heads of those who look on
		x := 0.04 + 0.092*float64(i) + 0.02*c.r.Float64()
		c.disc(rgb(0x07040a), x, 0.95, 0.045, 0.05)
		c.disc(rgb(0x07040a), x, 1.03, 0.09, 0.06)
	}
	return c
}

// poster draws a play's poster: a clock, a lantern, or a paper boat.
func poster(w, h int, seed int64, of string) *canvas {
	c := newCanvas(w, h, seed)
	switch of {
	case "clock":
		c.sky(0, c.h, rgb(0x2c1a33), rgb(0x7d3c3a), rgb(0xe0913f))
		c.disc(rgb(0xf6e6c4), 0.5, 0.4, 0.22, 0.22)
		c.ring(rgb(0x3a2430), 0.5, 0.4, 0.2, 0.2, 0.012)
		for i := range 12 {
			a := float64(i) / 6 * math.Pi
			c.disc(rgb(0x3a2430), 0.5+math.Sin(a)*0.175*c.h/c.w, 0.4-math.Cos(a)*0.175, 0.008, 0.008)
		}
		c.shape(rgb(0x3a2430), 0.49, 0.4, 0.5, 0.25, 0.51, 0.4)
		c.shape(rgb(0x8c2f1a), 0.5, 0.39, 0.64, 0.46, 0.5, 0.41)
		for i := range 6 {
			x := float64(i)*0.18 - 0.04
			y := 0.76 + 0.05*float64(i%3)
			c.shape(rgb(0x1b0f1f), x, 1, x, y, x+0.1, y-0.09, x+0.2, y, x+0.2, 1)
		}
	case "lantern":
		c.sky(0, c.h, rgb(0x10192f), rgb(0x30466b), rgb(0x9fb3c4))
		for range 120 {
			c.disc(color.NRGBA{255, 255, 255, 200}, c.r.Float64(), c.r.Float64(), 0.0035, 0.0035)
		}
		c.hills(rgb(0xdfe7ee), 0.82, 0.16, 3)
		c.hills(rgb(0xf4f7f9), 0.93, 0.1, 5)
		c.disc(color.NRGBA{255, 205, 110, 60}, 0.52, 0.6, 0.24, 0.24)
		c.shape(rgb(0x20150f), 0.45, 0.66, 0.59, 0.66, 0.57, 0.7, 0.47, 0.7)
		c.shape(rgb(0xf9cf73), 0.46, 0.52, 0.58, 0.52, 0.58, 0.66, 0.46, 0.66)
		c.shape(rgb(0x20150f), 0.44, 0.52, 0.52, 0.45, 0.6, 0.52)
		c.ring(rgb(0x20150f), 0.52, 0.435, 0.016, 0.016, 0.005)
	default:
		c.sky(0, c.h, rgb(0x0f3d42), rgb(0x2b7a72), rgb(0xbfe0c8))
		for i := range 5 {
			c.hills(mix(rgb(0x1c6660), rgb(0x0c3336), float64(i)/4), 0.62+0.09*float64(i), 0.05, 9-float64(i))
		}
		c.shape(rgb(0xf7f2e4), 0.26, 0.56, 0.74, 0.56, 0.64, 0.66, 0.36, 0.66)
		c.shape(rgb(0xe4dcc4), 0.5, 0.36, 0.64, 0.56, 0.36, 0.56)
		c.shape(rgb(0xcfc5a8), 0.5, 0.36, 0.64, 0.56, 0.5, 0.56)
	}
	return c
}

// kite draws a kite in the sky: its two colours, and how it is built.
func kite(w, h int, seed int64, one, two uint32, built string) *canvas {
	c := newCanvas(w, h, seed)
	c.sky(0, c.h, rgb(0x5f9fd0), rgb(0xa6cde6), rgb(0xe6f1f3))
	for range 7 {
		x, y := c.r.Float64(), 0.1+0.5*c.r.Float64()
		for range 6 {
			c.disc(color.NRGBA{255, 255, 255, 70}, x+0.12*c.r.Float64(), y+0.04*c.r.Float64(), 0.05, 0.04)
		}
	}
	c.hills(rgb(0x9aa96a), 0.92, 0.08, 4)
	c.hills(rgb(0x6f8a4e), 0.98, 0.06, 7)
	x, y := 0.42+0.14*c.r.Float64(), 0.36+0.06*c.r.Float64()
	u := c.h / c.w // what is as wide as high
	a, b := rgb(one), rgb(two)
	line := color.NRGBA{50, 50, 60, 150}
	c.shape(line, x, y+0.02, x-0.3, 0.95, x-0.297, 0.95, x+0.003, y+0.02)
	switch built {
	case "box":
		for i := range 2 {
			dy := 0.17*float64(i) - 0.11
			c.shape(a, x-0.13*u, y+dy, x+0.05*u, y+dy-0.03, x+0.05*u, y+dy+0.07, x-0.13*u, y+dy+0.1)
			c.shape(b, x+0.05*u, y+dy-0.03, x+0.14*u, y+dy+0.03, x+0.14*u, y+dy+0.13, x+0.05*u, y+dy+0.07)
		}
		for _, dx := range []float64{-0.13, 0.05, 0.14} {
			c.shape(rgb(0x6a4a2a), x+dx*u-0.002, y-0.16, x+dx*u+0.002, y-0.16, x+dx*u+0.002, y+0.19, x+dx*u-0.002, y+0.19)
		}
	case "dragon":
		for i := range 11 {
			t := float64(i)
			px, py := x+(0.03*t-0.02)*u*0.9+0.03*math.Sin(t)*u, y+0.035*t
			r := 0.085 - 0.006*t
			c.disc(map[bool]color.RGBA{true: a, false: b}[i%2 == 0], px, py, r, r)
		}
		c.disc(rgb(0xffffff), x-0.05*u, y-0.02, 0.022, 0.022)
		c.disc(rgb(0x1d1d1d), x-0.052*u, y-0.018, 0.01, 0.01)
	case "delta":
		c.shape(a, x, y-0.16, x-0.24*u, y+0.1, x, y+0.06)
		c.shape(b, x, y-0.16, x+0.24*u, y+0.1, x, y+0.06)
		c.shape(rgb(0xf4efe2), x, y-0.04, x-0.05*u, y+0.09, x+0.05*u, y+0.09)
	default: // a diamond with a tail
		c.shape(a, x, y-0.2, x-0.15*u, y-0.04, x, y+0.2)
		c.shape(b, x, y-0.2, x+0.15*u, y-0.04, x, y+0.2)
		c.shape(mix(b, rgb(0xffffff), 0.4), x-0.15*u, y-0.04, x, y-0.2, x, y-0.04)
		for i := range 7 {
			tx, ty := x+0.02*math.Sin(float64(i)*1.3)*u, y+0.24+0.045*float64(i)
			c.shape(map[bool]color.RGBA{true: a, false: b}[i%2 == 0], tx-0.03*u, ty-0.012, tx+0.03*u, ty+0.012, tx+0.03*u, ty-0.012, tx-0.03*u, ty+0.012)
		}
	}
	return c
}

// garden draws rows of plants, a cold frame, tomatoes or jars of seed.
func garden(w, h int, seed int64, of string) *canvas {
	c := newCanvas(w, h, seed)
	if of == "jars" {
		c.sky(0, c.h, rgb(0xd9cba8), rgb(0xb79a6a), rgb(0x8a6a40))
		for s := range 2 {
			y := 0.46 + 0.44*float64(s)
			c.shape(rgb(0x5d4023), 0, y, 1, y, 1, y+0.05, 0, y+0.05)
			for i := range 6 {
				x := 0.05 + 0.16*float64(i)
				seedCol := []uint32{0x6b3f1c, 0xe8dcb4, 0x2d2a22, 0xb6853c, 0x8a9a4a, 0x7a2a1b}[(i+s*2)%6]
				c.shape(color.NRGBA{235, 245, 240, 150}, x, y-0.26, x+0.11, y-0.26, x+0.11, y, x, y)
				c.shape(rgb(seedCol), x+0.006, y-0.16+0.02*c.r.Float64(), x+0.104, y-0.17, x+0.104, y-0.005, x+0.006, y-0.005)
				c.shape(rgb(0xc9b04a), x-0.004, y-0.3, x+0.114, y-0.3, x+0.114, y-0.255, x-0.004, y-0.255)
				c.shape(rgb(0xf7f3e4), x+0.02, y-0.13, x+0.09, y-0.13, x+0.09, y-0.06, x+0.02, y-0.06)
			}
		}
		return c
	}
	c.sky(0, c.h*0.4, rgb(0xa9cfe0), rgb(0xe9efdf))
	c.trees(rgb(0x5f7f4e), 0.42, 0.14, 14)
	c.sky(c.h*0.4, c.h, rgb(0x8a6a44), rgb(0x5f4429), rgb(0x46301c))
	for r := range 5 {
		y := 0.5 + 0.11*float64(r)
		size := 0.03 + 0.016*float64(r)
		for i := range 16 {
			x := (float64(i) + 0.5*float64(r%2)) / 15.5
			g := mix(rgb(0x5a8a3a), rgb(0x2f5a24), c.r.Float64())
			c.disc(g, x-size*0.3, y-size*0.4, size*0.7, size*0.5)
			c.disc(mix(g, rgb(0xffffff), 0.15), x+size*0.25, y-size*0.7, size*0.6, size*0.45)
			switch {
			case of == "beans" && c.r.Intn(2) == 0:
				c.disc(rgb(0xf5f0ee), x, y-size*1.1, size*0.18, size*0.14)
				c.disc(rgb(0x2a1a22), x+0.001, y-size*1.08, size*0.07, size*0.06)
			case of == "tomatoes" && c.r.Intn(3) > 0:
				c.disc(rgb(0xc8331f), x+size*0.2, y-size*0.3, size*0.34, size*0.32)
				c.disc(color.NRGBA{255, 255, 255, 90}, x+size*0.14, y-size*0.4, size*0.08, size*0.06)
			}
		}
	}
	if of == "frame" {
		c.shape(rgb(0x8a6238), 0.2, 0.6, 0.8, 0.6, 0.88, 0.92, 0.12, 0.92)
		c.shape(rgb(0x3f6b35), 0.23, 0.62, 0.77, 0.62, 0.84, 0.89, 0.16, 0.89)
		c.shape(color.NRGBA{220, 240, 245, 120}, 0.2, 0.6, 0.8, 0.6, 0.76, 0.34, 0.24, 0.34)
		c.shape(rgb(0xe9e2cf), 0.495, 0.34, 0.505, 0.34, 0.51, 0.6, 0.49, 0.6)
	}
	return c
}

// deck draws bicycles at a ship's rail.
func deck(w, h int, seed int64) *canvas {
	c := sea(w, h, seed, false, nil)
	c.shape(rgb(0x9aa7ad), 0, 0.8, 1, 0.76, 1, 1, 0, 1)
	for i := range 9 {
		x := 0.03 + 0.11*float64(i)
		c.shape(rgb(0xf2f2ee), x, 0.5, x+0.006, 0.5, x+0.006, 0.8, x, 0.8)
	}
	c.shape(rgb(0xf2f2ee), 0, 0.5, 1, 0.49, 1, 0.51, 0, 0.52)
	for i, col := range []uint32{0xb93f2a, 0x24547a, 0x3f6b57, 0xd2983a, 0x22303b} {
		x, y := 0.12+0.17*float64(i), 0.8
		frame := rgb(col)
		for _, dx := range []float64{0, 0.085} {
			c.ring(rgb(0x1c2126), x+dx, y, 0.068, 0.068, 0.007)
		}
		c.shape(frame, x, y, x+0.025, y-0.12, x+0.03, y-0.12, x+0.006, y)
		c.shape(frame, x+0.025, y-0.12, x+0.075, y-0.13, x+0.075, y-0.118, x+0.027, y-0.108)
		c.shape(frame, x+0.04, y, x+0.073, y-0.13, x+0.079, y-0.13, x+0.047, y)
		c.shape(frame, x, y-0.006, x+0.043, y-0.006, x+0.043, y+0.006, x, y+0.006)
		c.shape(frame, x+0.085, y, x+0.072, y-0.16, x+0.078, y-0.16, x+0.09, y)
	}
	return c
}

// turned is a JPEG whose pixels lie on their side, with the orientation that puts them upright (EXIF 2.3, tag 0x0112,
// 6: turn by 90° to the right).
func (c *canvas) turned(quality int) []byte {
	b := c.img.Bounds()
	lying := newCanvas(b.Dy(), b.Dx(), 1)
	for y := range b.Dy() {
		for x := range b.Dx() {
			lying.img.SetRGBA(y, b.Dx()-1-x, c.img.RGBAAt(x, y))
		}
	}
	plain := lying.jpeg(quality)
	exif := []byte("Exif\x00\x00MM\x00\x2a\x00\x00\x00\x08\x00\x01\x01\x12\x00\x03\x00\x00\x00\x01\x00\x06\x00\x00\x00\x00\x00\x00")
	app1 := binary.BigEndian.AppendUint16([]byte{0xff, 0xe1}, uint16(len(exif)+2))
	return bytes.Join([][]byte{plain[:2], app1, exif, plain[2:]}, nil)
}

// film is a film, a sound or its captions; they were made with ffmpeg of pictures that the demo paints.
func film(name string) []byte {
	b, err := films.ReadFile("films/" + name)
	if err != nil {
		panic(err) // it is in the binary
	}
	return b
}
