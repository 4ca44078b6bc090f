package host

import (
	"bytes"
	"context"
	"encoding/xml"
	"errors"
	"fmt"
	"slices"
	"sort"
	"strings"
	"time"

	"golang.org/x/net/html"
	"golang.org/x/sync/errgroup"

	"mendry/internal/core/link"
)

// hand is a site that Mendry may only read: what is published becomes a list for a person, who puts it in where the
// site is edited. Its files are what visitors get.
type hand struct {
	visits *Visitor
	public string // the address of the first page
}

const (
	mostVisited = 5000 // pages of a site that is read by following its links
	visitLanes  = 4    // pages that are asked for at a time: the site serves its visitors too
	mostMute    = 40   // addresses that do not answer, on a site that does
)

// NewHand reads a site as its visitors do.
func NewHand(n Network, r Reach, timeout time.Duration) (Host, error) {
	u, err := Address(r.Public)
	if err != nil {
		return nil, err
	}
	return &hand{NewVisitor(n, timeout), u.String()}, nil
}

// fetch asks for a path of the site, past caches.
func (h *hand) fetch(ctx context.Context, sitePath string) (Visit, error) {
	to, err := link.Public(h.public, sitePath, "")
	if err != nil {
		return Visit{}, &Problem{Kind: Odd, Say: "“" + sitePath + "” is no address."}
	}
	return h.visits.Fresh(ctx, to)
}

// Read implements Host.
func (h *hand) Read(ctx context.Context, file string) (Content, error) {
	v, err := h.fetch(ctx, link.AddressOf(file))
	v.Kept = v.Cache.Left()
	return v.Content, err
}

// found are the pages that a page, or a map of the site, leads to, as paths on the site.
type found struct {
	path  string
	links []string
	page  bool
	size  int64
	mute  string // why it did not answer, in words
	away  string // and where another host did not, to which it leads
}

// List implements Host: it follows links from the first page and from the site's map (sitemaps.org, 0.9).
func (h *hand) List(ctx context.Context, tell func(n int)) (Listing, error) {
	var all Listing
	first, err := h.follow(ctx, "/")
	if err != nil {
		return all, err
	}
	if !first.page {
		return all, &Problem{Kind: Odd, Say: "Something answers at the public address, but it is no page. Enter the address of the first page."}
	}
	seen := map[string]bool{first.path: true, "/": true}     // addresses that were asked for
	listed := map[string]bool{link.FileOf(first.path): true} // and the pages that they led to
	all.Files = append(all.Files, File{Path: link.FileOf(first.path), Size: first.size, Page: true})
	next := append(first.links, h.mapped(ctx)...)
	mute := 0
	for len(next) > 0 {
		var now []string
		for _, p := range next {
			if seen[p] {
				continue
			}
			if len(seen) >= mostVisited {
				all.Left = append(all.Left, fmt.Sprintf("Links lead to more than %d pages; the rest was left out.", mostVisited))
				break
			}
			seen[p] = true
			now = append(now, p)
		}
		next = nil
		answers, err := h.followAll(ctx, now)
		if err != nil {
			return all, err
		}
		if slices.ContainsFunc(answers, func(f found) bool { return f.mute != "" }) {
			if _, err := h.follow(ctx, "/"); err != nil {
				return all, err // it is the site that does not
			}
		}
		for _, f := range answers {
			file := link.FileOf(f.path)
			switch {
			case f.away != "":
				all.Left = append(all.Left, f.path+" leads to another host and was left out. "+f.away)
			case f.mute != "" && !listed[file]:
				listed[file], mute = true, mute+1
				all.Files = append(all.Files, File{Path: file, Odd: f.mute, Page: true, Mute: true})
			}
			if !f.page || listed[file] {
				continue // several addresses may lead to one page
			}
			seen[f.path], listed[file] = true, true
			all.Files = append(all.Files, File{Path: file, Size: f.size, Page: true})
			if len(seen) < mostVisited {
				next = append(next, f.links...)
			}
		}
		if mute > mostMute {
			return all, &Problem{Kind: Slow, Say: fmt.Sprintf("More than %d pages of the site do not answer. Try again when it does.", mostMute)}
		}
		if tell != nil {
			tell(len(all.Files))
		}
	}
	sort.Slice(all.Files, func(i, j int) bool { return all.Files[i].Path < all.Files[j].Path })
	return all, nil
}

// followAll follows several addresses, some at a time. What answers as no page is left out.
func (h *hand) followAll(ctx context.Context, paths []string) ([]found, error) {
	answers := make([]found, len(paths))
	g, ctx := errgroup.WithContext(ctx)
	g.SetLimit(visitLanes)
	for i, p := range paths {
		g.Go(func() error {
			f, err := h.follow(ctx, p)
			var no *Problem
			switch {
			case err != nil && ctx.Err() != nil:
				return ctx.Err()
			case !errors.As(err, &no):
			case no.Led != "":
				f = found{path: p, away: no.Say}
			case no.Kind == Down || no.Kind == Certificate || no.Kind == Slow || no.Kind == Short:
				f = found{path: p, mute: no.Say}
			}
			answers[i] = f
			return nil
		})
	}
	return answers, g.Wait()
}

// follow reads one page and what it leads to. A redirect counts as the page to which it leads.
func (h *hand) follow(ctx context.Context, sitePath string) (f found, err error) {
	v, err := h.fetch(ctx, sitePath)
	if err != nil {
		return f, err
	}
	kind, to, _ := link.Of(h.public, "/", v.Final)
	if kind != link.Inside || !strings.Contains(v.Media, "html") {
		return f, nil
	}
	f = found{path: to, page: true, size: int64(len(v.Bytes))}
	for _, ref := range refs(v.Bytes) {
		if kind, to, _ := link.Of(h.public, f.path, ref); kind == link.Inside && !strings.HasSuffix(ref, "#") && pagelike(to) {
			f.links = append(f.links, to)
		}
	}
	return f, nil
}

// pagelike leaves out what is no page by its name.
func pagelike(p string) bool {
	name := p[strings.LastIndexByte(p, '/')+1:]
	at := strings.LastIndexByte(name, '.')
	if at < 0 {
		return true
	}
	switch strings.ToLower(name[at:]) {
	case ".html", ".htm", ".xhtml", ".php", ".asp", ".aspx", ".jsp", ".cgi":
		return true
	}
	return false
}

// refs are the addresses of a page's links.
func refs(page []byte) (all []string) {
	z := html.NewTokenizer(bytes.NewReader(page))
	for {
		switch z.Next() {
		case html.ErrorToken:
			return all
		case html.StartTagToken, html.SelfClosingTagToken:
			name, more := z.TagName()
			is := string(name) == "a" || string(name) == "area"
			for more {
				var key, value []byte
				if key, value, more = z.TagAttr(); is && string(key) == "href" {
					all = append(all, string(value))
				}
			}
		}
	}
}

// siteMap is a map of a site, or a list of such maps.
type siteMap struct {
	Pages []string `xml:"url>loc"`
	Maps  []string `xml:"sitemap>loc"`
}

const mostMaps = 20

// mapped are the pages of the site's map, where it has one.
func (h *hand) mapped(ctx context.Context) (paths []string) {
	maps := []string{"/sitemap.xml"}
	for n := 0; len(maps) > 0 && n < mostMaps; n++ {
		v, err := h.fetch(ctx, maps[0])
		maps = maps[1:]
		var m siteMap
		if err != nil || xml.Unmarshal(v.Bytes, &m) != nil {
			continue
		}
		for _, address := range m.Pages {
			if kind, to, _ := link.Of(h.public, "/", address); kind == link.Inside && pagelike(to) {
				paths = append(paths, to)
			}
		}
		for _, address := range m.Maps {
			if kind, to, _ := link.Of(h.public, "/", address); kind == link.Inside {
				maps = append(maps, to)
			}
		}
	}
	return paths
}

// whyByHand is why nothing is written.
const whyByHand = "The site is served by hand: what is published becomes a list of what to put where; put it in, and Mendry looks at the live page after you."

func (h *hand) refuse() error { return &Problem{Kind: Forbidden, Say: whyByHand} }

// Write implements Host.
func (h *hand) Write(context.Context, string, []byte, *Content) error { return h.refuse() }

// Remove implements Host.
func (h *hand) Remove(context.Context, string, Content) error { return h.refuse() }

// Hold implements Host.
func (h *hand) Hold(context.Context, string) (func(), bool, error) { return func() {}, false, nil }

// Try implements Host.
func (h *hand) Try(ctx context.Context) (Knows, error) {
	_, err := h.fetch(ctx, "/")
	return Knows{WhyNot: whyByHand}, err
}
