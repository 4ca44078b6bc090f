package page

import (
	"slices"
	"testing"
)

// Where a page may name a file: HTML 4.8.3 (img), 4.8.4.2 (srcset), 4.8.2 (source), 4.8.8 (poster), 4.6.7.11 (icon);
// Open Graph's image.
func TestTheFilesThatAPageUses(t *testing.T) {
	p, err := Parse(
		[]byte(`<html><head><title>Boats</title><meta property="og:image" content="https://quay.example/img/share.jpg">
<link rel="icon" href="/favicon.svg"><link rel="stylesheet" href="/quay.css"></head><body><h1>Boats</h1>
<img src="../img/quay.jpg" alt="The quay"><img src="/img/quay.jpg"><img src="https://other.example/x.jpg" alt="">
<picture><source srcset="/img/small.webp 400w, /img/large.webp 900w"><img src="/img/large.jpg" alt=""></picture>
<div style="background-image:url('/img/night.jpg')"><p>Words</p></div><a href="/img/map.png">Map</a><a href="/boats/">Boats</a>
<p>See the <a href="/img/plan.png">plan</a> or the <a href="/files/prices.pdf">prices</a>.</p><video src="/films/quay.mp4"><track src="/films/quay.vtt"></video>
<img src="data:image/gif;base64,R0" data-src="/img/late.png" alt="Late"></body></html>`),
		"text/html; charset=utf-8",
	)
	if err != nil {
		t.Fatal(err)
	}
	var files []string
	silent := 0
	for _, u := range p.Uses("https://quay.example", "/boats/") {
		files = append(files, u.File)
		if !u.Says {
			silent++
		}
	}
	slices.Sort(files)
	want := []string{
		"favicon.svg",
		"files/prices.pdf",
		"films/quay.mp4",
		"films/quay.vtt",
		"img/large.jpg",
		"img/large.webp",
		"img/late.png",
		"img/map.png",
		"img/night.jpg",
		"img/plan.png",
		"img/quay.jpg",
		"img/quay.jpg",
		"img/share.jpg",
		"img/small.webp",
	}
	if !slices.Equal(files, want) || silent != 1 {
		t.Errorf("%v, %d without words", files, silent)
	}
	if got := UsesIn([]byte(`a{background:url(paper.png)} b{src:url("f.woff2")} c{background:url( '/img/x.svg' )}`), "https://quay.example", "/css/a.css"); !slices.Equal(
		got,
		[]string{"css/paper.png", "img/x.svg"},
	) {
		t.Errorf("%v", got)
	}
}
