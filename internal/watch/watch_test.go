package watch

import (
	"context"
	"errors"
	"fmt"
	"log/slog"
	"slices"
	"sync"
	"sync/atomic"
	"testing"
	"time"
)

// bench is a page whose draft is a number.
type bench struct {
	*Pages
	t     *testing.T
	draft atomic.Int64
	fails atomic.Bool
	asked atomic.Int64
}

var here = Page{Request: 201, ID: 7}

func newBench(t *testing.T) *bench {
	b := &bench{t: t}
	state := func(context.Context, Page) (string, error) {
		b.asked.Add(1)
		if b.fails.Load() {
			return "", errors.New("away")
		}
		return fmt.Sprint("draft ", b.draft.Load()), nil
	}
	b.Pages = New(Config{Mark: state, Draft: state, Every: 20 * time.Millisecond, Beat: time.Hour, Log: slog.New(slog.DiscardHandler)})
	return b
}

// follow lets a tab of somebody follow the page until the test ends or it is left.
func (b *bench) follow(person int64, name, tab string) (news chan News, leave func()) {
	b.t.Helper()
	ctx, cancel := context.WithCancel(b.t.Context())
	news = make(chan News, 100)
	var ended sync.WaitGroup
	ended.Go(func() {
		if err := b.Follow(ctx, here, person, name, tab, func(n *News) error { news <- *n; return nil }); err != nil {
			b.t.Error(err)
		}
	})
	leave = func() { cancel(); ended.Wait() }
	b.t.Cleanup(leave)
	for !b.seated(tab) {
		time.Sleep(time.Millisecond)
	}
	return news, leave
}

func (b *bench) seated(tab string) bool {
	b.mu.Lock()
	defer b.mu.Unlock()
	r := b.open[here]
	return r != nil && slices.ContainsFunc(r.seats, func(s *seat) bool { return s.tab == tab })
}

// until waits for news of a kind.
func until(t *testing.T, news chan News, right func(News) bool) News {
	t.Helper()
	limit := time.After(time.Minute)
	for {
		select {
		case n := <-news:
			if right(n) {
				return n
			}
		case <-limit:
			t.Fatal("that was not told")
		}
	}
}

func TestWhoHasAPageOnTheBenchIsToldWhatOthersDo(t *testing.T) {
	b := newBench(t)
	ines, _ := b.follow(1, "Ines", "a")
	if n := until(t, ines, func(News) bool { return true }); n.Draft != "draft 0" || len(n.Here) != 0 {
		t.Errorf("at first: %+v", n)
	}
	tobias, leave := b.follow(2, "Tobias", "b")
	b.At(here, 2, "b", "words-3")
	until(t, ines, func(n News) bool { return len(n.Here) == 1 && n.Here[0] == Guest{"Tobias", "words-3"} })
	until(t, tobias, func(n News) bool { return len(n.Here) == 1 && n.Here[0] == Guest{"Ines", ""} })

	b.Changed(here.Request) // before it is done
	b.draft.Store(1)
	until(t, ines, func(n News) bool { return n.Draft == "draft 1" })
	until(t, tobias, func(n News) bool { return n.Draft == "draft 1" })
	b.draft.Store(2) // by another process
	until(t, ines, func(n News) bool { return n.Draft == "draft 2" })

	leave()
	until(t, ines, func(n News) bool { return len(n.Here) == 0 })
}

func TestOtherTabsOfTheSamePersonAreNobodyElse(t *testing.T) {
	b := newBench(t)
	one, _ := b.follow(1, "Ines", "a")
	b.follow(1, "Ines", "b")
	b.follow(2, "Tobias", "c")
	b.follow(2, "Tobias", "d")
	until(t, one, func(n News) bool { return len(n.Here) == 1 && n.Here[0].Name == "Tobias" })
	b.At(here, 1, "c", "words-1") // of somebody else
	b.At(here, 2, "d", "words-2")
	n := until(t, one, func(n News) bool { return len(n.Here) == 2 })
	if n.Here[0].Part != "" || n.Here[1].Part != "words-2" {
		t.Errorf("%+v", n)
	}
}

func TestAPageThatCannotBeLookedAtIsLookedAtAgain(t *testing.T) {
	b := newBench(t)
	b.fails.Store(true)
	news, _ := b.follow(1, "Ines", "a")
	for b.asked.Load() < 3 {
		time.Sleep(time.Millisecond)
	}
	select {
	case n := <-news:
		t.Errorf("told %+v", n)
	default:
	}
	b.fails.Store(false)
	until(t, news, func(n News) bool { return n.Draft == "draft 0" })
}

func TestAPageThatNobodyWatchesIsNotLookedAt(t *testing.T) {
	b := newBench(t)
	news, leave := b.follow(1, "Ines", "a")
	until(t, news, func(News) bool { return true })
	leave()
	b.mu.Lock()
	if len(b.open) != 0 {
		t.Error("it is still open")
	}
	b.mu.Unlock()
	asked := b.asked.Load()
	time.Sleep(5 * b.Every)
	if now := b.asked.Load(); now > asked+1 { // one may have been on its way
		t.Errorf("looked at %d times more", now-asked)
	}
	b.Changed(here.Request)
	b.At(here, 1, "a", "words-1")
}

func TestALineThatIsDeadIsNoticed(t *testing.T) {
	b := newBench(t)
	b.Beat = 5 * time.Millisecond
	dead := errors.New("dead")
	err := b.Follow(t.Context(), here, 1, "Ines", "a", func(n *News) error {
		if n == nil {
			return dead
		}
		return nil
	})
	if !errors.Is(err, dead) {
		t.Errorf("it ends with %v", err)
	}
}

func TestOnePersonWatchesInSoManyTabs(t *testing.T) {
	b := newBench(t)
	for i := range MostTabs {
		b.follow(1, "Ines", fmt.Sprint(i))
	}
	if err := b.Follow(t.Context(), here, 1, "Ines", "more", nil); !errors.Is(err, ErrTooMany) {
		t.Errorf("one more: %v", err)
	}
	news, _ := b.follow(2, "Tobias", "a")
	until(t, news, func(n News) bool { return len(n.Here) == 1 })
}
