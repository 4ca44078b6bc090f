package picture

import (
	"bytes"
	"compress/zlib"
	"encoding/binary"
	"fmt"
	"hash/crc32"
	"image"
	"image/color"
	"image/draw"
	"image/gif"
	"image/jpeg"
	"image/png"

	"github.com/gen2brain/webp"
)

// output is how a picture is written. Nothing goes into it but its points and a profile of its colours: no place, no
// camera, no thumbnail.
type output struct {
	format  string
	quality int
	most    int // bytes; 0 for no limit
	profile []byte
}

// plainest is the quality below which photographs show what packs them (common practice, no source).
const plainest = 50

// write writes a picture. Where it may have only so many bytes, the quality goes down first, then the size; said
// tells.
func (o output) write(m image.Image) (b []byte, said []string, err error) {
	if o.quality == 0 {
		o.quality = usualQuality
	}
	if o.quality < 1 || o.quality > 100 {
		return nil, nil, refuse("Quality is a number from 1 to 100.")
	}
	if o.most != 0 && o.most < lightest {
		return nil, nil, refuse(
			"No picture can be as light as %s. Ask for %s or more.",
			Weight(o.most),
			Weight(lightest),
		)
	}
	if b, err = o.once(m, o.quality); err != nil || o.most == 0 || len(b) <= o.most {
		return b, nil, err
	}
	full := m.Bounds().Dx()
	for {
		if o.format != "png" && o.format != "gif" {
			low, high := min(
				plainest,
				o.quality,
			), o.quality // the best quality at which it is light enough lies between
			var fits []byte
			at := 0
			for low <= high {
				q := (low + high) / 2
				if b, err = o.once(m, q); err != nil {
					return nil, nil, err
				}
				if len(b) <= o.most {
					fits, at, low = b, q, q+1
				} else {
					high = q - 1
				}
			}
			if fits != nil {
				return fits, append(said, fmt.Sprintf("quality %d, to be light enough", at)), nil
			}
		}
		width := m.Bounds().Dx() * 4 / 5
		if width < 16 {
			return nil, nil, refuse("The picture cannot be made as light as %s.", Weight(o.most))
		}
		m = shrink(m, width)
		said = []string{fmt.Sprintf("%d of %d points wide, to be light enough", width, full)}
		if o.format == "png" || o.format == "gif" {
			if b, err = o.once(m, o.quality); err != nil || len(b) <= o.most {
				return b, said, err
			}
		}
	}
}

// lightest is the smallest weight that may be asked for.
const lightest = 500

func (o output) once(m image.Image, quality int) ([]byte, error) {
	var b bytes.Buffer
	var err error
	switch o.format {
	case "jpeg":
		err = jpeg.Encode(&b, onWhite(m), &jpeg.Options{Quality: quality})
	case "png":
		err = (&png.Encoder{CompressionLevel: png.BestCompression}).Encode(&b, m)
	case "gif":
		err = gif.Encode(&b, m, nil)
	case "webp":
		err = webp.Encode(&b, m, webp.Options{Quality: quality, Method: webpMethod})
	default:
		return nil, refuse("A picture is written as jpeg, png or webp.")
	}
	if err != nil || o.profile == nil {
		return b.Bytes(), err
	}
	return withProfile(b.Bytes(), o.format, o.profile), nil
}

// webpMethod weighs speed against size; at 4, the library's own choice, it takes twice as long for 2 % fewer bytes.
const webpMethod = 2

// onWhite lays what can be seen through on white, since JPEG knows nothing of that.
func onWhite(m image.Image) image.Image {
	if isGray(m) {
		return m
	}
	if p, ok := m.(*image.NRGBA); ok && p.Opaque() {
		return (*image.RGBA)(p) // opaque points are the same in both forms, and the library is fast on this one
	}
	out := image.NewRGBA(image.Rectangle{Max: m.Bounds().Size()})
	draw.Draw(out, out.Bounds(), image.NewUniform(color.White), image.Point{}, draw.Src)
	draw.Draw(out, out.Bounds(), m, m.Bounds().Min, draw.Over)
	return out
}

// longestSegment is how much of a profile a segment of a JPEG holds (ICC.1:2022, B.4).
const longestSegment = 65519

// withProfile puts a profile into a picture that was just written, where its format has a place for it (ICC.1:2022,
// annex B; W3C PNG 11.3.2.3; RFC 9649, 2.7.1.4).
func withProfile(b []byte, format string, profile []byte) []byte {
	var out bytes.Buffer
	switch format {
	case "jpeg":
		count := (len(profile) + longestSegment - 1) / longestSegment
		if count > 255 {
			return b
		}
		out.Write(b[:2])
		for k := range count {
			part := profile[k*longestSegment : min((k+1)*longestSegment, len(profile))]
			out.Write([]byte{0xff, 0xe2})
			out.Write(binary.BigEndian.AppendUint16(nil, uint16(2+len(iccInJPEG)+2+len(part))))
			out.WriteString(iccInJPEG)
			out.Write([]byte{byte(k + 1), byte(count)})
			out.Write(part)
		}
		out.Write(b[2:])
	case "png":
		head := chunks(b)[0].to // IHDR
		out.Write(b[:head])
		var packed bytes.Buffer
		packed.WriteString("profile\x00\x00")
		z := zlib.NewWriter(&packed)
		_, _ = z.Write(profile) // a buffer takes everything
		_ = z.Close()
		out.Write(pngChunk("iCCP", packed.Bytes()))
		out.Write(b[head:])
	case "webp":
		return webpWith(b, profile)
	default:
		return b
	}
	return out.Bytes()
}

func pngChunk(kind string, data []byte) []byte {
	out := binary.BigEndian.AppendUint32(nil, uint32(len(data)))
	out = append(append(out, kind...), data...)
	return binary.BigEndian.AppendUint32(out, crc32.ChecksumIEEE(out[4:]))
}

// webpWith makes the long form of a WebP with a profile (RFC 9649, 2.7).
func webpWith(b, profile []byte) []byte {
	i, err := Look(b)
	if err != nil {
		return b
	}
	var body bytes.Buffer
	flags := byte(0x20)
	if i.Alpha {
		flags |= 0x10
	}
	head := []byte{flags, 0, 0, 0}
	for _, n := range []int{i.Width - 1, i.Height - 1} {
		head = append(head, byte(n), byte(n>>8), byte(n>>16))
	}
	put := func(kind string, data []byte) {
		body.WriteString(kind)
		body.Write(binary.LittleEndian.AppendUint32(nil, uint32(len(data))))
		body.Write(data)
		if len(data)%2 == 1 {
			body.WriteByte(0)
		}
	}
	put("VP8X", head)
	put("ICCP", profile)
	for _, c := range riff(b) {
		if c.kind != "VP8X" && c.kind != "ICCP" {
			put(c.kind, c.data)
		}
	}
	out := append([]byte("RIFF"), binary.LittleEndian.AppendUint32(nil, uint32(4+body.Len()))...)
	return append(append(out, "WEBP"...), body.Bytes()...)
}

// stripped is a picture without what it tells beside its points and their colours; they stay as they are, byte for
// byte.
func stripped(b []byte, media string) []byte {
	switch media {
	case "image/jpeg":
		return strippedJPEG(b)
	case "image/png":
		out := append([]byte{}, b[:8]...)
		for _, c := range chunks(b) {
			switch c.kind {
			case "eXIf", "tEXt", "zTXt", "iTXt", "tIME":
				continue
			}
			if out = append(out, b[c.from:c.to]...); c.kind == "IEND" {
				break // what stands behind it is no picture
			}
		}
		return out
	case "image/webp":
		out := append([]byte{}, b[:12]...)
		for _, c := range riff(b) {
			switch c.kind {
			case "EXIF", "XMP ":
				continue
			case "VP8X":
				c.data = bytes.Clone(c.data)
				c.data[0] &^= 0x08 | 0x04
				out = append(append(out, b[c.from:c.from+8]...), c.data...)
				continue
			}
			out = append(out, b[c.from:c.to]...)
		}
		binary.LittleEndian.PutUint32(out[4:], uint32(len(out)-8))
		return out
	}
	return b
}

// strippedJPEG keeps the segments that the picture is shown by: the application's own only where they say how colours
// are read (JFIF, ICC, Adobe).
func strippedJPEG(b []byte) []byte {
	out := append([]byte{}, b[:2]...)
	at := 2
	for _, s := range segments(b) {
		for b[at+1] == 0xff {
			at++
		}
		to := at + 4 + len(s.data)
		if s.marker == 0xda {
			break
		}
		other := s.marker > 0xe0 && s.marker < 0xf0 && s.marker != 0xee &&
			!(s.marker == 0xe2 && bytes.HasPrefix(s.data, []byte(iccInJPEG)))
		if !other && s.marker != 0xfe {
			out = append(out, b[at:to]...)
		}
		at = to
	}
	return append(out, b[at:]...)
}
