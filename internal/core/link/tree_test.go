package link

import (
	"fmt"
	"strings"
	"testing"
)

func TestPagesLieUnderThoseThatTheirAddressesLieUnder(t *testing.T) {
	t.Parallel()
	addresses := []string{"/news/2025-fares.html", "/zoo.html", "/", "/islands/heron.html", "/islands/", "/fares.html", "/islands/heron/walks.html", "/alone/deep/page.html", "/about.html"}
	var got []string
	for _, b := range Tree(addresses, []string{"/islands/index.html", "/fares.html", "/fares.html"}) {
		got = append(got, fmt.Sprintf("%s%s", strings.Repeat("  ", b.Depth), addresses[b.At]))
		if (b.Depth == 0) != (b.Parent == "") {
			t.Errorf("%+v", b)
		}
	}
	want := `/
/islands/
  /islands/heron.html
    /islands/heron/walks.html
/fares.html
/about.html
/alone/deep/page.html
/news/2025-fares.html
/zoo.html`
	if strings.Join(got, "\n") != want {
		t.Errorf("got\n%s", strings.Join(got, "\n"))
	}
	if len(Tree(nil, nil)) != 0 {
		t.Error("a tree of nothing")
	}
}
