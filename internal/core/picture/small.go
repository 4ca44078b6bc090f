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
	m = averaged(m, int(1/by/2))
	w, h = max(1, int(float64(s.X)*by+0.5)), max(1, int(float64(s.Y)*by+0.5))
	out, plain := canvas(m, w, h)
	draw.CatmullRom.Scale(out, out.Bounds(), m, m.Bounds(), draw.Src, nil)
	return plain(out)
}

// averaged makes a picture smaller by a whole factor, each point the average of a block. What has few colours has all that
// lie between afterwards.
func averaged(m image.Image, by int) image.Image {
	switch p := m.(type) {
	case *image.YCbCr:
		return averagedYCbCr(p, by)
	case *image.Gray:
		if by < 2 {
			return m
		}
		w, h := p.Rect.Dx()/by, p.Rect.Dy()/by
		if w == 0 || h == 0 {
			return m
		}
		out := image.NewGray(image.Rect(0, 0, w, h))
		blocks(out.Pix, w, h, p.Pix, p.Stride, by, by)
		return out
	}
	return averagedPoints(m, max(1, by))
}

// averagedPoints does it for points of any kind, some lines at a time: with their colours multiplied by how opaque they are,
// so that what one sees through adds none.
func averagedPoints(m image.Image, by int) image.Image {
	few, isFew := m.(*image.Paletted)
	r := m.Bounds()
	w, h := r.Dx()/by, r.Dy()/by
	if by == 1 && !isFew || w == 0 || h == 0 {
		return m
	}
	out := image.NewRGBA(image.Rect(0, 0, w, h))
	lines := image.NewRGBA(image.Rect(0, 0, w*by, by))
	sums, half, all := make([]int, 4*w), by*by/2, by*by
	for y := range h {
		if at := image.Pt(r.Min.X, r.Min.Y+y*by); isFew {
			unfolded(lines, few, at)
		} else {
			draw.Draw(lines, lines.Rect, m, at, draw.Src)
		}
		clear(sums)
		for row := range by {
			line := lines.Pix[row*lines.Stride:]
			for x := range w {
				sum, block := sums[4*x:4*x+4], line[4*x*by:4*(x+1)*by]
				for ; len(block) >= 4; block = block[4:] {
					sum[0] += int(block[0])
					sum[1] += int(block[1])
					sum[2] += int(block[2])
					sum[3] += int(block[3])
				}
			}
		}
		line := out.Pix[y*out.Stride:]
		for i, sum := range sums {
			line[i] = byte((sum + half) / all)
		}
	}
	return out
}

// unfolded writes points of few colours as their colours.
func unfolded(out *image.RGBA, m *image.Paletted, at image.Point) {
	var colours [256][4]byte
	for i, c := range m.Palette {
		r, g, b, a := c.RGBA()
		colours[i] = [4]byte{byte(r >> 8), byte(g >> 8), byte(b >> 8), byte(a >> 8)}
	}
	for y := range out.Rect.Dy() {
		in, line := m.Pix[m.PixOffset(at.X, at.Y+y):], out.Pix[y*out.Stride:]
		for x := range out.Rect.Dx() {
			copy(line[4*x:4*x+4], colours[in[x]][:])
		}
	}
}

// averagedYCbCr does it where colours are coarser than light. It is m where the factor is no multiple of how coarse.
func averagedYCbCr(m *image.YCbCr, by int) image.Image {
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
