package text

import (
	"strings"
	"unicode/utf8"

	"golang.org/x/text/encoding/charmap"
)

// Repair reads text whose UTF-8 was taken for windows-1252 ("cafÃ©", "donâ€™t") as it was meant, also where that
// happened several times. It reports false where nothing of the kind stands in it.
func Repair(s string) (string, bool) {
	broken := false
	for range mostTimes {
		once, was := repairOnce(s)
		if !was {
			break
		}
		s, broken = once, true
	}
	return s, broken
}

const mostTimes = 4 // that a text is sent through a wrong encoding (common practice, no source)

func repairOnce(s string) (string, bool) {
	var b strings.Builder
	broken := false
	rs := []rune(s)
	for i := 0; i < len(rs); {
		if rs[i] < 0x80 {
			b.WriteRune(rs[i])
			i++
			continue
		}
		j := i
		for j < len(rs) && rs[j] >= 0x80 {
			j++
		}
		run := string(rs[i:j])
		if raw, ok := bytes1252(rs[i:j]); ok && utf8.Valid(raw) && utf8.RuneCount(raw) < len(raw) {
			run = string(raw)
			broken = true
		}
		b.WriteString(run)
		i = j
	}
	return b.String(), broken
}

// bytes1252 are the bytes that were read as these signs by the windows-1252 of the WHATWG Encoding Standard, in which
// the five bytes without a sign stand for the control characters of the same number.
func bytes1252(rs []rune) ([]byte, bool) {
	var raw []byte
	for _, r := range rs {
		switch b, ok := charmap.Windows1252.EncodeRune(r); {
		case ok:
			raw = append(raw, b)
		case r == 0x81 || r == 0x8D || r == 0x8F || r == 0x90 || r == 0x9D:
			raw = append(raw, byte(r))
		default:
			return nil, false
		}
	}
	return raw, true
}
