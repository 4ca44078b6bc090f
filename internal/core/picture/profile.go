package picture

import (
	"bytes"
	"compress/zlib"
	"encoding/binary"
	"image"
	"image/color"
	"io"
	"math"
	"strings"
	"unicode/utf16"
)

// largestProfile is how long a profile may be that is taken out of a PNG, where it is packed: those of printing
// presses have up to 3 MB (common practice, no source).
const largestProfile = 4 << 20

// profileOf is the ICC profile that a picture carries, empty where it has none.
func profileOf(b []byte, media string) (p []byte) {
	switch media {
	case "image/jpeg":
		for _, s := range segments(b) {
			if s.marker == 0xe2 && bytes.HasPrefix(s.data, []byte(iccInJPEG)) && len(s.data) > len(iccInJPEG)+2 {
				p = append(p, s.data[len(iccInJPEG)+2:]...)
			}
		}
	case "image/png":
		for _, c := range chunks(b) {
			if _, packed, ok := bytes.Cut(c.data, []byte{0}); ok && c.kind == "iCCP" && len(packed) > 1 {
				if z, err := zlib.NewReader(bytes.NewReader(packed[1:])); err == nil {
					p, _ = io.ReadAll(io.LimitReader(z, largestProfile))
				}
			}
		}
	case "image/webp":
		for _, c := range riff(b) {
			if c.kind == "ICCP" {
				p = c.data
			}
		}
	}
	return p
}

// ofGrey reports whether a profile is of points that have no colour (ICC.1:2022, 7.2.8).
func ofGrey(p []byte) bool { return len(p) >= 20 && string(p[16:20]) == "GRAY" }

// profileTag is an element of an ICC profile by its signature (ICC.1:2022, 7.3).
func profileTag(p []byte, name string) []byte {
	if len(p) < 132 {
		return nil
	}
	count := int(binary.BigEndian.Uint32(p[128:]))
	for k := 0; k < count && k < 100 && 144+12*k <= len(p); k++ {
		tag := p[132+12*k:]
		if string(tag[:4]) != name {
			continue
		}
		at, n := int(binary.BigEndian.Uint32(tag[4:])), int(binary.BigEndian.Uint32(tag[8:]))
		if at < 0 || n < 0 || at > len(p) || n > len(p)-at {
			return nil
		}
		return p[at : at+n]
	}
	return nil
}

// profileName is how an ICC profile calls itself (ICC.1:2022, 9.2.41; in version 2 textDescriptionType).
func profileName(p []byte) string {
	d := profileTag(p, "desc")
	if len(d) < 12 {
		return ""
	}
	switch string(d[:4]) {
	case "desc":
		if m := int(binary.BigEndian.Uint32(d[8:])); m > 0 && m <= len(d)-12 {
			return latin(bytes.TrimRight(d[12:12+m], "\x00"))
		}
	case "mluc":
		if len(d) < 28 {
			return ""
		}
		m, from := int(binary.BigEndian.Uint32(d[20:])), int(binary.BigEndian.Uint32(d[24:]))
		if m >= 0 && from >= 0 && from <= len(d) && m <= len(d)-from {
			units := make([]uint16, m/2)
			for j := range units {
				units[j] = binary.BigEndian.Uint16(d[from+2*j:])
			}
			return strings.Trim(string(utf16.Decode(units)), "\x00")
		}
	}
	return ""
}

// colours is a profile of three colours by a matrix and a curve each (ICC.1:2022, F.3).
type colours struct {
	curve  [3][256]float64 // from a point's value to light, 0 to 1
	matrix [3][3]float64   // from light in the profile's colours to light in those of sRGB
}

// toSRGB takes XYZ by D50, in which profiles speak, to the light of sRGB (IEC 61966-2-1, adapted by Bradford).
var toSRGB = [3][3]float64{
	{3.1338561, -1.6168667, -0.4906146},
	{-0.9787684, 1.9161415, 0.0334540},
	{0.0719453, -0.2289914, 1.4052427},
}

// readColours reads a profile; false for one that is not by a matrix, as those of printing presses.
func readColours(p []byte) (*colours, bool) {
	if len(p) < 132 || string(p[16:20]) != "RGB " || string(p[20:24]) != "XYZ " || profileTag(p, "A2B0") != nil {
		return nil, false
	}
	var c colours
	for k, of := range []string{"r", "g", "b"} {
		xyz, ok := fixed(profileTag(p, of+"XYZ"), "XYZ ", 3)
		if !ok || !c.readCurve(k, profileTag(p, of+"TRC")) {
			return nil, false
		}
		for row := range 3 {
			for j := range 3 {
				c.matrix[row][k] += toSRGB[row][j] * xyz[j]
			}
		}
	}
	return &c, true
}

// fixed reads numbers of the type s15Fixed16 behind an element's head.
func fixed(d []byte, kind string, count int) ([]float64, bool) {
	if len(d) < 8+4*count || string(d[:4]) != kind {
		return nil, false
	}
	out := make([]float64, count)
	for k := range out {
		out[k] = float64(int32(binary.BigEndian.Uint32(d[8+4*k:]))) / 65536
	}
	return out, true
}

// readCurve reads a curve by a table or a power (ICC.1:2022, 10.6), or by a function (10.18).
func (c *colours) readCurve(k int, d []byte) bool {
	if len(d) < 12 {
		return false
	}
	var at func(x float64) float64
	switch string(d[:4]) {
	case "curv":
		n := int(binary.BigEndian.Uint32(d[8:]))
		if n < 0 || n > (len(d)-12)/2 {
			return false
		}
		table := func(j int) float64 { return float64(binary.BigEndian.Uint16(d[12+2*j:])) }
		switch n {
		case 0:
			at = func(x float64) float64 { return x }
		case 1:
			at = func(x float64) float64 { return math.Pow(x, table(0)/256) }
		default:
			at = func(x float64) float64 {
				j := min(int(x*float64(n-1)), n-2)
				part := x*float64(n-1) - float64(j)
				return (table(j)*(1-part) + table(j+1)*part) / 65535
			}
		}
	case "para":
		kind := int(binary.BigEndian.Uint16(d[8:]))
		if kind > 4 {
			return false
		}
		v, ok := fixed(d[4:], string(d[4:8]), []int{1, 3, 4, 5, 7}[kind])
		if !ok {
			return false
		}
		at = parametric(kind, v)
	default:
		return false
	}
	for j := range c.curve[k] {
		c.curve[k][j] = min(max(at(float64(j)/255), 0), 1)
	}
	return true
}

// parametric is the function of a parametricCurveType (ICC.1:2022, table 68), with g, a, b, c, d, e, f in this order.
func parametric(kind int, v []float64) func(float64) float64 {
	g := v[0]
	power := func(x float64) float64 { return math.Pow(max(x, 0), g) }
	switch kind {
	case 0:
		return power
	case 1, 2:
		add := 0.
		if kind == 2 {
			add = v[3]
		}
		return func(x float64) float64 {
			if x >= -v[2]/v[1] {
				return power(v[1]*x+v[2]) + add
			}
			return add
		}
	}
	e, f := 0., 0.
	if kind == 4 {
		e, f = v[5], v[6]
	}
	return func(x float64) float64 {
		if x >= v[4] {
			return power(v[1]*x+v[2]) + e
		}
		return v[3]*x + f
	}
}

// shades is how finely light is told apart when it is written as sRGB.
const shades = 1 << 12

// written are the values of sRGB for light (IEC 61966-2-1).
var written = func() (t [shades + 1]uint8) {
	for k := range t {
		x := float64(k) / shades
		if x <= 0.0031308 {
			x *= 12.92
		} else {
			x = 1.055*math.Pow(x, 1/2.4) - 0.055
		}
		t[k] = uint8(x*255 + 0.5)
	}
	return t
}()

// point is a colour in sRGB.
func (c *colours) point(r, g, b uint8) (uint8, uint8, uint8) {
	lr, lg, lb := c.curve[0][r], c.curve[1][g], c.curve[2][b]
	of := func(k int) uint8 {
		m := &c.matrix[k]
		return written[int(min(max(m[0]*lr+m[1]*lg+m[2]*lb, 0), 1)*shades+0.5)]
	}
	return of(0), of(1), of(2)
}

// same reports whether the colours are those of sRGB, or so near that nobody sees it.
func (c *colours) same() bool {
	for r := 0; r < 256; r += 51 {
		for g := 0; g < 256; g += 51 {
			for b := 0; b < 256; b += 51 {
				x, y, z := c.point(uint8(r), uint8(g), uint8(b))
				if far(x, r) || far(y, g) || far(z, b) {
					return false
				}
			}
		}
	}
	return true
}

func far(a uint8, b int) bool { return int(a)-b > 2 || b-int(a) > 2 }

// convert takes a picture's colours to sRGB, in place.
func (c *colours) convert(m image.Image) {
	switch p := m.(type) {
	case *image.NRGBA:
		for k := 0; k+4 <= len(p.Pix); k += 4 {
			p.Pix[k], p.Pix[k+1], p.Pix[k+2] = c.point(p.Pix[k], p.Pix[k+1], p.Pix[k+2])
		}
	case *image.Paletted:
		for k, of := range p.Palette {
			n := color.NRGBAModel.Convert(of).(color.NRGBA)
			n.R, n.G, n.B = c.point(n.R, n.G, n.B)
			p.Palette[k] = n
		}
	}
}
