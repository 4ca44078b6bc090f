package check

import (
	"slices"
	"strings"
	"testing"

	"mendry/internal/core/change"
	"mendry/internal/core/page"
)

// changed is what is said of the sets of a page after one change of it, by rule; what is fine is left out.
func changed(t *testing.T, html string, change func(*page.Page) []change.Op) []string {
	t.Helper()
	live := draftOf(t, html)
	p := live.Page()
	dr := and(t, live, change(p))
	var got []string
	for _, f := range Run(&Subject{Before: p, After: dr.Page(), Changed: TouchedBy(dr), Edits: EditsOf(dr), Address: "/a.html", Public: "https://a.example"}) {
		if slices.Contains([]string{"set-slides", "item-complete", "item-once"}, f.Rule) && f.Level != Fine {
			got = append(got, string(f.Level)+" "+f.Rule)
		}
	}
	return got
}

// What an act makes of a set is looked at as what stands there is, whatever of it was changed: common practice, no
// source.
func TestWhatAChangeMakesOfASetIsLookedAt(t *testing.T) {
	t.Parallel()
	item := func(name string) string {
		return `<div class="voice"><img src="/` + name + `.jpg" alt="` + name + `"><h3>` + name + `</h3><p>` + name + ` says <a href="/` + name + `.html">more</a>.</p></div>`
	}
	named := func(name string) string { return `<div class="voice"><h3>` + name + `</h3><p>Very good.</p></div>` }
	set := func(attributes string, items ...string) string {
		return `<!doctype html><html lang="en"><head><title>A</title></head><body><main><h1>A</h1><div class="voices"` + attributes + `>` + strings.Join(items, "\n") + `</div></main></body></html>`
	}
	three := []string{item("Ada"), item("Ben"), item("Cy")}
	nth := func(p *page.Page, kind page.Kind, n int) string {
		for _, part := range p.OfKind(kind) {
			if n--; n < 0 {
				return part.ID
			}
		}
		t.Fatalf("no %s", kind)
		return ""
	}
	remove := func(kind page.Kind, n int) func(*page.Page) []change.Op {
		return func(p *page.Page) []change.Op { return []change.Op{{Op: change.Remove, Part: nth(p, kind, n)}} }
	}
	for _, tt := range []struct {
		name, page string
		change     func(*page.Page) []change.Op
		want       string
	}{
		{"one of four taken out, three are shown", set(` data-show="3"`, append(three, item("Di"))...), remove(page.Item, 3), "stop set-slides"},
		{"one of five taken out", set(` data-show="3"`, append(three, item("Di"), item("Ed"))...), remove(page.Item, 3), ""},
		{"a copy", set("", three...), func(p *page.Page) []change.Op {
			return []change.Op{{Op: change.Copy, Part: nth(p, page.Item, 1), Anchor: nth(p, page.Item, 1), Where: change.After}}
		}, "look item-once"},
		{"a copy of which one word is another", set("", three...), func(p *page.Page) []change.Op {
			return []change.Op{{Op: change.Insert, Anchor: nth(p, page.Item, 1), Where: change.After, HTML: strings.Replace(item("Ben"), "says", "said", 1)}}
		}, ""},
		{"its picture taken out", set("", three...), remove(page.Picture, 1), "look item-complete"},
		{"its heading taken out", set("", three...), remove(page.Heading, 2), "look item-complete"},
		{"its link taken out", set("", three...), func(p *page.Page) []change.Op {
			return []change.Op{{Op: change.SetWords, Part: nth(p, page.Words, 1), HTML: "Ben says more."}}
		}, "look item-complete"},
		{"one put in without a picture", set("", three...), func(p *page.Page) []change.Op {
			return []change.Op{{Op: change.Insert, Anchor: nth(p, page.Item, 2), Where: change.After, HTML: `<div class="voice"><h3>Di</h3><p>Di says <a href="/d.html">more</a>.</p></div>`}}
		}, "look item-complete"},
		{"the name of one is made that of another", set("", named("Ada"), named("Ben"), named("Cy")), func(p *page.Page) []change.Op {
			return []change.Op{{Op: change.SetWords, Part: nth(p, page.Heading, 3), HTML: "Ben"}}
		}, "look item-once"},
		{"more are shown than there are", set(` data-show="2"`, three...), func(p *page.Page) []change.Op {
			value, id := "4", ""
			for _, s := range p.OfKind(page.Set)[0].Settings {
				id = s.Part
			}
			return []change.Op{{Op: change.SetAttribute, Part: id, Name: "data-show", Value: &value}}
		}, "stop set-slides"},
		{"words elsewhere", `<p>Old</p>` + set(` data-show="3"`, three...), func(p *page.Page) []change.Op {
			return []change.Op{{Op: change.SetWords, Part: nth(p, page.Words, 0), HTML: "New"}}
		}, ""},
	} {
		t.Run(tt.name, func(t *testing.T) {
			if got := strings.Join(changed(t, tt.page, tt.change), "|"); got != tt.want {
				t.Errorf("%q, not %q", got, tt.want)
			}
		})
	}
}
