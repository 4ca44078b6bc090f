package source

import (
	"bytes"
	"slices"
	"strings"
	"unicode/utf8"

	"mendry/internal/core/refusal"

	"golang.org/x/net/html/charset"
	"golang.org/x/text/encoding"
	"golang.org/x/text/encoding/unicode"
)

// Encoding is the character encoding of a page, by the names of the WHATWG Encoding Standard.
type Encoding struct {
	Name string
	utf8 bool // all of it, so that nothing need be decoded
	enc  encoding.Encoding
}

// Plain reports whether a page's bytes are UTF-8 as they stand.
func (e Encoding) Plain() bool { return e.utf8 }

// notASCII are the encodings whose bytes below 0x80 are not always ASCII: markup in them cannot be edited in place.
var notASCII = []string{"utf-16le", "utf-16be", "iso-2022-jp", "replacement", "x-user-defined"}

// kinds are the first bytes of files that are no pages.
var kinds = []struct{ begins, is string }{
	{"\x1f\x8b", "compressed with gzip"}, {"\x28\xb5\x2f\xfd", "compressed with Zstandard"}, {"PK\x03\x04", "a ZIP archive"}, {"%PDF-", "a PDF"},
	{"\x89PNG", "a PNG picture"}, {"\xff\xd8\xff", "a JPEG picture"}, {"GIF8", "a GIF picture"}, {"RIFF", "a WebP picture or a sound"},
	{"\x7fELF", "a program"}, {"OggS", "a sound"}, {"ID3", "a sound"}, {"\x00\x00\x00", "a film or another binary file"}, {"SQLite format 3", "a database"},
}

const looked = 2048 // bytes in which signs of a binary file are looked for

// noPage says why bytes are no page; empty where they may be one.
func noPage(b []byte) string {
	for _, k := range kinds {
		if bytes.HasPrefix(b, []byte(k.begins)) {
			return "The file is " + k.is + ", whatever its name says, and no page."
		}
	}
	head := b[:min(len(b), looked)]
	zeros, odd := 0, 0
	for _, c := range head {
		switch {
		case c == 0:
			zeros++
		case c < 0x20 && c != '\t' && c != '\n' && c != '\r' && c != '\f' && c != 0x1b, c == 0x7f:
			odd++
		}
	}
	switch {
	case 5*zeros > len(head): // every other byte of Latin letters
		return "The page is written in UTF-16 without saying so. Mendry cannot edit that in place; save it as UTF-8 on the host."
	case 20*odd > len(head):
		return "The file holds no text. It is no page, whatever its name says."
	case bytes.Contains(b, []byte("\x1b$")) || bytes.Contains(b, []byte("\x1b(")):
		return "The page is written in ISO-2022, which changes its letters on the way. Mendry cannot edit that in place; save it as UTF-8 on the host."
	}
	return ""
}

// detect finds the encoding of b and the length of its byte order mark.
func detect(b []byte, contentType string) (Encoding, int, error) {
	if bytes.HasPrefix(b, []byte{0xEF, 0xBB, 0xBF}) {
		return utf8Of(b), 3, nil
	}
	enc, name, certain := charset.DetermineEncoding(b, contentType)
	if slices.Contains(notASCII, name) {
		return Encoding{}, 0, refusal.New(refusal.Rule, "The page is written in %s. Mendry cannot edit that in place; save it as UTF-8 on the host.", strings.ToUpper(name))
	}
	if why := noPage(b); why != "" {
		return Encoding{}, 0, refusal.New(refusal.Rule, "%s", why)
	}
	if !certain && utf8.Valid(b) {
		name = "utf-8"
	}
	if name == "utf-8" {
		return utf8Of(b), 0, nil
	}
	return Encoding{Name: name, enc: enc}, 0, nil
}

// utf8Of is UTF-8 for a page that is in it, or is said to be: what is none is read as browsers read it, as U+FFFD (Encoding
// Standard, UTF-8 decoder).
func utf8Of(b []byte) Encoding {
	if utf8.Valid(b) {
		return Encoding{Name: "utf-8", utf8: true}
	}
	return Encoding{Name: "utf-8", enc: unicode.UTF8}
}

func (e Encoding) decode(b []byte) string {
	if e.utf8 || e.enc == nil {
		return string(b)
	}
	out, err := e.enc.NewDecoder().Bytes(b)
	if err != nil {
		return string(b)
	}
	return string(out)
}

// Encode writes s in the page's encoding and with its line ends; characters that the encoding lacks become numeric
// character references.
func (d *Doc) Encode(s string) ([]byte, error) {
	s = strings.ReplaceAll(s, "\r\n", "\n")
	if end := d.LineEnd(); end != "\n" {
		s = strings.ReplaceAll(s, "\n", end)
	}
	if d.Encoding.utf8 || d.Encoding.enc == nil {
		return []byte(s), nil
	}
	return encoding.HTMLEscapeUnsupported(d.Encoding.enc.NewEncoder()).Bytes([]byte(s))
}
