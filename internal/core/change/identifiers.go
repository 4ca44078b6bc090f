package change

import (
	"fmt"
	"slices"
	"strings"

	"golang.org/x/net/html"

	"mendry/internal/core/page"
	"mendry/internal/core/source"
)

// renamed are the identifiers of a copy by those of what it is a copy of: several where one stands several times, one
// for each.
type renamed map[string][]string

// renaming is a walk through a copy in document order, in which what stands there is renamed.
type renaming struct {
	of   renamed
	seen map[string]int // how often an identifier was met
}

func (r renamed) begin() *renaming { return &renaming{r, map[string]int{}} }

// refers reports whether a value points at something in the copy.
func (r renamed) refers(value string) bool {
	return strings.HasPrefix(value, "#") && len(r[value[1:]]) > 0
}

// value is what an attribute of the copy says; false where it stays as it is. A reference to what is not in the copy
// stays; one to what stands several times is to the first of it, as browsers take it.
func (r *renaming) value(name, value string) (string, bool) {
	switch {
	case name == "id":
		to := r.of[value]
		n := r.seen[value]
		r.seen[value]++
		if n >= len(to) {
			return value, false
		}
		return to[n], true
	case page.RefersTo(name):
		ids := strings.Fields(value)
		found := false
		for i, id := range ids {
			if to := r.of[id]; len(to) > 0 {
				ids[i], found = to[0], true
			}
		}
		return strings.Join(ids, " "), found
	case r.of.refers(value): // href, and the like of scripts that open and close things
		return "#" + r.of[value[1:]][0], true
	}
	return "", false
}

// newIdentifiers gives every identifier in parts, of which a copy is made, another one that the page does not have.
func (w *work) newIdentifiers(parts ...*page.Part) renamed {
	r := freeIdentifiers(w.p, w.identifiers(), parts...)
	for _, to := range r {
		w.ids = append(w.ids, to...)
	}
	return r
}

// freeIdentifiers are identifiers for those in parts of a page that are not taken, which they are then: their own
// where those are free.
func freeIdentifiers(p *page.Page, taken map[string]bool, parts ...*page.Part) renamed {
	r := renamed{}
	for _, part := range parts {
		for _, top := range tops(part) {
			top.Walk(func(n *source.Node) bool {
				if id := identifier(p, n); id != "" {
					r[id] = append(r[id], free(id, taken))
				}
				return true
			})
		}
	}
	return r
}

// identifiers are those that the page has, or will have.
func (w *work) identifiers() map[string]bool {
	taken := map[string]bool{}
	for _, n := range w.p.Doc.Nodes {
		if n.Tag() != "" {
			taken[w.p.Doc.Value(n, "id")] = true
		}
	}
	for _, id := range w.ids {
		taken[id] = true
	}
	return taken
}

func identifier(p *page.Page, n *source.Node) string {
	if n.Tag() == "" {
		return ""
	}
	return p.Doc.Value(n, "id")
}

// free is an identifier, with a number where it is taken; it is taken then.
func free(id string, taken map[string]bool) string {
	to := id
	for i := 2; taken[to]; i++ {
		to = fmt.Sprintf("%s-%d", id, i)
	}
	taken[to] = true
	return to
}

// copyOf is a copy of a part, its bytes and its tree, with identifiers of its own.
func (w *work) copyOf(part *page.Part) ([]byte, []*html.Node, error) {
	d := w.p.Doc
	at := WholeSpan(part)
	raw, kids := slices.Clone(d.Bytes[at.Start:at.End]), clones(part)
	r := w.newIdentifiers(part)
	if len(r) == 0 {
		return raw, kids, nil
	}
	var edits []source.Edit
	walk := r.begin()
	for _, top := range tops(part) {
		top.Walk(func(n *source.Node) bool {
			for _, a := range d.Attributes(n) {
				to, ok := walk.value(a.Name, a.Value)
				if !ok || a.Bare {
					continue
				}
				now, err := w.encode(string(Quoted(to, a.Quote)))
				if err != nil {
					continue // of the page's own letters and a number
				}
				edits = append(edits, source.Edit{Span: source.Span{Start: a.Raw.Start - at.Start, End: a.Raw.End - at.Start}, New: now})
			}
			return true
		})
	}
	walk = r.begin()
	for _, k := range kids {
		walk.rename(k)
	}
	raw, _, err := source.Splice(raw, edits)
	return raw, kids, err
}

// rename gives the elements of a copied tree their own identifiers.
func (r *renaming) rename(n *html.Node) {
	for i, a := range n.Attr {
		if a.Namespace != "" {
			continue
		}
		if to, ok := r.value(a.Key, a.Val); ok {
			n.Attr[i].Val = to
		}
	}
	for k := n.FirstChild; k != nil; k = k.NextSibling {
		r.rename(k)
	}
}
