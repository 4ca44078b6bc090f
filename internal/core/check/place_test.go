package check

import (
	"strings"
	"testing"

	"mendry/internal/core/change"
	"mendry/internal/core/page"
	"mendry/internal/core/picture"
	"mendry/internal/core/thread"
)

// shown answers what is asked of pictures: a place for each, and files by their names.
type shown struct {
	places []Place
	files  map[string]picture.Info
}

func (s shown) Places(*page.Part) []Place { return s.places }

func (s shown) File(src string) (picture.Info, bool) {
	i, ok := s.files[src]
	return i, ok
}

// The rules of the trade on pictures: shape within 2 % of the place's shape or cropped to it, at least the shown size
// and twice that for sharp screens, weight in proportion, share pictures of 1.91:1 and 1200 points. Common practice,
// no source, but the descriptors of srcset (HTML, 4.8.4.2.1) and object-fit (CSS Images 3, 5.5).
func TestPicturesFitTheirPlaces(t *testing.T) {
	photo := func(w, h, size int) picture.Info {
		return picture.Info{Media: "image/jpeg", Width: w, Height: h, Size: size}
	}
	banner := func(fit string, own bool) []Place {
		return []Place{{390, 390, 156, fit, own}, {1280, 1280, 512, fit, own}}
	}
	for _, c := range []struct {
		name, html  string
		places      []Place
		file        picture.Info
		rule, level string
	}{
		{"a square in a banner that squeezes", "", banner("fill", true), photo(2200, 2200, 300_000), "picture-shape", "stop"},
		{"a square in a banner that cuts", "", banner("cover", true), photo(2560, 2560, 300_000), "picture-shape", "stop"},
		{"a banner that is cut on phones", "", []Place{{390, 390, 340, "cover", true}, {1280, 1280, 512, "cover", true}}, photo(2560, 1024, 300_000), "picture-shape", "look"},
		{"a square in the place of a banner", "", banner("fill", false), photo(2560, 2560, 300_000), "picture-shape", "stop"},
		{"two thirds in a banner that cuts", "", banner("cover", true), photo(2560, 1440, 300_000), "picture-shape", "fine"},
		{"somewhat higher than the one before", "", banner("fill", false), photo(2560, 1280, 300_000), "picture-shape", "look"},
		{"two per cent off", "", banner("fill", true), photo(2560, 1040, 300_000), "picture-shape", "fine"},
		{"three per cent off", "", banner("fill", true), photo(2560, 1055, 300_000), "picture-shape", "stop"},
		{"a square that is shown whole", "", banner("contain", true), photo(2560, 2560, 300_000), "picture-shape", "fine"},
		{"too small", "", banner("fill", true), photo(800, 320, 60_000), "picture-sharp", "stop"},
		{"for plain screens", "", banner("fill", true), photo(1300, 520, 60_000), "picture-sharp", "look"},
		{"for sharp screens", "", banner("fill", true), photo(2560, 1024, 200_000), "picture-sharp", "fine"},
		{"cut from a high place", "", []Place{{390, 390, 800, "cover", true}}, photo(1600, 800, 90_000), "picture-sharp", "look"},
		{"sharp by another size", `<img src="s.jpg" srcset="s.jpg 400w, new.jpg 2560w" alt="Quay">`, banner("fill", true), photo(2560, 1024, 200_000), "picture-sharp", "fine"},
		{"too heavy", "", []Place{{1280, 300, 200, "fill", false}}, photo(2400, 1600, 2_400_000), "picture-weight", "stop"},
		{"heavy", "", []Place{{1280, 300, 200, "fill", false}}, photo(900, 600, 250_000), "picture-weight", "look"},
		{"light", "", []Place{{1280, 300, 200, "fill", false}}, photo(600, 400, 60_000), "picture-weight", "fine"},
		{"nobody has seen its place", "", nil, photo(600, 400, 60_000), "picture-shape", ""},
	} {
		html := c.html
		if html == "" {
			html = `<img src="new.jpg" alt="Quay">`
		}
		p, err := page.Parse([]byte("<title>Boats</title><h1>Boats</h1>"+html), "text/html; charset=utf-8")
		if err != nil {
			t.Fatal(err)
		}
		got := ""
		for _, f := range Run(&Subject{After: p, Address: "/", Pictures: shown{c.places, map[string]picture.Info{"new.jpg": c.file}}}) {
			if f.Rule == c.rule {
				got += string(f.Level)
			}
		}
		if got != c.level {
			t.Errorf("%s: %q, want %q", c.name, got, c.level)
		}
	}
}

// Each file of a picture is held against the places in which a browser takes it (HTML, 4.8.4.3.5 to 4.8.4.3.7).
func TestEachSourceIsHeldAgainstItsOwnPlaces(t *testing.T) {
	file := func(w, h int) picture.Info {
		return picture.Info{Media: "image/jpeg", Width: w, Height: h, Size: 60_000}
	}
	places := []Place{{390, 390, 390, "fill", true}, {768, 768, 308, "fill", true}, {1280, 1280, 512, "fill", true}}
	cut := []Place{{390, 390, 260, "cover", true}, {1280, 1280, 512, "cover", true}}
	free := []Place{{390, 390, 165, "fill", false}, {1280, 1280, 512, "fill", false}}
	img := `<img src="wide.jpg" alt="Quay"></picture>`
	for _, c := range []struct {
		name, html string
		small      picture.Info
		want       string
		places     []Place
	}{
		{"a high one in a place that cuts it", `<picture><source media="(max-width: 600px)" srcset="small.jpg">` + img, file(800, 1000), "wide.jpg fine, small.jpg look", cut},
		{"a high one where the place takes any shape", `<picture><source media="(max-width: 600px)" srcset="small.jpg">` + img, file(800, 1000), "wide.jpg fine, small.jpg fine", free},
		{"a square for narrow windows", `<picture><source media="(max-width: 600px)" srcset="small.jpg">` + img, file(800, 800), "wide.jpg fine, small.jpg fine", places},
		{"one that is no square", `<picture><source media="(max-width: 600px)" srcset="small.jpg">` + img, file(800, 400), "wide.jpg fine, small.jpg stop", places},
		{"in em, and one of two", `<picture><source media="print, screen and (max-width: 37.5em)" srcset="small.jpg">` + img, file(800, 800), "wide.jpg fine, small.jpg fine", places},
		{"for screens", `<picture><source media="screen and (width <= 600px)" srcset="small.jpg">` + img, file(800, 800), "wide.jpg fine, small.jpg fine", places},
		{"for wide windows", `<picture><source media="(min-width: 700px)" srcset="small.jpg">` + img, file(2560, 1024), "wide.jpg stop, small.jpg fine", places},
		{"nothing is known of the file", `<picture><source media="(max-width: 600px)" srcset="other.jpg">` + img, file(1, 1), "wide.jpg fine", places},
		{"another kind of file", `<picture><source type="image/webp" srcset="other.webp">` + img, file(1, 1), "wide.jpg stop", places},
		{"it cannot be told when", `<picture><source media="(orientation: portrait)" srcset="small.jpg">` + img, file(800, 800), "", places},
		{"none", `<picture>` + img, file(1, 1), "wide.jpg stop", places},
	} {
		p, err := page.Parse([]byte("<title>Boats</title><h1>Boats</h1>"+c.html), "text/html; charset=utf-8")
		if err != nil {
			t.Fatal(err)
		}
		var got []string
		for _, f := range Run(&Subject{After: p, Address: "/", Pictures: shown{c.places, map[string]picture.Info{"wide.jpg": file(2560, 1024), "small.jpg": c.small}}}) {
			if f.Rule == "picture-shape" {
				got = append(got, f.Words+" "+string(f.Level))
			}
		}
		if strings.Join(got, ", ") != c.want {
			t.Errorf("%s: %s, want %s", c.name, strings.Join(got, ", "), c.want)
		}
	}
}

func TestWhatPicturesSay(t *testing.T) {
	for html, want := range map[string]string{
		`<img src="a.jpg" alt="Image of the quay">`:                        "look",
		`<img src="a.jpg" alt="The quay at night">`:                        "",
		`<img src="a.jpg" alt="The quay"><img src="b.jpg" alt="the quay">`: "looklook",
		`<img src="a.jpg" alt="The quay"><img src="a.jpg" alt="The quay">`: "",
		`<img src="a.jpg" alt=""><img src="b.jpg" alt="">`:                 "",
	} {
		p, err := page.Parse([]byte("<title>Boats</title><h1>Boats</h1>"+html), "text/html; charset=utf-8")
		if err != nil {
			t.Fatal(err)
		}
		got := ""
		for _, f := range Run(&Subject{After: p, Address: "/"}) {
			if f.Rule == "picture-says" {
				got += string(f.Level)
			}
		}
		if got != want {
			t.Errorf("%s: %q, want %q", html, got, want)
		}
	}
}

// A step that changes a picture, the link around it, its other files and the share picture alters nothing else; one
// byte more is found.
func TestAPictureWithAllThatBelongsToItIsOneChange(t *testing.T) {
	const live = `<!doctype html><html><head><title>Boats</title><meta property="og:image" content="/old.jpg"></head><body><h1>Boats</h1>
<a href="old-large.jpg"><picture><source media="(max-width: 600px)" srcset="old-s.jpg"><img src="old.jpg" alt="Quay"></picture></a></body></html>`
	d := draftOf(t, live)
	done := swapped(t, d)
	edits := EditsOf(done)
	if len(edits) != 1 || len(edits[0].Spots) != 4 {
		t.Fatalf("%+v", edits)
	}
	s := &Subject{Before: d.Page(), After: done.Page(), Edits: edits}
	if fs := outsideSame(s); len(fs) != 1 || fs[0].Level != Fine {
		t.Errorf("%+v", fs)
	}
	worse, err := page.Parse(
		[]byte(strings.Replace(string(done.Page().Doc.Bytes), "<h1>Boats", "<h1>boats", 1)),
		"text/html; charset=utf-8",
	)
	if err != nil {
		t.Fatal(err)
	}
	s.Edits[0].After = worse
	if fs := outsideSame(s); fs[0].Level != Stop {
		t.Errorf("a byte outside is not found: %+v", fs)
	}
}

// swapped sets what a new picture sets.
func swapped(t *testing.T, d *thread.Draft) *thread.Draft {
	t.Helper()
	var ops []change.Op
	value := "new.jpg"
	for _, q := range d.Page().All {
		switch {
		case q.Node.Is("img"):
			ops = append([]change.Op{{Op: change.SetAttribute, Part: q.ID, Name: "src", Value: &value}}, ops...)
		case q.Node.Is("source"):
			ops = append(ops, change.Op{Op: change.SetAttribute, Part: q.ID, Name: "srcset", Value: &value})
		case q.Node.Is("a"):
			ops = append(ops, change.Op{Op: change.SetAttribute, Part: q.ID, Name: "href", Value: &value})
		}
	}
	ops = append(ops, change.Op{Op: change.SetFact, Name: "image", Value: &value})
	return and(t, d, ops)
}

// and is a draft with one more step.
func and(t *testing.T, d *thread.Draft, ops []change.Op) *thread.Draft {
	t.Helper()
	alone, err := thread.Alone(d.Page(), ops)
	if err != nil {
		t.Fatal(err)
	}
	next, err := d.And(thread.Kept{ID: 1, Step: alone.Kept[0].Step, Say: "a change"}, alone)
	if err != nil {
		t.Fatal(err)
	}
	return next
}

// draftOf is a page to which nothing was done yet.
func draftOf(t *testing.T, html string) *thread.Draft {
	t.Helper()
	p, err := page.Parse([]byte(html), "text/html; charset=utf-8")
	if err != nil {
		t.Fatal(err)
	}
	d, err := thread.Of(p, nil, nil)
	if err != nil {
		t.Fatal(err)
	}
	return d
}
