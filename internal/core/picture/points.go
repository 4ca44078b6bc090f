package picture

import (
	"image"
	"image/draw"
)

// normal is a picture in one of the three forms that the work knows: few colours, grey, or red, green, blue and how
// far it may be seen through, a byte each; its points lie one behind the other from 0,0.
func normal(m image.Image) image.Image {
	s := m.Bounds().Size()
	all := image.Rectangle{Max: s}
	switch p := m.(type) {
	case *image.NRGBA:
		if p.Rect == all && p.Stride == 4*s.X {
			return p
		}
	case *image.Gray:
		if p.Rect == all && p.Stride == s.X {
			return p
		}
		out := image.NewGray(all)
		draw.Draw(out, all, m, m.Bounds().Min, draw.Src)
		return out
	case *image.Paletted:
		out := image.NewPaletted(all, append(p.Palette[:0:0], p.Palette...))
		for y := range s.Y {
			copy(out.Pix[y*s.X:], p.Pix[y*p.Stride:y*p.Stride+s.X])
		}
		return out
	}
	if isOpaque(m) {
		out := image.NewRGBA(
			all,
		) // the library draws on these many times as fast; opaque ones are the same in both forms
		draw.Draw(out, all, m, m.Bounds().Min, draw.Src)
		return (*image.NRGBA)(out)
	}
	out := image.NewNRGBA(all)
	draw.Draw(out, all, m, m.Bounds().Min, draw.Src)
	return out
}

func isOpaque(m image.Image) bool {
	o, ok := m.(interface{ Opaque() bool })
	return ok && o.Opaque()
}

// canvas is what a picture is drawn on at another size, and what makes one of the normal forms of it.
func canvas(m image.Image, w, h int) (draw.Image, func(draw.Image) image.Image) {
	r := image.Rect(0, 0, w, h)
	switch {
	case isGray(m):
		return image.NewGray(r), func(d draw.Image) image.Image { return d }
	case isOpaque(m):
		return image.NewRGBA(r), func(d draw.Image) image.Image { return (*image.NRGBA)(d.(*image.RGBA)) }
	}
	return image.NewNRGBA(r), func(d draw.Image) image.Image { return d }
}

func isGray(m image.Image) bool {
	_, gray := m.(*image.Gray)
	return gray
}

// points are those of a picture in a normal form, and how many bytes each has.
func points(m image.Image) ([]byte, int) {
	switch p := m.(type) {
	case *image.NRGBA:
		return p.Pix, 4
	case *image.Gray:
		return p.Pix, 1
	}
	return m.(*image.Paletted).Pix, 1
}

// blank is an empty picture of the form that m has.
func blank(m image.Image, r image.Rectangle) image.Image {
	switch p := m.(type) {
	case *image.Paletted:
		return image.NewPaletted(r, p.Palette)
	case *image.Gray:
		return image.NewGray(r)
	}
	return image.NewNRGBA(r)
}

// moved makes a picture of a size whose points are those of another one: the first at from, and so many further for
// each column and each row.
func moved(m image.Image, size image.Point, from, column, row int) image.Image {
	out := blank(m, image.Rectangle{Max: size})
	src, n := points(m)
	dst, _ := points(out)
	for y := range size.Y {
		at, to := from+y*row, dst[y*size.X*n:(y+1)*size.X*n]
		switch {
		case column == 1:
			copy(to, src[at*n:(at+size.X)*n])
		case n == 1:
			for x := range to {
				to[x] = src[at]
				at += column
			}
		default:
			for x := 0; x < len(to); x += 4 {
				*(*[4]byte)(to[x:]) = *(*[4]byte)(src[at*4:])
				at += column
			}
		}
	}
	return out
}

// turn turns a picture clockwise.
func turn(m image.Image, degrees int) image.Image {
	s := m.Bounds().Size()
	switch degrees {
	case 90:
		return moved(m, image.Pt(s.Y, s.X), (s.Y-1)*s.X, -s.X, 1)
	case 180:
		return moved(m, s, s.X*s.Y-1, -1, -s.X)
	}
	return moved(m, image.Pt(s.Y, s.X), s.X-1, s.X, -1)
}

func flip(m image.Image, horizontal bool) image.Image {
	s := m.Bounds().Size()
	if horizontal {
		return moved(m, s, s.X-1, -1, s.X)
	}
	return moved(m, s, (s.Y-1)*s.X, 1, -s.X)
}

func crop(m image.Image, c image.Rectangle) image.Image {
	w := m.Bounds().Dx()
	return moved(m, c.Size(), c.Min.Y*w+c.Min.X, 1, w)
}

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
