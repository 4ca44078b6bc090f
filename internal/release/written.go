package release

import (
	"context"
	"errors"
	"slices"
	"sync"

	"golang.org/x/sync/errgroup"

	"mendry/internal/core/link"
	"mendry/internal/core/page"
	"mendry/internal/core/record"
	"mendry/internal/core/refusal"
	"mendry/internal/core/release"
	"mendry/internal/host"
	"mendry/internal/store"
)

const (
	// writtenAtOnce is how many files of a release are written at a time over WebDAV, where a host is far more slow
	// than busy (common practice, no source: browsers open six connections to one).
	writtenAtOnce = 4
	// heldTogether is how many files are held by their folder: fewer are held each, which keeps nobody off the rest of
	// the site.
	heldTogether = 4
	// notedAtOnce is how many written files are noted in one transaction, which holds the request meanwhile: a hundred
	// pages cost little more than a few.
	notedAtOnce = 32
)

// preflight looks at every file before any is written: an edit by others stops the whole release.
func (rs *Releases) preflight(ctx context.Context, h host.Host, steps []store.Step) error {
	return each(ctx, atOnce(h), len(steps), func(ctx context.Context, i int) error {
		s := &steps[i]
		if s.State != release.StepWaiting {
			return nil
		}
		now, err := standing(ctx, h, s.Path)
		if err != nil {
			return err
		}
		if now != s.AfterHash && now != s.BeforeHash {
			return rs.elsewhere(ctx, s, now)
		}
		return nil
	})
}

// atOnce is how many files of a host are written at a time: one where a line that breaks leaves each of them in
// pieces, of which one can be told.
func atOnce(h host.Host) int {
	if _, ok := h.(*host.WebDAV); ok {
		return writtenAtOnce
	}
	return 1
}

// holdAll keeps others off the folder that the files of a release lie in, where there are several and the host can do
// that.
func holdAll(ctx context.Context, h host.Host, steps []store.Step) (free func()) {
	var there []string
	for _, s := range steps {
		if s.BeforeHash != "" {
			there = append(there, s.Path)
		}
	}
	f, ok := h.(host.FolderHolder)
	if !ok || len(there) < heldTogether {
		return func() {}
	}
	return f.HoldFolder(ctx, there)
}

// each does something for the first n numbers, some at a time. After a fault none is begun, and those under way are
// done: what is being written on a host is not left in the middle. The error is that of the lowest number.
func each(ctx context.Context, width, n int, do func(context.Context, int) error) error {
	g := errgroup.Group{}
	g.SetLimit(width)
	var mu sync.Mutex
	at, first := n, error(nil)
	for i := range n {
		mu.Lock()
		stopped := first != nil
		mu.Unlock()
		if stopped || ctx.Err() != nil {
			break
		}
		g.Go(func() error {
			err := do(ctx, i)
			mu.Lock()
			defer mu.Unlock()
			if err != nil && i < at {
				at, first = i, err
			}
			return nil
		})
	}
	_ = g.Wait() // its faults are kept above
	if first == nil {
		first = ctx.Err()
	}
	return first
}

// writeAll writes the files of a release that are not written yet: pictures and files first, then the pages that show
// them.
func (rs *Releases) writeAll(ctx context.Context, h host.Host, r store.Release, steps []store.Step) error {
	var brought, pages []*store.Step
	for i := range steps {
		switch s := &steps[i]; {
		case !s.State.Unwritten():
		case s.Kind == release.Page:
			pages = append(pages, s)
		default:
			brought = append(brought, s)
		}
	}
	if err := rs.writeSome(ctx, h, r, brought); err != nil {
		return err
	}
	if len(pages) > 0 {
		if err := rs.readable(ctx, r, steps); err != nil {
			return err
		}
	}
	return rs.writeSome(ctx, h, r, pages)
}

// readable refuses to write pages that show new files which visitors may not read: a host may give new files rights that
// keep them off.
func (rs *Releases) readable(ctx context.Context, r store.Release, steps []store.Step) error {
	if !slices.ContainsFunc(steps, isNewFile) {
		return nil
	}
	site, err := rs.Store.Site(ctx, r.SiteID)
	if err != nil {
		return err
	}
	kept := func(path string) bool {
		to, err := link.Public(site.PublicURL, link.AddressOf(path), "")
		if err == nil {
			_, _, err = rs.Visits.Media(ctx, to)
		}
		return host.Is(err, host.Forbidden)
	}
	for _, s := range steps {
		if isNewFile(s) && kept(s.Path) && !kept("index.html") { // else visitors need a word that Mendry does not have
			return refusal.New(refusal.Rule, "%s lies on the host, and visitors may not read it: the host gave it rights of its own. Ask whoever runs the host to let visitors read new files, then go on. No page was written.", s.Path)
		}
	}
	return nil
}

// isNewFile reports whether a step brings a file that was not there.
func isNewFile(s store.Step) bool {
	return (s.Kind == release.Picture || s.Kind == release.File) && s.BeforeHash == ""
}

// writeSome writes some files, and notes them as they come: what a killed process did not note is found by its bytes.
func (rs *Releases) writeSome(ctx context.Context, h host.Host, r store.Release, steps []*store.Step) error {
	done := make(chan wrote, len(steps))
	var noted error
	var noting sync.WaitGroup
	writing, stop := context.WithCancel(ctx)
	defer stop()
	noting.Go(func() {
		for w := range done {
			some := []wrote{w}
			for more := true; more && len(some) < notedAtOnce; {
				select {
				case next, open := <-done:
					if more = open; open {
						some = append(some, next)
					}
				default:
					more = false
				}
			}
			if noted == nil {
				if noted = rs.noteAll(ctx, r, some); noted != nil {
					stop()
				}
			}
		}
	})
	width := atOnce(h)
	turn := make(chan struct{}, width) // to speak to the host
	if width > 1 {
		width *= 2 // while some are written, others are read from the database and made out
	}
	unsure := make([]*host.UnsureError, len(steps))
	err := each(writing, width, len(steps), func(_ context.Context, i int) error {
		after, err := rs.step(ctx, h, steps[i], turn)
		if err != nil {
			errors.As(err, &unsure[i])
			return err
		}
		w, err := rs.know(ctx, steps[i], after)
		if err == nil {
			done <- w
		}
		return err
	})
	close(done)
	noting.Wait()
	if noted != nil {
		return noted
	}
	return ofAll(err, unsure)
}

// ofAll is a fault over which the host was lost, with all files that it leaves in doubt: several were being written.
// One that leaves none in doubt is told where there is no other.
func ofAll(err error, unsure []*host.UnsureError) error {
	var all *host.UnsureError
	for _, u := range unsure {
		switch {
		case u == nil:
		case all == nil:
			all = u
		default:
			all = all.With(u)
		}
	}
	if all == nil {
		return err
	}
	return all
}

// step writes one file by the law of writing, or finds out whether it was written before the process that wrote it
// died. It speaks to the host when its turn has come, and gives what stands there then.
func (rs *Releases) step(ctx context.Context, h host.Host, s *store.Step, turn chan struct{}) ([]byte, error) {
	begun := s.State == release.StepWriting
	e, err := rs.begin(ctx, s)
	if err != nil {
		return nil, err
	}
	turn <- struct{}{}
	_, err = host.Put(ctx, h, e.File, e.Before, e.After, begun)
	<-turn
	var theirs *host.TheirsError
	if errors.As(err, &theirs) {
		return nil, rs.elsewhere(ctx, s, sumOf(theirs.Found))
	}
	return e.After, err
}

// wrote is a written file, with the page that it is as Mendry knows it from then on; nil for other files.
type wrote struct {
	step *store.Step
	page *store.Page
}

// know reads what a written page is: it takes longer than noting it, and is done before the request is held.
func (rs *Releases) know(ctx context.Context, s *store.Step, after []byte) (w wrote, err error) {
	if w.step = s; s.PageID == nil {
		return w, nil
	}
	p, err := rs.Store.Page(ctx, *s.PageID)
	if err != nil {
		return w, err
	}
	p.Take(page.Know(p.Path, p.Address, after, p.Media), s.Stands(), p.Media, int64(len(after)))
	p.SeenAt = rs.now()
	w.page = &p
	return w, nil
}

// noteWritten journals written files, together with what Mendry now knows of the pages.
func (rs *Releases) noteWritten(ctx context.Context, r store.Release, steps ...*store.Step) error {
	all := make([]wrote, len(steps))
	for i, s := range steps {
		after, err := rs.bytes(ctx, s.Stands())
		if err != nil {
			return err
		}
		if all[i], err = rs.know(ctx, s, after); err != nil {
			return err
		}
	}
	return rs.noteAll(ctx, r, all)
}

func (rs *Releases) noteAll(ctx context.Context, r store.Release, all []wrote) error {
	var pages []store.Page
	for _, w := range all {
		if w.page != nil {
			pages = append(pages, *w.page)
		}
	}
	return rs.Store.Tx(ctx, func(q store.Queries) error {
		if err := q.LockRequest(ctx, r.RequestID); err != nil {
			return err
		}
		if r.ByHand {
			if _, open, err := openList(ctx, q, r.ID); err != nil || !open {
				return err // left or taken back while it was looked at
			}
		}
		if err := q.KeepPages(ctx, pages, nil); err != nil {
			return err
		}
		var undone []store.Step
		if r.Undoes != nil {
			var err error
			if undone, err = q.Steps(ctx, *r.Undoes); err != nil {
				return err
			}
		}
		for _, w := range all {
			if err := rs.noteOne(ctx, q, r, w.step, undone); err != nil {
				return err
			}
		}
		return nil
	})
}

// noteOne journals one written file; undone are the steps of the release that is taken back.
func (rs *Releases) noteOne(ctx context.Context, q store.Queries, r store.Release, s *store.Step, undone []store.Step) error {
	s.State = release.StepWritten
	if err := q.SetStep(ctx, *s); err != nil {
		return err
	}
	if s.PageID != nil {
		// From here on the changes that the release carries are part of the page's live bytes.
		if err := q.SetPageChanges(ctx, r.ID, *s.PageID, "going", "live"); err != nil {
			return err
		}
	}
	if r.Undoes != nil {
		if err := putBack(ctx, q, *r.Undoes, *s, undone); err != nil {
			return err
		}
	}
	what := "file written"
	if r.ByHand {
		what = "seen in its place"
	}
	return rs.note(ctx, q, r.SiteID, r.RequestID, s.PageID, record.Event{
		Who: "Mendry", What: what, Say: s.Path,
		Pages: []record.EventPage{{Address: address(*s), Before: s.BeforeHash, After: s.Stands()}},
	})
}

// putBack notes that a file of a release is put back to what it was; was are that release's steps.
func putBack(ctx context.Context, q store.Queries, undone int64, s store.Step, was []store.Step) error {
	for _, w := range was {
		if w.Path != s.Path || w.State != release.StepWritten && w.State != release.StepWriting {
			continue
		}
		w.State, w.Said = release.StepTakenBack, ""
		if err := q.SetStep(ctx, w); err != nil {
			return err
		}
	}
	if s.PageID == nil {
		return nil
	}
	for _, from := range []string{"live", "sure"} {
		if err := q.SetPageChanges(ctx, undone, *s.PageID, from, "undone"); err != nil {
			return err
		}
	}
	return nil
}
