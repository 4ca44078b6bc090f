package link

import "testing"

// RFC 3986 §5.4.1 and §5.4.2, base http://a/b/c/d;p?q (strict parsing).
func TestReferenceResolutionOfRFC3986(t *testing.T) {
	examples := map[string]string{
		"g:h": "g:h", "g": "http://a/b/c/g", "./g": "http://a/b/c/g", "g/": "http://a/b/c/g/", "/g": "http://a/g",
		"//g": "http://g", "?y": "http://a/b/c/d;p?y", "g?y": "http://a/b/c/g?y", "#s": "http://a/b/c/d;p?q#s",
		"g#s": "http://a/b/c/g#s", "g?y#s": "http://a/b/c/g?y#s", ";x": "http://a/b/c/;x", "g;x": "http://a/b/c/g;x",
		"g;x?y#s": "http://a/b/c/g;x?y#s", "": "http://a/b/c/d;p?q", ".": "http://a/b/c/", "./": "http://a/b/c/",
		"..": "http://a/b/", "../": "http://a/b/", "../g": "http://a/b/g", "../..": "http://a/", "../../": "http://a/",
		"../../g": "http://a/g", "../../../g": "http://a/g", "../../../../g": "http://a/g", "/./g": "http://a/g",
		"/../g": "http://a/g", "g.": "http://a/b/c/g.", ".g": "http://a/b/c/.g", "g..": "http://a/b/c/g..",
		"..g": "http://a/b/c/..g", "./../g": "http://a/b/g", "./g/.": "http://a/b/c/g/", "g/./h": "http://a/b/c/g/h",
		"g/../h": "http://a/b/c/h", "g;x=1/./y": "http://a/b/c/g;x=1/y", "g;x=1/../y": "http://a/b/c/y",
		"g?y/./x": "http://a/b/c/g?y/./x", "g?y/../x": "http://a/b/c/g?y/../x", "g#s/./x": "http://a/b/c/g#s/./x",
		"http:g": "http:g",
	}
	for ref, want := range examples {
		if got, err := Resolve("http://a/b/c/d;p?q", ref); err != nil || got != want {
			t.Errorf("%q: %q, %v; the standard has %q", ref, got, err, want)
		}
	}
}

func TestKinds(t *testing.T) {
	tests := []struct {
		from, ref string
		kind      Kind
		to, place string
	}{
		{"/fares.html", "islands/heron.html", Inside, "/islands/heron.html", ""},
		{"/islands/", "heron.html#getting", Inside, "/islands/heron.html", "getting"},
		{"/islands/heron.html", "../", Inside, "/", ""},
		{"/", "http://ferry.example/fares.html", Inside, "/fares.html", ""},
		{"/fares.html", "#adult", Place, "/fares.html", "adult"},
		{"/", "https://tide.example/x", Outside, "https://tide.example/x", ""},
		{"/", "mailto:quay@ferry.example", Mail, "quay@ferry.example", ""},
		{"/", "tel:+441632960110", Phone, "+441632960110", ""},
		{"/", "javascript:void(0)", Other, "", ""},
	}
	for _, tt := range tests {
		k, to, place := Of("http://ferry.example/", tt.from, tt.ref)
		if k != tt.kind || to != tt.to || place != tt.place {
			t.Errorf("%s on %s: %s %q %q", tt.ref, tt.from, k, to, place)
		}
	}
}

func TestFileNames(t *testing.T) {
	for in, want := range map[string]string{"New Boat (2).JPG": "new-boat-2.jpg", "Ünï.png": "uni.png", "...": "file", "Café Übersicht.jpg": "cafe-ubersicht.jpg", "Alwyn’s Straße.PNG": "alwyns-strasse.png", "日本.webp": "file.webp"} {
		if got := FileName(in); got != want {
			t.Errorf("%q: %q, want %q", in, got, want)
		}
	}
	for file, address := range map[string]string{"index.html": "/", "fares/index.html": "/fares/", "fares.html": "/fares.html"} {
		if AddressOf(file) != address || FileOf(address) != file {
			t.Errorf("%s and %s", AddressOf(file), FileOf(address))
		}
	}
}
