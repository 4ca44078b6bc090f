package source

import (
	"bytes"
	"slices"
	"strings"
	"unicode/utf8"

	"mendry/internal/core/refusal"

	"golang.org/x/net/html/charset"
	"golang.org/x/text/encoding"
)

// Encoding is the character encoding of a page, by the names of the WHATWG Encoding Standard.
type Encoding struct {
	Name string
	utf8 bool
	enc  encoding.Encoding
}

// notASCII are the encodings whose bytes below 0x80 are not always ASCII: markup in them cannot be edited in place.
var notASCII = []string{"utf-16le", "utf-16be", "iso-2022-jp", "replacement", "x-user-defined"}

// detect finds the encoding of b and the length of its byte order mark.
func detect(b []byte, contentType string) (Encoding, int, error) {
	if bytes.HasPrefix(b, []byte{0xEF, 0xBB, 0xBF}) {
		return Encoding{Name: "utf-8", utf8: true}, 3, nil
	}
	enc, name, certain := charset.DetermineEncoding(b, contentType)
	if !certain && utf8.Valid(b) {
		name = "utf-8"
	}
	if slices.Contains(notASCII, name) {
		return Encoding{}, 0, refusal.New(refusal.Rule, "The page is written in %s. Mendry cannot edit that in place; save it as UTF-8 on the host.", strings.ToUpper(name))
	}
	return Encoding{Name: name, utf8: name == "utf-8", enc: enc}, 0, nil
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
