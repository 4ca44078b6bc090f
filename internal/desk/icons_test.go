package desk

import (
	"context"
	"strings"
	"testing"

	"mendry/api"
	"mendry/internal/core/act"
	"mendry/internal/store"
)

// An icon is changed for another that the site uses, on this page or another; the sheet draws them with the site's own
// style sheets, and shows nothing of another site.
func TestAnIconIsChangedForAnotherOfTheSite(t *testing.T) {
	t.Parallel()
	ctx := context.Background()
	w := newWorld(t, true, "a")
	w.write("signs.css", ".sign-sea::before{content:'~'}.sign-hut:before{content:'^'}.sign-fog::before{content:'='}.other-x::before{content:'x'}.sign{font-size:2em}")
	icons := `<!doctype html>
<html lang="en"><head><title>Signs</title><link rel="stylesheet" href="/signs.css"></head>
<body><h1>Signs</h1><p><i class="sign sign-sea"></i> To the sea</p><p><svg class="s" viewBox="0 0 9 9"><path d="M0 0h9"/></svg> Out</p></body></html>`
	w.write("signs.html", icons)
	w.write("more.html", `<html><head><title>More</title></head><body><h1>More</h1><p><svg class="t" viewBox="0 0 24 24"><circle r="3"/></svg> In</p></body></html>`)
	w.takeIn()
	n := w.request("x")
	page := w.pages["/signs.html"]
	_, sea := w.part(n, "/signs.html", "words", "To the sea")
	if sea.Iconic == nil {
		t.Error("no icon is seen")
	}
	v, err := w.d.Icons(ctx, n, page, sea.ID, 0)
	w.must(err)
	var got []string
	for _, c := range v.Choices {
		got = append(got, c.Name)
	}
	if strings.Join(got, " ") != "sea fog hut" || len(v.In) != 1 || v.In[0].Key != v.Choices[0].Key {
		t.Errorf("%+v", v)
	}
	view := store.Preview{SiteID: w.site.ID, RequestID: &n, View: "draft"}
	sheet, err := w.d.IconSheet(ctx, view, page, sea.ID, 0)
	w.must(err)
	for _, want := range []string{`<base href="/signs.html">`, `<link rel="stylesheet" href="/signs.css">`, `<div><i class="sign sign-hut"></i></div>`} {
		if !strings.Contains(string(sheet.Bytes), want) {
			t.Errorf("the sheet has no %s:\n%s", want, sheet.Bytes)
		}
	}
	for _, other := range []store.Preview{{SiteID: w.site.ID + 1, RequestID: &n, View: "draft"}, {SiteID: w.site.ID, View: "draft"}, {SiteID: w.site.ID, RequestID: &n, View: "live"}} {
		if _, err := w.d.IconSheet(ctx, other, page, sea.ID, 0); err == nil {
			t.Errorf("%+v shows icons", other)
		}
	}
	w.make(n, "/signs.html", &act.Icon{Part: sea.ID, Choice: "font sign-fog"})
	_, sea = w.part(n, "/signs.html", "words", "To the sea")
	b := w.make(n, "/signs.html", &act.Icon{Part: sea.ID, Choice: "font sign-hut"})
	if len(b.Changes) != 1 || !strings.HasSuffix(b.Changes[0].Say, ": hut instead of sea") {
		t.Errorf("%+v", b.Changes)
	}
	_, out := w.part(n, "/signs.html", "words", "Out")
	v, err = w.d.Icons(ctx, n, page, out.ID, 0)
	w.must(err)
	if len(v.Choices) != 2 {
		t.Fatalf("%+v", v)
	}
	for _, no := range []act.Icon{{Part: out.ID, Choice: "font sign-sea"}, {Part: out.ID, At: 1, Choice: v.Choices[1].Key}, {Part: sea.ID, Choice: "font other-x"}} {
		if _, err := w.act(n, "/signs.html", func(api.Bench) act.Act { return &no }); err == nil {
			t.Errorf("%+v was done", no)
		}
	}
	w.make(n, "/signs.html", &act.Icon{Part: out.ID, Choice: v.Choices[1].Key})
	want := strings.NewReplacer("sign sign-sea", "sign sign-hut", `viewBox="0 0 9 9"><path d="M0 0h9"/>`, `viewBox="0 0 24 24"><circle r="3"/>`).Replace(icons)
	if got := w.drafted(n, "/signs.html"); got != want {
		t.Errorf("the draft is\n%s\nnot\n%s", got, want)
	}
	rel := w.goLive(n)
	if got := w.read("signs.html"); got != want {
		t.Errorf("live is\n%s", got)
	}
	w.takeBack(rel, "signs.html", icons)
}
