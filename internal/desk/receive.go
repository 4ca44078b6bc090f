package desk

import (
	"context"
	"strings"
	"unicode/utf16"

	openapi_types "github.com/oapi-codegen/runtime/types"

	"mendry/api"
	"mendry/internal/core/file"
	"mendry/internal/core/picture"
	"mendry/internal/core/request"
	"mendry/internal/core/text"
	"mendry/internal/store"
)

// AddRequest takes in a letter or a call.
func (d *Desk) AddRequest(ctx context.Context, who Who, f api.RequestForm) (api.Request, error) {
	subject := strings.TrimSpace(f.Subject)
	letter := strings.TrimSpace(strings.ReplaceAll(f.Letter, "\r\n", "\n"))
	if letter == "" {
		return api.Request{}, refused("Put in what the client wrote or said.")
	}
	if subject == "" {
		subject, _, _ = strings.Cut(letter, "\n")
		subject = shorten(subject, 80)
	}
	s, err := d.store.Site(ctx, f.SiteID)
	if err != nil {
		return api.Request{}, missing(err, "site")
	}
	c, err := d.store.Client(ctx, s.ClientID)
	if err != nil {
		return api.Request{}, err
	}
	r := store.Request{
		SiteID: s.ID, Subject: subject, Letter: letter, Kind: string(f.Kind), FromName: c.ContactName,
		State: string(request.New), ReceivedAt: d.now(), CreatedBy: who.ID,
	}
	if f.FromName != nil && strings.TrimSpace(*f.FromName) != "" {
		r.FromName = strings.TrimSpace(*f.FromName)
	}
	if f.DueOn != nil {
		r.DueOn = &f.DueOn.Time
	}
	var id int64
	err = d.store.Tx(ctx, func(q store.Queries) error {
		// First of all the site, which the record takes hold of, too: a request that is thrown out and added again has
		// another number.
		if err := q.LockSite(ctx, s.ID); err != nil {
			return err
		}
		if id, err = q.AddRequest(ctx, r); err != nil {
			return err
		}
		return d.note(ctx, q, s.ID, &id, nil, event{Who: who.Name, What: "request received", Say: subject, Note: letter})
	})
	if err != nil {
		return api.Request{}, err
	}
	return d.Request(ctx, id)
}

func shorten(s string, n int) string {
	if rs := []rune(s); len(rs) > n {
		return strings.TrimSpace(string(rs[:n-1])) + "…"
	}
	return s
}

// asSmall is how wide and high pictures that came with a letter are shown beside it, in pixels.
const asSmall = 320

// AddAttachment keeps a picture or a file to download that came with a letter.
func (d *Desk) AddAttachment(ctx context.Context, who Who, number int64, name string, b []byte) (api.Attachment, error) {
	a, err := lookAtAttachment(b)
	if err != nil {
		return api.Attachment{}, err
	}
	r, err := d.store.RequestRow(ctx, number)
	if err != nil {
		return api.Attachment{}, missing(err, "request")
	}
	a.RequestID, a.Name = number, shorten(name, 200)
	if picture.Begins(b) { // one that cannot be shown is refused now, and not when it is chosen for a page
		o := original{name: a.Name, hash: hash(b), bytes: func() ([]byte, error) { return b, nil }}
		if _, err := d.small(ctx, o, asSmall); err != nil {
			return api.Attachment{}, err
		}
	}
	err = d.store.Tx(ctx, func(q store.Queries) error {
		if a.Hash, err = q.KeepBytes(ctx, b); err != nil {
			return err
		}
		if a.ID, err = q.AddAttachment(ctx, a); err != nil {
			return err
		}
		return d.note(ctx, q, r.SiteID, &number, nil, event{Who: who.Name, What: "file received", Say: name + ", sha256 " + a.Hash})
	})
	return attachmentView(a), err
}

// lookAtAttachment tells what came: a picture, or a file to download.
func lookAtAttachment(b []byte) (store.Attachment, error) {
	if picture.Begins(b) {
		i, err := picture.Look(b)
		return store.Attachment{Media: i.Media, Width: i.Width, Height: i.Height, Size: int64(i.Size)}, err
	}
	f, err := file.Look(b)
	return store.Attachment{Media: f.Media, Size: f.Size}, err
}

// Attachment gives a file with its bytes.
func (d *Desk) Attachment(ctx context.Context, id int64) (store.Attachment, *store.Blob, error) {
	a, err := d.store.Attachment(ctx, id)
	if err != nil {
		return a, nil, missing(err, "file")
	}
	b, err := d.store.Blob(ctx, a.Hash)
	return a, b, err
}

func attachmentView(a store.Attachment) api.Attachment {
	return api.Attachment{ID: a.ID, Name: a.Name, Media: a.Media, Width: a.Width, Height: a.Height, Size: a.Size}
}

func requestRow(r store.RequestRow) api.RequestRow {
	row := api.RequestRow{
		Number: r.ID, SiteID: r.SiteID, SiteName: r.SiteName, PublicURL: r.PublicURL, Initials: r.Initials, Colour: r.Colour, Subject: r.Subject,
		Kind: api.RequestKind(r.Kind), FromName: r.FromName, State: api.RequestState(r.State), ReceivedAt: r.ReceivedAt,
		Pictures: r.Pictures, Wishes: r.Wishes, Placed: r.Placed, OpenWishes: r.OpenWish, Kept: r.Kept, Live: r.Live,
		Round: r.Round, OpenedAt: r.OpenedAt, RoundSent: r.RoundSent, AnsweredAt: r.Answered, SignedName: r.SignedName, MayClear: r.MayClear,
	}
	if r.DueOn != nil {
		row.DueOn = &openapi_types.Date{Time: *r.DueOn}
	}
	return row
}

// rowWithProblem is requestRow with what cannot be in the letter.
func (d *Desk) rowWithProblem(ctx context.Context, r store.RequestRow) (api.RequestRow, error) {
	row := requestRow(r)
	if len(badDates(r.Letter, nil)) == 0 {
		return row, nil
	}
	ws, err := d.store.Wishes(ctx, r.ID)
	row.Problem = problemOf(badDates(r.Letter, ws))
	return row, err
}

// units turns a letter into the UTF-16 units that wishes are counted in.
func units(s string) []uint16 { return utf16.Encode([]rune(s)) }

// badDates finds the dates of a letter that cannot be and that no wish has dealt with: one that is not done, with the
// reason, or one that is, since the page is looked at for itself then.
func badDates(letter string, wishes []store.Wish) []api.LetterDate {
	out := []api.LetterDate{}
	for _, dt := range text.Dates(letter) {
		why := dt.Problem()
		if why == "" {
			continue
		}
		start := len(units(letter[:dt.Start]))
		end := start + len(units(letter[dt.Start:dt.End]))
		closed := false
		for _, w := range wishes {
			if w.StartAt < end && w.EndAt > start && w.State != string(request.Open) {
				closed = true
			}
		}
		if !closed {
			out = append(out, api.LetterDate{Start: start, End: end, Problem: why})
		}
	}
	return out
}

func ignoreNone(err error) error {
	if err == store.ErrNone {
		return nil
	}
	return err
}

// Request shows a request with its wishes, files and thread.
func (d *Desk) Request(ctx context.Context, number int64) (api.Request, error) {
	v := api.Request{Wishes: []api.Wish{}, Attachments: []api.Attachment{}, Thread: []api.Change{}, Dates: []api.LetterDate{}, Moves: []api.RequestMove{}, Notes: []api.ClientNote{}}
	f, r, err := d.store.RequestFacts(ctx, number)
	if err != nil {
		return v, missing(err, "request")
	}
	s, err := d.store.Site(ctx, r.SiteID)
	if err != nil {
		return v, err
	}
	c, err := d.store.Client(ctx, s.ClientID)
	if err != nil {
		return v, err
	}
	ws, err := d.store.Wishes(ctx, number)
	if err != nil {
		return v, err
	}
	as, err := d.store.Attachments(ctx, number)
	if err != nil {
		return v, err
	}
	v.Row, v.Letter, v.PublicURL, v.SignedName, v.SignedAt = requestRow(r), r.Letter, s.PublicURL, r.SignedName, r.SignedAt
	v.ContactName, v.ContactMail = c.ContactName, c.ContactMail
	v.Dates = badDates(r.Letter, ws)
	v.Row.Problem = problemOf(v.Dates)
	for _, w := range ws {
		view, err := d.wishView(ctx, w, v.Dates)
		if err != nil {
			return v, err
		}
		v.Wishes = append(v.Wishes, view)
	}
	for _, a := range as {
		v.Attachments = append(v.Attachments, attachmentView(a))
	}
	for _, to := range request.Chosen() {
		m := api.RequestMove{To: api.RequestState(to), Allowed: true}
		if err := request.Move(f, to, request.Studio); err != nil {
			m.Allowed, m.Why = false, err.Error()
		}
		v.Moves = append(v.Moves, m)
	}
	if v.Thread, err = d.thread(ctx, number); err != nil {
		return v, err
	}
	v.Notes, err = d.notes(ctx, number)
	return v, err
}

// notes are what the client said “not yet” to in the last round.
func (d *Desk) notes(ctx context.Context, number int64) ([]api.ClientNote, error) {
	out := []api.ClientNote{}
	round, err := d.store.LastRound(ctx, number)
	if err != nil {
		return out, ignoreNone(err)
	}
	cs, err := d.store.RoundChanges(ctx, round.ID)
	for _, c := range cs {
		if c.Verdict == "not yet" {
			out = append(out, api.ClientNote{ChangeID: c.ChangeID, Round: round.N, Note: c.Note})
		}
	}
	return out, err
}

func problemOf(dates []api.LetterDate) string {
	switch len(dates) {
	case 0:
		return ""
	case 1:
		return "1 date can’t be"
	}
	return itoa(len(dates)) + " dates can’t be"
}

func (d *Desk) wishView(ctx context.Context, w store.Wish, dates []api.LetterDate) (api.Wish, error) {
	v := api.Wish{ID: w.ID, Start: w.StartAt, End: w.EndAt, Words: w.Words, State: api.WishState(w.State), Why: w.Why, PageID: w.PageID, PartName: w.PartName}
	for _, dt := range dates {
		if dt.Start < w.EndAt && dt.End > w.StartAt {
			v.Problem = dt.Problem
		}
	}
	if w.PageID == nil {
		return v, nil
	}
	p, err := d.store.Page(ctx, *w.PageID)
	if err != nil {
		return v, err
	}
	v.Address = p.Address
	if t := targetOf(w.PartTarget); t != nil {
		if parsed, err := d.parse(ctx, p); err == nil {
			if part, _ := parsed.Locate(*t); part != nil {
				v.Part = part.ID
			}
		}
	}
	return v, nil
}

// Move moves a request, if the rules allow it. It is cleared over what the client said only with a reason.
func (d *Desk) Move(ctx context.Context, who Who, number int64, to api.RequestState, why string) (api.Request, error) {
	if to == api.RequestStateCleared {
		if err := d.clear(ctx, who, number, strings.TrimSpace(why)); err != nil {
			return api.Request{}, err
		}
		return d.Request(ctx, number)
	}
	err := d.store.Tx(ctx, func(q store.Queries) error {
		if err := q.LockRequest(ctx, number); err != nil {
			return missing(err, "request")
		}
		r, err := q.RequestRow(ctx, number)
		if err != nil {
			return err
		}
		if err := move(ctx, q, number, request.State(to), request.Studio); err != nil {
			return err
		}
		return d.note(ctx, q, r.SiteID, &number, nil, event{Who: who.Name, What: "request " + string(to), Say: r.Subject})
	})
	if err != nil {
		return api.Request{}, err
	}
	return d.Request(ctx, number)
}
