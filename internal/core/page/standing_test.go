package page

import "testing"

func TestHiddenAndDatedPages(t *testing.T) {
	t.Parallel()
	for _, c := range []struct {
		file, content, address string
		hidden                 bool
		dated                  string
	}{
		{"a.html", `<!doctype html><meta name=Robots content="NOINDEX, follow"><title>t</title>`, "/a.html", true, "0001-01-01"},
		{"a.html", `<!doctype html><meta property="article:published_time" content="2026-03-01T09:00:00Z"><title>t</title>`, "/news/2025-01-02-x.html", false, "2026-03-01"},
		{"a.html", `<!doctype html><title>t</title>`, "/news/2025-01-02-x.html", false, "2025-01-02"},
		{"a.html", `<!doctype html><title>t</title>`, "/2025/06/x.html", false, "2025-06-01"},
		{"a.html", `<!doctype html><title>t</title>`, "/2025-99-02.html", false, "0001-01-01"},
		{"a.html", `<!doctype html><title>t</title>`, "/route-2025.html", false, "0001-01-01"},
		{"a.md", "---\ntitle: x\ndate: 2026-05-04\ndraft: true\n---\n# A\n", "/a", true, "2026-05-04"},
		{"a.md", "---\npublished: false\n---\n# A\n", "/a", true, "0001-01-01"},
		{"a.md", "# A\n", "/a", false, "0001-01-01"},
	} {
		p, err := ParseFile(c.file, []byte(c.content), "")
		if err != nil {
			t.Fatal(err)
		}
		if got := p.Dated(c.address).Format("2006-01-02"); p.Hidden() != c.hidden || got != c.dated {
			t.Errorf("%s %q: hidden %v, dated %s", c.address, c.content, p.Hidden(), got)
		}
	}
}

func TestHeadingsThatALinkCanLeadTo(t *testing.T) {
	t.Parallel()
	p, err := Parse([]byte(`<!doctype html><title>t</title><body><h1 id=top1>A</h1><h2><a name="b"></a>B</h2><section id=s><h2>C</h2><p>x</p><h2>D</h2></section><h2><span id=e>E</span></h2><h2>F</h2>`), "")
	if err != nil {
		t.Fatal(err)
	}
	want := map[string]string{"A": "top1", "B": "b", "C": "s", "D": "", "E": "e", "F": ""}
	for _, part := range p.All {
		if part.Kind == Heading {
			id := p.PlaceOf(part)
			if id != want[part.Text] || id != "" && !p.HasPlace(id) {
				t.Errorf("%s: %q", part.Text, id)
			}
			delete(want, part.Text)
		}
	}
	if len(want) > 0 {
		t.Errorf("not found: %v", want)
	}
}
