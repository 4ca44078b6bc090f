package picture

import (
	"go/build"
	"image"
	"os"
	"os/exec"
	"path/filepath"
	"regexp"
	"strconv"
	"strings"
	"testing"

	"mendry/internal/tries"
)

// gorootFile is a folder of Go's own test files.
func gorootFile(t testing.TB, dir string) string {
	t.Helper()
	p := filepath.Join(build.Default.GOROOT, "src", dir)
	if _, err := os.Stat(p); err != nil {
		t.Skip("Go's test files are not installed")
	}
	return p
}

var (
	sizeInSNG = regexp.MustCompile(`width: (\d+); height: (\d+)`)
	transSNG  = regexp.MustCompile(`(?m)^tRNS`)
)

// The PNG suite (Willem van Schaik), which ships with Go, each file with what stands in it as text (SNG).
func TestThePNGSuite(t *testing.T) {
	dir := gorootFile(t, "image/png/testdata/pngsuite")
	all, err := filepath.Glob(filepath.Join(dir, "*.png"))
	if err != nil || len(all) < 25 {
		t.Fatal(len(all), err)
	}
	for _, file := range all {
		sng, err := os.ReadFile(strings.TrimSuffix(file, ".png") + ".sng")
		if err != nil {
			continue // told in another file
		}
		b, err := os.ReadFile(file)
		if err != nil {
			t.Fatal(err)
		}
		m := sizeInSNG.FindSubmatch(sng)
		w, _ := strconv.Atoi(string(m[1]))
		h, _ := strconv.Atoi(string(m[2]))
		alpha := strings.Contains(string(sng), "alpha;") || transSNG.Match(sng)
		i, err := Check(b)
		if err != nil || i.Media != "image/png" || i.Width != w || i.Height != h || i.Alpha != alpha || i.Animated {
			t.Errorf("%s: %+v %v, want %d × %d, alpha %v", filepath.Base(file), i, err, w, h, alpha)
		}
		// Its points stay where nothing is asked, and are the same where it is written anew.
		as := mustDecode(t, b)
		for _, work := range []Work{{}, {Percent: 100}} {
			out, err := Do(b, work)
			if err != nil {
				t.Errorf("%s: %v", filepath.Base(file), err)
				continue
			}
			may := 0
			if strings.Contains(string(sng), "bitdepth: 16") {
				may = 1 // a picture is written with 8 bits, the difference is looked at with 16
			}
			if d := apart(t, filepath.Base(file), mustDecode(t, out.Bytes), as, 0); d > may {
				t.Errorf("%s: %+v: %d apart", filepath.Base(file), work, d)
			}
		}
	}
}

// Go's own test files of JPEG and GIF: every subsampling, progressive, with restarts, CMYK, interlaced. ImageMagick
// tells their sizes. Each that is cut is refused, the progressive ones too, which the decoder takes.
func TestGosPictures(t *testing.T) {
	identify, err := exec.LookPath("identify")
	if err != nil {
		t.Skip("imagemagick is not installed (make system)")
	}
	dir := gorootFile(t, "image/testdata")
	for _, pattern := range []string{"*.jpeg", "*.gif"} {
		all, err := filepath.Glob(filepath.Join(dir, pattern))
		if err != nil || len(all) == 0 {
			t.Fatal(pattern, err)
		}
		for _, file := range all {
			b, err := os.ReadFile(file)
			if err != nil {
				t.Fatal(err)
			}
			i, err := Check(b)
			if cut, err := Check(b[:len(b)*2/3]); err == nil && pattern == "*.jpeg" {
				t.Errorf("%s breaks off, and is %+v", filepath.Base(file), cut)
			}
			said, _ := exec.Command(identify, "-format", "%w %h", file+"[0]").Output()
			if err != nil || string(said) != strconv.Itoa(i.Width)+" "+strconv.Itoa(i.Height) {
				t.Errorf("%s: %+v %v, ImageMagick says %s", filepath.Base(file), i, err, said)
				continue
			}
			if _, _, _, err := Small(b, 40, 40); err != nil {
				t.Errorf("%s: %v", filepath.Base(file), err)
			}
		}
	}
}

// The WebP files that golang.org/x/image ships: lossy and lossless, with alpha and few colours. ImageMagick reads the
// same points of the lossless ones.
func TestWebPFiles(t *testing.T) {
	said, err := exec.Command("go", "list", "-m", "-f", "{{.Dir}}", "golang.org/x/image").Output()
	if err != nil {
		t.Skip("the module's folder is not known")
	}
	all, err := filepath.Glob(filepath.Join(strings.TrimSpace(string(said)), "testdata", "*.webp"))
	if err != nil || len(all) < 10 {
		t.Skip("its test files are not installed")
	}
	for n, file := range all {
		if !tries.Some(n, 4) {
			continue
		}
		b, err := os.ReadFile(file)
		if err != nil {
			t.Fatal(err)
		}
		i, err := Check(b)
		if err != nil || i.Media != "image/webp" {
			t.Errorf("%s: %+v %v", filepath.Base(file), i, err)
			continue
		}
		out, err := Do(b, Work{Turn: 180, Format: "png"})
		if err != nil {
			t.Errorf("%s: %v", filepath.Base(file), err)
			continue
		}
		if strings.Contains(file, "lossless") && !i.Alpha {
			ours, theirs := mustDecode(t, out.Bytes), convert(t, b, "-rotate", "180")
			if d := apart(t, filepath.Base(file), ours, theirs, 0); d != 0 {
				t.Errorf("%s: %d apart", filepath.Base(file), d)
			}
		}
	}
}

func mustDecode(t testing.TB, b []byte) image.Image {
	t.Helper()
	m, err := decode(b, mustLook(t, b))
	if err != nil {
		t.Fatal(err)
	}
	return m
}
