package act_test

import (
	"strings"
	"testing"

	"mendry/internal/core/act"
	"mendry/internal/core/page"
	"mendry/internal/core/refusal"
	"mendry/internal/core/thread"
)

const plainMenu = `<body><ul id="menu">
<li><a href="/visit/">Visit</a>
<ul><li><a href="/prices">Prices</a></li><li><a href="/way">Way</a></li></ul></li>
<li><a href="/news">News</a></li>
<li><a href="/contact">Contact</a></li>
</ul><h1>Home</h1></body>`

const classMenu = `<body><nav><ul class="nav">
<li class="entry more"><a class="top" href="/visit/">Visit</a>
<ul class="sub"><li class="small"><a class="low" href="/prices">Prices</a></li><li class="small"><a class="low" href="/way">Way</a></li></ul></li>
<li class="entry active"><a class="top" href="/news" aria-current="page">News</a></li>
<li class="entry"><a class="top" href="/contact">Contact</a></li>
</ul></nav><h1>Home</h1></body>`

// What comes out is written by hand, as whoever made these menus would.
func TestAnEntryOfAMenuStandsBelowAnother(t *testing.T) {
	t.Parallel()
	for name, c := range map[string]struct {
		page, part, entry string
		want              [][2]string // what is replaced by what, in order
		why               string
	}{
		"behind the last one below": {plainMenu, "Contact", "Visit", [][2]string{
			{"\n<li><a href=\"/contact\">Contact</a></li>", ""},
			{"Way</a></li></ul>", "Way</a></li><li><a href=\"/contact\">Contact</a></li></ul>"},
		}, ""},
		"the first one below": {plainMenu, "Contact", "News", [][2]string{
			{"\n<li><a href=\"/contact\">Contact</a></li>", ""},
			{"News</a></li>", "News</a><ul><li><a href=\"/contact\">Contact</a></li></ul></li>"},
		}, ""},
		"out to the first level": {plainMenu, "Prices", "", [][2]string{
			{"<li><a href=\"/prices\">Prices</a></li>", ""},
			{"</ul></li>\n", "</ul></li>\n<li><a href=\"/prices\">Prices</a></li>\n"},
		}, ""},
		"with the classes of that level, and its state": {classMenu, "News", "Visit", [][2]string{
			{"\n<li class=\"entry active\"><a class=\"top\" href=\"/news\" aria-current=\"page\">News</a></li>", ""},
			{"Way</a></li>", "Way</a></li><li class=\"small active\"><a class=\"low\" href=\"/news\" aria-current=\"page\">News</a></li>"},
		}, ""},
		"below one that becomes like the others that have some": {classMenu, "Contact", "News", [][2]string{
			{"\n<li class=\"entry\"><a class=\"top\" href=\"/contact\">Contact</a></li>", ""},
			{"News</a></li>", "News</a><ul class=\"sub\"><li class=\"small\"><a class=\"low\" href=\"/contact\">Contact</a></li></ul></li>"},
			{"entry active", "entry active more"},
		}, ""},
		"one that has some below it": {plainMenu, "Visit", "News", nil, "has entries of its own"},
		"below itself":               {plainMenu, "News", "News", nil, "cannot stand there"},
		"where it is":                {plainMenu, "Prices", "Visit", nil, "cannot stand there"},
		"below one that a script opens": {
			strings.Replace(plainMenu, `<a href="/visit/">`, `<a href="/visit/" data-toggle="x">`, 1), "Contact", "News", nil, "written otherwise",
		},
		"in a menu of one level": {`<body><ul><li><a href="/a">One</a></li><li><a href="/b">Two</a></li><li><a href="/c">Three</a></li></ul></body>`, "One", "Two", nil, "no entry of a menu"},
	} {
		p, err := page.Parse([]byte(c.page), "")
		if err != nil {
			t.Fatal(err)
		}
		d, err := thread.Of(p, nil, nil)
		if err != nil {
			t.Fatal(err)
		}
		entry := func(words string) string {
			for _, part := range p.All {
				if part.Node.Is("li") && strings.HasPrefix(part.Text, words) && words != "" {
					return part.ID
				}
			}
			return ""
		}
		done, err := act.Do(d, &act.Under{Part: entry(c.part), Entry: entry(c.entry)}, nil)
		if c.why != "" {
			if !refusal.Is(err, refusal.Rule) || !strings.Contains(err.Error(), c.why) {
				t.Errorf("%s: %v, want %q", name, err, c.why)
			}
			continue
		}
		if err != nil {
			t.Errorf("%s: %v", name, err)
			continue
		}
		want := c.page
		for _, r := range c.want {
			want = strings.Replace(want, r[0], r[1], 1)
		}
		if got := string(done.Draft.Page().Doc.Bytes); got != want {
			t.Errorf("%s:\n%s\nwant\n%s", name, got, want)
		}
		back, err := done.Draft.Without(done.Effects[0].Change.ID)
		if err != nil || string(back.Page().Doc.Bytes) != c.page {
			t.Errorf("%s: not undone: %v", name, err)
		}
	}
}
