package desk

import (
	"strings"
	"testing"

	"mendry/api"
	"mendry/internal/core/refusal"
)

// signed is a request with one change on each page, shown to the client, called right and signed.
func (w *world) signed(addresses ...string) int64 {
	w.t.Helper()
	ctx := w.t.Context()
	n := w.request("x")
	for _, a := range addresses {
		w.must(w.keep(n, a, "On a lead.", "On a leash."))
	}
	_, err := w.d.SendProof(ctx, w.who, n)
	w.must(err)
	last, err := w.s.LastRound(ctx, n)
	w.must(err)
	cs, err := w.s.RoundChanges(ctx, last.ID)
	w.must(err)
	form := api.AnswerForm{Name: "Maren"}
	for _, c := range cs {
		form.Answers = append(form.Answers, api.ClientAnswer{ChangeID: c.ChangeID, Verdict: api.VerdictRight})
	}
	p, err := w.d.proven(ctx, n)
	w.must(err)
	w.must(w.d.answer(ctx, w.s.Queries, p, last, form))
	return n
}

// edit is what somebody else does to a page on its host; it is taken in where that is said.
func (w *world) edit(name, old, new string, takeIn bool) {
	w.t.Helper()
	was := w.read(name)
	if !strings.Contains(was, old) {
		w.t.Fatalf("%s does not say %q", name, old)
	}
	w.write(name, strings.Replace(was, old, new, 1))
	if takeIn {
		w.must(w.d.TakeInPage(w.t.Context(), w.who, w.pages["/"+name]))
	}
}

func (w *world) proof(n int64) api.Proof {
	w.t.Helper()
	v, err := w.d.Proof(w.t.Context(), n)
	w.must(err)
	return v
}

// Somebody else edits another sentence of the page between clearance and publishing: the release stops, their edit is
// taken in, and what the client called right stands once somebody agreed to what others did; all of it in the record.
func TestWhatWasClearedStandsBesideAnEditOfOthers(t *testing.T) {
	t.Parallel()
	ctx := t.Context()
	w := newWorld(t, false, "a", "b")
	n := w.signed("/a.html", "/b.html")
	if v := w.proof(n); !v.CanPublish || v.Edited != nil {
		t.Fatalf("signed: %q %+v", v.WhyNotPublish, v.Edited)
	}
	w.edit("a.html", "£6.90", "£7.00", false)
	look, err := w.d.LookAtPages(ctx, n)
	if err != nil || len(look.Pages) != 1 || look.Pages[0].Page.Address != "/a.html" || !strings.Contains(look.Pages[0].Theirs[0].Say, "£7.00") {
		t.Errorf("the look before publishing: %+v %v", look, err)
	}
	rel, err := w.d.Publish(ctx, w.who, n, nil)
	w.must(err)
	if rel = w.settle(rel.ID); rel.State != api.ReleaseStateStopped || !strings.Contains(rel.Said, "whether the clearance still holds") {
		t.Fatalf("%s: %s", rel.State, rel.Said)
	}
	w.steer(rel.ID, api.ReleaseActLeave)
	w.must(w.d.TakeInPage(ctx, w.who, w.pages["/a.html"]))
	v := w.proof(n)
	if v.CanPublish || !strings.Contains(v.WhyNotPublish, "Others edited /a.html") || v.Edited == nil || v.Edited.WhyNot != "" {
		t.Fatalf("their edit taken in: %q %+v", v.WhyNotPublish, v.Edited)
	}
	if e := v.Edited; e.Round != 1 || e.SignedName != "Maren" || len(e.Pages) != 1 || len(e.Pages[0].Theirs) != 1 {
		t.Errorf("%+v", e)
	}
	first := v.Edited.Agreed
	w.edit("a.html", "Page a</h1>", "Page A</h1>", true)
	if _, err := w.d.CarryClearance(ctx, w.who, n, first); !refusal.Is(err, refusal.Stale) {
		t.Errorf("agreed to what was shown before they edited again: %v", err)
	}
	v, err = w.d.CarryClearance(ctx, w.who, n, w.proof(n).Edited.Agreed)
	if err != nil || !v.CanPublish || v.Round.N != 2 || v.Round.Carries == nil || *v.Round.Carries != 1 || len(v.Round.Answers) != 2 || v.Round.Answers[0].Verdict != api.VerdictRight {
		t.Fatalf("carried: %+v %v", v.Round, err)
	}
	w.edit("a.html", "Quay", "Pier", true) // and once more
	again := w.proof(n)
	if again.Edited == nil || again.Edited.Round != 1 || len(again.Edited.Pages[0].Theirs) != 1 {
		t.Fatalf("edited once more: %+v", again.Edited)
	}
	_, err = w.d.CarryClearance(ctx, w.who, n, again.Edited.Agreed)
	w.must(err)
	want := strings.Replace(w.read("a.html"), "On a lead.", "On a leash.", 1)
	rel, err = w.d.Publish(ctx, w.who, n, nil)
	w.must(err)
	if rel = w.settle(rel.ID); rel.State != api.ReleaseStateSure || w.read("a.html") != want {
		t.Errorf("%s: %s\n%s", rel.State, rel.Said, w.read("a.html"))
	}
	rec, err := w.d.Record(ctx, w.site.ID, n, 0)
	w.must(err)
	said := 0
	for _, e := range rec.Entries {
		if e.What == "clearance carried over" {
			said++
			if !strings.Contains(e.Say, "round 1, signed Maren") || !strings.Contains(e.Say, "/a.html (") || e.Who != w.who.Name {
				t.Errorf("the record: %+v", e)
			}
		}
	}
	if said != 2 || !rec.Whole {
		t.Errorf("%d times in the record, whole: %v", said, rec.Whole)
	}
}

func TestWhereAClearanceDoesNotHold(t *testing.T) {
	t.Parallel()
	ctx := t.Context()
	w := newWorld(t, false, "a", "b", "c", "d")
	for name, tt := range map[string]struct {
		old, new, why string
	}{
		"a.html": {"On a lead.", "On a short lead.", "was changed elsewhere"},
		"b.html": {"<section>", `<section class="off">`, "is made differently now"},
		"c.html": {"<section><h2>Dogs</h2><p>On a lead.</p></section>", "", "no longer"},
	} {
		n := w.signed("/" + name)
		w.edit(name, tt.old, tt.new, true)
		v := w.proof(n)
		if v.CanPublish || v.Edited == nil || !strings.Contains(v.Edited.WhyNot, tt.why) {
			t.Errorf("%s: %v %+v", name, v.CanPublish, v.Edited)
			continue
		}
		if _, err := w.d.CarryClearance(ctx, w.who, n, v.Edited.Agreed); err == nil {
			t.Errorf("%s: carried over all the same", name)
		}
	}
	n := w.signed("/d.html") // what we did ourselves is no edit of others
	w.edit("d.html", "£6.90", "£7.00", true)
	w.must(w.keep(n, "/d.html", "On a leash.", "On a long leash."))
	if v := w.proof(n); v.Edited != nil || v.CanPublish {
		t.Errorf("changed on the bench since: %+v", v.Edited)
	}
}

// Where the client's terms let the studio clear, one act clears what others edited since.
func TestTheStudioClearsAgainWhatOthersEdited(t *testing.T) {
	t.Parallel()
	w := newWorld(t, true, "a")
	n := w.request("x")
	w.must(w.keep(n, "/a.html", "On a lead.", "On a leash."))
	w.clear(n)
	if v := w.proof(n); v.CanClear || !v.CanPublish {
		t.Fatalf("cleared: %+v", v)
	}
	w.edit("a.html", "<section>", `<section class="off">`, true)
	if v := w.proof(n); !v.CanClear || v.CanPublish {
		t.Fatalf("edited by others since: %v %v", v.CanClear, v.CanPublish)
	}
	w.goLive(n)
}
