package check

import (
	"strings"
	"testing"
	"time"

	"mendry/internal/core/page"
)

// Faults that must be told, and words that must be left alone. Pictures: WCAG 2.2, failures F30 and F65. Links,
// headings, identifiers: WCAG 2.2, 2.4.4, F84, F89, H91, and HTML 3.2.6. tel: and mailto: RFC 3966 and RFC 6068; the
// phone numbers are of the ranges that Ofcom sets aside for fiction. Time: HTML 4.5.14. Wrong encodings: made by
// reading the bytes of UTF-8 as windows-1252, once and twice, by hand. Blanks before stops: the rules of English and
// French typesetting, common practice; everything else is common practice, no source.
func TestFaultsAndFalseAlarms(t *testing.T) {
	t.Parallel()
	for _, c := range []ruled{
		{"date-exists", "en-GB", "<p>Until 31/04/2027.</p>", "stop 31/04/2027"},
		{"date-exists", "de", "<p>Bis zum 31. Juni.</p>", "stop 31. Juni"},
		{"date-exists", "fr", "<p>Jusqu’au 31 novembre.</p>", "stop 31 novembre"},
		{"date-exists", "en", "<p>Tuesday 30 November, at eight</p>", "look Tuesday 30 November"},
		{"date-exists", "en", "<p>Monday 30 November, at eight</p>", "fine "},
		{"date-exists", "en", "<p>On <time datetime=2026-11-31>the last day</time></p>", "stop 2026-11-31"},
		{"date-exists", "en", "<p>On <time datetime=2026-12-05>4 December</time></p>", "stop 4 December"},
		{"date-exists", "en", "<p>On <time datetime=2026-12-04>4 December</time></p>", "fine "},
		{"date-exists", "en", "<p>At <time datetime=19:30>half past seven</time></p>", ""},
		{"date-exists", "en", "<p>On <time datetime=2026-12-04b>4 December</time></p>", "fine "},
		{"date-exists", "en", "<p>On <time datetime=2026-12-041>4 December</time></p>", "fine "},
		{"date-exists", "en", "<p>Every <time datetime=2027-W05>fifth week</time></p>", ""},
		{"date-exists", "en", "<p>We may 31 times</p>", ""},
		{"date-past", "en", "<p>The pool is closed until the end of October 2026.</p>", "look the end of October 2026"},
		{"date-past", "en", "<p>Opened on 3 May 2019.</p>", ""},
		{"date-past", "en", "<p>Half term, 20–30 November</p>", ""},
		{"link-target", "", `<p>See <a href="">fares</a> now</p>`, "stop fares"},
		{"link-target", "", `<p>See <a href="#">fares</a> now</p>`, "stop fares"},
		{"link-target", "", `<p>See <a href=" # ">fares</a> now</p>`, "stop fares"},
		{"link-target", "", `<p><a href="#">Back to top</a> now</p>`, ""},
		{"link-target", "", `<p><a href="#" onclick="x()">Open the map</a> now</p>`, ""},
		{"link-target", "", `<p><a href="#" role=button>Menu</a> now</p>`, ""},
		{"link-target", "", `<p><a href="#" data-toggle=x>Menu</a> now</p>`, ""},
		{"link-target", "", `<p><a name=x>A place</a> now</p>`, ""},
		{"link-target", "", `<p>Write to <a href="mailto:desk">us</a></p>`, "stop us"},
		{"link-target", "", `<p>Write to <a href="mailto:">us</a></p>`, "stop us"},
		{"link-target", "", `<p>Write to <a href="mailto:desk@ferry.example">us</a></p>`, ""},
		{"link-target", "", `<p>Write to <a href="mailto:desk%40ferry.example?subject=Hello">us</a></p>`, ""},
		{"link-target", "", `<p>Call <a href="tel:">us</a></p>`, "stop us"},
		{"link-answers", "", `<p>See <a href="https://gone.example/">the tides</a></p>`, ""}, // nothing changed here
		{"contacts-agree", "", `<p>Call <a href="tel:+441632960199">01632 960110</a></p>`, "stop 01632 960110"},
		{"contacts-agree", "", `<p>Call <a href="tel:+441632960110">01632 960110</a></p>`, "fine "},
		{"contacts-agree", "", `<p>Call <a href="tel:01632960110">+44 (0)1632 960-110</a></p>`, "fine "},
		{"contacts-agree", "", `<p>Call <a href="tel:+44-1632-960110;ext=12">01632 960110</a></p>`, "fine "},
		{"contacts-agree", "", `<p>Call <a href="tel:+441632960110">960110</a></p>`, "fine "},
		{"contacts-agree", "", `<p>Call <a href="tel:+441632960110">960111</a></p>`, "stop 960111"},
		{"contacts-agree", "", `<p>Call <a href="tel:+441632960110">the desk</a></p>`, "fine "},
		{"contacts-agree", "", `<p>Call <a href="tel:+441632960110">01632 960110 or 01632 960111</a></p>`, "fine "},
		{"contacts-agree", "", `<p>Write to <a href="mailto:desk@ferry.example">info@ferry.example</a></p>`, "stop info@ferry.example"},
		{"contacts-agree", "", `<p>Write to <a href="mailto:Desk@ferry.example?subject=x">desk@ferry.example</a></p>`, "fine "},
		{"contacts-agree", "", `<p>Write to <a href="mailto:desk@ferry.example">the desk</a></p>`, "fine "},
		{"picture-alternative", "", `<img src="quay.jpg" alt="image">`, "stop image"},
		{"picture-alternative", "", `<div style="background:url(quay.jpg)">Words</div>`, ""},
		{"picture-alternative", "", `<picture><source srcset="a.jpg"><img src="quay.jpg" alt="The quay"></picture>`, "fine "},
		{"picture-alternative", "", `<img src="quay.jpg" alt="Placeholder">`, "stop Placeholder"},
		{"picture-alternative", "", `<img src="a.jpg" alt="IMG_2034.JPG">`, "stop IMG_2034.JPG"},
		{"picture-alternative", "", `<img src="a.jpg" alt="DSC00412">`, "stop DSC00412"},
		{"picture-alternative", "", `<img src="a.jpg" alt="photo 3">`, "stop photo 3"},
		{"picture-alternative", "", `<img src="a.jpg" alt="Alt text">`, "stop Alt text"},
		{"picture-alternative", "", `<img src="a.jpg" alt="quay-final.png">`, "stop quay-final.png"},
		{"picture-alternative", "", `<img src="a.jpg" alt="A photo of the quay">`, "fine "},
		{"picture-alternative", "", `<img src="a.jpg" alt="Image stabiliser on its stand">`, "fine "},
		{"picture-alternative", "", `<img src="logo.png" alt="Larkspur Ferries">`, "fine "},
		{"fillers-gone", "", "<p>TODO</p>", "stop TODO"},
		{"fillers-gone", "", "<p>To do: ask Ann</p>", "stop To do:"},
		{"fillers-gone", "", "<p>Call [insert number]</p>", "stop [insert number]"},
		{"fillers-gone", "", "<p>Dear [Name], welcome</p>", "stop [Name]"},
		{"fillers-gone", "", "<p>&lt;add price&gt;</p>", "stop <add price>"},
		{"fillers-gone", "", "<p>Fares from £XXX</p>", "stop £XXX"},
		{"fillers-gone", "", "<p>The talk is on [...]</p>", "stop [...]"},
		{"fillers-gone", "", "<p>Fares from ???</p>", "stop ???"},
		{"fillers-gone", "", "<p>Your text here</p>", "stop Your text"},
		{"fillers-gone", "", "<p>There is much to do: boats, walks</p>", "stop to do:"}, // asks, since “to do:” is mostly a note
		{"fillers-gone", "", "<p>What to do in Heron</p>", ""},
		{"fillers-gone", "", "<p>“Come [sic] at eight”, they wrote [1]</p>", ""},
		{"fillers-gone", "", "<p>Really? Yes!</p>", ""},
		{"fillers-gone", "", "<p>Inserts and dates (add 10 minutes)</p>", "stop (add 10 minutes)"}, // asks
		{"signs-whole", "", "<p>CafÃƒÂ©</p>", "stop CafÃƒÂ©"},
		{"signs-whole", "", "<p>itâ€™s</p>", "stop itâ€™s"},
		{"signs-whole", "", "<p>It\ufffds late</p>", "stop It\ufffds late"},
		{"signs-whole", "", "<p>Ærøskøbing, Ñandú, café</p>", ""},
		{"signs-whole", "", "<p>20 °C, £5 – “so”</p>", ""},
		{"slips", "en", "<p>the ferry ferry sails</p>", "look ferry ferry"},
		{"slips", "en", "<p>The the ferry</p>", "look The the"},
		{"slips", "en", "<p>They had had enough of that that day</p>", ""},
		{"slips", "en", "<p>In Baden Baden</p>", ""},
		{"slips", "en", "<p>one, one more</p>", ""},
		{"slips", "en", "<p>It sails , then stops</p>", "look sails ,"},
		{"slips", "en", "<p>It stops .</p>", "look stops ."},
		{"slips", "en", "<p>Really ?</p>", "look Really ?"},
		{"slips", "fr", "<p>Vraiment&nbsp;? Oui !</p>", ""},
		{"slips", "fr", "<p>Oui , bien</p>", "look Oui ,"},
		{"slips", "en", "<p>and then ...</p>", ""},
		{"slips", "en", "<p>from .5 to 1</p>", ""},
		{"slips", "en", "<p>boats,, walks</p>", "look boats,,"},
		{"slips", "en", "<p>the end..</p>", "look end.."},
		{"slips", "en", "<p>and so on...</p>", ""},
		{"slips", "en", "<p>e.g., this, etc., that</p>", "look e.g.,"}, // asks
		{"slips", "", "<p>Bed &amp;amp; breakfast</p>", "stop &amp;"},
		{"slips", "", "<p>From&amp;nbsp;£5</p>", "stop &nbsp;"},
		{"slips", "", "<p>caf&amp;eacute;</p>", "stop &eacute;"},
		{"slips", "", "<p>Don&amp;#8217;t</p>", "stop &#8217;"},
		{"slips", "", "<p>Bed &amp; breakfast; R&amp;B</p>", ""},
		{"codes-closed", "", `<p>[tab title="A" one</p>`, `stop [tab title="A" o`},
		{"codes-closed", "", `<p>[/tab, and on</p>`, "stop [/tab,"},
		{"codes-closed", "", `<p>{{ price }</p>`, "stop {{ price }"},
		{"codes-closed", "", `<p>{ price }}</p>`, "stop { price }}"},
		{"codes-closed", "", `<p>{% if x }</p>`, "stop {% if x }"},
		{"codes-closed", "", `<p>[tab title="A"]one[/tab] and {{ price }}</p>`, ""},
		{"codes-closed", "", `<p>See [1], [sic] and {this}</p>`, ""},
		{"nothing-empty", "", `<h2></h2><p>x</p>`, "stop "},
		{"nothing-empty", "", `<h2 id=a><strong> </strong></h2><p>x</p>`, "stop a"},
		{"nothing-empty", "", `<h2><img src=a.png alt=A></h2>`, ""},
		{"nothing-empty", "", `<p>See <a href="/fares.html"></a> now</p>`, "stop /fares.html"},
		{"nothing-empty", "", `<p>See <a href="/fares.html" aria-label="Fares"></a> now</p>`, ""},
		{"nothing-empty", "", `<p>See <a href="/x"><i class=icon></i></a> now</p>`, ""},
		{"nothing-empty", "", `<p>See <a href="/x"><svg></svg></a> now</p>`, ""},
		{"nothing-empty", "", `<p>See <a id=here></a> now</p>`, ""},
		{"nothing-empty", "", `<p>x</p><button></button>`, "stop "},
		{"nothing-empty", "", `<p>x</p><p>&nbsp;</p>`, "look "},
		{"nothing-empty", "", `<p>x</p><p><br></p>`, "look "},
		{"nothing-empty", "", `<p>x</p><p class=spinner></p>`, ""},
		{"nothing-empty", "", `<ul><li>a</li><li></li></ul>`, "look "},
		{"nothing-empty", "", `<p>x</p><figure></figure>`, "look "},
		{"nothing-empty", "", `<p>x <img src="" alt="A boat"></p>`, "stop A boat"},
		{"nothing-empty", "", `<p>x <img data-src="a.png" alt="A boat"></p>`, ""},
		{"headings-in-order", "", `<h2>A</h2><p>x</p>`, "look "},
		{"headings-in-order", "", `<h1>A</h1><h2>B</h2><h3>C</h3><h2>D</h2>`, ""},
		{"headings-in-order", "", `<p>no heading at all</p>`, ""},
		{"names-once", "", `<p id=a>x</p><p id=a>y</p>`, "look a"},
		{"names-once", "", `<p id=a>x</p><p id=A>y</p>`, ""}, // upper and lower case differ in an identifier
		{"link-words", "", `<p>Click <a href="/">click here</a></p>`, "look click here"},
		{"link-words", "", `<p>See <a href="/">Read more…</a></p>`, "look Read more…"},
		{"link-words", "", `<p>See <a href="/">more about fares</a></p>`, ""},
	} {
		c.holds(t)
	}
}

// ruled is markup of a page in a language, and what a rule is to say of it first: its level and the words that it means.
type ruled struct{ rule, lang, html, want string }

func (c ruled) holds(t *testing.T) {
	t.Helper()
	p, err := page.Parse([]byte("<!doctype html><html lang=\""+c.lang+"\"><head><title>t</title></head><body>"+c.html+"</body></html>"), "text/html; charset=utf-8")
	if err != nil {
		t.Fatal(err)
	}
	got := ""
	for _, f := range Run(&Subject{
		After: p, Address: "/fares.html", Public: "http://ferry.example", Site: site{"/": "", "/fares.html": ""},
		On: time.Date(2026, 11, 24, 9, 0, 0, 0, time.UTC),
	}) {
		if f.Rule == c.rule && (got == "" || got == "fine ") {
			got = string(f.Level) + " " + f.Words
		}
	}
	if got != c.want {
		t.Errorf("%s (%s) on %s: %q, want %q", c.rule, c.lang, c.html, got, c.want)
	}
}

func TestPageFacts(t *testing.T) {
	t.Parallel()
	const about = "Winter and summer fares of the Larkspur ferries, for adults, children, bicycles and dogs."
	head := func(title, description string) string {
		return "<title>" + title + `</title><meta name=description content="` + description + `">`
	}
	for _, c := range []struct{ name, lang, before, after, want string }{
		{"as it should be", "en-GB", "", head("Fares of Larkspur", about), ""},
		{"no title", "en", "", head("", about), "stop no title"},
		{"a long title", "en", "", head(strings.Repeat("Larkspur Ferries ", 5), about), "look characters; what is longer"},
		{"a title that another page has", "en", "", head("Fares", about), "look stands on /prices.html too"},
		{"a description of six signs", "en", "", head("Fares of Larkspur", "Fares."), "look only 6 characters"},
		{"no description", "en", "", head("Fares of Larkspur", ""), "look no description"},
		{"a long description", "en", "", head("Fares of Larkspur", about+about), "look is cut off"},
		{"no language", "", "", head("Fares of Larkspur", about), "look in which language"},
		{"no such language", "english please", "", head("Fares of Larkspur", about), "look no language"},
		{"it was so before", "en", head("Fares", about), head("Fares", about), ""},
		{"made worse", "en", head("Fares of Larkspur", about), head("Fares", about), "look stands on /prices.html too"},
	} {
		parse := func(head string) *page.Page {
			p, err := page.Parse([]byte("<!doctype html><html lang=\""+c.lang+"\"><head>"+head+"</head><body><h1>A</h1></body></html>"), "text/html; charset=utf-8")
			if err != nil {
				t.Fatal(err)
			}
			return p
		}
		s := &Subject{After: parse(c.after), Address: "/fares.html", Public: "http://ferry.example", Site: site{}}
		if c.before != "" {
			s.Before = parse(c.before)
		}
		var got []string
		for _, f := range pageFacts(s) {
			got = append(got, string(f.Level)+" "+f.Say)
		}
		level, say, _ := strings.Cut(c.want, " ")
		if c.want == "" && len(got) > 0 || c.want != "" && (len(got) != 1 || !strings.HasPrefix(got[0], level) || !strings.Contains(got[0], say)) {
			t.Errorf("%s: %q", c.name, got)
		}
	}
}

// What a change touched or made worse is told by its rule; what was so before, elsewhere, once for the page.
func TestOldFaultsAreToldOnce(t *testing.T) {
	t.Parallel()
	const old = `<h1>A</h1><p>TODO</p><p>On 31 June.</p><img src=a.jpg alt=image><p>Fares from ???</p>`
	levels := func(before, after string) (all []string) {
		for rule, fs := range brought(t, before, after) {
			for _, f := range fs {
				if f.Level != Fine && rule != "spelling" {
					all = append(all, rule+" "+string(f.Level))
				}
			}
		}
		return all
	}
	if got := levels(old+"<p>See us</p>", old+"<p>Call us</p>"); len(got) != 1 || got[0] != "old-faults look" {
		t.Errorf("old faults: %q", got)
	}
	if got := levels("<h1>A</h1><p>See us</p>", "<h1>A</h1><p>Call us</p>"); len(got) != 0 {
		t.Errorf("no faults: %q", got)
	}
	if got := levels("<h1>A</h1><h2>B</h2><h3>C</h3><p>x</p>", "<h1>A</h1><h3>C</h3><p>x</p>"); len(got) != 1 || got[0] != "headings-in-order look" {
		t.Errorf("a heading taken out: %q", got)
	}
	if got := levels("<h1>A</h1><p>See us</p>", "<h1>A</h1><p>TODO</p>"); len(got) != 1 || got[0] != "fillers-gone stop" {
		t.Errorf("a new fault: %q", got)
	}
	if got := levels(old+"<p>See us</p>", old+"<p>TODO!</p>"); len(got) != 2 {
		t.Errorf("the same fault once more: %q", got)
	}
	if got := levels("<p>Tides</p>", `<p>See <a href="https://gone.example/" target=_blank>Tides</a></p>`); len(got) != 1 || got[0] != "link-answers look" {
		t.Errorf("a link to a host that is not there: %q", got)
	}
}
