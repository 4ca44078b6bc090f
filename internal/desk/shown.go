package desk

import (
	"cmp"
	"context"
	"strings"

	openapi_types "github.com/oapi-codegen/runtime/types"

	"mendry/api"
	"mendry/internal/core/request"
	"mendry/internal/store"
)

// OpenProof shows the client what they are asked to look at.
func (d *Desk) OpenProof(ctx context.Context, t string) (api.ClientProof, error) {
	r, err := d.roundOf(ctx, d.store.Queries, t)
	if err != nil {
		return api.ClientProof{}, err
	}
	if err := d.store.OpenRound(ctx, r.ID, d.now()); err != nil {
		return api.ClientProof{}, err
	}
	return d.clientProof(ctx, r.ID)
}

func (d *Desk) clientProof(ctx context.Context, roundID int64) (api.ClientProof, error) {
	v := api.ClientProof{Changes: []api.ClientChange{}, Pages: []api.ClientPage{}, NotDone: []api.NotDone{}}
	r, err := d.store.Round(ctx, roundID)
	if err != nil {
		return v, err
	}
	p, err := d.proven(ctx, r.RequestID)
	if err != nil {
		return v, err
	}
	v.SiteName, v.Colour, v.Subject, v.ContactName = p.site.Name, p.site.Colour, p.r.Subject, p.client.ContactName
	v.AskedOn = openapi_types.Date{Time: p.r.ReceivedAt.In(p.site.Clock())}
	v.Round, v.SignedName, v.AnsweredAt = r.N, r.SignedName, r.AnsweredAt
	v.State = d.clientState(p, r)
	v.Live = p.r.State == string(request.Live) || p.r.State == string(request.SignedOff)
	if v.NotDone, err = d.notDone(ctx, r.RequestID); err != nil {
		return v, err
	}
	rcs, err := d.store.RoundChanges(ctx, r.ID)
	if err != nil {
		return v, err
	}
	all, err := d.thread(ctx, r.RequestID)
	if err != nil {
		return v, err
	}
	told, err := d.toldOf(ctx, p, r)
	if err != nil {
		return v, err
	}
	byID := map[int64]api.Change{}
	for _, c := range all {
		byID[c.ID] = c
	}
	pages := map[int64]bool{}
	for _, rc := range rcs {
		c, ok := byID[rc.ChangeID]
		if !ok {
			continue // taken back since
		}
		if !pages[c.PageID] {
			pages[c.PageID] = true
			cp, err := d.clientPage(ctx, p, r, c)
			if err != nil {
				return v, err
			}
			v.Pages = append(v.Pages, cp)
		}
		cc, own := told.change(c, rc), v.Pages[len(v.Pages)-1]
		if cc.AfterPicture = at(own.DraftURL, c.AfterPicture); c.BeforePicture != "" { // none where it is new
			cc.BeforePicture = at(own.LiveURL, c.BeforePicture)
		}
		v.Changes = append(v.Changes, cc)
	}
	return v, nil
}

// told is by what changes are told to a client.
type told struct {
	site    string
	names   called
	targets map[int64]store.Change // changes to where a link leads
	wishes  map[int64]string
	earlier map[int64]*api.Earlier
}

func (d *Desk) toldOf(ctx context.Context, p *proven, r store.Round) (told, error) {
	t := told{site: p.site.Name, targets: map[int64]store.Change{}}
	for _, dr := range p.drafts {
		for _, c := range dr.changes {
			if isTarget(c) {
				t.targets[c.ID] = c
			}
		}
	}
	if len(t.targets) > 0 {
		rows, err := d.store.PageRows(ctx, p.site.ID)
		if err != nil {
			return t, err
		}
		t.names = calledBy(rows, t.site)
	}
	var err error
	if t.earlier, err = d.earlier(ctx, r); err != nil {
		return t, err
	}
	t.wishes, err = wishWords(ctx, d.store.Queries, r.RequestID)
	return t, err
}

func (t told) change(c api.Change, rc store.RoundChange) api.ClientChange {
	cc := api.ClientChange{
		ID: c.ID, Place: cmp.Or(rc.Place, c.PartName), PageTitle: pageName(c.Address, c.PageTitle, t.site), Kind: c.Kind, Words: c.Words, BeforeWords: c.BeforeWords,
		AfterWords: c.AfterWords, BeforePicture: c.BeforePicture, AfterPicture: c.AfterPicture, Shape: c.Shape, Say: c.Say, Files: c.Files, OnPages: c.OnPages,
		Verdict: api.Verdict(rc.Verdict), Note: rc.Note, Earlier: t.earlier[c.ID],
	}
	if target, ok := t.targets[c.ID]; ok {
		t.names.leading(&cc, target, c.Address)
	}
	if c.WishID != nil {
		cc.Wish = t.wishes[*c.WishID]
	}
	return cc
}

// titleOf is a page's title without the name of its site, which clients know.
func titleOf(title, site string) string {
	rest, ok := strings.CutSuffix(title, site)
	rest = strings.TrimRight(rest, " ")
	if short := strings.TrimRight(rest, " |·–—-:»"); ok && short != "" && short != rest { // something stood between them
		return short
	}
	return title
}

// earlier is what the client said to changes in the rounds before, and whether these are as they were then.
func (d *Desk) earlier(ctx context.Context, r store.Round) (map[int64]*api.Earlier, error) {
	said := map[int64]*api.Earlier{}
	vs, err := d.store.EarlierVerdicts(ctx, r.RequestID, r.N)
	for _, v := range vs {
		said[v.ChangeID] = &api.Earlier{Round: v.N, Verdict: api.Verdict(v.Verdict), Note: v.Note, Same: v.ChangedAt.Before(v.AnsweredAt)}
	}
	return said, err
}

// notDone lists the wishes of a request that will not be done, each with its reason.
func (d *Desk) notDone(ctx context.Context, number int64) ([]api.NotDone, error) {
	out := []api.NotDone{}
	ws, err := d.store.Wishes(ctx, number)
	for _, w := range ws {
		if w.State == string(request.Refused) || w.State == string(request.Impossible) {
			out = append(out, api.NotDone{Words: w.Words, Impossible: w.State == string(request.Impossible), Why: w.Why})
		}
	}
	return out, err
}

// at is the address of a public path in the view that page is in.
func at(page, publicPath string) string {
	if publicPath == "" {
		return ""
	}
	scheme := strings.Index(page, "://") + 3
	if slash := strings.IndexByte(page[scheme:], '/'); slash >= 0 {
		return page[:scheme+slash] + publicPath
	}
	return page + publicPath
}

func (d *Desk) clientPage(ctx context.Context, p *proven, r store.Round, c api.Change) (api.ClientPage, error) {
	out := api.ClientPage{Title: pageName(c.Address, c.PageTitle, p.site.Name)}
	var err error
	if out.LiveURL, err = d.view(ctx, store.Preview{SiteID: p.site.ID, RequestID: &r.RequestID, RoundID: &r.ID, View: "live"}, c.Address); err != nil {
		return out, err
	}
	if out.DraftURL, err = d.view(ctx, store.Preview{SiteID: p.site.ID, RequestID: &r.RequestID, RoundID: &r.ID, View: "draft"}, c.Address); err != nil {
		return out, err
	}
	shown, err := d.store.RoundPages(ctx, r.ID)
	out.Shots = []api.PageShot{}
	for _, rp := range shown {
		if rp.PageID == c.PageID && err == nil {
			out.Shots, err = d.shownShots(ctx, r.RequestID, rp)
		}
	}
	return out, err
}

// clientState tells where a round stands for the client. It is stale where the draft is no longer what was sent.
func (d *Desk) clientState(p *proven, r store.Round) api.ClientState {
	switch {
	case r.AnsweredAt != nil && r.SignedName != "":
		return "signed"
	case r.AnsweredAt != nil:
		return "answered"
	case p.round == nil || p.round.ID != r.ID || p.r.State != string(request.WithClient):
		return "stale"
	}
	for _, o := range p.all() {
		if !p.shown(o) {
			return "stale"
		}
	}
	return "open"
}
