package release

import (
	"context"
	"fmt"
	"time"

	"mendry/internal/core/check"
	"mendry/internal/core/link"
	"mendry/internal/core/page"
	"mendry/internal/core/record"
	"mendry/internal/core/release"
	"mendry/internal/host"
	"mendry/internal/store"
)

// makeSure fetches every file again, as the host gives it and as visitors get it, and compares it with what was sent.
// It returns when to look again, zero where all is seen to be right.
func (rs *Releases) makeSure(ctx context.Context, r store.Release) (again time.Time, err error) {
	site, err := rs.Store.Site(ctx, r.SiteID)
	if err != nil {
		return again, err
	}
	steps, err := rs.Store.Steps(ctx, r.ID)
	if err != nil {
		return again, err
	}
	h, err := rs.Hosts(ctx, r.SiteID)
	if err != nil {
		return again, err
	}
	var written []*store.Step
	for i := range steps {
		if steps[i].State == release.StepWritten {
			written = append(written, &steps[i])
		}
	}
	left := make([]time.Duration, len(written)) // that a cache may still keep the old one
	err = each(ctx, atOnce(h), len(written), func(ctx context.Context, i int) (err error) {
		if left[i], err = rs.look(ctx, h, site, r, written[i]); err != nil {
			return err
		}
		return rs.Store.SetStep(ctx, *written[i])
	})
	if err != nil {
		return again, err
	}
	all, wait := true, 10*time.Minute
	for i, s := range written {
		if s.HostSeen != release.SeenLater && (s.HostSeen != release.SeenRight || s.PublicSeen != release.SeenRight) {
			all = false
			wait = min(wait, max(left[i], patience(r, rs.now())))
		}
	}
	err = rs.Store.Tx(ctx, func(q store.Queries) error {
		if err := q.LockRequest(ctx, r.RequestID); err != nil {
			return err
		}
		now, err := q.Release(ctx, r.ID)
		if err != nil || now.State != release.Live {
			return err
		}
		if !all {
			again = rs.now().Add(wait)
			now.LookAt = &again
			return q.SetRelease(ctx, now)
		}
		now.State, now.LookAt, now.Said = release.Sure, nil, ""
		if err := q.SetRelease(ctx, now); err != nil {
			return err
		}
		if err := q.SetReleaseChanges(ctx, r.ID, "live", "sure"); err != nil {
			return err
		}
		return rs.note(ctx, q, r.SiteID, r.RequestID, nil, record.Event{Who: "Mendry", What: "seen to be right", Say: files(len(written)) + ", at the host and as visitors get them"})
	})
	return again, err
}

// patience is how long to wait before looking again where no cache says when: half as long as the release has been
// live, so that a new one is looked at often and one that stays wrong now and then.
func patience(r store.Release, now time.Time) time.Duration {
	if r.DoneAt == nil {
		return time.Second
	}
	return min(max(now.Sub(*r.DoneAt)/2, time.Second), 10*time.Minute)
}

// look looks at one file and says in words what is not right. It returns how long a cache may still keep the old one,
// 0 where that is not known.
func (rs *Releases) look(ctx context.Context, h host.Host, site store.Site, r store.Release, s *store.Step) (time.Duration, error) {
	s.Said, s.HostSeen, s.PublicSeen = "", release.SeenWrong, ""
	later, err := rs.Store.LaterStep(ctx, r.SiteID, s.Path, r.ID)
	if err != nil {
		return 0, err
	}
	if later {
		s.HostSeen, s.PublicSeen = release.SeenLater, release.SeenLater
		s.Said = "A later release wrote this file again; that one is looked at."
		return 0, nil
	}
	c, err := h.Read(ctx, s.Path)
	gone := host.Is(err, host.Gone)
	switch {
	case err != nil && !gone:
		if ctx.Err() != nil {
			return 0, err
		}
		s.HostSeen, s.Said = "", err.Error()
	case s.Kind == release.Remove && gone:
		s.HostSeen, s.PublicSeen = release.SeenRight, release.SeenRight // nothing links to the file any more
	case s.Kind == release.Remove:
		s.Said = "The file is still on the host."
	case gone || !rs.is(ctx, r, s, c, s.Stands()):
		s.Said = "The host no longer has what was written: somebody else changed it since."
	default:
		s.HostSeen = release.SeenRight
		left, err := rs.visit(ctx, site, r, s)
		if _, built := h.(host.Committer); built && s.PublicSeen == release.SeenOld && left == 0 {
			s.Said = "The host has not built its pages since the push, or could not. If it stays so, look at its build."
		}
		return left, err
	}
	return 0, nil
}

// visit looks at a file as visitors get it.
func (rs *Releases) visit(ctx context.Context, site store.Site, r store.Release, s *store.Step) (time.Duration, error) {
	to, err := link.Public(site.PublicURL, link.AddressOf(s.Path), "")
	if err != nil {
		s.PublicSeen, s.Said = release.SeenWrong, "The public address cannot be made out."
		return 0, nil
	}
	v, err := rs.Visits.Get(ctx, to)
	left := v.Cache.Left()
	isNew, isOld := rs.is(ctx, r, s, v.Content, s.Stands()), rs.is(ctx, r, s, v.Content, s.BeforeHash)
	if err == nil && page.IsMarkdown(s.Path) { // visitors get the page that the host builds of it
		after, errAfter := rs.Store.Bytes(ctx, s.AfterHash)
		before, errBefore := rs.Store.Bytes(ctx, s.BeforeHash)
		isNew = errAfter == nil && page.BuiltOf(v.Bytes, after)
		isOld = errBefore == nil && page.BuiltOf(v.Bytes, before)
	}
	what := "page"
	if s.Kind != release.Page {
		what = "file"
	}
	switch {
	case ctx.Err() != nil:
		return 0, ctx.Err()
	case err != nil:
		s.PublicSeen, s.Said = release.SeenWrong, err.Error()
	case isNew:
		s.PublicSeen, s.Said = release.SeenRight, contradiction(s, v.Content)
	case isOld && left > 0:
		s.PublicSeen, s.Said = release.SeenOld, fmt.Sprintf("A cache still gives visitors the old %s, for up to %s more.", what, span(left))
		return left + time.Second, nil
	case isOld:
		s.PublicSeen, s.Said = release.SeenOld, fmt.Sprintf("Visitors still get the old %s, though no cache says that it may keep it. Ask whoever runs the host.", what)
	default:
		s.PublicSeen, s.Said = release.SeenWrong, fmt.Sprintf("Visitors get a %s that is neither the old nor the new one: the host alters it on the way, or shows another.", what)
	}
	return 0, nil
}

// contradiction says where visitors' browsers are told another encoding than the page's own.
func contradiction(s *store.Step, c host.Content) string {
	if s.Kind != release.Page || page.IsMarkdown(s.Path) {
		return ""
	}
	p, err := page.Parse(c.Bytes, "")
	if err != nil {
		return ""
	}
	return check.Contradiction(p, c.Media)
}

// span says how long in words.
func span(t time.Duration) string {
	s := int(t.Round(time.Second).Seconds())
	if s < 100 {
		return fmt.Sprintf("%d seconds", s)
	}
	return fmt.Sprintf("%d minutes", (s+59)/60)
}
