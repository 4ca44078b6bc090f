package desk

import (
	"context"
	"testing"

	"mendry/api"
	"mendry/internal/core/request"
)

// In the second round the client is told what they had said, whether it was changed since, and what will not be done.
func TestASecondRoundKnowsTheFirst(t *testing.T) {
	t.Parallel()
	ctx := context.Background()
	w := newWorld(t, false, "a")
	n := w.request("Leash, £7.40, and a sailing on 31 November.")
	_, err := w.d.AddWish(ctx, n, api.WishForm{Start: 21, End: 43})
	w.must(err)
	r, err := w.d.Request(ctx, n)
	w.must(err)
	no, why := api.WishStateImpossible, "November has 30 days."
	_, err = w.d.SetWish(ctx, w.who, n, r.Wishes[0].ID, api.WishSet{State: &no, Why: &why})
	w.must(err)
	w.must(w.keep(n, "/a.html", "On a lead.", "On a leash."))
	w.must(w.keep(n, "/a.html", "A single is £6.90.", "A single is £7.40."))
	round := func() api.ClientProof {
		t.Helper()
		_, err := w.d.SendProof(ctx, w.who, n)
		w.must(err)
		last, err := w.s.LastRound(ctx, n)
		w.must(err)
		shown, err := w.d.clientProof(ctx, last.ID)
		w.must(err)
		return shown
	}
	first := round()
	if len(first.NotDone) != 1 || !first.NotDone[0].Impossible || first.NotDone[0].Why != why {
		t.Errorf("what is not done: %+v", first.NotDone)
	}
	for _, c := range first.Changes {
		if c.Earlier != nil {
			t.Errorf("%s was answered before: %+v", c.Place, c.Earlier)
		}
	}
	last, err := w.s.LastRound(ctx, n)
	w.must(err)
	note := "In the tearoom too"
	answers := []api.ClientAnswer{{ChangeID: first.Changes[0].ID, Verdict: api.VerdictNotYet, Note: &note}, {ChangeID: first.Changes[1].ID, Verdict: api.VerdictRight}}
	p, err := w.d.proven(ctx, n)
	w.must(err)
	w.must(w.d.answer(ctx, w.s.Queries, p, last, api.AnswerForm{Answers: answers, Name: "Maren"}))
	row, err := w.s.RequestRow(ctx, n)
	if err != nil || row.State != string(request.InHand) || row.Answered == nil || requestRow(row).SignedName != "" {
		t.Errorf("after the answer: %+v %v", row, err)
	}
	w.must(w.keep(n, "/a.html", "On a leash.", "On a leash, in the tearoom too."))
	second := round()
	for i, want := range []api.Earlier{{Round: 1, Verdict: api.VerdictNotYet, Note: note, Same: false}, {Round: 1, Verdict: api.VerdictRight, Same: true}} {
		if got := second.Changes[i].Earlier; got == nil || *got != want {
			t.Errorf("%s: %+v, want %+v", second.Changes[i].Place, got, want)
		}
	}
}

// A date of the letter that cannot be stops until its wish is dealt with: done, when the page is looked at for itself,
// or not done, with the reason.
func TestADateInTheLetterIsSettledByItsWish(t *testing.T) {
	t.Parallel()
	ctx := context.Background()
	w := newWorld(t, true, "a")
	n := w.request("On a lead until 31 November.")
	stops := func() int {
		t.Helper()
		proof, err := w.d.Proof(ctx, n)
		w.must(err)
		stops := 0
		for _, f := range append(proof.Findings, proof.Pages[0].Findings...) {
			if f.Level == api.LevelStop {
				stops++
			}
		}
		return stops
	}
	r, err := w.d.AddWish(ctx, n, api.WishForm{Start: 0, End: 27})
	w.must(err)
	w.must(w.keep(n, "/a.html", "On a lead.", "On a lead until 31 November."))
	if got := stops(); got != 2 {
		t.Errorf("the letter and the page say what cannot be: %d stops", got)
	}
	w.must(w.keep(n, "/a.html", "On a lead until 31 November.", "On a lead until 30 November."))
	done := api.WishStateDone
	_, err = w.d.SetWish(ctx, w.who, n, r.Wishes[0].ID, api.WishSet{State: &done})
	w.must(err)
	if got := stops(); got != 0 {
		t.Errorf("settled on the page: %d stops", got)
	}
}
