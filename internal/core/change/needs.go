package change

import (
	"bytes"
	"slices"
	"strings"

	"mendry/internal/core/link"
	"mendry/internal/core/page"
	"mendry/internal/core/source"
)

// loaded is a style sheet or script of the site that a page loads.
type loaded struct {
	path string
	node *source.Node
	name string // of the attribute that holds its address
}

// loads lists the style sheets and scripts of the site that a page loads, by their paths.
func (a At) loads() (all []loaded) {
	for _, n := range a.Doc.Nodes {
		name := ""
		switch {
		case n.Is("script"):
			name = "src"
		case a.IsSheet(n):
			name = "href"
		default:
			continue
		}
		if kind, to, _ := link.Of("http://site.example/", a.Address, a.Doc.Value(n, name)); kind == link.Inside {
			all = append(all, loaded{to, n, name})
		}
	}
	return all
}

// bring puts the style sheets and scripts that a borrowed part needs and the other page lacks at the end of it; it
// returns their paths. A part needs those that name one of its classes, identifiers or data attributes.
func (b *borrowing) bring(code func(path string) []byte) (paths []string) {
	end := b.part.Node
	if b.part.Run != nil || end.InnerEnd() >= end.End() {
		return nil
	}
	has := map[string]bool{}
	for _, l := range b.to.loads() {
		has[l.path] = true
	}
	names := namesIn(b.from.Page, b.part)
	markup := ""
	for _, l := range b.from.loads() {
		if has[l.path] || standsIn(l.node, b.part) || !naming(code(l.path), names) {
			continue
		}
		a, ok := b.p.Doc.Attribute(l.node, l.name)
		raw := b.p.Doc.Bytes[l.node.Start():l.node.End()]
		if ok && l.node.Placed {
			to, _ := link.Moved(a.Value, b.from.Address, b.to.Address)
			now, _, err := source.Splice(raw, []source.Edit{{
				Span: source.Span{
					Start: a.Raw.Start - l.node.Start(),
					End:   a.Raw.End - l.node.Start(),
				}, New: Quoted(to, a.Quote),
			}})
			if err != nil {
				continue
			}
			has[l.path] = true
			markup += b.p.Doc.Markup(now)
			paths = append(paths, l.path)
		}
	}
	if markup != "" {
		b.put(source.Span{Start: end.InnerEnd(), End: end.InnerEnd()}, markup)
	}
	return paths
}

// standsIn reports whether a node stands in a part.
func standsIn(n *source.Node, part *page.Part) bool {
	return n.Start() >= part.Start && n.End() <= part.End
}

const leastNaming = 3 // signs of a name by which code may mean a part

// namesIn are the names by which code may mean what stands in a part: classes but for states, identifiers, data
// attributes.
func namesIn(p *page.Page, part *page.Part) (names [][]byte) {
	seen := map[string]bool{}
	add := func(name string) {
		if len(name) >= leastNaming && !seen[name] && !page.IsState(name) {
			seen[name] = true
			names = append(names, []byte(name))
		}
	}
	for _, top := range tops(part) {
		top.Walk(func(n *source.Node) bool {
			if n.Tag() == "" {
				return true
			}
			for _, a := range n.HTML.Attr {
				switch {
				case a.Key == "class":
					for _, class := range strings.Fields(p.Doc.Read(a.Val)) {
						add(class)
					}
				case a.Key == "id":
					add(p.Doc.Read(a.Val))
				case strings.HasPrefix(a.Key, "data-"):
					add(a.Key)
				}
			}
			return true
		})
	}
	return names
}

// naming reports whether code holds one of the names as a whole word.
func naming(code []byte, names [][]byte) bool {
	return slices.ContainsFunc(names, func(name []byte) bool {
		for at := 0; ; {
			i := bytes.Index(code[at:], name)
			if i < 0 {
				return false
			}
			start, end := at+i, at+i+len(name)
			if (start == 0 || !inName(code[start-1])) && (end == len(code) || !inName(code[end])) {
				return true
			}
			at = end
		}
	})
}

// inName reports whether a byte may stand in a name (CSS Syntax 3, 4.2: a name code point).
func inName(c byte) bool {
	return c == '-' || c == '_' || c >= 0x80 || '0' <= c && c <= '9' || 'a' <= c && c <= 'z' || 'A' <= c && c <= 'Z'
}
