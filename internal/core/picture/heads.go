package picture

import (
	"bytes"
	"encoding/binary"
	"encoding/xml"
	"io"
	"strconv"
	"strings"
	"time"
	"unicode/utf16"

	"github.com/bep/imagemeta"
)

// heads tell, by format, what a picture's head says beside its size. What cannot be read stays as it is: it is nothing
// that a picture is refused for.
var heads = map[string]func(b []byte, i *Info){"jpeg": ofJPEG, "png": ofPNG, "gif": ofGIF, "webp": ofWebP}

// longestLook is how long private data is read for: it is a hint, and hostile files abound.
const longestLook = 2 * time.Second

// orientation is what EXIF says (tag 0x0112), 1 where it says nothing that makes sense.
func orientation(b []byte, f imagemeta.ImageFormat) int {
	is := 1
	_, err := imagemeta.Decode(imagemeta.Options{
		R: bytes.NewReader(b), ImageFormat: f, Sources: imagemeta.EXIF, Timeout: longestLook,
		ShouldHandleTag: func(t imagemeta.TagInfo) bool { return t.Tag == "Orientation" },
		HandleTag: func(t imagemeta.TagInfo) error {
			if v, ok := t.Value.(uint16); ok && v >= 1 && v <= 8 && strings.HasPrefix(t.Namespace, "IFD0") {
				is = int(v)
			}
			return nil
		},
	})
	if err != nil && is == 1 {
		return 1
	}
	return is
}

// ofJPEG reads the segments of a JPEG (ITU-T T.81, B.1.1.3) up to its picture.
func ofJPEG(b []byte, i *Info) {
	i.Orientation = orientation(b, imagemeta.JPEG)
	for _, s := range segments(b) {
		if s.marker == 0xe2 && bytes.HasPrefix(s.data, []byte(iccInJPEG)) && len(s.data) > len(iccInJPEG)+2 && i.Profile == "" {
			i.Profile = profileName(s.data[len(iccInJPEG)+2:])
		}
	}
}

const iccInJPEG = "ICC_PROFILE\x00" // ICC.1:2022, B.4; two bytes of numbering behind it

type segment struct {
	marker byte
	data   []byte
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
		all = append(all, segment{marker, b[at+4 : at+2+n]})
		if marker == 0xda {
			return all
		}
		at += 2 + n
	}
	return all
}

// ofPNG reads the chunks of a PNG (W3C PNG, third edition, 5 and 11) up to its picture.
func ofPNG(b []byte, i *Info) {
	i.Orientation = orientation(b, imagemeta.PNG)
	for at := 8; at+12 <= len(b); {
		n := int(binary.BigEndian.Uint32(b[at:]))
		kind := string(b[at+4 : at+8])
		if n < 0 || at+12+n > len(b) || n > len(b) {
			return
		}
		data := b[at+8 : at+8+n]
		switch kind {
		case "IHDR":
			i.Alpha = n >= 10 && (data[9] == 4 || data[9] == 6)
		case "tRNS":
			i.Alpha = true
		case "acTL":
			i.Animated = n >= 4 && binary.BigEndian.Uint32(data) > 1
		case "sRGB":
			i.Profile = "sRGB"
		case "iCCP":
			name, _, _ := bytes.Cut(data, []byte{0})
			i.Profile = latin(name)
		case "IDAT", "IEND":
			return
		}
		at += 12 + n
	}
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
	i.Orientation = orientation(b, imagemeta.WebP)
	for at := 12; at+8 <= len(b); {
		n := int(binary.LittleEndian.Uint32(b[at+4:]))
		if n < 0 || n > len(b)-at-8 {
			return
		}
		data := b[at+8 : at+8+n]
		switch kind := string(b[at : at+4]); {
		case kind == "VP8X" && n > 0:
			i.Alpha, i.Animated = data[0]&0x10 != 0, data[0]&0x02 != 0
		case kind == "VP8L" && n > 4:
			i.Alpha = i.Alpha || data[4]&0x10 != 0
		case kind == "ICCP":
			i.Profile = profileName(data)
		}
		at += 8 + n + n&1
	}
}

// profileName is how an ICC profile calls itself (ICC.1:2022, 9.2.41; in version 2 textDescriptionType).
func profileName(p []byte) string {
	if len(p) < 132 {
		return ""
	}
	count := int(binary.BigEndian.Uint32(p[128:]))
	for k := 0; k < count && k < 100 && 144+12*k <= len(p); k++ {
		tag := p[132+12*k:]
		if string(tag[:4]) != "desc" {
			continue
		}
		at, n := int(binary.BigEndian.Uint32(tag[4:])), int(binary.BigEndian.Uint32(tag[8:]))
		if at < 0 || n < 12 || at > len(p)-n {
			return ""
		}
		d := p[at : at+n]
		switch string(d[:4]) {
		case "desc":
			if m := int(binary.BigEndian.Uint32(d[8:])); m > 0 && m <= len(d)-12 {
				return latin(bytes.TrimRight(d[12:12+m], "\x00"))
			}
		case "mluc":
			if len(d) >= 28 {
				m, from := int(binary.BigEndian.Uint32(d[20:])), int(binary.BigEndian.Uint32(d[24:]))
				if m >= 0 && from >= 0 && from <= len(d) && m <= len(d)-from {
					units := make([]uint16, m/2)
					for j := range units {
						units[j] = binary.BigEndian.Uint16(d[from+2*j:])
					}
					return strings.Trim(string(utf16.Decode(units)), "\x00")
				}
			}
		}
		return ""
	}
	return ""
}

// latin reads ISO 8859-1.
func latin(b []byte) string {
	rs := make([]rune, len(b))
	for i, c := range b {
		rs[i] = rune(c)
	}
	return string(rs)
}

// drawnSize is how large a drawing is drawn where nothing else says so: its width and height in CSS pixels, or those of
// its view box (SVG 2, 8.2); 0 where it says neither.
func drawnSize(b []byte) (w, h int) {
	d := xml.NewDecoder(io.LimitReader(bytes.NewReader(b), 1<<20))
	d.Strict = false
	for {
		t, err := d.Token()
		if err != nil {
			return 0, 0
		}
		e, ok := t.(xml.StartElement)
		if !ok {
			continue
		}
		var box []string
		for _, a := range e.Attr {
			switch a.Name.Local {
			case "width":
				w = pixels(a.Value)
			case "height":
				h = pixels(a.Value)
			case "viewBox":
				box = strings.FieldsFunc(a.Value, func(r rune) bool { return r == ',' || r == ' ' || r == '\n' || r == '\t' })
			}
		}
		if (w == 0 || h == 0) && len(box) == 4 {
			w, h = pixels(box[2]), pixels(box[3])
		}
		return w, h
	}
}

// units are lengths of CSS in pixels (CSS Values 4, 6.2).
var units = map[string]float64{"": 1, "px": 1, "pt": 96. / 72, "pc": 16, "in": 96, "cm": 96 / 2.54, "mm": 96 / 25.4}

func pixels(s string) int {
	s = strings.TrimSpace(s)
	n := strings.TrimRight(s, "abcdefghijklmnopqrstuvwxyz%")
	v, err := strconv.ParseFloat(n, 64)
	by, known := units[s[len(n):]]
	if err != nil || !known || v <= 0 || v > 100_000 {
		return 0
	}
	return int(v*by + 0.5)
}
