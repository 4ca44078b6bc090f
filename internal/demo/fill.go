package demo

import (
	"cmp"
	"context"
	"fmt"
	"regexp"
	"strings"
	"time"
	"unicode/utf16"

	openapi_types "github.com/oapi-codegen/runtime/types"

	"mendry/api"
	"mendry/internal/core/act"
	"mendry/internal/desk"
	"mendry/internal/store"
)

// Fill brings the demo's people, sites and requests into an empty database, by the same use cases as a person would.
// Where the data is there already it does nothing.
func Fill(ctx context.Context, d *desk.Desk, s *store.Store, at []Address) error {
	if people, err := s.People(ctx); err != nil || len(people) > 0 {
		return err
	}
	f := &filler{ctx: ctx, d: d, s: s, sites: map[string]int64{}}
	for _, p := range People() {
		id, err := d.AddPerson(ctx, p.SignIn, p.Name, string(p.Role), p.Password)
		if err != nil {
			return fmt.Errorf("take in the demo's people: %w", err)
		}
		if f.who.ID == 0 {
			f.who = desk.Who{ID: id, Name: p.Name}
		}
	}
	for i, site := range Sites() {
		if err := f.site(site, at[i]); err != nil {
			return fmt.Errorf("take in %s: %w", site.Name, err)
		}
	}
	for _, step := range []struct {
		what string
		do   func() error
	}{
		{"winter fares", f.winterFares}, {"coach photo", f.coachPhoto}, {"open evening", f.openEvening}, {"tearoom hours", f.tearoom},
		{"Saturday hour", f.saturdayHour}, {"talks", f.talks},
		{"enquiries", f.enquiries}, {"the season", f.season}, {"an article", f.article},
		{"lengths and berths", f.lengths}, {"a telephone number", f.telephone}, {"a gallery", f.gallery}, {"voices", f.voices},
		{"a page's place", f.pageMoves}, {"the spring season", f.spring}, {"repair prices", f.repairPrices},
	} {
		if err := step.do(); err != nil {
			return fmt.Errorf("bring in the demo's letter about %s: %w", step.what, err)
		}
	}
	return nil
}

type filler struct {
	ctx   context.Context
	d     *desk.Desk
	s     *store.Store
	who   desk.Who
	sites map[string]int64
}

func (f *filler) site(s Site, at Address) error {
	kind := api.HostKind(cmp.Or(s.Kind, "webdav"))
	v, err := f.d.AddSite(f.ctx, f.who, api.SiteForm{
		HostKind: &kind,
		Name:     s.Name, ClientName: &s.Client, ContactName: &s.Contact, ContactMail: &s.Mail, MayClear: &s.MayClear, Zone: s.Zone,
		HostURL: at.Host, PublicURL: at.Public, HostUser: s.User, HostPassword: s.Password,
	})
	if err != nil {
		return err
	}
	f.sites[s.Dir] = v.ID
	return f.until(func() (bool, error) {
		v, err := f.d.Site(f.ctx, v.ID)
		if err == nil && v.Site.State == api.SiteStateFailed {
			err = fmt.Errorf("%s", v.Site.Said)
		}
		return v.Site.State == api.SiteStateReady, err
	})
}

// until waits for a condition.
func (f *filler) until(done func() (bool, error)) error {
	ctx, cancel := context.WithTimeout(f.ctx, 5*time.Minute)
	defer cancel()
	tick := time.NewTicker(50 * time.Millisecond)
	defer tick.Stop()
	for {
		ok, err := done()
		if ok || err != nil {
			return err
		}
		select {
		case <-ctx.Done():
			return ctx.Err()
		case <-tick.C:
		}
	}
}

func (f *filler) letter(site, subject, letter string, due int, kind api.RequestKind, pictures map[string][]byte) (api.Request, error) {
	day := openapi_types.Date{Time: f.d.Clock().AddDate(0, 0, due)}
	r, err := f.d.AddRequest(f.ctx, f.who, api.RequestForm{SiteID: f.sites[site], Subject: subject, Letter: letter, Kind: kind, DueOn: &day})
	for name, b := range pictures {
		if err == nil {
			_, err = f.d.AddAttachment(f.ctx, f.who, r.Row.Number, name, b)
		}
	}
	return r, err
}

// wish marks words of a letter and places them on a part of a page.
func (f *filler) wish(r api.Request, words, address, part string) (int64, error) {
	i := strings.Index(r.Letter, words)
	if i < 0 {
		return 0, fmt.Errorf("the letter does not say %q", words)
	}
	start := len(utf16.Encode([]rune(r.Letter[:i])))
	v, err := f.d.AddWish(f.ctx, r.Row.Number, api.WishForm{Start: start, End: start + len(utf16.Encode([]rune(words)))})
	if err != nil {
		return 0, err
	}
	for _, w := range v.Wishes {
		if w.Words != words {
			continue
		}
		if address == "" {
			return w.ID, nil
		}
		page, err := f.page(r.Row.SiteID, address)
		if err != nil {
			return 0, err
		}
		id, err := f.part(r.Row.Number, page, part)
		if err != nil {
			return 0, err
		}
		_, err = f.d.SetWish(f.ctx, f.who, r.Row.Number, w.ID, api.WishSet{PageID: &page, Part: &id})
		return w.ID, err
	}
	return 0, fmt.Errorf("the wish %q was not kept", words)
}

func (f *filler) page(site int64, address string) (int64, error) {
	v, err := f.d.Site(f.ctx, site)
	for _, p := range v.Pages {
		if p.Address == address {
			return p.ID, nil
		}
	}
	return 0, fmt.Errorf("no page %s: %w", address, err)
}

func (f *filler) part(number, page int64, name string) (string, error) {
	b, err := f.d.Bench(f.ctx, number, page)
	for _, p := range b.Parts {
		if p.Name == name || p.Kind+" "+p.Name == name || p.Kind == "words" && strings.HasPrefix(p.Text, name) {
			return p.ID, nil
		}
	}
	return "", fmt.Errorf("no part %q on page %d: %w", name, page, err)
}

// keep makes a change on a page by the name of its part.
func (f *filler) keep(r api.Request, address, part string, wish *int64, a func(part string) act.Act) error {
	page, err := f.page(r.Row.SiteID, address)
	if err != nil {
		return err
	}
	id, err := f.part(r.Row.Number, page, part)
	if err != nil {
		return err
	}
	b, err := f.d.Bench(f.ctx, r.Row.Number, page)
	if err != nil {
		return err
	}
	_, err = f.d.Keep(f.ctx, f.who, r.Row.Number, page, desk.Ask{Draft: b.Draft, Wish: wish, Act: a(id)})
	return err
}

func words(s string) func(string) act.Act {
	return func(part string) act.Act { return &act.Words{Part: part, Words: s} }
}

var linkInMail = regexp.MustCompile(`/p/([a-z2-7]+)`)

// answer answers the last proof of a request as the client would, by the link in the letter: all is right, but what
// note says is not yet.
func (f *filler) answer(number int64, name, note string) error {
	ms, err := f.s.MailsOf(f.ctx, number)
	if err != nil {
		return err
	}
	for _, m := range ms {
		t := linkInMail.FindStringSubmatch(m.Body)
		if t == nil {
			continue
		}
		v, err := f.d.OpenProof(f.ctx, t[1])
		if err != nil {
			return err
		}
		a := api.AnswerForm{Name: name, Round: v.Round}
		for _, c := range v.Changes {
			said := api.ClientAnswer{ChangeID: c.ID, Verdict: api.VerdictRight}
			if note != "" && c.ID == v.Changes[0].ID {
				said.Verdict, said.Note = api.VerdictNotYet, &note
			}
			a.Answers = append(a.Answers, said)
		}
		_, err = f.d.Answer(f.ctx, t[1], a)
		return err
	}
	return fmt.Errorf("no letter with a link was sent for request %d", number)
}
