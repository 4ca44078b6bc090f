package page

import (
	"crypto/sha256"
	"encoding/hex"
	"fmt"
	"io"
	"slices"
	"strings"

	"golang.org/x/net/html"

	"mendry/internal/core/link"
	"mendry/internal/core/picture"
	"mendry/internal/core/source"
)

// Placed is a page of a site at its public address, such as "/fares.html".
type Placed struct {
	Address string
	Page    *Page
}

// SharedPart is a part that is the same on several pages of a site.
type SharedPart struct {
	Kind  Kind
	Name  string
	On    map[string]*Part // by address
	Exact bool             // the same bytes on all; otherwise links are written differently, or State differs
	State []string         // classes that say where a visitor is, learnt from what differs between the pages
}

// Shared finds the parts that are the same on several pages: the same bytes, or the same after resolving links against
// each page's address and leaving out state classes. Parts inside a shared part are not listed on their own. What is
// said of it is noted in each part's Shared.
func Shared(site []Placed) (all []*SharedPart) {
	groups := map[[sha256.Size]byte]*sharing{}
	var order []*sharing
	for _, p := range site {
		for _, part := range p.Page.All {
			if !mayBeShared(part) {
				continue
			}
			f := fingerprint(p, part)
			g := groups[f]
			if g == nil {
				g = &sharing{on: map[string]*Part{}}
				groups[f] = g
				order = append(order, g)
			}
			if g.on[p.Address] == nil { // the first of two on one page
				g.on[p.Address] = part
				g.addresses = append(g.addresses, p.Address)
			}
		}
	}
	inShared := map[*Part]bool{}
	for _, g := range order {
		first := g.on[g.addresses[0]]
		if !enough(first.Kind, len(g.on), len(site)) {
			continue
		}
		inside := 0
		for _, part := range g.on {
			for up := part.Parent; up != nil; up = up.Parent {
				if inShared[up] {
					inside++
					break
				}
			}
		}
		if inside == len(g.on) {
			continue
		}
		s := &SharedPart{Kind: first.Kind, Name: first.Name, On: g.on, Exact: true}
		for _, a := range g.addresses {
			s.Exact = s.Exact && g.on[a].HTML == first.HTML
		}
		if !s.Exact {
			s.State = stateClasses(g)
		}
		for _, part := range g.on {
			inShared[part] = true
			part.Shared = fmt.Sprintf("is on %d pages", len(g.on))
		}
		all = append(all, s)
	}
	return all
}

// sharing is a part that was seen on some pages.
type sharing struct {
	on        map[string]*Part
	addresses []string
}

// Print is what a part is known by on any page of its site: the SHA-256, in hexadecimal digits, of its tree with links
// resolved and without state.
type Print struct {
	Part string // its ID
	Sum  string
}

// Prints lists the prints of those parts of a page that may be shared. address is its public path.
func (p *Page) Prints(address string) (all []Print) {
	for _, part := range p.All {
		if mayBeShared(part) {
			f := fingerprint(Placed{address, p}, part)
			all = append(all, Print{part.ID, hex.EncodeToString(f[:])})
		}
	}
	return all
}

// SharedOn reports whether a part that stands on some of a site's pages is shared, as Shared decides it.
func SharedOn(part *Part, on, pages int) bool { return enough(part.Kind, on, pages) }

const leastWords = 12 // signs of a line that may be shared, such as a notice

func mayBeShared(part *Part) bool {
	if part.Run != nil || !part.Node.Placed || part.Node.Is("main", "body") {
		return false
	}
	switch part.Kind {
	case Section, Set, Table, Form:
		return len(part.HTML) > 40
	case Words:
		return len(part.Text) >= leastWords && (part.Parent == nil || part.Parent.Kind == Section && !inside(part.Node, "main", "article"))
	}
	return false
}

// enough reports whether a part stands on enough pages to be the site's, not two pages' own.
func enough(kind Kind, n, pages int) bool {
	if kind == Words {
		return n >= 3 && 2*n >= pages
	}
	return n >= 2 && (n >= 4 || 2*n >= pages)
}

var addresses = words("href src action poster data")

// fingerprint is the part's tree with links resolved and without state.
func fingerprint(p Placed, part *Part) (f [sha256.Size]byte) {
	h := sha256.New()
	write(h, part.Node.HTML, p.Address)
	h.Sum(f[:0])
	return f
}

func write(w io.Writer, n *html.Node, at string) {
	switch n.Type {
	case html.TextNode:
		if s := collapse(n.Data); s != "" {
			fmt.Fprintf(w, "%q", s)
		}
		return
	case html.ElementNode:
	default:
		return
	}
	fmt.Fprintf(w, "<%s", n.Data)
	attributes := slices.Clone(n.Attr)
	slices.SortFunc(attributes, func(a, b html.Attribute) int { return strings.Compare(a.Key, b.Key) })
	for _, a := range attributes {
		v := a.Val
		switch {
		case a.Key == "class" || a.Key == "aria-current" || a.Key == "aria-selected":
			continue
		case addresses[a.Key] || slices.Contains(PictureAddresses, a.Key):
			v = leadsTo(at, v)
		case slices.Contains(Srcsets, a.Key):
			v = ""
			for _, c := range picture.ReadSrcset(a.Val) {
				c.URL = leadsTo(at, c.URL)
				v += picture.WriteSrcset([]picture.Candidate{c}) + ","
			}
		case a.Key == "style":
			v = WithAddresses(v, func(address string) string { return leadsTo(at, address) })
		}
		fmt.Fprintf(w, " %s=%q", a.Key, v)
	}
	io.WriteString(w, ">")
	for c := n.FirstChild; c != nil; c = c.NextSibling {
		write(w, c, at)
	}
	io.WriteString(w, "</>")
}

// leadsTo is where a reference leads from a page; a place on the same page stays one.
func leadsTo(at, ref string) string {
	if strings.HasPrefix(ref, "#") {
		return ref
	}
	to, err := link.Resolve("http://site.example"+at, ref)
	if err != nil {
		return ref
	}
	return to
}

// stateClasses are the classes that some pages have at a place where others do not.
func stateClasses(g *sharing) (all []string) {
	var lists [][]string
	for _, a := range g.addresses {
		lists = append(lists, classesOf(g.on[a].Node))
	}
	for i := range lists[0] {
		in := map[string]int{}
		for _, l := range lists {
			if i < len(l) {
				for _, c := range strings.Fields(l[i]) {
					in[c]++
				}
			}
		}
		for c, n := range in {
			if n < len(lists) && !slices.Contains(all, c) {
				all = append(all, c)
			}
		}
	}
	slices.Sort(all)
	return all
}

func classesOf(n *source.Node) (all []string) {
	n.Walk(func(k *source.Node) bool {
		if k.Tag() != "" {
			all = append(all, classOf(k))
		}
		return true
	})
	return all
}
