package picture

import (
	"bytes"
	"image"
	"image/color"
	"image/draw"
	"image/jpeg"
	"os"
	"os/exec"
	"path/filepath"
	"slices"
	"testing"
)

// Held against ImageMagick: a photograph made small is the same within 4 of 255 before it is packed again (blocks are
// averaged first), one that lies on its side stands.
func TestSmallBesideImageMagick(t *testing.T) {
	var b bytes.Buffer
	if err := jpeg.Encode(&b, smooth(1200, 800), &jpeg.Options{Quality: 95}); err != nil {
		t.Fatal(err)
	}
	_, media, ok, err := Small(b.Bytes(), 300, 300)
	if err != nil || !ok || media != "image/jpeg" {
		t.Fatal(media, ok, err)
	}
	full, err := jpeg.Decode(bytes.NewReader(b.Bytes()))
	if err != nil {
		t.Fatal(err)
	}
	if d := apart(t, "small", scaledTo(full, 300, 300), convert(t, b.Bytes(), "-resize", "300x300"), 2); d > 4 {
		t.Errorf("%d apart", d)
	}
	small, _, ok, err := Small(withOrientation(t, smooth(1200, 800), 6), 300, 300)
	if i, e := Look(small); err != nil || !ok || e != nil || i.Width != 200 || i.Height != 300 {
		t.Errorf("%+v %v %v %v", i, ok, err, e)
	}
	if _, _, ok, err := Small(pngOf(t, scene(20, 20)), 300, 300); ok || err != nil {
		t.Errorf("a small one is made anew: %v", err)
	}
	holed := scene(800, 600)
	holed.Pix[3] = 0
	if small, media, ok, err := Small(pngOf(t, holed), 300, 300); err != nil || !ok || media != "image/png" {
		t.Errorf("%s %v %v, %d bytes", media, ok, err, len(small))
	}
}

// The coarseness of colours in JPEG: each of the ways in which they are kept gives the same small picture.
func TestSmallOfEachSubsampling(t *testing.T) {
	convert, err := exec.LookPath("convert")
	if err != nil {
		t.Skip("imagemagick is not installed (make system)")
	}
	dir := t.TempDir()
	in := filepath.Join(dir, "in.png")
	if err := os.WriteFile(in, pngOf(t, smooth(1600, 900)), 0o600); err != nil {
		t.Fatal(err)
	}
	for _, factor := range []string{"1x1", "2x1", "1x2", "2x2", "4x1"} {
		out := filepath.Join(dir, factor+".jpg")
		if said, err := exec.Command(convert, in, "-quality", "95", "-sampling-factor", factor, out).CombinedOutput(); err != nil {
			t.Fatal(err, string(said))
		}
		b, err := os.ReadFile(out)
		if err != nil {
			t.Fatal(err)
		}
		m, err := jpeg.Decode(bytes.NewReader(b))
		if err != nil {
			t.Fatal(err)
		}
		if d := apart(t, factor, scaledTo(m, 200, 200), shrink(normal(smooth(1600, 900)), 200), 2); d > 5 {
			t.Errorf("%s: %d apart", factor, d)
		}
	}
}

// However its points are kept, a picture made small by averages first is what ImageMagick makes of it: also one that is
// seen through, of few colours, of 16 bits a channel, and one whose size is no multiple.
func TestSmallOfEachKindOfPoints(t *testing.T) {
	r := image.Rect(0, 0, 1603, 907)
	plain := smooth(r.Dx(), r.Dy())
	gray, deep, holed := image.NewGray(r), image.NewNRGBA64(r), image.NewNRGBA(r)
	few := image.NewPaletted(r, nil)
	for i := range 256 {
		few.Palette = append(few.Palette, color.NRGBA{uint8(i), uint8(255 - i), 90, 255})
	}
	for y := range r.Dy() {
		for x := range r.Dx() {
			c := plain.NRGBAAt(x, y)
			gray.SetGray(x, y, color.Gray{c.R})
			deep.SetNRGBA64(x, y, color.NRGBA64{uint16(c.R) << 8, uint16(c.G) << 8, uint16(c.B) << 8, 0xfffe})
			holed.SetNRGBA(x, y, color.NRGBA{c.R, c.G, c.B, c.G})
			few.SetColorIndex(x, y, c.R)
		}
	}
	for name, m := range map[string]image.Image{"rgb": plain, "gray": gray, "16 bits": deep, "seen through": holed, "few colours": few} {
		b := pngOf(t, m)
		from, err := decode(b, mustLook(t, b))
		if err != nil {
			t.Fatal(err)
		}
		for _, side := range []int{1, 2, 400, 801, 802, 1500, 1602, 1603, 1700} {
			if s := scaledTo(from, side, side).Bounds().Size(); s.X != min(side, r.Dx()) {
				t.Errorf("%s to %d: %v", name, side, s)
			}
		}
		got, want := scaledTo(from, 200, 200), convert(t, b, "-resize", "200x200")
		if name == "seen through" { // on white, as it is seen
			for _, on := range []*image.Image{&got, &want} {
				white := image.NewRGBA((*on).Bounds())
				draw.Draw(white, white.Rect, image.White, image.Point{}, draw.Src)
				draw.Draw(white, white.Rect, *on, (*on).Bounds().Min, draw.Over)
				*on = white
			}
		}
		if d := apart(t, name, got, want, 2); d > 4 {
			t.Errorf("%s: %d apart", name, d)
		}
	}
}

// Pictures of 7,000 × 7,000 points made small, of the kinds that Go decodes to different points, beside ImageMagick:
// go test -bench Large -benchtime 1x.
func BenchmarkLargePictures(b *testing.B) {
	convert, err := exec.LookPath("convert")
	if err != nil {
		b.Skip("imagemagick is not installed (make system)")
	}
	dir := b.TempDir()
	for name, args := range map[string][]string{
		"rgb.png": {"-depth", "8"}, "alpha.png": {"-alpha", "set", "-channel", "A", "-evaluate", "set", "70%", "-depth", "8"}, "deep.png": {"-evaluate", "multiply", "0.9", "-depth", "16"},
		"gray.png": {"-colorspace", "Gray", "-depth", "8"}, "few.png": {"-colors", "64", "PNG8:"}, "full.jpg": {"-sampling-factor", "1x1"},
	} {
		in := filepath.Join(dir, name)
		form := map[bool]string{true: "PNG8:"}[name == "few.png"]
		args = append(append([]string{"-size", "1750x1750", "-seed", "1", "plasma:", "-blur", "0x3", "-posterize", "64", "-scale", "7000x7000!"}, slices.DeleteFunc(args, func(a string) bool { return a == "PNG8:" })...), form+in)
		if said, err := exec.Command(convert, args...).CombinedOutput(); err != nil {
			b.Fatal(err, string(said))
		}
		p, err := os.ReadFile(in)
		if err != nil {
			b.Fatal(err)
		}
		if len(p) > 32<<20 {
			b.Fatalf("%s has %d MB", name, len(p)>>20)
		}
		b.Run(name+"/ours", func(b *testing.B) {
			for b.Loop() {
				if _, _, ok, err := Small(p, 480, 480); err != nil || !ok {
					b.Error(err)
				}
			}
		})
		b.Run(name+"/ImageMagick", func(b *testing.B) {
			for b.Loop() {
				c := exec.Command(convert, in, "-auto-orient", "-thumbnail", "480x480", filepath.Join(dir, "out.png"))
				c.Env = append(os.Environ(), "MAGICK_THREAD_LIMIT=1")
				if said, err := c.CombinedOutput(); err != nil {
					b.Error(err, string(said))
				}
			}
		})
	}
}

// A picture of which nothing is asked keeps its points and loses what it tells; identify of ImageMagick finds the same
// points (its signature is a hash of them).
func TestPrivateDataIsDroppedAndPointsStay(t *testing.T) {
	exif := withOrientation(t, scene(40, 30), 1)
	secret := append([]byte{0xff, 0xfe, 0, 12}, "a comment!"...)
	exif = append(append(exif[:2:2], secret...), exif[2:]...)
	p := pngOf(t, scene(40, 30))
	head := chunks(p)[0].to
	told := append(append(p[:head:head], pngChunk("tEXt", []byte("Author\x00a comment!"))...), p[head:]...)
	w, err := output{format: "webp", quality: 80}.once(scene(40, 30), 80)
	if err != nil {
		t.Fatal(err)
	}
	w = webpWith(w, []byte("profile"))
	at := riff(w)[0]
	w[at.from+8] |= 0x08
	w = append(w, "EXIF\x0a\x00\x00\x00a comment!"...)
	for name, b := range map[string][]byte{"jpeg": exif, "png": told, "webp": w} {
		out, err := Do(b, Work{})
		if err != nil || bytes.Contains(out.Bytes, []byte("a comment!")) || len(out.Bytes) >= len(b) {
			t.Errorf("%s: %v, %d of %d bytes", name, err, len(out.Bytes), len(b))
			continue
		}
		before, err := decode(b, mustLook(t, b))
		if err != nil {
			t.Fatal(err)
		}
		after, err := decode(out.Bytes, out.Info)
		if err != nil {
			t.Fatal(err)
		}
		if d := apart(t, name, before, after, 0); d != 0 {
			t.Errorf("%s: %d apart", name, d)
		}
	}
}

func mustLook(t testing.TB, b []byte) Info {
	t.Helper()
	i, err := Look(b)
	if err != nil {
		t.Fatal(err)
	}
	return i
}

// A picture that may weigh only so much is made lighter by quality first, then by size; PNG by size alone.
func TestTargetWeight(t *testing.T) {
	b := pngOf(t, scene(600, 400))
	for _, tt := range []struct {
		w     Work
		wide  int
		tells bool
	}{
		{Work{Format: "jpeg", Weight: 1 << 20}, 600, false},
		{Work{Format: "jpeg", Quality: 95, Weight: 90_000}, 600, true},
		{Work{Format: "jpeg", Weight: 9_000}, 0, true},
		{Work{Format: "webp", Weight: 40_000}, 0, true},
		{Work{Weight: 50_000}, 0, true},
	} {
		out, err := Do(b, tt.w)
		if err != nil || out.Info.Size > tt.w.Weight || tt.wide > 0 && out.Info.Width != tt.wide ||
			tt.tells != (len(out.Said) > 0) {
			t.Errorf("%+v: %+v %v %v", tt.w, out.Info, out.Said, err)
		}
	}
	if _, err := Do(b, Work{Weight: 20}); err == nil {
		t.Error("20 bytes are promised")
	}
}

// One hundred photographs of 12 megapixels to thumbnails, beside ImageMagick's convert -auto-orient -thumbnail, which
// does the same, each with what two processors give: go test -bench Thumbnails -benchtime 1x.
func BenchmarkThumbnails(b *testing.B) {
	convert, err := exec.LookPath("convert")
	if err != nil {
		b.Skip("imagemagick is not installed (make system)")
	}
	const count, kinds = 100, 4
	dir := b.TempDir()
	var photos [][]byte
	for k := range kinds {
		file := filepath.Join(dir, string(rune('a'+k))+".jpg")
		args := []string{
			"-size",
			"4000x3000",
			"-seed",
			string(rune('1' + k)),
			"plasma:",
			"-attenuate",
			"0.3",
			"+noise",
			"Gaussian",
			"-quality",
			"90",
			file,
		}
		if said, err := exec.Command(convert, args...).CombinedOutput(); err != nil {
			b.Fatal(err, string(said))
		}
		p, err := os.ReadFile(file)
		if err != nil {
			b.Fatal(err)
		}
		photos = append(photos, p)
	}
	two := func(one func(k int)) {
		next, done := make(chan int), make(chan bool)
		for range 2 {
			go func() {
				for k := range next {
					one(k)
				}
				done <- true
			}()
		}
		for k := range count {
			next <- k
		}
		close(next)
		<-done
		<-done
	}
	b.Run("ours", func(b *testing.B) {
		for b.Loop() {
			two(func(k int) {
				if _, _, ok, err := Small(photos[k%kinds], 320, 320); err != nil || !ok {
					b.Error(err)
				}
			})
		}
	})
	b.Run("ImageMagick", func(b *testing.B) {
		for b.Loop() {
			two(func(k int) {
				in, out := filepath.Join(
					dir,
					string(rune('a'+k%kinds))+".jpg",
				), filepath.Join(
					dir,
					"out"+string(rune('a'+k%26))+string(rune('a'+k/26))+".jpg",
				)
				c := exec.Command(convert, in, "-auto-orient", "-thumbnail", "320x320", out)
				c.Env = append(os.Environ(), "MAGICK_THREAD_LIMIT=1")
				if said, err := c.CombinedOutput(); err != nil {
					b.Error(err, string(said))
				}
			})
		}
	})
}
