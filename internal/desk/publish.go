package desk

import (
	"context"
	"fmt"
	"slices"
	"time"

	"mendry/api"
	"mendry/internal/core/link"
	"mendry/internal/core/request"
	"mendry/internal/store"
)

// Publish opens a release of the chosen pages: only what was cleared, byte for byte. It is run by RunReleases.
func (d *Desk) Publish(ctx context.Context, who Who, number int64, pages []int64) (api.Release, error) {
	var id int64
	err := d.store.Tx(ctx, func(q store.Queries) error {
		if err := q.LockRequest(ctx, number); err != nil {
			return missing(err, "request")
		}
		p, err := d.proven(ctx, q, number)
		if err != nil {
			return err
		}
		if p.r.State != string(request.Cleared) {
			return refused("The request is not cleared: it is %s.", p.r.State)
		}
		if err := idle(ctx, q, number); err != nil {
			return err
		}
		var chosen []*draft
		for _, dr := range p.drafts {
			if len(pages) > 0 && !slices.Contains(pages, dr.row.ID) {
				continue
			}
			if !p.cleared(dr) {
				return refused("What is kept for %s is no longer what was cleared. Send a new round.", dr.row.Address)
			}
			fs, err := d.check(ctx, p, dr)
			if err != nil {
				return err
			}
			for _, f := range fs {
				if f.Level == api.LevelStop {
					return refused("%s: %s", dr.row.Address, f.Say)
				}
			}
			chosen = append(chosen, dr)
		}
		if len(chosen) == 0 {
			return refused("Choose at least one page.")
		}
		id, err = d.openRelease(ctx, q, who, p, chosen)
		return err
	})
	if err != nil {
		return api.Release{}, err
	}
	poke(d.wake)
	return d.Release(ctx, id)
}

// idle refuses where another release of the request is not settled.
func idle(ctx context.Context, q store.Queries, number int64) error {
	rs, err := q.Releases(ctx, number)
	for _, r := range rs {
		if r.State == "waiting" || r.State == "running" || r.State == "stopped" {
			return refused("A release of this request is %s. Finish it or take it back first.", r.State)
		}
	}
	return err
}

// openRelease writes the journal: pictures first, then pages.
func (d *Desk) openRelease(ctx context.Context, q store.Queries, who Who, p *proven, chosen []*draft) (int64, error) {
	id, err := q.AddRelease(ctx, store.Release{RequestID: p.r.ID, SiteID: p.site.ID, State: "waiting", MadeBy: who.ID, MadeAt: store.Now()})
	if err != nil {
		return 0, err
	}
	e := event{Who: who.Name, What: "release begun"}
	n := 0
	seen := map[int64]bool{}
	for _, dr := range chosen {
		for _, c := range dr.changes {
			if err := q.SetChangeState(ctx, c.ID, "kept", &id); err != nil {
				return 0, err
			}
			e.Changes = append(e.Changes, changeEvent(c, dr.row.Address))
			if c.PictureID == nil || seen[*c.PictureID] {
				continue
			}
			seen[*c.PictureID] = true
			f, err := q.PictureFile(ctx, *c.PictureID)
			if err != nil {
				return 0, err
			}
			n++
			if _, err := q.AddStep(ctx, store.Step{ReleaseID: id, N: n, Kind: "picture", Path: f.Path, PictureID: c.PictureID, AfterBytes: f.Bytes, AfterHash: f.Hash, State: "waiting"}); err != nil {
				return 0, err
			}
		}
	}
	for _, dr := range chosen {
		n++
		after := dr.Page().Doc.Bytes
		pageID := dr.row.ID
		if _, err := q.AddStep(ctx, store.Step{
			ReleaseID: id, N: n, Kind: "page", Path: dr.row.Path, PageID: &pageID, BeforeBytes: dr.row.Bytes, BeforeHash: dr.row.Hash,
			BeforeETag: dr.row.ETag, AfterBytes: after, AfterHash: hash(after), State: "waiting",
		}); err != nil {
			return 0, err
		}
		e.Pages = append(e.Pages, eventPage{dr.row.Address, dr.row.Hash, hash(after)})
	}
	e.Say = fmt.Sprintf("%s to be written, pages among them: %d", files(n), len(chosen))
	return id, note(ctx, q, p.site.ID, &p.r.ID, nil, e)
}

// Release shows a release with its journal.
func (d *Desk) Release(ctx context.Context, id int64) (api.Release, error) {
	r, err := d.store.Release(ctx, id)
	if err != nil {
		return api.Release{}, missing(err, "release")
	}
	return d.releaseView(ctx, r)
}

// Releases lists the releases of a request, newest first.
func (d *Desk) Releases(ctx context.Context, number int64) ([]api.Release, error) {
	out := []api.Release{}
	rs, err := d.store.Releases(ctx, number)
	if err != nil {
		return nil, err
	}
	for _, r := range rs {
		v, err := d.releaseView(ctx, r)
		if err != nil {
			return nil, err
		}
		out = append(out, v)
	}
	return out, nil
}

func (d *Desk) releaseView(ctx context.Context, r store.Release) (api.Release, error) {
	v := api.Release{
		ID: r.ID, Number: r.RequestID, State: api.ReleaseState(r.State), Said: r.Said, Undoes: r.Undoes, MadeAt: r.MadeAt,
		DoneAt: r.DoneAt, LookAt: r.LookAt, Steps: []api.ReleaseStep{},
	}
	p, err := d.store.Person(ctx, r.MadeBy)
	if err != nil {
		return v, err
	}
	v.MadeBy = p.Name
	steps, err := d.store.Steps(ctx, r.ID)
	if err != nil {
		return v, err
	}
	for _, s := range steps {
		sv := api.ReleaseStep{
			ID: s.ID, Kind: api.StepKind(s.Kind), Path: s.Path, Address: link.AddressOf(s.Path), State: api.StepState(s.State),
			HostSeen: s.HostSeen, PublicSeen: s.PublicSeen, Said: s.Said, Theirs: []api.PageDifference{},
		}
		if s.State == "failed" && s.PageID != nil {
			if look, err := d.LookAtPage(ctx, *s.PageID); err == nil {
				sv.Theirs = look.Differences
			}
		}
		v.Steps = append(v.Steps, sv)
	}
	return v, nil
}

// Steer goes on with a stopped release, takes one back, or looks again whether it arrived.
func (d *Desk) Steer(ctx context.Context, who Who, id int64, act api.ReleaseAct) (api.Release, error) {
	r, err := d.store.Release(ctx, id)
	if err != nil {
		return api.Release{}, missing(err, "release")
	}
	switch act {
	case "go-on":
		err = d.goOn(ctx, who, r)
	case "take-back":
		id, err = d.takeBack(ctx, who, r)
	case "look":
		if r.State != "live" && r.State != "sure" {
			return api.Release{}, refused("There is nothing to look at yet: the release is %s.", r.State)
		}
		now := store.Now().Add(-time.Second)
		r.State, r.LookAt = "live", &now
		err = d.store.SetRelease(ctx, r)
	default:
		err = refused("There is no such act.")
	}
	if err != nil {
		return api.Release{}, err
	}
	poke(d.wake)
	return d.Release(ctx, id)
}

func (d *Desk) goOn(ctx context.Context, who Who, r store.Release) error {
	return d.store.Tx(ctx, func(q store.Queries) error {
		if err := q.LockRequest(ctx, r.RequestID); err != nil {
			return err
		}
		now, err := q.Release(ctx, r.ID)
		if err != nil {
			return err
		}
		if now.State != "stopped" {
			return refused("The release is %s; there is nothing to go on with.", now.State)
		}
		now.State, now.Said = "waiting", ""
		if err := q.SetRelease(ctx, now); err != nil {
			return err
		}
		steps, err := q.Steps(ctx, r.ID)
		if err != nil {
			return err
		}
		for _, s := range steps {
			if s.State == "failed" {
				s.State, s.Said = "waiting", ""
				if err := q.SetStep(ctx, s); err != nil {
					return err
				}
			}
		}
		return note(ctx, q, r.SiteID, &r.RequestID, nil, event{Who: who.Name, What: "release taken up again", Say: "The rest is written now"})
	})
}

// takeBack opens a release that puts every written file of r back to what it was: pages first, then new pictures are
// taken away.
func (d *Desk) takeBack(ctx context.Context, who Who, r store.Release) (int64, error) {
	var id int64
	err := d.store.Tx(ctx, func(q store.Queries) error {
		if err := q.LockRequest(ctx, r.RequestID); err != nil {
			return err
		}
		now, err := q.Release(ctx, r.ID)
		if err != nil {
			return err
		}
		if now.State != "stopped" && now.State != "live" && now.State != "sure" {
			return refused("The release is %s; it cannot be taken back now.", now.State)
		}
		if now.Undoes != nil {
			return refused("This release took another one back. Publish again instead.")
		}
		steps, err := q.Steps(ctx, r.ID)
		if err != nil {
			return err
		}
		id, err = d.openUndo(ctx, q, who, now, steps)
		return err
	})
	return id, err
}

func (d *Desk) openUndo(ctx context.Context, q store.Queries, who Who, r store.Release, steps []store.Step) (int64, error) {
	if err := othersSettled(ctx, q, r); err != nil {
		return 0, err
	}
	id, err := q.AddRelease(ctx, store.Release{RequestID: r.RequestID, SiteID: r.SiteID, Undoes: &r.ID, State: "waiting", MadeBy: who.ID, MadeAt: store.Now()})
	if err != nil {
		return 0, err
	}
	n := 0
	e := event{Who: who.Name, What: "undo begun", Say: "What the release wrote is put back"}
	for _, kind := range []string{"page", "picture"} {
		for _, s := range steps {
			if s.Kind != kind || s.State != "written" && s.State != "writing" {
				continue
			}
			n++
			back := store.Step{
				ReleaseID: id, N: n, Kind: "page", Path: s.Path, PageID: s.PageID, PictureID: s.PictureID, BeforeBytes: s.AfterBytes,
				BeforeHash: s.AfterHash, BeforeETag: s.AfterETag, AfterBytes: s.BeforeBytes, AfterHash: s.BeforeHash, State: "waiting",
			}
			if s.BeforeHash == "" {
				back.Kind = "remove"
			}
			if _, err := q.AddStep(ctx, back); err != nil {
				return 0, err
			}
			e.Pages = append(e.Pages, eventPage{link.AddressOf(s.Path), s.AfterHash, s.BeforeHash})
		}
	}
	if r.State == "stopped" { // the rest is not gone on with
		r.State, r.Said = "taken back", "Stopped on the way and taken back."
		if err := q.SetRelease(ctx, r); err != nil {
			return 0, err
		}
	}
	return id, note(ctx, q, r.SiteID, &r.RequestID, nil, e)
}

func othersSettled(ctx context.Context, q store.Queries, r store.Release) error {
	rs, err := q.Releases(ctx, r.RequestID)
	for _, o := range rs {
		if o.ID != r.ID && (o.State == "waiting" || o.State == "running" || o.State == "stopped") {
			return refused("Another release of this request is %s. Finish it first.", o.State)
		}
	}
	return err
}
