package page_test

import (
	"strings"
	"testing"

	"mendry/internal/core/page"
	"mendry/internal/core/source"
)

// The icons are written as icon fonts, SVG 2 (5.5 the symbol element, 5.6 the use element) and HTML write them.
func TestIconsAreFoundAndPutInEachOthersPlace(t *testing.T) {
	for name, c := range map[string]struct {
		drawn, was, other, want string
	}{
		"a font that calls its icons as fonts do": {"", `<i class="fa fa-phone fa-lg" aria-hidden="true"></i>`, `<span class='fa fa-clock'></span>`, `<i class="fa fa-clock fa-lg" aria-hidden="true"></i>`},
		"a font of the site":                      {"sign-sea sign-hut", `<b class="sign  sign-sea"></b>`, `<b class="sign sign-hut"></b>`, `<b class="sign  sign-hut"></b>`},
		"a sheet of drawings":                     {"", `<svg class="x" width="20"><use href="/i.svg#sea"/></svg>`, `<svg><use xlink:href="/i.svg#hut"></use></svg>`, `<svg class="x" width="20"><use href="/i.svg#hut"/></svg>`},
		"a drawing": {
			"", `<svg class="big" width="30" height='30' viewBox="0 0 9 9" fill="none"><path d="M0 0h9"/></svg>`,
			`<svg width="16" viewBox="0 0 24 24" stroke="currentColor" aria-label="Hut"><circle r="3"/></svg>`,
			`<svg class="big" width="30" height='30' viewBox="0 0 24 24" stroke="currentColor"><circle r="3"/></svg>`,
		},
		"a drawing that is called by its class": {
			"", `<svg class="sign sign-sea" viewBox="0 0 9 9" aria-hidden="true"><path d="M0 0h9"/></svg>`, `<svg viewBox="0 0 8 8" class="mark sign-hut"><path d="M1 0h9"/></svg>`,
			`<svg class="sign sign-hut" viewBox="0 0 8 8" aria-hidden="true"><path d="M1 0h9"/></svg>`,
		},
	} {
		drawn := map[string]bool{}
		for _, class := range strings.Fields(c.drawn) {
			drawn[class] = true
		}
		p, err := page.Parse([]byte("<p>"+c.was+" Sea</p><p>"+c.other+" Hut</p>"), "")
		if err != nil {
			t.Fatal(err)
		}
		all := p.Icons(p.Doc.Root, drawn)
		if len(all) != 2 || all[0].Markup != c.was || all[0].By != all[1].By || all[0].Family() != all[1].Family() || all[0].Key() == all[1].Key() {
			t.Errorf("%s: %+v", name, all)
			continue
		}
		if got := all[0].As(p.Doc, all[1]); got != c.want {
			t.Errorf("%s: %s\nwant %s", name, got, c.want)
		}
	}
}

// What runs, is named, comes from elsewhere or says something is no icon that could be put in another place.
func TestWhatIsNoIcon(t *testing.T) {
	for _, c := range []string{
		`<i>word</i>`, `<i class="lead"></i>`, `<span class="fa-lg"></span>`, `<svg></svg>`, `<svg><script>x()</script><path d="M0 0"/></svg>`, `<svg><path onclick="x()" d="M0 0"/></svg>`,
		`<svg><path fill="url(#a)" d="M0 0"/></svg>`, `<svg><text>Sale</text></svg>`, `<svg><path d="` + strings.Repeat("M0,0", 2000) + `"/></svg>`, `<svg><image href="https://elsewhere.example/a.png"/></svg>`,
	} {
		p, err := page.Parse([]byte("<p>"+c+"</p>"), "")
		if err != nil {
			t.Fatal(err)
		}
		if all := p.Icons(p.Doc.Root, nil); len(all) != 0 {
			t.Errorf("%s: %+v", c, all)
		}
	}
	if got := page.Symbols([]byte(`<svg><symbol viewBox="0 0 9 9" id="sea"></symbol><symbol id='hut'/></svg>`)); strings.Join(got, " ") != "sea hut" {
		t.Error(got)
	}
}

func FuzzIcons(f *testing.F) {
	f.Add(`<p><i class="fa fa-x"></i><svg a='"' viewBox="0 0 9 9"><path d="M0"/></svg><svg><use href="#b"/></svg></p>`)
	f.Fuzz(func(t *testing.T, s string) {
		p, err := page.Parse([]byte(s), "")
		if err != nil || p.Doc.Format != source.HTML {
			return
		}
		all := p.Icons(p.Doc.Root, nil)
		for _, a := range all {
			for _, b := range all {
				if a.By == b.By {
					a.As(p.Doc, b)
				}
			}
		}
	})
}
