package picture

import (
	"bytes"
	"image"
	"image/png"
	"testing"
)

func TestLook(t *testing.T) {
	var b bytes.Buffer
	if err := png.Encode(&b, image.NewGray(image.Rect(0, 0, 30, 20))); err != nil {
		t.Fatal(err)
	}
	in, err := Look(b.Bytes())
	if err != nil || in.Media != "image/png" || in.Width != 30 || in.Height != 20 {
		t.Errorf("%+v %v", in, err)
	}
	if in, err := Look([]byte("<?xml version='1.0'?><svg xmlns='http://www.w3.org/2000/svg'/>")); err != nil ||
		in.Media != "image/svg+xml" {
		t.Errorf("%+v %v", in, err)
	}
}

func TestShape(t *testing.T) {
	if got := Shape(1600, 640, 800, 320); got != 0 {
		t.Errorf("same shape: %v", got)
	}
	if got := Shape(100, 100, 250, 100); got < 149 || got > 151 {
		t.Errorf("square in a banner: %v", got)
	}
}
