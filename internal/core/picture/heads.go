package picture

import (
	"bytes"
	"encoding/binary"
	"maps"
	"slices"
	"strings"
	"time"

	"github.com/bep/imagemeta"
)

// What heads tell beside a picture's size. What cannot be read stays as it is: it is nothing that a picture is refused
// for.

// longestLook is how long private data is read for: it is a hint, and hostile files abound.
const longestLook = 2 * time.Second

// private are the tags that tell of whoever took a picture, and what they tell. The names are those of EXIF (CIPA
// DC-008), IPTC and XMP, as the library has them.
var private = map[string]string{
	"GPSLatitude": "where it was taken", "GPSLongitude": "where it was taken", "GPSPosition": "where it was taken",
	"Make": "the camera", "Model": "the camera", "SerialNumber": "the camera", "BodySerialNumber": "the camera",
	"LensModel": "the camera", "DateTimeOriginal": "when it was taken", "CreateDate": "when it was taken",
	"DateTimeDigitized": "when it was taken", "Artist": "who took it", "Byline": "who took it", "Creator": "who took it",
	"OwnerName": "who took it", "CameraOwnerName": "who took it",
}

// tags reads a picture's orientation, and what private data it carries.
func tags(b []byte, i *Info, f imagemeta.ImageFormat) {
	told := map[string]bool{}
	_, _ = imagemeta.Decode(imagemeta.Options{
		R: bytes.NewReader(b), ImageFormat: f, Timeout: longestLook,
		Sources: imagemeta.EXIF | imagemeta.IPTC | imagemeta.XMP,
		ShouldHandleTag: func(t imagemeta.TagInfo) bool {
			return t.Tag == "Orientation" || private[t.Tag] != ""
		},
		HandleTag: func(t imagemeta.TagInfo) error {
			if say := private[t.Tag]; say != "" {
				told[say] = true
			}
			v, ok := t.Value.(uint16)
			if ok && t.Tag == "Orientation" && v >= 1 && v <= 8 && strings.HasPrefix(t.Namespace, "IFD0") {
				i.Orientation = int(v)
			}
			return nil
		},
	})
	i.Private = slices.Sorted(maps.Keys(told))
}

// ofJPEG reads the segments of a JPEG (ITU-T T.81, B.1.1.3) up to its picture.
func ofJPEG(b []byte, i *Info) {
	tags(b, i, imagemeta.JPEG)
	i.Profile = profileName(profileOf(b, i.Media))
}

const iccInJPEG = "ICC_PROFILE\x00" // ICC.1:2022, B.4; two bytes of numbering behind it

type segment struct {
	marker byte
	data   []byte
	at     int // where its data begins in the file
}

// segments are those of a JPEG before its picture begins.
func segments(b []byte) (all []segment) {
	for at := 2; at+4 <= len(b) && b[at] == 0xff; {
		marker := b[at+1]
		if marker == 0xff { // filling
			at++
			continue
		}
		n := int(binary.BigEndian.Uint16(b[at+2:]))
		if n < 2 || at+2+n > len(b) {
			return all
		}
		all = append(all, segment{marker, b[at+4 : at+2+n], at + 4})
		if marker == 0xda {
			return all
		}
		at += 2 + n
	}
	return all
}

// ends reports whether a JPEG has its end (EOI; ITU-T T.81, B.1.1.3): the decoder takes a progressive one that breaks
// off.
func ends(b []byte) bool {
	head := segments(b)
	if len(head) == 0 || head[len(head)-1].marker != 0xda {
		return false
	}
	return bytes.Contains(b[head[len(head)-1].at:], []byte{0xff, 0xd9})
}

// ofPNG reads the chunks of a PNG (W3C PNG, third edition, 5 and 11) up to its picture.
func ofPNG(b []byte, i *Info) {
	tags(b, i, imagemeta.PNG)
	for _, c := range chunks(b) {
		switch c.kind {
		case "IHDR":
			i.Alpha = len(c.data) >= 10 && (c.data[9] == 4 || c.data[9] == 6)
		case "tRNS":
			i.Alpha = true
		case "acTL":
			i.Animated = len(c.data) >= 4 && binary.BigEndian.Uint32(c.data) > 1
		case "sRGB":
			i.Profile = "sRGB"
		case "iCCP":
			name, _, _ := bytes.Cut(c.data, []byte{0})
			i.Profile = latin(name)
		case "IDAT":
			return
		}
	}
}

// chunk is a piece of a PNG, or of a WebP.
type chunk struct {
	kind     string
	data     []byte
	from, to int // where all of it stands in the file
}

// chunks are those of a PNG, as far as they are whole.
func chunks(b []byte) (all []chunk) {
	for at := 8; at+12 <= len(b); {
		n := int(binary.BigEndian.Uint32(b[at:]))
		if n < 0 || n > len(b)-12-at {
			break
		}
		all = append(all, chunk{string(b[at+4 : at+8]), b[at+8 : at+8+n], at, at + 12 + n})
		at += 12 + n
	}
	return all
}

// ofGIF counts the frames of a GIF (GIF89a, 20 to 23), and tells whether one may be seen through.
func ofGIF(b []byte, i *Info) {
	if len(b) < 13 {
		return
	}
	skipTable := func(at int, packed byte) int {
		if packed&0x80 != 0 {
			at += 3 << (packed&7 + 1)
		}
		return at
	}
	skipBlocks := func(at int) int {
		for at < len(b) && b[at] != 0 {
			at += 1 + int(b[at])
		}
		return at + 1
	}
	frames := 0
	for at := skipTable(13, b[10]); at < len(b); {
		switch b[at] {
		case 0x21: // an extension
			if at+4 < len(b) && b[at+1] == 0xf9 && b[at+3]&1 != 0 {
				i.Alpha = true
			}
			at = skipBlocks(at + 2)
		case 0x2c: // a frame
			if frames++; at+10 > len(b) {
				return
			}
			at = skipBlocks(skipTable(at+10, b[at+9]) + 1)
		default:
			at = len(b)
		}
	}
	i.Animated = frames > 1
}

// ofWebP reads the chunks of a WebP (RFC 9649, 2.7).
func ofWebP(b []byte, i *Info) {
	tags(b, i, imagemeta.WebP)
	for _, c := range riff(b) {
		switch {
		case c.kind == "VP8X" && len(c.data) > 0:
			i.Alpha, i.Animated = c.data[0]&0x10 != 0, c.data[0]&0x02 != 0
		case c.kind == "VP8L" && len(c.data) > 4:
			i.Alpha = i.Alpha || c.data[4]&0x10 != 0
		case c.kind == "ICCP":
			i.Profile = profileName(c.data)
		}
	}
}

// riff are the chunks of a WebP, as far as they are whole.
func riff(b []byte) (all []chunk) {
	for at := 12; at+8 <= len(b); {
		n := int(binary.LittleEndian.Uint32(b[at+4:]))
		if n < 0 || n > len(b)-at-8 {
			break
		}
		all = append(all, chunk{string(b[at : at+4]), b[at+8 : at+8+n], at, min(at+8+n+n&1, len(b))})
		at += 8 + n + n&1
	}
	return all
}

// latin reads ISO 8859-1.
func latin(b []byte) string {
	rs := make([]rune, len(b))
	for i, c := range b {
		rs[i] = rune(c)
	}
	return string(rs)
}
