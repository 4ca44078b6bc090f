package demo

import "image/color"

// person is how somebody looks in a portrait.
type person struct {
	seed        int64
	skin, hair  uint32
	shirt, back uint32
	cut         string // short, bun, long, curls, bald
	beard       bool
	glasses     bool
}

// portrait draws a person from the shoulders up, w pixels in the square.
func portrait(w int, p person) *canvas {
	c := newCanvas(w, w, p.seed)
	skin, hair, shirt := rgb(p.skin), rgb(p.hair), rgb(p.shirt)
	dark := rgb(0x1d1512)
	shade := color.NRGBA{40, 16, 8, 34}
	c.sky(0, c.h, mix(rgb(p.back), rgb(0xffffff), 0.3), mix(rgb(p.back), dark, 0.12))
	for range 9 { // what is out of focus behind
		r := 0.05 + 0.1*c.r.Float64()
		c.disc(color.NRGBA{255, 255, 255, 22}, c.r.Float64(), c.r.Float64(), r, r)
	}
	switch p.cut {
	case "long":
		c.path(mix(hair, dark, 0.2), "M .345 .66 C .30 .42 .32 .165 .50 .155 C .68 .165 .70 .42 .655 .66 C .63 .72 .60 .70 .59 .64 L .41 .64 C .40 .70 .37 .72 .345 .66 Z")
	case "bun":
		c.disc(mix(hair, dark, 0.15), 0.5, 0.135, 0.07, 0.065)
	case "curls":
		for i := range 22 {
			t := float64(i) / 21
			c.disc(mix(hair, dark, 0.1), 0.345+0.31*t, 0.37-0.2*bow(t)+0.02*c.r.Float64(), 0.052, 0.052)
		}
	}
	c.path(shirt, "M .06 1.01 C .09 .82 .24 .755 .40 .715 L .60 .715 C .76 .755 .91 .82 .94 1.01 Z")
	c.path(shade, "M .50 .73 L .60 .715 C .76 .755 .91 .82 .94 1.01 L .56 1.01 Z")
	c.path(mix(skin, dark, 0.16), "M .432 .54 L .568 .54 C .566 .62 .575 .68 .60 .715 C .56 .765 .44 .765 .40 .715 C .425 .68 .434 .62 .432 .54 Z")
	c.path(mix(shirt, rgb(0xffffff), 0.22), "M .395 .715 C .42 .79 .58 .79 .605 .715 L .622 .722 C .60 .82 .40 .82 .378 .722 Z")
	for _, x := range []float64{0.367, 0.633} {
		c.disc(mix(skin, dark, 0.08), x, 0.405, 0.024, 0.042)
	}
	c.path(skin, "M .368 .365 C .366 .235 .43 .185 .50 .185 C .57 .185 .634 .235 .632 .365 C .632 .44 .622 .50 .59 .553 C .563 .597 .53 .618 .50 .618 C .47 .618 .437 .597 .41 .553 C .378 .50 .368 .44 .368 .365 Z")
	c.path(shade, "M .53 .19 C .59 .20 .634 .25 .632 .365 C .632 .44 .622 .50 .59 .553 C .563 .597 .53 .618 .505 .618 C .56 .56 .59 .47 .585 .37 C .58 .28 .56 .22 .53 .19 Z")
	for _, x := range []float64{0.42, 0.58} {
		c.disc(color.NRGBA{210, 80, 60, 30}, x, 0.478, 0.034, 0.026)
	}
	if p.beard {
		c.path(mix(hair, skin, 0.12), "M .374 .43 C .385 .53 .42 .635 .50 .64 C .58 .635 .615 .53 .626 .43 C .607 .485 .583 .498 .555 .492 C .53 .483 .47 .483 .445 .492 C .417 .498 .393 .485 .374 .43 Z")
	}
	for _, x := range []float64{0.442, 0.558} {
		c.disc(rgb(0xf8f4ee), x, 0.405, 0.023, 0.0125)
		c.disc(rgb(0x3a2a1f), x, 0.405, 0.0115, 0.0122)
		c.disc(rgb(0xffffff), x+0.004, 0.401, 0.003, 0.003)
	}
	brow := mix(hair, dark, 0.35)
	if p.cut == "bald" {
		brow = rgb(0x4a3a30)
	}
	c.path(brow, "M .410 .373 C .425 .358 .452 .356 .470 .366 C .452 .364 .428 .366 .410 .373 Z")
	c.path(brow, "M .590 .373 C .575 .358 .548 .356 .530 .366 C .548 .364 .572 .366 .590 .373 Z")
	c.path(mix(skin, dark, 0.2), "M .507 .41 C .512 .44 .522 .468 .522 .482 C .514 .494 .488 .494 .480 .484 C .49 .487 .505 .488 .511 .480 C .513 .465 .508 .435 .507 .41 Z")
	c.path(mix(skin, rgb(0x8c2f2a), 0.62), "M .455 .532 C .47 .528 .488 .526 .50 .530 C .512 .526 .53 .528 .545 .532 C .53 .558 .47 .558 .455 .532 Z")
	c.path(mix(skin, rgb(0x5a1a18), 0.75), "M .452 .532 C .48 .538 .52 .538 .548 .532 C .52 .543 .48 .543 .452 .532 Z")
	switch p.cut {
	case "short":
		c.path(hair, "M .362 .375 C .345 .225 .42 .145 .51 .15 C .61 .155 .655 .235 .638 .375 C .63 .325 .618 .30 .60 .275 C .555 .285 .49 .262 .455 .25 C .42 .275 .375 .305 .362 .375 Z")
	case "long":
		c.path(hair, "M .358 .40 C .345 .24 .41 .155 .50 .155 C .60 .155 .655 .24 .642 .40 C .63 .33 .585 .27 .525 .235 C .48 .285 .40 .31 .358 .40 Z")
	case "bun":
		c.path(hair, "M .362 .37 C .35 .225 .42 .16 .50 .16 C .58 .16 .65 .225 .638 .37 C .62 .29 .56 .245 .50 .242 C .44 .245 .38 .29 .362 .37 Z")
	case "curls":
		for i := range 26 {
			t := float64(i) / 25
			c.disc(mix(hair, rgb(0xffffff), 0.08*c.r.Float64()), 0.365+0.27*t, 0.315-0.115*bow(t)+0.015*c.r.Float64(), 0.036, 0.036)
		}
	}
	if p.glasses {
		frame := color.NRGBA{30, 26, 30, 230}
		for _, x := range []float64{0.442, 0.558} {
			c.ring(frame, x, 0.407, 0.042, 0.038, 0.006)
		}
		c.path(frame, "M .484 .402 C .494 .396 .506 .396 .516 .402 L .516 .407 C .506 .401 .494 .401 .484 .407 Z")
	}
	return c
}

// bow is a curve from 0 over 1 to 0.
func bow(t float64) float64 { return 1 - (2*t-1)*(2*t-1) }

// The coaches of Osprey Hall, and who becomes one.
var (
	alwyn   = person{2, 0xd9a77f, 0x4b3320, 0x3f7f5a, 0x8d8474, "short", true, false}
	ada     = person{5, 0xd9a584, 0x6b4a2b, 0x2f6f73, 0xc9b38a, "curls", false, false}
	bettina = person{3, 0xb97a55, 0x1f1712, 0xc2452d, 0x7f908c, "bun", false, false}
	corin   = person{4, 0xeac3a0, 0xa8662c, 0x46557c, 0xb3a284, "curls", false, false}
	tove    = person{6, 0xf0cfb4, 0xc9a24e, 0xd09a2a, 0x6d8a7a, "long", false, true}
)
