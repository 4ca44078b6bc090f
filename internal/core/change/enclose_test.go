package change

import (
	"testing"

	"mendry/internal/core/page"
	"mendry/internal/core/refusal"
)

// What HTML, 4.4.12 and 4.5.1, allow around a picture: a figure holds it with its caption, a link holds it, a
// paragraph holds no figure.
func TestAPictureIsEnclosed(t *testing.T) {
	const link, figure = `<a href="/quay.html"></a>`, `<figure><figcaption>Noon</figcaption></figure>`
	for _, c := range []struct{ name, file, was, op, want string }{
		{"a link", "p.html", `<p>One.</p><img src="a.jpg" alt="Quay"><p>Two.</p>`, link, `<p>One.</p><a href="/quay.html"><img src="a.jpg" alt="Quay"></a><p>Two.</p>`},
		{"a link in a paragraph", "p.html", `<p>See <img src="a.jpg" alt="Quay"> here.</p>`, link, `<p>See <a href="/quay.html"><img src="a.jpg" alt="Quay"></a> here.</p>`},
		{"a link around its files", "p.html", `<picture><source srcset="n.jpg" media="(max-width:600px)"><img src="a.jpg" alt="Quay"></picture>`, link,
			`<a href="/quay.html"><picture><source srcset="n.jpg" media="(max-width:600px)"><img src="a.jpg" alt="Quay"></picture></a>`},
		{"a caption", "p.html", `<div><img src="a.jpg" alt="Quay"></div>`, figure, `<div><figure><img src="a.jpg" alt="Quay"><figcaption>Noon</figcaption></figure></div>`},
		{"a caption below a linked one", "p.html", `<div><a href="l.jpg"><img src="a.jpg" alt="Quay"></a></div>`, figure,
			`<div><figure><a href="l.jpg"><img src="a.jpg" alt="Quay"></a><figcaption>Noon</figcaption></figure></div>`},
		{"a caption instead of a paragraph", "p.html", "<p>One.</p>\r\n<p class=left><img src=a.jpg alt=Quay>\r\n<p>Two.", figure,
			"<p>One.</p>\r\n<figure class=left><img src=a.jpg alt=Quay>\r\n<figcaption>Noon</figcaption></figure><p>Two."},
		{"a caption in a figure", "p.html", "<figure class=wide>\n <img src=a.jpg alt=Quay>\n</figure>", figure, "<figure class=wide>\n <img src=a.jpg alt=Quay><figcaption>Noon</figcaption>\n</figure>"},
		{"a link in Markdown", "p.md", "One.\n\n![Quay](a.jpg \"At noon\")\n\nTwo.\n", link, "One.\n\n[![Quay](a.jpg \"At noon\")](/quay.html)\n\nTwo.\n"},
		{"a caption among words", "p.html", `<p>See <img src="a.jpg" alt="Quay"> here.</p>`, figure, ""},
		{"a caption in Markdown", "p.md", "![Quay](a.jpg)\n", figure, ""},
		{"two elements", "p.html", `<img src="a.jpg" alt="Quay">`, link + link, ""},
		{"a link in a link's words", "p.html", `<a href="/b.html">To <img src="a.jpg" alt="Quay"></a>`, link, ""},
	} {
		p, err := page.ParseFile(c.file, []byte(c.was), "")
		if err != nil {
			t.Fatal(err)
		}
		r, err := Apply(
			p,
			[]Op{{Op: Enclose, Part: p.OfKind(page.Picture)[len(p.OfKind(page.Picture))-1].ID, HTML: c.op}},
		)
		if c.want == "" {
			if refusal.Of(err) == nil {
				t.Errorf("%s: %v", c.name, err)
			}
			continue
		}
		if err != nil || string(r.Bytes) != c.want {
			t.Errorf("%s: %v\n%q, want\n%q", c.name, err, bytesOf(r), c.want)
			continue
		}
		back, err := Apply(r.Page, r.Undo)
		if err != nil || string(back.Bytes) != c.was {
			t.Errorf("%s: not as it was: %v %q", c.name, err, bytesOf(back))
		}
	}
}

// A link that is opened leaves what stood in it.
func TestALinkIsOpened(t *testing.T) {
	const was = `<p>One.</p><a class="x" href="l.jpg"><img src="a.jpg" alt="Quay"></a><p>Two.</p>`
	p, err := page.Parse([]byte(was), "")
	if err != nil {
		t.Fatal(err)
	}
	var link string
	for _, q := range p.All {
		if q.Node.Is("a") {
			link = q.ID
		}
	}
	r, err := Apply(p, []Op{{Op: Open, Part: link}})
	if err != nil || string(r.Bytes) != `<p>One.</p><img src="a.jpg" alt="Quay"><p>Two.</p>` {
		t.Fatalf("%v %q", err, bytesOf(r))
	}
	if back, err := Apply(r.Page, r.Undo); err != nil || string(back.Bytes) != was {
		t.Errorf("%v %q", err, bytesOf(back))
	}
	if _, err := Apply(p, []Op{{Op: Open, Part: p.OfKind(page.Picture)[0].ID}}); refusal.Of(err) == nil {
		t.Errorf("%v", err)
	}
}

func bytesOf(r *Result) string {
	if r == nil {
		return ""
	}
	return string(r.Bytes)
}

// What was done to a picture's frame is told as that, not as a move.
func TestWhatAPictureStandsInIsTold(t *testing.T) {
	const bare, linked, told = `<img src="a.jpg" alt="Quay">`, `<a href="/quay.html"><img src="a.jpg" alt="Quay"></a>`,
		`<figure><img src="a.jpg" alt="Quay"><figcaption>Noon</figcaption></figure>`
	read := func(s string) *page.Page {
		p, err := page.Parse(
			[]byte(`<html><head><title>B</title></head><body><h1>B</h1><p>One.</p>`+s+`<p>Two.</p></body></html>`),
			"",
		)
		if err != nil {
			t.Fatal(err)
		}
		return p
	}
	for _, c := range []struct{ was, is, say string }{
		{bare, linked, "Quay leads to /quay.html now"},
		{linked, bare, "Quay leads nowhere now"},
		{bare, told, "Quay has the caption “Noon” now"},
		{told, bare, "Quay has no caption any more"},
	} {
		d := Compare(read(c.was), read(c.is))
		if !d.OutsideSame || len(d.Changes) != 1 || d.Changes[0].Say != c.say {
			t.Errorf("%s, %s: %+v", c.was, c.is, d)
		}
	}
}
