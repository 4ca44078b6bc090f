package desk

import (
	"context"
	"strconv"
	"strings"
	"time"

	"mendry/internal/core/picture"
	"mendry/internal/core/refusal"
	"mendry/internal/shots"
	"mendry/internal/store"
)

// Small pictures of pages are what stands in a window of this size, made so wide.
const (
	smallWindow = 1280
	smallHigh   = 800
	smallWide   = 320
	smallAtOnce = 6 // pages that one browser draws, before others who wait for pictures have their turn
)

// smallPagesJob is the kind of job that takes small pictures of a site's pages.
const smallPagesJob = "small pages"

// AskSmallPages asks for small pictures of a site's pages, which a job takes; those that are there stay as long as
// their pages are what they were.
func (d *Desk) AskSmallPages(ctx context.Context, site int64) error {
	if _, err := d.store.Site(ctx, site); err != nil {
		return missing(err, "site")
	}
	if d.Camera == nil {
		return nil
	}
	lacking, err := d.store.PagesToPicture(ctx, site, 1)
	if err != nil || len(lacking) == 0 {
		return err
	}
	return d.askShots(ctx, smallPagesJob, strconv.FormatInt(site, 10))
}

// askShots asks for a job that needs the browser, of which one runs at a time.
func (d *Desk) askShots(ctx context.Context, job, about string) error {
	if err := d.store.AskJob(ctx, job, about, "shots", d.now()); err != nil {
		return err
	}
	d.jobs.Wake()
	return nil
}

// fronts is what the job is about that takes small pictures of the start pages of all sites.
const fronts = "fronts"

// AskSmallFronts is AskSmallPages for the start pages of all sites.
func (d *Desk) AskSmallFronts(ctx context.Context) error {
	if d.Camera == nil {
		return nil
	}
	lacking, err := d.store.FrontsToPicture(ctx, 1)
	if err != nil || len(lacking) == 0 {
		return err
	}
	return d.askShots(ctx, smallPagesJob, fronts)
}

// lackSmall lists pages that a job is to take small pictures of, some of them.
func (d *Desk) lackSmall(ctx context.Context, about string) ([]store.Page, error) {
	if about == fronts {
		return d.store.FrontsToPicture(ctx, smallAtOnce)
	}
	site, err := strconv.ParseInt(about, 10, 64)
	if err != nil {
		return nil, nil
	}
	return d.store.PagesToPicture(ctx, site, smallAtOnce)
}

// takeSmallPages does the job of taking small pictures of pages, some at a time.
func (d *Desk) takeSmallPages(ctx context.Context, about string) (again time.Time, err error) {
	if d.Camera == nil {
		return again, nil
	}
	rows, err := d.lackSmall(ctx, about)
	if err != nil || len(rows) == 0 {
		return again, err
	}
	err = d.smallPages(ctx, rows)
	if no := refusal.Of(err); no != nil { // one of them is at fault: each for itself
		for _, row := range rows {
			err := d.smallPages(ctx, []store.Page{row})
			if refusal.Of(err) != nil {
				err = d.store.SetSmallPage(ctx, row, "", d.now())
			}
			if err != nil {
				return again, err
			}
		}
		err = nil
	}
	return d.now(), err
}

func (d *Desk) smallPages(ctx context.Context, rows []store.Page) error {
	var views []shots.View
	for _, row := range rows {
		address, err := d.view(ctx, store.Preview{SiteID: row.SiteID, View: "live"}, row.Address)
		if err != nil {
			return err
		}
		views = append(views, shots.View{Address: throughDoor(address), Width: smallWindow})
	}
	taken, err := d.Camera.Take(ctx, views, nil)
	if err != nil {
		return err
	}
	for i, row := range rows {
		seen, err := picture.Look(taken[i].PNG)
		if err != nil {
			return err
		}
		small, err := d.keepSmall(ctx, taken[i], picture.Rect{Width: seen.Width, Height: min(seen.Height, smallHigh)}, smallWide)
		if err != nil {
			return err
		}
		if err := d.store.SetSmallPage(ctx, row, small, d.now()); err != nil {
			return err
		}
	}
	return nil
}

// keepSmall keeps a piece of what the browser drew, so many pixels wide, and gives its hash.
func (d *Desk) keepSmall(ctx context.Context, s shots.Shot, piece picture.Rect, wide int) (string, error) {
	done, err := picture.Do(s.PNG, picture.Work{Crop: &piece, Width: wide, Format: "jpeg"})
	if err != nil {
		return "", err
	}
	return d.store.KeepBytes(ctx, done.Bytes)
}

// throughDoor is a preview's address as the camera's door understands it, which speaks no TLS.
func throughDoor(address string) string { return strings.Replace(address, "https:", "http:", 1) }

// SmallPage is a small picture of a page, a JPEG.
func (d *Desk) SmallPage(ctx context.Context, page int64) ([]byte, error) {
	small, err := d.store.SmallPage(ctx, page)
	if err != nil {
		return nil, missing(err, "picture of this page")
	}
	return d.store.Bytes(ctx, small)
}
