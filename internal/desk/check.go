package desk

import (
	"context"
	"errors"
	"time"

	"mendry/api"
	"mendry/internal/core/check"
	"mendry/internal/core/link"
	"mendry/internal/store"
)

// siteOf answers what the rules ask of the rest of a site.
type siteOf struct {
	ctx  context.Context
	d    *Desk
	site store.Site
	of   int64 // the page that is looked at
	err  error
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
	_, err := s.d.publicFile(s.ctx, s.site.ID, publicPath, "")
	return err == nil
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
	if dr.Conflict != nil {
		return []api.Finding{{Rule: "fits-live-page", Level: api.LevelStop, Say: dr.ConflictSay(), PageID: dr.row.ID}}, nil
	}
	site := &siteOf{ctx: ctx, d: d, site: p.site, of: dr.row.ID}
	words, err := d.spellingFor(ctx, dr)
	if err != nil {
		return nil, err
	}
	subject := &check.Subject{
		Before: dr.Live, After: dr.Page(), Changed: check.TouchedBy(dr.Draft), Edits: check.EditsOf(dr.Draft), Address: dr.row.Address, Public: p.site.PublicURL, Site: site,
		Styles: d.stylesFor(ctx, p.site, dr), On: d.now().In(zone(p.site)),
	}
	if words != nil {
		subject.Spelling = words
	} else {
		subject.Unread = unread(dr.Page().Facts.Lang)
	}
	out := []api.Finding{}
	for _, f := range check.Run(subject) {
		out = append(out, api.Finding{Rule: f.Rule, Level: api.Level(f.Level), Part: f.Part, Words: f.Words, Say: f.Say, Mend: f.Mend, Learn: f.Learn, PageID: dr.row.ID})
	}
	if words != nil && words.err != nil {
		return nil, words.err
	}
	return out, site.err
}
