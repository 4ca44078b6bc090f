// Package file is about files that visitors download: PDF, sound, film, documents. They are known by their content,
// never by their name, and said in words as the trade does: “Price list (PDF, 84 kB)”.
package file

import (
	"bytes"
	"encoding/binary"
	"path"
	"slices"
	"strings"

	"github.com/gabriel-vasile/mimetype"

	"mendry/internal/core/picture"
	"mendry/internal/core/refusal"
)

// MaxBytes is how heavy a file may be: as heavy as one is read from a host.
const MaxBytes = 32 << 20

// Info is what a file is.
type Info struct {
	Media  string // media type (RFC 6838)
	Kind   string // as visitors call it: "PDF"
	Ext    string // how its name ends, with the dot
	Size   int64  // bytes
	Locked bool   // it opens only with a password
}

// Sound reports whether it is a sound.
func (i Info) Sound() bool { return strings.HasPrefix(i.Media, "audio/") }

// Film reports whether it is a film.
func (i Info) Film() bool { return strings.HasPrefix(i.Media, "video/") }

// Words are its kind and weight: "PDF, 84 kB".
func (i Info) Words() string { return i.Kind + ", " + picture.Weight(int(i.Size)) }

type kind struct{ media, name, ext string }

// kinds are the files that an agency puts on sites for people to take away (common practice, no source). What is a
// program, or would run on the site, is not among them.
var kinds = []kind{
	{"application/pdf", "PDF", ".pdf"},
	{"audio/mpeg", "MP3", ".mp3"},
	{"audio/mp4", "M4A", ".m4a"},
	{"audio/x-m4a", "M4A", ".m4a"},
	{"audio/ogg", "Ogg", ".ogg"},
	{"audio/wav", "WAV", ".wav"},
	{"audio/flac", "FLAC", ".flac"},
	{"video/mp4", "MP4", ".mp4"},
	{"video/webm", "WebM", ".webm"},
	{"application/vnd.openxmlformats-officedocument.wordprocessingml.document", "Word", ".docx"},
	{"application/vnd.openxmlformats-officedocument.spreadsheetml.sheet", "Excel", ".xlsx"},
	{"application/vnd.openxmlformats-officedocument.presentationml.presentation", "PowerPoint", ".pptx"},
	{"application/msword", "Word", ".doc"},
	{"application/vnd.ms-excel", "Excel", ".xls"},
	{"application/vnd.ms-powerpoint", "PowerPoint", ".ppt"},
	{"application/vnd.oasis.opendocument.text", "OpenDocument text", ".odt"},
	{"application/vnd.oasis.opendocument.spreadsheet", "OpenDocument table", ".ods"},
	{"application/vnd.oasis.opendocument.presentation", "OpenDocument slides", ".odp"},
	{"application/epub+zip", "EPUB", ".epub"},
	{"text/rtf", "RTF", ".rtf"},
	{"application/zip", "ZIP", ".zip"},
	{"text/calendar", "calendar", ".ics"},
	{"text/vcard", "contact", ".vcf"},
	{"text/vtt", "captions", ".vtt"},
	{"application/gpx+xml", "GPX", ".gpx"},
	{"text/csv", "CSV", ".csv"},
}

// Named tells by its name which kind of file to download a file would be: its media type, and what visitors call it;
// both are empty where it is none.
func Named(name string) (media, called string) {
	ext := strings.ToLower(path.Ext(name))
	if i := slices.IndexFunc(kinds, func(k kind) bool { return k.ext == ext }); i >= 0 {
		return kinds[i].media, kinds[i].name
	}
	return "", ""
}

// Look tells by its content what a file is. One that visitors cannot be given, or that breaks off, is refused in
// words.
func Look(b []byte) (Info, error) {
	switch {
	case len(b) == 0:
		return Info{}, refuse("The file is empty. Send it again, or ask for it once more.")
	case len(b) > MaxBytes:
		return Info{}, refuse(
			"The file weighs %s. Up to %s can be put on a site.",
			picture.Weight(len(b)),
			picture.Weight(MaxBytes),
		)
	}
	found := mimetype.Detect(b)
	for m := found; m != nil; m = m.Parent() {
		i := slices.IndexFunc(kinds, func(k kind) bool { return m.Is(k.media) })
		if i < 0 {
			if m != found && m.Is("application/zip") {
				break
			}
			continue
		}
		if kinds[i].media == "application/zip" && m != found { // a program in a ZIP file, as those of phones are
			break
		}
		k := kinds[i]
		info := Info{Media: k.media, Kind: k.name, Ext: k.ext, Size: int64(len(b))}
		if why := broken(info, b); why != "" {
			return Info{}, refuse("The %s file breaks off: %s. Ask for it once more.", k.name, why)
		}
		info.Locked = k.media == "application/pdf" && bytes.Contains(b, []byte("/Encrypt"))
		return info, nil
	}
	return Info{}, refuse(
		"This is neither a picture that can be shown on a page nor a file that visitors can download (it is %s). "+
			"Send a JPEG, PNG, GIF, WebP, AVIF or SVG, a PDF, a sound, a film or a document.",
		strings.Split(found.String(), ";")[0],
	)
}

// IsAddress reports whether an address names a file to download by how it ends, and what kind it says that it is.
func IsAddress(path string) (kindOf string, is bool) {
	path, _, _ = strings.Cut(path, "?")
	path, _, _ = strings.Cut(path, "#")
	for _, k := range kinds {
		if strings.HasSuffix(strings.ToLower(path), k.ext) {
			return k.name, true
		}
	}
	return "", false
}

func refuse(format string, args ...any) error { return refusal.New(refusal.Rule, format, args...) }

// broken says where a file that breaks off does so; empty where it is whole as far as its own marks tell.
func broken(i Info, b []byte) string {
	tail := b[max(0, len(b)-1<<16):]
	switch {
	case i.Ext == ".pdf": // ISO 32000-1, 7.5.5: the last line; readers look for it in the last 1024 bytes (Annex H)
		if !bytes.Contains(b[max(0, len(b)-1024):], []byte("%%EOF")) {
			return "its end mark is missing"
		}
		if !bytes.HasPrefix(
			bytes.TrimLeft(b, "\xef\xbb\xbf \r\n\t"),
			[]byte("%PDF-"),
		) { // what stands before it may be a page
			return "its beginning is missing"
		}
	case bytes.HasPrefix(b, []byte("PK\x03\x04")): // APPNOTE.TXT 4.3.16: 22 bytes and a comment of up to 65,535
		if !bytes.Contains(tail, []byte("PK\x05\x06")) {
			return "its list of contents is missing"
		}
	case i.Ext == ".wav": // Multimedia Programming Interface and Data Specifications 1.0: RIFF, and how long it is
		if said := binary.LittleEndian.Uint32(b[4:8]); int64(said)+8 > i.Size {
			return "it says that it is longer"
		}
	case i.Ext == ".mp4", i.Ext == ".m4a":
		return boxes(b)
	case bytes.HasPrefix(b, []byte("\xd0\xcf\x11\xe0")): // MS-CFB 2.2: sectors of 512 or 4096 bytes
		if len(b)%512 != 0 {
			return "its last part is missing"
		}
	}
	return ""
}

// boxes goes through the boxes of a film or sound (ISO/IEC 14496-12, 4.2): each says how long it is, and one of them,
// moov, how the rest is played.
func boxes(b []byte) string {
	moov := false
	for at := 0; at < len(b); {
		if len(b)-at < 8 {
			return "its last part is cut"
		}
		size := uint64(binary.BigEndian.Uint32(b[at:]))
		moov = moov || string(b[at+4:at+8]) == "moov"
		switch {
		case size == 0: // to the end of the file
			size = uint64(len(b) - at)
		case size == 1 && len(b)-at >= 16:
			size = binary.BigEndian.Uint64(b[at+8:])
		}
		if size < 8 || size > uint64(len(b)-at) {
			return "its last part is cut"
		}
		at += int(size)
	}
	if !moov {
		return "the part that says how it is played is missing"
	}
	return ""
}
