package picture

import (
	"bytes"
	"image"
	"image/jpeg"
	"testing"
)

func TestTheQualityOfAJPEGIsReadFromItsTable(t *testing.T) {
	for _, want := range []int{25, 40, 50, 60, 75, 82, 92, 97} {
		b := jpegAt(t, image.NewGray(image.Rect(0, 0, 16, 16)), want)
		if got := qualityOf(b); got < want-1 || got > want+1 {
			t.Errorf("written at %d, read as %d", want, got)
		}
	}
	if got := qualityOf([]byte("\xff\xd8\xff\xdb\x00\x04\x00\x01")); got != 0 {
		t.Errorf("of a table that breaks off: %d", got)
	}
}

func jpegAt(t *testing.T, m image.Image, quality int) []byte {
	t.Helper()
	var b bytes.Buffer
	if err := jpeg.Encode(&b, m, &jpeg.Options{Quality: quality}); err != nil {
		t.Fatal(err)
	}
	return b.Bytes()
}

// A picture that only stands upright is written at the quality that it had, and grey keeps its profile.
func TestWhatIsOnlyTurnedKeepsItsQualityAndGreyItsProfile(t *testing.T) {
	m := image.NewRGBA(image.Rect(0, 0, 64, 32))
	for i := range m.Pix {
		m.Pix[i] = byte(i * 7)
	}
	for had, want := range map[int]int{60: 60, 92: 92, 100: 95} {
		done, err := Do(turnedTo(jpegAt(t, m, had), 6), Work{})
		if err != nil || qualityOf(done.Bytes) < want-1 || qualityOf(done.Bytes) > want+1 || done.Info.Width != 32 {
			t.Errorf("at %d: written at %d, %d wide, %v", had, qualityOf(done.Bytes), done.Info.Width, err)
		}
	}
	profile := make([]byte, 132)
	copy(profile[16:], "GRAY")
	copy(profile[36:], "acsp")
	grey := withProfile(jpegAt(t, image.NewGray(image.Rect(0, 0, 64, 32)), 90), "jpeg", profile)
	for format, kept := range map[string]bool{"jpeg": true, "png": true, "webp": false} {
		done, err := Do(grey, Work{Width: 32, Format: format})
		if err != nil || bytes.Equal(profileOf(done.Bytes, done.Info.Media), profile) != kept {
			t.Errorf("%s: %v, %d bytes of profile", format, err, len(profileOf(done.Bytes, done.Info.Media)))
		}
	}
}

// turnedTo puts an orientation into a JPEG (Exif 2.32, 4.6.4).
func turnedTo(b []byte, orientation byte) []byte {
	exif := append([]byte("Exif\x00\x00MM\x00\x2a\x00\x00\x00\x08\x00\x01\x01\x12\x00\x03\x00\x00\x00\x01\x00"), orientation, 0, 0, 0, 0, 0, 0)
	head := append([]byte{0xff, 0xd8, 0xff, 0xe1, 0, byte(2 + len(exif))}, exif...)
	return append(head, b[2:]...)
}
