package change_test

import (
	"fmt"
	"strings"
	"testing"

	"golang.org/x/net/html"
	"golang.org/x/net/html/atom"

	"mendry/internal/core/change"
)

// What is read otherwise is what the parser of golang.org/x/net/html makes of it, which is held against the tree tests
// of html5lib; the cases are those of HTML's own section on errors (13.2.11, "An introduction to error handling and
// strange cases").
func TestWhatABrowserReadsOtherwiseIsSaid(t *testing.T) {
	for markup, want := range map[string]string{
		"<section>\n<h2>Fares</h2>\n<p>Six pounds.\n<p>Seven.</p><br><img src=a.png></section>": "",
		"<ul><li>One<li>Two</ul>":                           "",
		"<div><p>One</div>\n</div>":                         "2 “</div>” closes nothing here, and is left out.",
		"<section>\n<div>One\n</section>":                   "3 “<div>” is closed here, though it is not written.",
		"<p>One<div>Two</div></p>":                          "1 “<p>” is put in, though it is not written.",
		"<table><tr><td>1</td></tr></table>":                "1 “<tbody>” is put in, though it is not written.",
		"<p>\n<td>One</td></p>":                             "2 “<td>” cannot stand here, and is left out or read elsewhere.\n2 “</td>” closes nothing here, and is left out.",
		"<a class=x\nclass=y href=/>A</a>":                  "1 “class” stands twice in “<a>”: the second is left out.",
		"<a href=\"x>A</a>":                                 "1 The tag that begins here does not end: all behind it is lost.",
		"<p>\n<script>a()</script><b onclick=x()>B</b></p>": "2 A script stands here: it runs for visitors.\n2 “onclick” in “<b>” runs for visitors.",
		"<div/>\n<p>One</p>":                                "1 “</div>” closes nothing here, and is left out.\n2 “<div>” is closed here, though it is not written.",
		"<svg><path d=\"M0 0\"/></svg>":                     "",
	} {
		var got []string
		for _, r := range change.ReadAs(markup, &html.Node{Type: html.ElementNode, Data: "div", DataAtom: atom.Div}) {
			got = append(got, fmt.Sprintf("%d %s", r.Line, r.Say))
		}
		if strings.Join(got, "\n") != want {
			t.Errorf("%q:\n%s\nwant\n%s", markup, strings.Join(got, "\n"), want)
		}
	}
}

func FuzzReadAs(f *testing.F) {
	f.Add("<p>One<div a=1 a=2>Two</p></div><table><b>")
	f.Fuzz(func(t *testing.T, markup string) {
		for _, r := range change.ReadAs(markup, &html.Node{Type: html.ElementNode, Data: "div", DataAtom: atom.Div}) {
			if r.Line < 1 || r.Say == "" {
				t.Errorf("%+v", r)
			}
		}
	})
}
