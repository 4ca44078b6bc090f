package change

import (
	"fmt"
	"slices"
	"strings"

	"golang.org/x/net/html"

	"mendry/internal/core/page"
	"mendry/internal/core/source"
)

// refersTo are the attributes that name elements by their identifiers, one or several (HTML and WAI-ARIA 1.2).
var refersTo = map[string]bool{
	"for": true, "form": true, "list": true, "headers": true, "popovertarget": true, "commandfor": true, "aria-activedescendant": true, "aria-controls": true,
	"aria-describedby": true, "aria-details": true, "aria-errormessage": true, "aria-flowto": true, "aria-labelledby": true, "aria-owns": true,
}

// renamed are identifiers of a copy by those of what it is a copy of.
type renamed map[string]string

// value is what an attribute of the copy says; false where it stays as it is. A reference to what is not in the copy
// stays.
func (r renamed) value(name, value string) (string, bool) {
	switch {
	case name == "id":
		to, ok := r[value]
		return to, ok
	case refersTo[name]:
		ids := strings.Fields(value)
		found := false
		for i, id := range ids {
			if to, ok := r[id]; ok {
				ids[i], found = to, true
			}
		}
		return strings.Join(ids, " "), found
	case strings.HasPrefix(value, "#"): // href, and the like of scripts that open and close things
		to, ok := r[value[1:]]
		return "#" + to, ok
	}
	return "", false
}

// newIdentifiers gives every identifier in a part, of which a copy is made, another one that the page does not have.
func (w *work) newIdentifiers(part *page.Part) renamed {
	taken := map[string]bool{}
	for _, n := range w.p.Doc.Nodes {
		if n.Tag() != "" {
			taken[w.p.Doc.Value(n, "id")] = true
		}
	}
	for _, id := range w.ids {
		taken[id] = true
	}
	r := renamed{}
	for _, top := range tops(part) {
		top.Walk(func(n *source.Node) bool {
			id := ""
			if n.Tag() != "" {
				id = w.p.Doc.Value(n, "id")
			}
			if id == "" || r[id] != "" {
				return true
			}
			for i := 2; ; i++ {
				if to := fmt.Sprintf("%s-%d", id, i); !taken[to] {
					r[id], taken[to] = to, true
					w.ids = append(w.ids, to)
					return true
				}
			}
		})
	}
	return r
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
	for _, top := range tops(part) {
		top.Walk(func(n *source.Node) bool {
			for _, a := range d.Attributes(n) {
				to, ok := r.value(a.Name, a.Value)
				if !ok || a.Bare {
					continue
				}
				now, err := w.encode(escapeAttribute(to))
				if err != nil {
					continue // of the page's own letters and a number
				}
				edits = append(edits, source.Edit{Span: source.Span{Start: a.Raw.Start - at.Start, End: a.Raw.End - at.Start}, New: now})
			}
			return true
		})
	}
	for _, k := range kids {
		r.rename(k)
	}
	raw, _, err := source.Splice(raw, edits)
	return raw, kids, err
}

// rename gives the elements of a copied tree their own identifiers.
func (r renamed) rename(n *html.Node) {
	for i, a := range n.Attr {
		if to, ok := r.value(a.Key, a.Val); ok && a.Namespace == "" {
			n.Attr[i].Val = to
		}
	}
	for k := n.FirstChild; k != nil; k = k.NextSibling {
		r.rename(k)
	}
}
