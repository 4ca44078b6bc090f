package work

import (
	"context"
	"errors"
	"io"
	"log/slog"
	"runtime"
	"sync"
	"sync/atomic"
	"testing"
	"time"

	"mendry/internal/localdb/dbtest"
	"mendry/internal/store"
)

func TestMain(m *testing.M) { dbtest.Main(m) }

// clock is a time that tests move on.
type clock struct{ at atomic.Int64 }

func (c *clock) now() time.Time { return time.UnixMicro(c.at.Load()).UTC() }

func (c *clock) pass(d time.Duration) { c.at.Add(d.Microseconds()) }

func begin(t *testing.T) (*store.Store, *clock, func(process string, kinds map[string]Do) *Runner) {
	t.Helper()
	s, err := store.Open(context.Background(), dbtest.DSN(t))
	if err != nil {
		t.Fatal(err)
	}
	t.Cleanup(func() { _ = s.Close() })
	c := &clock{}
	c.at.Store(time.Date(2026, 12, 1, 9, 0, 0, 0, time.UTC).UnixMicro())
	return s, c, func(process string, kinds map[string]Do) *Runner {
		return New(s, process, c.now, slog.New(slog.NewTextHandler(io.Discard, nil)), kinds)
	}
}

// ask asks for a job that is due now.
func ask(t *testing.T, s *store.Store, c *clock, about, lane string) {
	t.Helper()
	if err := s.AskJob(context.Background(), "count", about, lane, c.now()); err != nil {
		t.Fatal(err)
	}
}

// Each job is done once, whoever comes first, and two of a lane never at the same time.
func TestManyRunnersDoEachJobOnce(t *testing.T) {
	t.Parallel()
	s, c, runner := begin(t)
	const jobs, processes = 24, 4
	var mu sync.Mutex
	done, busy := map[string]int{}, map[string]bool{}
	do := func(_ context.Context, about string) (again time.Time, err error) {
		lane := about[:1]
		mu.Lock()
		if busy[lane] {
			t.Errorf("two of lane %s at the same time", lane)
		}
		busy[lane] = true
		mu.Unlock()
		runtime.Gosched() // others have their chance
		mu.Lock()
		defer mu.Unlock()
		busy[lane] = false
		done[about]++
		return again, nil
	}
	for i := range jobs {
		ask(t, s, c, string(rune('a'+i%3))+string(rune('a'+i)), "lane "+string(rune('a'+i%3)))
	}
	ctx, cancel := context.WithCancel(context.Background())
	var wg sync.WaitGroup
	for range processes {
		r := runner("one of several", map[string]Do{"count": do})
		wg.Go(func() { r.Run(ctx) })
	}
	end, tick := time.After(2*time.Minute), time.NewTicker(5*time.Millisecond)
	defer tick.Stop()
	all := func() bool {
		mu.Lock()
		defer mu.Unlock()
		return len(done) == jobs
	}
	for late := false; !all() && !late; {
		select {
		case <-end:
			late = true
		case <-tick.C:
		}
	}
	cancel()
	wg.Wait()
	for about, n := range done {
		if n != 1 {
			t.Errorf("%s was done %d times", about, n)
		}
	}
	if len(done) != jobs {
		t.Errorf("%d of %d jobs were done", len(done), jobs)
	}
}

// A job that fails, or panics, is tried again, later each time, and says why; one that has more to do is due when it
// says.
func TestAJobThatFailsIsTriedAgainLater(t *testing.T) {
	t.Parallel()
	ctx := context.Background()
	s, c, runner := begin(t)
	tries := 0
	r := runner("test", map[string]Do{"count": func(context.Context, string) (again time.Time, err error) {
		switch tries++; tries {
		case 1:
			return again, errors.New("the host is down")
		case 2:
			panic("a fault of ours")
		case 3:
			return c.now().Add(time.Hour), nil
		}
		return again, nil
	}})
	ask(t, s, c, "x", "x")
	for i, step := range []struct {
		after time.Duration // that it is due again
		said  string
	}{{time.Second, "the host is down"}, {2 * time.Second, "panic: a fault of ours"}, {time.Hour, ""}} {
		if !r.Next(ctx) || r.Next(ctx) {
			t.Fatalf("try %d: it is not done once", i+1)
		}
		j, err := s.JobOf(ctx, "count", "x")
		if err != nil || j.Said != step.said {
			t.Errorf("try %d: %+v %v", i+1, j, err)
		}
		c.pass(step.after - time.Millisecond)
		if r.Next(ctx) {
			t.Errorf("try %d: too early", i+2)
		}
		c.pass(time.Millisecond)
	}
	if !r.Next(ctx) {
		t.Error("it is not due again")
	}
	if _, err := s.JobOf(ctx, "count", "x"); !errors.Is(err, store.ErrNone) {
		t.Errorf("it is still there: %v", err)
	}
}

// One that was asked for again while it was under way is done once more; one whose process died is taken up by another
// process when its claim has run out.
func TestAJobIsTakenUp(t *testing.T) {
	t.Parallel()
	ctx := context.Background()
	s, c, runner := begin(t)
	done := 0
	r := runner("test", map[string]Do{"count": func(context.Context, string) (again time.Time, err error) {
		if done++; done == 1 {
			ask(t, s, c, "x", "x")
		}
		return again, nil
	}})
	ask(t, s, c, "x", "x")
	for r.Next(ctx) {
	}
	if done != 2 {
		t.Errorf("it was done %d times", done)
	}

	ask(t, s, c, "y", "y")
	if _, err := s.ClaimJob(ctx, "a process that dies", []string{"count"}, c.now(), c.now().Add(HoldFor)); err != nil {
		t.Fatal(err)
	}
	c.pass(HoldFor - time.Second)
	if r.Next(ctx) {
		t.Error("it is taken while it is held")
	}
	c.pass(2 * time.Second)
	if !r.Next(ctx) || done != 3 {
		t.Error("it is not taken up")
	}
}
