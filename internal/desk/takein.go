package desk

import (
	"cmp"
	"context"
	"errors"
	"fmt"
	"maps"
	"path"
	"slices"
	"strconv"
	"strings"
	"sync"
	"time"
	"unicode/utf8"

	"golang.org/x/sync/errgroup"

	"mendry/internal/core/link"
	"mendry/internal/core/page"
	"mendry/internal/core/record"
	"mendry/internal/core/refusal"
	"mendry/internal/core/source"
	"mendry/internal/host"
	"mendry/internal/release"
	"mendry/internal/store"
)

// TakeIn lets a site's pages be read from its host, as a job.
func (d *Desk) TakeIn(ctx context.Context, site int64) error {
	if _, err := d.liveHost(ctx, site); err != nil {
		return err
	}
	err := d.store.Tx(ctx, func(q store.Queries) error {
		if err := q.BeginTakingIn(ctx, site, d.now()); err != nil {
			return missing(err, "site")
		}
		return q.AskJob(ctx, "take in", strconv.FormatInt(site, 10), release.Lane(site), d.now())
	})
	d.jobs.Wake()
	return err
}

// takeInSite does the job of taking in a site. What a person has to put right is said on the site's page, and the job
// is done; taken up by another process, it goes on with the pages that were not seen yet.
func (d *Desk) takeInSite(ctx context.Context, about string) (again time.Time, err error) {
	site, err := strconv.ParseInt(about, 10, 64)
	if err != nil {
		return again, nil
	}
	cut, err := d.wasCutOff(ctx, about)
	if err != nil {
		return again, err
	}
	if cut {
		return again, d.store.SetSiteState(ctx, site, "failed", fmt.Sprintf(
			"Mendry was ended %d times while it took this site in, perhaps by what its host gives. Look whether the host holds what it should, then try again.", mostCutOff,
		), 0, 0, d.now())
	}
	h, err := d.liveHost(ctx, site)
	if err == nil {
		err = d.takeIn(ctx, site, h)
	}
	if err == nil || ctx.Err() != nil || refusal.Is(err, refusal.Nothing) {
		return again, err
	}
	say := "The pages could not be taken in. Try again."
	if no := refusal.Of(err); no != nil {
		say = no.Say
	} else {
		d.Log.Error("take in a site", "site", site, "err", err)
	}
	return again, d.store.SetSiteState(ctx, site, "failed", say, 0, 0, d.now())
}

// wasCutOff reports whether taking in a site ended as often with the process that did it that it is given up: what a host
// gives may be the cause.
func (d *Desk) wasCutOff(ctx context.Context, about string) (bool, error) {
	j, err := d.store.JobOf(ctx, "take in", about)
	if errors.Is(err, store.ErrNone) {
		return false, nil
	}
	return j.Tries >= mostCutOff, err
}

const (
	mostCutOff = 5               // times that a process ended while it took a site in, before that is given up
	readAtOnce = 8               // pages of a site; a host that serves visitors too bears as many as a browser asks for
	keepers    = 2               // transactions at a time
	keptAtOnce = 500             // pages of one transaction
	mostKept   = 8 << 20         // and their bytes
	keptAfter  = 3 * time.Second // what a slow host gave is kept by then
	leftShown  = 3               // folders that were left out
	tellEvery  = 300 * time.Millisecond
)

// taking is the taking in of one site.
type taking struct {
	d     *Desk
	site  int64
	h     host.Host
	since time.Time                 // what was seen after it was seen by this taking in
	known map[string]store.Standing // by path
	all   int
	// public is the site's address; addresses are those of pages that their names do not tell.
	public    string
	addresses map[string]string

	mu   sync.Mutex // over what follows
	seen int
	told time.Time

	learn sync.Mutex  // over words: one batch's are learnt at a time
	words store.Words // that stand in the database; never changed, replaced by more
}

// got is a page's file as it was read.
type got struct {
	page  store.Page
	bytes []byte // nil where they are not kept
	same  bool   // it is known as it is
}

func (d *Desk) takeIn(ctx context.Context, site int64, h host.Host) error {
	row, err := d.store.Site(ctx, site)
	if err != nil {
		return missing(err, "site")
	}
	t := &taking{d: d, site: site, h: h, public: row.PublicURL, addresses: map[string]string{}}
	if t.since, err = d.store.TakingSince(ctx, site, d.now()); err != nil {
		return err
	}
	_, err = d.findOut(ctx, site, h)
	if host.Is(err, host.Locked) { // somebody holds its folder just now: what is known of the host holds on
		if was, hostErr := d.store.SiteHost(ctx, site, "live"); hostErr == nil && was.Tried != nil {
			err = nil
		}
	}
	if err != nil {
		return err
	}
	listed, err := h.List(ctx, func(n int) { t.tell(ctx, fmt.Sprintf("Listing the files: %d so far", n)) })
	if err != nil {
		return err
	}
	if t.known, err = d.store.StandingPages(ctx, site); err != nil {
		return err
	}
	pages := slices.DeleteFunc(slices.Clone(listed.Files), func(f host.File) bool {
		long := utf8.RuneCountInString(f.Path) > store.MostPath
		if long && isPage(f) {
			listed.Left = append(listed.Left, fmt.Sprintf("%.60s… was left out: its name has more than %d letters.", f.Path, store.MostPath))
		}
		return long || !isPage(f)
	})
	pages = t.indexes(ctx, listed.Files, pages)
	t.all = len(pages)
	locked, err := t.readAll(ctx, pages)
	if err != nil {
		return err
	}
	say := fmt.Sprintf("%d pages taken in", len(pages))
	if locked > 0 {
		say += fmt.Sprintf(", %d of them locked", locked)
	}
	if len(listed.Left) > 0 {
		say += ". " + strings.Join(listed.Left[:min(len(listed.Left), leftShown)], " ")
	}
	return d.store.Tx(ctx, func(q store.Queries) error {
		if err := q.GoneExcept(ctx, site, t.since, d.now()); err != nil {
			return err
		}
		if err := q.SetSiteState(ctx, site, "ready", say, len(pages), len(pages), d.now()); err != nil {
			return err
		}
		if err := askForPictures(ctx, q, site, d.now().Add(picturesAfter)); err != nil {
			return err
		}
		return d.note(ctx, q, site, nil, nil, event{Who: "Mendry", What: "site taken in", Say: say})
	})
}

// tell says how far it has come; it is progress only, and the next word tells more.
func (t *taking) tell(ctx context.Context, said string) {
	t.mu.Lock()
	defer t.mu.Unlock()
	if now := time.Now(); now.Sub(t.told) > tellEvery {
		t.told = now
		_ = t.d.store.SetSiteState(ctx, t.site, "taking in", said, t.seen, t.all, t.d.now())
	}
}

// readAll reads pages in lanes and keeps them a batch a transaction. It counts those that are locked.
func (t *taking) readAll(ctx context.Context, pages []host.File) (locked int, err error) {
	files, read := make(chan host.File), make(chan got)
	g, ctx := errgroup.WithContext(ctx)
	g.Go(func() error {
		defer close(files)
		for _, f := range pages {
			select {
			case files <- f:
			case <-ctx.Done():
				return ctx.Err()
			}
		}
		return nil
	})
	lanes, inLanes := errgroup.WithContext(ctx)
	for range readAtOnce {
		lanes.Go(func() error {
			for f := range files {
				p, err := t.read(inLanes, f)
				if err != nil {
					return err
				}
				select {
				case read <- p:
				case <-inLanes.Done():
					return inLanes.Err()
				}
			}
			return nil
		})
	}
	g.Go(func() error {
		defer close(read)
		return lanes.Wait()
	})
	counts := make([]int, keepers)
	for i := range counts {
		g.Go(func() error {
			var err error
			counts[i], err = t.keepAll(ctx, read)
			return err
		})
	}
	err = g.Wait()
	for _, n := range counts {
		locked += n
	}
	return locked, err
}

// keepAll keeps what was read, until there is no more.
func (t *taking) keepAll(ctx context.Context, read <-chan got) (locked int, err error) {
	var batch []got
	var begun time.Time
	size := 0
	for g := range read {
		if g.page.Locked != "" {
			locked++
		}
		if len(batch) == 0 {
			begun = time.Now()
		}
		batch, size = append(batch, g), size+len(g.bytes)
		t.sawOne(ctx, g.page.Address)
		if len(batch) < keptAtOnce && size < mostKept && time.Since(begun) < keptAfter {
			continue
		}
		if err := t.keep(ctx, batch); err != nil {
			return locked, err
		}
		batch, size = batch[:0], 0
	}
	return locked, t.keep(ctx, batch)
}

// sawOne counts a page that was read.
func (t *taking) sawOne(ctx context.Context, address string) {
	t.mu.Lock()
	t.seen++
	t.mu.Unlock()
	t.tell(ctx, "Reading "+address)
}

// keep keeps a batch. Where the database takes it as little as it takes each of its pages alone, the pages that it does not
// take are kept locked: one odd page does not keep the site out.
func (t *taking) keep(ctx context.Context, batch []got) error {
	err := t.keepAtOnce(ctx, batch)
	if !store.Unfit(err) {
		return err
	}
	if len(batch) > 1 {
		for _, g := range batch {
			if err := t.keep(ctx, []got{g}); err != nil {
				return err
			}
		}
		return nil
	}
	g := batch[0]
	t.d.Log.Error("keep a page", "site", t.site, "path", g.page.Path, "err", err)
	g.page.Take(page.Known{Title: g.page.Path, Locked: "Mendry could not store what this page says. It stays as it is on the host. Tell whoever runs Mendry its address."}, "", "", g.page.Size)
	g.bytes, g.same = nil, false
	return t.keepAtOnce(ctx, []got{g})
}

// keepAtOnce keeps pages in one transaction.
func (t *taking) keepAtOnce(ctx context.Context, batch []got) error {
	if len(batch) == 0 {
		return nil
	}
	var same []string
	var pages []store.Page
	blobs := map[string][]byte{}
	for _, g := range batch {
		if g.same {
			same = append(same, g.page.Path)
			continue
		}
		pages = append(pages, g.page)
		if g.bytes != nil {
			blobs[g.page.Hash] = g.bytes
		}
	}
	now := t.d.now()
	words, err := t.learned(ctx, pages)
	if err != nil {
		return err
	}
	return t.d.store.Tx(ctx, func(q store.Queries) error {
		if err := q.SeenPages(ctx, t.site, same, now); err != nil {
			return err
		}
		if err := q.KeepBlobs(ctx, blobs); err != nil {
			return err
		}
		return q.KeepPages(ctx, pages, words)
	})
}

// learned notes the words of pages and gives the keys of all that are known by then.
func (t *taking) learned(ctx context.Context, pages []store.Page) (store.Words, error) {
	t.learn.Lock()
	defer t.learn.Unlock()
	var fresh store.Words
	err := t.d.store.Tx(ctx, func(q store.Queries) (err error) {
		fresh, err = q.Learn(ctx, pages, t.words)
		return err
	})
	if err != nil || len(fresh) == 0 {
		return t.words, err
	}
	more := make(store.Words, len(t.words)+len(fresh))
	maps.Copy(more, t.words)
	maps.Copy(more, fresh)
	t.words = more
	return more, nil
}

// read reads a page from its host, and tells what can be done with it. A page that cannot be read or edited is taken
// in locked, with the reason: one odd page does not keep the site out.
func (t *taking) read(ctx context.Context, f host.File) (got, error) {
	g := got{page: store.Page{SiteID: t.site, Path: f.Path, Address: cmp.Or(t.addresses[f.Path], link.AddressOf(f.Path))}}
	known := t.known[f.Path]
	if known.Findable && !known.SeenAt.Before(t.since) && known.Address == g.page.Address { // before the process that began was killed
		g.page.Locked, g.same = known.Locked, true
		return g, nil
	}
	if f.Mute && known.Findable {
		g.page.Locked, g.same = known.Locked, true
		return g, nil
	}
	why := f.Odd
	if why == "" && f.Size > source.MaxBytes {
		why = fmt.Sprintf("The page has %d MB. Mendry edits pages of up to %d MB.", f.Size>>20, source.MaxBytes>>20)
	}
	var c host.Content
	if why == "" {
		var err error
		c, err = t.h.Read(ctx, f.Path)
		var no *host.Problem
		if errors.As(err, &no) && ofOneFile(no.Kind) {
			why, err = "The host does not give the page. "+no.Say, nil
		}
		if err != nil {
			return g, err
		}
	}
	g.page.SeenAt = t.d.now()
	if why != "" {
		g.page.Take(page.Known{Title: f.Path, Locked: why}, "", "", f.Size)
		return g, nil
	}
	if c.Bytes == nil {
		c.Bytes = []byte{}
	}
	hash := record.Sum(c.Bytes)
	if known.Findable && known.Hash == hash && known.Media == c.Media && known.Address == g.page.Address {
		g.page.Locked, g.same = known.Locked, true
		return g, nil
	}
	g.page.Take(page.Know(f.Path, g.page.Address, c.Bytes, c.Media), hash, c.Media, int64(len(c.Bytes)))
	g.bytes = c.Bytes
	return g, nil
}

// ofOneFile tells what is wrong with one file from what is wrong with the host.
func ofOneFile(k host.Kind) bool {
	return k == host.Forbidden || k == host.Gone || k == host.Broken || k == host.Odd || k == host.Locked || k == host.Short
}

// keepPage keeps a page as its host has it, with what is known of it.
func (d *Desk) keepPage(ctx context.Context, q store.Queries, p *store.Page, known page.Known, c host.Content) error {
	hash, err := q.KeepBytes(ctx, c.Bytes)
	if err != nil {
		return err
	}
	p.Take(known, hash, c.Media, int64(len(c.Bytes)))
	p.SeenAt = d.now()
	return q.KeepPage(ctx, *p)
}

// isPage tells pages from other files: as the host saw it, or by their names. What begins with an underscore is a part
// that a builder uses.
func isPage(f host.File) bool {
	if f.Page {
		return true
	}
	if strings.HasPrefix(path.Base(f.Path), "_") {
		return false
	}
	switch strings.ToLower(path.Ext(f.Path)) {
	case ".html", ".htm", ".xhtml", ".shtml", ".shtm", ".md", ".markdown":
		return true
	}
	return false
}
