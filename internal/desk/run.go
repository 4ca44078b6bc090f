package desk

import (
	"context"
	"errors"
	"fmt"
	"time"

	"mendry/internal/core/link"
	"mendry/internal/core/page"
	"mendry/internal/core/refusal"
	"mendry/internal/core/request"
	"mendry/internal/host"
	"mendry/internal/store"
)

// claimFor is how long a claim on a release lasts without a sign of life.
const claimFor = 30 * time.Second

// RunReleases runs releases that wait, takes up those whose runner died, and looks whether live pages arrived, until
// ctx ends.
func (d *Desk) RunReleases(ctx context.Context) {
	if err := d.store.LetAllOf(ctx, d.Process); err != nil && ctx.Err() == nil {
		d.Log.Error("give back old claims", "err", err)
	}
	for {
		for d.runNext(ctx) {
		}
		select {
		case <-ctx.Done():
			return
		case <-d.wake:
		case <-time.After(time.Second):
		}
	}
}

func (d *Desk) runNext(ctx context.Context) bool {
	r, err := d.store.ClaimRelease(ctx, d.Process, store.Now(), claimFor)
	if err != nil {
		if !errors.Is(err, store.ErrNone) && ctx.Err() == nil {
			d.Log.Error("look for releases", "err", err)
		}
		return false
	}
	if r.State == "live" {
		err = d.makeSure(ctx, r)
	} else {
		err = d.run(ctx, r)
	}
	if err != nil && ctx.Err() == nil {
		d.Log.Error("run a release", "release", r.ID, "err", err)
	}
	if err := d.store.LetRelease(context.WithoutCancel(ctx), r.ID, d.Process); err != nil {
		d.Log.Error("give back a claim", "release", r.ID, "err", err)
	}
	return err == nil
}

// run writes the files of a release. Each step is journalled before and after the host is spoken to, so that at any
// moment it can be told which files are old and which are new.
func (d *Desk) run(ctx context.Context, r store.Release) error {
	site, err := d.store.Site(ctx, r.SiteID)
	if err != nil {
		return err
	}
	steps, err := d.store.Steps(ctx, r.ID)
	if err != nil {
		return err
	}
	err = d.write(ctx, &r, site, steps)
	if err == nil {
		return d.written(ctx, r, steps)
	}
	no := refusal.Of(err)
	if no == nil {
		return err // the claim runs out and the release is taken up again
	}
	say := no.Say
	return d.store.Tx(ctx, func(q store.Queries) error {
		r.State, r.Said = "stopped", say
		if err := q.SetRelease(ctx, r); err != nil {
			return err
		}
		return note(ctx, q, r.SiteID, &r.RequestID, nil, event{Who: "Mendry", What: "release stopped", Say: say})
	})
}

func (d *Desk) write(ctx context.Context, r *store.Release, site store.Site, steps []store.Step) error {
	h, err := d.hostOf(site)
	if err != nil {
		return err
	}
	if r.State == "waiting" {
		if err := d.preflight(ctx, h, steps); err != nil {
			return err
		}
		r.State = "running"
		if err := d.store.SetRelease(ctx, *r); err != nil {
			return err
		}
	}
	for i := range steps {
		if err := d.store.HoldRelease(ctx, r.ID, d.Process, store.Now().Add(claimFor+60*time.Second)); err != nil {
			return fmt.Errorf("another process took the release over: %w", err)
		}
		if err := d.step(ctx, h, *r, &steps[i]); err != nil {
			return err
		}
	}
	return nil
}

// preflight looks at every file before any is written: an edit by others stops the whole release.
func (d *Desk) preflight(ctx context.Context, h *host.WebDAV, steps []store.Step) error {
	for i := range steps {
		s := &steps[i]
		if s.State != "waiting" {
			continue
		}
		c, err := h.Read(ctx, s.Path)
		gone := host.Is(err, host.Gone)
		if err != nil && !gone {
			return err
		}
		now := ""
		if !gone {
			now = hash(c.Bytes)
		}
		if now == s.AfterHash || now == s.BeforeHash {
			if !gone {
				s.BeforeETag = c.ETag
			}
			continue
		}
		return d.elsewhere(ctx, s)
	}
	return nil
}

// elsewhere stops a release at a file that others edited. Nothing is overwritten.
func (d *Desk) elsewhere(ctx context.Context, s *store.Step) error {
	say := fmt.Sprintf("%s was changed by somebody else since Mendry last read it. Nothing was overwritten. Look at their version on the bench and take it in; then send a new round.", link.AddressOf(s.Path))
	if s.Kind == "picture" {
		say = fmt.Sprintf("There is another file of the name %s on the host already. Nothing was overwritten. Undo the change of the picture and make it again.", s.Path)
	}
	s.State, s.Said = "failed", say
	if err := d.store.SetStep(ctx, *s); err != nil {
		return err
	}
	if s.PageID != nil {
		if err := d.store.SetElsewhere(ctx, *s.PageID, store.Now()); err != nil {
			return err
		}
	}
	return refused("%s", say)
}

// step writes one file, or finds out whether it was written before the process that wrote it died.
func (d *Desk) step(ctx context.Context, h *host.WebDAV, r store.Release, s *store.Step) error {
	switch s.State {
	case "written":
		return nil
	case "writing":
		if done, err := d.resume(ctx, h, r, s); done || err != nil {
			return err
		}
	default:
		s.State = "writing"
		if err := d.store.SetStep(ctx, *s); err != nil {
			return err
		}
	}
	etag, err := d.put(ctx, h, s)
	if host.Is(err, host.Changed) || host.Is(err, host.Slow) || host.Is(err, host.Down) || host.Is(err, host.Short) || host.Is(err, host.Broken) {
		// Whether it was written cannot be told from the answer: ask the host.
		if done, e := d.resume(ctx, h, r, s); done || e != nil {
			var p *host.Problem
			if errors.As(e, &p) {
				return err
			}
			return e
		}
		if host.Is(err, host.Changed) { // the same bytes under another entity tag
			etag, err = d.put(ctx, h, s)
		}
	}
	if err != nil {
		return err
	}
	return d.noteWritten(ctx, r, s, etag)
}

func (d *Desk) put(ctx context.Context, h *host.WebDAV, s *store.Step) (string, error) {
	if s.Kind == "remove" {
		return "", h.Remove(ctx, s.Path, s.BeforeETag)
	}
	if s.BeforeHash != "" && s.BeforeETag == "" { // a host without entity tags: read, compare, write, read
		c, err := h.Read(ctx, s.Path)
		if err != nil {
			return "", err
		}
		if hash(c.Bytes) == s.AfterHash {
			return c.ETag, nil
		}
		if hash(c.Bytes) != s.BeforeHash {
			return "", d.elsewhere(ctx, s)
		}
		s.BeforeETag = first(c.ETag, "*")
	}
	return h.Write(ctx, s.Path, s.AfterBytes, s.BeforeETag)
}

// resume looks at what the host has of a step that was begun. It reports true where the file is as it should be.
func (d *Desk) resume(ctx context.Context, h *host.WebDAV, r store.Release, s *store.Step) (bool, error) {
	c, err := h.Read(ctx, s.Path)
	gone := host.Is(err, host.Gone)
	if err != nil && !gone {
		return false, err
	}
	now := ""
	if !gone {
		now = hash(c.Bytes)
	}
	switch now {
	case s.AfterHash:
		return true, d.noteWritten(ctx, r, s, c.ETag)
	case s.BeforeHash:
		if !gone {
			s.BeforeETag = c.ETag
		}
		return false, nil
	}
	return false, d.elsewhere(ctx, s)
}

// noteWritten journals a written file, together with what Mendry now knows of the page.
func (d *Desk) noteWritten(ctx context.Context, r store.Release, s *store.Step, etag string) error {
	return d.store.Tx(ctx, func(q store.Queries) error {
		s.State, s.AfterETag = "written", etag
		if err := q.SetStep(ctx, *s); err != nil {
			return err
		}
		if s.PageID != nil {
			p, err := q.Page(ctx, *s.PageID)
			if err != nil {
				return err
			}
			p.SeenAt = store.Now()
			if err := q.KeepPage(ctx, takeInPage(p, host.Content{Bytes: s.AfterBytes, ETag: etag, Media: p.Media})); err != nil {
				return err
			}
			if r.Undoes == nil { // from here on the page's kept changes of this release are part of its live bytes
				if err := q.SetPageChanges(ctx, r.ID, *s.PageID, "kept", "live"); err != nil {
					return err
				}
			}
		}
		return note(ctx, q, r.SiteID, &r.RequestID, s.PageID, event{
			Who: "Mendry", What: "file written", Say: s.Path, Pages: []eventPage{{link.AddressOf(s.Path), s.BeforeHash, s.AfterHash}},
		})
	})
}

// written closes a release whose files are all written, and begins to make sure.
func (d *Desk) written(ctx context.Context, r store.Release, steps []store.Step) error {
	now := store.Now()
	err := d.store.Tx(ctx, func(q store.Queries) error {
		r.State, r.Said, r.DoneAt, r.LookAt = "live", "", &now, &now
		if err := q.SetRelease(ctx, r); err != nil {
			return err
		}
		what := event{Who: "Mendry", What: "release live", Say: files(len(steps)) + " written"}
		row, err := q.RequestRow(ctx, r.RequestID)
		if err != nil {
			return err
		}
		switch {
		case r.Undoes != nil:
			what.What, what.Say = "release undone", files(len(steps))+" put back"
			if err := d.undone(ctx, q, *r.Undoes); err != nil {
				return err
			}
			if err := q.UnsignRequest(ctx, r.RequestID); err != nil {
				return err
			}
			err = q.SetRequestState(ctx, r.RequestID, string(request.InHand))
		case row.Kept == 0:
			err = q.SetRequestState(ctx, r.RequestID, string(request.Live))
		}
		if err != nil {
			return err
		}
		return note(ctx, q, r.SiteID, &r.RequestID, nil, what)
	})
	if err != nil {
		return err
	}
	return d.makeSure(ctx, r)
}

// undone marks what a release had done as taken back.
func (d *Desk) undone(ctx context.Context, q store.Queries, id int64) error {
	r, err := q.Release(ctx, id)
	if err != nil {
		return err
	}
	r.State, r.LookAt = "taken back", nil
	if err := q.SetRelease(ctx, r); err != nil {
		return err
	}
	for _, from := range []string{"live", "sure"} {
		if err := q.SetReleaseChanges(ctx, id, from, "undone"); err != nil {
			return err
		}
	}
	return nil
}

// makeSure fetches every file again, as the host gives it and as visitors get it, and compares it with what was sent.
func (d *Desk) makeSure(ctx context.Context, r store.Release) error {
	site, err := d.store.Site(ctx, r.SiteID)
	if err != nil {
		return err
	}
	steps, err := d.store.Steps(ctx, r.ID)
	if err != nil {
		return err
	}
	h, err := d.hostOf(site)
	if err != nil {
		return err
	}
	all, wait := true, 10*time.Minute
	for i := range steps {
		s := &steps[i]
		left := d.seen(ctx, h, site, s)
		if err := d.store.SetStep(ctx, *s); err != nil {
			return err
		}
		if s.HostSeen != "right" || s.PublicSeen != "right" {
			all = false
			wait = min(wait, max(left, patience(r, store.Now())))
		}
	}
	return d.store.Tx(ctx, func(q store.Queries) error {
		if r, err = q.Release(ctx, r.ID); err != nil || r.State != "live" {
			return err
		}
		if !all {
			at := store.Now().Add(wait)
			r.LookAt = &at
			return q.SetRelease(ctx, r)
		}
		r.State, r.LookAt, r.Said = "sure", nil, ""
		if err := q.SetRelease(ctx, r); err != nil {
			return err
		}
		if err := q.SetReleaseChanges(ctx, r.ID, "live", "sure"); err != nil {
			return err
		}
		return note(ctx, q, r.SiteID, &r.RequestID, nil, event{Who: "Mendry", What: "seen to be right", Say: files(len(steps)) + ", at the host and as visitors get them"})
	})
}

// patience is how long to wait before looking again where no cache says when: half as long as the release has been
// live, so that a new one is looked at often and one that stays wrong now and then.
func patience(r store.Release, now time.Time) time.Duration {
	if r.DoneAt == nil {
		return time.Second
	}
	return min(max(now.Sub(*r.DoneAt)/2, time.Second), 10*time.Minute)
}

// seen looks at one file and says in words what is not right. It returns how long a cache may
// still keep the old one, 0 where that is not known.
func (d *Desk) seen(ctx context.Context, h *host.WebDAV, site store.Site, s *store.Step) time.Duration {
	s.Said, s.HostSeen, s.PublicSeen = "", "wrong", ""
	c, err := h.Read(ctx, s.Path)
	gone := host.Is(err, host.Gone)
	if err != nil && !gone {
		s.HostSeen, s.Said = "", err.Error()
		return 0
	}
	if s.Kind == "remove" {
		if gone {
			s.HostSeen, s.PublicSeen = "right", "right" // nothing links to the file any more
			return 0
		}
		s.Said = "The file is still on the host."
		return 0
	}
	if gone || hash(c.Bytes) != s.AfterHash {
		s.Said = "The host no longer has what was written: somebody else changed it since."
		return 0
	}
	s.HostSeen = "right"
	return d.seenByVisitors(ctx, site, s)
}

func (d *Desk) seenByVisitors(ctx context.Context, site store.Site, s *store.Step) time.Duration {
	address, err := link.Resolve(site.PublicURL, pathRef(link.AddressOf(s.Path)))
	if err != nil {
		s.PublicSeen, s.Said = "wrong", "The public address cannot be made out."
		return 0
	}
	v, err := d.visits.Get(ctx, address)
	left := v.Cache.Left()
	isNew, isOld := hash(v.Bytes) == s.AfterHash, hash(v.Bytes) == s.BeforeHash
	if page.IsMarkdown(s.Path) { // visitors get the page that the host builds of it
		isNew, isOld = builtOf(v.Bytes, s.AfterBytes), builtOf(v.Bytes, s.BeforeBytes)
	}
	switch {
	case err != nil:
		s.PublicSeen, s.Said = "wrong", err.Error()
		return 0
	case isNew:
		s.PublicSeen = "right"
		return 0
	case isOld && left > 0:
		s.PublicSeen, s.Said = "old", fmt.Sprintf("A cache still gives visitors the old page, for up to %s more.", span(left))
		return left + time.Second
	case isOld:
		s.PublicSeen, s.Said = "old", "Visitors still get the old page, though no cache says that it may keep it. Ask whoever runs the host."
		return 0
	}
	s.PublicSeen, s.Said = "wrong", "Visitors get a page that is neither the old nor the new one: the host alters it on the way, or shows another."
	return 0
}

// pathRef makes a public path relative to the site's address.
func pathRef(p string) string {
	if len(p) > 0 && p[0] == '/' {
		return "./" + p[1:]
	}
	return p
}

// span says how long in words.
func span(t time.Duration) string {
	s := int(t.Round(time.Second).Seconds())
	if s < 100 {
		return fmt.Sprintf("%d seconds", s)
	}
	return fmt.Sprintf("%d minutes", (s+59)/60)
}

// files counts files in words.
func files(n int) string {
	if n == 1 {
		return "1 file"
	}
	return itoa(n) + " files"
}
