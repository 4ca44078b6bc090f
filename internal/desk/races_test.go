package desk

import (
	"context"
	"fmt"
	"math/rand/v2"
	"slices"
	"strings"
	"sync"
	"testing"
	"time"

	"mendry/api"
	"mendry/internal/core/act"
	"mendry/internal/core/refusal"
	"mendry/internal/standin"
	"mendry/internal/tries"
)

// lead is the part that the race is about: the words of the page that begin with "On ".
func (w *world) lead(n int64) (api.Bench, api.Part) {
	b, err := w.d.Bench(context.Background(), n, w.pages["/a.html"])
	w.must(err)
	i := slices.IndexFunc(b.Parts, func(p api.Part) bool { return p.Kind == "words" && strings.HasPrefix(p.Text, "On ") })
	if i < 0 {
		w.t.Fatalf("the words are gone: %+v, conflict %q", b.Parts, b.Conflict)
	}
	return b, b.Parts[i]
}

// answered takes a refusal for an answer, and any other error for a fault. It reports whether the act was done.
func (w *world) answered(err error, what string) bool {
	w.t.Helper()
	if err != nil && refusal.Of(err) == nil {
		w.t.Errorf("%s: %v", what, err)
	}
	return err == nil
}

// Whatever a maintainer does on the bench while a release runs or is stopped: what was answered as kept is in the
// draft or on the host, and host, thread and record say the same. MENDRY_RACES sets how many rounds are run.
func TestNothingKeptIsLostWhileAReleaseRuns(t *testing.T) {
	t.Parallel()
	ctx := context.Background()
	w := newWorld(t, true, "a")
	other := w.desk("other process")
	ends := map[api.ReleaseState]int{}
	done, refused := 0, 0
	for seed := range tries.Number("MENDRY_RACES", 10, 1000) {
		random := rand.New(rand.NewPCG(uint64(seed), 3))
		n := w.request("x")
		b, p := w.lead(n)
		_, err := w.d.Keep(ctx, w.who, n, w.pages["/a.html"], Ask{Draft: b.Draft, Act: &act.Words{Part: p.ID, Words: fmt.Sprintf("On lead %d.", seed)}})
		w.must(err)
		w.clear(n)
		rel, err := w.d.Publish(ctx, w.who, n, nil)
		w.must(err)
		if random.IntN(2) == 0 {
			w.host.SetFaults(standin.Fault{Status: 507, Method: "PUT", Times: 1})
		}
		want := w.drafted(n, "/a.html")
		pauses := [4]time.Duration{}
		for i := range pauses {
			pauses[i] = time.Duration(random.IntN(9000)) * time.Microsecond // to meet the release at another moment in each round
		}
		var wg sync.WaitGroup
		for _, d := range []*Desk{w.d, other} {
			wg.Go(func() {
				for range 3 {
					d.DoNext(ctx)
				}
			})
		}
		wg.Go(func() { // the maintainer
			for i, pause := range pauses {
				time.Sleep(pause)
				b, p := w.lead(n)
				var err error
				if i == 2 {
					kept := slices.IndexFunc(b.Changes, func(c api.Change) bool { return c.State == api.ChangeStateKept || c.State == api.ChangeStateGoing })
					if kept < 0 {
						continue
					}
					_, err = w.d.Drop(ctx, w.who, n, b.Changes[kept].ID)
				} else {
					_, err = w.d.Keep(ctx, w.who, n, w.pages["/a.html"], Ask{Draft: b.Draft, Act: &act.Words{Part: p.ID, Words: fmt.Sprintf("On lead %d, typed %d.", seed, i)}})
				}
				if w.answered(err, fmt.Sprintf("round %d, act %d", seed, i)) {
					want = w.drafted(n, "/a.html")
					done++
				} else {
					refused++
				}
			}
		})
		wg.Wait()
		w.host.SetFaults()
		got := w.settle(rel.ID)
		ends[got.State]++
		if now := w.drafted(n, "/a.html"); now != want {
			t.Fatalf("round %d, release %s: the draft was\n%s\nand is\n%s", seed, got.State, want, now)
		}
		if got.State == api.ReleaseStateStopped {
			act := []api.ReleaseAct{api.ReleaseActGoOn, api.ReleaseActLeave, api.ReleaseActTakeBack}[random.IntN(3)]
			after, err := w.d.Steer(ctx, w.who, rel.ID, act)
			w.must(err)
			got = w.settle(after.ID)
			if now := w.drafted(n, "/a.html"); now != want {
				t.Fatalf("round %d, %s: the draft was\n%s\nand is\n%s", seed, act, want, now)
			}
		}
		w.agree(n, seed)
		w.dropAllKept(n)
	}
	t.Logf("%d acts were done, %d refused; releases ended %v", done, refused, ends)
	v, err := w.d.Record(ctx, w.site.ID, 0, 0)
	if err != nil || !v.Whole {
		t.Errorf("the record: %v %s", err, v.Fault)
	}
}

// agree holds the host against what Mendry says of it: the last of a request's changes that is live stands there.
func (w *world) agree(n int64, round int) {
	w.t.Helper()
	ctx := context.Background()
	host := w.read("a.html")
	row, err := w.s.Page(ctx, w.pages["/a.html"])
	w.must(err)
	if hash([]byte(host)) != row.Hash {
		w.t.Errorf("round %d: the host has another page than Mendry says", round)
	}
	thread, err := w.d.thread(ctx, n)
	w.must(err)
	last := -1
	for i, c := range thread {
		switch c.State {
		case api.ChangeStateGoing:
			w.t.Errorf("round %d: %s is still going", round, c.Say)
		case api.ChangeStateLive, api.ChangeStateSure:
			last = i
		}
	}
	for i, c := range thread {
		if on := strings.Contains(host, "<p>"+c.AfterWords+"</p>"); on != (i == last) && c.State != api.ChangeStateUndone {
			w.t.Errorf("round %d: %q is %s, and on the host: %v\n%s", round, c.AfterWords, c.State, on, host)
		}
	}
}

// dropAllKept takes back every change that is kept, the last ones first.
func (w *world) dropAllKept(n int64) {
	w.t.Helper()
	ctx := context.Background()
	thread, err := w.d.thread(ctx, n)
	w.must(err)
	slices.Reverse(thread)
	for _, c := range thread {
		if c.State == api.ChangeStateKept {
			_, err := w.d.Drop(ctx, w.who, n, c.ID)
			w.must(err)
		}
	}
}

// Many people keep on one site at the same time: everybody gets an answer, and what was answered is kept. MENDRY_KEEPS
// sets how many keeps are made.
func TestManyPeopleKeepAtTheSameTime(t *testing.T) {
	t.Parallel()
	ctx := context.Background()
	w := newWorld(t, true, "a", "b", "c", "d", "e")
	const people = 50
	each := max(tries.Number("MENDRY_KEEPS", 100, 10_000)/people, 1)
	var wg sync.WaitGroup
	var mu sync.Mutex
	kept, late := 0, 0
	var numbers []int64
	for range people / 2 { // two in each request
		numbers = append(numbers, w.request("x"))
	}
	for i := range people {
		wg.Go(func() {
			number, address := numbers[i/2], fmt.Sprintf("/%c.html", 'a'+i%5)
			for k := range each {
				b, err := w.d.Bench(ctx, number, w.pages[address])
				if err != nil {
					t.Error(err)
					return
				}
				p := b.Parts[slices.IndexFunc(b.Parts, func(p api.Part) bool { return p.Kind == "words" })]
				_, err = w.d.Keep(ctx, w.who, number, w.pages[address], Ask{Draft: b.Draft, Act: &act.Words{Part: p.ID, Words: fmt.Sprintf("Words %d of %d.", k, i)}, Here: true})
				mu.Lock()
				switch {
				case err == nil:
					kept++
				case refusal.Is(err, refusal.Stale):
					late++
				default:
					t.Errorf("person %d: %v", i, err)
				}
				mu.Unlock()
			}
		})
	}
	wg.Wait()
	if kept < people {
		t.Errorf("only %d were kept, %d late", kept, late)
	}
	t.Logf("%d keeps, %d too late", kept, late)
	v, err := w.d.Record(ctx, w.site.ID, 0, 0)
	if err != nil || !v.Whole {
		t.Errorf("the record: %v %s", err, v.Fault)
	}
}

// stoppedUndo is a release of two pages whose undo stopped, because somebody changed the second page since.
func (w *world) stoppedUndo(theirs string) (n int64, rel, undo api.Release) {
	w.t.Helper()
	n = w.request("x")
	for _, address := range []string{"/a.html", "/b.html"} {
		w.must(w.keep(n, address, "On a lead.", "On a leash."))
	}
	rel = w.goLive(n)
	w.write("b.html", theirs)
	undo, err := w.d.Steer(context.Background(), w.who, rel.ID, api.ReleaseActTakeBack)
	w.must(err)
	if undo = w.settle(undo.ID); undo.State != api.ReleaseStateStopped {
		w.t.Fatalf("the undo is %s", undo.State)
	}
	return n, rel, undo
}

// lastSent is the file of a.html and b.html that a release writes second: pages go by their number, and numbers are
// given as pages arrive. The other one is returned too.
func (w *world) lastSent() (first, last string) {
	if w.pages["/a.html"] < w.pages["/b.html"] {
		return "a.html", "b.html"
	}
	return "b.html", "a.html"
}

func (w *world) steer(id int64, act api.ReleaseAct) api.Release {
	w.t.Helper()
	r, err := w.d.Steer(context.Background(), w.who, id, act)
	w.must(err)
	return w.settle(r.ID)
}

func TestEveryWayOutOfAStoppedUndo(t *testing.T) {
	t.Parallel()
	ctx := context.Background()
	changed := func(w *world) string { return strings.Replace(w.read("b.html"), "On a lead.", "On a leash.", 1) }

	t.Run("put right", func(t *testing.T) {
		w := newWorld(t, true, "a", "b")
		a, b := w.read("a.html"), w.read("b.html")
		_, rel, undo := w.stoppedUndo(strings.Replace(changed(w), "£6.90", "£7.00", 1))
		if got := w.steer(undo.ID, api.ReleaseActPutRight); got.State != api.ReleaseStateSure {
			t.Fatalf("%s: %s", got.State, got.Said)
		}
		if w.read("a.html") != a || w.read("b.html") != strings.Replace(b, "£6.90", "£7.00", 1) {
			t.Errorf("the host has\n%s", w.read("b.html"))
		}
		if was, err := w.d.Release(ctx, rel.ID); err != nil || was.State != api.ReleaseStateTakenBack {
			t.Errorf("what was undone is %s, %v", was.State, err)
		}
	})
	t.Run("put right in the same words", func(t *testing.T) {
		w := newWorld(t, true, "a", "b")
		_, _, undo := w.stoppedUndo(strings.Replace(w.read("b.html"), "On a lead.", "Not on Sundays.", 1))
		theirs := w.read("b.html")
		if _, err := w.d.Steer(ctx, w.who, undo.ID, api.ReleaseActPutRight); !refusal.Is(err, refusal.Rule) || !strings.Contains(err.Error(), "the same words") {
			t.Errorf("err = %v", err)
		}
		if w.read("b.html") != theirs {
			t.Error("their words were overwritten")
		}
	})
	t.Run("go on", func(t *testing.T) {
		w := newWorld(t, true, "a", "b")
		b := w.read("b.html")
		_, _, undo := w.stoppedUndo("<p>Broken.</p>")
		w.write("b.html", strings.Replace(b, "On a lead.", "On a leash.", 1)) // they put it right
		if got := w.steer(undo.ID, api.ReleaseActGoOn); got.State != api.ReleaseStateSure || w.read("b.html") != b {
			t.Errorf("%s: %s\n%s", got.State, got.Said, w.read("b.html"))
		}
	})
	t.Run("leave", func(t *testing.T) {
		w := newWorld(t, true, "a", "b")
		n, rel, undo := w.stoppedUndo("<p>Theirs.</p>")
		if got := w.steer(undo.ID, api.ReleaseActLeave); got.State != api.ReleaseStateLeft || w.read("b.html") != "<p>Theirs.</p>" {
			t.Fatalf("%s: %s", got.State, got.Said)
		}
		if was, err := w.d.Release(ctx, rel.ID); err != nil || was.State != api.ReleaseStateSure {
			t.Errorf("what was to be undone is %s, %v", was.State, err)
		}
		w.must(w.keep(n, "/a.html", "On a leash.", "On a blue leash.")) // and work goes on
		w.clear(n)
		if _, err := w.d.Publish(ctx, w.who, n, []int64{w.pages["/a.html"]}); err != nil {
			t.Error(err)
		}
	})
	t.Run("leave half of it", func(t *testing.T) {
		w := newWorld(t, true, "a", "b")
		first, last := w.lastSent()
		was := w.read(first)
		n := w.request("x")
		for _, address := range []string{"/" + first, "/" + last} {
			w.must(w.keep(n, address, "On a lead.", "On a leash."))
		}
		rel := w.goLive(n)
		w.host.SetFaults(standin.Fault{Status: 507, Method: "PUT", Path: last})
		undo := w.steer(rel.ID, api.ReleaseActTakeBack)
		w.host.SetFaults()
		if undo.State != api.ReleaseStateStopped || w.read(first) != was {
			t.Fatalf("%s: %s", undo.State, undo.Said)
		}
		if got := w.steer(undo.ID, api.ReleaseActLeave); got.State != api.ReleaseStateSure {
			t.Fatalf("%s: %s", got.State, got.Said)
		}
		thread, err := w.d.thread(ctx, n)
		if err != nil || len(thread) != 2 || thread[0].State != api.ChangeStateUndone || thread[1].State != api.ChangeStateSure {
			t.Errorf("%+v %v", thread, err)
		}
		again := w.steer(rel.ID, api.ReleaseActTakeBack) // the other half
		if again.State != api.ReleaseStateSure || len(again.Steps) != 1 || strings.Contains(w.read(last), "leash") {
			t.Errorf("%s: %+v", again.State, again.Steps)
		}
		if undone, err := w.d.Release(ctx, rel.ID); err != nil || undone.State != api.ReleaseStateTakenBack {
			t.Errorf("what was undone is %s, %v", undone.State, err)
		}
	})
}

func TestAStoppedReleaseIsTakenBackOnlyWhenItIs(t *testing.T) {
	t.Parallel()
	ctx := context.Background()
	w := newWorld(t, true, "a", "b")
	first, last := w.lastSent()
	was := w.read(first)
	n := w.request("x")
	for _, address := range []string{"/" + first, "/" + last} {
		w.must(w.keep(n, address, "On a lead.", "On a leash."))
	}
	w.clear(n)
	w.host.SetFaults(standin.Fault{Status: 507, Method: "PUT", Path: last})
	rel, err := w.d.Publish(ctx, w.who, n, nil)
	w.must(err)
	if rel = w.settle(rel.ID); rel.State != api.ReleaseStateStopped {
		t.Fatalf("%s", rel.State)
	}
	w.host.SetFaults(standin.Fault{Status: 507, Method: "PUT"})
	undo := w.steer(rel.ID, api.ReleaseActTakeBack)
	if rel, err = w.d.Release(ctx, rel.ID); err != nil || rel.State != api.ReleaseStateStopped || undo.State != api.ReleaseStateStopped || len(rel.Acts) != 0 {
		t.Fatalf("while it is being undone: %s with %v, the undo %s; %v", rel.State, rel.Acts, undo.State, err)
	}
	w.host.SetFaults()
	if undo = w.steer(undo.ID, api.ReleaseActGoOn); undo.State != api.ReleaseStateSure || w.read(first) != was {
		t.Fatalf("%s %s", undo.State, undo.Said)
	}
	thread, err := w.d.thread(ctx, n)
	if err != nil || thread[0].State != api.ChangeStateUndone || thread[1].State != api.ChangeStateKept {
		t.Errorf("%+v %v", thread, err)
	}
	if rel, err = w.d.Release(ctx, rel.ID); err != nil || rel.State != api.ReleaseStateTakenBack {
		t.Errorf("%s %v", rel.State, err)
	}
}

// A page that is published again before visitors were seen to get it is not somebody else's.
func TestAPageIsPublishedAgainBeforeItWasSeen(t *testing.T) {
	t.Parallel()
	ctx := context.Background()
	w := newWorld(t, true, "a")
	w.host.Keep = time.Hour
	if _, err := w.d.visits.Get(ctx, w.site.PublicURL+"a.html"); err != nil { // a visitor fills the cache
		t.Fatal(err)
	}
	publish := func(n int64, old, new string) api.Release {
		w.must(w.keep(n, "/a.html", old, new))
		w.clear(n)
		rel, err := w.d.Publish(ctx, w.who, n, nil)
		w.must(err)
		w.until("the release is live", func() bool { // other jobs may come before it
			w.d.DoNext(ctx)
			rel, err = w.d.Release(ctx, rel.ID)
			return err != nil || rel.State != api.ReleaseStateWaiting && rel.State != api.ReleaseStateRunning
		})
		if err != nil || rel.State != api.ReleaseStateLive {
			t.Fatalf("%s %v", rel.State, err)
		}
		return rel
	}
	first := publish(w.request("x"), "On a lead.", "On a leash.")
	second := publish(w.request("y"), "On a leash.", "On a short leash.")
	w.host.Flush()
	for _, id := range []int64{first.ID, second.ID} {
		_, err := w.d.Steer(ctx, w.who, id, api.ReleaseActLook)
		w.must(err)
	}
	if got := w.settle(first.ID); got.State != api.ReleaseStateSure || got.Steps[0].HostSeen != "later" || strings.Contains(got.Steps[0].Said, "somebody") {
		t.Errorf("the first: %s %+v", got.State, got.Steps)
	}
	if got := w.settle(second.ID); got.State != api.ReleaseStateSure || got.Steps[0].HostSeen != "right" {
		t.Errorf("the second: %s %+v", got.State, got.Steps)
	}
}

func TestAfterUndoingWordsThatStandAreNoConflict(t *testing.T) {
	t.Parallel()
	ctx := context.Background()
	w := newWorld(t, true, "a")
	n := w.request("x")
	w.must(w.keep(n, "/a.html", "On a lead.", "On a leash."))
	rel := w.goLive(n)
	w.must(w.keep(n, "/a.html", "On a leash.", "On a lead."))
	w.takeBack(rel, "a.html", fmt.Sprintf(testPage, "a", "a"))
	b, err := w.d.Bench(ctx, n, w.pages["/a.html"])
	if err != nil || b.Conflict != "" || b.Kept != 1 {
		t.Errorf("conflict %q, %d kept, %v", b.Conflict, b.Kept, err)
	}
	w.must(w.keep(n, "/a.html", "A single is £6.90.", "A single is £7.40."))
}

// One slow host holds up its own site only.
func TestASlowHostHoldsUpItsOwnSiteOnly(t *testing.T) {
	t.Parallel()
	ctx, cancel := context.WithCancel(context.Background())
	slow, quick := newWorld(t, true, "a"), newWorld(t, true, "a")
	quick.onDeskOf(slow)
	slow.host.SetFaults(standin.Fault{Slow: time.Hour})
	var held []int64
	for range 3 { // more than one release of it waits
		n := slow.request("x")
		slow.must(slow.keep(n, "/a.html", "On a lead.", "On a leash."))
		slow.clear(n)
		rel, err := slow.d.Publish(ctx, slow.who, n, nil)
		slow.must(err)
		held = append(held, rel.ID)
	}
	n := quick.request("y")
	quick.must(quick.keep(n, "/a.html", "On a lead.", "On a leash."))
	quick.clear(n)
	rel, err := quick.d.Publish(ctx, quick.who, n, nil)
	quick.must(err)
	var wg sync.WaitGroup
	defer wg.Wait()
	defer cancel()
	wg.Go(func() { slow.d.Work(ctx) })
	quick.until("the quick one is live", func() bool {
		r, err := quick.d.Release(ctx, rel.ID)
		quick.must(err)
		return r.State == api.ReleaseStateSure
	})
	for _, id := range held { // it did not wait for any of them
		r, err := slow.d.Release(ctx, id)
		slow.must(err)
		if r.State != api.ReleaseStateWaiting && r.State != api.ReleaseStateRunning {
			t.Errorf("release %d of the slow host is %s already", id, r.State)
		}
	}
}

// The client's link shows what was sent, whatever is typed since.
func TestTheClientSeesTheBytesOfTheirRound(t *testing.T) {
	t.Parallel()
	ctx := context.Background()
	w := newWorld(t, false, "a")
	n := w.request("x")
	w.must(w.keep(n, "/a.html", "On a lead.", "On a leash."))
	_, err := w.d.SendProof(ctx, w.who, n)
	w.must(err)
	round, err := w.s.LastRound(ctx, n)
	w.must(err)
	shown, err := w.d.clientProof(ctx, round.ID)
	w.must(err)
	sent := w.drafted(n, "/a.html")
	w.must(w.keep(n, "/a.html", "On a leash.", "On a secret leash."))
	w.write("a.html", strings.Replace(w.read("a.html"), "£6.90", "£9.90", 1))
	w.must(w.d.TakeInPage(ctx, w.who, w.pages["/a.html"]))
	for view, want := range map[string]string{shown.Pages[0].DraftURL: sent, shown.Pages[0].LiveURL: fmt.Sprintf(testPage, "a", "a")} {
		token, _, _ := strings.Cut(strings.TrimPrefix(view, "http://"), ".")
		v, err := w.d.View(ctx, token)
		w.must(err)
		c, err := w.d.ViewFile(ctx, v, "/a.html", "")
		if err != nil || string(c.Bytes) != want {
			t.Errorf("%s shows\n%s\n%v", view, c.Bytes, err)
		}
	}
}
