package picture

import (
	"bytes"
	"image"
	"os"
	"os/exec"
	"path/filepath"
	"testing"
)

// icc is a profile of Debian's icc-profiles-free.
func icc(t testing.TB, name string) []byte {
	t.Helper()
	p, err := os.ReadFile("/usr/share/color/icc/" + name + ".icc")
	if err != nil {
		t.Skip("icc-profiles-free is not installed (make system)")
	}
	return p
}

// Held against ImageMagick, which lets lcms2 convert: within 3 of 255 in every point, where neither colour lies
// outside of sRGB. (The picture is made of colours that both spaces have.)
func TestColoursBesideLCMS(t *testing.T) {
	m := image.NewNRGBA(image.Rect(0, 0, 64, 64))
	for y := range 64 {
		for x := range 64 {
			k := m.PixOffset(x, y)
			m.Pix[k], m.Pix[k+1], m.Pix[k+2], m.Pix[k+3] = uint8(60+2*x), uint8(60+2*y), uint8(120+x/2), 255
		}
	}
	for _, name := range []string{"compatibleWithAdobeRGB1998", "LStar-RGB"} {
		b := withProfile(pngOf(t, m), "png", icc(t, name))
		i, err := Look(b)
		if err != nil || i.Profile == "" {
			t.Fatalf("%+v %v", i, err)
		}
		out, err := Do(b, Work{})
		if err != nil {
			t.Fatal(err)
		}
		if len(out.Said) != 1 || out.Info.Profile != "" {
			t.Errorf("%s: %+v", name, out)
		}
		ours, err := decode(out.Bytes, out.Info)
		if err != nil {
			t.Fatal(err)
		}
		theirs := convert(t, b, "-profile", "/usr/share/color/icc/sRGB.icc")
		if d := apart(t, name, ours, theirs, 0); d > 3 {
			t.Errorf("%s: %d apart", name, d)
		}
		if d := apart(t, name, ours, m, 0); d < 8 {
			t.Errorf("%s: nothing was converted: %d", name, d)
		}
	}
}

// Profiles that are sRGB are left out where points are written anew, others than by a matrix are kept, in each format
// that has a place for one; identify of ImageMagick finds them.
func TestProfilesAreKeptOrLeftOut(t *testing.T) {
	b := withProfile(pngOf(t, scene(30, 20)), "png", icc(t, "sRGB"))
	if out, err := Do(b, Work{Width: 20}); err != nil || profileOf(out.Bytes, out.Info.Media) != nil ||
		len(out.Said) > 0 {
		t.Errorf("%+v %v", out.Said, err)
	}
	lab := icc(t, "sRGB")
	copy(lab[20:24], "Lab ") // one that is not by a matrix, for what we know
	b = withProfile(pngOf(t, scene(30, 20)), "png", lab)
	for _, format := range []string{"jpeg", "png", "webp"} {
		out, err := Do(b, Work{Width: 20, Format: format})
		if err != nil || !bytes.Equal(profileOf(out.Bytes, out.Info.Media), lab) || len(out.Said) != 1 {
			t.Fatalf("%s: %+v %v", format, out.Said, err)
		}
		if format == "webp" {
			continue // its reader in ImageMagick hands no profile on
		}
		file := filepath.Join(t.TempDir(), "a")
		if err := os.WriteFile(file, out.Bytes, 0o600); err != nil {
			t.Fatal(err)
		}
		if said, err := exec.Command("identify", "-verbose", file).CombinedOutput(); err != nil ||
			!bytes.Contains(said, []byte("Profile-icc")) {
			t.Errorf("%s: %v %s", format, err, said)
		}
	}
}

// The functions of a curve at values of the sRGB curve (IEC 61966-2-1: 0.04045 / 12.92, and ((x+0.055)/1.055)^2.4).
func TestParametricCurves(t *testing.T) {
	srgb := parametric(3, []float64{2.4, 1 / 1.055, 0.055 / 1.055, 1 / 12.92, 0.04045})
	for x, want := range map[float64]float64{0: 0, 0.04: 0.04 / 12.92, 0.5: 0.21404114, 1: 1} {
		if got := srgb(x); got < want-1e-6 || got > want+1e-6 {
			t.Errorf("%v: %v, want %v", x, got, want)
		}
	}
}
