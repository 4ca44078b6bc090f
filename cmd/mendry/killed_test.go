package main

import (
	"context"
	"fmt"
	"math/rand/v2"
	"strings"
	"testing"
	"time"

	"mendry/api"
	"mendry/internal/core/act"
	"mendry/internal/desk"
	"mendry/internal/standin"
	"mendry/internal/tries"
)

// Mendry is killed (SIGKILL) at random moments while a change of a shared part goes out to all pages of a site and is
// taken back again. Each time every page is old or new, and what the journal says of it is so; started again, it goes
// on until it is done, by itself. MENDRY_KILLS sets how often, else a few times; MENDRY_PAGES how many pages, else 40.
func TestKilledAtRandomWhileASharedPartGoesOut(t *testing.T) {
	kills, many := tries.Number("MENDRY_KILLS", 3, 100), tries.Number("MENDRY_PAGES", 40, 500)
	ctx := context.Background()
	w, site, pages := newPages(t, many)
	w.host.SetFaults(standin.Fault{Slow: 30 * time.Millisecond}) // so that a release takes a while
	random := rand.New(rand.NewPCG(13, 6))
	r, err := w.desk.AddRequest(ctx, w.who, api.RequestForm{SiteID: site, Letter: "Another fare on all pages", Kind: api.RequestKindMail})
	w.must(err)
	was, killed, inTheMiddle := fares, 0, 0
	// A machine that has much else to do hears late of how far a release came: then it is killed more often.
	left := func() int {
		if inTheMiddle == 0 && killed < 10*kills {
			return max(1, kills-killed)
		}
		return kills - killed
	}
	for round := 0; left() > 0; round++ {
		fare := fmt.Sprintf("£7.%02d", round%100)
		b, err := w.desk.Bench(ctx, r.Row.Number, pages[0].ID)
		w.must(err)
		_, err = w.desk.ChooseShared(ctx, w.who, r.Row.Number, pages[0].ID, "cell-4", true)
		w.must(err)
		_, err = w.desk.Keep(ctx, w.who, r.Row.Number, pages[0].ID, desk.Ask{Draft: b.Draft, Act: &act.Words{Part: "cell-4", Words: fare}})
		w.must(err)
		_, err = w.desk.Move(ctx, w.who, r.Row.Number, api.RequestStateCleared, "")
		w.must(err)
		rel, err := w.desk.Publish(ctx, w.who, r.Row.Number, nil)
		w.must(err)
		if len(rel.Steps) != many {
			t.Fatalf("round %d goes out to %d pages", round, len(rel.Steps))
		}
		is := strings.Replace(fares, "£6.90", fare, 1)
		k, middle := w.killUntilDone(rel.ID, was, is, random, left())
		killed, inTheMiddle = killed+k, inTheMiddle+middle
		back, err := w.desk.Steer(ctx, w.who, rel.ID, "take-back")
		w.must(err)
		k, middle = w.killUntilDone(back.ID, is, was, random, left())
		killed, inTheMiddle = killed+k, inTheMiddle+middle
		_, err = w.desk.Bench(ctx, r.Row.Number, pages[0].ID)
		w.must(err)
	}
	rec, err := w.desk.Record(ctx, 0, 0, 0)
	if err != nil || !rec.Whole {
		t.Errorf("record: %v %s", err, rec.Fault)
	}
	t.Logf("killed %d times over %d pages, %d times with some pages old and some new", killed, many, inTheMiddle)
	if kills > 5 && inTheMiddle == 0 {
		t.Error("it was never killed in the middle")
	}
}

// killUntilDone starts Mendry and kills it at a random moment, at most so often, until a release is seen to be right.
func (w *tenPages) killUntilDone(release int64, old, now string, random *rand.Rand, most int) (killed, inTheMiddle int) {
	w.t.Helper()
	for killed < most && !written(w.progress(release)) {
		c := w.start()
		begun := w.progress(release)
		until := begun.Written + random.IntN(max(1, begun.Of-begun.Written+1))
		w.until("the release comes so far", func() bool {
			p := w.progress(release)
			return p.Written >= until || written(p)
		})
		time.Sleep(time.Duration(random.IntN(12_000)) * time.Microsecond) // a moment has no condition to wait for
		w.must(c.Process.Kill())
		_ = c.Wait()
		w.nothingIsHeld()
		killed++
		if w.oldOrNew(release, old, now) {
			inTheMiddle++
		}
	}
	c := w.start()
	defer func() {
		_ = c.Process.Kill()
		_ = c.Wait()
	}()
	w.settled(release)
	if w.oldOrNew(release, old, now) {
		w.t.Error("pages are left behind")
	}
	return killed, inTheMiddle
}

// nothingIsHeld makes what a killed Mendry held free at once, not after the time that a claim lasts.
func (w *tenPages) nothingIsHeld() {
	w.t.Helper()
	_, err := w.store.DB().Exec(`UPDATE job SET claimed_until = UTC_TIMESTAMP(6) - INTERVAL 1 SECOND WHERE claimed_until IS NOT NULL`)
	w.must(err)
}

// written reports whether all of a release is on its host.
func written(p api.ReleaseProgress) bool {
	return p.Written == p.Of || p.State == api.ReleaseStateLive || p.State == api.ReleaseStateSure
}

func (w *tenPages) progress(release int64) api.ReleaseProgress {
	w.t.Helper()
	p, err := w.desk.WatchRelease(context.Background(), release)
	w.must(err)
	return p
}

// oldOrNew checks that every page is old or new, as the journal says, and reports whether there are both.
func (w *tenPages) oldOrNew(release int64, old, now string) bool {
	w.t.Helper()
	rel, err := w.desk.Release(context.Background(), release)
	w.must(err)
	olds, news := 0, 0
	for _, s := range rel.Steps {
		switch got := w.file(s.Path); got {
		case old:
			olds++
			if s.State == api.StepStateWritten {
				w.t.Errorf("%s is old, and written in the journal", s.Path)
			}
		case now:
			news++
			if s.State == api.StepStateWaiting {
				w.t.Errorf("%s is new, and waiting in the journal", s.Path)
			}
		default:
			w.t.Errorf("%s is neither old nor new:\n%s", s.Path, got)
		}
	}
	return olds > 0 && news > 0
}
