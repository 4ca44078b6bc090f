package desk

import (
	"bytes"
	"cmp"
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"image"
	"image/png"
	"maps"
	"math"
	"slices"
	"strconv"
	"strings"
	"time"

	"mendry/api"
	"mendry/internal/core/check"
	"mendry/internal/core/refusal"
	"mendry/internal/core/shot"
	"mendry/internal/core/style"
	"mendry/internal/shots"
	"mendry/internal/store"
)

// shotWidths are the widths of the window at which a page is looked at, in CSS pixels: a phone, a tablet, a screen.
var shotWidths = []int{390, 768, 1280}

// mark says which draft it is: what the page is, what becomes of it, and which files the changes bring by now.
func (dr *draft) mark() string {
	var b strings.Builder
	fmt.Fprintf(&b, "%s %s", dr.row.Hash, dr.Hash())
	for _, c := range dr.changes {
		fmt.Fprintf(&b, " %d@%d", c.ID, c.ChangedAt.UnixMicro())
	}
	return hash([]byte(b.String()))
}

// shotsAfter is how long pictures wait after a proof was opened: who goes straight on to publish needs none, and
// should not share the machine with a browser.
const shotsAfter = 2 * time.Second

// AskShots asks for pictures of a page before and after its draft, which a job takes.
func (d *Desk) AskShots(ctx context.Context, number, pageID int64) (api.PageShots, error) {
	dr, err := d.draftOf(ctx, d.store.Queries, number, pageID)
	if err != nil {
		return api.PageShots{}, err
	}
	if d.Camera == nil || dr.Conflict != nil || len(dr.changes) == 0 {
		return d.shotsView(ctx, dr)
	}
	err = d.store.Tx(ctx, func(q store.Queries) error {
		wanted, err := q.AskShots(ctx, store.ShotSet{
			RequestID: number, PageID: pageID, Mark: dr.mark(), BeforeHash: dr.row.Hash, AfterHash: dr.Hash(), At: d.now(),
		})
		if err != nil || !wanted {
			return err
		}
		// One browser at a time.
		return q.AskJob(ctx, "shots", fmt.Sprintf("%d/%d", number, pageID), "shots", d.now().Add(shotsAfter))
	})
	if err != nil {
		return api.PageShots{}, err
	}
	return d.shotsView(ctx, dr)
}

// Shots tells how far the pictures of a page's draft have come, and shows them.
func (d *Desk) Shots(ctx context.Context, number, pageID int64) (api.PageShots, error) {
	dr, err := d.draftOf(ctx, d.store.Queries, number, pageID)
	if err != nil {
		return api.PageShots{}, err
	}
	return d.shotsView(ctx, dr)
}

func (d *Desk) shotsView(ctx context.Context, dr *draft) (api.PageShots, error) {
	v := api.PageShots{State: api.ShotsStateNone, Shots: []api.PageShot{}}
	l, err := d.store.ShotSet(ctx, dr.request, dr.row.ID, dr.mark())
	switch {
	case errors.Is(err, store.ErrNone) && d.Camera == nil:
		v.State, v.Say = api.ShotsStateOff, "There is no Chromium on the server, so no pictures are taken. Debian's package chromium brings it. Everything else works without."
		return v, nil
	case errors.Is(err, store.ErrNone):
		return v, nil
	case err != nil:
		return v, err
	}
	v.State, v.Say = api.ShotsState(l.State), l.Said
	v.Shots, err = d.shotViews(ctx, l.ID)
	return v, err
}

func (d *Desk) shotViews(ctx context.Context, set int64) ([]api.PageShot, error) {
	out := []api.PageShot{}
	rows, err := d.store.Shots(ctx, set)
	for _, s := range rows {
		v := api.PageShot{
			Width: s.Width, Before: s.BeforePNG, After: s.AfterPNG, BeforeHeight: s.BeforeHeight, AfterHeight: s.AfterHeight, Moving: s.Moving,
			Cut: s.Cut, Regions: []api.ShotRegion{},
		}
		rs, err := regionsOf(s)
		if err != nil {
			return out, err
		}
		for _, r := range rs {
			v.Regions = append(
				v.Regions,
				api.ShotRegion{Before: box(r.Before), After: box(r.After), Intended: r.Intended, Name: r.Name},
			)
		}
		out = append(out, v)
	}
	return out, err
}

func regionsOf(s store.PageShot) (rs []shot.Seen, err error) {
	return rs, json.Unmarshal([]byte(s.Regions), &rs)
}

// box is a rectangle as it is told; none where it is empty.
func box(r image.Rectangle) *api.Box {
	if r.Empty() {
		return nil
	}
	return &api.Box{X: r.Min.X, Y: r.Min.Y, Width: r.Dx(), Height: r.Dy()}
}

// takeShots does the job of taking the pictures of a page before and after a draft.
func (d *Desk) takeShots(ctx context.Context, about string) (again time.Time, err error) {
	number, pageID, ok := strings.Cut(about, "/")
	request, err1 := strconv.ParseInt(number, 10, 64)
	id, err2 := strconv.ParseInt(pageID, 10, 64)
	if !ok || err1 != nil || err2 != nil || d.Camera == nil {
		return again, nil
	}
	dr, err := d.draftOf(ctx, d.store.Queries, request, id)
	if refusal.Is(err, refusal.Nothing) {
		return again, nil // the page is gone
	}
	if err != nil {
		return again, err
	}
	l, err := d.store.ShotSet(ctx, request, id, dr.mark())
	if errors.Is(err, store.ErrNone) || err == nil && l.State == store.ShotsReady {
		return again, nil // the draft is another by now, and is asked for by who looks at it
	}
	if err != nil {
		return again, err
	}
	taken, err := d.pictured(ctx, dr, func(n, of int) {
		say := fmt.Sprintf("Picture %d of %d", n+1, of)
		_ = d.store.SayShots(ctx, l.ID, store.ShotsTaking, say, d.now()) // progress only
	})
	if no := refusal.Of(err); no != nil {
		return again, d.store.SayShots(ctx, l.ID, store.ShotsFailed, no.Say, d.now())
	}
	if err != nil {
		return again, err
	}
	return again, d.store.Tx(ctx, func(q store.Queries) error { return q.SetShots(ctx, l, taken, d.now()) })
}

// pictured takes the pictures, keeps them, and finds what differs. The live page is taken twice at each width, so that
// what moves by itself is known.
func (d *Desk) pictured(ctx context.Context, dr *draft, tell func(n, of int)) (all []store.PageShot, err error) {
	var addresses [2]string
	for i, view := range []string{"live", "draft"} {
		v := store.Preview{SiteID: dr.row.SiteID, RequestID: &dr.request, View: view, Marked: true}
		if addresses[i], err = d.view(ctx, v, dr.row.Address); err != nil {
			return nil, err
		}
		addresses[i] = throughDoor(addresses[i])
	}
	var views []shots.View
	for _, w := range shotWidths {
		for _, a := range []string{addresses[0], addresses[1], addresses[0]} {
			views = append(views, shots.View{Address: a, Width: w})
		}
	}
	taken, err := d.Camera.Take(ctx, views, func(n int) { tell(n, len(views)) })
	if err != nil {
		return nil, err
	}
	for i, w := range shotWidths {
		s, err := compared(dr, taken[3*i:3*i+3])
		if err != nil {
			return nil, err
		}
		s.Width = w
		if s.BeforePNG, err = d.store.KeepBytes(ctx, taken[3*i].PNG); err != nil {
			return nil, err
		}
		if s.AfterPNG, err = d.store.KeepBytes(ctx, taken[3*i+1].PNG); err != nil {
			return nil, err
		}
		all = append(all, s)
	}
	return all, nil
}

// compared finds what differs in the pictures of one width: live, draft, and live once more.
func compared(dr *draft, three []shots.Shot) (s store.PageShot, err error) {
	var m [3]image.Image
	for i, t := range three {
		if m[i], err = png.Decode(bytes.NewReader(t.PNG)); err != nil {
			return s, fmt.Errorf("read a picture that the browser took: %w", err)
		}
	}
	s.BeforeHeight, s.AfterHeight, s.Cut = m[0].Bounds().Dy(), m[1].Bounds().Dy(), three[0].Cut || three[1].Cut
	seen, moving := shot.Sight{
		Was: dr.Live, Now: dr.Page(), Before: m[0], After: m[1], Again: m[2], PartsBefore: rects(three[0].Parts), PartsAfter: rects(three[1].Parts),
		Touched: check.TouchedBy(dr.Draft),
	}.Look()
	if s.Moving = moving; seen == nil {
		seen = []shot.Seen{}
	}
	b, err := json.Marshal(seen)
	if err != nil {
		return s, err
	}
	s.Regions = string(b)
	faint, err := faintWords(dr, three)
	if err != nil {
		return s, err
	}
	b, err = json.Marshal(faint)
	s.Faint = string(b)
	return s, err
}

// faintWords are words over a picture that hardly stand out from it, and did before.
func faintWords(dr *draft, three []shots.Shot) ([]shot.Faint, error) {
	none := []shot.Faint{}
	if three[1].Bare == nil {
		return none, nil
	}
	after, err := png.Decode(bytes.NewReader(three[1].Bare))
	if err != nil {
		return none, fmt.Errorf("read a picture that the browser took: %w", err)
	}
	var before image.Image
	if three[0].Bare != nil {
		if before, err = png.Decode(bytes.NewReader(three[0].Bare)); err != nil {
			return none, fmt.Errorf("read a picture that the browser took: %w", err)
		}
	}
	return append(none, shot.FaintWords(dr.Live, dr.Page(), overs(three[0]), overs(three[1]), before, after)...), nil
}

func overs(s shots.Shot) (all []shot.Over) {
	if s.Bare == nil {
		return nil
	}
	for _, o := range s.Over {
		over := shot.Over{Part: o.ID, Ink: style.Color{R: o.Ink[0], G: o.Ink[1], B: o.Ink[2], A: 1}, Large: o.Large}
		for _, l := range o.Lines {
			over.Lines = append(over.Lines, rectOf(l))
		}
		all = append(all, over)
	}
	return all
}

func rectOf(p shots.Part) image.Rectangle {
	return image.Rect(
		int(math.Round(p.X)),
		int(math.Round(p.Y)),
		int(math.Round(p.X+p.Width)),
		int(math.Round(p.Y+p.Height)),
	)
}

// rects are where parts stand on a picture, by their IDs; one that is drawn in several pieces stands in all of them.
func rects(parts []shots.Part) map[string]image.Rectangle {
	at := map[string]image.Rectangle{}
	for _, p := range parts {
		at[p.ID] = at[p.ID].Union(rectOf(p))
	}
	return at
}

// mostPlaces is how many places that look different are named in a finding.
const mostPlaces = 4

// seenFinding says what the pictures of a draft tell; none where there are none yet.
func (d *Desk) seenFinding(ctx context.Context, dr *draft) ([]api.Finding, error) {
	rows, err := d.takenOf(ctx, dr)
	if err != nil || rows == nil {
		return nil, err
	}
	faint, err := faintFindings(rows, dr.row.ID)
	if err != nil {
		return nil, err
	}
	f := api.Finding{Rule: "looks-same", Level: api.LevelFine, PageID: dr.row.ID}
	places := map[string][]string{}
	moving := 0
	for _, s := range rows {
		moving = max(moving, s.Moving)
		rs, err := regionsOf(s)
		if err != nil {
			return nil, err
		}
		for _, r := range rs {
			name := cmp.Or(r.Name, "a place without a name")
			if at := strconv.Itoa(s.Width); !r.Intended && !slices.Contains(places[name], at) {
				places[name] = append(places[name], at)
			}
		}
	}
	if len(places) == 0 {
		f.Say = "In pictures at 390, 768 and 1280 nothing looks different but what was changed."
		if moving > 0 {
			f.Say += fmt.Sprintf(" %s by itself and was left out.", spots(moving))
		}
		return append(faint, f), nil
	}
	f.Level = api.LevelLook
	var said []string
	for name, widths := range places {
		said = append(said, fmt.Sprintf("%s at %s", name, strings.Join(widths, ", ")))
	}
	slices.Sort(said)
	more := ""
	if len(said) > mostPlaces {
		more = fmt.Sprintf("; and %d more", len(said)-mostPlaces)
	}
	f.Say = fmt.Sprintf(
		"What was not changed looks different: %s%s. Look at the pictures.", strings.Join(said[:min(len(said), mostPlaces)], "; "), more,
	)
	return append(faint, f), nil
}

// faintFindings say which words hardly stand out from the picture behind them, each at the width where that is worst.
func faintFindings(rows []store.PageShot, page int64) (fs []api.Finding, err error) {
	worst := map[string]shot.Faint{}
	at := map[string]int{}
	for _, s := range rows {
		var all []shot.Faint
		if err := json.Unmarshal([]byte(s.Faint), &all); err != nil {
			return nil, err
		}
		for _, f := range all {
			if was, ok := worst[f.Name]; !ok || f.Contrast < was.Contrast {
				worst[f.Name], at[f.Name] = f, s.Width
			}
		}
	}
	for _, name := range slices.Sorted(maps.Keys(worst)) {
		f := worst[name]
		fs = append(fs, api.Finding{Rule: "words-over-picture", Level: api.LevelLook, PageID: page, Words: name, Say: fmt.Sprintf(
			"%s hardly stands out from the picture behind it: contrast %.1f at %d, at least %.1f is needed (WCAG 2.2). "+
				"Choose a calmer or darker picture.", name, f.Contrast, at[name], f.Needs,
		)})
	}
	return fs, nil
}

func spots(n int) string {
	if n == 1 {
		return "One spot moves"
	}
	return itoa(n) + " spots move"
}

// ShotOf is a picture of a request's pages by its hash.
func (d *Desk) ShotOf(ctx context.Context, number int64, png string) ([]byte, error) {
	has, err := d.store.HasShot(ctx, number, png)
	if err != nil || !has {
		return nil, missing(cmp.Or(err, error(store.ErrNone)), "picture")
	}
	return d.store.Bytes(ctx, png)
}

// ClientShot is ShotOf by the link that a client has.
func (d *Desk) ClientShot(ctx context.Context, t, png string) ([]byte, error) {
	r, err := d.roundOf(ctx, d.store.Queries, t)
	if err != nil {
		return nil, err
	}
	return d.ShotOf(ctx, r.RequestID, png)
}

// shownShots are the pictures of what a round showed of a page; none where there are none.
func (d *Desk) shownShots(ctx context.Context, request int64, p store.RoundPage) ([]api.PageShot, error) {
	l, err := d.store.ShownShots(ctx, request, p)
	if errors.Is(err, store.ErrNone) {
		return []api.PageShot{}, nil
	}
	if err != nil {
		return nil, err
	}
	return d.shotViews(ctx, l.ID)
}

// seenHashes tell the record which pictures were taken of a draft.
func (d *Desk) seenHashes(ctx context.Context, dr *draft) (said []string, err error) {
	rows, err := d.takenOf(ctx, dr)
	for _, s := range rows {
		said = append(said, fmt.Sprintf(
			"fine: %s seen at %d points wide: before sha256 %s, after sha256 %s", dr.row.Address, s.Width, s.BeforePNG, s.AfterPNG,
		))
	}
	return said, err
}

// takenOf lists the pictures of a draft; none where they are not all taken.
func (d *Desk) takenOf(ctx context.Context, dr *draft) ([]store.PageShot, error) {
	l, err := d.store.ShotSet(ctx, dr.request, dr.row.ID, dr.mark())
	if err != nil || l.State != store.ShotsReady {
		return nil, ignoreNone(err)
	}
	return d.store.Shots(ctx, l.ID)
}
