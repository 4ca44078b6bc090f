package act_test

import (
	"cmp"
	"encoding/json"
	"fmt"
	"math/rand/v2"
	"slices"
	"strings"
	"testing"

	"mendry/internal/core/act"
	"mendry/internal/core/change"
	"mendry/internal/core/file"
	"mendry/internal/core/page"
	"mendry/internal/core/picture"
	"mendry/internal/core/refusal"
	"mendry/internal/core/style"
	"mendry/internal/core/thread"
	"mendry/internal/core/video"
)

const fares = `<html><head><title>Fares</title></head><body>
<h1>Fares</h1>
<p class="lead">A single is £6.90.</p>
<section><h2>Dogs</h2><p>On a lead.</p></section>
<ul><li>One</li><li>Two</li></ul>
<table><tr><th>Who</th><th>Single</th></tr><tr><td>Adult</td><td>£6.90</td></tr></table>
<p>Ask <a href="/crew.html">the crew</a>.</p>
<img src="/img/quay.png" alt="Quay" width="300" height="200" srcset="a.png 2x">
</body></html>`

// studio answers what acts ask of outside the page.
type studio struct{}

// Picture makes files of a picture of 1200 × 600 points, whose names say what was done.
func (studio) Download(attachment int64, href string, keep bool, _ int64) (act.Brought, error) {
	f := act.Brought{
		Name: "Prices.pdf", Path: "files/new.pdf", Src: "/files/new.pdf", Hash: fmt.Sprintf("%064d", attachment),
		Info: file.Info{Media: "application/pdf", Kind: "PDF", Ext: ".pdf", Size: 96_400},
	}
	switch attachment {
	case 8:
		f.Path, f.Src, f.Info = "files/open.mp4", "/files/open.mp4", file.Info{Media: "video/mp4", Kind: "MP4", Ext: ".mp4", Size: 2_100_000}
	case 9:
		f.Path, f.Src, f.Info = "files/open.vtt", "/files/open.vtt", file.Info{Media: "text/vtt", Kind: "captions", Ext: ".vtt", Size: 900}
	case 10:
		f.Path, f.Src, f.Info = "files/talk.mp3", "/files/talk.mp3", file.Info{Media: "audio/mpeg", Kind: "MP3", Ext: ".mp3", Size: 800_000}
	}
	if keep {
		f.Path, f.Src, f.WasHash = strings.TrimPrefix(href, "/"), href, strings.Repeat("0", 64)
	}
	return f, nil
}

func (studio) Replaced(p act.Pick, src string, _ int64) (act.Brought, error) {
	if p.Attachment != 7 {
		return act.Brought{}, refusal.New(refusal.Nothing, "There is no such picture.")
	}
	f := act.Brought{Path: strings.TrimPrefix(src, "/"), Src: src, Hash: strings.Repeat("1", 64), WasHash: strings.Repeat("0", 64)}
	f.Info = file.Info{Media: "image/png", Kind: "picture", Ext: ".png", Size: 4096}
	return f, nil
}

func (studio) Plays(address string) (act.Plays, error) {
	p := act.Plays{Player: video.Player{Src: address}}
	switch {
	case strings.HasSuffix(address, ".mp3"):
		p.Media = "audio/mpeg"
	case strings.Contains(address, "watch"):
		p.Src, p.Width, p.Height, p.Frame = "https://films.example/embed/1?a=1&b=2", 640, 360, true
	}
	return p, nil
}

func (studio) Picture(p act.Pick, src string, _ []act.File, _ int64) (act.File, error) {
	if p.Path != "" { // one of the site, as it is
		return act.File{Path: p.Path, Src: "/" + p.Path, Width: 1200, Height: 600}, nil
	}
	if p.Attachment != 7 {
		return act.File{}, refusal.New(refusal.Nothing, "There is no such picture.")
	}
	f := act.File{Path: "img/new", Width: 1200, Height: 600, Size: 4096, Hash: "new"}
	if p.Work.Shape != "" {
		f.Path, f.Height = f.Path+"-"+strings.Replace(p.Work.Shape, ":", "x", 1), 1200
	}
	if w := p.Work.Width; w > 0 && w < f.Width {
		f.Path, f.Width, f.Height = fmt.Sprintf("%s-%d", f.Path, w), w, f.Height*w/f.Width
	}
	f.Path += "." + cmp.Or(p.Work.Format, "png")
	f.Src = "/" + f.Path
	return f, nil
}

func (studio) Sides(*page.Page) map[string]string { return map[string]string{"left": "pic-left"} }

func (studio) Behind(p *page.Page, part *page.Part) (style.Behind, string, bool) {
	s := &style.Sheet{}
	s.ReadFrom("/css/site.css", []byte(`.band { background: #223 linear-gradient(red, blue), url(../img/large-band.jpg) center / cover }`))
	b, ok := s.Behind(part.Node.HTML)
	return b, "/img/large-band.jpg", ok
}

// Icons are those of a font that has three.
func (studio) Icons(p *page.Page, part *page.Part) (act.Icons, error) {
	return act.Icons{In: p.Icons(part.Node, nil), For: func(page.Icon) (all []page.Icon) {
		for _, name := range []string{"clock", "boat", "phone"} {
			all = append(all, page.Icon{By: page.IconByFont, Says: "icon-" + name, Name: name})
		}
		return all
	}}, nil
}

func (studio) PutsBehind(*page.Page) bool { return true }

func (studio) Address(_ style.Behind, src string) string { return src }

func (studio) Known(src string) (picture.Info, bool) {
	if strings.Contains(src, "large") {
		return picture.Info{Width: 1200, Height: 800}, true
	}
	return picture.Info{Width: 400, Height: 400}, strings.Contains(src, "square")
}

func (studio) Wording(d *thread.Draft, part *page.Part, version string) (*page.Page, *page.Part, error) {
	first := d.First(part)
	if version != "live" || first == nil {
		return nil, nil, refusal.New(refusal.Stale, "That wording is no longer known.")
	}
	return d.Live, first, nil
}

// Version is of the page as it was before its fare was raised.
func (studio) Version(int64) (*page.Page, string, error) {
	p, err := page.Parse([]byte(strings.Replace(fares, "A single is £6.90", "A single is £6.50", 1)), "text/html; charset=utf-8")
	return p, "at first", err
}

// Looks are those of a site with two backgrounds by classes, a space by a custom property and a motion by an
// attribute.
func (studio) Looks(_ *page.Page, part *page.Part) ([]style.Choice, error) {
	var s style.Sheet
	s.Read([]byte(`:root{--sand:#eed;--sea:#036}.lead{font-size:1.2em}.note{font-size:.9em}.bg-sand{background:#eed}.bg-sea{background:#036;color:#fff}
		* {padding-block:var(--space,2rem)} [data-appear=rise]{animation:rise 1s} [data-appear=fade]{animation:fade 1s}`))
	return s.Choices(part.Node.HTML, style.Worn{
		Elements: 4, Classes: map[string]int{"bg-sand": 1, "lead": 1, "note": 1},
		Attributes: map[[2]string]int{{"data-appear", "rise"}: 1}, Styles: map[[2]string]int{{"--space", "4rem"}: 1, {"--space", "1rem"}: 1},
	}, part.Kind.HasWords()), nil
}

// Row is that of a site whose rows flex, and which has columns of eight and four beside each other.
func (studio) Row(*page.Page, *page.Part) act.Row {
	return act.Row{Flexes: true, Wraps: true, Uses: [][]string{{"col-md-8 lead", "col-md-4"}}}
}

func (studio) Here() string { return "/fares.html" }

// Lender lends the only section of a page that is laid out in columns.
func (studio) Lender(id int64, _, _ string) (l act.Lender, err error) {
	l.Page, err = page.Parse([]byte(`<html><head><title>Crew</title></head><body><main><section class="row"><div class="col"><h2>The crew</h2><p>Seven of us.</p></div><div class="col"><img src="img/crew.jpg" alt="The crew"></div></section></main></body></html>`), "")
	if lends := l.Lends(); err == nil && id == 7 {
		l.Address, l.Title, l.Section = "/crew/index.html", "Crew", lends[0].Part
		return l, nil
	}
	return l, refusal.New(refusal.Nothing, "There is no such section.")
}

// Went tells of one change: the fare was raised to what the page says.
func (studio) Went(int64) (act.Went, error) {
	old, err := page.Parse([]byte(strings.Replace(fares, "A single is £6.90", "A single is £6.50", 1)), "text/html; charset=utf-8")
	if err != nil {
		return act.Went{}, err
	}
	lead := old.All[slices.IndexFunc(old.All, func(q *page.Part) bool { return q.Text == "A single is £6.50." })]
	alone, err := thread.Alone(old, []change.Op{{Op: change.SetWords, Part: lead.ID, HTML: "A single is £6.90."}})
	if err != nil {
		return act.Went{}, err
	}
	return act.Went{Change: act.Change{
		Kind: act.OfWords, Name: lead.Name, Say: "£6.50 becomes £6.90", BeforeWords: lead.Text, AfterWords: "A single is £6.90.", Step: alone.Kept[0].Step,
	}, Undo: alone.Undo(0)}, nil
}

func draft(t testing.TB, s string) *thread.Draft {
	t.Helper()
	p, err := page.Parse([]byte(s), "text/html; charset=utf-8")
	if err != nil {
		t.Fatal(err)
	}
	d, err := thread.Of(p, nil, nil)
	if err != nil {
		t.Fatal(err)
	}
	return d
}

func id(t testing.TB, d *thread.Draft, words string) string {
	t.Helper()
	for _, q := range d.Page().All {
		if strings.Join(strings.Fields(q.Text), " ") == words {
			return q.ID
		}
	}
	t.Fatalf("no part says %q on\n%s", words, d.Page().Doc.Bytes)
	return ""
}

func do(t testing.TB, d *thread.Draft, a act.Act) *act.Done {
	t.Helper()
	done, err := act.Do(d, a, studio{})
	if err != nil {
		t.Fatal(err)
	}
	return done
}

func Example() {
	p, _ := page.Parse([]byte("<p>Open daily.</p>"), "text/html")
	d, _ := thread.Of(p, nil, nil)
	asked, _ := act.Read([]byte(`{"do": "words", "part": "words-1", "words": "Open every day."}`))
	done, _ := act.Do(d, asked, nil)
	fmt.Println(done.Effects[0].Change.Say)
	fmt.Println(string(done.Draft.Page().Doc.Bytes))
	// Output:
	// “Open daily.”: Open daily. becomes Open every day.
	// <p>Open every day.</p>
}

func TestAnActIsReadWithAllThatItNeedsAndNothingElse(t *testing.T) {
	for body, say := range map[string]string{
		`{"do": "words", "part": "words-1"}`: "does not say its words",
		`{"do": "run"}`:                      "does not say its blocks",
		`{"do": "words", "part": "words-1", "words": "a", "html": "b"}`:    "could not be read",
		`{"do": "picture", "part": "picture-1", "attachment_id": "seven"}`: "could not be read",
		`{"do": "paint", "part": "words-1"}`:                               "no such change",
		`["words"]`:                                                        "no such change",
		`{`:                                                                "no such change",
		`{"do": "move", "part": "section-1", "where": "after"}`:           "does not say its anchor",
		`{"do": "attribute", "part": "link-1", "name": null, "words": 3}`: "could not be read",
		`{"do": "fact", "name": "title"}`:                                 "does not say its words",
		`{"do": "table", "part": "cell-1", "table": "row below", "x": 1}`: "could not be read",
		`{"do": "look", "part": "words-1", "words": "lead"}`:              "does not say its choice",
		`{"do": "remove"}`: "does not say its part",
		`{"do": "run", "blocks": [{"key": "a", "words": "b"}]}`:             "could not be read",
		`{"do": "form", "part": "words-1"}`:                                 "does not say its form",
		`{"do": "back", "part": "words-1"}`:                                 "does not say its version",
		`{"do": "insert", "part": "words-1", "where": "after"}`:             "does not say its html",
		`{"do": "markup", "part": "words-1", "wish_id": 4, "html": "a"}`:    "could not be read",
		`{"do": "copy", "anchor": "section-1"}`:                             "does not say its part",
		`{"do": "insert", "part": "words-1", "html": "<p>a</p>", "do": ""}`: "no such change",
	} {
		if a, err := act.Read([]byte(body)); err == nil || !strings.Contains(err.Error(), say) || refusal.Of(err) == nil {
			t.Errorf("%s: %+v, %v", body, a, err)
		}
	}
	a, err := act.Read([]byte(`{"do": "copy", "part": "section-1"}`))
	if c, ok := a.(*act.Copy); err != nil || !ok || *c != (act.Copy{Part: "section-1"}) {
		t.Errorf("%+v %v", a, err)
	}
}

func TestTypingOnRewritesAndTypingBackTakesOut(t *testing.T) {
	d := draft(t, fares)
	done := do(t, d, &act.Words{Part: id(t, d, "On a lead."), Words: "On a leash."})
	if e := done.Effects; len(e) != 1 || e[0].What != act.New || e[0].Change.ID >= 0 || e[0].Change.BeforeWords != "On a lead." || e[0].Change.AfterWords != "On a leash." {
		t.Fatalf("%+v", e)
	}
	first := done.Effects[0].Change.ID
	done = do(t, done.Draft, &act.Markup{Part: id(t, done.Draft, "On a leash."), HTML: "On a <em>short</em> leash."})
	if e := done.Effects; len(e) != 1 || e[0].What != act.Reworded || e[0].Change.ID != first {
		t.Fatalf("%+v", e)
	}
	done = do(t, done.Draft, &act.Markup{Part: id(t, done.Draft, "On a short leash."), HTML: "On a lead."})
	if e := done.Effects; len(e) != 1 || e[0].What != act.Dropped || e[0].Change.ID != first || done.Draft.Hash() != d.Hash() {
		t.Fatalf("%+v", e)
	}
	if done = do(t, d, &act.Words{Part: id(t, d, "On a lead."), Words: "On a lead."}); len(done.Effects) != 0 {
		t.Errorf("the same words are a change: %+v", done.Effects)
	}
}

func TestNothingGoesOnInAStepThatAReleaseCarries(t *testing.T) {
	d := draft(t, fares)
	d = do(t, d, &act.Words{Part: id(t, d, "On a lead."), Words: "On a leash."}).Draft
	d.Kept[0].ID, d.Kept[0].Fixed = 1, true
	done := do(t, d, &act.Words{Part: id(t, d, "On a leash."), Words: "Not on Sundays."})
	if e := done.Effects; len(e) != 1 || e[0].What != act.New {
		t.Fatalf("%+v", e)
	}
	done = do(t, done.Draft, &act.Words{Part: id(t, done.Draft, "Not on Sundays."), Words: "On a leash."})
	if e := done.Effects; len(e) != 1 || e[0].What != act.Dropped || len(done.Draft.Kept) != 1 {
		t.Errorf("typed back to what goes out: %+v", e)
	}
	if _, err := d.Without(d.Kept[0].ID); !refusal.Is(err, refusal.Rule) {
		t.Errorf("a step that goes out was taken out: %v", err)
	}
}

func TestACopyKeepsTheWordsThatItWasMadeOf(t *testing.T) {
	d := draft(t, fares)
	d = do(t, d, &act.Words{Part: id(t, d, "On a lead."), Words: "On a leash."}).Draft
	d = do(t, d, &act.Copy{Part: id(t, d, "Dogs On a leash.")}).Draft
	done := do(t, d, &act.Words{Part: id(t, d, "On a leash."), Words: "Not at all."})
	got := string(done.Draft.Page().Doc.Bytes)
	if done.Effects[0].What != act.New || strings.Count(got, "On a leash.") != 1 || strings.Count(got, "Not at all.") != 1 {
		t.Errorf("%+v\n%s", done.Effects, got)
	}
}

// What would be refused is told before, by trying it: the acts that are told of are refused, and those that are not
// are done.
func TestWhatWouldBeRefusedIsToldBefore(t *testing.T) {
	const joined = `<html><body><table><tr><th>Who</th><th colspan="2">Fare</th></tr><tr><td>Adult</td><td>£6.90</td><td>£12</td></tr></table>
<table><tr><td>Alone</td></tr></table><picture><source srcset="a.webp"><img src="a.jpg" alt="Quay"></picture><p>Words</p></body></html>`
	for _, c := range []struct {
		part string
		want []string
	}{
		{"Adult", []string{"table column before", "table column after", "table column out"}},
		{"Alone", []string{"table row out", "table column out"}},
		{"Words", nil},
		{"Quay", nil},
	} {
		d := draft(t, joined)
		p := d.Page()
		part := p.All[slices.IndexFunc(p.All, func(q *page.Part) bool {
			return q.Text == c.part && q.Kind != page.Row && q.Kind != page.Table || q.Attributes.Get("alt") == c.part
		})]
		no, err := act.Refused(d, part.ID)
		if err != nil {
			t.Fatal(err)
		}
		var got []string
		for _, n := range no {
			got = append(got, n.Do+" "+n.How)
			if n.Why == "" {
				t.Errorf("%s: %s %s has no reason", c.part, n.Do, n.How)
			}
		}
		if !slices.Equal(got, c.want) {
			t.Errorf("%s: %q, want %q", c.part, got, c.want)
		}
	}
}

func TestALiveChangeIsTakenBackUnderWhatIsKept(t *testing.T) {
	d := draft(t, fares)
	d = do(t, d, &act.Words{Part: id(t, d, "On a lead."), Words: "On a leash."}).Draft
	d = do(t, d, &act.Remove{Part: id(t, d, "Fares")}).Draft
	done := do(t, d, &act.TakeBack{Change: 1})
	c := done.Effects[0].Change
	got := string(done.Draft.Page().Doc.Bytes)
	if !strings.Contains(got, "A single is £6.50.") || strings.Contains(got, "<h1>") || !strings.Contains(got, "leash") {
		t.Errorf("%s", got)
	}
	if c.Say != "Taken back: Opening words: A single is £6.90. becomes A single is £6.50." || c.BeforeWords != "A single is £6.90." || c.AfterWords != "A single is £6.50." {
		t.Errorf("%+v", c)
	}
	d = do(t, draft(t, fares), &act.Words{Part: id(t, draft(t, fares), "A single is £6.90."), Words: "A single is £7.40."}).Draft
	if _, err := act.Do(d, &act.TakeBack{Change: 1}, studio{}); !refusal.Is(err, refusal.Rule) {
		t.Errorf("it was changed again since: %v", err)
	}
}

func TestWhatWasPointedAtHasToBeThere(t *testing.T) {
	d := draft(t, fares)
	for _, a := range []act.Act{
		&act.Words{Part: "words-99"}, &act.Run{Blocks: []act.RunBlock{{Key: "a", Part: "words-99", Form: "p"}}}, &act.Insert{Part: "words-99"},
		&act.Table{Part: "cell-99"}, &act.Copy{Part: "section-99"}, &act.Move{Part: "section-1", Anchor: "section-99"}, &act.Remove{Part: ""},
	} {
		if _, err := act.Do(d, a, studio{}); !refusal.Is(err, refusal.Stale) {
			t.Errorf("%T: %v", a, err)
		}
	}
}

// twoLevels is a menu whose entries may go below each other.
const twoLevels = `<ul><li><a href="/v">Visit</a><ul><li><a href="/p">Prices</a></li><li><a href="/w">Way</a></li></ul></li><li><a href="/n">News</a></li><li><a href="/c">Contact</a></li></ul>`

// What is kept makes the same page again, whatever is done to it: the draft that an act leaves is the draft that its
// steps make, through JSON as they are stored.
func TestWhatIsKeptMakesTheSamePageAgain(t *testing.T) {
	names := act.Names()
	tried := map[string]int{}
	for seed := range uint64(320) {
		random := rand.New(rand.NewPCG(seed, 2))
		one := func(of ...string) string { return of[random.IntN(len(of))] }
		d := draft(t, strings.Replace(fares, "</body>", `<div class="row"><div><h2>Left</h2><p>Words.</p></div><div><p><i class="icon icon-boat"></i> Right.</p><p>More.</p></div></div><ul data-seconds="4"><li><img src="/a.jpg" alt="One"></li><li><img src="/b.jpg" alt="Two"></li></ul>`+twoLevels+`</body>`, 1))
		for range 10 {
			p := d.Page()
			part, anchor := p.All[random.IntN(len(p.All))].ID, p.All[random.IntN(len(p.All))].ID
			where := change.Where(one("before", "after"))
			entries := []string{""}
			for _, q := range p.All {
				if q.Kind == page.Item && q.Node.Is("li") {
					entries = append(entries, q.ID)
				}
			}
			name := names[random.IntN(len(names))]
			last := int64(1)
			if len(d.Kept) > 0 {
				last = d.Kept[len(d.Kept)-1].ID
			}
			a := map[string]act.Act{
				"words":  &act.Words{Part: part, Words: one("New words", "", "£7.40")},
				"markup": &act.Markup{Part: part, HTML: one("New <em>words</em>", "", "Two<br>lines")},
				"insert": &act.Insert{Part: part, Where: where, HTML: one("<p>New</p>", "<h2>New</h2><p>Below</p>", "")},
				"form":   &act.Form{Part: part, Form: change.Form(one("p", "h2", "quote", "bullets"))},
				"table":  &act.Table{Part: part, Table: change.TableAct(one("row below", "row out", "column after", "new"))},
				"icon":   &act.Icon{Part: part, Choice: "font icon-" + one("clock", "boat", "phone")},
				"look": &act.Look{
					Part: part, Off: random.IntN(4) == 0,
					Choice: one("class class lead", "class class note", "class class bg-sand", "class class bg-sea", "style --space 4rem", "style --space 1rem", "attribute data-appear rise", "attribute data-appear fade"),
				},
				"back":         &act.Back{Part: part, Version: "live"},
				"take-back":    &act.TakeBack{Change: 1},
				"attribute":    &act.Attribute{Part: part, Name: one("alt", "href", "title"), Words: one("/a.html", "Quay")},
				"fact":         &act.Fact{Name: one("title", "description"), Words: one("New", "")},
				"picture":      &act.Picture{Part: part, Attachment: 7, Everywhere: random.IntN(3) == 0},
				"lay-picture":  &act.LayPicture{Part: part, Side: one("left", ""), Percent: 50},
				"caption":      &act.Caption{Part: part, Words: one("The quay", "At noon", "")},
				"link-picture": &act.LinkPicture{Part: part, Href: one("/a.html", "tel:+15550100", "")},
				"add-pictures": &act.AddPictures{Part: part, Pictures: []act.Titled{{Attachment: 7, Alt: "Quay"}}},
				"put-picture":  &act.PutPicture{Part: part, Where: where, Attachment: 7, Alt: "Quay", Side: one("", "left"), Caption: one("", "Quay")},
				"download":     &act.Download{Part: part, Attachment: 1, Keep: random.IntN(2) == 0},
				"put-video": &act.PutVideo{
					Part: part, Where: where, Address: "https://films.example/" + one("watch", "a.mp3", "page"), Title: one("A film", ""),
					Cover: act.Pick{Attachment: 7},
				},
				"copy":       &act.Copy{Part: part, Anchor: anchor, Where: where},
				"move":       &act.Move{Part: part, Anchor: anchor, Where: where},
				"remove":     &act.Remove{Part: part},
				"add-item":   &act.AddItem{Part: part, Copied: random.IntN(2) == 0},
				"setting":    &act.Setting{Part: part, Name: "data-seconds", Value: one("6", "8")},
				"columns":    &act.Columns{Part: part, Wide: []int{2, 1}},
				"add-column": &act.AddColumn{Part: part, Copied: random.IntN(2) == 0},
				"put":        &act.Put{Part: part, Where: change.Where(one("before", "after", "first", "last")), What: one("words", "heading", "list", "button")},
				"source":     &act.Source{Part: part, Markup: one("<p>New</p>", "<h2>New</h2><p>Below</p>", "<div><p>In</div>", "New")},
				"restore":    &act.Restore{Version: 1, Part: one(part, part, "")},
				"under":      &act.Under{Part: one(entries...), Entry: one(entries...)},
				"hide":       &act.Hide{Part: part},
				"show":       &act.Show{Change: last},
				"borrow":     &act.Borrow{Part: part, Where: where, Page: 7, Section: "any", Kept: random.IntN(2) == 0},
				"starter":    &act.Starter{Part: part, Where: where, Kind: page.Sample(one("beside", "questions", "three"))},
				"take-out":   &act.TakeOut{Parts: []string{part}},
				"run":        &act.Run{Blocks: []act.RunBlock{{Key: "a", Part: part, Form: "p", HTML: one("Typed", "")}, {Key: "b", Form: "p", HTML: "New"}}},
			}[name]
			if a == nil {
				t.Fatalf("the test does not know the act %s", name)
			}
			done, err := act.Do(d, a, studio{})
			if err != nil {
				if refusal.Of(err) == nil {
					t.Fatalf("seed %d, %s: %v", seed, name, err)
				}
				continue
			}
			tried[name]++
			stored, err := json.Marshal(done.Draft.Kept)
			if err != nil {
				t.Fatal(err)
			}
			var kept []thread.Kept
			if err := json.Unmarshal(stored, &kept); err != nil {
				t.Fatal(err)
			}
			again, err := thread.Of(d.Live, kept, nil)
			if err != nil || again.Conflict != nil || again.Hash() != done.Draft.Hash() {
				t.Fatalf("seed %d, %+v: %v %v\n%s\n%s", seed, a, err, again.Conflict, done.Draft.Page().Doc.Bytes, again.Page().Doc.Bytes)
			}
			for i, e := range done.Effects {
				if slices.ContainsFunc(done.Effects[i+1:], func(l act.Effect) bool { return l.What == act.Dropped && l.Change.ID == e.Change.ID }) {
					continue // it came to nothing in the same act
				}
				at := slices.IndexFunc(kept, func(k thread.Kept) bool { return k.ID == e.Change.ID })
				if (e.What == act.Dropped) != (at < 0) || e.What != act.Dropped && e.What != act.Aimed && e.Change.Say == "" {
					t.Fatalf("seed %d, %s: %+v is at %d", seed, name, e, at)
				}
			}
			d = done.Draft
			for i := range d.Kept {
				d.Kept[i].ID = int64(i + 1)
			}
		}
	}
	for _, name := range names {
		if tried[name] == 0 {
			t.Errorf("%s was always refused", name)
		}
	}
}
