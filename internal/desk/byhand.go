package desk

import (
	"context"
	"path"
	"slices"

	"mendry/api"
	"mendry/internal/core/byhand"
	"mendry/internal/core/diff"
	"mendry/internal/core/refusal"
	corerelease "mendry/internal/core/release"
	"mendry/internal/release"
	"mendry/internal/store"
)

// byHand reports whether what is published on a site becomes a list for a person, since Mendry may only read there.
func (d *Desk) byHand(ctx context.Context, site int64) (bool, error) {
	h, err := d.store.SiteHost(ctx, site, "live")
	if err != nil {
		return false, missing(err, "host")
	}
	return h.Kind == "hand" || h.Tried != nil && !knowsOf(h.Knows).MayWrite, nil
}

// editURL is where a site that is served by hand is edited; empty where nobody said it.
func (d *Desk) editURL(ctx context.Context, site int64) (string, error) {
	h, err := d.store.SiteHost(ctx, site, "live")
	if err != nil || h.Kind != "hand" {
		return "", err
	}
	return h.URL, nil
}

// listByHand fills a step of a release by hand with what a person puts in and what was seen of it.
func (d *Desk) listByHand(ctx context.Context, s store.Step, marks []store.Mark, v *api.ReleaseStep) error {
	if s.Kind != corerelease.Page {
		return d.fileByHand(ctx, s, marks, v)
	}
	l, err := d.releases.List(ctx, s, marks)
	if no := refusal.Of(err); no != nil {
		v.Said = no.Say
		return nil
	}
	if err != nil {
		return err
	}
	for i, it := range l.Items {
		item := api.HandItem{
			N: i, Act: api.HandAct(it.Act), Kind: it.Kind, Name: it.Name, Where: it.Where, Markup: it.Markup, Put: l.Put[i],
			Taken: l.Taken[i], Values: []api.HandValue{}, Runs: []api.Run{},
		}
		for _, val := range it.Values {
			item.Values = append(item.Values, api.HandValue{
				Name: val.Name, Before: val.Before, After: val.After, Runs: runs(diff.Words(val.Before, val.After)),
			})
		}
		if i < len(l.Found) {
			f := l.Found[i]
			item.Seen, item.Say, item.Runs = api.HandSeen(f.Seen), f.Say, runs(f.Runs)
			if f.Slip {
				item.Slip = &f.Slip
			}
			for k := range f.Right {
				item.Values[k].Right = &f.Right[k]
			}
		}
		v.Items = append(v.Items, item)
	}
	for _, o := range l.Others {
		v.Others = append(v.Others, api.HandOther{
			Key: o.Key, Theirs: o.Theirs, Difference: api.PageDifference{Name: o.Name, Say: o.Say, Words: runs(o.Words)},
		})
	}
	return nil
}

// fileByHand is listByHand for a picture or another file.
func (d *Desk) fileByHand(ctx context.Context, s store.Step, marks []store.Mark, v *api.ReleaseStep) error {
	marked := func(kind byhand.Mark) bool {
		return slices.ContainsFunc(marks, func(m store.Mark) bool { return m.StepID == s.ID && m.Kind == kind })
	}
	item := api.HandItem{
		Act: api.HandActPutIn, Kind: "picture", Name: path.Base(s.Path), Where: "as /" + s.Path, Put: marked(byhand.Put),
		Taken: marked(byhand.Taken), Values: []api.HandValue{}, Runs: []api.Run{},
	}
	switch s.Kind {
	case corerelease.Remove:
		item.Act = api.HandActTakeOut
	case corerelease.File:
		b, err := d.store.Bytes(ctx, s.AfterHash)
		if err != nil {
			return err
		}
		if item.Kind = "file"; s.BeforeHash != "" {
			item.Where = "in the place of /" + s.Path
		}
		v.File = &api.HandFile{Name: path.Base(s.Path), Size: int64(len(b))}
	default:
		f, err := d.store.PictureFile(ctx, *s.PictureID)
		if err != nil {
			return err
		}
		v.File = &api.HandFile{Name: path.Base(s.Path), Size: f.Size, Width: &f.Width, Height: &f.Height}
	}
	switch {
	case s.State == corerelease.StepWritten:
		item.Seen = api.HandSeenRight
	case s.SeenAt == nil:
	case s.LiveHash != "" && s.LiveHash == s.BeforeHash:
		item.Seen = api.HandSeenNotYet
	case s.LiveHash != "" && s.Kind != corerelease.Remove:
		item.Seen, item.Say = api.HandSeenDifferent, "Another file stands there under this name."
	default:
		item.Seen = api.HandSeenNotYet
	}
	v.Items = append(v.Items, item)
	return nil
}

// MarkRelease keeps what a person says of an item or a difference of a release by hand.
func (d *Desk) MarkRelease(ctx context.Context, who Who, id int64, m api.HandMark) (api.Release, error) {
	mark := store.Mark{StepID: m.Step, Kind: byhand.Mark(m.Kind), About: m.About}
	if err := d.releases.Say(ctx, release.By{ID: who.ID, Name: who.Name}, id, mark); err != nil {
		return api.Release{}, missing(err, "release")
	}
	d.jobs.Wake()
	return d.Release(ctx, id)
}

// StepFile is a file that a person puts in by hand, with its name.
func (d *Desk) StepFile(ctx context.Context, id, step int64) (string, []byte, error) {
	steps, err := d.store.Steps(ctx, id)
	if err != nil {
		return "", nil, err
	}
	for _, s := range steps {
		if s.ID == step && (s.Kind == corerelease.Picture || s.Kind == corerelease.File) {
			b, err := d.store.Bytes(ctx, s.AfterHash)
			return path.Base(s.Path), b, err
		}
	}
	return "", nil, missing(store.ErrNone, "file")
}
