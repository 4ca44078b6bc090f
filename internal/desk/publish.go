package desk

import (
	"context"
	"slices"

	"mendry/api"
	"mendry/internal/core/link"
	corerelease "mendry/internal/core/release"
	"mendry/internal/core/request"
	"mendry/internal/release"
	"mendry/internal/store"
)

// Publish opens a release of the chosen pages: only what was cleared, byte for byte. It is run as a job.
func (d *Desk) Publish(ctx context.Context, who Who, number int64, pages []int64) (api.Release, error) {
	var id int64
	err := unlessMoved(func() error {
		p, err := d.proven(ctx, number)
		if err != nil {
			return err
		}
		chosen, err := d.chosen(ctx, p, pages)
		if err != nil {
			return err
		}
		byHand, err := d.byHand(ctx, p.site.ID)
		if err != nil {
			return err
		}
		return d.store.Tx(ctx, func(q store.Queries) error {
			if err := p.stillSo(ctx, q); err != nil {
				return err
			}
			if err := idle(ctx, q, number); err != nil {
				return err
			}
			id, err = d.releases.Open(ctx, q, release.Opening{
				Request: number, Site: p.site.ID, By: release.By{ID: who.ID, Name: who.Name}, Pages: chosen, ByHand: byHand,
			})
			return err
		})
	})
	if err != nil {
		return api.Release{}, err
	}
	d.jobs.Wake()
	return d.Release(ctx, id)
}

// chosen are the pages of a proof that are to be published, all where none is chosen. Each has to be cleared and free
// of what the checks stop.
func (d *Desk) chosen(ctx context.Context, p *proven, pages []int64) ([]release.Page, error) {
	if p.r.State != string(request.Cleared) {
		return nil, refused("The request is not cleared: it is %s.", p.r.State)
	}
	var all []release.Page
	findings, err := d.findingsOf(ctx, p)
	if err != nil {
		return nil, err
	}
	for _, o := range p.all() {
		if len(pages) > 0 && !slices.Contains(pages, o.row.ID) && !slices.Contains(pages, o.with) {
			continue
		}
		if !p.cleared(o) {
			return nil, refused("What is kept for %s is no longer what was cleared. Send a new round.", o.row.Address)
		}
		for _, f := range findings[o.row.ID] {
			if f.Level == api.LevelStop {
				return nil, refused("%s: %s", o.row.Address, f.Say)
			}
		}
		all = append(all, release.Page{Page: o.row, After: o.after, Changes: o.changes})
	}
	if len(all) == 0 {
		return nil, refused("Choose at least one page.")
	}
	return all, nil
}

// idle refuses where another release of the request is not settled.
func idle(ctx context.Context, q store.Queries, number int64) error {
	rs, err := q.Releases(ctx, number)
	for _, r := range rs {
		if r.State.Open() {
			return refused("A release of this request is %s. Finish it or take it back first.", r.State)
		}
	}
	return err
}

// Release shows a release with its journal.
func (d *Desk) Release(ctx context.Context, id int64) (api.Release, error) {
	r, err := d.store.Release(ctx, id)
	if err != nil {
		return api.Release{}, missing(err, "release")
	}
	others, err := d.store.Releases(ctx, r.RequestID)
	if err != nil {
		return api.Release{}, err
	}
	return d.releaseView(ctx, r, others)
}

// Releases lists the releases of a request, newest first.
func (d *Desk) Releases(ctx context.Context, number int64) ([]api.Release, error) {
	out := []api.Release{}
	rs, err := d.store.Releases(ctx, number)
	if err != nil {
		return nil, err
	}
	for _, r := range rs {
		v, err := d.releaseView(ctx, r, rs)
		if err != nil {
			return nil, err
		}
		out = append(out, v)
	}
	return out, nil
}

// WatchRelease tells how far a release has come.
func (d *Desk) WatchRelease(ctx context.Context, id int64) (api.ReleaseProgress, error) {
	p, err := d.store.Progress(ctx, id)
	return api.ReleaseProgress{State: api.ReleaseState(p.State), Written: p.Written, Of: p.Of, Seen: p.Seen}, missing(err, "release")
}

func (d *Desk) releaseView(ctx context.Context, r store.Release, others []store.Release) (api.Release, error) {
	v := api.Release{
		ID: r.ID, Number: r.RequestID, State: api.ReleaseState(r.State), Said: r.Said, Undoes: r.Undoes, MadeAt: r.MadeAt,
		DoneAt: r.DoneAt, LookAt: r.LookAt, Steps: []api.ReleaseStep{}, Acts: []api.ReleaseAct{},
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
	var marks []store.Mark
	if v.ByHand = r.ByHand; r.ByHand {
		if marks, err = d.store.Marks(ctx, r.ID); err != nil {
			return v, err
		}
		if v.EditURL, err = d.editURL(ctx, r.SiteID); err != nil {
			return v, err
		}
	}
	facts := release.Facts(r, steps, others)
	for _, a := range corerelease.Acts() {
		if corerelease.May(facts, a) == nil {
			v.Acts = append(v.Acts, api.ReleaseAct(a))
		}
	}
	for _, s := range steps {
		sv := api.ReleaseStep{
			ID: s.ID, Kind: api.StepKind(s.Kind), Path: s.Path, Address: link.AddressOf(s.Path), State: api.StepState(s.State),
			HostSeen: s.HostSeen, PublicSeen: s.PublicSeen, Said: s.Said, Theirs: []api.PageDifference{},
			Items: []api.HandItem{}, Others: []api.HandOther{}, SeenAt: s.SeenAt,
		}
		if r.State == corerelease.ByHand {
			if err := d.listByHand(ctx, s, marks, &sv); err != nil {
				return v, err
			}
		}
		if s.State == corerelease.StepFailed && s.PageID != nil {
			if look, err := d.LookAtPage(ctx, *s.PageID); err == nil {
				sv.Theirs = look.Differences
			}
		}
		v.Steps = append(v.Steps, sv)
	}
	return v, nil
}

// Steer does a person's act on a release: it goes on with one that stopped, takes one back, or looks again whether it
// arrived.
func (d *Desk) Steer(ctx context.Context, who Who, id int64, act api.ReleaseAct) (api.Release, error) {
	watch, err := d.releases.Steer(ctx, release.By{ID: who.ID, Name: who.Name}, id, corerelease.Act(act))
	if err != nil {
		return api.Release{}, missing(err, "release")
	}
	d.jobs.Wake()
	return d.Release(ctx, watch)
}
