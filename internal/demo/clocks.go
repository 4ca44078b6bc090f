package demo

import (
	"image/color"
	"math"
)

// clock is what a picture of a clock shows.
type clock struct {
	seed       int64
	kind       string // mantel, carriage, wall
	body, dial uint32
	trim       uint32
	noHands    bool
	soot       float64 // how much of it is dirt, from 0 to 1
}

// room paints a workshop's wall and bench.
func room(w, h int, seed int64) *canvas {
	c := newCanvas(w, h, seed)
	c.sky(0, 0.72*c.h, rgb(0xb9ad94), rgb(0xd8cfb8))
	c.sky(0.72*c.h, c.h, rgb(0x6d4c2c), rgb(0x4c3420))
	for i := range 7 {
		y := 0.75 + 0.035*float64(i)
		c.shape(color.NRGBA{40, 26, 14, 50}, 0, y, 1, y-0.008, 1, y-0.004, 0, y+0.004)
	}
	c.disc(color.NRGBA{255, 246, 220, 40}, 0.24, 0.1, 0.5, 0.5)
	return c
}

func (c *canvas) face(x, y, r float64, k clock) {
	dirt := func(hex uint32) color.RGBA { return mix(rgb(hex), rgb(0x4a3a22), k.soot) }
	c.disc(dirt(k.trim), x, y, r*1.13, r*1.13)
	c.disc(color.NRGBA{0, 0, 0, 60}, x+0.004, y+0.006, r*1.02, r*1.02)
	c.disc(dirt(k.dial), x, y, r, r)
	ink := dirt(0x1f1a14)
	hand := func(angle, from, to, thick float64) {
		dx, dy := math.Sin(angle), -math.Cos(angle)
		at := func(along, side float64) (float64, float64) {
			return x + (dx*along-dy*side)*r*c.h/c.w, y + (dy*along+dx*side)*r
		}
		ax, ay := at(from, -thick)
		bx, by := at(from, thick)
		ex, ey := at(to, thick*0.4)
		fx, fy := at(to, -thick*0.4)
		c.shape(ink, ax, ay, bx, by, ex, ey, fx, fy)
	}
	for i := range 12 {
		thick := 0.018
		if i%3 == 0 {
			thick = 0.034
		}
		hand(float64(i)*math.Pi/6, 0.74, 0.94, thick)
	}
	if !k.noHands {
		hand(math.Pi*0.31, -0.12, 0.55, 0.045)
		hand(math.Pi*1.72, -0.16, 0.82, 0.032)
	}
	c.disc(ink, x, y, r*0.06, r*0.06)
	c.ring(color.NRGBA{255, 255, 255, 60}, x-0.01*r, y-0.01*r, r*0.96, r*0.96, r*0.03)
}

// timepiece is a picture of one clock on the bench.
func timepiece(w, h int, k clock) *canvas {
	c := room(w, h, k.seed)
	dirt := func(hex uint32, soot float64) color.RGBA { return mix(rgb(hex), rgb(0x37301f), soot) }
	body, edge, trim := dirt(k.body, k.soot), dirt(k.body, k.soot*0.6+0.25), dirt(k.trim, k.soot)
	across := func(v float64) float64 { return v * c.h / c.w }
	box := func(col color.Color, x0, y0, x1, y1 float64) { c.shape(col, x0, y0, x1, y0, x1, y1, x0, y1) }
	c.disc(color.NRGBA{20, 12, 6, 90}, 0.5, 0.84, 0.42, 0.05)
	switch k.kind {
	case "mantel":
		box(edge, 0.5-across(0.4), 0.74, 0.5+across(0.4), 0.83)
		box(body, 0.5-across(0.34), 0.34, 0.5+across(0.34), 0.75)
		c.disc(body, 0.5, 0.36, 0.34, 0.2)
		box(edge, 0.5-across(0.34), 0.66, 0.5+across(0.34), 0.68)
		for _, side := range []float64{-1, 1} {
			box(trim, 0.5+side*across(0.29)-0.012, 0.36, 0.5+side*across(0.29)+0.012, 0.74)
		}
		c.face(0.5, 0.47, 0.16, k)
	case "carriage":
		c.ring(trim, 0.5, 0.25, 0.12, 0.08, 0.018)
		box(trim, 0.5-across(0.22), 0.28, 0.5+across(0.22), 0.33)
		box(edge, 0.5-across(0.2), 0.33, 0.5+across(0.2), 0.78)
		box(body, 0.5-across(0.17), 0.36, 0.5+across(0.17), 0.75)
		for _, side := range []float64{-1, 1} {
			box(trim, 0.5+side*across(0.2)-0.008, 0.33, 0.5+side*across(0.2)+0.008, 0.78)
		}
		box(trim, 0.5-across(0.25), 0.78, 0.5+across(0.25), 0.84)
		c.face(0.5, 0.52, 0.125, k)
	default:
		box(edge, 0.5-across(0.12), 0.5, 0.5+across(0.12), 0.9)
		box(body, 0.5-across(0.1), 0.5, 0.5+across(0.1), 0.88)
		c.disc(trim, 0.5, 0.78, 0.045, 0.045)
		c.disc(edge, 0.5, 0.4, 0.31, 0.31)
		c.disc(body, 0.5, 0.4, 0.29, 0.29)
		c.face(0.5, 0.4, 0.22, k)
	}
	return c
}

var (
	mantel   = clock{kind: "mantel", body: 0x2e3034, dial: 0xf3ead2, trim: 0xb5904a}
	carriage = clock{kind: "carriage", body: 0x6a5a2a, dial: 0xfaf6ea, trim: 0xcfa552}
	station  = clock{kind: "wall", body: 0x5a3320, dial: 0xf6f0df, trim: 0x8a6a38}
)

func (k clock) as(seed int64, soot float64, noHands bool) clock {
	k.seed, k.soot, k.noHands = seed, soot, noHands
	return k
}

func quillonPictures() map[string][]byte {
	return map[string][]byte{
		"pictures/bench.jpg":           timepiece(1200, 800, station.as(71, 0, false)).jpeg(84),
		"pictures/mantel-before.jpg":   timepiece(1200, 800, mantel.as(72, 0.62, true)).jpeg(84),
		"pictures/carriage-before.jpg": timepiece(900, 600, carriage.as(73, 0.55, false)).jpeg(84),
		"pictures/carriage-after.jpg":  timepiece(900, 600, carriage.as(73, 0, false)).jpeg(84),
		"pictures/wall-before.jpg":     timepiece(900, 600, station.as(74, 0.35, true)).jpeg(84),
		"pictures/wall-after.jpg":      timepiece(900, 600, station.as(74, 0, false)).jpeg(84),
	}
}

// CleanClock is the picture that comes with the letter about the prices.
func CleanClock() []byte { return timepiece(1200, 800, mantel.as(72, 0, false)).jpeg(86) }
