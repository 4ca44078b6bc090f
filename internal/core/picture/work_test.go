package picture

import (
	"bytes"
	"encoding/binary"
	"fmt"
	"image"
	"image/color"
	"image/draw"
	"image/gif"
	"image/jpeg"
	"image/png"
	"math"
	"math/rand/v2"
	"os"
	"os/exec"
	"path/filepath"
	"testing"
)

// scene is a picture in which every point differs from its neighbours, and each quarter from the others.
func scene(w, h int) *image.NRGBA {
	m := image.NewNRGBA(image.Rect(0, 0, w, h))
	random := rand.New(rand.NewPCG(2, 3))
	for y := range h {
		for x := range w {
			m.SetNRGBA(x, y, color.NRGBA{uint8(255 * x / w), uint8(255 * y / h), uint8(random.IntN(256)), 255})
		}
	}
	return m
}

// smooth has no sharp edges, so that two ways of resampling may be compared.
func smooth(w, h int) *image.NRGBA {
	m := image.NewNRGBA(image.Rect(0, 0, w, h))
	for y := range h {
		for x := range w {
			fx, fy := float64(x)/float64(w), float64(y)/float64(h)
			m.SetNRGBA(
				x,
				y,
				color.NRGBA{
					uint8(127 + 120*math.Sin(6*fx)),
					uint8(127 + 120*math.Cos(5*fy)),
					uint8(127 + 120*math.Sin(4*(fx+fy))),
					255,
				},
			)
		}
	}
	return m
}

func pngOf(t testing.TB, m image.Image) []byte {
	t.Helper()
	var b bytes.Buffer
	if err := png.Encode(&b, m); err != nil {
		t.Fatal(err)
	}
	return b.Bytes()
}

func done(t testing.TB, b []byte, w Work) image.Image {
	t.Helper()
	out, err := Do(b, w)
	if err != nil {
		t.Fatalf("%+v: %v", w, err)
	}
	m, err := decode(out.Bytes, out.Info)
	if err != nil {
		t.Fatal(err)
	}
	return m
}

// convert lets ImageMagick (Debian's package) do the same.
func convert(t testing.TB, b []byte, args ...string) image.Image {
	t.Helper()
	p, err := exec.LookPath("convert")
	if err != nil {
		t.Skip("imagemagick is not installed (make system)")
	}
	dir := t.TempDir()
	in, out := filepath.Join(dir, "in.png"), filepath.Join(dir, "out.png")
	if err := os.WriteFile(in, b, 0o600); err != nil {
		t.Fatal(err)
	}
	if said, err := exec.Command(p, append(append([]string{in}, args...), "+repage", "PNG32:"+out)...).CombinedOutput(); err != nil {
		t.Fatalf("convert %v: %v %s", args, err, said)
	}
	f, err := os.ReadFile(out)
	if err != nil {
		t.Fatal(err)
	}
	m, err := png.Decode(bytes.NewReader(f))
	if err != nil {
		t.Fatal(err)
	}
	return m
}

// apart is the largest difference of two pictures in one point, from 0 to 255; a margin is left out.
func apart(t testing.TB, what string, a, b image.Image, margin int) (most int) {
	t.Helper()
	if a.Bounds().Size() != b.Bounds().Size() {
		t.Errorf("%s: %v beside %v", what, a.Bounds().Size(), b.Bounds().Size())
		return 256
	}
	s := a.Bounds().Size()
	for y := margin; y < s.Y-margin; y++ {
		for x := margin; x < s.X-margin; x++ {
			r, g, bl, _ := a.At(a.Bounds().Min.X+x, a.Bounds().Min.Y+y).RGBA()
			r2, g2, bl2, _ := b.At(b.Bounds().Min.X+x, b.Bounds().Min.Y+y).RGBA()
			for _, d := range []int{int(r>>8) - int(r2>>8), int(g>>8) - int(g2>>8), int(bl>>8) - int(bl2>>8)} {
				most = max(most, d, -d)
			}
		}
	}
	return most
}

// Held against ImageMagick: what only moves points has to be the same in every one; straightening and shrinking
// resample, with another kernel at the edges, and may differ by 4 of 255 on a smooth picture, two points from the
// edge.
func TestWorkBesideImageMagick(t *testing.T) {
	b, soft := pngOf(t, scene(62, 40)), pngOf(t, smooth(300, 200))
	for _, tt := range []struct {
		name string
		work Work
		args []string
	}{
		{"turn 90", Work{Turn: 90}, []string{"-rotate", "90"}},
		{"turn 180", Work{Turn: 180}, []string{"-rotate", "180"}},
		{"turn 270", Work{Turn: 270}, []string{"-rotate", "270"}},
		{"flip horizontal", Work{Flip: "horizontal"}, []string{"-flop"}},
		{"flip vertical", Work{Flip: "vertical"}, []string{"-flip"}},
		{"turn, then flip", Work{Turn: 90, Flip: "vertical"}, []string{"-rotate", "90", "-flip"}},
		{"crop", Work{Crop: &Rect{7, 5, 30, 21}}, []string{"-crop", "30x21+7+5"}},
		{"turn, then crop", Work{Turn: 270, Crop: &Rect{1, 2, 30, 50}}, []string{"-rotate", "270", "+repage", "-crop", "30x50+1+2"}},
		{"square in the middle", Work{Shape: "1:1"}, []string{"-gravity", "center", "-crop", "40x40+0+0"}},
	} {
		if d := apart(t, tt.name, done(t, b, tt.work), convert(t, b, tt.args...), 0); d != 0 {
			t.Errorf("%s: %d apart in a point", tt.name, d)
		}
	}
	for _, tt := range []struct {
		name string
		work Work
		args []string
	}{
		{"half", Work{Percent: 50}, []string{"-filter", "Catrom", "-resize", "50%"}},
		{"to a width", Work{Width: 90}, []string{"-filter", "Catrom", "-resize", "90x60!"}},
		{"straighten", Work{Straighten: 5}, []string{"-distort", "SRT", "5", "-gravity", "center", "-crop", size(300, 200, 5) + "+0+0"}},
		{"straighten the other way", Work{Straighten: -12.5}, []string{"-distort", "SRT", "-12.5", "-gravity", "center", "-crop", size(300, 200, 12.5) + "+0+0"}},
	} {
		if d := apart(t, tt.name, done(t, soft, tt.work), convert(t, soft, tt.args...), 2); d > 4 {
			t.Errorf("%s: %d apart in a point", tt.name, d)
		}
	}
}

// size is that of the largest part of the same shape of a picture that is turned, by the closed form.
func size(w, h int, degrees float64) string {
	by := kept(float64(w), float64(h), degrees*math.Pi/180)
	return fmt.Sprintf("%dx%d", int(float64(w)*by), int(float64(h)*by))
}

// Every corner of what is kept lies in the turned picture, and nothing larger would: plane geometry, no source.
func TestTheLargestPartOfTheSameShapeIsKept(t *testing.T) {
	for _, s := range [][2]float64{{300, 200}, {200, 300}, {100, 100}, {1600, 400}} {
		for _, degrees := range []float64{0.5, 3, 10, 30, 45} {
			a := degrees * math.Pi / 180
			inside := func(by float64) bool {
				for _, c := range [][2]float64{{1, 1}, {1, -1}, {-1, 1}, {-1, -1}} {
					x, y := c[0]*s[0]*by/2, c[1]*s[1]*by/2
					u, v := x*math.Cos(a)+y*math.Sin(a), -x*math.Sin(a)+y*math.Cos(a)
					if math.Abs(u) > s[0]/2+1e-9 || math.Abs(v) > s[1]/2+1e-9 {
						return false
					}
				}
				return true
			}
			by := kept(s[0], s[1], a)
			if !inside(by) || inside(by*1.001) {
				t.Errorf("%v by %v°: %v of it", s, degrees, by)
			}
		}
	}
}

// withOrientation puts an EXIF segment with nothing but an orientation into a JPEG (CIPA DC-008, 4.5 and 4.6.5).
func withOrientation(t testing.TB, m image.Image, orientation uint16) []byte {
	t.Helper()
	var b bytes.Buffer
	if err := jpeg.Encode(&b, m, &jpeg.Options{Quality: 100}); err != nil {
		t.Fatal(err)
	}
	exif := []byte("Exif\x00\x00MM\x00\x2a\x00\x00\x00\x08\x00\x01\x01\x12\x00\x03\x00\x00\x00\x01")
	exif = binary.BigEndian.AppendUint16(exif, orientation)
	exif = append(exif, 0, 0, 0, 0, 0, 0)
	out := append([]byte{0xff, 0xd8, 0xff, 0xe1}, binary.BigEndian.AppendUint16(nil, uint16(len(exif)+2))...)
	return append(append(out, exif...), b.Bytes()[2:]...)
}

// The eight orientations by the standard's table: which side of the stored picture is shown at the top, and which at
// the left (CIPA DC-008, 4.6.5, Orientation: 1 is row 0 at the visual top and column 0 at the left, and so on).
func TestTheEightOrientations(t *testing.T) {
	red, green, blue, grey := color.NRGBA{
		255,
		0,
		0,
		255,
	}, color.NRGBA{
		0,
		255,
		0,
		255,
	}, color.NRGBA{
		0,
		0,
		255,
		255,
	}, color.NRGBA{
		128,
		128,
		128,
		255,
	}
	m := image.NewNRGBA(image.Rect(0, 0, 64, 32)) // corners: red at row 0 and column 0, green beside it, blue below it
	for y := range 32 {
		for x := range 64 {
			c := [2][2]color.NRGBA{{red, green}, {blue, grey}}[y/16][x/32]
			m.SetNRGBA(x, y, c)
		}
	}
	is := func(c color.Color, want color.NRGBA) bool {
		r, g, b, _ := c.RGBA()
		near := func(a uint32, b uint8) bool { return math.Abs(float64(a>>8)-float64(b)) < 40 }
		return near(r, want.R) && near(g, want.G) && near(b, want.B)
	}
	for o, want := range map[uint16][3]color.NRGBA{ // at the top left, at the top right, at the bottom left of what is shown
		1: {red, green, blue}, 2: {green, red, grey}, 3: {grey, blue, green}, 4: {blue, grey, red},
		5: {red, blue, green}, 6: {blue, red, grey}, 7: {grey, green, blue}, 8: {green, grey, red},
	} {
		b := withOrientation(t, m, o)
		i, err := Look(b)
		w, h := 64, 32
		if o > 4 {
			w, h = h, w
		}
		if err != nil || i.Orientation != int(o) || i.Width != w || i.Height != h {
			t.Errorf("%d: %+v %v", o, i, err)
		}
		shown := done(t, b, Work{Format: "png"})
		s := shown.Bounds().Size()
		if s != image.Pt(w, h) || !is(shown.At(4, 4), want[0]) || !is(shown.At(s.X-5, 4), want[1]) ||
			!is(shown.At(4, s.Y-5), want[2]) {
			t.Errorf(
				"%d: shown %v with %v, %v, %v in its corners",
				o,
				s,
				shown.At(4, 4),
				shown.At(s.X-5, 4),
				shown.At(4, s.Y-5),
			)
		}
		out, err := Do(b, Work{})
		if err != nil || out.Info.Orientation != 1 || bytes.Contains(out.Bytes, []byte("Exif")) {
			t.Errorf("%d: private data is kept: %+v %v", o, out.Info, err)
		}
	}
}

func TestCropsAroundAFocusStayInThePicture(t *testing.T) {
	for _, tt := range []struct {
		shape string
		focus *Point
		want  image.Rectangle
	}{
		{"1:1", nil, image.Rect(50, 0, 150, 100)},
		{"1:1", &Point{0, 0}, image.Rect(0, 0, 100, 100)},
		{"1:1", &Point{1, 1}, image.Rect(100, 0, 200, 100)},
		{"4:1", &Point{0.5, 0.9}, image.Rect(0, 50, 200, 100)},
		{"2:1", nil, image.Rect(0, 0, 200, 100)},
	} {
		if got, err := around(image.Pt(200, 100), tt.shape, tt.focus); err != nil || got != tt.want {
			t.Errorf("%s around %v: %v %v, want %v", tt.shape, tt.focus, got, err, tt.want)
		}
	}
}

func TestWorkThatCannotBeDoneIsRefused(t *testing.T) {
	b := pngOf(t, scene(40, 30))
	var moving bytes.Buffer
	frame := image.NewPaletted(image.Rect(0, 0, 4, 4), color.Palette{color.White, color.Black})
	if err := gif.EncodeAll(&moving, &gif.GIF{Image: []*image.Paletted{frame, frame}, Delay: []int{5, 5}}); err != nil {
		t.Fatal(err)
	}
	if i, err := Look(moving.Bytes()); err != nil || !i.Animated {
		t.Errorf("%+v %v", i, err)
	}
	for name, tt := range map[string]struct {
		b []byte
		w Work
	}{
		"turn": {b, Work{Turn: 45}}, "flip": {b, Work{Flip: "sideways"}}, "straighten": {b, Work{Straighten: 50}}, "not a number": {b, Work{Straighten: math.NaN()}},
		"crop outside": {b, Work{Crop: &Rect{30, 0, 20, 20}}}, "crop of nothing": {b, Work{Crop: &Rect{0, 0, 0, 5}}}, "crop of too much": {b, Work{Crop: &Rect{math.MaxInt, 0, 20, 20}}},
		"shape": {b, Work{Shape: "wide"}}, "shape of nothing": {b, Work{Shape: "0:1"}}, "focus": {b, Work{Shape: "1:1", Focus: &Point{2, 0}}},
		"larger": {b, Work{Percent: 150}}, "format": {b, Work{Format: "tiff"}}, "quality": {b, Work{Format: "jpeg", Quality: 400}},
		"moving": {moving.Bytes(), Work{Turn: 90}}, "a drawing": {[]byte("<svg xmlns='http://www.w3.org/2000/svg'/>"), Work{Turn: 90}},
		"broken off": {b[:len(b)-30], Work{}},
	} {
		if out, err := Do(tt.b, tt.w); err == nil {
			t.Errorf("%s: %d bytes", name, len(out.Bytes))
		}
	}
	if m := done(t, b, Work{Width: 4000}); m.Bounds().Dx() != 40 {
		t.Errorf("it is made larger: %v", m.Bounds())
	}
}

func FuzzLook(f *testing.F) {
	f.Add(pngOf(f, scene(8, 8)))
	f.Add(withOrientation(f, scene(8, 8), 6))
	f.Add(
		[]byte(
			"GIF89a\x04\x00\x04\x00\x80\x00\x00\xff\xff\xff\x00\x00\x00!\xf9\x04\x01\x00\x00\x00\x00,\x00\x00\x00\x00\x04\x00\x04\x00\x00\x02\x04\x84\x8f\x09\x05\x00;",
		),
	)
	f.Add([]byte("RIFF\x1a\x00\x00\x00WEBPVP8X\x0a\x00\x00\x00\x10\x00\x00\x00\x03\x00\x00\x03\x00\x00"))
	f.Add([]byte("<svg width='10cm' viewBox='0 0 4 3' xmlns='http://www.w3.org/2000/svg'/>"))
	f.Fuzz(func(t *testing.T, b []byte) {
		i, err := Look(b)
		if err == nil && (i.Width < 0 || i.Height < 0 || i.Orientation < 1 || i.Orientation > 8 || i.Media == "") {
			t.Errorf("%+v", i)
		}
	})
}

// A picture of few colours that is made smaller looks as one of all colours does when that is made
// smaller. Lines in black and white were made smaller in black and white before, 39 of 255 apart.
func TestFewColoursBecomeMore(t *testing.T) {
	t.Parallel()
	clear, blue, half := color.NRGBA{}, color.NRGBA{0, 70, 160, 255}, color.NRGBA{0, 70, 160, 128}
	for name, colours := range map[string]color.Palette{
		"black and white":      {color.White, color.Black},
		"blue on white":        {color.NRGBA{255, 255, 255, 255}, blue},
		"one can look through": {clear, blue, half},
	} {
		m := image.NewPaletted(image.Rect(0, 0, 800, 600), colours)
		for y := range 600 {
			for x := range 800 {
				if (x/2-300)*(x/2-300)+(y-200)*(y-200) < 40_000 && (x+y)%7 < 3 {
					m.SetColorIndex(x, y, 1)
				}
			}
		}
		all := image.NewNRGBA(m.Bounds())
		draw.Draw(all, all.Bounds(), m, image.Point{}, draw.Src)
		few, want := shrink(m, 300), shrink(all, 300)
		if _, ok := few.(*image.Paletted); !ok {
			t.Errorf("%s: %T", name, few)
		}
		var sum float64
		for y := range want.Bounds().Dy() {
			for x := range want.Bounds().Dx() {
				r, g, b, a := few.At(x, y).RGBA()
				wr, wg, wb, wa := want.At(x, y).RGBA()
				for _, d := range []float64{float64(r) - float64(wr), float64(g) - float64(wg), float64(b) - float64(wb), float64(a) - float64(wa)} {
					sum += d * d / 257 / 257
				}
			}
		}
		off := math.Sqrt(sum / float64(4*want.Bounds().Dx()*want.Bounds().Dy()))
		if t.Logf("%s: off by %.1f of 255", name, off); off > 8 {
			t.Errorf("%s: off by %.1f of 255", name, off)
		}
	}
}
