package demo

import (
	"context"
	"fmt"
	"regexp"
	"strings"
	"time"
	"unicode/utf16"

	openapi_types "github.com/oapi-codegen/runtime/types"

	"mendry/api"
	"mendry/internal/core/act"
	"mendry/internal/core/change"
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
	v, err := f.d.AddSite(f.ctx, f.who, api.SiteForm{
		Name: s.Name, ClientName: &s.Client, ContactName: &s.Contact, ContactMail: &s.Mail, MayClear: &s.MayClear, Zone: s.Zone,
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
	ctx, cancel := context.WithTimeout(f.ctx, time.Minute)
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
	day := openapi_types.Date{Time: time.Now().AddDate(0, 0, due)}
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

func (f *filler) winterFares() error {
	r, err := f.letter("larkspur", "Winter fares from 1 December, and the 31 November sailing",
		"Dear Ines,\n\nFrom 1 December the adult single goes to £7.40 and the child to £3.70. Please use the new boat photo at the top of the fares page, and add the extra sailing on 31 November.\n\nThank you,\nMaren",
		0, api.RequestKindMail, map[string][]byte{"New boat.jpg": NewBoat()})
	if err != nil {
		return err
	}
	if _, err := f.wish(r, "the adult single goes to £7.40", "/fares.html", "Adult, Single"); err != nil {
		return err
	}
	if _, err := f.wish(r, "the child to £3.70", "/fares.html", "Child, 5 to 15, Single"); err != nil {
		return err
	}
	_, err = f.wish(r, "the extra sailing on 31 November", "", "")
	return err
}

func (f *filler) coachPhoto() error {
	_, err := f.letter("osprey", "Swap the coach photo, and add Tove to the team",
		"Hi all,\n\nAlwyn has a new photo, please swap it. And Tove Lindqvist joins us as a coach for steep ground; picture attached, she says “put my feet where my eyes are”.\n\nJory",
		2, api.RequestKindMail, map[string][]byte{"Alwyn new.jpg": CoachPhoto(), "tove.jpg": NewCoach()})
	return err
}

func (f *filler) openEvening() error {
	r, err := f.letter("saltgate", "New open-evening section above the visiting hours",
		"Dear studio,\n\ncould you add a section about the open evening above the visiting hours on the visit page? It is on Saturday 5 December, from six, and free. The way up should come before the tickets.\n\nIlse Varnham",
		3, api.RequestKindMail, nil)
	if err != nil {
		return err
	}
	w, err := f.wish(r, "a section about the open evening above the visiting hours", "/visit.html", "section Visiting hours")
	if err != nil {
		return err
	}
	way, err := f.wish(r, "The way up should come before the tickets", "/visit.html", "item The way up")
	if err != nil {
		return err
	}
	page, err := f.page(r.Row.SiteID, "/visit.html")
	if err != nil {
		return err
	}
	hours, err := f.part(r.Row.Number, page, "section Visiting hours")
	if err != nil {
		return err
	}
	copied := func(part string) act.Act { return &act.Copy{Part: part, Anchor: hours, Where: change.Before} }
	if err := f.keep(r, "/visit.html", "item Tickets", &w, copied); err != nil {
		return err
	}
	if err := f.keep(r, "/visit.html", "heading Tickets", &w, words("Open evening")); err != nil {
		return err
	}
	if err := f.keep(r, "/visit.html", "Adults £8", &w, words("On Saturday 5 December the dome is open to everybody from six o’clock, and it costs nothing.")); err != nil {
		return err
	}
	tickets, err := f.part(r.Row.Number, page, "item Tickets")
	if err != nil {
		return err
	}
	return f.keep(r, "/visit.html", "item The way up", &way, func(part string) act.Act {
		return &act.Move{Part: part, Anchor: tickets, Where: change.Before}
	})
}

func (f *filler) tearoom() error {
	r, err := f.letter("larkspur", "Tearoom hours on Heron Island",
		"The tearoom is now open every day in winter too, except Mondays. The ring path is three miles, somebody measured it.",
		4, api.RequestKindCall, nil)
	if err != nil {
		return err
	}
	w, err := f.wish(r, "open every day in winter too, except Mondays", "/islands/heron.html", "Open from the first boat")
	if err != nil {
		return err
	}
	if err := f.keep(r, "/islands/heron.html", "Open from the first boat", &w, words("Open from the first boat to the last, every day from March to October and every day but Monday in winter.")); err != nil {
		return err
	}
	if err := f.keep(r, "/islands/heron.html", "Length: three", nil, words("Length: three miles")); err != nil {
		return err
	}
	_, err = f.d.SendProof(f.ctx, f.who, r.Row.Number)
	return err
}

func (f *filler) saturdayHour() error {
	r, err := f.letter("osprey", "Saturday hour costs £8 now",
		"The Saturday hour for kids goes up to £8 with shoes. Nothing else changes.", 1, api.RequestKindCall, nil)
	if err != nil {
		return err
	}
	w, err := f.wish(r, "goes up to £8 with shoes", "/kids/", "With Corin")
	if err != nil {
		return err
	}
	if err := f.keep(r, "/kids/", "With Corin", &w, words("With Corin, 10 to 11, for children from five. £8 with shoes.")); err != nil {
		return err
	}
	_, err = f.d.Move(f.ctx, f.who, r.Row.Number, api.RequestStateCleared)
	return err
}

// talks is a finished request: shown, signed, published, seen to be right, signed off.
func (f *filler) talks() error {
	r, err := f.letter("saltgate", "The January talk has a new title",
		"The talk on 14 January is now called “Salt, roads and the Pole Star”.", -6, api.RequestKindMail, nil)
	if err != nil {
		return err
	}
	w, err := f.wish(r, "now called “Salt, roads and the Pole Star”", "/talks.html", "heading Salt, roads and stars")
	if err != nil {
		return err
	}
	if err := f.keep(r, "/talks.html", "heading Salt, roads and stars", &w, words("Salt, roads and the Pole Star")); err != nil {
		return err
	}
	if _, err := f.d.SendProof(f.ctx, f.who, r.Row.Number); err != nil {
		return err
	}
	if err := f.sign(r.Row.Number, "Ilse Varnham"); err != nil {
		return err
	}
	rel, err := f.d.Publish(f.ctx, f.who, r.Row.Number, nil)
	if err != nil {
		return err
	}
	if err := f.until(func() (bool, error) {
		rel, err = f.d.Release(f.ctx, rel.ID)
		if err == nil && rel.State == api.ReleaseStateStopped {
			err = fmt.Errorf("%s", rel.Said)
		}
		return rel.State == api.ReleaseStateSure, err
	}); err != nil {
		return err
	}
	_, err = f.d.Move(f.ctx, f.who, r.Row.Number, api.RequestStateSignedOff)
	return err
}

var linkInMail = regexp.MustCompile(`/p/([a-z2-7]+)`)

// sign answers the last proof of a request as the client would, by the link in the letter.
func (f *filler) sign(number int64, name string) error {
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
		a := api.AnswerForm{Name: name}
		for _, c := range v.Changes {
			a.Answers = append(a.Answers, api.ClientAnswer{ChangeID: c.ID, Verdict: api.Right})
		}
		_, err = f.d.Answer(f.ctx, t[1], a)
		return err
	}
	return fmt.Errorf("no letter with a link was sent for request %d", number)
}

// enquiries is a letter about words that stand on nine pages and differ by one phrase.
func (f *filler) enquiries() error {
	r, err := f.letter("pennyfield", "We answer sooner now", "Hello Ines,\n\nwe answer within one day now, not two days. Please say so on all nine boats, and a week costs from £680 everywhere.\n\nOdette", 5, api.RequestKindMail, nil)
	if err != nil {
		return err
	}
	_, err = f.wish(r, "a week costs from £680 everywhere", "/boats/alder.html", "words “Write to us about Alder and we…”")
	return err
}

// season is a letter with words from a word processor, for a page with another program's codes in it.
func (f *filler) season() error {
	r, err := f.letter("fenwick", "Spring season", "Dear Ines,\n\nThe Clockmaker’s Daughter plays one day longer, until 30 November. And “balcony, 24 dolars” should be Balcony, 24 dollars.\n\nBram", 9, api.RequestKindMail, nil)
	if err != nil {
		return err
	}
	_, err = f.wish(r, "“balcony, 24 dolars” should be Balcony, 24 dollars", "/season.html", "words “balcony, 24 dolars”")
	return err
}

// article is a letter about a page that is kept as Markdown.
func (f *filler) article() error {
	r, err := f.letter("bramble", "Broad beans", "Ines, in the article on broad beans: sow them late, not early, and link “centimetres” to https://measures.example/. Mice belong further up.\n\nNan", 12, api.RequestKindMail, nil)
	if err != nil {
		return err
	}
	_, err = f.wish(r, "sow them late, not early", "/articles/broad-beans", "words Opening words")
	return err
}
