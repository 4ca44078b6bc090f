// Package work does what Mendry does by itself: a release, a letter, taking in a site. A job stands in the database
// and is claimed by one process; while it is under way, no other job of its lane is. A claim that is not renewed,
// because its process died, is free again within HoldFor.
package work

import (
	"context"
	"crypto/rand"
	"encoding/hex"
	"errors"
	"fmt"
	"log/slog"
	"slices"
	"sync"
	"time"

	"mendry/internal/store"
)

const (
	// HoldFor is how long a claim lasts without a sign of life.
	HoldFor = 12 * time.Second
	// renewEvery leaves room for two signs of life that are late.
	renewEvery = 4 * time.Second
	// askEvery is how often a free hand looks for jobs that another process asked for.
	askEvery = time.Second
	hands    = 8               // jobs at a time in one process
	mostWait = 5 * time.Minute // after a job that failed often
)

// Do does a job, of which about is the key. It is due again at the time that it returns; zero means that it is done.
// Where ctx ends, so has the claim: what is begun has to be fit to be taken up by another process. A job that fails is
// tried again, later each time.
type Do func(ctx context.Context, about string) (again time.Time, err error)

// Runner does jobs.
type Runner struct {
	store *store.Store
	clock func() time.Time
	log   *slog.Logger
	name  string // of this start of this process
	wake  chan struct{}
	do    map[string]Do
}

// New makes a runner for a process; kinds are what it can do. No two runners have the same name, whatever the process
// is called.
func New(s *store.Store, process string, clock func() time.Time, log *slog.Logger, kinds map[string]Do) *Runner {
	b := make([]byte, 8)
	_, _ = rand.Read(b) // never fails (crypto/rand)
	return &Runner{s, clock, log, fmt.Sprintf("%.40s %s", process, hex.EncodeToString(b)), make(chan struct{}, 1), kinds}
}

// Wake says that there is a job: a free hand looks for it at once.
func (r *Runner) Wake() {
	select {
	case r.wake <- struct{}{}:
	default:
	}
}

// Run does jobs until ctx ends, and then gives back what it holds.
func (r *Runner) Run(ctx context.Context) {
	var wg sync.WaitGroup
	for range hands {
		wg.Go(func() {
			for {
				for r.Next(ctx) {
					r.Wake() // there may be more than one
				}
				select {
				case <-ctx.Done():
					return
				case <-r.wake:
				case <-time.After(askEvery):
				}
			}
		})
	}
	wg.Wait()
	if err := r.store.LetAllJobs(context.WithoutCancel(ctx), r.name); err != nil {
		r.log.Error("give back claims", "err", err)
	}
}

// Next does one job that is due, and reports whether there was one.
func (r *Runner) Next(ctx context.Context) bool {
	now := r.clock()
	kinds := make([]string, 0, len(r.do))
	for k := range r.do {
		kinds = append(kinds, k)
	}
	slices.Sort(kinds)
	j, err := r.store.ClaimJob(ctx, r.name, kinds, now, now.Add(HoldFor))
	if err != nil {
		if !errors.Is(err, store.ErrNone) && ctx.Err() == nil {
			r.log.Error("look for jobs", "err", err)
		}
		return false
	}
	again, err := r.hold(ctx, j)
	after := context.WithoutCancel(ctx)
	switch {
	case ctx.Err() != nil:
		err = r.store.LetJob(after, j, r.name, j.Due, j.Tries, j.Said)
	case err != nil:
		r.log.Error("do a job", "kind", j.Kind, "about", j.About, "tries", j.Tries+1, "err", err)
		wait := min(time.Second<<min(j.Tries, 20), mostWait)
		err = r.store.LetJob(after, j, r.name, r.clock().Add(wait), j.Tries+1, err.Error())
	case again.IsZero():
		err = r.store.EndJob(after, j, r.name)
	default:
		err = r.store.LetJob(after, j, r.name, again, 0, "")
	}
	if err != nil {
		r.log.Error("give back a job", "kind", j.Kind, "about", j.About, "err", err) // the claim runs out
	}
	return true
}

// hold does a job and renews its claim until it is done.
func (r *Runner) hold(ctx context.Context, j store.Job) (again time.Time, err error) {
	ctx, cancel := context.WithCancelCause(ctx)
	defer cancel(nil)
	var wg sync.WaitGroup
	defer wg.Wait()
	done := make(chan struct{})
	defer close(done)
	wg.Go(func() {
		tick := time.NewTicker(renewEvery)
		defer tick.Stop()
		for {
			select {
			case <-done:
				return
			case <-tick.C:
				if err := r.store.HoldJob(ctx, j.ID, r.name, r.clock().Add(HoldFor)); errors.Is(err, store.ErrNone) {
					cancel(errors.New("another process took the job over"))
					return
				}
			}
		}
	})
	defer func() {
		if p := recover(); p != nil {
			err = fmt.Errorf("panic: %v", p)
		}
	}()
	again, err = r.do[j.Kind](ctx, j.About)
	if cause := context.Cause(ctx); err != nil && cause != nil {
		err = errors.Join(cause, err)
	}
	return again, err
}
