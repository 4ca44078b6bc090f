// Package release publishes: it opens a release under a journal, writes its files to the host one after the other,
// makes sure that they arrived, and puts them back. A release owns the changes that it was opened with; what is typed
// meanwhile stands on top of them. Killed at any moment it leaves each file old or new, and its journal says which.
package release

import (
	"context"
	"slices"
	"strconv"
	"time"

	"mendry/internal/core/link"
	"mendry/internal/core/record"
	"mendry/internal/core/refusal"
	"mendry/internal/core/release"
	"mendry/internal/core/request"
	"mendry/internal/host"
	"mendry/internal/store"
)

// Job is the kind of a release's job; it is about the release's key.
const Job = "release"

// Lane is the lane in which all jobs of a site stand.
func Lane(site int64) string { return "site " + strconv.FormatInt(site, 10) }

// Releases runs releases.
type Releases struct {
	Store  *store.Store
	Hosts  func(ctx context.Context, site int64) (host.Host, error) // reaches a site's live host
	Visits *host.Visitor
	Clock  func() time.Time
}

func (rs *Releases) now() time.Time { return store.At(rs.Clock()) }

// Page is a page that is published.
type Page struct {
	store.Page
	After   []byte         // its bytes from now on
	Changes []store.Change // that make them, all kept
}

// Opening is what a release is opened with.
type Opening struct {
	Request, Site int64
	By            By
	Pages         []Page
	ByHand        bool // Mendry may only read the site
}

// Open opens a release, in a transaction that holds the request: pictures and files are written first, then pages. One
// by hand waits for the person who puts it in.
func (rs *Releases) Open(ctx context.Context, q store.Queries, o Opening) (int64, error) {
	r := store.Release{
		RequestID: o.Request, SiteID: o.Site, State: release.Waiting, MadeBy: o.By.ID, MadeAt: rs.now(), ByHand: o.ByHand,
	}
	if o.ByHand {
		r.State = release.ByHand
	}
	id, err := q.AddRelease(ctx, r)
	if err != nil {
		return 0, err
	}
	e := record.Event{Who: o.By.Name, What: "release begun"}
	var steps []store.Step
	seen, brought := map[int64]bool{}, map[int64]bool{}
	for _, p := range o.Pages {
		for _, c := range p.Changes {
			if err := q.CarryChange(ctx, c.ID, p.ID, id); err != nil {
				return 0, err
			}
			e.Changes = append(e.Changes, ChangeEvent(c, p.Address))
			if brought[c.ID] {
				continue // by another page that it is made on
			}
			brought[c.ID] = true
			pictures, err := q.ChangePictures(ctx, c.ID)
			if err != nil {
				return 0, err
			}
			for _, f := range pictures {
				if !seen[f.ID] {
					seen[f.ID] = true
					steps = append(steps, store.Step{Kind: release.Picture, Path: f.Path, PictureID: &f.ID, AfterHash: f.Hash})
				}
			}
			files, err := q.ChangeFiles(ctx, c.ID)
			if err != nil {
				return 0, err
			}
			steps = withFiles(steps, files)
		}
	}
	for _, p := range o.Pages {
		after, err := q.KeepBytes(ctx, p.After)
		if err != nil {
			return 0, err
		}
		steps = append(steps, store.Step{
			Kind: release.Page, Path: p.Path, PageID: &p.ID, BeforeHash: p.Hash, AfterHash: after,
		})
		e.Pages = append(e.Pages, record.EventPage{Address: p.Address, Before: p.Hash, After: after})
	}
	if err := addSteps(ctx, q, id, steps); err != nil {
		return 0, err
	}
	e.Say = files(len(steps)) + " to be written, pages among them: " + strconv.Itoa(len(o.Pages))
	if o.ByHand {
		e.Say += "; a person puts them in"
	}
	if err := rs.note(ctx, q, o.Site, o.Request, nil, e); err != nil || o.ByHand {
		return id, err
	}
	return id, rs.ask(ctx, q, id, o.Site)
}

// withFiles adds the files that a change brings. Where several changes put one to the same address, the last stays.
func withFiles(steps []store.Step, files []store.ChangeFile) []store.Step {
	for _, f := range files {
		i := slices.IndexFunc(steps, func(s store.Step) bool { return s.Kind == release.File && s.Path == f.Path })
		if i >= 0 {
			steps[i].AfterHash = f.Hash
			continue
		}
		steps = append(steps, store.Step{Kind: release.File, Path: f.Path, BeforeHash: f.WasHash, AfterHash: f.Hash})
	}
	return steps
}

func addSteps(ctx context.Context, q store.Queries, id int64, steps []store.Step) error {
	for i, s := range steps {
		if s.ReleaseID, s.N = id, i+1; s.State == "" {
			s.State = release.StepWaiting
		}
		if _, err := q.AddStep(ctx, s); err != nil {
			return err
		}
	}
	return nil
}

// ask asks for the release's job to be done at once.
func (rs *Releases) ask(ctx context.Context, q store.Queries, id, site int64) error {
	return q.AskJob(ctx, Job, strconv.FormatInt(id, 10), Lane(site), rs.now())
}

func (rs *Releases) note(ctx context.Context, q store.Queries, site, number int64, page *int64, e record.Event) error {
	return q.AppendRecord(ctx, site, &number, page, rs.now(), e)
}

// ChangeEvent is a change as a record entry has it.
func ChangeEvent(c store.Change, address string) record.EventChange {
	return record.EventChange{Change: c.ID, Address: address, Part: c.PartName, Say: c.Say, Before: c.BeforeWords, After: c.AfterWords}
}

// Do does the job of a release: it writes what is to be written, or looks whether it arrived.
func (rs *Releases) Do(ctx context.Context, about string) (again time.Time, err error) {
	id, err := strconv.ParseInt(about, 10, 64)
	if err != nil {
		return again, nil // no release has such a key
	}
	r, err := rs.Store.Release(ctx, id)
	if refusal.Is(err, refusal.Nothing) {
		return again, nil
	}
	if err != nil {
		return again, err
	}
	if r.State.Runs() {
		if r, err = rs.run(ctx, r); err != nil {
			return again, err
		}
	}
	if r.State == release.ByHand && r.LookAt != nil {
		if r, err = rs.lookByHand(ctx, r); err != nil {
			return again, err
		}
	}
	if r.State == release.Live && r.LookAt != nil {
		return rs.makeSure(ctx, r)
	}
	return again, nil
}

// back moves a request to the bench after something of it that was live was taken back.
func back(ctx context.Context, q store.Queries, number int64) error {
	if err := q.UnsignRequest(ctx, number); err != nil {
		return err
	}
	f, _, err := q.RequestFacts(ctx, number)
	if err != nil {
		return err
	}
	f.TakenBack = true
	return q.MoveRequest(ctx, number, f, request.InHand, request.Work)
}

// files counts files in words.
func files(n int) string {
	if n == 1 {
		return "1 file"
	}
	return strconv.Itoa(n) + " files"
}

// address is where visitors find a file.
func address(s store.Step) string { return link.AddressOf(s.Path) }
