package desk

import (
	"strings"
	"testing"

	"mendry/api"
	"mendry/internal/core/request"
)

// What the client said “not yet” to is cleared by the studio only with a reason, and the record names what they said and
// the reason; what they called right, or what was taken out since, asks for none.
func TestNobodyClearsOverTheClientWithoutAReason(t *testing.T) {
	t.Parallel()
	ctx := t.Context()
	w := newWorld(t, true, "a")
	n := w.request("x")
	w.must(w.keep(n, "/a.html", "On a lead.", "On a leash."))
	w.must(w.keep(n, "/a.html", "A single is £6.90.", "A single is £7.40."))
	answer := func(first api.Verdict, note string) {
		t.Helper()
		_, err := w.d.SendProof(ctx, w.who, n)
		w.must(err)
		last, err := w.s.LastRound(ctx, n)
		w.must(err)
		shown, err := w.d.clientProof(ctx, last.ID)
		w.must(err)
		p, err := w.d.proven(ctx, n)
		w.must(err)
		w.must(w.d.answer(ctx, w.s.Queries, p, last, api.AnswerForm{Name: "Maren", Answers: []api.ClientAnswer{
			{ChangeID: shown.Changes[0].ID, Verdict: first, Note: &note}, {ChangeID: shown.Changes[1].ID, Verdict: api.VerdictNotYet, Note: &note},
		}}))
	}
	says := func(want ...string) {
		t.Helper()
		v, err := w.d.Proof(ctx, n)
		w.must(err)
		var got []string
		for _, s := range v.NotYet {
			got = append(got, s.Note)
		}
		if strings.Join(got, "|") != strings.Join(want, "|") {
			t.Errorf("they said not yet: %q, wanted %q", got, want)
		}
	}
	says()
	answer(api.VerdictNotYet, "Not like this")
	says("Not like this", "Not like this")
	answer(api.VerdictRight, "In winter too")
	says("In winter too")
	w.must(w.keep(n, "/a.html", "A single is £7.40.", "A single is £7.40, in winter too.")) // what they asked for, as we think
	says("In winter too")
	for _, why := range []string{"", " \n"} {
		if _, err := w.d.Move(ctx, w.who, n, api.RequestStateCleared, why); err == nil || !strings.Contains(err.Error(), "Say why") {
			t.Errorf("cleared because of %q: %v", why, err)
		}
	}
	r, err := w.d.Move(ctx, w.who, n, api.RequestStateCleared, "They said so on the telephone.")
	if err != nil || r.Row.State != api.RequestState(request.Cleared) {
		t.Fatalf("%s %v", r.Row.State, err)
	}
	record, err := w.d.Record(ctx, w.site.ID, 0, 0)
	w.must(err)
	told := record.Entries[0].Say // the last one stands first
	for _, want := range []string{"terms allow it", "Maren", "round 2", "In winter too", "They said so on the telephone."} {
		if !strings.Contains(told, want) {
			t.Errorf("the record does not say %q: %s", want, told)
		}
	}
	if strings.Contains(told, "Not like this") {
		t.Errorf("the record says what was settled: %s", told)
	}
	w.dropAll(n, "/a.html")
	w.must(w.keep(n, "/a.html", "On a lead.", "On a leash."))
	says()
	w.clear(n)
}
