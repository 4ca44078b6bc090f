package picture

import (
	"image"

	"golang.org/x/image/draw"
)

// Small makes a small picture to be looked at, that fits into w × h points: JPEG, or PNG where one may see through it.
// A drawing is cleaned. ok is false for one that is looked at as it is: it is small already, or Mendry does not decode
// it. The error is a *refusal.Refusal.
func Small(b []byte, w, h int) (small []byte, media string, ok bool, err error) {
	i, err := Look(b)
	if err != nil {
		return nil, "", false, err
	}
	switch {
	case i.Media == SVG:
		small, _, err = CleanSVG(b)
		return small, SVG, true, err
	case i.Media == "image/avif":
		return nil, i.Media, false, nil
	case len(b) <= lightToLoad && i.Width <= w && i.Height <= h:
		_, err = decode(b, i) // as it is, if it can be seen at all
		return nil, i.Media, false, err
	}
	m, err := decode(b, i)
	if err != nil {
		return nil, "", false, err
	}
	if i.Orientation > 4 {
		w, h = h, w
	}
	m = scaledTo(m, w, h)
	m = upright(m, i.Orientation)
	if c, byMatrix := readColours(profileOf(b, i.Media)); byMatrix && !c.same() && !isGray(m) {
		c.convert(m)
	}
	o, media := output{format: "jpeg", quality: smallQuality}, "image/jpeg"
	if !isOpaque(m) {
		o, media = output{format: "png"}, "image/png"
	}
	small, _, err = o.write(m)
	return small, media, true, err
}

// lightToLoad is what a picture may weigh that is shown small as it is, in bytes; smallQuality what small ones are
// packed with (a choice).
const (
	lightToLoad  = 20_000
	smallQuality = 80
)

// scaledTo fits a picture into w × h points. Most of the way is gone by averages of whole blocks, which is fast; the
// rest by resampling.
func scaledTo(m image.Image, w, h int) image.Image {
	s := m.Bounds().Size()
	by := min(float64(w)/float64(s.X), float64(h)/float64(s.Y))
	if by >= 1 {
		return normal(m)
	}
	if p, ok := m.(*image.YCbCr); ok {
		m = averaged(p, int(1/by/2))
	}
	w, h = max(1, int(float64(s.X)*by+0.5)), max(1, int(float64(s.Y)*by+0.5))
	if p, few := m.(*image.Paletted); few {
		all := image.NewNRGBA(image.Rectangle{Max: s})
		draw.Draw(all, all.Bounds(), p, p.Rect.Min, draw.Src)
		m = all
	}
	out, plain := canvas(m, w, h)
	draw.CatmullRom.Scale(out, out.Bounds(), m, m.Bounds(), draw.Src, nil)
	return plain(out)
}

// averaged makes a picture smaller by a whole factor, each point the average of a block. It is m where the factor is
// no multiple of how coarse its colours are.
func averaged(m *image.YCbCr, by int) image.Image {
	across, down := 1, 1
	switch m.SubsampleRatio {
	case image.YCbCrSubsampleRatio422:
		across = 2
	case image.YCbCrSubsampleRatio420:
		across, down = 2, 2
	case image.YCbCrSubsampleRatio440:
		down = 2
	case image.YCbCrSubsampleRatio411:
		across = 4
	case image.YCbCrSubsampleRatio410:
		across, down = 4, 2
	}
	by -= by % max(across, down)
	if by < 2 || m.Rect.Min != (image.Point{}) {
		return m
	}
	w, h := m.Rect.Dx()/by, m.Rect.Dy()/by
	if w == 0 || h == 0 {
		return m
	}
	out := image.NewYCbCr(image.Rect(0, 0, w, h), image.YCbCrSubsampleRatio444)
	blocks(out.Y, w, h, m.Y, m.YStride, by, by)
	blocks(out.Cb, w, h, m.Cb, m.CStride, by/across, by/down)
	blocks(out.Cr, w, h, m.Cr, m.CStride, by/across, by/down)
	return out
}

// blocks writes the averages of blocks of bw × bh bytes.
func blocks(out []byte, w, h int, in []byte, stride, bw, bh int) {
	sums := make([]int, w)
	for y := range h {
		clear(sums)
		for row := range bh {
			line := in[(y*bh+row)*stride:]
			for x := range sums {
				for _, v := range line[x*bw : x*bw+bw] {
					sums[x] += int(v)
				}
			}
		}
		for x, sum := range sums {
			out[y*w+x] = byte((sum + bw*bh/2) / (bw * bh))
		}
	}
}
