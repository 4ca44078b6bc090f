package change_test

import (
	"net/url"
	"strings"
	"testing"

	"golang.org/x/net/html"

	"mendry/internal/core/change"
	"mendry/internal/core/page"
	"mendry/internal/core/picture"
	"mendry/internal/foreign"
)

func at(t *testing.T, address, markup string) change.At {
	t.Helper()
	p, err := page.Parse([]byte(markup), "text/html; charset=utf-8")
	if err != nil {
		t.Fatal(err)
	}
	return change.At{Page: p, Address: address}
}

// leads lists where all addresses of markup lead from a page, as net/url resolves them (RFC 3986, 5.2).
func leads(t *testing.T, markup, address string) (all []string) {
	t.Helper()
	root, err := html.Parse(strings.NewReader(markup))
	if err != nil {
		t.Fatal(err)
	}
	base, err := url.Parse("https://site.example" + address)
	if err != nil {
		t.Fatal(err)
	}
	to := func(ref string) {
		if u, err := base.Parse(strings.TrimSpace(ref)); err == nil && ref != "" {
			all = append(all, u.String())
		}
	}
	for n := range root.Descendants() {
		for _, a := range n.Attr {
			switch a.Key {
			case "href", "src", "poster", "action", "data-src":
				if !strings.HasPrefix(a.Val, "#") { // of these, those that come along stay on the page
					to(a.Val)
				}
			case "srcset", "data-srcset":
				for _, c := range picture.ReadSrcset(a.Val) {
					to(c.URL)
				}
			}
		}
	}
	return all
}

// Every section that pages nobody here wrote can lend is borrowed by a page in another folder: it stands there as it
// was, all addresses lead where they led, no identifier stands twice, the page is no worse, and it is taken back to
// the very bytes.
func TestSectionsOfPagesNobodyHereWroteAreBorrowed(t *testing.T) {
	t.Parallel()
	const from, to = "/tours/2024/index.html", "/about/crew.html"
	worse := map[string]int{}
	lent, refused, samples := 0, 0, map[page.Sample]int{}
	names, files := foreign.Templates(t)
	for _, name := range names {
		p, err := page.Parse(foreign.Read(t, files[name]), "")
		if err != nil {
			t.Fatal(err)
		}
		lender := change.At{Page: p, Address: from}
		here := at(
			t,
			to,
			"<!DOCTYPE html>\n<html lang=en><head><title>Crew</title></head><body><main>\n<h1 id=top>Crew</h1>\n<section id=main><h2>All of us</h2>\n<p>Seven.</p></section>\n</main></body></html>\n",
		)
		anchor := here.All[0]
		for _, q := range here.All {
			if q.Kind == page.Section && q.Node.Is("section") {
				anchor = q
			}
		}
		for _, l := range p.Lends() {
			lent++
			samples[l.Sample]++
			b, err := change.Borrow(lender, l.Part, here, 2, nil, false)
			if err != nil {
				t.Errorf("%s, %s: %v", name, l.Part.Name, err)
				continue
			}
			r, err := change.Apply(
				here.Page,
				[]change.Op{{Op: change.Insert, Anchor: anchor.ID, Where: change.After, HTML: b.HTML}},
			)
			if err != nil {
				refused++
				t.Logf("%s, %s: %v", name, l.Part.Name, err)
				continue
			}
			if why := page.Worse(here.Page, r.Page, p); why != "" {
				worse[why]++
				refused++
				continue
			}
			if was, now := leads(t, l.Part.HTML, from), leads(t, b.HTML, to); !samePlaces(was, now) {
				t.Errorf(
					"%s, %s: its addresses led to\n%s\nand lead to\n%s",
					name,
					l.Part.Name,
					strings.Join(was, "\n"),
					strings.Join(now, "\n"),
				)
			}
			back, err := change.Apply(r.Page, r.Undo)
			if err != nil || string(back.Page.Doc.Bytes) != string(here.Doc.Bytes) {
				t.Errorf("%s, %s: it is not taken back: %v", name, l.Part.Name, err)
			}
			if _, err := change.Borrow(lender, l.Part, here, 2, nil, true); err != nil {
				t.Errorf("%s, %s, emptied: %v", name, l.Part.Name, err)
			}
		}
	}
	t.Logf(
		"%d sections lent by %d templates, %d refused; as %v; samples: %v",
		lent,
		len(names),
		refused,
		worse,
		samples,
	)
	if lent < 150 || 33*refused > lent {
		t.Errorf("%d of %d were refused", refused, lent)
	}
}

// samePlaces compares where addresses lead, but for those that point at a place of the lender's own page.
func samePlaces(was, now []string) bool {
	set := map[string]bool{}
	for _, a := range now {
		set[a] = true
	}
	for _, a := range was {
		if !set[a] {
			return false
		}
	}
	return true
}

func TestWhatIsBorrowedLeadsWhereItLed(t *testing.T) {
	const section = `<section class="voices" id="said" aria-labelledby="outside said-head">
<h2 id="said-head">What they said</h2>
<div class="row" style="background-image: url('img/quay.jpg')"><img src="img/a.jpg" srcset="img/a.jpg 1x, img/a-2.jpg 2x" alt="A quay">
<p><a href="fares.html#winter">Fares</a> <a href="#said">here</a> <a href="#top">up</a> <a href="/boats/">Boats</a> <a href="mailto:a@b.example">Mail</a></p></div></section>`
	lender := at(
		t,
		"/crew/index.html",
		`<!DOCTYPE html><html><head><link rel="stylesheet" href="../site.css"><link rel=stylesheet href="voices.css"><script src="slides.js" defer></script><script src="map.js"></script></head><body id="top"><main><p>Words.</p>`+section+`<p>More words.</p></main></body></html>`,
	)
	here := at(
		t,
		"/index.html",
		"<!DOCTYPE html>\r\n<html><head><link rel=stylesheet href=site.css></head><body><main><section id=said><h2>Fares</h2>\r\n<p>Words.</p></section></main></body></html>",
	)
	code := map[string]string{
		"/site.css": ".voices { color: red }", "/crew/voices.css": ".voices{color:blue}", "/crew/slides.js": "for (const e of document.querySelectorAll('.voices .row')) turn(e)",
		"/crew/map.js": "draw('.voices-map')",
	}
	lends := lender.Lends()
	if len(lends) == 0 {
		t.Fatalf("%d sections are lent", len(lends))
	}
	b, err := change.Borrow(
		lender,
		lends[0].Part,
		here,
		0,
		func(path string) []byte { return []byte(code[path]) },
		false,
	)
	if err != nil {
		t.Fatal(err)
	}
	want := strings.NewReplacer(
		`id="said" aria-labelledby="outside said-head"`,
		`id="said-2" aria-labelledby="said-head"`,
		`url('img/quay.jpg')`,
		`url('crew/img/quay.jpg')`,
		`src="img/a.jpg" srcset="img/a.jpg 1x, img/a-2.jpg 2x"`,
		`src="crew/img/a.jpg" srcset="crew/img/a.jpg, crew/img/a-2.jpg 2x"`,
		`"fares.html#winter"`,
		`"crew/fares.html#winter"`,
		`"#said"`,
		`"#said-2"`,
		`"#top"`,
		`"crew/index.html#top"`,
		`</section>`,
		`<link rel=stylesheet href="crew/voices.css"><script src="crew/slides.js" defer></script></section>`,
	).Replace(section)
	if b.HTML != want {
		t.Errorf("%s\ninstead of\n%s", b.HTML, want)
	}
	if strings.Join(b.Brings, " ") != "/crew/voices.css /crew/slides.js" {
		t.Errorf("it brings %v", b.Brings)
	}
	emptied, err := change.Borrow(lender, lends[0].Part, here, 0, nil, true)
	if err != nil {
		t.Fatal(err)
	}
	for _, gone := range []string{"What they said", "quay", "Fares", "a.jpg", "fares.html"} {
		if strings.Contains(emptied.HTML, gone) {
			t.Errorf("%q is left in %s", gone, emptied.HTML)
		}
	}
}

func TestHeadingsAreRaisedWhereALevelWouldBeSkipped(t *testing.T) {
	lender := at(
		t,
		"/a.html",
		"<html><body><main><h1>A</h1><h2>B</h2><h3>C</h3><section><h4 class=x>Crew</h4><p>Seven.</p><h5>Mate</h5><p>One.</p></section><p>Words.</p></main></body></html>",
	)
	here := at(t, "/b.html", "<html><body><h1>B</h1><p>Words.</p></body></html>")
	b, err := change.Borrow(lender, lender.Lends()[0].Part, here, 1, nil, false)
	if err != nil || b.Raised != 2 ||
		b.HTML != "<section><h2 class=x>Crew</h2><p>Seven.</p><h3>Mate</h3><p>One.</p></section>" {
		t.Errorf("%+v %v", b, err)
	}
}

func TestWhatCannotBeBorrowedIsSaid(t *testing.T) {
	lender := at(
		t,
		"/a.html",
		"<html><head><base href=https://other.example/></head><body><section><h2>Crew</h2><p>Seven.</p></section></body></html>",
	)
	here := at(t, "/b.html", "<html><body><p>Words.</p></body></html>")
	if _, err := change.Borrow(lender, lender.All[0], here, 0, nil, false); err == nil ||
		!strings.Contains(err.Error(), "base") {
		t.Errorf("%v", err)
	}
	md, err := page.ParseFile("a.md", []byte("# Crew\n\nSeven.\n"), "")
	if err != nil {
		t.Fatal(err)
	}
	if _, err := change.Borrow(change.At{Page: md, Address: "/a"}, md.All[0], here, 0, nil, false); err == nil ||
		!strings.Contains(err.Error(), "Markdown") {
		t.Errorf("%v", err)
	}
}
