package picture

import (
	"slices"
	"testing"
)

// The rules of the trade on pictures (shown size, weight in proportion, alternative text); common practice, no source.
func TestWhatIsSaidOfAFile(t *testing.T) {
	photo := func(w, h, size int) Info { return Info{Media: "image/jpeg", Width: w, Height: h, Size: size} }
	for _, c := range []struct {
		name string
		s    Standing
		want []Finding
	}{
		{"in order", Standing{Info: photo(1200, 800, 150_000), Uses: 1, ShownAt: 600}, nil},
		{"unused", Standing{Info: photo(1200, 800, 150_000)}, []Finding{Unused}},
		{"heavy where nobody looked", Standing{Info: photo(4000, 3000, 4_200_000), Uses: 1}, []Finding{TooHeavy}},
		{"heavy for its place", Standing{Info: photo(2400, 1600, 400_000), Uses: 1, ShownAt: 300}, []Finding{TooHeavy}},
		{"small for its place", Standing{Info: photo(300, 200, 20_000), Uses: 1, ShownAt: 600}, []Finding{TooSmall}},
		{"a drawing", Standing{Info: Info{Media: SVG, Width: 20, Height: 20, Size: 900}, Uses: 1, ShownAt: 600}, nil},
		{"silent, twice", Standing{Info: photo(600, 400, 20_000), Uses: 2, Silent: 1, Twice: 1}, []Finding{Silent, Twice}},
	} {
		if got := c.s.Says(); !slices.Equal(got, c.want) {
			t.Errorf("%s: %v, want %v", c.name, got, c.want)
		}
	}
}
