package text

import (
	"testing"

	"golang.org/x/text/encoding/charmap"
)

// The broken forms are made by the encoding tables of golang.org/x/text, which are the WHATWG Encoding Standard's.
func TestSignsThatAWrongEncodingBrokeAreRepaired(t *testing.T) {
	for _, s := range []string{"café", "don’t", "£6.90", "naïve – Ångström", "Ñandú", "“quoted”", "10 €"} {
		broken := ""
		for i := 0; i < len(s); i++ {
			r := charmap.Windows1252.DecodeByte(s[i])
			if r == '\ufffd' {
				r = rune(s[i])
			}
			broken += string(r)
		}
		if got, ok := Repair(broken); !ok || got != s {
			t.Errorf("%q: %q %v, want %q", broken, got, ok, s)
		}
		if got, ok := Repair(s); ok {
			t.Errorf("%q is whole and became %q", s, got)
		}
	}
}
