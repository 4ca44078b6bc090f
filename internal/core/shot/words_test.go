package shot

import (
	"image"
	"image/color"
	"image/draw"
	"math"
	"testing"

	"mendry/internal/core/style"
)

// The contrast of white and of #777 on the ground that WCAG's own examples give them: 21:1 of black on white, and
// 4.48:1 of
// #777 on white, which fails by a hair (WebAIM's and W3C's well-known pair, from memory).
func TestContrastOfWordsOverAPicture(t *testing.T) {
	ground := func(c color.RGBA) *image.RGBA {
		m := image.NewRGBA(image.Rect(0, 0, 200, 60))
		draw.Draw(m, m.Rect, image.NewUniform(c), image.Point{}, draw.Src)
		return m
	}
	line := []image.Rectangle{image.Rect(10, 10, 190, 50)}
	white := style.Color{R: 255, G: 255, B: 255, A: 1}
	for _, tt := range []struct {
		ink    style.Color
		ground color.RGBA
		want   float64
		large  bool
		faint  bool
	}{
		{white, color.RGBA{0, 0, 0, 255}, 21, false, false},
		{style.Color{R: 0x77, G: 0x77, B: 0x77, A: 1}, color.RGBA{255, 255, 255, 255}, 4.48, false, true},
		{style.Color{R: 0x77, G: 0x77, B: 0x77, A: 1}, color.RGBA{255, 255, 255, 255}, 4.48, true, false},
	} {
		o := Over{Ink: tt.ink, Large: tt.large, Lines: line}
		if got := o.Stands(ground(tt.ground)); math.Abs(got-tt.want) > 0.01 {
			t.Errorf("%v on %v: %.2f, want %.2f", tt.ink, tt.ground, got, tt.want)
		}
		if _, is := o.faint(ground(tt.ground)); is != tt.faint {
			t.Errorf("%v on %v: faint %v", tt.ink, tt.ground, is)
		}
	}
	// A star hides nothing; a bright cloud behind a part of the words does.
	night := ground(color.RGBA{10, 10, 40, 255})
	draw.Draw(night, image.Rect(50, 20, 55, 25), image.White, image.Point{}, draw.Src)
	o := Over{Ink: white, Lines: line}
	if got := o.Stands(night); got < 15 {
		t.Errorf("under a star: %.2f", got)
	}
	draw.Draw(
		night,
		image.Rect(10, 10, 60, 50),
		image.NewUniform(color.RGBA{230, 230, 240, 255}),
		image.Point{},
		draw.Src,
	)
	if got := o.Stands(night); got > 2 {
		t.Errorf("over a cloud: %.2f", got)
	}
}
