package desk

import (
	"context"
	"errors"
	"time"

	"mendry/api"
	"mendry/internal/core/check"
	"mendry/internal/core/link"
	"mendry/internal/host"
	"mendry/internal/store"
)

// siteOf answers what the rules ask of the rest of a site.
type siteOf struct {
	ctx  context.Context
	d    *Desk
	site store.Site
	of   int64 // the page that is looked at
	// draft is of which request the files are that are not on the site yet; 0 for none.
	draft int64
	err   error
}

func (s *siteOf) page(publicPath string) (store.Page, bool) {
	for _, file := range link.FilesOf(publicPath) {
		p, err := s.d.store.PageByPath(s.ctx, s.site.ID, file)
		if err == nil {
			return p, true
		}
		if !errors.Is(err, store.ErrNone) {
			s.err = err
			return p, false
		}
	}
	return store.Page{}, false
}

// Has implements check.Site. What is no page is looked for as a visitor would.
func (s *siteOf) Has(publicPath string) bool {
	if _, ok := s.page(publicPath); ok || s.err != nil {
		return true
	}
	_, err := s.seen(publicPath)
	return err == nil
}

// seen is what is no page as a visitor would get it once the draft is live.
func (s *siteOf) seen(publicPath string) (host.Content, error) {
	v := store.Preview{SiteID: s.site.ID, View: "live"}
	if s.draft != 0 {
		v.View, v.RequestID = "draft", &s.draft
	}
	return s.d.otherFile(s.ctx, v, publicPath, "")
}

// HasPlace implements check.Site.
func (s *siteOf) HasPlace(publicPath, id string) bool {
	row, ok := s.page(publicPath)
	if !ok {
		return true // a file, whose places are its own affair
	}
	p, err := s.d.parse(s.ctx, row)
	if err != nil {
		return true
	}
	return p.HasPlace(id)
}

// Titled implements check.Site.
func (s *siteOf) Titled(title string) []string {
	all, err := s.d.store.Titled(s.ctx, s.site.ID, s.of, title)
	if err != nil {
		s.err = err
	}
	return all
}

// linkTried is what an address on another site said when it was tried.
type linkTried struct {
	say string
	at  time.Time
}

// An address is not tried again for keepTried, and a check waits for one no longer than longestTry.
const (
	keepTried  = 10 * time.Minute
	longestTry = 4 * time.Second
	mostTried  = 2000
)

// Answers implements check.Site.
func (s *siteOf) Answers(address string) string {
	if t, ok := s.d.tried.Get(address); ok && s.d.now().Sub(t.at) < keepTried {
		return t.say
	}
	ctx, cancel := context.WithTimeout(s.ctx, longestTry)
	defer cancel()
	got, err := s.d.TryLink(ctx, address)
	say := ""
	switch {
	case err != nil:
		say = "The address could not be tried."
	case !got.Ok:
		say = got.Say
	}
	s.d.tried.Add(address, linkTried{say, s.d.now()})
	return say
}

// check runs the rules of the trade on what a draft changes.
func (d *Desk) check(ctx context.Context, p *proven, dr *draft) ([]api.Finding, error) {
	return d.checkBy(ctx, p, dr, check.Run)
}

func (d *Desk) checkBy(ctx context.Context, p *proven, dr *draft, rules func(*check.Subject) []check.Finding) ([]api.Finding, error) {
	if dr.Conflict != nil {
		return []api.Finding{{Rule: "fits-live-page", Level: api.LevelStop, Say: dr.ConflictSay(), PageID: dr.row.ID}}, nil
	}
	site := &siteOf{ctx: ctx, d: d, site: p.site, of: dr.row.ID, draft: dr.request}
	subject, words, err := d.subject(ctx, p.site, dr)
	if err != nil {
		return nil, err
	}
	subject.Site, subject.Files, subject.Edits, subject.Styles = site, site, check.EditsOf(dr.Draft), d.stylesFor(ctx, p.site, dr)
	if subject.Pictures, err = d.picturesOf(ctx, p.site, dr); err != nil {
		return nil, err
	}
	out := found(rules(subject), dr)
	seen, err := d.seenFinding(ctx, dr)
	if err != nil {
		return nil, err
	}
	out = append(out, seen...)
	left, err := d.leftOn(ctx, dr)
	if err != nil {
		return nil, err
	}
	out = append(out, left...)
	if words != nil && words.err != nil {
		return nil, words.err
	}
	return out, site.err
}

// subject is what a draft changes, for the rules that need no more than the page and its words.
func (d *Desk) subject(ctx context.Context, site store.Site, dr *draft) (*check.Subject, *spelling, error) {
	s := &check.Subject{
		Before: dr.Live, After: dr.Page(), Changed: check.TouchedBy(dr.Draft), Address: dr.row.Address, Public: site.PublicURL, Media: dr.row.Media,
		On: d.now().In(site.Clock()),
	}
	words, err := d.spellingFor(ctx, dr)
	if words != nil {
		s.Spelling = words
	} else {
		s.Unread = unread(dr.Page().Facts.Lang)
	}
	return s, words, err
}

func found(fs []check.Finding, dr *draft) []api.Finding {
	out := []api.Finding{}
	for _, f := range fs {
		out = append(out, api.Finding{Rule: f.Rule, Level: api.Level(f.Level), Part: f.Part, Words: f.Words, Say: f.Say, Mend: f.Mend, Learn: f.Learn, PageID: dr.row.ID})
	}
	return out
}

// WhileTyping gives what the rules about words say of what a request changed on a page so far.
func (d *Desk) WhileTyping(ctx context.Context, number, pageID int64) ([]api.Finding, error) {
	done, err := d.turn(ctx)
	if err != nil {
		return nil, err
	}
	defer done()
	dr, site, err := d.draftAndSite(ctx, number, pageID)
	if err != nil || dr.Conflict != nil || len(dr.Kept) == 0 {
		return []api.Finding{}, err
	}
	subject, words, err := d.subject(ctx, site, dr)
	if err != nil {
		return nil, err
	}
	subject.Unread = "" // that spelling is not looked at is said with the proof
	out := found(check.WhileTyping(subject), dr)
	if words != nil {
		err = words.err
	}
	return out, err
}
