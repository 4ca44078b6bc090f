package act_test

import (
	"strings"
	"testing"

	"mendry/internal/core/act"
	"mendry/internal/core/change"
	"mendry/internal/core/page"
	"mendry/internal/core/refusal"
	"mendry/internal/foreign"
)

func TestASectionIsBorrowed(t *testing.T) {
	d := draft(t, fares)
	live := string(d.Page().Doc.Bytes)
	part := id(t, d, "On a lead.")
	kept := do(t, d, &act.Borrow{Part: part, Where: change.After, Page: 7, Section: "any", Kept: true})
	got := string(kept.Draft.Page().Doc.Bytes)
	for _, want := range []string{`<section class="row"><div class="col"><h2>The crew</h2>`, `src="crew/img/crew.jpg" alt="The crew"`} {
		if !strings.Contains(got, want) {
			t.Errorf("%s\nhas no %s", got, want)
		}
	}
	if c := kept.Effects[0].Change; c.Kind != act.OfSection || !strings.Contains(c.Say, "“Crew”") {
		t.Errorf("%+v", c)
	}
	emptied := do(t, d, &act.Borrow{Part: part, Page: 7, Section: "any"})
	if got := string(emptied.Draft.Page().Doc.Bytes); strings.Contains(got, "Seven") ||
		!strings.Contains(got, "<h2>New heading</h2><p>New words</p>") {
		t.Errorf("%s", got)
	}
	back, err := emptied.Draft.Without(emptied.Effects[0].Change.ID)
	if err != nil || string(back.Page().Doc.Bytes) != live {
		t.Errorf("not as before: %v", err)
	}
	if _, err := act.Do(d, &act.Borrow{Part: part, Page: 8, Section: "any"}, studio{}); refusal.Of(err) == nil {
		t.Errorf("%v", err)
	}
}

var kinds = []page.Sample{
	page.SampleWords, page.SampleBeside, page.SampleTwo, page.SampleWide, page.SampleThree, page.SampleQuestions, page.SampleVoices,
	page.SampleCall, page.SamplePosts,
}

// A plain beginning stands behind the last section of every page that nobody here wrote: the page gets no parse error
// more (as html5lib counts them), what was begun is read as what it is, and it is taken back to the very bytes.
func TestStartersOnPagesNobodyHereWrote(t *testing.T) {
	t.Parallel()
	names, files := foreign.Templates(t)
	done := 0
	var olds, news []string
	for i, name := range names {
		p, err := page.Parse(foreign.Read(t, files[name]), "")
		if err != nil {
			t.Fatal(err)
		}
		lends := p.Lends()
		if len(lends) == 0 {
			continue
		}
		d := draft(t, string(p.Doc.Bytes))
		kind := kinds[i%len(kinds)]
		r, err := act.Do(d, &act.Starter{Part: lends[len(lends)-1].Part.ID, Kind: kind}, studio{})
		if err != nil {
			t.Errorf("%s, %s: %v", name, kind, err)
			continue
		}
		done++
		after := r.Draft.Page()
		olds, news = append(olds, string(d.Page().Doc.Bytes)), append(news, string(after.Doc.Bytes))
		if made, ok := after.Part(r.Made); !ok || change.Prompt(made.Text) == "" {
			t.Errorf("%s, %s: %+v is what one goes on in", name, kind, made)
		}
		back, err := r.Draft.Without(r.Effects[0].Change.ID)
		if err != nil || string(back.Page().Doc.Bytes) != string(d.Page().Doc.Bytes) {
			t.Errorf("%s, %s: not as before: %v", name, kind, err)
		}
	}
	was, is := foreign.ParseErrors(t, olds), foreign.ParseErrors(t, news)
	for i := range was {
		if is[i] > was[i] {
			t.Errorf("%d parse errors become %d with\n%s", was[i], is[i], news[i][max(0, len(news[i])-300):])
		}
	}
	t.Logf("%d beginnings", done)
	if done < 30 {
		t.Error("too few")
	}
}

// Each kind is read as what it is: what the site has afterwards can be borrowed as that.
func TestAStarterIsASampleOfItsKind(t *testing.T) {
	for _, kind := range kinds {
		d := draft(
			t,
			"<html><head><title>Boats</title></head><body><main><h1>Boats</h1><section><h2>Fares</h2><p>A single is £6.90.</p><ul><li>One</li></ul></section></main></body></html>",
		)
		r := do(t, d, &act.Starter{Part: d.Page().Lends()[0].Part.ID, Kind: kind})
		lends := r.Draft.Page().Lends()
		got := lends[len(lends)-1].Sample
		for _, l := range lends {
			if strings.HasPrefix(l.Part.HTML, "<section>\n<h2>New heading") {
				got = l.Sample
			}
		}
		want := map[page.Sample]page.Sample{page.SampleWide: page.SampleTwo, page.SamplePosts: ""}[kind] // a post without a day is none yet
		if _, other := map[page.Sample]bool{page.SampleWide: true, page.SamplePosts: true}[kind]; !other {
			want = kind
		}
		if got != want && !(kind == page.SamplePosts && got == page.SampleThree) {
			t.Errorf("%s is taken for %q\n%s", kind, got, r.Draft.Page().Doc.Bytes)
		}
	}
}
