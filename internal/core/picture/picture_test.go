package picture

import (
	"bytes"
	"image"
	"image/png"
	"strings"
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
	if in, err := Look([]byte("<?xml version='1.0'?><svg xmlns='http://www.w3.org/2000/svg'/>")); err != nil || in.Media != "image/svg+xml" {
		t.Errorf("%+v %v", in, err)
	}
}

func TestHostileFilesAreRefusedInWords(t *testing.T) {
	// A PNG head (RFC 2083, 4.1.1) that claims 60,000 by 60,000 points.
	bomb := []byte("\x89PNG\r\n\x1a\n\x00\x00\x00\rIHDR\x00\x00\xea\x60\x00\x00\xea\x60\x08\x02\x00\x00\x00")
	bomb = append(bomb, 0xb6, 0x10, 0x59, 0x71) // the checksum may be wrong: refused either way
	for name, b := range map[string][]byte{"bomb": bomb, "text": []byte("hello"), "empty": nil, "heavy": make([]byte, MaxBytes+1)} {
		if _, err := Look(b); err == nil || !strings.Contains(err.Error(), "Send") {
			t.Errorf("%s: %v", name, err)
		}
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
