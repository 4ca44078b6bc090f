package picture

import (
	"reflect"
	"testing"
)

// The first four are examples of the standard (HTML, 4.8.4.1 and 4.8.4.2.1), the others follow the steps of "parse a
// srcset attribute".
func TestReadSrcset(t *testing.T) {
	for in, want := range map[string][]Candidate{
		"pear-desktop.jpeg 2x": {{URL: "pear-desktop.jpeg", Density: 2}},
		"/uploads/100-marie-lloyd.jpg 1x, /uploads/150.jpg 1.5x":          {{URL: "/uploads/100-marie-lloyd.jpg", Density: 1}, {URL: "/uploads/150.jpg", Density: 1.5}},
		"wolf_400px.jpg 400w, wolf_800px.jpg 800w, wolf_1600px.jpg 1600w": {{URL: "wolf_400px.jpg", Width: 400}, {URL: "wolf_800px.jpg", Width: 800}, {URL: "wolf_1600px.jpg", Width: 1600}},
		"large.jpg":                     {{URL: "large.jpg", Density: 1}},
		" ,a.jpg,  b.jpg 2x ,":          {{URL: "a.jpg", Density: 1}, {URL: "b.jpg", Density: 2}},
		"a,b.jpg 10w":                   {{URL: "a,b.jpg", Width: 10}},
		"a.jpg 10w 20h":                 {{URL: "a.jpg", Width: 10}},
		"a.jpg ten, b.jpg 5w":           {{URL: "b.jpg", Width: 5}},
		"a.jpg f(1,2), b.jpg":           {{URL: "b.jpg", Density: 1}},
		"data:image/png;base64,AAAA 1x": {{URL: "data:image/png;base64,AAAA", Density: 1}},
		"":                              nil,
	} {
		if got := ReadSrcset(in); !reflect.DeepEqual(got, want) {
			t.Errorf("%q: %+v, want %+v", in, got, want)
		}
		if got := ReadSrcset(WriteSrcset(want)); !reflect.DeepEqual(got, want) {
			t.Errorf("%q: written and read again %+v", in, got)
		}
	}
}
