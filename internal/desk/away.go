package desk

import (
	"context"
	"errors"
	"fmt"
	"path"
	"regexp"
	"slices"
	"strconv"
	"strings"
	"time"

	"mendry/api"
	"mendry/internal/core/link"
	"mendry/internal/core/refusal"
	"mendry/internal/host"
	"mendry/internal/release"
	"mendry/internal/store"
)

// awayJob is the kind of job that takes a file away from a site's host, or brings one back.
const awayJob = "away"

// TakeAway asks for a file of a site that nothing names to be taken away; a job does it, and finds out whether it may.
func (d *Desk) TakeAway(ctx context.Context, by Who, site int64, file string) error {
	if _, err := d.store.SitePictureByPath(ctx, site, file); err != nil {
		return missing(err, "picture on this site")
	}
	r, err := d.reach(ctx, site)
	if err != nil {
		return err
	}
	if r.Kind == "hand" {
		return refused("Mendry may only read this site. Take the file away at its host yourself.")
	}
	err = d.store.Tx(ctx, func(q store.Queries) error {
		if err := q.LockSite(ctx, site); err != nil {
			return missing(err, "site")
		}
		if is, err := q.AwayUnderWay(ctx, site, file); err != nil || is {
			return err // it is asked for already
		}
		id, err := q.AddAway(ctx, store.Away{SiteID: site, Path: file, PersonID: by.ID, At: d.now()})
		if err != nil {
			return err
		}
		return q.AskJob(ctx, awayJob, strconv.FormatInt(id, 10), release.Lane(site), d.now())
	})
	d.jobs.Wake()
	return err
}

// BringBack asks for a file that was taken away to be put where it stood; a job does it.
func (d *Desk) BringBack(ctx context.Context, by Who, site, id int64) error {
	a, err := d.store.Away(ctx, id)
	if err == nil && a.SiteID != site {
		err = store.ErrNone
	}
	if err != nil {
		return missing(err, "file that was taken away")
	}
	err = d.store.Tx(ctx, func(q store.Queries) error {
		if err := q.MoveAway(ctx, id, store.Gone, store.Coming, "", d.now()); err != nil {
			if errors.Is(err, store.ErrNone) {
				return stale("“%s” is back already, or on its way. Look again.", path.Base(a.Path))
			}
			return err
		}
		if err := q.TookAway(ctx, id, by.ID); err != nil {
			return err
		}
		return q.AskJob(ctx, awayJob, strconv.FormatInt(id, 10), release.Lane(site), d.now())
	})
	d.jobs.Wake()
	return err
}

// moveAway does the job of taking a file away, or of bringing one back. What cannot be is said beside the file, and
// the job is done.
func (d *Desk) moveAway(ctx context.Context, about string) (again time.Time, err error) {
	id, err := strconv.ParseInt(about, 10, 64)
	if err != nil {
		return again, nil
	}
	a, err := d.store.Away(ctx, id)
	if errors.Is(err, store.ErrNone) {
		return again, nil
	}
	if err != nil {
		return again, err
	}
	to := map[string]string{store.Going: store.Stayed, store.Coming: store.Gone}[a.State] // where it cannot be
	if to == "" {
		return again, nil
	}
	h, err := d.liveHost(ctx, a.SiteID)
	if err == nil && a.State == store.Going {
		err = d.takeAway(ctx, h, a)
	} else if err == nil {
		err = d.bringBack(ctx, h, a)
	}
	no := refusal.Of(err)
	if no == nil || ctx.Err() != nil {
		return again, err
	}
	return again, d.store.MoveAway(ctx, id, a.State, to, no.Say, d.now())
}

func (d *Desk) takeAway(ctx context.Context, h host.Host, a store.Away) error {
	if err := d.unnamed(ctx, h, a); err != nil {
		return err
	}
	var was []byte
	now, err := h.Read(ctx, a.Path)
	switch {
	case err == nil:
		was = now.Bytes
		if a.Hash, err = d.store.KeepBytes(ctx, was); err != nil {
			return err
		}
		if err := d.store.KeepAway(ctx, a.ID, a.Hash, int64(len(was))); err != nil {
			return err
		}
	case host.Is(err, host.Gone) && a.Hash != "": // the process died after it had been done
	case host.Is(err, host.Gone):
		return refused("It stands no longer on the host, or another program puts it there. Look at the pictures again.")
	default:
		return err
	}
	if was != nil {
		if _, err := host.Put(ctx, h, a.Path, was, nil, false); err != nil {
			return err
		}
	}
	return d.store.Tx(ctx, func(q store.Queries) error {
		if err := q.MoveAway(ctx, a.ID, store.Going, store.Gone, "", d.now()); err != nil {
			return err
		}
		if err := q.ForgetPicture(ctx, a.SiteID, a.Path); err != nil {
			return err
		}
		return d.note(ctx, q, a.SiteID, nil, nil, event{
			Who: a.Person, What: "taken away", Say: fmt.Sprintf("/%s is taken away: nothing of the site names it. It is kept.", a.Path),
			Pages: []eventPage{{Address: "/" + a.Path, Before: a.Hash}},
		})
	})
}

func (d *Desk) bringBack(ctx context.Context, h host.Host, a store.Away) error {
	b, err := d.store.Bytes(ctx, a.Hash)
	if err != nil {
		return err
	}
	var theirs *host.TheirsError
	if _, err := host.Put(ctx, h, a.Path, nil, b, false); errors.As(err, &theirs) {
		return refused("Something else stands at /%s by now. It is left as it is.", a.Path)
	} else if err != nil {
		return err
	}
	return d.store.Tx(ctx, func(q store.Queries) error {
		if err := q.MoveAway(ctx, a.ID, store.Coming, store.Back, "", d.now()); err != nil {
			return err
		}
		if err := askForPictures(ctx, q, a.SiteID, d.now()); err != nil {
			return err
		}
		return d.note(ctx, q, a.SiteID, nil, nil, event{
			Who: a.Person, What: "brought back", Say: fmt.Sprintf("/%s is brought back to where it stood.", a.Path),
			Pages: []eventPage{{Address: "/" + a.Path, After: a.Hash}},
		})
	})
}

// What is read on a host beside pages to see whether it names a file.
var written = regexp.MustCompile(
	`(?i)\.(?:x?html?|css|m?js|json|xml|txt|webmanifest|svg|md|markdown|ya?ml|toml|php|liquid|tmpl|njk|ics|csv)$`,
)

const (
	mostWritten  = 4 << 20 // bytes of a file that is read so
	mostNamedBy  = 3       // places that are said
	tellAwayEach = 20      // files
)

// unnamed refuses where something of a site names a file: a page as it is live, a change that is kept, or another file
// with words in it.
func (d *Desk) unnamed(ctx context.Context, h host.Host, a store.Away) error {
	var by []string
	look := func(where string, b []byte) {
		if link.Names(b, a.Path) && !slices.Contains(by, where) {
			by = append(by, where)
		}
	}
	rows, err := d.store.PageRows(ctx, a.SiteID)
	if err != nil {
		return err
	}
	kept, err := d.store.Kept(ctx, a.SiteID)
	if err != nil {
		return err
	}
	for _, k := range kept {
		look(fmt.Sprintf("a change kept in request %d", k.RequestID), []byte(k.Text))
	}
	pages := map[string]bool{}
	for i, r := range rows {
		if i%tellAwayEach == 0 {
			_ = d.store.SayAway(
				ctx,
				a.ID,
				fmt.Sprintf("Looking through page %d of %d", i+1, len(rows)),
			) // progress only
		}
		row, err := d.store.Page(ctx, r.ID)
		if err != nil {
			return err
		}
		if row.Hash == "" {
			continue // its bytes are not kept: it is read with the other files
		}
		pages[row.Path] = true
		b, err := d.store.Bytes(ctx, row.Hash)
		if err != nil {
			return err
		}
		look(row.Address, b)
	}
	all, err := h.List(ctx, nil)
	if err != nil {
		return err
	}
	if len(all.Left) > 0 {
		return refused("It stays: not all that lies on the host could be looked through. %s", all.Left[0])
	}
	for i, f := range all.Files {
		if pages[f.Path] || f.Path == a.Path || f.Odd != "" || !written.MatchString(f.Path) || f.Size > mostWritten {
			continue
		}
		if i%tellAwayEach == 0 {
			_ = d.store.SayAway(
				ctx,
				a.ID,
				fmt.Sprintf("Looking through file %d of %d", i+1, len(all.Files)),
			) // progress only
		}
		c, err := h.Read(ctx, f.Path)
		if host.Is(err, host.Gone) {
			continue
		}
		if err != nil {
			return err
		}
		look("/"+f.Path, c.Bytes)
	}
	if len(by) == 0 {
		return nil
	}
	more := ""
	if len(by) > mostNamedBy {
		by, more = by[:mostNamedBy], fmt.Sprintf(" and %d more", len(by)-mostNamedBy)
	}
	return refused("It stays: it may be named by %s%s. Take it out there first.", strings.Join(by, ", "), more)
}

// awayShown is how long what stayed or came back is shown.
const awayShown = time.Hour

func (d *Desk) takenAway(ctx context.Context, site int64) ([]api.TakenAway, error) {
	out := []api.TakenAway{}
	rows, err := d.store.TakenAway(ctx, site, d.now().Add(-awayShown))
	for _, a := range rows {
		out = append(
			out,
			api.TakenAway{
				ID:    a.ID,
				Path:  a.Path,
				Size:  a.Size,
				State: api.TakenAwayState(a.State),
				Said:  a.Said,
				By:    a.Person,
				At:    a.At,
			},
		)
	}
	return out, err
}
