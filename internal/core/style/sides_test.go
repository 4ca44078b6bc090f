package style

import (
	"maps"
	"testing"
)

// Names of classes as sites have them: common practice, no source.
func TestTheSidesOfASite(t *testing.T) {
	for sheet, want := range map[string]map[string]string{
		".pic-left{float:left;margin:0 1em 1em 0} .pic-right{float:right} .centre{display:block;margin:0 auto}": {"left": "pic-left", "right": "pic-right", "centre": "centre"},
		".alignleft{float:left}.alignright{float:right;margin-left:1em}":                                        {"left": "alignleft", "right": "alignright"},
		".left{text-align:left}.menu{float:left}.copyright{float:right}":                                        {},
		"nav.left{float:left} figure.left{float:left}":                                                          {"left": "left"},
		"@media print{.left{float:left}}":                                                                       {},
	} {
		s := &Sheet{}
		s.Read([]byte(sheet))
		if got := s.Sides(); !maps.Equal(got, want) {
			t.Errorf("%s: %v, want %v", sheet, got, want)
		}
	}
}
