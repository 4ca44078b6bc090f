package change

import (
	"slices"
	"strconv"
	"strings"

	"mendry/internal/core/link"
	"mendry/internal/core/page"
	"mendry/internal/core/source"
)

// At is a page with its public path, such as "/crew/index.html".
type At struct {
	*page.Page
	Address string
}

// base is the path against which the page's references are resolved (HTML, 4.2.3); false where that is another site's.
func (a At) base() (string, bool) {
	for _, n := range a.Doc.Nodes {
		if href, ok := a.Doc.Attribute(n, "href"); ok && n.Is("base") {
			kind, to, _ := link.Of("http://site.example/", a.Address, href.Value)
			return to, kind == link.Inside
		}
	}
	return a.Address, true
}

// Borrowed is a part of one page of a site as it has to be written on another one.
type Borrowed struct {
	HTML   string
	Raised int      // by how many levels its headings are higher than on its own page, so that none is skipped
	Brings []string // paths of style sheets and scripts that it needs, the other page lacks, and it brings along
}

// Borrow makes of a part of one page what stands for it on another page of the site: addresses lead where they lead
// from its own page, identifiers are ones that the other page does not have, nothing points at what stayed behind, and
// style sheets and scripts that it needs and the other page lacks stand at its end. code reads a style sheet or script
// of the site by its path; nil brings none. above is the level of the heading that will stand above it, 0 for none:
// its first heading is one level below that at most. emptied says that words and pictures become prompts. The error is
// a *refusal.Refusal.
func Borrow(
	from At,
	part *page.Part,
	to At,
	above int,
	code func(path string) []byte,
	emptied bool,
) (b Borrowed, err error) {
	if from.Doc.Format != source.HTML || to.Doc.Format != source.HTML {
		return b, refuse("A page in Markdown lends and borrows no sections: its site's templates make them.")
	}
	if !part.Placed() || part.Background {
		return b, refuse("“%s” cannot be borrowed: its markup has no clear beginning and end.", part.Name)
	}
	fromBase, one := from.base()
	toBase, other := to.base()
	if !one || !other {
		return b, refuse(
			"Nothing can be borrowed between these pages: one of them says that all its addresses are another site's (base).",
		)
	}
	from.Address, to.Address = fromBase, toBase
	at := WholeSpan(part)
	m := &making{p: from.Page, part: part, ids: freeIdentifiers(from.Page, (&work{p: to.Page}).identifiers(), part).begin(), at: at.Start}
	if emptied {
		m.empty(part)
	}
	w := &borrowing{m, from, to}
	b.Raised = w.raise(above)
	for _, top := range tops(part) {
		top.Walk(func(n *source.Node) bool {
			w.element(n)
			return true
		})
	}
	if code != nil {
		b.Brings = w.bring(code)
	}
	if m.err != nil {
		return b, m.err
	}
	raw, _, err := source.Splice(from.Doc.Bytes[at.Start:at.End], m.edits)
	if err != nil {
		return b, refuse("“%s” cannot be borrowed: %v.", part.Name, err)
	}
	b.HTML = from.Doc.Markup(raw)
	return b, nil
}

// borrowing is a part that is made again on another page.
type borrowing struct {
	*making
	from, to At
}

// element brings the attributes of one element into the form that they have on the other page.
func (b *borrowing) element(n *source.Node) {
	if n.Tag() == "" {
		return
	}
	for _, a := range b.p.Doc.Attributes(n) {
		if a.Bare || b.edited(a.Raw) {
			continue
		}
		now, ok := b.ids.value(a.Name, a.Value)
		switch {
		case page.RefersTo(a.Name):
			now = b.within(a.Value)
			if ok = now != a.Value; now == "" {
				b.put(a.Whole, "")
				continue
			}
		case ok:
		case leads(a.Name) && !n.Is("use") && strings.HasPrefix(a.Value, "#"): // a place on the page that lends it
			now, ok = link.Moved(a.Value, b.from.Address, b.to.Address)
		default:
			now, ok = addressed(a.Name, a.Value, b.from.Address, b.to.Address)
		}
		if ok && now != a.Value {
			b.put(a.Raw, string(Quoted(now, a.Quote)))
		}
	}
}

// raise writes the headings of the part by so many levels higher that the first of them skips none below the one above
// it.
func (b *borrowing) raise(above int) (by int) {
	var all []*source.Node
	for _, top := range tops(b.part) {
		top.Walk(func(n *source.Node) bool {
			if n.Is("h1", "h2", "h3", "h4", "h5", "h6") && n.Placed && n.InnerEnd() < n.End() {
				all = append(all, n)
			}
			return true
		})
	}
	if len(all) == 0 || above == 0 {
		return 0
	}
	if by = page.Level(all[0]) - above - 1; by <= 0 {
		return 0
	}
	for _, n := range all {
		to := strconv.Itoa(max(above+1, page.Level(n)-by))
		for _, at := range []int{n.Start() + len("<h"), n.InnerEnd() + len("</h")} {
			b.put(source.Span{Start: at, End: at + 1}, to)
		}
	}
	return by
}

// edited reports whether an attribute has been emptied to a prompt.
func (b *borrowing) edited(at source.Span) bool {
	return slices.ContainsFunc(b.edits, func(e source.Edit) bool {
		return e.Span.Start < at.End-b.at && e.Span.End > at.Start-b.at
	})
}

// within are those identifiers of a list that come along, by their new names.
func (b *borrowing) within(list string) string {
	var kept []string
	for _, id := range strings.Fields(list) {
		if to := b.ids.of[id]; len(to) > 0 {
			kept = append(kept, to[0])
		}
	}
	return strings.Join(kept, " ")
}

// leading are the attributes in which addresses stand (HTML, "Attributes": those of type valid URL), and those from
// which scripts take the address of a picture.
var leading = append(
	[]string{"href", "action", "formaction", "poster", "data", "cite", "longdesc", "background", "xlink:href"},
	page.PictureAddresses...)

func leads(attribute string) bool { return slices.Contains(leading, attribute) }
