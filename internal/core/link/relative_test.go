package link

import (
	"net/url"
	"testing"
)

// What a reference leads to is told by net/url, which resolves by RFC 3986, 5.2.
func TestRelativeLeadsThere(t *testing.T) {
	paths := []string{
		"/", "/a", "/a/", "/a/b", "/a/b/", "/a/b/c.html", "/b", "/a/c:d.html", "/a//b", "/c.html?x=1/2", "/a/b#top", "/a/%20b/c", "/#top",
	}
	for _, from := range paths {
		page, err := url.Parse(from)
		if err != nil {
			t.Fatal(err)
		}
		page.RawQuery, page.Fragment = "", ""
		for _, to := range paths {
			ref := Relative(page.EscapedPath(), to)
			got, err := page.Parse(ref)
			if err != nil || got.String() != to {
				t.Errorf("from %s to %s: %q leads to %v %v", page, to, ref, got, err)
			}
		}
	}
}

// The same with each of RFC 3986's own examples of references (5.4.1, by its base) that stay on the site.
func TestMovedLeadsWhereItLed(t *testing.T) {
	const from = "/b/c/d"
	for _, to := range []string{"/b/c/e", "/b/", "/", "/x/y/z/", "/b/c/d/e"} {
		for _, ref := range []string{
			"g", "./g", "g/", "/g", "?y", "g?y", "#s", "g#s", "g?y#s", ";x", "g;x", ".", "./", "..", "../", "../g", "../..", "../../", "../../g",
			"mailto:a@b.example", "https://other.example/x", "//other.example/x", "pictures/a%20b.jpg",
		} {
			was, now := at(t, from), at(t, to)
			moved, _ := Moved(ref, from, to)
			want, err := was.Parse(ref)
			if err != nil {
				t.Fatal(err)
			}
			if got, err := now.Parse(moved); err != nil || got.String() != want.String() {
				t.Errorf("%q from %s to %s is %q, which leads to %v instead of %v", ref, from, to, moved, got, want)
			}
		}
	}
	if moved, ok := Moved("a.html", "/x.html", "/y.html"); ok || moved != "a.html" {
		t.Errorf("between pages of one folder it became %q", moved)
	}
}

func at(t *testing.T, p string) *url.URL {
	t.Helper()
	u, err := url.Parse("https://site.example" + p)
	if err != nil {
		t.Fatal(err)
	}
	return u
}
