package release

import (
	"context"
	"errors"

	"mendry/internal/core/change"
	"mendry/internal/core/page"
	"mendry/internal/core/record"
	"mendry/internal/core/refusal"
	"mendry/internal/core/release"
	"mendry/internal/host"
	"mendry/internal/store"
)

// By is a person who steers a release.
type By struct {
	ID   int64
	Name string
}

// Facts are what the rules look at before an act on a release. others are all releases of its request.
func Facts(r store.Release, steps []store.Step, others []store.Release) release.Facts {
	f := release.Facts{State: r.State, Undoes: r.Undoes != nil}
	for _, s := range steps {
		f.Failed = f.Failed || s.State == release.StepFailed
	}
	for _, o := range others {
		f.Undoing = f.Undoing || o.Undoes != nil && *o.Undoes == r.ID && o.State.Open()
	}
	return f
}

// Steer does a person's act on a release. It returns the release that is then to be watched: the one that puts it
// back, or the same.
func (rs *Releases) Steer(ctx context.Context, by By, id int64, act release.Act) (int64, error) {
	var merged []store.Step
	if act == release.PutRight {
		var err error
		if merged, err = rs.merge(ctx, id); err != nil {
			return id, err
		}
	}
	watch := id
	err := rs.Store.Tx(ctx, func(q store.Queries) error {
		r, err := q.Release(ctx, id)
		if err != nil {
			return err
		}
		if err := q.LockRequest(ctx, r.RequestID); err != nil {
			return err
		}
		if r, err = q.Release(ctx, id); err != nil { // as it is under the lock
			return err
		}
		steps, err := q.Steps(ctx, id)
		if err != nil {
			return err
		}
		others, err := q.Releases(ctx, r.RequestID)
		if err != nil {
			return err
		}
		if err := release.May(Facts(r, steps, others), act); err != nil {
			return err
		}
		switch act {
		case release.GoOn:
			return rs.goOn(ctx, q, by, r, steps)
		case release.PutRight:
			return rs.goOn(ctx, q, by, r, merged)
		case release.Leave:
			return rs.leave(ctx, q, by, r, steps)
		case release.TakeBack:
			watch, err = rs.takeBack(ctx, q, by, r, steps, others)
			return err
		}
		now := rs.now()
		if r.LookAt = &now; r.State != release.ByHand {
			r.State = release.Live
		}
		if err := q.SetRelease(ctx, r); err != nil {
			return err
		}
		return rs.ask(ctx, q, id, r.SiteID)
	})
	return watch, err
}

// goOn lets a stopped release write the rest, after looking at every file again.
func (rs *Releases) goOn(ctx context.Context, q store.Queries, by By, r store.Release, steps []store.Step) error {
	r.State, r.Said = release.Waiting, ""
	if err := q.SetRelease(ctx, r); err != nil {
		return err
	}
	for _, s := range steps {
		if s.State != release.StepFailed {
			continue
		}
		s.State, s.Said = release.StepWaiting, ""
		if err := q.SetStep(ctx, s); err != nil {
			return err
		}
	}
	if err := rs.ask(ctx, q, r.ID, r.SiteID); err != nil {
		return err
	}
	return rs.note(ctx, q, r.SiteID, r.RequestID, nil, record.Event{Who: by.Name, What: "release taken up again", Say: "The rest is written now"})
}

// merge brings together, for each step of an undo that others' edits stand in the way of, what they wrote and what is
// to be put back: the error is a refusal where both changed the same part. No page is written.
func (rs *Releases) merge(ctx context.Context, id int64) ([]store.Step, error) {
	r, err := rs.Store.Release(ctx, id)
	if err != nil {
		return nil, err
	}
	steps, err := rs.Store.Steps(ctx, id)
	if err != nil {
		return nil, err
	}
	h, err := rs.Hosts(ctx, r.SiteID)
	if err != nil {
		return nil, err
	}
	for i := range steps {
		s := &steps[i]
		if s.State != release.StepFailed {
			continue
		}
		if s.Kind != release.Page {
			return nil, refusal.New(refusal.Rule, "%s was replaced by somebody else. Leave it as it is, or take it away on the host and go on.", s.Path)
		}
		c, err := h.Read(ctx, s.Path)
		if host.Is(err, host.Gone) {
			return nil, refusal.New(refusal.Rule, "%s is no longer on the host. Leave it as it is.", address(*s))
		}
		if err != nil {
			return nil, err
		}
		after, err := rs.bring(ctx, *s, c)
		if err != nil {
			return nil, err
		}
		s.BeforeHash = record.Sum(c.Bytes)
		if s.AfterHash, err = rs.Store.KeepBytes(ctx, after); err != nil {
			return nil, err
		}
		if _, err := rs.Store.KeepBytes(ctx, c.Bytes); err != nil {
			return nil, err
		}
	}
	return steps, nil
}

// bring is a step's page as others left it, with what the step does to it.
func (rs *Releases) bring(ctx context.Context, s store.Step, theirs host.Content) ([]byte, error) {
	var pages []*page.Page
	for _, hash := range []string{s.BeforeHash, s.AfterHash} {
		b, err := rs.Store.Bytes(ctx, hash)
		if err != nil {
			return nil, err
		}
		p, err := page.ParseFile(s.Path, b, theirs.Media)
		if err != nil {
			return nil, err
		}
		pages = append(pages, p)
	}
	now, err := page.ParseFile(s.Path, theirs.Bytes, theirs.Media)
	if err != nil {
		return nil, err
	}
	m, err := change.Merge(pages[0], pages[1], now)
	var clashes *change.Clashes
	if errors.As(err, &clashes) {
		return nil, refusal.New(refusal.Rule, "On %s they changed the same words: %v. Leave it as it is, or put it right on the host by hand and go on.", address(s), clashes)
	}
	if err != nil {
		return nil, err
	}
	return m.Doc.Bytes, nil
}

// leave ends a stopped release as it is. What it had not written is kept as before; what it had is looked at.
func (rs *Releases) leave(ctx context.Context, q store.Queries, by By, r store.Release, steps []store.Step) error {
	written := 0
	for _, s := range steps {
		if s.State == release.StepWritten {
			written++
		}
	}
	if err := leaveRest(ctx, q, r.ID); err != nil {
		return err
	}
	now := rs.now()
	r.State, r.DoneAt = release.Left, &now
	say := "Nothing was written."
	if written > 0 {
		r.State, r.LookAt = release.Live, &now
		say = files(written) + " of " + files(len(steps)) + " stay written; the rest is as it was."
		if err := rs.ask(ctx, q, r.ID, r.SiteID); err != nil {
			return err
		}
	}
	r.Said = "Left as it is. " + say
	if err := q.SetRelease(ctx, r); err != nil {
		return err
	}
	if r.Undoes != nil && written > 0 {
		if err := back(ctx, q, r.RequestID); err != nil {
			return err
		}
	}
	return rs.note(ctx, q, r.SiteID, r.RequestID, nil, record.Event{Who: by.Name, What: "release left", Say: say})
}

// takeBack opens a release that puts every written file of r back to what it was: pages first, then new pictures and
// files are taken away and replaced ones put back. Where nothing was written, it is left.
func (rs *Releases) takeBack(ctx context.Context, q store.Queries, by By, r store.Release, steps []store.Step, others []store.Release) (int64, error) {
	for _, o := range others {
		if o.ID != r.ID && o.State.Open() {
			return r.ID, refusal.New(refusal.Rule, "Another release of this request is %s. Finish it first.", o.State)
		}
	}
	var back []store.Step
	e := record.Event{Who: by.Name, What: "undo begun", Say: "What the release wrote is put back"}
	for _, kind := range []release.StepKind{release.Page, release.Picture, release.File} {
		for _, s := range steps {
			if s.State == release.StepWaiting && r.ByHand && s.LiveHash != "" && s.LiveHash != s.BeforeHash {
				s.State = release.StepWritten // put in, in part
			}
			if s.Kind != kind || s.State != release.StepWritten && s.State != release.StepWriting {
				continue
			}
			b := store.Step{
				Kind: release.Page, Path: s.Path, PageID: s.PageID, PictureID: s.PictureID, BeforeHash: s.AfterHash, AfterHash: s.BeforeHash,
			}
			switch {
			case s.BeforeHash == "":
				b.Kind = release.Remove
			case s.Kind == release.File:
				b.Kind = release.File
			}
			if s.State == release.StepWriting { // it may have broken off, and so stands for neither
				b.State = release.StepWriting
			}
			back = append(back, b)
			e.Pages = append(e.Pages, record.EventPage{Address: address(s), Before: s.AfterHash, After: s.BeforeHash})
		}
	}
	if len(back) == 0 {
		return r.ID, rs.leave(ctx, q, by, r, steps)
	}
	undo := store.Release{
		RequestID: r.RequestID, SiteID: r.SiteID, Undoes: &r.ID, State: release.Waiting, MadeBy: by.ID, MadeAt: rs.now(), ByHand: r.ByHand,
	}
	if r.ByHand {
		undo.State = release.ByHand
	}
	id, err := q.AddRelease(ctx, undo)
	if err != nil {
		return r.ID, err
	}
	if err := addSteps(ctx, q, id, back); err != nil {
		return r.ID, err
	}
	if err := rs.note(ctx, q, r.SiteID, r.RequestID, nil, e); err != nil || r.ByHand {
		return id, err
	}
	return id, rs.ask(ctx, q, id, r.SiteID)
}
