package picture

import (
	"bytes"
	"compress/zlib"
	"encoding/binary"
	"hash/crc32"
	"image"
	"image/color"
	"image/gif"
	"image/jpeg"
	"runtime"
	"strings"
	"testing"

	"mendry/internal/core/refusal"
	"mendry/internal/tries"
)

// bombPNG unfolds from a few bytes into w × h points.
func bombPNG(w, h uint32, depth, kind byte, unpacked int) []byte {
	part := func(name string, data []byte) []byte {
		out := binary.BigEndian.AppendUint32(nil, uint32(len(data)))
		out = append(append(out, name...), data...)
		return binary.BigEndian.AppendUint32(out, crc32.ChecksumIEEE(out[4:]))
	}
	head := binary.BigEndian.AppendUint32(binary.BigEndian.AppendUint32(nil, w), h)
	var packed bytes.Buffer
	z := zlib.NewWriter(&packed)
	_, _ = z.Write(make([]byte, unpacked))
	_ = z.Close()
	b := append([]byte("\x89PNG\r\n\x1a\n"), part("IHDR", append(head, depth, kind, 0, 0, 0))...)
	return append(append(b, part("IDAT", packed.Bytes())...), part("IEND", nil)...)
}

// hostile are 40 files that are no pictures, or none that are what they say: broken off, lying, unfolding.
func hostile(t testing.TB) map[string][]byte {
	var j, g, p bytes.Buffer
	m := scene(64, 48)
	few := image.NewPaletted(image.Rect(0, 0, 64, 48), color.Palette{color.White, color.Black})
	if err := jpeg.Encode(&j, m, nil); err != nil {
		t.Fatal(err)
	}
	if err := gif.Encode(&g, few, nil); err != nil {
		t.Fatal(err)
	}
	p.Write(pngOf(t, m))
	w, err := output{format: "webp", quality: 80}.once(m, 80)
	if err != nil {
		t.Fatal(err)
	}
	with := func(b []byte, at int, put ...byte) []byte {
		b = bytes.Clone(b)
		copy(b[at:], put)
		return b
	}
	sof := bytes.Index(j.Bytes(), []byte{0xff, 0xc0}) + 5 // where height and width stand
	vp8 := bytes.Index(w, []byte("VP8 ")) + 14
	svg := func(in string) []byte { return []byte("<svg xmlns='http://www.w3.org/2000/svg'>" + in) }
	return map[string][]byte{
		"nothing": {}, "one byte": {0}, "words": []byte("hello"), "zeros": make([]byte, 5000), "too heavy": make([]byte, MaxBytes+1),
		"a page": []byte(
			"<!doctype html><title>x</title><svg></svg>",
		), "a program": []byte("\x7fELF\x02\x01\x01"), "PDF": []byte("%PDF-1.7\n"),
		"TIFF": []byte(
			"II*\x00\x08\x00\x00\x00",
		), "BMP": []byte("BM\x00\x00\x00\x00"), "ICO": {0, 0, 1, 0, 1, 0}, "HEIC": []byte("\x00\x00\x00\x18ftypheic\x00\x00\x00\x00mif1heic"),
		"PostScript": []byte(
			"%!PS-Adobe-3.0 EPSF-3.0",
		), "MVG": []byte("push graphic-context\nfill 'url(https://a.example/)'"),
		"JPEG head alone": []byte(
			"\xff\xd8\xff",
		), "JPEG cut in its head": j.Bytes()[:40], "JPEG cut in its points": j.Bytes()[:len(j.Bytes())/2],
		"JPEG of 65535 × 65535": with(
			j.Bytes(),
			sof,
			0xff,
			0xff,
			0xff,
			0xff,
		), "JPEG larger than it is": with(j.Bytes(), sof, 0x1f, 0xff, 0x1f, 0xff),
		"JPEG of no height": with(
			j.Bytes(),
			sof,
			0,
			0,
		), "JPEG with a page behind its head": append([]byte("\xff\xd8\xff\xe0"), "<script>alert(1)</script>"...),
		"JPEG of nothing but markers": append([]byte("\xff\xd8\xff"), bytes.Repeat([]byte{0xff}, 100_000)...),
		"PNG signature alone": []byte(
			"\x89PNG\r\n\x1a\n",
		), "PNG cut in its head": p.Bytes()[:20], "PNG cut in its points": p.Bytes()[:len(p.Bytes())/2],
		"PNG of 60000 × 60000": bombPNG(
			60000,
			60000,
			8,
			2,
			1<<16,
		), "PNG of 4 thousand million": bombPNG(0x7fffffff, 0x7fffffff, 8, 6, 1),
		"PNG of no width": bombPNG(0, 10, 8, 2, 1), "PNG with fewer points than it says": bombPNG(7000, 8000, 16, 6, 1),
		"PNG with a wrong checksum": with(
			p.Bytes(),
			30,
			1,
			2,
			3,
		), "PNG with a chunk of 2 GB": with(p.Bytes(), 33, 0x7f, 0xff, 0xff, 0xff),
		"GIF head alone": []byte(
			"GIF89a",
		), "GIF cut": g.Bytes()[:len(g.Bytes())/2], "GIF of 65535 × 65535": with(g.Bytes(), 6, 0xff, 0xff, 0xff, 0xff),
		"WebP head alone": []byte(
			"RIFF\x00\x00\x00\x00WEBPVP8 ",
		), "WebP cut": w[:len(w)/2], "WebP of 16383 × 16383": with(w, vp8, 0xff, 0x3f, 0xff, 0x3f),
		"AVIF without a size": []byte("\x00\x00\x00\x1cftypavif\x00\x00\x00\x00avifmif1miaf"),
		"SVG cut": svg(
			"<g><path d='M0 0'",
		), "SVG 1000 deep": svg(strings.Repeat("<g>", 1000) + strings.Repeat("</g>", 1000) + "</svg>"),
		"SVG that unfolds": []byte(
			`<!DOCTYPE svg [<!ENTITY a "aaaaaaaaaa"><!ENTITY b "&a;&a;&a;&a;&a;">]><svg xmlns="http://www.w3.org/2000/svg"><text>&b;</text></svg>`,
		),
	}
}

// Each is refused in words that say what to do, and takes no more memory than a picture of its own size would: 64 MB
// for all but those that pass for up to 60 million points, of which a decoder takes 8 bytes each at most.
func TestHostileFilesAreRefusedInWords(t *testing.T) {
	files := hostile(t)
	if len(files) < 40 {
		t.Fatalf("%d files", len(files))
	}
	for name, b := range files {
		var before, after runtime.MemStats
		runtime.GC()
		runtime.ReadMemStats(&before)
		_, looked := Look(b)
		_, err := Check(b)
		runtime.ReadMemStats(&after)
		if why := refusal.Of(err); why == nil ||
			!strings.Contains(why.Say, "end") && !strings.Contains(why.Say, "Send") {
			t.Errorf("%s: %v", name, err)
		}
		most := uint64(64 << 20)
		if looked == nil {
			most = 10 * MaxPixels
		}
		if got := after.TotalAlloc - before.TotalAlloc; got > most {
			t.Errorf("%s: %d MB were taken", name, got>>20)
		}
	}
}

// What a picture of the largest size takes, decoded and worked on: stated in docs/performance.md.
func TestTheLargestPictureTakesBoundedMemory(t *testing.T) {
	side := tries.Number("MENDRY_SIDE", 2580, 7740) // 7740: 59.9 million points in some 170 kB
	b := bombPNG(uint32(side), uint32(side), 8, 2, (side*3+1)*side)
	if i, err := Look(b); err != nil || i.Width != side {
		t.Fatalf("%+v %v", i, err)
	}
	var before, after runtime.MemStats
	runtime.GC()
	runtime.ReadMemStats(&before)
	if _, err := Do(b, Work{Width: 600, Format: "jpeg"}); err != nil {
		t.Fatal(err)
	}
	runtime.ReadMemStats(&after)
	if got := after.TotalAlloc - before.TotalAlloc; got > uint64(side*side)*20 { // 1,200 MB of the largest
		t.Errorf("%d MB were taken", got>>20)
	}
}
