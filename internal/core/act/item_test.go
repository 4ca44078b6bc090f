package act_test

import (
	"strings"
	"testing"

	"mendry/internal/core/act"
	"mendry/internal/core/change"
	"mendry/internal/core/page"
	"mendry/internal/core/refusal"
	"mendry/internal/core/thread"
)

const tabbed = `<!doctype html><title>Seasons</title><main><h1>Seasons</h1>
<ul class="nav" role="tablist">
  <li><a class="tab active" id="spring-tab" href="#spring" role="tab" aria-selected="true" aria-controls="spring">Spring</a></li>
  <li><a class="tab" id="autumn-tab" href="#autumn" role="tab" aria-selected="false" aria-controls="autumn">Autumn</a></li>
  <li><a class="tab" id="winter-tab" href="#winter" role="tab" aria-selected="false" aria-controls="winter">Winter</a></li>
</ul>
<div class="tab-content">
  <div class="pane active" id="spring" aria-labelledby="spring-tab"><h2>In spring</h2><p>Three plays.</p></div>
  <div class="pane" id="autumn" aria-labelledby="autumn-tab"><h2>In autumn</h2><p>Two plays and a <a href="/song.html">song evening</a>.</p></div>
  <div class="pane" id="winter" aria-labelledby="winter-tab"><h2>In winter</h2><p>One.</p></div>
</div></main>`

const sliding = `<!doctype html><title>Hall</title><main><h1>Hall</h1><div id="walls" class="carousel">
<div class="dots"><button data-slide-to="0" class="active" aria-label="Slide 1"></button><button data-slide-to="1" aria-label="Slide 2"></button><button data-slide-to="2" aria-label="Slide 3"></button></div>
<div class="carousel-inner"><div class="slide active"><h3>Slab</h3><p>Low.</p></div><div class="slide"><h3>Wall</h3><p>Steep.</p></div><div class="slide"><h3>Roof</h3><p>Upside down.</p></div></div>
<a class="prev" href="#walls" data-slide="prev">Previous</a><a class="next" href="#walls" data-slide="next">Next</a></div></main>`

const paired = `<!doctype html><title>Open</title><main><h1>Open</h1><dl>
<dt>Monday</dt><dd>10 to 22</dd>
<dt>Tuesday</dt><dd>10 to 20</dd><dd>Closed in May</dd>
<dt>Sunday</dt><dd>9 to 20</dd>
</dl><h2>May dogs come?</h2><p>Yes.</p><h2>Is there parking?</h2><p>For bicycles.</p><p>Cars stay away.</p><h2>And cats?</h2><p>No.</p></main>`

// item finds the item of a page by how its name begins.
func item(t *testing.T, p *page.Page, name string) *page.Part {
	t.Helper()
	for _, q := range p.All {
		if one, _ := p.ItemOf(q); one == q && strings.HasPrefix(strings.Trim(q.Name, "“”"), name) {
			return q
		}
	}
	t.Fatalf("no item %q among %v", name, names(p))
	return nil
}

func names(p *page.Page) (all []string) {
	for _, q := range p.All {
		all = append(all, string(q.Kind)+" "+q.Name)
	}
	return all
}

// does does an act, checks that it is one change that is undone to the very bytes, and gives the page.
func does(t *testing.T, d *thread.Draft, a act.Act) string {
	t.Helper()
	done, err := act.Do(d, a, studio{})
	if err != nil {
		t.Fatal(err)
	}
	if len(done.Effects) != 1 {
		t.Fatalf("%d changes", len(done.Effects))
	}
	back, err := done.Draft.Without(done.Effects[0].Change.ID)
	if err != nil || string(back.Page().Doc.Bytes) != string(d.Page().Doc.Bytes) {
		t.Fatalf("not undone: %v", err)
	}
	return string(done.Draft.Page().Doc.Bytes)
}

func has(t *testing.T, b string, wanted ...string) {
	t.Helper()
	for _, w := range wanted {
		if not := strings.TrimPrefix(w, "not "); not != w {
			if strings.Contains(b, not) {
				t.Errorf("%q is there:\n%s", not, b)
			}
		} else if !strings.Contains(b, w) {
			t.Errorf("%q is not there:\n%s", w, b)
		}
	}
}

// A tab and its panel are one item: copied together with identifiers that point at each other, without the state of
// the one that is shown; moved and taken out together. Where the shown one goes, the next is shown (WAI-ARIA 1.2, tab
// and tabpanel).
func TestATabGoesWithItsPanel(t *testing.T) {
	d := draft(t, tabbed)
	spring := item(t, d.Page(), "Spring")
	has(
		t,
		does(t, d, &act.Copy{Part: spring.ID}),
		`<li><a class="tab" id="spring-tab-2" href="#spring-2" role="tab" aria-selected="false" aria-controls="spring-2">Spring</a></li>`,
		`<div class="pane" id="spring-2" aria-labelledby="spring-tab-2"><h2>In spring</h2>`,
		`<div class="pane active" id="spring"`,
	)
	tab, _ := d.Page().Part(spring.Half)
	winter := item(t, d.Page(), "Winter")
	b := does(t, d, &act.Move{Part: tab.ID, Anchor: winter.ID, Where: change.After})
	if strings.Index(b, ">Spring</a>") < strings.Index(b, ">Winter</a>") ||
		strings.Index(b, "In spring") < strings.Index(b, "In winter") {
		t.Errorf("moved:\n%s", b)
	}
	has(
		t,
		does(t, d, &act.Remove{Part: tab.ID}),
		"not Spring",
		"not In spring",
		`<a class="tab active" id="autumn-tab" href="#autumn" role="tab" aria-selected="true"`,
		`<div class="pane active" id="autumn"`,
	)
	has(
		t,
		does(t, d, &act.TakeOut{Parts: []string{spring.ID, item(t, d.Page(), "Autumn").ID}}),
		"not utumn",
		"not pring-",
		`class="pane active" id="winter"`,
	)
	if _, err := act.Do(d, &act.TakeOut{Parts: []string{spring.ID, item(t, d.Page(), "Autumn").ID, winter.ID}}, nil); refusal.Of(
		err,
	) == nil {
		t.Errorf("all taken out: %v", err)
	}
	has(
		t,
		does(t, d, &act.AddItem{Part: spring.ID}),
		`<a class="tab" id="autumn-tab-2" href="#autumn-2" role="tab" aria-selected="false" aria-controls="autumn-2">New link</a>`,
		`<h2>New heading</h2><p>New words <a href="#">New link</a></p>`,
	)
}

// A slide has its dot, which is told apart by its number alone: the last one comes and goes.
func TestASlideHasItsDot(t *testing.T) {
	d := draft(t, sliding)
	slab := item(t, d.Page(), "Slab")
	has(
		t,
		does(t, d, &act.AddItem{Part: slab.ID, Anchor: slab.ID, Where: change.Before, Copied: true}),
		`<button data-slide-to="2" aria-label="Slide 3"></button><button data-slide-to="3" aria-label="Slide 4"></button></div>`,
		`<div class="slide"><h3>Roof</h3><p>Upside down.</p></div><div class="slide active"><h3>Slab</h3>`,
	)
	has(
		t,
		does(t, d, &act.Remove{Part: slab.ID}),
		`<div class="carousel-inner"><div class="slide active"><h3>Wall</h3>`,
		`<button data-slide-to="1" aria-label="Slide 2"></button></div>`,
		`<button data-slide-to="0" class="active"`,
	)
	has(
		t,
		does(t, d, &act.Move{Part: slab.ID, Anchor: item(t, d.Page(), "Wall").ID}),
		`data-slide-to="0" class="active" aria-label="Slide 1"></button><button data-slide-to="1"`,
	)
}

// Terms with what is said of them, and questions with their answers, are items though they are several elements.
func TestAQuestionGoesWithItsAnswer(t *testing.T) {
	d := draft(t, paired)
	tuesday, dogs := item(t, d.Page(), "Tuesday"), item(t, d.Page(), "May dogs")
	has(
		t,
		does(t, d, &act.Move{Part: tuesday.ID, Anchor: item(t, d.Page(), "Sunday").ID}),
		"<dd>9 to 20</dd>\n<dt>Tuesday</dt><dd>10 to 20</dd><dd>Closed in May</dd>\n</dl>",
		"<dd>10 to 22</dd>\n<dt>Sunday</dt>",
	)
	has(
		t,
		does(t, d, &act.Remove{Part: item(t, d.Page(), "Is there").ID}),
		"not parking",
		"not Cars",
		"<p>Yes.</p><h2>And cats?</h2>",
	)
	has(
		t,
		does(t, d, &act.AddItem{Part: dogs.ID}),
		"<h2>And cats?</h2><p>No.</p><h2>New question?</h2><p>New words</p><p>New words</p></main>",
	)
	has(
		t,
		does(t, d, &act.AddItem{Part: tuesday.ID, Anchor: tuesday.ID}),
		"<dd>Closed in May</dd>\n<dt>New words</dt><dd>New words</dd><dd>New words</dd>\n<dt>Sunday",
	)
}

// The current entry of a menu is not copied as a second current one, and where it goes no other becomes it.
func TestNoOtherEntryBecomesCurrent(t *testing.T) {
	d := draft(
		t,
		`<title>A</title><nav><ul><li><a href="/">Home</a></li><li class="current"><a href="/b.html" aria-current="page">Boats</a></li><li><a href="/c.html">Crew</a></li></ul></nav><main><h1>Boats</h1></main>`,
	)
	boats := item(t, d.Page(), "Boats")
	has(t, does(t, d, &act.Copy{Part: boats.ID}), `<li class=""><a href="/b.html">Boats</a></li><li><a href="/c.html">`)
	has(t, does(t, d, &act.Remove{Part: boats.ID}), "not current")
}

// Whatever would leave the page worse than it was is refused, with the reason: WAI-ARIA 1.2 (identifiers that are
// pointed at), HTML 3.2.6 (unique identifiers), PRODUCT's rule of heading levels.
func TestNoActLeavesThePageWorse(t *testing.T) {
	d := draft(
		t,
		`<title>A</title><main><h1>A</h1><p><a href="#open">Opening hours</a></p><section id="open"><h2>Open</h2><p>Daily.</p><h3>In May</h3><p>Closed.</p></section></main>`,
	)
	find := func(name string) string {
		for _, q := range d.Page().All {
			if strings.HasPrefix(q.Name, name) {
				return q.ID
			}
		}
		t.Fatal(name)
		return ""
	}
	for _, tt := range []struct {
		name string
		act  act.Act
		want string
	}{
		{"what a link leads to", &act.Remove{Part: "section-2"}, "The link “Opening hours” leads to “#open”"},
		{"a heading between two", &act.Remove{Part: "heading-2"}, "A heading would skip a level: h3 comes right after h1"},
		{"a heading of a level too low", &act.Form{Part: find("Opening words"), Form: "h4"}, "A heading would skip a level: h4 comes right after h2"},
	} {
		_, err := act.Do(d, tt.act, studio{})
		if no := refusal.Of(err); no == nil || !strings.Contains(no.Say, tt.want) {
			t.Errorf("%s: %v", tt.name, err)
		}
	}
	tabs := draft(
		t,
		strings.NewReplacer(` href="#spring"`, ` href="#"`, ` href="#autumn"`, ` href="#"`, ` href="#winter"`, ` href="#"`, ` aria-controls="spring"`, "", ` aria-controls="autumn"`, "", ` aria-controls="winter"`, "").
			Replace(tabbed),
	)
	if spring := item(t, tabs.Page(), "Spring"); spring.Half == "" {
		t.Fatal("tabs are not joined by their order")
	}
	panels, _ := tabs.Page().Part(item(t, tabs.Page(), "Spring").Parent.ID)
	_, err := act.Do(tabs, &act.Insert{Part: panels.Items()[2].ID, Where: change.After, HTML: "<p>More</p>"}, studio{})
	if no := refusal.Of(err); no == nil || !strings.Contains(no.Say, "A tab would stand without its panel") {
		t.Errorf("a panel more: %v", err)
	}
}

// On a page in Markdown the items of a list are taken out together, too; a new one is typed.
func TestItemsOfAPageInMarkdown(t *testing.T) {
	p, err := page.ParseMarkdown([]byte("# Seeds\n\n- [Beans](/beans)\n- [Peas](/peas)\n- [Kale](/kale)\n"))
	if err != nil {
		t.Fatal(err)
	}
	d, err := thread.Of(p, nil, nil)
	if err != nil {
		t.Fatal(err)
	}
	b := does(t, d, &act.TakeOut{Parts: []string{item(t, p, "Beans").ID, item(t, p, "Kale").ID}})
	has(t, b, "- [Peas](/peas)", "not Beans", "not Kale")
	_, err = act.Do(d, &act.AddItem{Part: item(t, p, "Peas").ID}, nil)
	if no := refusal.Of(err); no == nil || !strings.Contains(no.Say, "by typing it") {
		t.Errorf("added: %v", err)
	}
}

// A copy of the question that is open is closed like the others, in every way that its markup says so.
func TestACopyOfAnOpenQuestionIsClosed(t *testing.T) {
	question := func(id, button, panel, expanded string) string {
		return `<div class="accordion-item"><h2><button class="opener` + button + `" data-toggle="collapse" data-target="#` + id + `" aria-expanded="` + expanded +
			`">What is ` + id + `?</button></h2><div id="` + id + `" class="collapse` + panel + `"><p>It is ` + id + `, and a longer answer.</p></div></div>`
	}
	d := draft(t, "<title>A</title><main><h1>A</h1><div>"+question("one", "", " show", "true")+question("two", " collapsed", "", "false")+question("six", " collapsed", "", "false")+"</div></main>")
	one := item(t, d.Page(), "What is one")
	has(t, does(t, d, &act.Copy{Part: one.ID}),
		`<button class="opener collapsed" data-toggle="collapse" data-target="#one-2" aria-expanded="false">What is one?</button>`, `<div id="one-2" class="collapse">`)
}

// Minifiers leave quotes out where they can (HTML 13.1.2.3), and write single ones where the value has double ones:
// what is put in the place of such a value may need them.
func TestAnItemOfAPageWithoutQuotes(t *testing.T) {
	d := draft(
		t,
		`<title>A</title><main><h1>Crew</h1><ul class=crew><li class=active id=ada><img src=a.jpg alt=Ada width=40 height=30><h3>Ada</h3><p>Sails.</p></li>`+
			`<li id=ben><img src='b.jpg' alt='Ben, "the boat"' width=40 height=30><h3>Ben</h3><p>Rows.</p></li><li id=cyd><img src=c.jpg alt=Cyd width=40 height=30><h3>Cyd</h3><p>Steers.</p></li></ul></main>`,
	)
	for _, name := range []string{"Ada", "Ben"} {
		one := item(t, d.Page(), name)
		got := does(t, d, &act.AddItem{Part: one.ID, Anchor: one.ID, Where: change.After})
		p, err := page.Parse([]byte(got), "text/html")
		if err != nil {
			t.Fatal(err)
		}
		images := 0
		for _, q := range p.All {
			if q.Kind != page.Picture {
				continue
			}
			if images++; q.Attributes.Get("width") != "40" || q.Attributes.Get("height") != "30" || q.Node.HTML.Attr[0].Key != "src" {
				t.Errorf("%s: a picture is read as %v", name, q.Node.HTML.Attr)
			}
		}
		if images != 4 {
			t.Errorf("%s: %d pictures:\n%s", name, images, got)
		}
		does(t, d, &act.Copy{Part: one.ID})
	}
}
