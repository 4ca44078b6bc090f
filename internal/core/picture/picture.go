// Package picture looks at picture files without trusting them, and works on them: what they are, how large, how
// heavy; turned, cut and sized, always from the untouched original.
package picture

import (
	"bytes"
	"fmt"
	"image"
	"image/draw"
	"image/gif"
	"image/jpeg"
	"image/png"
	"io"
	"strings"

	"golang.org/x/image/webp"
)

// Limits of a picture that is taken in.
const (
	MaxBytes  = 40 << 20
	MaxPixels = 60_000_000
)

// Info is what can be told of a picture from its head. Its JSON form is that of the command line.
type Info struct {
	Media       string   `json:"media"`
	Width       int      `json:"width"` // as shown, after its orientation; 0 for a drawing without a size
	Height      int      `json:"height"`
	Orientation int      `json:"orientation"` // by EXIF (CIPA DC-008, 4.6.5), 1 where it is not said
	Animated    bool     `json:"animated"`
	Alpha       bool     `json:"alpha"`   // some of it may be seen through
	Profile     string   `json:"profile"` // of its colours, as the file names it; empty where it has none
	Size        int      `json:"size"`    // bytes
	Private     []string `json:"-"`       // what it tells of whoever took it, in words
}

// kind is a kind of picture file.
type kind struct {
	is     func(b []byte) bool
	config func(io.Reader) (image.Config, error)
	decode func(b io.ReadSeeker) (image.Image, error) // the picture, or its first frame; nil where Mendry does not decode it
	head   func(b []byte, i *Info)
}

// kinds are those that are taken in, by media type. The content says what a file is, never its name.
var kinds = map[string]kind{
	"image/jpeg": {begins("\xff\xd8\xff"), jpeg.DecodeConfig, of(jpeg.Decode), ofJPEG},
	"image/png":  {begins("\x89PNG\r\n\x1a\n"), png.DecodeConfig, of(png.Decode), ofPNG},
	"image/gif":  {begins("GIF8"), gif.DecodeConfig, firstFrame, ofGIF},
	"image/webp": {isWebP, webp.DecodeConfig, of(webp.Decode), ofWebP},
	"image/avif": {isAVIF, nil, nil, ofAVIF},
	SVG:          {isSVG, nil, nil, ofSVG},
}

// SVG is the media type of a drawing.
const SVG = "image/svg+xml"

func begins(with string) func([]byte) bool {
	return func(b []byte) bool { return bytes.HasPrefix(b, []byte(with)) }
}

func isWebP(b []byte) bool {
	return len(b) >= 16 && string(b[:4]) == "RIFF" && string(b[8:15]) == "WEBPVP8"
}

func isSVG(b []byte) bool {
	head := strings.ToLower(string(b[:min(len(b), 1024)]))
	head = strings.TrimLeft(strings.TrimPrefix(head, "\ufeff"), " \t\r\n")
	return strings.HasPrefix(head, "<svg") || strings.HasPrefix(head, "<?xml") && strings.Contains(head, "<svg") ||
		strings.HasPrefix(head, "<!--") && strings.Contains(head, "<svg") ||
		strings.HasPrefix(head, "<!doctype svg")
}

// Begins reports whether a file begins as a picture does; it may still be broken.
func Begins(b []byte) bool {
	for _, k := range kinds {
		if k.is(b) {
			return true
		}
	}
	return false
}

// Look reads a picture's kind and size. Only the head is decoded, so that a small file cannot unfold into a large one.
// The error is a *refusal.Refusal.
func Look(b []byte) (Info, error) {
	if len(b) > MaxBytes {
		return Info{}, refuse("The picture has %d MB. Send one of up to %d MB.", len(b)>>20, MaxBytes>>20)
	}
	i := Info{Orientation: 1, Size: len(b)}
	for media, k := range kinds {
		if k.is(b) {
			i.Media = media
		}
	}
	k, known := kinds[i.Media]
	if !known {
		return Info{}, refuse(
			"The file is no picture that can be shown on a page. Send a JPEG, PNG, GIF, WebP, AVIF or SVG.",
		)
	}
	if k.config != nil {
		c, err := k.config(bytes.NewReader(b))
		if err != nil {
			return Info{}, errBroken()
		}
		i.Width, i.Height = c.Width, c.Height
	}
	k.head(b, &i)
	if i.Media == SVG {
		return i, nil
	}
	if i.Width <= 0 || i.Height <= 0 {
		return Info{}, errBroken()
	}
	if i.Width > MaxPixels/i.Height {
		return Info{}, refuse(
			"The picture has %d × %d points. Send one of up to %d million.",
			i.Width,
			i.Height,
			MaxPixels/1_000_000,
		)
	}
	if i.Orientation > 4 { // lying on its side
		i.Width, i.Height = i.Height, i.Width
	}
	return i, nil
}

func errBroken() error {
	return refuse("The picture is broken: it breaks off, or is not what it says it is. Send it again.")
}

// Check is Look that decodes all of a picture: one that breaks off, or is not what its head says, is refused.
func Check(b []byte) (Info, error) {
	i, err := Look(b)
	if err != nil {
		return i, err
	}
	if i.Media == SVG {
		_, _, err = CleanSVG(b)
		return i, err
	}
	if kinds[i.Media].decode != nil {
		_, err = decode(b, i)
	}
	return i, err
}

// decode decodes the picture, or its first frame. The error is a *refusal.Refusal.
func decode(b []byte, i Info) (image.Image, error) {
	m, err := kinds[i.Media].decode(bytes.NewReader(b))
	if err != nil || i.Media == "image/jpeg" && !ends(b) {
		return nil, errBroken()
	}
	size, w, h := m.Bounds().Size(), i.Width, i.Height
	if i.Orientation > 4 {
		w, h = h, w
	}
	if size.X != w || size.Y != h {
		return nil, refuse("The picture is not of the size that its head says. Send it again.")
	}
	return m, nil
}

// firstFrame is the first frame of a GIF, on the whole of its screen. The others are not decoded: there may be
// thousands.
func firstFrame(b io.ReadSeeker) (image.Image, error) {
	c, err := gif.DecodeConfig(b)
	if err != nil {
		return nil, err
	}
	if _, err = b.Seek(0, io.SeekStart); err != nil {
		return nil, err
	}
	m, err := gif.Decode(b)
	if err != nil {
		return nil, err
	}
	screen := image.Rect(0, 0, c.Width, c.Height)
	if m.Bounds() == screen {
		return m, nil
	}
	out := image.NewNRGBA(screen)
	draw.Draw(out, m.Bounds(), m, m.Bounds().Min, draw.Src)
	return out, nil
}

// of makes one of the library's decoders one of ours.
func of(decode func(io.Reader) (image.Image, error)) func(io.ReadSeeker) (image.Image, error) {
	return func(b io.ReadSeeker) (image.Image, error) { return decode(b) }
}

// SameShape is how far two shapes may be from each other, in percent, to count as the same (a rule of the trade).
const SameShape = 2

// Shape says how far two shapes are from each other, in percent of their ratio of width to height.
func Shape(w1, h1, w2, h2 int) float64 {
	if w1 <= 0 || h1 <= 0 || w2 <= 0 || h2 <= 0 {
		return 0
	}
	a, b := float64(w1)/float64(h1), float64(w2)/float64(h2)
	if a < b {
		a, b = b, a
	}
	return (a/b - 1) * 100
}

// Weight writes a size in bytes for people: "148 kB".
func Weight(n int) string {
	switch {
	case n < 1000:
		return fmt.Sprintf("%d bytes", n)
	case n < 1_000_000:
		return fmt.Sprintf("%d kB", (n+500)/1000)
	}
	return fmt.Sprintf("%.1f MB", float64(n)/1e6)
}
