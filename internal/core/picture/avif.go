package picture

import (
	"bytes"
	"encoding/binary"
)

// AVIF is looked at and shown, never decoded here: no decoder in Go holds to a limit of memory, and what its head says
// may be a lie. So it is put on a page as it came.

func isAVIF(b []byte) bool {
	return len(b) >= 12 && string(b[4:8]) == "ftyp" &&
		(bytes.Equal(b[8:12], []byte("avif")) || bytes.Equal(b[8:12], []byte("avis")))
}

// ofAVIF reads the properties of the items in an AVIF (ISO/IEC 23008-12, 6.5; AV1 Image File Format 1.2): the largest
// extent is that of the whole picture.
func ofAVIF(b []byte, i *Info) {
	i.Animated = string(b[8:12]) == "avis"
	boxes(b, 0, func(kind string, d []byte) {
		switch {
		case kind == "ispe" && len(d) >= 12:
			w, h := int(binary.BigEndian.Uint32(d[4:])), int(binary.BigEndian.Uint32(d[8:]))
			if w > 0 && h > 0 && float64(w)*float64(h) > float64(i.Width)*float64(i.Height) {
				i.Width, i.Height = w, h
			}
		case kind == "irot" && len(d) >= 1: // quarter turns to the left
			i.Orientation = []int{1, 8, 3, 6}[d[0]&3]
		case kind == "auxC" && bytes.Contains(d, []byte(":alpha")),
			kind == "auxC" && bytes.Contains(d, []byte("auxid:1")):
			i.Alpha = true
		case kind == "colr" && len(d) > 4 && (string(d[:4]) == "prof" || string(d[:4]) == "rICC"):
			i.Profile = profileName(d[4:])
		case kind == "Exif":
			i.Private = []string{"what the camera wrote"}
		}
	})
}

// boxes walks the boxes of a file that hold properties (ISO/IEC 14496-12, 4.2).
func boxes(b []byte, depth int, each func(kind string, d []byte)) {
	for len(b) >= 8 && depth < 8 {
		n, head := uint64(binary.BigEndian.Uint32(b)), 8
		switch {
		case n == 0:
			n = uint64(len(b))
		case n == 1 && len(b) >= 16:
			n, head = binary.BigEndian.Uint64(b[8:]), 16
		}
		if n < uint64(head) || n > uint64(len(b)) {
			return
		}
		kind, d := string(b[4:8]), b[head:n]
		each(kind, d)
		switch kind {
		case "meta":
			if len(d) >= 4 {
				boxes(d[4:], depth+1, each)
			}
		case "iprp", "ipco":
			boxes(d, depth+1, each)
		}
		b = b[n:]
	}
}
