package release

import (
	"context"
	"errors"
	"fmt"
	"slices"
	"strings"

	"mendry/internal/core/record"
	"mendry/internal/core/refusal"
	"mendry/internal/core/release"
	"mendry/internal/core/request"
	"mendry/internal/host"
	"mendry/internal/store"
)

// run writes the files of a release. Each step is journalled before and after the host is spoken to, so that at any
// moment it can be told which files are old and which are new. What stops it is kept in the release, for a person to
// decide; the error is a fault after which it is run again.
func (rs *Releases) run(ctx context.Context, r store.Release) (store.Release, error) {
	steps, err := rs.Store.Steps(ctx, r.ID)
	if err != nil {
		return r, err
	}
	err = rs.write(ctx, &r, steps)
	if err == nil {
		return rs.written(ctx, r)
	}
	no := refusal.Of(err)
	if no == nil || ctx.Err() != nil {
		return r, err
	}
	r.State, r.Said = release.Stopped, no.Say
	return r, rs.Store.Tx(ctx, func(q store.Queries) error {
		if err := q.SetRelease(ctx, r); err != nil {
			return err
		}
		return rs.note(ctx, q, r.SiteID, r.RequestID, nil, record.Event{Who: "Mendry", What: "release stopped", Say: no.Say})
	})
}

func (rs *Releases) write(ctx context.Context, r *store.Release, steps []store.Step) error {
	h, err := rs.Hosts(ctx, r.SiteID)
	if err != nil {
		return err
	}
	defer holdAll(ctx, h, steps)()
	if r.State == release.Waiting {
		if err := rs.preflight(ctx, h, steps); err != nil {
			return err
		}
		r.State = release.Running
		if err := rs.Store.SetRelease(ctx, *r); err != nil {
			return err
		}
	}
	if c, ok := h.(host.Committer); ok {
		return rs.commit(ctx, c, *r, steps)
	}
	return rs.writeAll(ctx, h, *r, steps)
}

// standing is the hash of what a host has at a path, empty where it has nothing.
func standing(ctx context.Context, h host.Host, path string) (hash string, err error) {
	c, err := h.Read(ctx, path)
	if host.Is(err, host.Gone) {
		return "", nil
	}
	if err != nil {
		return "", err
	}
	return record.Sum(c.Bytes), nil
}

// elsewhere stops a release at a file that others edited. Nothing is overwritten. now is the hash of what stands
// there.
func (rs *Releases) elsewhere(ctx context.Context, s *store.Step, now string) error {
	no := refusal.New(refusal.Stale, "%s was changed by somebody else since Mendry last read it. Nothing was overwritten. Leave this release and take their version in: the proof says whether the clearance still holds.", address(*s))
	ours := false
	if s.Kind == release.Picture {
		no = refusal.New(refusal.Stale, "There is another file of the name %s on the host already. Nothing was overwritten. Undo the change of the picture and make it again.", s.Path)
	} else if s.Kind == release.File {
		no = refusal.New(refusal.Stale, "Another file than Mendry knew stands under %s. Nothing was overwritten. Look at it, undo the change of the file and make it again.", s.Path)
	} else if s.PageID != nil {
		p, err := rs.Store.Page(ctx, *s.PageID)
		if err != nil {
			return err
		}
		if ours = p.Hash == now && now != ""; ours {
			no = refusal.New(refusal.Stale, "%s was changed by another release of Mendry since this one was opened. Nothing was overwritten. Leave this release: the proof says whether the clearance still holds.", address(*s))
		}
	}
	s.State, s.Said = release.StepFailed, no.Say
	if err := rs.Store.SetStep(ctx, *s); err != nil {
		return err
	}
	if s.PageID != nil && !ours {
		if err := rs.Store.SetElsewhere(ctx, *s.PageID, rs.now()); err != nil {
			return err
		}
	}
	return no
}

// begin journals that a file is being written, and tells what is to be made of it.
func (rs *Releases) begin(ctx context.Context, s *store.Step) (e host.Edit, err error) {
	if s.State != release.StepWriting {
		s.State = release.StepWriting
		if err := rs.Store.SetStep(ctx, *s); err != nil {
			return e, err
		}
	}
	e.File = s.Path
	if e.Before, err = rs.bytes(ctx, s.BeforeHash); err != nil {
		return e, err
	}
	e.After, err = rs.bytes(ctx, s.AfterHash)
	return e, err
}

// sumOf is the hash of what a host has at a path, empty where it has nothing.
func sumOf(c *host.Content) string {
	if c == nil {
		return ""
	}
	return record.Sum(c.Bytes)
}

// commit writes all files of a release in one act, or finds out whether it was done before the process that did it
// died.
func (rs *Releases) commit(ctx context.Context, h host.Committer, r store.Release, steps []store.Step) error {
	var edits []host.Edit
	var open []*store.Step
	for i := range steps {
		s := &steps[i]
		if !s.State.Unwritten() {
			continue
		}
		e, err := rs.begin(ctx, s)
		if err != nil {
			return err
		}
		edits, open = append(edits, e), append(open, s)
	}
	by, words, err := rs.reason(ctx, r)
	if err != nil {
		return err
	}
	err = h.Commit(ctx, by, words, edits)
	var theirs *host.TheirsError
	if errors.As(err, &theirs) { // nothing was written
		for _, s := range open {
			if s.State = release.StepWaiting; s.Path == theirs.File {
				err = rs.elsewhere(ctx, s, sumOf(theirs.Found))
			} else if e := rs.Store.SetStep(ctx, *s); e != nil {
				return e
			}
		}
		return err
	}
	if err != nil {
		return err
	}
	for some := range slices.Chunk(open, notedAtOnce) {
		if err := rs.noteWritten(ctx, r, some...); err != nil {
			return err
		}
	}
	return nil
}

// reason is who makes a release and why, as a commit says it: the request's number and subject, and what changes.
func (rs *Releases) reason(ctx context.Context, r store.Release) (by, words string, err error) {
	p, err := rs.Store.Person(ctx, r.MadeBy)
	if err != nil {
		return "", "", err
	}
	_, row, err := rs.Store.RequestFacts(ctx, r.RequestID)
	if err != nil {
		return "", "", err
	}
	words = fmt.Sprintf("Request %d: %s", r.RequestID, row.Subject)
	of := r.ID
	if r.Undoes != nil {
		words, of = fmt.Sprintf("Take back request %d: %s", r.RequestID, row.Subject), *r.Undoes
	}
	says, err := rs.Store.ChangesSaid(ctx, of)
	if err != nil {
		return "", "", err
	}
	return p.Name, words + "\n\n" + strings.Join(says, "\n") + "\n", nil
}

// bytes are those of a hash, none for no file.
func (rs *Releases) bytes(ctx context.Context, hash string) ([]byte, error) {
	if hash == "" {
		return nil, nil
	}
	b, err := rs.Store.Bytes(ctx, hash)
	if b == nil && err == nil {
		b = []byte{}
	}
	return b, err
}

// written closes a release whose files are all written; what it did is looked at next.
func (rs *Releases) written(ctx context.Context, r store.Release) (store.Release, error) {
	now := rs.now()
	err := rs.Store.Tx(ctx, func(q store.Queries) error {
		if err := q.LockRequest(ctx, r.RequestID); err != nil {
			return err
		}
		if r.ByHand {
			if now, open, err := openList(ctx, q, r.ID); err != nil || !open {
				r = now
				return err
			}
		}
		steps, err := q.Steps(ctx, r.ID)
		if err != nil {
			return err
		}
		r.State, r.Said, r.DoneAt, r.LookAt = release.Live, "", &now, &now
		if err := q.SetRelease(ctx, r); err != nil {
			return err
		}
		if r.Undoes != nil {
			if err := undone(ctx, q, *r.Undoes); err != nil {
				return err
			}
			if err := back(ctx, q, r.RequestID); err != nil {
				return err
			}
			return rs.note(ctx, q, r.SiteID, r.RequestID, nil, record.Event{Who: "Mendry", What: "release undone", Say: files(len(steps)) + " put back"})
		}
		f, _, err := q.RequestFacts(ctx, r.RequestID)
		if err != nil {
			return err
		}
		// Where more is kept, or the request was put on hold, it stays what it is.
		if err := q.MoveRequest(ctx, r.RequestID, f, request.Live, request.Work); err != nil && refusal.Of(err) == nil {
			return err
		}
		return rs.note(ctx, q, r.SiteID, r.RequestID, nil, record.Event{Who: "Mendry", What: "release live", Say: files(len(steps)) + " written"})
	})
	return r, err
}

// undone marks a release as taken back whose files are all put back: what it had not written by then it never will,
// and the changes of those pages are kept as before.
func undone(ctx context.Context, q store.Queries, id int64) error {
	r, err := q.Release(ctx, id)
	if err != nil {
		return err
	}
	r.State, r.Said, r.LookAt = release.TakenBack, "", nil
	if err := q.SetRelease(ctx, r); err != nil {
		return err
	}
	return leaveRest(ctx, q, id)
}

// leaveRest gives up what a release has not written: the steps are left, and the changes are kept as before.
func leaveRest(ctx context.Context, q store.Queries, id int64) error {
	steps, err := q.Steps(ctx, id)
	if err != nil {
		return err
	}
	for _, s := range steps {
		if !s.State.Unwritten() {
			continue
		}
		s.State = release.StepLeft
		if err := q.SetStep(ctx, s); err != nil {
			return err
		}
	}
	return q.SetReleaseChanges(ctx, id, "going", "kept")
}
