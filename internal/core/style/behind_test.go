package style

import (
	"strings"
	"testing"

	"golang.org/x/net/html"
)

// Backgrounds as CSS Backgrounds and Borders 3 writes them (2.2, layers; 2.10, the shorthand), with the cascade's
// order of specificity (Selectors 4, 17).
func TestThePictureBehindANode(t *testing.T) {
	const sheet = `
		.band { background: #223 url(../img/band.jpg) center / cover no-repeat }
		.hero { background: linear-gradient(rgba(0, 0, 0, .4), rgb(0 0 0 / 50%)), url("/img/hero.jpg") 50% 20%, url('/img/paper.png') }
		#top { background-image: url(top.jpg) } .top { background-image: url(other.jpg) }
		.plain { background: #fff } .dot { background: url(data:image/gif;base64,R0lG) }
		.band.off { background-image: none }
		@media (max-width: 600px) { .band { background-image: url(small.jpg) } }`
	s := &Sheet{}
	s.ReadFrom("/css/site.css", []byte(sheet))
	for _, c := range []struct{ markup, src, image string }{
		{`<div class="band">`, "../img/band.jpg", `url('/new.jpg')`},
		{`<div class="hero">`, "/img/hero.jpg", `linear-gradient(rgba(0,0,0,.4),rgb(0 0 0/50%)), url('/new.jpg'), url('from the page: /img/paper.png')`},
		{`<div id="top" class="top">`, "top.jpg", `url('/new.jpg')`},
		{`<div class="plain">`, "", ""},
		{`<div class="dot">`, "", ""},
		{`<div class="band off">`, "", ""},
		{`<div class="band" style="background-image: url(/own.jpg)">`, "", ""},
		{`<div class="band" style="color: red">`, "../img/band.jpg", `url('/new.jpg')`},
	} {
		doc, err := html.Parse(strings.NewReader(c.markup))
		if err != nil {
			t.Fatal(err)
		}
		b, ok := s.Behind(doc.FirstChild.LastChild.FirstChild)
		if ok != (c.src != "") || ok && (b.Src != c.src || b.Sheet != "/css/site.css") {
			t.Errorf("%s: %+v %v", c.markup, b, ok)
		}
		if !ok {
			continue
		}
		if got := b.Image("/new.jpg", func(src string) string { return "from the page: " + src }); got != c.image {
			t.Errorf("%s: %s", c.markup, got)
		}
	}
}
