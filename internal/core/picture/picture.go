// Package picture looks at picture files without trusting them, and works on them: what they are, how large, how heavy;
// turned, cut and sized, always from the untouched original.
package picture

import (
	"bytes"
	"fmt"
	"image"
	_ "image/gif"  // decoders register themselves
	_ "image/jpeg" // decoders register themselves
	_ "image/png"  // decoders register themselves
	"strings"

	"mendry/internal/core/refusal"

	_ "golang.org/x/image/webp" // decoders register themselves
)

// Limits of a picture that is taken in.
const (
	MaxBytes  = 40 << 20
	MaxPixels = 60_000_000
)

// Info is what can be told of a picture from its head. Its JSON form is that of the command line.
type Info struct {
	Media       string `json:"media"`
	Width       int    `json:"width"` // as shown, after its orientation; 0 for a drawing without a size
	Height      int    `json:"height"`
	Orientation int    `json:"orientation"` // by EXIF (CIPA DC-008, 4.6.5), 1 where it is not said
	Animated    bool   `json:"animated"`
	Alpha       bool   `json:"alpha"`   // some of it may be seen through
	Profile     string `json:"profile"` // of its colours, as the file names it; empty where it has none
	Size        int    `json:"size"`    // bytes
}

// Look reads a picture's kind and size. Only the head is decoded, so that a small file cannot unfold into a large one.
// The error is a *refusal.Refusal.
func Look(b []byte) (Info, error) {
	if len(b) > MaxBytes {
		return Info{}, refusal.New(refusal.Rule, "The picture has %d MB. Send one of up to %d MB.", len(b)>>20, MaxBytes>>20)
	}
	if isSVG(b) {
		w, h := drawnSize(b)
		return Info{Media: "image/svg+xml", Width: w, Height: h, Orientation: 1, Alpha: true, Size: len(b)}, nil
	}
	c, format, err := image.DecodeConfig(bytes.NewReader(b))
	if err != nil {
		return Info{}, refusal.New(refusal.Rule, "The file is no picture that can be shown on a page. Send a JPEG, PNG, GIF, WebP or SVG.")
	}
	if c.Width <= 0 || c.Height <= 0 || c.Width > MaxPixels/c.Height {
		return Info{}, refusal.New(refusal.Rule, "The picture has %d × %d points. Send one of up to 60 million.", c.Width, c.Height)
	}
	i := Info{Media: "image/" + format, Width: c.Width, Height: c.Height, Orientation: 1, Size: len(b)}
	heads[format](b, &i)
	if i.Orientation > 4 { // lying on its side
		i.Width, i.Height = i.Height, i.Width
	}
	return i, nil
}

// Check is Look that decodes all of a picture: one that breaks off, or is not what its head says, is refused.
func Check(b []byte) (Info, error) {
	i, err := Look(b)
	if err != nil || i.Media == "image/svg+xml" {
		return i, err
	}
	_, err = decode(b, i)
	return i, err
}

// decode decodes the picture, or its first frame. The error is a *refusal.Refusal.
func decode(b []byte, i Info) (image.Image, error) {
	m, _, err := image.Decode(bytes.NewReader(b))
	if err != nil {
		return nil, refusal.New(refusal.Rule, "The picture is broken: it breaks off, or is not what it says it is. Send it again.")
	}
	size, w, h := m.Bounds().Size(), i.Width, i.Height
	if i.Orientation > 4 {
		w, h = h, w
	}
	if size.X != w || size.Y != h {
		return nil, refusal.New(refusal.Rule, "The picture is not of the size that its head says. Send it again.")
	}
	return m, nil
}

func isSVG(b []byte) bool {
	head := strings.ToLower(string(b[:min(len(b), 1024)]))
	head = strings.TrimLeft(strings.TrimPrefix(head, "\ufeff"), " \t\r\n")
	return strings.HasPrefix(head, "<svg") || strings.HasPrefix(head, "<?xml") && strings.Contains(head, "<svg")
}

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
