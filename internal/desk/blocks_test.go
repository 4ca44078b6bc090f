package desk

import (
	"context"
	"slices"
	"strings"
	"testing"

	"mendry/api"
	"mendry/internal/core/act"
	"mendry/internal/core/change"
)

const pricesPage = "<!doctype html>\r\n<html lang=\"en\"><head><title>Prices</title></head>\r\n<body>\r\n<h1>Prices</h1>\r\n<p class=\"lead\">A single is £6.90.</p>\r\n" +
	"<table>\r\n  <tr>\r\n    <th>Who</th>\r\n    <th>Single</th>\r\n  </tr>\r\n  <tr>\r\n    <td>Adult</td>\r\n    <td>£6.90</td>\r\n  </tr>\r\n</table>\r\n</body></html>\r\n"

func (w *world) make(number int64, address string, a act.Act) api.Bench {
	w.t.Helper()
	b, err := w.d.Bench(context.Background(), number, w.pages[address])
	w.must(err)
	v, err := w.d.Keep(context.Background(), w.who, number, w.pages[address], Ask{Draft: b.Draft, Act: a})
	w.must(err)
	return v
}

// held are the blocks of a run, as an editor holds them.
func held(b api.Bench, r api.PageRun) (bs []act.RunBlock) {
	for _, k := range r.Blocks {
		rb := act.RunBlock{Key: "of " + k.Part, Part: k.Part}
		if k.Form != nil {
			rb.Form = change.Form(*k.Form)
		}
		for _, p := range b.Parts {
			if p.ID == k.Part && rb.Form != "" {
				rb.HTML = p.Edit
			}
		}
		bs = append(bs, rb)
	}
	return bs
}

// run gives the run that a part is in other blocks: it is given their place.
func (w *world) run(number int64, address, part string, edit func(bs []act.RunBlock, at int) []act.RunBlock) api.Bench {
	w.t.Helper()
	b, err := w.d.Bench(context.Background(), number, w.pages[address])
	w.must(err)
	for _, r := range b.Runs {
		bs := held(b, r)
		if at := slices.IndexFunc(bs, func(k act.RunBlock) bool { return k.Part == part }); at >= 0 {
			return w.make(number, address, &act.Run{Blocks: edit(bs, at)})
		}
	}
	w.t.Fatalf("%s is in no run", part)
	return b
}

// split ends a block after some words and begins a new one with the rest.
func (w *world) split(number int64, address, part, words, rest string) api.Bench {
	w.t.Helper()
	return w.run(number, address, part, func(bs []act.RunBlock, at int) []act.RunBlock {
		bs[at].HTML = words
		return slices.Insert(bs, at+1, act.RunBlock{Key: "new", Form: bs[at].Form, HTML: rest})
	})
}

// takeIn takes the site in again.
func (w *world) takeIn() {
	w.t.Helper()
	w.must(w.d.TakeIn(context.Background(), w.site.ID))
	w.until("the site is taken in again", func() bool {
		w.d.DoNext(context.Background())
		v, err := w.d.Site(context.Background(), w.site.ID)
		w.must(err)
		if v.Site.State == api.SiteStateFailed {
			w.t.Fatalf("taking in: %s", v.Site.Said)
		}
		for _, p := range v.Pages {
			w.pages[p.Address] = p.ID
		}
		return v.Site.State == api.SiteStateReady
	})
}

// onPrices is a world with a page of prices, and a request for it.
func onPrices(t *testing.T, page string) (*world, int64) {
	t.Helper()
	w := newWorld(t, true, "a")
	w.write("prices.html", page)
	w.takeIn()
	return w, w.request("x")
}

func TestAPartIsBegunBelowTypedOnAndMadeAHeading(t *testing.T) {
	t.Parallel()
	ctx := context.Background()
	w, n := onPrices(t, pricesPage)
	before := w.read("prices.html")
	_, p := w.part(n, "/prices.html", "words", "A single")
	v := w.split(n, "/prices.html", p.ID, "A single is £6.90.", change.NewWords)
	if len(v.Changes) != 1 || v.Keys["new"] == "" {
		t.Fatalf("%+v", v.Changes)
	}
	made := v.Keys["new"]
	proof, err := w.d.Proof(ctx, n)
	w.must(err)
	if f := proof.Pages[0].Findings; !hasFinding(f, "fillers-gone", api.LevelStop) {
		t.Errorf("a part without words of its own passes: %+v", f)
	}
	v = w.make(n, "/prices.html", &act.Markup{Part: made, HTML: "Prams go <strong>free</strong>."})
	if len(v.Changes) != 1 || v.Changes[0].Part == "" || v.Changes[0].AfterWords != "Prams go free." {
		t.Fatalf("typing on made %+v", v.Changes)
	}
	v = w.make(n, "/prices.html", &act.Form{Part: v.Changes[0].Part, Form: "quote"})
	v = w.make(n, "/prices.html", &act.Form{Part: *v.Made, Form: "h2"})
	if len(v.Changes) != 2 || v.Changes[1].Say != "“Prams go free.” becomes a heading of level 2" || v.Changes[1].Part != *v.Made {
		t.Fatalf("%+v", v.Changes)
	}
	proof, err = w.d.Proof(ctx, n)
	w.must(err)
	for _, f := range proof.Pages[0].Findings {
		if f.Level == api.LevelStop {
			t.Errorf("%+v", f)
		}
	}
	rel := w.goLive(n)
	want := strings.Replace(before, "£6.90.</p>", "£6.90.</p>\r\n<h2>Prams go <strong>free</strong>.</h2>", 1)
	if got := w.read("prices.html"); got != want {
		t.Errorf("the host has\n%q", got)
	}
	w.takeBack(rel, "prices.html", before)
}

func TestSplittingInTheMiddleMovesTheRestDown(t *testing.T) {
	t.Parallel()
	ctx := context.Background()
	w, n := onPrices(t, pricesPage)
	_, p := w.part(n, "/prices.html", "words", "A single")
	v := w.split(n, "/prices.html", p.ID, "A single", "is £6.90.")
	if len(v.Changes) != 2 {
		t.Fatalf("%+v", v.Changes)
	}
	draft := w.drafted(n, "/prices.html")
	if got, want := draft, strings.Replace(pricesPage, "A single is £6.90.</p>", "A single</p>\r\n<p class=\"lead\">is £6.90.</p>", 1); got != want {
		t.Errorf("the draft is\n%q", got)
	}
	_, err := w.d.Drop(ctx, w.who, n, v.Changes[0].ID) // the new part finds its place by the words as they are then
	w.must(err)
	if got, want := w.drafted(n, "/prices.html"), strings.Replace(pricesPage, "£6.90.</p>", "£6.90.</p>\r\n<p class=\"lead\">is £6.90.</p>", 1); got != want {
		t.Errorf("the draft is\n%q", got)
	}
	w.dropAll(n, "/prices.html")
	if draft = w.drafted(n, "/prices.html"); draft != pricesPage {
		t.Errorf("taken back one by one: %q", draft)
	}
}

func TestABlockIsBegunAboveTheFirstWords(t *testing.T) {
	t.Parallel()
	w, n := onPrices(t, pricesPage)
	_, p := w.part(n, "/prices.html", "words", "A single")
	w.run(n, "/prices.html", p.ID, func(bs []act.RunBlock, at int) []act.RunBlock {
		return slices.Insert(bs, at, act.RunBlock{Key: "new", Form: "p", HTML: "First."})
	})
	draft := w.drafted(n, "/prices.html")
	if got, want := draft, strings.Replace(pricesPage, `<p class="lead">`, "<p>First.</p>\r\n<p class=\"lead\">", 1); got != want {
		t.Errorf("the draft is\n%q", got)
	}
}

func TestWhatWasSplitIsJoinedAgainAndNothingIsLeftOfIt(t *testing.T) {
	t.Parallel()
	w, n := onPrices(t, pricesPage)
	_, p := w.part(n, "/prices.html", "words", "A single")
	w.split(n, "/prices.html", p.ID, "A single", "is £6.90.")
	v := w.run(n, "/prices.html", p.ID, func(bs []act.RunBlock, at int) []act.RunBlock {
		bs[at].HTML = "A single is £6.90."
		return slices.Delete(bs, at+1, at+2)
	})
	if len(v.Changes) != 0 {
		t.Errorf("left %+v", v.Changes)
	}
}

func TestParagraphsAreJoinedPublishedAndTakenBack(t *testing.T) {
	t.Parallel()
	w := newWorld(t, true, "a")
	before := strings.Replace(pricesPage, "£6.90.</p>\r\n", "£6.90.</p>\r\n<p>Dogs go <small class=\"x\">free</small>.</p>\r\n", 1)
	w.write("prices.html", before)
	w.takeIn()
	n := w.request("x")
	_, p := w.part(n, "/prices.html", "words", "Dogs go")
	v := w.run(n, "/prices.html", p.ID, func(bs []act.RunBlock, at int) []act.RunBlock {
		bs[at-1].HTML += " " + bs[at].HTML
		return slices.Delete(bs, at, at+1)
	})
	if len(v.Changes) != 2 {
		t.Fatalf("%+v", v.Changes)
	}
	_, p = w.part(n, "/prices.html", "words", "A single")
	v = w.make(n, "/prices.html", &act.Markup{Part: p.ID, HTML: strings.Replace(p.Edit, "£6.90", "£7.40", 1)})
	if len(v.Changes) != 2 {
		t.Fatalf("typing on made %+v", v.Changes)
	}
	rel := w.goLive(n)
	want := strings.Replace(pricesPage, "£6.90.</p>\r\n", "£7.40. Dogs go <small class=\"x\">free</small>.</p>\r\n", 1)
	if got := w.read("prices.html"); got != want {
		t.Errorf("the host has\n%q", got)
	}
	w.takeBack(rel, "prices.html", before)
}

// What an editor was shown last need not be numbered as on the live page.
func TestTypingGoesOnWhereSealedThingsAndWrappersWentAwayOrMoved(t *testing.T) {
	t.Parallel()
	for _, c := range []struct {
		name, was   string
		first, then func(string) string
		want        string
	}{
		{
			"a code went away", `Sold in [shop n="1"] and [shop n="2"] now`,
			func(s string) string { return s[:strings.Index(s, "<span")] + s[strings.LastIndex(s, "<span"):] },
			func(s string) string { return strings.Replace(s, "now", "today", 1) },
			`Sold in [shop n="2"] today`,
		},
		{
			"codes changed places", `[shop n="1"] before [shop n="2"] now`,
			func(s string) string {
				a, b, _ := strings.Cut(s, " before ")
				b, rest := b[:strings.Index(b, "</span>")+7], b[strings.Index(b, "</span>")+7:]
				return b + " before " + a + rest
			},
			func(s string) string { return strings.Replace(s, "now", "today", 1) },
			`[shop n="2"] before [shop n="1"] today`,
		},
		{
			"a wrapper went away", `<i class="a">One</i> <span class="b">two</span> <span class="c">three</span> now`,
			func(s string) string {
				return strings.Replace(s, s[strings.Index(s, "<span"):strings.Index(s, "</span>")+8], "", 1)
			},
			func(s string) string { return strings.Replace(s, "now", "today", 1) },
			`<i class="a">One</i> <span class="c">three</span> today`,
		},
		{
			"wrappers that are alike stay two", `<span class="b">two</span><span class="b">three</span> now`,
			func(s string) string { return strings.Replace(s, "now", "soon", 1) },
			func(s string) string { return strings.Replace(s, "soon", "today", 1) },
			`<span class="b">two</span><span class="b">three</span> today`,
		},
	} {
		t.Run(c.name, func(t *testing.T) {
			w, n := onPrices(t, strings.Replace(pricesPage, "A single is £6.90.", c.was, 1))
			for _, edit := range []func(string) string{c.first, c.then} {
				_, p := w.part(n, "/prices.html", "words", "")
				w.make(n, "/prices.html", &act.Markup{Part: p.ID, HTML: edit(p.Edit)})
			}
			draft := w.drafted(n, "/prices.html")
			if got, want := draft, strings.Replace(pricesPage, "A single is £6.90.", c.want, 1); got != want {
				t.Errorf("the draft is\n%s", got)
			}
		})
	}
}

func TestTypingGoesOnAfterAPartBecameAnotherBlock(t *testing.T) {
	t.Parallel()
	w, n := onPrices(t, pricesPage)
	_, p := w.part(n, "/prices.html", "words", "A single")
	v := w.split(n, "/prices.html", p.ID, "A single is £6.90.", "P")
	part := v.Keys["new"]
	for _, typed := range []struct {
		html string
		form change.Form
	}{
		{html: "Prams"}, {form: "h2"}, {html: "Prams go"}, {html: "Prams go free"}, {form: change.Bullets},
		{html: "Prams <em>go</em> free"}, {form: change.Paragraph}, {html: "Prams go free!"},
	} {
		if typed.form == "" {
			v = w.make(n, "/prices.html", &act.Markup{Part: part, HTML: typed.html})
			continue
		}
		v = w.make(n, "/prices.html", &act.Form{Part: part, Form: typed.form})
		part = *v.Made
	}
	draft := w.drafted(n, "/prices.html")
	if !strings.Contains(draft, "£6.90.</p>\r\n<p class=\"lead\">Prams go free!</p>\r\n") {
		t.Errorf("the draft is\n%s", draft)
	}
	w.dropAll(n, "/prices.html")
	if draft = w.drafted(n, "/prices.html"); draft != pricesPage {
		t.Errorf("taken back one by one: %q", draft)
	}
}

func TestColumnsOfATableChangeAndNothingAroundIt(t *testing.T) {
	t.Parallel()
	ctx := context.Background()
	w, n := onPrices(t, pricesPage)
	_, p := w.part(n, "/prices.html", "cell", "£6.90")
	v := w.make(n, "/prices.html", &act.Table{Part: p.ID, Table: change.ColumnAfter})
	_, p = w.part(n, "/prices.html", "cell", "Adult")
	v = w.make(n, "/prices.html", &act.Table{Part: p.ID, Table: change.RowBelow})
	_, p = w.part(n, "/prices.html", "cell", "Adult")
	v = w.make(n, "/prices.html", &act.Form{Part: p.ID, Form: "th"})
	if len(v.Changes) != 3 || v.Changes[0].Say != "Table under “Prices”: new column after, at “Adult, Single”" {
		t.Errorf("%+v", v.Changes)
	}
	kept, err := w.s.Change(ctx, v.Changes[0].ID)
	w.must(err)
	if !strings.HasPrefix(kept.BeforeHTML, "<table>") || strings.Count(kept.AfterHTML, "</th>") != strings.Count(kept.BeforeHTML, "</th>")+1 {
		t.Errorf("the change knows %q and %q", kept.BeforeHTML, kept.AfterHTML)
	}
	proof, err := w.d.Proof(ctx, n)
	w.must(err)
	for _, f := range proof.Pages[0].Findings {
		if f.Level == api.LevelStop {
			t.Errorf("%+v", f)
		}
	}
	draft := w.drafted(n, "/prices.html")
	want := strings.NewReplacer(
		"<th>Single</th>", "<th>Single</th>\r\n    <th></th>", "<td>Adult</td>", "<th scope=\"row\">Adult</th>",
		"<td>£6.90</td>\r\n  </tr>", "<td>£6.90</td>\r\n    <td></td>\r\n  </tr>\r\n  <tr>\r\n    <td></td>\r\n    <td></td>\r\n    <td></td>\r\n  </tr>",
	).Replace(pricesPage)
	if got := draft; got != want {
		t.Errorf("the draft is\n%q", got)
	}
}

func hasFinding(fs []api.Finding, rule string, level api.Level) bool {
	for _, f := range fs {
		if f.Rule == rule && f.Level == level {
			return true
		}
	}
	return false
}
