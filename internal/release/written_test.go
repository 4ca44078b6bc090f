package release

import (
	"context"
	"errors"
	"slices"
	"sync"
	"testing"
	"testing/synctest"
	"time"

	"mendry/internal/host"
)

// After a fault nothing is begun, what is under way is done, and the fault that is told is that of the first file,
// whichever came first: what is said must not depend on which call was faster.
func TestEachEndsWithTheFirstFileThatFailed(t *testing.T) {
	synctest.Test(t, func(t *testing.T) {
		broken := map[int]error{2: errors.New("the third"), 3: errors.New("the fourth")}
		var mu sync.Mutex
		var begun, ended []int
		err := each(t.Context(), 4, 20, func(_ context.Context, i int) error {
			mu.Lock()
			begun = append(begun, i)
			mu.Unlock()
			time.Sleep(time.Duration(10-i) * time.Second) // the fourth fails before the third
			mu.Lock()
			ended = append(ended, i)
			mu.Unlock()
			return broken[i]
		})
		slices.Sort(begun)
		slices.Sort(ended)
		if !errors.Is(err, broken[2]) || !slices.Equal(begun, ended) || len(begun) > 5 {
			t.Errorf("%v; begun %v, ended %v", err, begun, ended)
		}
	})
}

func TestEachRunsNoMoreAtOnceThanItMay(t *testing.T) {
	synctest.Test(t, func(t *testing.T) {
		began := time.Now()
		if err := each(t.Context(), 4, 10, func(context.Context, int) error {
			time.Sleep(time.Second)
			return nil
		}); err != nil {
			t.Fatal(err)
		}
		if took := time.Since(began); took != 3*time.Second { // ten, four at a time
			t.Errorf("ten that take a second each took %v", took)
		}
	})
}

func TestEachStopsWhereItIsCancelled(t *testing.T) {
	ctx, cancel := context.WithCancel(t.Context())
	n := 0
	err := each(ctx, 1, 10, func(context.Context, int) error {
		if n++; n == 3 {
			cancel()
		}
		return nil
	})
	if !errors.Is(err, context.Canceled) || n > 4 {
		t.Errorf("%v after %d", err, n)
	}
}

func TestEveryFileInDoubtIsNamed(t *testing.T) {
	lost := &host.Problem{Kind: host.Down, Say: "The host cannot be reached."}
	a, c := host.Unsure(lost, []string{"a.html"}), host.Unsure(lost, []string{"c.html"})
	other := errors.New("b.html was changed")
	for _, tt := range []struct {
		err    error
		unsure []*host.UnsureError
		want   string
	}{
		{a, []*host.UnsureError{a, nil, nil}, "The host cannot be reached. Until it answers it cannot be told whether a.html is whole there: go on, or take the release back, as soon as it does."},
		{a, []*host.UnsureError{a, nil, c}, "The host cannot be reached. Until it answers it cannot be told whether a.html, c.html are whole there: go on, or take the release back, as soon as it does."},
		{other, []*host.UnsureError{nil, nil, c}, "The host cannot be reached. Until it answers it cannot be told whether c.html is whole there: go on, or take the release back, as soon as it does."},
		{other, []*host.UnsureError{nil, nil, nil}, "b.html was changed"},
	} {
		if got := ofAll(tt.err, tt.unsure); got.Error() != tt.want {
			t.Errorf("%q, want %q", got, tt.want)
		}
	}
	if !host.Is(ofAll(a, []*host.UnsureError{a, c}), host.Down) {
		t.Error("its kind is lost")
	}
}
