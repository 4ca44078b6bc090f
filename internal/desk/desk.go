// Package desk holds the use cases, one file a verb: they fetch, call the core, and store. It is the only place where
// core, store and host meet.
package desk

import (
	"context"
	"crypto/aes"
	"crypto/cipher"
	"crypto/rand"
	"crypto/sha256"
	"encoding/base32"
	"encoding/hex"
	"errors"
	"fmt"
	"log/slog"
	"path"
	"strings"
	"time"

	"mendry/api"
	"mendry/internal/core/diff"
	"mendry/internal/core/page"
	"mendry/internal/core/refusal"
	"mendry/internal/core/thread"
	"mendry/internal/host"
	"mendry/internal/post"
	"mendry/internal/store"
)

// Config is what a desk needs to know of the world.
type Config struct {
	Network    host.Network
	Secret     []byte // 32 bytes; host passwords are sealed with it
	PublicURL  string // where people and clients reach Mendry, without a slash at the end
	PreviewURL string // where frames reach previews; {token} stands for the view's token
	Mail       post.Sender
	Process    string // names this process among others on one database
	Demo       bool
	MailboxURL string // of the stand-in mailbox, in the demo
	Log        *slog.Logger
}

// How many bytes are remembered of what can be made or fetched again.
const (
	memoryForPages  = 48 << 20
	memoryForStages = 48 << 20
	memoryForFiles  = 16 << 20
)

// Desk does the work.
type Desk struct {
	Config
	store  *store.Store
	aead   cipher.AEAD
	pages  *memory[*page.Page]   // parsed pages by the hash of their bytes
	stages *memory[thread.Stage] // drafts by what led to them
	files  *memory[fileSeen]     // small files of hosts, for previews
	wake   chan struct{}         // a release waits
	mail   chan struct{}         // a letter waits
	visits *host.Visitor
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
	return &Desk{
		Config: c, store: s, aead: aead,
		pages:  newMemory(memoryForPages, pageWeight),
		stages: newMemory(memoryForStages, func(s thread.Stage) int { return pageWeight(s.Page()) }),
		files:  newMemory(memoryForFiles, func(f fileSeen) int { return len(f.content.Bytes) }),
		wake:   make(chan struct{}, 1), mail: make(chan struct{}, 1), visits: host.NewVisitor(c.Network, 30*time.Second),
	}, nil
}

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

func hash(b []byte) string {
	s := sha256.Sum256(b)
	return hex.EncodeToString(s[:])
}

// token makes an unguessable name of 130 bits that can stand in a host name and in a link.
func token() string {
	b := make([]byte, 17)
	_, _ = rand.Read(b) // never fails (crypto/rand)
	return strings.ToLower(base32.StdEncoding.WithPadding(base32.NoPadding).EncodeToString(b))[:26]
}

func (d *Desk) seal(s string) []byte {
	nonce := make([]byte, d.aead.NonceSize())
	_, _ = rand.Read(nonce)
	return d.aead.Seal(nonce, nonce, []byte(s), nil)
}

func (d *Desk) unseal(b []byte) (string, error) {
	n := d.aead.NonceSize()
	if len(b) < n {
		return "", refused("The site's password cannot be read. Enter it again in the site's settings.")
	}
	s, err := d.aead.Open(nil, b[:n], b[n:], nil)
	if err != nil {
		return "", refused("The site's password was sealed with another secret. Enter it again in the site's settings.")
	}
	return string(s), nil
}

// hostOf reaches a site's host.
func (d *Desk) hostOf(s store.Site) (*host.WebDAV, error) {
	pass, err := d.unseal(s.HostSecret)
	if err != nil {
		return nil, err
	}
	return host.NewWebDAV(d.Network, s.HostURL, s.HostUser, pass, 30*time.Second)
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

// zone is the site's clock.
func zone(s store.Site) *time.Location {
	if l, err := time.LoadLocation(s.Zone); err == nil {
		return l
	}
	return time.UTC
}

// parse reads a page's bytes, or takes the result from the last time. Parsed pages are never changed.
func (d *Desk) parse(p store.Page) (*page.Page, error) {
	if p.Locked != "" {
		return nil, refused("%s", p.Locked)
	}
	key := p.Hash + p.Media + path.Ext(p.Path)
	if got, ok := d.pages.Get(key); ok {
		return got, nil
	}
	got, err := page.ParseFile(p.Path, p.Bytes, p.Media)
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

// poke wakes a worker that waits on c.
func poke(c chan struct{}) {
	select {
	case c <- struct{}{}:
	default:
	}
}

// event is the body of a record entry.
type event struct {
	Who     string        `json:"who"`
	What    string        `json:"what"`
	Say     string        `json:"say"`
	Changes []eventChange `json:"changes,omitempty"`
	Pages   []eventPage   `json:"pages,omitempty"`
	Checks  []string      `json:"checks,omitempty"`
	Note    string        `json:"note,omitempty"`
}

type eventChange struct {
	Change  int64  `json:"change"`
	Wish    string `json:"wish,omitempty"`
	Address string `json:"address"`
	Part    string `json:"part"`
	Say     string `json:"say"`
	Before  string `json:"before"`
	After   string `json:"after"`
	By      string `json:"by,omitempty"`
	At      string `json:"at,omitempty"`
	Verdict string `json:"verdict,omitempty"`
}

type eventPage struct {
	Address string `json:"address"`
	Before  string `json:"before_sha256,omitempty"`
	After   string `json:"after_sha256,omitempty"`
}

// Who acts: somebody of the studio.
type Who struct {
	ID   int64
	Name string
}

func note(ctx context.Context, q store.Queries, site int64, request, pg *int64, e event) error {
	return q.AppendRecord(ctx, site, request, pg, store.Now(), e)
}
