package desk

import (
	"strings"
	"testing"

	"mendry/api"
	"mendry/internal/core/act"
	"mendry/internal/core/refusal"
	"mendry/internal/store"
)

// sent shows a request to the client and returns the link and what they see.
func (w *world) sent(n int64) (link string, v api.ClientProof) {
	w.t.Helper()
	ctx := w.t.Context()
	_, err := w.d.SendProof(ctx, w.who, n)
	w.must(err)
	return w.lastLink(n)
}

func (w *world) lastLink(n int64) (link string, v api.ClientProof) {
	w.t.Helper()
	mails, err := w.s.MailsOf(w.t.Context(), n)
	w.must(err)
	for _, m := range mails { // the newest first; what was signed is sent without a link
		if _, rest, ok := strings.Cut(m.Body, "http://mendry.example/p/"); ok {
			link, _, _ = strings.Cut(rest, "\n")
			break
		}
	}
	v, err = w.d.OpenProof(w.t.Context(), link)
	w.must(err)
	return link, v
}

// saying is an answer to every change of a round.
func saying(v api.ClientProof, name, note string) api.AnswerForm {
	f := api.AnswerForm{Name: name, Round: v.Round}
	for _, c := range v.Changes {
		a := api.ClientAnswer{ChangeID: c.ID, Verdict: api.VerdictRight}
		if note != "" {
			a.Verdict, a.Note = api.VerdictNotYet, &note
		}
		f.Answers = append(f.Answers, a)
	}
	return f
}

// What a second phone writes into a round that was answered, or overtaken, is passed on: kept, told and in the record.
func TestNothingThatAClientWritesIsThrownAway(t *testing.T) {
	t.Parallel()
	ctx := t.Context()
	w := newWorld(t, false, "a")
	n := w.request("x")
	w.must(w.keep(n, "/a.html", "On a lead.", "On a leash."))
	link, shown := w.sent(n)
	if _, err := w.d.Answer(ctx, link, saying(shown, " ", "No.")); err == nil || !strings.Contains(err.Error(), "name") {
		t.Errorf("notes of nobody: %v", err)
	}
	first := saying(shown, "Maren", "")
	first.More = "And the opening hours, one day."
	v, err := w.d.Answer(ctx, link, first)
	if err != nil || v.State != "signed" || v.PassedOn || v.Live {
		t.Fatalf("signed: %+v %v", v, err)
	}
	if v, err = w.d.Answer(ctx, link, first); err != nil || v.PassedOn { // its answer was lost, and it is sent again
		t.Errorf("the same again: passed on %v, %v", v.PassedOn, err)
	}
	second := saying(shown, "Joss", "Say “a short leash”.")
	for range 2 {
		if v, err = w.d.Answer(ctx, link, second); err != nil || !v.PassedOn || v.State != "signed" {
			t.Errorf("a second phone: %s, passed on %v, %v", v.State, v.PassedOn, err)
		}
	}
	round := w.proof(n).Round
	if round.AnsweredBy != "Maren" || round.More != first.More || len(round.Late) != 1 || round.Late[0].Note != "Say “a short leash”." || round.Late[0].Name != "Joss" {
		t.Errorf("the studio sees %+v", round)
	}
	w.must(w.keep(n, "/a.html", "On a leash.", "On a short leash."))
	newLink, shown := w.sent(n)
	if shown.Round != 2 || newLink == link {
		t.Fatalf("round %d", shown.Round)
	}
	if old, err := w.d.OpenProof(ctx, link); err != nil || old.Round != 2 || old.State != "open" {
		t.Errorf("the old link leads to round %d, %s: %v", old.Round, old.State, err)
	}
	if v, err = w.d.Answer(ctx, link, first); err != nil || v.PassedOn || v.Round != 2 || v.State != "open" {
		t.Errorf("what was said in round 1, from its page: %s of round %d, %v", v.State, v.Round, err)
	}
	third := saying(shown, "Joss", "Not “leash”.")
	third.Round = 1 // a page that stood open since
	if v, err = w.d.Answer(ctx, link, third); err != nil || !v.PassedOn || v.State != "open" {
		t.Errorf("an answer to what is no longer shown: %s, %v", v.State, err)
	}
	rec, err := w.d.Record(ctx, w.site.ID, n, 0)
	w.must(err)
	once := 0
	for _, e := range rec.Entries {
		if e.What == "client wrote once more" {
			once++
		}
	}
	if once != 2 || !rec.Whole {
		t.Errorf("%d times in the record", once)
	}
	other := "sam@larkspur.example" // who was sent the old link is not who is sent the new one
	round1, err := w.s.RoundN(ctx, n, 1)
	w.must(err)
	_, err = w.s.AddRound(ctx, store.Round{RequestID: n, N: 3, TokenHash: hash([]byte("x")), SentTo: other, SentAt: round1.SentAt, ExpiresAt: round1.ExpiresAt})
	w.must(err)
	if old, err := w.d.OpenProof(ctx, link); err != nil || old.Round != 2 || old.State != "stale" {
		t.Errorf("an old link shows somebody else's round %d, %s: %v", old.Round, old.State, err)
	}
}

// A reminder carries the link that the client has, in its own words, for as long as the round waits for an answer.
func TestAReminderHasTheSameLink(t *testing.T) {
	t.Parallel()
	ctx := t.Context()
	w := newWorld(t, false, "a")
	n := w.request("x")
	w.must(w.keep(n, "/a.html", "On a lead.", "On a leash."))
	if _, err := w.d.RemindClient(ctx, w.who, n); !refusal.Is(err, refusal.Rule) {
		t.Errorf("nothing was sent: %v", err)
	}
	link, shown := w.sent(n)
	if v := w.proof(n); !v.CanRemind {
		t.Error("it waits for an answer, and nobody may be reminded")
	}
	v, err := w.d.RemindClient(ctx, w.who, n)
	if err != nil || v.Round.N != 1 || v.Round.RemindedAt == nil || v.Row.State != api.RequestStateWithClient {
		t.Fatalf("%+v %v", v.Round, err)
	}
	mails, err := w.s.MailsOf(ctx, n)
	w.must(err)
	again, _ := w.lastLink(n)
	last := mails[0]
	if len(mails) != 2 || again != link || !strings.Contains(last.Body, "same link as before") || last.Subject == mails[1].Subject {
		t.Errorf("%d letters, the last one %q:\n%s", len(mails), last.Subject, last.Body)
	}
	_, err = w.d.Answer(ctx, link, saying(shown, "Maren", ""))
	w.must(err)
	if _, err := w.d.RemindClient(ctx, w.who, n); !refusal.Is(err, refusal.Rule) || w.proof(n).CanRemind {
		t.Errorf("reminded of what was answered: %v", err)
	}
}

func TestAPageIsCalledByItsTitleWithoutTheSite(t *testing.T) {
	t.Parallel()
	for title, want := range map[string]string{
		"Fares and passes | Larkspur Ferries": "Fares and passes", "Fares – Larkspur Ferries": "Fares", "Larkspur Ferries": "Larkspur Ferries",
		"Fares": "Fares", "About Larkspur Ferries": "About Larkspur Ferries", "": "",
	} {
		if got := titleOf(title, "Larkspur Ferries"); got != want {
			t.Errorf("%q is %q, want %q", title, got, want)
		}
	}
}

// The client reads of a link's target which page it is, and of the home page that it is that.
func TestTheClientReadsWhereALinkLeadsByThePagesName(t *testing.T) {
	t.Parallel()
	w := newWorld(t, true)
	w.write("index.html", `<!doctype html><title>Ferries</title><main><h1>Ferries</h1><p><a href="a.html">See more</a></p></main>`)
	w.write("a.html", "<!doctype html><title>Fares</title><main><h1>A</h1><p>A.</p></main>")
	w.write("b.html", "<!doctype html><title>Groups</title><main><h1>B</h1><p>B.</p></main>")
	w.takeIn()
	n := w.request("See more leads to groups, please.")
	v, err := w.d.Site(t.Context(), w.site.ID)
	w.must(err)
	for _, p := range v.Pages {
		w.pages[p.Address] = p.ID
	}
	b, link := w.part(n, "/", "link", "See more")
	_, err = w.d.Keep(t.Context(), w.who, n, w.pages["/"], Ask{Draft: b.Draft, Act: &act.Attribute{Part: link.ID, Name: "href", Words: "b.html"}})
	w.must(err)
	_, seen := w.sent(n)
	if c := seen.Changes[0]; c.BeforeWords != "Fares" || c.AfterWords != "Groups" || c.PageTitle != "Home page" || len(c.Words) != 2 {
		t.Errorf("%+v", c)
	}
}

func TestALinkLeadsToAPageByItsName(t *testing.T) {
	t.Parallel()
	names := calledBy([]store.PageRow{{Address: "/", Title: "Larkspur Ferries"}, {Address: "/fares.html", Title: "Fares | Larkspur Ferries"}}, "Larkspur Ferries")
	for href, want := range map[string]string{
		"fares.html": "Fares", "../": "Home page", "/fares.html#dogs": "Fares", "#dogs": "a place on this page", "/gone.html": "/gone.html",
		"mailto:quay@ferry.example": "quay@ferry.example", "tel:01632960110": "01632960110", "https://maps.example/": "https://maps.example/",
	} {
		if got := names.target("/groups.html", href); got != want {
			t.Errorf("%q leads to %q, want %q", href, got, want)
		}
	}
}
