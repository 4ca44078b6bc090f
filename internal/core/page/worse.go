package page

import (
	"fmt"
	"maps"
	"strings"

	"mendry/internal/core/source"
)

// refersTo are the attributes that name elements by their identifiers, one or several (HTML and WAI-ARIA 1.2).
var refersTo = words(
	`for form list headers popovertarget commandfor aria-activedescendant aria-controls aria-describedby aria-details
	aria-errormessage aria-flowto aria-labelledby aria-owns`,
)

// RefersTo reports whether an attribute names elements by their identifiers.
func RefersTo(attribute string) bool { return refersTo[attribute] }

// order is what must not get worse on a page, whatever is done to it.
type order struct {
	torn     int                     // elements whose tags are not closed as they were opened
	ids      map[string]int          // how often an identifier stands
	dangling map[string]*source.Node // what points at an identifier that nobody has, by attribute and identifier
	skips    map[string]bool         // levels of headings that are skipped, such as "h2>h4"
}

// order is worked out once a page: what one act leaves is what the next one begins with.
func (p *Page) order() order {
	p.orderOnce.Do(func() { p.orderly = p.findOrder() })
	return p.orderly
}

func (p *Page) findOrder() order {
	o := order{ids: map[string]int{}, dangling: map[string]*source.Node{}, skips: map[string]bool{}}
	type reference struct{ attribute, id string }
	pointing := map[reference]*source.Node{}
	level := 0
	for _, n := range p.Doc.Nodes {
		if n.Tag() == "" {
			continue
		}
		if n.Torn {
			o.torn++
		}
		for i := range n.HTML.Attr {
			key, value := n.HTML.Attr[i].Key, n.HTML.Attr[i].Val
			switch {
			case key == "id" && value != "":
				o.ids[value]++
			case key == "name" && n.Is("a", "map") && value != "":
				o.ids[value] += 0 // a place to lead to, though no identifier
			case refersTo[key]:
				for _, id := range strings.Fields(value) {
					pointing[reference{key, id}] = n
				}
			case len(value) > 1 && value[0] == '#' && (key == "href" || key == "usemap" || strings.HasPrefix(key, "data-")) && !strings.ContainsAny(value, " /?!=;,"):
				pointing[reference{key, value[1:]}] = n
			}
		}
		if n.Is("h1", "h2", "h3", "h4", "h5", "h6") {
			now := Level(n)
			if level > 0 && now > level+1 {
				o.skips[fmt.Sprintf("h%d>h%d", level, now)] = true
			}
			level = now
		}
	}
	for r, n := range pointing {
		if _, there := o.ids[r.id]; !there && r.id != "top" {
			o.dangling[r.attribute+" "+r.id] = n
		}
	}
	return o
}

// Worse says in words in what a page is worse than it was before an act: broken markup, an identifier that stands
// twice, something that points at what is gone, a heading that skips a level, a tab without its panel. It is empty
// where it is not. What skips a level, or has no other half, on the pages that something came from is how the site is
// built.
func Worse(before, after *Page, from ...*Page) string {
	was, is := before.order(), after.order()
	orphans, skips := before.orphans, maps.Clone(was.skips)
	for _, p := range from {
		orphans += p.orphans
		maps.Copy(skips, p.order().skips)
	}
	if is.torn > was.torn {
		return "Tags would not be closed in the order in which they were opened."
	}
	for id, n := range is.ids {
		if n > 1 && n > was.ids[id] {
			return fmt.Sprintf("The identifier “%s” would stand %d times on the page.", id, n)
		}
	}
	for reference, n := range is.dangling {
		if _, so := was.dangling[reference]; so {
			continue
		}
		_, id, _ := strings.Cut(reference, " ")
		if n.Is("a") {
			return fmt.Sprintf(
				"The link “%s” leads to “#%s”, which would be gone. Take that link out or let it lead elsewhere first.",
				Short(after.linkName(n), 40),
				id,
			)
		}
		return fmt.Sprintf("Something else on the page points at “#%s”, which would be gone.", id)
	}
	for skip := range is.skips { // one that stands elsewhere already is how the site is built
		if from, to, _ := strings.Cut(skip, ">"); !skips[skip] {
			return fmt.Sprintf("A heading would skip a level: %s comes right after %s.", to, from)
		}
	}
	if after.orphans > orphans {
		return "A tab would stand without its panel, or a dot without its slide."
	}
	return ""
}

// linkName is what a link is called by: its words, or what it is named.
func (p *Page) linkName(n *source.Node) string {
	if part, ok := p.At(n); ok {
		return part.Name
	}
	return first(p.TextOf(n), p.Doc.Value(n, "aria-label"), p.Doc.Value(n, "href"))
}
