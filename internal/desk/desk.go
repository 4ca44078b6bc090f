// Package desk holds the use cases, one file a verb: they fetch, call the core, and store. It is the only place where
// core, store and host meet.
package desk

import (
	"context"
	"crypto/aes"
	"crypto/cipher"
	"crypto/rand"
	"encoding/base32"
	"errors"
	"fmt"
	"log/slog"
	"path"
	"strings"
	"time"

	"mendry/api"
	"mendry/internal/core/diff"
	"mendry/internal/core/may"
	"mendry/internal/core/page"
	"mendry/internal/core/record"
	"mendry/internal/core/refusal"
	"mendry/internal/core/request"
	"mendry/internal/core/thread"
	"mendry/internal/host"
	"mendry/internal/post"
	"mendry/internal/release"
	"mendry/internal/shots"
	"mendry/internal/store"
	"mendry/internal/watch"
	"mendry/internal/work"
)

// Config is what a desk needs to know of the world.
type Config struct {
	Network    host.Network
	Secret     []byte // 32 bytes; host passwords are sealed with it
	PublicURL  string // where people and clients reach Mendry, without a slash at the end
	PreviewURL string // where frames reach previews; {token} stands for the view's token
	Mail       post.Sender
	Process    string // names this process among others on one database, for whoever reads the tables
	Clock      func() time.Time
	Demo       bool
	MailboxURL string // of the stand-in mailbox, in the demo
	Log        *slog.Logger
	Camera     Camera // takes pictures of previews; nil where there is no browser
}

// Camera takes pictures of previewed pages; see package shots.
type Camera interface {
	Take(ctx context.Context, views []shots.View, tell func(n int)) ([]shots.Shot, error)
}

// How many bytes are remembered of what can be made or fetched again.
const (
	memoryForPages  = 24 << 20
	memoryForStages = 24 << 20
	memoryForFiles  = 16 << 20
	memoryForTries  = 16 << 20
	memoryForPrints = 1 << 20
	memoryForMade   = 24 << 20 // some hundred pages of 40 kB
	memoryForHosts  = 100      // hosts, not bytes
	printSize       = 120      // about, of one print
)

// Desk does the work.
type Desk struct {
	Config
	store         *store.Store
	aead          cipher.AEAD
	pages         *memory[*page.Page]   // parsed pages by the hash of their bytes
	stages        *memory[thread.Stage] // drafts by what led to them
	files         *memory[fileSeen]     // small files of sites, for previews
	triedPictures *memory[triedPicture] // that nobody has taken yet
	tried         *memory[linkTried]    // other sites that links lead to
	prints        *memory[[]page.Print] // of pages, by their hash and address
	spreads       *memory[spreadPage]   // pages on which shared parts change
	hosts         *memory[host.Host]    // hosts that were reached, with their connections
	visits        *host.Visitor

	releases *release.Releases
	jobs     *work.Runner
	watched  *watch.Pages // pages on the bench

	turns     chan struct{} // drafts that are worked on
	picturing chan struct{} // pictures that are worked on
	hashes    chan struct{} // sign-ins that are looked at or wait
	hashing   chan struct{} // passwords that are hashed
}

// New makes a desk.
func New(s *store.Store, c Config) (*Desk, error) {
	block, err := aes.NewCipher(c.Secret)
	if err != nil {
		return nil, fmt.Errorf("the secret has to have 32 bytes: %w", err)
	}
	aead, err := cipher.NewGCM(block)
	if err != nil {
		return nil, err
	}
	if c.Clock == nil {
		c.Clock = time.Now
	}
	d := &Desk{
		Config: c, store: s, aead: aead,
		pages:         newMemory(memoryForPages, pageWeight),
		stages:        newMemory(memoryForStages, func(s thread.Stage) int { return pageWeight(s.Page()) }),
		prints:        newMemory(memoryForPrints, func(ps []page.Print) int { return printSize * (len(ps) + 1) }),
		files:         newMemory(memoryForFiles, func(f fileSeen) int { return len(f.content.Bytes) }),
		triedPictures: newMemory(memoryForTries, func(t triedPicture) int { return len(t.bytes) }),
		tried:         newMemory(mostTried, func(linkTried) int { return 1 }),
		spreads:       newMemory(memoryForMade, func(m spreadPage) int { return len(m.after) + 1<<10 }),
		hosts:         newMemory(memoryForHosts, func(host.Host) int { return 1 }),
		visits:        host.NewVisitor(c.Network, hostTimeout),
		turns:         make(chan struct{}, workedAtOnce), picturing: make(chan struct{}, picturesAtOnce),
		hashes: make(chan struct{}, hashedAtOnce+waitToHash), hashing: make(chan struct{}, hashedAtOnce),
	}
	d.watched = watch.New(watch.Config{Mark: d.markOf, Draft: d.hashOf, Every: time.Second, Beat: 20 * time.Second, Log: c.Log})
	d.releases = &release.Releases{Store: s, Hosts: d.liveHost, Visits: d.visits, Clock: c.Clock}
	can := map[string]work.Do{release.Job: d.releases.Do, "index": d.makeFindable, "take in": d.takeInSite, "pictures": d.lookAtPictures, "shots": d.takeShots,
		smallPagesJob: d.takeSmallPages, sectionsJob: d.lookThrough, awayJob: d.moveAway, spreadJob: d.spread}
	if c.Mail.Server != "" {
		can["mail"] = d.sendMail
	}
	d.jobs = work.New(s, c.Process, c.Clock, c.Log, can)
	return d, nil
}

// Work does jobs until ctx ends: releases, letters, taking in sites, the index.
func (d *Desk) Work(ctx context.Context) {
	if err := d.store.AskJob(ctx, "index", "pages", "index", d.now()); err != nil && ctx.Err() == nil {
		d.Log.Error("ask for the index", "err", err)
	}
	d.jobs.Run(ctx)
}

// DoNext does one job that is due, and reports whether there was one: for tests and for bringing in the demo's data.
func (d *Desk) DoNext(ctx context.Context) bool { return d.jobs.Next(ctx) }

// now is the time as the database keeps it.
func (d *Desk) now() time.Time { return store.At(d.Clock()) }

func refused(format string, args ...any) error {
	return refusal.New(refusal.Rule, format, args...)
}

func stale(format string, args ...any) error { return refusal.New(refusal.Stale, format, args...) }

// missing turns store.ErrNone into words.
func missing(err error, what string) error {
	if errors.Is(err, store.ErrNone) {
		return refusal.New(refusal.Nothing, "There is no such %s. It may have been taken away; go back and look again.", what)
	}
	return err
}

// hash is what bytes are known by.
func hash(b []byte) string { return record.Sum(b) }

// token makes an unguessable name of 130 bits that can stand in a host name and in a link.
func token() string {
	b := make([]byte, 17)
	_, _ = rand.Read(b) // never fails (crypto/rand)
	return strings.ToLower(base32.StdEncoding.WithPadding(base32.NoPadding).EncodeToString(b))[:26]
}

// Clocks tells in which zone each site's times are shown.
func (d *Desk) Clocks(ctx context.Context) ([]api.Clock, error) {
	sites, err := d.store.SiteNames(ctx)
	all := []api.Clock{}
	for _, s := range sites {
		all = append(all, api.Clock{SiteID: s.ID, Zone: s.Zone})
	}
	return all, err
}

// parse reads a page's bytes, or takes the result from the last time. Parsed pages are never changed. It is not to be
// called in a transaction, since it may ask the database.
func (d *Desk) parse(ctx context.Context, p store.Page) (*page.Page, error) {
	if p.Locked != "" {
		return nil, refused("%s", p.Locked)
	}
	return d.parsed(ctx, p.Path, p.Hash, p.Media)
}

// parsed reads a file that is kept by its hash.
func (d *Desk) parsed(ctx context.Context, file, hash, media string) (*page.Page, error) {
	key := hash + media + path.Ext(file)
	if got, ok := d.pages.Get(key); ok {
		return got, nil
	}
	b, err := d.store.Bytes(ctx, hash)
	if err != nil {
		return nil, err
	}
	got, err := page.ParseFile(file, b, media)
	if err != nil {
		return nil, err
	}
	d.pages.Add(key, got)
	return got, nil
}

func runs(rs []diff.Run) []api.Run {
	out := []api.Run{}
	for _, r := range rs {
		out = append(out, api.Run{Is: api.RunIs(r.Is), Text: r.Text})
	}
	return out
}

type (
	event       = record.Event
	eventChange = record.EventChange
	eventPage   = record.EventPage
)

// Who acts: somebody of the studio.
type Who struct {
	ID   int64
	Name string
	Role may.Role
}

// note adds an entry to a site's record, in the transaction of what it speaks of.
func (d *Desk) note(ctx context.Context, q store.Queries, site int64, request, pg *int64, e event) error {
	return q.AppendRecord(ctx, site, request, pg, d.now(), e)
}

// move moves a request, if the rules allow it, in a transaction that holds it.
func move(ctx context.Context, q store.Queries, number int64, to request.State, by request.By) error {
	f, _, err := q.RequestFacts(ctx, number)
	if err != nil {
		return err
	}
	return q.MoveRequest(ctx, number, f, to, by)
}

// errMoved is what a transaction ends with that was prepared on what is no longer so.
var errMoved = refusal.New(refusal.Stale, "Something else was changed at the same moment. Look again, and try once more.")

const mostMoved = 20 // times in a row that something else was faster

// unlessMoved does something that is prepared before it is written, again where something else was faster.
func unlessMoved(do func() error) (err error) {
	for range mostMoved {
		if err = do(); !errors.Is(err, errMoved) {
			return err
		}
	}
	return err
}
