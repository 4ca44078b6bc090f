package act_test

import (
	"bytes"
	"testing"

	"golang.org/x/net/html"

	"mendry/internal/core/act"
	"mendry/internal/core/page"
	"mendry/internal/core/thread"
	"mendry/internal/foreign"
	"mendry/internal/tries"
)

// One page in its quotes and the same one without them are the same to a browser: what an act makes of them is, too.
// One of 61 acts on pages that nobody here wrote is tried in every run; trees are those of
// golang.org/x/net/html.
func TestAPageWithoutQuotesBecomesWhatItBecomesWithThem(t *testing.T) {
	t.Parallel()
	names, files := foreign.Templates(t)
	tried, refused, n := 0, 0, 0
	for _, name := range names {
		in, with := template(t, files[name])
		p, err := page.Parse(foreign.Bare(in.Doc.Bytes), "")
		if err != nil {
			t.Fatal(err)
		}
		without, err := thread.Of(p, nil, nil)
		if err != nil {
			t.Fatal(err)
		}
		quoted, bare := append(layoutActs(name, in), otherActs(in)...), append(layoutActs(name, p), otherActs(p)...)
		if len(quoted) != len(bare) {
			t.Errorf("%s: %d acts in quotes, %d without", name, len(quoted), len(bare))
			continue
		}
		for i, a := range quoted {
			if n++; !tries.Some(n, 61) {
				continue
			}
			tried++
			one, errOne := act.Do(with, a.act, studio{})
			two, errTwo := act.Do(without, bare[i].act, studio{})
			switch {
			case (errOne == nil) != (errTwo == nil):
				t.Errorf("%s: %s %s: in quotes %v, without %v", name, a.do, a.part.Name, errOne, errTwo)
			case errOne != nil:
				refused++
			default:
				if got, want := tree(t, two.Draft), tree(t, one.Draft); got != want {
					t.Errorf("%s: %s %s: without quotes it becomes\n%s", name, a.do, a.part.Name, apart(got, want))
				}
			}
		}
	}
	t.Logf("%d acts, %d refused", tried, refused)
}

// otherActs are acts that write attributes, or markup beside some, on the parts of a page.
func otherActs(p *page.Page) (all []laidOut) {
	for _, part := range p.All {
		add := func(do string, a act.Act) { all = append(all, laidOut{do: do, act: a, part: part}) }
		switch part.Kind {
		case page.Section:
			add("hide", &act.Hide{Part: part.ID})
			add("widths", &act.Columns{Part: part.ID, Wide: []int{2, 1}})
			add("column", &act.AddColumn{Part: part.ID})
			for _, kind := range []page.Sample{page.SampleBeside, page.SampleThree, page.SampleQuestions, page.SampleVoices, page.SampleCall, page.SamplePosts} {
				add("starter "+string(kind), &act.Starter{Part: part.ID, Kind: kind})
			}
		case page.Heading, page.Button:
			add("words", &act.Words{Part: part.ID, Words: `A "new" & 'old' <b> one`})
		case page.Link:
			add("address", &act.Attribute{Part: part.ID, Name: "href", Words: `o'neil.html?a=1&b="2"`})
			add("title", &act.Attribute{Part: part.ID, Name: "title", Words: `it's "new"`})
		case page.Picture:
			add("alternative text", &act.Attribute{Part: part.ID, Name: "alt", Words: `it's "new"`})
			add("no alternative text", &act.Attribute{Part: part.ID, Name: "alt", Words: ""})
			add("caption", &act.Caption{Part: part.ID, Words: `it's "new" & <b>`})
			add("link", &act.LinkPicture{Part: part.ID, Href: "o'neil.html?a=1&b=2"})
			add("side", &act.LayPicture{Part: part.ID, Side: "left", Percent: 60})
		}
	}
	for _, fact := range []string{"title", "description", "image", "canonical", "address", "lang"} {
		all = append(all, laidOut{do: fact, act: &act.Fact{Name: fact, Words: "https://a.example/it's?a=1&b=2"}, part: &page.Part{}})
	}
	return all
}

// tree is a draft's page as a browser's tree, written out.
func tree(t *testing.T, d *thread.Draft) string {
	t.Helper()
	root, err := html.Parse(bytes.NewReader(d.Page().Doc.Bytes))
	if err != nil {
		t.Fatal(err)
	}
	var b bytes.Buffer
	if err := html.Render(&b, root); err != nil {
		t.Fatal(err)
	}
	return b.String()
}

// apart is where two texts begin to differ.
func apart(got, want string) string {
	i := 0
	for i < len(got) && i < len(want) && got[i] == want[i] {
		i++
	}
	cut := func(s string) string { return s[max(0, i-80):min(len(s), i+160)] }
	return cut(got) + "\nwhere with them it is\n" + cut(want)
}
