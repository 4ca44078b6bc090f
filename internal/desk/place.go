package desk

import (
	"cmp"
	"context"
	"encoding/json"
	"strconv"
	"strings"
	"unicode/utf16"

	"mendry/api"
	"mendry/internal/core/act"
	"mendry/internal/core/page"
	"mendry/internal/core/request"
	"mendry/internal/store"
)

func itoa(n int) string { return strconv.Itoa(n) }

// targetOf reads a stored target, nil where there is none.
func targetOf(s string) *page.Target {
	var t page.Target
	if s == "" || json.Unmarshal([]byte(s), &t) != nil {
		return nil
	}
	return &t
}

// AddWish marks a phrase of a letter as a wish.
func (d *Desk) AddWish(ctx context.Context, number int64, f api.WishForm) (api.Request, error) {
	r, err := d.store.RequestRow(ctx, number)
	if err != nil {
		return api.Request{}, missing(err, "request")
	}
	u := units(r.Letter)
	start, end := f.Start, f.End
	if start < 0 || end > len(u) || start >= end {
		return api.Request{}, refused("Mark some words of the letter first.")
	}
	for start < end && isBlank(u[start]) {
		start++
	}
	for end > start && isBlank(u[end-1]) {
		end--
	}
	words := string(utf16.Decode(u[start:end]))
	if strings.TrimSpace(words) == "" {
		return api.Request{}, refused("Mark some words of the letter first.")
	}
	ws, err := d.store.Wishes(ctx, number)
	if err != nil {
		return api.Request{}, err
	}
	for _, w := range ws {
		if w.StartAt < end && w.EndAt > start {
			return api.Request{}, refused("These words belong to the wish “%s” already. Take its mark out first.", page.Short(w.Words, 40))
		}
	}
	if _, err := d.store.AddWish(ctx, store.Wish{RequestID: number, StartAt: start, EndAt: end, Words: words, State: string(request.Open)}); err != nil {
		return api.Request{}, err
	}
	return d.Request(ctx, number)
}

func isBlank(u uint16) bool { return u == ' ' || u == '\n' || u == '\t' || u == 0xA0 }

// SetWish places a wish on a page and part, or says what became of it.
func (d *Desk) SetWish(ctx context.Context, who Who, number, id int64, f api.WishSet) (api.Request, error) {
	err := d.store.Tx(ctx, func(q store.Queries) error {
		if err := q.LockRequest(ctx, number); err != nil {
			return missing(err, "request")
		}
		r, err := q.RequestRow(ctx, number)
		if err != nil {
			return err
		}
		w, err := q.Wish(ctx, number, id)
		if err != nil {
			return missing(err, "wish")
		}
		if f.State != nil {
			w.State = string(*f.State)
		}
		if f.Why != nil {
			w.Why = strings.TrimSpace(*f.Why)
		}
		if (w.State == string(request.Refused) || w.State == string(request.Impossible)) && w.Why == "" {
			return refused("Say in a few words why, so that the client can be told.")
		}
		if f.PageID != nil {
			if err := d.placeWish(ctx, q, r, &w, *f.PageID, f.Part); err != nil {
				return err
			}
		}
		if err := q.SetWish(ctx, w); err != nil {
			return err
		}
		if f.PageID != nil && r.State == string(request.New) {
			if err := move(ctx, q, number, request.Placed, request.Work); err != nil {
				return err
			}
		}
		say := "“" + page.Short(w.Words, 60) + "”: " + w.State
		if f.PageID != nil {
			say = "“" + page.Short(w.Words, 60) + "” placed on " + cmp.Or(w.PartName, "the page")
		}
		return d.note(ctx, q, r.SiteID, &number, w.PageID, event{Who: who.Name, What: "wish", Say: say, Note: w.Why})
	})
	if err != nil {
		return api.Request{}, err
	}
	return d.Request(ctx, number)
}

func (d *Desk) placeWish(ctx context.Context, q store.Queries, r store.RequestRow, w *store.Wish, pageID int64, part *string) error {
	p, err := q.Page(ctx, pageID)
	if err != nil {
		return missing(err, "page")
	}
	if p.SiteID != r.SiteID {
		return refused("That page belongs to another site than this request.")
	}
	w.PageID, w.PartName, w.PartTarget = &p.ID, "", ""
	if part == nil || *part == "" {
		return nil
	}
	parsed, err := d.parse(ctx, p)
	if err != nil {
		return err
	}
	found, ok := parsed.Part(*part)
	if !ok {
		return stale("The page has changed since the search. Search again.")
	}
	b, err := json.Marshal(parsed.TargetOf(found))
	w.PartName, w.PartTarget = shorten(found.Name, 200), string(b)
	return err
}

// wishFor is the wish that a change is made for: the one in hand, or the one on the part that it changes.
func wishFor(ctx context.Context, q store.Queries, dr *draft, a act.Change, inHand *int64) (*store.Wish, error) {
	if inHand == nil {
		return wishOn(ctx, q, dr, a)
	}
	w, err := q.Wish(ctx, dr.request, *inHand)
	return &w, err
}

// wishOn is the open wish that is placed on the part which a change is of, made with none in hand; nil where there is
// none.
func wishOn(ctx context.Context, q store.Queries, dr *draft, a act.Change) (*store.Wish, error) {
	if a.BeforeWords == "" || a.TakesBack != 0 || len(a.Step) == 0 || a.Step[0].On == nil {
		return nil, nil
	}
	ws, err := q.Wishes(ctx, dr.request)
	if err != nil {
		return nil, err
	}
	for _, w := range ws {
		target := targetOf(w.PartTarget)
		if w.State != string(request.Open) || w.PageID == nil || *w.PageID != dr.row.ID || target == nil {
			continue
		}
		placed, err := dr.Live.Locate(*target)
		if err != nil {
			continue // it is not there any more
		}
		if part, err := dr.Page().Locate(*a.Step[0].On); err == nil && dr.First(part) == placed {
			return &w, nil
		}
	}
	return nil, nil
}

// DropWish takes a mark out of the letter.
func (d *Desk) DropWish(ctx context.Context, number, id int64) (api.Request, error) {
	cs, err := d.store.Thread(ctx, number)
	if err != nil {
		return api.Request{}, err
	}
	for _, c := range cs {
		if c.WishID != nil && *c.WishID == id {
			return api.Request{}, refused("Changes were made for this wish. Undo them first, or leave the mark.")
		}
	}
	if err := d.store.DropWish(ctx, number, id); err != nil {
		return api.Request{}, missing(err, "wish")
	}
	return d.Request(ctx, number)
}
