// Package watch tells people who have a page on the bench at the same time what the others do to it, and where they are.
package watch

import (
	"cmp"
	"context"
	"errors"
	"log/slog"
	"slices"
	"sync"
	"time"
)

// Page is a page on the bench of a request.
type Page struct{ Request, ID int64 }

// Guest is somebody else who has the page on the bench.
type Guest struct {
	Name string
	Part string // that is in hand, by its name on the draft that they see; empty for none
}

// News is how a page stands.
type News struct {
	Draft string // the hash of the draft
	Here  []Guest
}

// Config says what pages are looked at with.
type Config struct {
	// Mark is another one whenever the draft of a page is another one, and is cheap to ask.
	Mark func(context.Context, Page) (string, error)
	// Draft is the hash of the draft.
	Draft func(context.Context, Page) (string, error)
	// Every is how often a page is looked at that nobody in this process has changed: others may have.
	Every time.Duration
	// Beat is how often somebody is told that nothing happened, so that a line that is dead is noticed.
	Beat time.Duration
	Log  *slog.Logger
}

// Pages are those that somebody has on the bench now.
type Pages struct {
	Config
	mu   sync.Mutex
	open map[Page]*room
}

// room is one page with those who have it on the bench.
type room struct {
	seats []*seat
	draft string // "" until it is known
	woken chan struct{}
	leave context.CancelFunc
}

// seat is one tab of somebody's browser.
type seat struct {
	person int64
	tab    string
	guest  Guest
	news   chan struct{}
}

// New makes pages that are watched.
func New(c Config) *Pages { return &Pages{Config: c, open: map[Page]*room{}} }

// MostTabs is in how many tabs one person may watch.
const MostTabs = 40

// ErrTooMany is the error where somebody watches in more than MostTabs.
var ErrTooMany = errors.New("too many tabs watch")

// Follow tells a tab of somebody how a page stands, at once and whenever that changes, and nil at each beat. It ends with
// ctx, or with the error of tell.
func (p *Pages) Follow(ctx context.Context, at Page, person int64, name, tab string, tell func(*News) error) error {
	s := &seat{person: person, tab: tab, guest: Guest{Name: name}, news: make(chan struct{}, 1)}
	if err := p.sit(at, s); err != nil {
		return err
	}
	defer p.rise(at, s)
	beat := time.NewTicker(p.Beat)
	defer beat.Stop()
	for {
		select {
		case <-ctx.Done():
			return nil
		case <-s.news:
			if err := tell(p.newsFor(at, s)); err != nil {
				return err
			}
		case <-beat.C:
			if err := tell(nil); err != nil {
				return err
			}
		}
	}
}

// At says which part a tab of somebody has in hand. A tab that does not watch is nowhere.
func (p *Pages) At(at Page, person int64, tab, part string) {
	p.mu.Lock()
	defer p.mu.Unlock()
	r := p.open[at]
	if r == nil {
		return
	}
	for _, s := range r.seats {
		if s.person == person && s.tab == tab && s.guest.Part != part {
			s.guest.Part = part
			r.tell()
		}
	}
}

// Changed says that somebody has changed drafts of a request, or is about to: its pages are looked at.
func (p *Pages) Changed(request int64) {
	p.mu.Lock()
	defer p.mu.Unlock()
	for at, r := range p.open {
		if at.Request == request {
			wake(r.woken)
		}
	}
}

func (p *Pages) sit(at Page, s *seat) error {
	p.mu.Lock()
	defer p.mu.Unlock()
	tabs := 0
	for _, r := range p.open {
		for _, o := range r.seats {
			if o.person == s.person {
				tabs++
			}
		}
	}
	if tabs >= MostTabs {
		return ErrTooMany
	}
	r := p.open[at]
	if r == nil {
		ctx, leave := context.WithCancel(context.Background())
		r = &room{woken: make(chan struct{}, 1), leave: leave}
		p.open[at] = r
		go p.look(ctx, at, r)
	}
	r.seats = append(r.seats, s)
	r.tell()
	return nil
}

func (p *Pages) rise(at Page, s *seat) {
	p.mu.Lock()
	defer p.mu.Unlock()
	r := p.open[at]
	r.seats = slices.DeleteFunc(r.seats, func(o *seat) bool { return o == s })
	if len(r.seats) == 0 {
		r.leave()
		delete(p.open, at)
		return
	}
	r.tell()
}

// tell lets everybody be told, where it is known how the page stands.
func (r *room) tell() {
	if r.draft == "" {
		return
	}
	for _, s := range r.seats {
		wake(s.news)
	}
}

func wake(c chan struct{}) {
	select {
	case c <- struct{}{}:
	default: // it will be
	}
}

func (p *Pages) newsFor(at Page, s *seat) *News {
	p.mu.Lock()
	defer p.mu.Unlock()
	r := p.open[at]
	n := &News{Draft: r.draft}
	for _, o := range r.seats {
		if o.person != s.person {
			n.Here = append(n.Here, o.guest)
		}
	}
	slices.SortFunc(n.Here, func(a, b Guest) int { return cmp.Or(cmp.Compare(a.Name, b.Name), cmp.Compare(a.Part, b.Part)) })
	n.Here = slices.Compact(n.Here)
	return n
}

// soon is how often a page is looked at that somebody is about to change, for as long as Every.
const soon = 40 * time.Millisecond

// look looks at a page until nobody watches it any more.
func (p *Pages) look(ctx context.Context, at Page, r *room) {
	mark := ""
	var until time.Time // it is looked at often
	for {
		now, err := p.Mark(ctx, at)
		if err == nil && now != mark {
			if err = p.see(ctx, at, r); err == nil {
				mark, until = now, time.Time{}
			}
		}
		if err != nil && ctx.Err() == nil {
			p.Log.Warn("a watched page could not be looked at", "request", at.Request, "page", at.ID, "err", err)
		}
		wait := p.Every
		if time.Now().Before(until) {
			wait = soon
		}
		select {
		case <-ctx.Done():
			return
		case <-r.woken:
			until = time.Now().Add(p.Every)
		case <-time.After(wait):
		}
	}
}

// see finds out how a page stands that has changed.
func (p *Pages) see(ctx context.Context, at Page, r *room) error {
	draft, err := p.Draft(ctx, at)
	if err != nil {
		return err
	}
	p.mu.Lock()
	defer p.mu.Unlock()
	if draft != r.draft {
		r.draft = draft
		r.tell()
	}
	return nil
}
