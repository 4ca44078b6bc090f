package desk

import (
	"strings"
	"testing"
)

// Of words that others left as they were, only what is said tells what became of them: runs of the same words would not.
func TestWhatOthersDidToWordsThatStayedIsSaid(t *testing.T) {
	t.Parallel()
	const old = `<!doctype html><title>A</title><main><h1>A</h1><p>Open daily.</p><p><a href="/a">Fares</a></p></main>`
	for now, want := range map[string]string{
		`<p><a href="/b">Fares</a></p>`: "Fares: leads to /b instead of /a",
		`<h2>Open daily.</h2>`:          "“Opening words” becomes a heading of level 2",
	} {
		from := map[bool]string{true: `<p><a href="/a">Fares</a></p>`, false: `<p>Open daily.</p>`}[now[1] == 'p']
		ds := differences("a.html", []byte(old), "text/html", []byte(strings.Replace(old, from, now, 1)), "text/html")
		if len(ds) != 1 || ds[0].Say != want || len(ds[0].Words) != 0 {
			t.Errorf("%s: %+v", now, ds)
		}
	}
	ds := differences("a.html", []byte(old), "text/html", []byte(strings.Replace(old, "daily", "weekly", 1)), "text/html")
	if len(ds) != 1 || len(ds[0].Words) < 2 {
		t.Errorf("other words: %+v", ds)
	}
}
