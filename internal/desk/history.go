package desk

import (
	"context"
	"errors"
	"fmt"

	"mendry/api"
	"mendry/internal/core/diff"
	"mendry/internal/core/page"
	"mendry/internal/core/thread"
	"mendry/internal/store"
)

const mostReleases = 100 // of one page that are gone through

// wording is what a part said on one version of its page.
type wording struct {
	api.Wording
	page *page.Page
	part *page.Part
}

// History lists every wording that a part had on the live page, the newest first.
func (d *Desk) History(ctx context.Context, number, pageID int64, id string) ([]api.Wording, error) {
	out := []api.Wording{}
	dr, err := d.draftOf(ctx, d.store.Queries, number, pageID)
	if err != nil {
		return out, err
	}
	part, err := dr.part(id)
	if err != nil {
		return out, err
	}
	ws, err := d.wordings(ctx, d.store.Queries, dr.row, dr.Draft, part)
	for _, w := range ws {
		out = append(out, w.Wording)
	}
	return out, err
}

// wordings lists what a part of a draft said on the live page, the newest first.
func (d *Desk) wordings(ctx context.Context, q store.Queries, row store.Page, dr *thread.Draft, part *page.Part) ([]wording, error) {
	if !part.Kind.HasWords() {
		return nil, nil
	}
	part = dr.First(part)
	if part == nil {
		return nil, nil // the draft made it
	}
	ws := []wording{{api.Wording{Version: "live", Words: part.Text, Say: "live now"}, dr.Live, part}}
	steps, err := q.PageSteps(ctx, row.ID, mostReleases)
	if err != nil {
		return nil, err
	}
	at := dr.Live
	for _, s := range steps {
		for _, side := range []struct {
			name, hash string
		}{{"after", s.AfterHash}, {"before", s.BeforeHash}} {
			older, err := d.parsed(ctx, row.Path, side.hash, row.Media)
			if err != nil {
				return ws, nil // what cannot be read ends what is known
			}
			was, err := older.Locate(at.TargetOf(part))
			if was == nil || err != nil && !errors.Is(err, page.ErrElsewhere) {
				return ws, nil
			}
			if err != nil && len(older.All) != len(at.All) && !related(was.Text, part.Text) {
				return ws, nil // parts came or went: what stands in its place may be another one
			}
			last := &ws[len(ws)-1]
			if was.HTML != part.HTML {
				if side.name == "after" {
					last.Say = "changed elsewhere, not through Mendry"
				} else {
					last.Say, last.Who, last.At, last.Request = fmt.Sprintf("published for request %d", s.RequestID), s.Who, &s.At, &s.RequestID
					if s.Undoes != nil {
						last.Say = fmt.Sprintf("taken back, request %d", s.RequestID)
					}
				}
				ws = append(ws, wording{api.Wording{Version: fmt.Sprintf("%s %d", side.name, s.ID), Words: was.Text, Say: "as Mendry first knew it"}, older, was})
			}
			at, part = older, was
		}
	}
	return ws, nil
}

// related reports whether a third of the words are the same.
func related(a, b string) bool {
	same, all := 0, 0
	for _, r := range diff.Words(a, b) {
		n := len(r.Text)
		if r.Is == diff.Same {
			same += 2 * n
			n *= 2
		}
		all += n
	}
	return 3*same >= all
}
