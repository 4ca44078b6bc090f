package check

import (
	"fmt"
	"net/url"
	"strings"

	"mendry/internal/core/link"
	"mendry/internal/core/page"
	"mendry/internal/core/source"
)

// videos: a film has a cover, a name and captions, nothing of another site is loaded before a visitor asks, and its
// files are there.
func videos(s *Subject) (fs []Finding) {
	n := 0
	for _, p := range s.parts() {
		if p.Kind != page.Video && !p.Node.Is("iframe") {
			continue
		}
		n++
		say := func(level Level, format string, args ...any) {
			fs = append(fs, Finding{Level: level, Part: p.ID, Words: p.Name, Say: fmt.Sprintf(format, args...)})
		}
		for _, to := range s.filesOf(p) {
			kind, at, _ := link.Of(s.Public, s.Address, to)
			if kind == link.Inside && s.Site != nil && !s.Site.Has(at) {
				say(Stop, "“%s” needs %s, which is not on the site. Choose it again.", p.Name, at)
			}
		}
		has := func(name string) bool { _, ok := p.Attributes.Lookup(name); return ok }
		switch {
		case p.Node.Is("iframe"):
			if strings.TrimSpace(p.Attributes.Get("title")) == "" { // WCAG 2.2, technique H64
				say(Look, "The frame has no title: who cannot see it does not learn what it holds.")
			}
			if u, err := url.Parse(p.Attributes.Get("src")); err == nil && u.Host != "" && !has("srcdoc") {
				say(
					Look,
					"The frame loads from %s as soon as the page is opened, whether or not a visitor wants it. Put the film in with a cover.",
					u.Host,
				)
			}
		case has("autoplay") && !has("muted"):
			say(Look, "“%s” begins to play by itself, with sound (WCAG 2.2, 1.4.2). Let visitors begin it.", p.Name)
		case p.Node.Is("video"):
			if !has("poster") {
				say(Look, "“%s” has no cover: before it plays, a black place is seen.", p.Name)
			}
			if !holds(p.Node, "track") { // WCAG 2.2, 1.2.2
				say(
					Look,
					"“%s” has no captions: who cannot hear it learns nothing. Ask for a file of captions.",
					p.Name,
				)
			}
		}
	}
	if n > 0 && len(fs) == 0 {
		fs = append(
			fs,
			Finding{
				Level: Fine,
				Say: fmt.Sprintf(
					"Films have a cover, a name and what they need, and load nothing unasked (%d looked at).",
					n,
				),
			},
		)
	}
	return fs
}

// filesOf are the addresses that a film names.
func (s *Subject) filesOf(p *page.Part) (all []string) {
	p.Node.Walk(func(n *source.Node) bool {
		for _, name := range []string{"src", "poster"} {
			if v := s.After.Doc.Value(n, name); v != "" {
				all = append(all, v)
			}
		}
		return true
	})
	return all
}

func holds(n *source.Node, tag string) (is bool) {
	n.Walk(func(k *source.Node) bool {
		is = is || k.Is(tag)
		return !is
	})
	return is
}
