package release

import (
	"context"
	"fmt"
	"strconv"

	"mendry/internal/core/byhand"
	"mendry/internal/core/change"
	"mendry/internal/core/page"
	"mendry/internal/core/record"
	"mendry/internal/core/refusal"
	"mendry/internal/core/release"
	"mendry/internal/host"
	"mendry/internal/store"
)

// Listed is one file of a release by hand: what is to be put in, and what was seen of it at the last look.
type Listed struct {
	Items  []byhand.Item
	Found  []byhand.Found // of each item; empty where nobody looked yet
	Others []Other
	Put    []bool // of each item: a person put it in
	Taken  []bool // of each item: a person says that it is right as it stands
}

// Other is a difference that is none of the list's.
type Other struct {
	Key string
	change.Diff
	Theirs bool // a person knows of it
}

// marked are the marks of one step, by kind and what they are about.
type marked map[byhand.Mark]map[string]bool

func marksOf(ms []store.Mark, step int64) marked {
	all := marked{byhand.Put: {}, byhand.Taken: {}, byhand.Theirs: {}}
	for _, m := range ms {
		if m.StepID == step {
			all[m.Kind][m.About] = true
		}
	}
	return all
}

// List is what a page step of a release by hand asks of a person, and what was seen of it; ms are the release's marks.
func (rs *Releases) List(ctx context.Context, s store.Step, ms []store.Mark) (l Listed, err error) {
	marks := marksOf(ms, s.ID)
	media := ""
	if s.PageID != nil { // how its bytes are read
		p, err := rs.Store.Page(ctx, *s.PageID)
		if err != nil {
			return l, err
		}
		media = p.Media
	}
	pages := make([]*page.Page, 3)
	for i, hash := range []string{s.BeforeHash, s.AfterHash, s.LiveHash} {
		if hash == "" {
			continue
		}
		b, err := rs.Store.Bytes(ctx, hash)
		if err != nil {
			return l, err
		}
		if pages[i], err = page.ParseFile(s.Path, b, media); err != nil {
			return l, err
		}
	}
	before, after, live := pages[0], pages[1], pages[2]
	if before == nil || after == nil {
		return l, nil
	}
	l.Items = byhand.List(before, after)
	for i := range l.Items {
		l.Put = append(l.Put, marks[byhand.Put][strconv.Itoa(i)])
		l.Taken = append(l.Taken, marks[byhand.Taken][strconv.Itoa(i)])
	}
	if live == nil {
		return l, nil
	}
	found, others := byhand.Look(l.Items, before, after, live)
	l.Found = found
	for _, d := range others {
		key := byhand.Key(d)
		l.Others = append(l.Others, Other{Key: key, Diff: d, Theirs: marks[byhand.Theirs][key]})
	}
	return l, nil
}

// lookByHand looks at every file of a list that is not seen to be right yet.
func (rs *Releases) lookByHand(ctx context.Context, r store.Release) (store.Release, error) {
	asked := *r.LookAt
	h, err := rs.Hosts(ctx, r.SiteID)
	if err != nil {
		return r, err
	}
	site, err := rs.Store.Site(ctx, r.SiteID)
	if err != nil {
		return r, err
	}
	steps, err := rs.Store.Steps(ctx, r.ID)
	if err != nil {
		return r, err
	}
	marks, err := rs.Store.Marks(ctx, r.ID)
	if err != nil {
		return r, err
	}
	done := 0
	for i := range steps {
		s := &steps[i]
		if s.State == release.StepWaiting {
			if err := rs.seeByHand(ctx, h, site, r, s, marks); err != nil {
				return r, err
			}
		}
		if s.State != release.StepWaiting {
			done++
		}
	}
	if done == len(steps) {
		return rs.written(ctx, r)
	}
	return r, rs.whileOpen(ctx, r, func(q store.Queries, now store.Release) error {
		if now.LookAt == nil || now.LookAt.After(asked) {
			return nil // asked for again meanwhile
		}
		now.LookAt = nil
		return q.SetRelease(ctx, now)
	})
}

// whileOpen does something to a list in a transaction, unless a person has left it or taken it back meanwhile.
func (rs *Releases) whileOpen(ctx context.Context, r store.Release, act func(q store.Queries, now store.Release) error) error {
	return rs.Store.Tx(ctx, func(q store.Queries) error {
		if err := q.LockRequest(ctx, r.RequestID); err != nil {
			return err
		}
		now, open, err := openList(ctx, q, r.ID)
		if err != nil || !open {
			return err
		}
		return act(q, now)
	})
}

// openList reads a release by hand, and tells whether it is still one that is put in. Its request is held.
func openList(ctx context.Context, q store.Queries, id int64) (r store.Release, open bool, err error) {
	if r, err = q.Release(ctx, id); err != nil {
		return r, false, err
	}
	others, err := q.Releases(ctx, r.RequestID)
	return r, err == nil && r.State == release.ByHand && !Facts(r, nil, others).Undoing, err
}

// setSeen keeps what a look saw of a file.
func (rs *Releases) setSeen(ctx context.Context, r store.Release, s *store.Step) error {
	return rs.whileOpen(ctx, r, func(q store.Queries, _ store.Release) error { return q.SetStep(ctx, *s) })
}

// seeByHand looks at one file, notes what stands there, and journals it as written where all of it is right.
func (rs *Releases) seeByHand(ctx context.Context, h host.Host, site store.Site, r store.Release, s *store.Step, marks []store.Mark) error {
	now := rs.now()
	s.SeenAt, s.Said, s.LiveHash = &now, "", ""
	c, err := h.Read(ctx, s.Path)
	gone := host.Is(err, host.Gone)
	if err != nil && !gone {
		if ctx.Err() != nil || refusal.Of(err) == nil {
			return err
		}
		s.Said = err.Error()
		return rs.setSeen(ctx, r, s)
	}
	if !gone {
		if s.LiveHash, err = rs.Store.KeepBytes(ctx, c.Bytes); err != nil {
			return err
		}
	}
	right, err := rs.right(ctx, s, gone, marks)
	if err != nil {
		return err
	}
	switch {
	case right && (gone && s.Kind != release.Remove || !gone && s.Kind == release.Remove):
		s.State, s.Said = release.StepLeft, "A person says that it is right as it is."
		return rs.setSeen(ctx, r, s)
	case right:
		return rs.noteWritten(ctx, r, s)
	}
	if c.Kept > 0 && s.Said == "" {
		s.Said = fmt.Sprintf("The page says that it may be kept for %s: visitors see a change by %s at the latest.",
			span(c.Kept), rs.now().Add(c.Kept).In(site.Clock()).Format("15:04"))
	}
	return rs.setSeen(ctx, r, s)
}

// right reports whether all that a step asks for stands there, or is right as it stands by somebody's word.
func (rs *Releases) right(ctx context.Context, s *store.Step, gone bool, ms []store.Mark) (bool, error) {
	if s.Kind != release.Page {
		return (s.Kind == release.Remove) == gone && (gone || s.LiveHash == s.AfterHash) || marksOf(ms, s.ID)[byhand.Taken]["0"], nil
	}
	if gone {
		s.Said = "The page is not there any more."
		return false, nil
	}
	l, err := rs.List(ctx, *s, ms)
	if no := refusal.Of(err); no != nil {
		s.Said = no.Say
		return false, nil
	}
	if err != nil {
		return false, err
	}
	for i, f := range l.Found {
		if f.Seen != byhand.Right && !l.Taken[i] {
			return false, nil
		}
	}
	return true, nil
}

// is reports whether content is what a hash names: byte for byte or, of a page that a person puts in, as visitors see
// it.
func (rs *Releases) is(ctx context.Context, r store.Release, s *store.Step, c host.Content, hash string) bool {
	if record.Sum(c.Bytes) == hash {
		return true
	}
	if !r.ByHand || s.Kind != release.Page || hash == "" {
		return false
	}
	b, err := rs.Store.Bytes(ctx, hash)
	if err != nil {
		return false
	}
	want, err := page.ParseFile(s.Path, b, c.Media)
	if err != nil {
		return false
	}
	got, err := page.ParseFile(s.Path, c.Bytes, c.Media)
	return err == nil && byhand.Same(want, got)
}

// Say keeps what a person says of an item or a difference of a release by hand. What was put in is looked at.
func (rs *Releases) Say(ctx context.Context, by By, id int64, m store.Mark) error {
	return rs.Store.Tx(ctx, func(q store.Queries) error {
		r, err := q.Release(ctx, id)
		if err != nil {
			return err
		}
		if err := q.LockRequest(ctx, r.RequestID); err != nil {
			return err
		}
		r, open, err := openList(ctx, q, id)
		if err != nil {
			return err
		}
		if !open {
			return refusal.New(refusal.Rule, "The list is closed: the release is %s.", r.State)
		}
		steps, err := q.Steps(ctx, id)
		if err != nil {
			return err
		}
		at := -1
		for i, s := range steps {
			if s.ID == m.StepID {
				at = i
			}
		}
		if at < 0 {
			return store.ErrNone
		}
		m.By, m.At = by.ID, rs.now()
		if err := q.SetMark(ctx, m); err != nil {
			return err
		}
		switch m.Kind {
		case byhand.Theirs:
			return rs.note(ctx, q, r.SiteID, r.RequestID, steps[at].PageID, record.Event{
				Who: by.Name, What: "edit by others left", Say: "On " + address(steps[at]) + ", seen while putting in by hand",
			})
		case byhand.Taken:
			if err := rs.note(ctx, q, r.SiteID, r.RequestID, steps[at].PageID, record.Event{
				Who: by.Name, What: "taken as it stands", Say: "Item " + m.About + " on " + address(steps[at]) + " is right as it stands there, though it is not what was cleared",
			}); err != nil {
				return err
			}
		}
		now := rs.now()
		r.LookAt = &now
		if err := q.SetRelease(ctx, r); err != nil {
			return err
		}
		return rs.ask(ctx, q, id, r.SiteID)
	})
}
