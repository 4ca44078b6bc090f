package desk

import (
	"context"
	"errors"
	"slices"
	"strings"
	"sync"
	"testing"
	"time"

	"mendry/api"
	"mendry/internal/core/act"
	"mendry/internal/core/change"
	"mendry/internal/core/refusal"
	"mendry/internal/standin"
	"mendry/internal/store"
	"mendry/internal/tries"
)

func TestKeptNotLiveThenLiveThenBack(t *testing.T) {
	t.Parallel()
	ctx := context.Background()
	w := newWorld(t, true, "a")
	before := w.read("a.html")
	n := w.request("The single is £7.40 now.")
	w.must(w.keep(n, "/a.html", "A single is £6.90.", "A single is £7.40."))
	if w.read("a.html") != before {
		t.Fatal("keeping a change reached the host")
	}
	rel := w.goLive(n)
	if want := strings.Replace(before, "6.90", "7.40", 1); w.read("a.html") != want {
		t.Errorf("the host has\n%s", w.read("a.html"))
	}
	w.takeBack(rel, "a.html", before)
	view, err := w.d.Record(ctx, w.site.ID, 0, 0)
	if err != nil || !view.Whole {
		t.Errorf("record: %v %s", err, view.Fault)
	}
}

func TestTypingBackTakesTheChangeOut(t *testing.T) {
	t.Parallel()
	w := newWorld(t, true, "a")
	n := w.request("x")
	w.must(w.keep(n, "/a.html", "On a lead.", "On a leash."))
	w.must(w.keep(n, "/a.html", "On a leash.", "On a short leash."))
	thread, err := w.d.thread(context.Background(), n)
	if err != nil || len(thread) != 1 || thread[0].BeforeWords != "On a lead." || thread[0].AfterWords != "On a short leash." {
		t.Fatalf("%+v %v", thread, err)
	}
	w.must(w.keep(n, "/a.html", "On a short leash.", "On a lead."))
	if thread, err = w.d.thread(context.Background(), n); err != nil || len(thread) != 0 {
		t.Errorf("%+v %v", thread, err)
	}
}

func TestAChangeIsRewrittenPastAMoveButNotPastACopy(t *testing.T) {
	t.Parallel()
	ctx := context.Background()
	w := newWorld(t, true, "a")
	n := w.request("x")
	page := w.pages["/a.html"]
	do := func(a func(section string) act.Act) {
		b, err := w.d.Bench(ctx, n, page)
		w.must(err)
		i := slices.IndexFunc(b.Parts, func(p api.Part) bool { return p.Kind == "section" })
		_, err = w.d.Keep(ctx, w.who, n, page, Ask{Draft: b.Draft, Act: a(b.Parts[i].ID)})
		w.must(err)
	}
	w.must(w.keep(n, "/a.html", "On a lead.", "On a leash."))
	do(func(id string) act.Act { return &act.Move{Part: id, Anchor: "heading-1", Where: change.Before} })
	w.must(w.keep(n, "/a.html", "On a leash.", "On a short leash."))
	do(func(id string) act.Act { return &act.Copy{Part: id} })
	w.must(w.keep(n, "/a.html", "On a short leash.", "Not at all."))
	dr, err := w.d.draftOf(ctx, w.s.Queries, n, page)
	w.must(err)
	got := string(dr.Page().Doc.Bytes)
	if strings.Count(got, "On a short leash.") != 1 || strings.Count(got, "Not at all.") != 1 || strings.Contains(got, "On a lead.") {
		t.Errorf("draft\n%s", got)
	}
	if len(dr.changes) != 4 || dr.changes[0].AfterWords != "On a short leash." {
		t.Errorf("%d changes, the first says %q", len(dr.changes), dr.changes[0].AfterWords)
	}
}

func TestAStaleBenchIsToldAndLosesNothing(t *testing.T) {
	t.Parallel()
	ctx := context.Background()
	w := newWorld(t, true, "a")
	n := w.request("x")
	b, err := w.d.Bench(ctx, n, w.pages["/a.html"])
	w.must(err)
	w.must(w.keep(n, "/a.html", "On a lead.", "On a leash."))
	id, words := "heading-1", "Other"
	_, err = w.d.Keep(ctx, w.who, n, w.pages["/a.html"], Ask{Draft: b.Draft, Act: &act.Words{Part: id, Words: words}})
	if !refusal.Is(err, refusal.Stale) {
		t.Errorf("err = %v", err)
	}
}

func TestWhatWasClearedIsWhatIsPublished(t *testing.T) {
	t.Parallel()
	ctx := context.Background()
	w := newWorld(t, true, "a", "b")
	n := w.request("x")
	w.must(w.keep(n, "/a.html", "On a lead.", "On a leash."))
	w.clear(n)
	w.must(w.keep(n, "/b.html", "On a lead.", "On a leash.")) // after the clearance
	if _, err := w.d.Publish(ctx, w.who, n, nil); err == nil || !strings.Contains(err.Error(), "not cleared") {
		t.Errorf("err = %v", err)
	}
	p, err := w.d.Proof(ctx, n)
	if err != nil || p.CanPublish {
		t.Errorf("can publish: %v %v", p.CanPublish, err)
	}
}

// A page that changed under a clearance is not what was cleared, though the request still is.
func TestWhatChangedUnderAClearanceIsNotPublished(t *testing.T) {
	t.Parallel()
	ctx := context.Background()
	w := newWorld(t, true, "a")
	n := w.request("x")
	w.must(w.keep(n, "/a.html", "On a lead.", "On a leash."))
	w.clear(n)
	w.write("a.html", strings.Replace(w.read("a.html"), "£6.90", "£7.00", 1))
	w.must(w.d.TakeInPage(ctx, w.who, w.pages["/a.html"]))
	if _, err := w.d.Publish(ctx, w.who, n, nil); err == nil || !strings.Contains(err.Error(), "no longer what was cleared") {
		t.Errorf("err = %v", err)
	}
	if p, err := w.d.Proof(ctx, n); err != nil || p.CanPublish || p.Pages[0].Cleared {
		t.Errorf("%+v %v", p, err)
	}
}

// Two people publish to one page at the same moment: one wins, the other is told, and nothing is lost.
func TestTwoPeopleRaceToPublish(t *testing.T) {
	t.Parallel()
	ctx := context.Background()
	w := newWorld(t, true, "a")
	one, two := w.request("one"), w.request("two")
	w.must(w.keep(one, "/a.html", "On a lead.", "On a red lead."))
	w.must(w.keep(two, "/a.html", "On a lead.", "On a blue lead."))
	w.clear(one)
	w.clear(two)
	var rels [2]int64
	for i, n := range []int64{one, two} {
		r, err := w.d.Publish(ctx, w.who, n, nil)
		w.must(err)
		rels[i] = r.ID
	}
	other := w.desk("other process")
	var wg sync.WaitGroup
	for _, d := range []*Desk{w.d, other} {
		wg.Go(func() {
			for d.DoNext(ctx) {
			}
		})
	}
	wg.Wait()
	first, second := w.settle(rels[0]), w.settle(rels[1])
	won, lost, loser, kept := first, second, two, "On a blue lead."
	if first.State == api.ReleaseStateStopped {
		won, lost, loser, kept = second, first, one, "On a red lead."
	}
	if won.State != api.ReleaseStateSure || lost.State != api.ReleaseStateStopped || !strings.Contains(lost.Said, "changed by another release") {
		t.Fatalf("%s (%s) and %s (%s)", first.State, first.Said, second.State, second.Said)
	}
	thread, err := w.d.thread(ctx, loser)
	if err != nil || len(thread) != 1 || thread[0].State != api.ChangeStateGoing {
		t.Errorf("what the stopped release carries: %+v %v", thread, err)
	}
	_, err = w.d.Steer(ctx, w.who, lost.ID, api.ReleaseActLeave)
	w.must(err)
	thread, err = w.d.thread(ctx, loser)
	if err != nil || len(thread) != 1 || thread[0].State != api.ChangeStateKept || thread[0].AfterWords != kept {
		t.Errorf("the loser's change: %+v %v", thread, err)
	}
	b, err := w.d.Bench(ctx, loser, w.pages["/a.html"])
	if err != nil || !strings.Contains(b.Conflict, "changed elsewhere") {
		t.Errorf("the loser is not told on the bench: %q %v", b.Conflict, err)
	}
}

func TestAnEditByOthersIsNeverOverwritten(t *testing.T) {
	t.Parallel()
	ctx := context.Background()
	w := newWorld(t, true, "a", "b")
	n := w.request("x")
	w.must(w.keep(n, "/a.html", "On a lead.", "On a leash."))
	w.must(w.keep(n, "/b.html", "On a lead.", "On a leash."))
	w.clear(n)
	a, theirs := w.read("a.html"), strings.Replace(w.read("b.html"), "6.90", "7.00", 1)
	w.write("b.html", theirs)
	rel, err := w.d.Publish(ctx, w.who, n, nil)
	w.must(err)
	if got := w.settle(rel.ID); got.State != api.ReleaseStateStopped {
		t.Fatalf("release is %s", got.State)
	}
	if w.read("b.html") != theirs || w.read("a.html") != a {
		t.Error("a release that cannot be whole wrote something")
	}
	look, err := w.d.LookAtPage(ctx, w.pages["/b.html"])
	if err != nil || look.Same || len(look.Differences) != 1 || !strings.Contains(look.Differences[0].Say, "£6.90") {
		t.Errorf("%+v %v", look, err)
	}
	w.must(w.d.TakeInPage(ctx, w.who, w.pages["/b.html"]))
	b, err := w.d.Bench(ctx, n, w.pages["/b.html"])
	if err != nil || b.Conflict != "" {
		t.Errorf("their edit of another part: %q %v", b.Conflict, err)
	}
	back, err := w.d.Steer(ctx, w.who, rel.ID, "take-back")
	w.must(err)
	w.settle(back.ID)
	rel = w.goLive(n)
	if want := strings.Replace(theirs, "On a lead.", "On a leash.", 1); w.read("b.html") != want {
		t.Errorf("both edits should stand:\n%s", w.read("b.html"))
	}
}

func TestAFailingHostStopsTheReleaseAndItGoesOnLater(t *testing.T) {
	t.Parallel()
	ctx := context.Background()
	for _, status := range []int{401, 403, 404, 423, 500, 507} {
		w := newWorld(t, true, "a", "b", "c")
		n := w.request("x")
		for _, p := range []string{"/a.html", "/b.html", "/c.html"} {
			w.must(w.keep(n, p, "On a lead.", "On a leash."))
		}
		w.clear(n)
		w.host.SetFaults(standin.Fault{Status: status, Method: "PUT", Path: "b.html"})
		rel, err := w.d.Publish(ctx, w.who, n, nil)
		w.must(err)
		if got := w.settle(rel.ID); got.State != api.ReleaseStateStopped || got.Said == "" {
			t.Fatalf("%d: release is %s %q", status, got.State, got.Said)
		}
		thread, err := w.d.thread(ctx, n)
		w.must(err)
		for _, c := range thread {
			isNew := strings.Contains(w.read(strings.TrimPrefix(c.Address, "/")), "On a leash.")
			if isNew != (c.State == api.ChangeStateLive) || c.Address == "/b.html" && isNew {
				t.Errorf("%d: %s is %s, new at the host: %v", status, c.Address, c.State, isNew)
			}
		}
		w.host.SetFaults()
		_, err = w.d.Steer(ctx, w.who, rel.ID, "go-on")
		w.must(err)
		if got := w.settle(rel.ID); got.State != api.ReleaseStateSure {
			t.Errorf("%d: gone on: %s %q", status, got.State, got.Said)
		}
	}
}

func TestACacheIsNamedAsTheReason(t *testing.T) {
	t.Parallel()
	ctx := context.Background()
	w := newWorld(t, true, "a")
	w.host.Keep = time.Hour
	n := w.request("x")
	w.must(w.keep(n, "/a.html", "On a lead.", "On a leash."))
	w.clear(n)
	if _, err := w.d.visits.Get(ctx, w.site.PublicURL+"a.html"); err != nil { // a visitor fills the cache
		t.Fatal(err)
	}
	rel, err := w.d.Publish(ctx, w.who, n, nil)
	w.must(err)
	var got api.Release
	w.until("the release is done", func() bool {
		w.d.DoNext(ctx)
		got, err = w.d.Release(ctx, rel.ID)
		return err != nil || got.State != api.ReleaseStateWaiting && got.State != api.ReleaseStateRunning
	})
	if err != nil || got.State != api.ReleaseStateLive || !strings.Contains(got.Steps[0].Said, "A cache still gives visitors the old page") {
		t.Fatalf("%s %+v %v", got.State, got.Steps, err)
	}
	w.host.Flush()
	_, err = w.d.Steer(ctx, w.who, rel.ID, api.ReleaseActLook)
	w.must(err)
	if got := w.settle(rel.ID); got.State != api.ReleaseStateSure {
		t.Errorf("after the cache: %s", got.State)
	}
}

func TestPagesThatCannotBeEditedAreTakenInLocked(t *testing.T) {
	t.Parallel()
	dir := map[string]string{
		"utf16.html": "\xff\xfe<\x00p\x00>\x00x\x00", "data.html": "\x00\x01\x02\x03 no page at all", "big.html": "<p>" + strings.Repeat("x", 20<<20),
	}
	w := newWorld(t, true, "a")
	for name, content := range dir {
		w.write(name, content)
	}
	ctx := context.Background()
	w.must(w.d.TakeIn(ctx, w.site.ID))
	var v api.SiteView
	w.until("taken in again", func() bool {
		w.d.DoNext(ctx)
		var err error
		v, err = w.d.Site(ctx, w.site.ID)
		w.must(err)
		return v.Site.State == api.SiteStateReady && len(v.Pages) == 4
	})
	want := map[string]string{"/utf16.html": "UTF-16", "/data.html": "no HTML page", "/big.html": "20 MB", "/a.html": ""}
	n := w.request("x")
	for _, p := range v.Pages {
		if why := want[p.Address]; (why == "") != (p.Locked == "") || !strings.Contains(p.Locked, why) {
			t.Errorf("%s: %q", p.Address, p.Locked)
		}
		b, err := w.d.Bench(ctx, n, p.ID)
		if err != nil || (p.Locked != "") != (len(b.Parts) == 0) {
			t.Errorf("%s on the bench: %d parts, %v", p.Address, len(b.Parts), err)
		}
	}
}

func TestTheClientsLinkOpensOneRequestOnly(t *testing.T) {
	t.Parallel()
	ctx := context.Background()
	w := newWorld(t, false, "a")
	n := w.request("x")
	w.must(w.keep(n, "/a.html", "On a lead.", "On a leash."))
	_, err := w.d.SendProof(ctx, w.who, n)
	w.must(err)
	mails, err := w.s.MailsOf(ctx, n)
	w.must(err)
	_, link, _ := strings.Cut(mails[0].Body, "http://mendry.example/p/")
	link, _, _ = strings.Cut(link, "\n")
	if _, err := w.d.OpenProof(ctx, "aaaaaaaaaaaaaaaaaaaaaaaaaa"); err == nil {
		t.Error("a guessed link opens something")
	}
	v, err := w.d.OpenProof(ctx, link)
	if err != nil || v.State != "open" || len(v.Changes) != 1 {
		t.Fatalf("%+v %v", v, err)
	}
	answer := api.AnswerForm{Round: 1, Answers: []api.ClientAnswer{{ChangeID: v.Changes[0].ID, Verdict: api.VerdictRight}}}
	if _, err := w.d.Answer(ctx, link, answer); err == nil || !strings.Contains(err.Error(), "name") {
		t.Errorf("unsigned: %v", err)
	}
	w.must(w.keep(n, "/a.html", "On a leash.", "On a long leash.")) // while the client looks
	answer.Name = "Maren"
	v, err = w.d.Answer(ctx, link, answer)
	if r, _ := w.d.Request(ctx, n); err != nil || v.State != "stale" || !v.PassedOn || r.Row.State == api.RequestStateCleared {
		t.Errorf("signed something else than was shown: %s %v", v.State, err)
	}
}

func TestSignInIsSlowedDown(t *testing.T) {
	t.Parallel()
	ctx := context.Background()
	w := newWorld(t, false)
	if _, err := w.d.SignIn(ctx, "INES ", "harbour lane", "192.0.2.1"); err != nil {
		t.Fatal(err)
	}
	for range 5 {
		if _, err := w.d.SignIn(ctx, "ines", "wrong", "192.0.2.1"); !refusal.Is(err, refusal.Forbidden) {
			t.Fatalf("err = %v", err)
		}
	}
	if _, err := w.d.SignIn(ctx, "ines", "harbour lane", "192.0.2.1"); !refusal.Is(err, refusal.TooMany) {
		t.Errorf("a sixth try: %v", err)
	}
}

// RFC 9106, 5.3: a test vector is for the bare function; here the form of the stored string is what counts.
func TestPasswordsAreHashedWithTheirParameters(t *testing.T) {
	t.Parallel()
	h := HashPassword("harbour lane")
	if !strings.HasPrefix(h, "$argon2id$v=19$m=19456,t=2,p=1$") || !rightPassword(h, "harbour lane") || rightPassword(h, "harbour lane ") {
		t.Errorf("%s", h)
	}
	for _, bad := range []string{"", "x", "$argon2id$v=19$m=1,t=1,p=1$$", "$argon2i$v=19$m=1,t=1,p=1$YQ$YQ"} {
		if rightPassword(bad, "") {
			t.Errorf("%q accepts the empty password", bad)
		}
	}
}

func TestHostPasswordsAreSealed(t *testing.T) {
	t.Parallel()
	ctx := context.Background()
	w := newWorld(t, false)
	s, err := w.s.SiteHost(ctx, w.site.ID, "live")
	w.must(err)
	if strings.Contains(string(s.Secret), "keeper") {
		t.Error("the password lies open in the database")
	}
	other, err := New(w.s, Config{Secret: []byte(strings.Repeat("k", 32)), Clock: tries.Clock, Log: w.d.Log})
	w.must(err)
	if _, err := other.unseal(s.Secret); err == nil {
		t.Error("another secret opens it")
	}
	if _, err := w.s.Site(ctx, 999); !errors.Is(err, store.ErrNone) {
		t.Errorf("no such site: %v", err)
	}
}
