// Package picture looks at picture files without trusting them: what they are, how large, how heavy.
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
	MaxBytes  = 20 << 20
	MaxPixels = 60_000_000
)

// Info is what can be told of a picture from its first bytes.
type Info struct {
	Type   string // media type
	Width  int    // pixels as stored; 0 for a drawing without a size
	Height int
	Bytes  int
}

// Look reads a picture's kind and size. Only the head is decoded, so that a small file cannot unfold into a large one.
// The error is a *refusal.Refusal.
func Look(b []byte) (Info, error) {
	if len(b) > MaxBytes {
		return Info{}, refusal.New(refusal.Rule, "The picture has %d MB. Send one of up to %d MB.", len(b)>>20, MaxBytes>>20)
	}
	if isSVG(b) {
		return Info{Type: "image/svg+xml", Bytes: len(b)}, nil
	}
	c, format, err := image.DecodeConfig(bytes.NewReader(b))
	if err != nil {
		return Info{}, refusal.New(refusal.Rule, "The file is no picture that can be shown on a page. Send a JPEG, PNG, GIF, WebP or SVG.")
	}
	if c.Width <= 0 || c.Height <= 0 || c.Width*c.Height > MaxPixels {
		return Info{}, refusal.New(refusal.Rule, "The picture has %d × %d points. Send one of up to 60 million.", c.Width, c.Height)
	}
	return Info{Type: "image/" + format, Width: c.Width, Height: c.Height, Bytes: len(b)}, nil
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
