package thread_test

import (
	"strings"
	"testing"

	"mendry/internal/core/change"
	"mendry/internal/core/page"
	"mendry/internal/core/thread"
)

// What is written for another page is the same markup by hand: the addresses by RFC 3986, 5.2, the marks as that page
// has them.
func TestAStepOnASharedPartIsMadeOnAnotherPage(t *testing.T) {
	t.Parallel()
	const (
		here  = `<body><nav><ul><li><a class="on" href="index.html">Home</a></li><li><a href="tickets/day.html">Tickets</a></li><li><a href="crew.html">Crew</a></li></ul></nav><main><p>Home words.</p></main><footer><p>Call <a href="tel:1">01632 960142</a> or <a class="on" href="index.html">begin</a></p><p>Old Ropeworks</p></footer></body>`
		there = "<body>\r\n<nav>\r\n <ul>\r\n  <li><a href='../index.html'>Home</a></li><li class=sel><a class=on href=day.html>Tickets</a></li><li><a href=\"../crew.html\">Crew</a></li></ul></nav><main><p>Ticket words.</p></main><footer><p>Call <a href=\"tel:1\">01632 960142</a> or <a href=\"../index.html\">begin</a></p><p>Old Ropeworks</p></footer></body>"
		other = `<body><nav><ul><li><a href="/index.html">Home</a></li></ul></nav><main><p>Words.</p></main><footer><p>Parking behind the house</p><p>Call <a href="tel:1">01632 960142</a> or <a href="/index.html">begin</a></p></footer></body>`
	)
	value := func(s string) *string { return &s }
	for name, c := range map[string]struct {
		in    string // the tag of the shared part
		op    func(p *page.Page) change.Op
		on    string
		gone  string // what is in its place no more
		want  string // in its place; "" where it is refused
		why   string
		where string
	}{
		"words with a link that is marked here": {
			"footer", func(p *page.Page) change.Op {
				return change.Op{Op: change.SetWords, Part: called(t, p, "Call"), HTML: `Ring <a href="tel:1">01632 960143</a> or <a class="on" href="index.html">begin</a>`}
			}, there, `Call <a href="tel:1">01632 960142</a> or <a href="../index.html">begin</a>`, `Ring <a href="tel:1">01632 960143</a> or <a href="../index.html">begin</a>`, "", "/tickets/day.html",
		},
		"a link that leads elsewhere": {
			"nav", func(p *page.Page) change.Op {
				return change.Op{Op: change.SetAttribute, Part: called(t, p, "Crew"), Name: "href", Value: value("tickets/crew.html#all")}
			}, there, `"../crew.html"`, `"crew.html#all"`, "", "/tickets/day.html",
		},
		"an entry that is put in": {
			"nav", func(p *page.Page) change.Op {
				return change.Op{Op: change.Insert, Anchor: item(t, p, "Tickets"), Where: change.After, HTML: `<li><a href="cafe.html"><img srcset="a.png 2x" style="background:url(b.png)">Café</a></li>`}
			}, there, `Tickets</a></li>`, `Tickets</a></li><li><a href="../cafe.html"><img srcset="../a.png 2x" style="background:url(../b.png)">Café</a></li>`, "", "/tickets/day.html",
		},
		"an entry that moves, and stays marked there": {
			"nav", func(p *page.Page) change.Op {
				return change.Op{Op: change.Move, Part: item(t, p, "Tickets"), Anchor: item(t, p, "Crew"), Where: change.After}
			}, there, `<li class=sel><a class=on href=day.html>Tickets</a></li><li><a href="../crew.html">Crew</a></li>`, `<li><a href="../crew.html">Crew</a></li><li class=sel><a class=on href=day.html>Tickets</a></li>`, "", "/tickets/day.html",
		},
		"the same words where the rest differs": {
			"footer", func(p *page.Page) change.Op {
				return change.Op{Op: change.SetWords, Part: called(t, p, "01632"), HTML: "01632 960143"}
			}, other, "01632 960142", "01632 960143", "", "/a/b.html",
		},
		"words that do not stand there": {
			"footer", func(p *page.Page) change.Op {
				return change.Op{Op: change.SetWords, Part: called(t, p, "Old Ropeworks"), HTML: "New Ropeworks"}
			}, other, "", "", "does not stand there", "/a/b.html",
		},
		"an entry beside one that is not there": {
			"nav", func(p *page.Page) change.Op {
				return change.Op{Op: change.Remove, Part: item(t, p, "Crew")}
			}, other, "", "", "does not stand there", "/a/b.html",
		},
	} {
		p, q := parse(t, here), parse(t, c.on)
		alone, err := thread.Alone(p, []change.Op{c.op(p)})
		if err != nil {
			t.Fatalf("%s: %v", name, err)
		}
		d, err := thread.Of(q, nil, nil)
		if err != nil {
			t.Fatal(err)
		}
		from := change.Shared{At: change.At{Page: p, Address: "/index.html"}, Part: tagged(t, p, c.in)}
		to := change.Shared{At: change.At{Page: q, Address: c.where}, Part: tagged(t, q, c.in)}
		step, err := alone.Spread(0, from, d, to)
		if c.why != "" {
			if err == nil || !strings.Contains(err.Error(), c.why) {
				t.Errorf("%s: %v, want %q", name, err, c.why)
			}
			continue
		}
		if err != nil {
			t.Errorf("%s: %v", name, err)
			continue
		}
		r, err := step.Apply(q)
		if err != nil {
			t.Errorf("%s: %v", name, err)
			continue
		}
		if want := strings.Replace(c.on, c.gone, c.want, 1); string(r.Bytes) != want {
			t.Errorf("%s:\n%s\nwant\n%s", name, r.Bytes, want)
		}
	}
}

// called is the innermost part whose words begin so.
func called(t *testing.T, p *page.Page, words string) (id string) {
	t.Helper()
	for _, part := range p.All {
		if part.Kind.HasWords() && strings.HasPrefix(part.Text, words) {
			id = part.ID
		}
	}
	if id == "" {
		t.Fatalf("no part says %q", words)
	}
	return id
}

// item is the entry of a list with these words.
func item(t *testing.T, p *page.Page, words string) string {
	t.Helper()
	for _, part := range p.All {
		if part.Text == words && part.Node.Is("li") {
			return part.ID
		}
	}
	t.Fatalf("no entry says %q", words)
	return ""
}

func tagged(t *testing.T, p *page.Page, tag string) *page.Part {
	t.Helper()
	for _, part := range p.All {
		if part.Node.Is(tag) {
			return part
		}
	}
	t.Fatalf("no part is a %s", tag)
	return nil
}
