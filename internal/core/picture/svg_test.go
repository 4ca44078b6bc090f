package picture

import (
	"strings"
	"testing"
)

// What runs or fetches is taken out. The ways are from memory, as they are told among people who test browsers.
func TestDrawingsAreCleaned(t *testing.T) {
	for in, gone := range map[string]string{
		`<script>alert(1)</script>`:                                                                "alert",
		`<g onload="alert(1)"/>`:                                                                   "alert",
		`<g OnClick='alert(1)'><path d="M0 0"/></g>`:                                               "alert",
		`<a href="javascript:alert(1)"><text>x</text></a>`:                                         "alert",
		`<a href="java&#x9;script:alert(1)"><text>x</text></a>`:                                    "alert",
		`<a xlink:href="data:text/html,alert(1)"><text>x</text></a>`:                               "alert",
		`<image href="https://a.example/track.png"/>`:                                              "a.example",
		`<image href="data:image/svg+xml;base64,AAAA"/>`:                                           "AAAA",
		`<use href="https://a.example/x.svg#y"/>`:                                                  "a.example",
		`<foreignObject><body xmlns="http://www.w3.org/1999/xhtml">x</body></foreignObject>`:       "foreignObject",
		`<style>@import url(https://a.example/x.css);</style>`:                                     "a.example",
		`<style>@imp<!-- x -->ort "https://a.example/x.css";</style>`:                              "a.example",
		`<style>g{background:url( "https://a.example/x.png")}</style>`:                             "a.example",
		`<style><![CDATA[g{fill:url(//a.example/x.svg#y)}]]></style>`:                              "a.example",
		`<rect fill="url(https://a.example/x.svg#y)"/>`:                                            "a.example",
		`<rect style="fill:ur\6c(https://a.example/x)"/>`:                                          "a.example",
		`<set attributeName="href" to="javascript:alert(1)"/>`:                                     "alert",
		`<a href="#x"><animate attributeName="href" values="javascript:alert(1)"/></a>`:            "attributeName",
		`<handler xmlns:ev="http://www.w3.org/2001/xml-events" ev:event="load">alert(1)</handler>`: "alert",
		`<iframe src="https://a.example"/>`:                                                        "a.example",
		`<h:script xmlns:h="http://www.w3.org/1999/xhtml">alert(1)</h:script>`:                     "alert",
		`<metadata><x:meta xmlns:x="adobe:ns:meta/">me</x:meta></metadata>`:                        "adobe:ns",
		`<g inkscape:export-filename="/home/me/lamp.png" xmlns:inkscape="i"/>`:                     "/home/me",
		`<?xml-stylesheet href="https://a.example/x.css"?>`:                                        "a.example",
	} {
		out, dropped, err := CleanSVG(
			[]byte(
				`<svg xmlns="http://www.w3.org/2000/svg" xmlns:xlink="http://www.w3.org/1999/xlink">` + in + `<path d="M1 1"/></svg>`,
			),
		)
		if err != nil {
			t.Errorf("%s: %v", in, err)
			continue
		}
		if strings.Contains(string(out), gone) || !strings.Contains(string(out), `<path d="M1 1"/></svg>`) ||
			len(dropped) == 0 {
			t.Errorf("%s: %s, %v", in, out, dropped)
		}
	}
}

// Of a style sheet that leads outside in one place the rest stays.
func TestOnlyTheRuleThatLeadsOutsideGoes(t *testing.T) {
	for sheet, want := range map[string]string{
		`@import url(https://a.example/x.css);.a{fill:red}`:                              `.a{fill:red}`,
		`.a{fill:red;background:url(https://a.example/x.png);stroke:blue}.b{fill:green}`: `.a{fill:red;stroke:blue}.b{fill:green}`,
		`@media print{.a{fill:url("//a.example/x")}.b{fill:#fff}}.c{fill:url(#g)}`:       `@media print{.a{}.b{fill:#fff}}.c{fill:url(#g)}`,
		`@font-face{font-family:x;src:url(https://a.example/x.woff2)}.a{font-family:x}`:  `@font-face{font-family:x;}.a{font-family:x}`,
		`.a{content:"} @import"}.b{fill:red}`:                                            `.a{}.b{fill:red}`,
		`.a{fill:red}}.b{fill:url(https://a.example/x)}.c{fill:blue}`:                    `.a{fill:red}.b{}.c{fill:blue}`,
		`.a{fill:ur\6c(https://a.example/x)}.b{fill:red}`:                                `.a{}.b{fill:red}`,
		`/* @import */.a{fill:red}`:                                                      ``,
		`.a &gt; .b{fill:red;x:expression(alert(1))}`:                                    `.a > .b{fill:red;}`,
	} {
		in := `<svg xmlns="http://www.w3.org/2000/svg"><style>` + sheet + `</style></svg>`
		out, dropped, err := CleanSVG([]byte(in))
		if want := `<svg xmlns="http://www.w3.org/2000/svg"><style>` + want + `</style></svg>`; err != nil || string(out) != want || len(dropped) != 1 {
			t.Errorf("%s:\n got %s\nwant %s %v %v", sheet, out, want, dropped, err)
		}
	}
}

func TestADrawingThatDoesNoHarmStays(t *testing.T) {
	const in = `<?xml version="1.0" encoding="UTF-8"?>` + "\n" + `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 40 30">
  <title>Lamp &amp; light</title><style>.a{fill:url(#g)}</style>
  <defs><linearGradient id='g'><stop offset="0" stop-color="#fff"/></linearGradient></defs>
  <a href="https://lamps.example/"><path class="a" d="M0 0h40v30z"/></a><use href="#g"/>
  <image href="data:image/png;base64,iVBORw0KGgo="/><animate attributeName="opacity" values="0;1" dur="2s"/>
</svg>`
	out, dropped, err := CleanSVG([]byte(in))
	if err != nil || string(out) != in || len(dropped) > 0 {
		t.Errorf("%s %v %v", out, dropped, err)
	}
	if i, err := Look(out); err != nil || i.Width != 40 || i.Height != 30 {
		t.Errorf("%+v %v", i, err)
	}
}

func FuzzCleanSVG(f *testing.F) {
	f.Add(`<svg xmlns="http://www.w3.org/2000/svg"><style>a{}</style><g onload="x"/></svg>`)
	f.Fuzz(func(t *testing.T, s string) {
		out, _, err := CleanSVG([]byte(s))
		if err != nil {
			return
		}
		again, dropped, err := CleanSVG(out)
		if err != nil || string(again) != string(out) || len(dropped) > 0 {
			t.Errorf("%q: cleaned again %q, %v, %v", out, again, dropped, err)
		}
	})
}
