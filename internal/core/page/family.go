package page

import (
	"strings"

	"mendry/internal/core/diff"
)

// Family is a group of pages that are built alike, such as nine boats.
type Family struct {
	Addresses []string
	Fields    []Field
}

// Field is a part that the pages of a family have in common.
type Field struct {
	Kind Kind
	Name string
	On   map[string]*Part // by address
	Same bool             // it says the same on every page
	// Frame are the words that all pages share, with "…" where they differ; Differs is what stands there, by address.
	Frame   string
	Differs map[string]string
}

const (
	builtAlike  = 0.85 // share of parts that two pages have in common, in order
	leastFields = 5
	leastPages  = 3
)

// Families finds groups of at least three pages that are built alike, what they share with the whole site left out.
// Call Shared first, so that shared parts are known.
func Families(site []Placed) (all []*Family) {
	type member struct {
		at    Placed
		shape []string
		parts []*Part
	}
	var groups [][]member
pages:
	for _, p := range site {
		parts := ownParts(p.Page)
		if len(parts) < leastFields {
			continue
		}
		m := member{p, shapes(p.Page, parts), parts}
		for i, g := range groups {
			if alikeShapes(g[0].shape, m.shape) {
				groups[i] = append(g, m)
				continue pages
			}
		}
		groups = append(groups, []member{m})
	}
	for _, g := range groups {
		if len(g) < leastPages {
			continue
		}
		f := &Family{}
		fields := make([]Field, len(g[0].parts))
		for i, part := range g[0].parts {
			fields[i] = Field{Kind: part.Kind, Name: part.Name, On: map[string]*Part{g[0].at.Address: part}}
		}
		for _, m := range g {
			f.Addresses = append(f.Addresses, m.at.Address)
			i, j := 0, 0
			for _, op := range diff.Script(g[0].shape, m.shape) {
				switch op.Is {
				case diff.Same:
					for range op.N {
						fields[i].On[m.at.Address] = m.parts[j]
						i, j = i+1, j+1
					}
				case diff.Gone:
					i += op.N
				case diff.New:
					j += op.N
				}
			}
		}
		for _, field := range fields {
			if len(field.On) < leastPages {
				continue
			}
			field.compare(f.Addresses)
			f.Fields = append(f.Fields, field)
		}
		all = append(all, f)
	}
	return all
}

// ownParts are the parts of a page that are compared one by one, without those that are shared.
func ownParts(p *Page) (ps []*Part) {
	var walk func([]*Part)
	walk = func(parts []*Part) {
		for _, q := range parts {
			switch {
			case q.Shared != "" || q.Node.Is("nav", "footer"):
			case q.Kind.Whole() || q.Kind == Cell && q.Locked != "":
				walk(q.Parts)
			default:
				ps = append(ps, q)
			}
		}
	}
	walk(p.Parts)
	return ps
}

// shapes describes parts by their kind and the elements and classes that they stand in.
func shapes(p *Page, parts []*Part) []string {
	out := make([]string, len(parts))
	for i, q := range parts {
		var b strings.Builder
		b.WriteString(string(q.Kind))
		for n := q.Nodes()[0]; n != nil && !n.Is("body", "main"); n = n.Parent {
			b.WriteString("<" + n.Tag() + "." + p.Doc.Value(n, "class"))
		}
		out[i] = b.String()
	}
	return out
}

func alikeShapes(a, b []string) bool {
	if 2*min(len(a), len(b)) < max(len(a), len(b)) {
		return false
	}
	same := 0
	for _, op := range diff.Script(a, b) {
		if op.Is == diff.Same {
			same += op.N
		}
	}
	return float64(same) >= builtAlike*float64(max(len(a), len(b)))
}

// compare works out which words of a field all pages share, and what differs.
func (f *Field) compare(addresses []string) {
	text := func(p *Part) string {
		if p.Kind == Picture {
			return key(p)
		}
		return p.Text
	}
	var frame []string
	begun := false
	f.Same = true
	for _, a := range addresses {
		part := f.On[a]
		if part == nil {
			f.Same = false
			continue
		}
		words := diff.Tokens(text(part))
		if !begun {
			frame, begun = words, true
			continue
		}
		frame = common(frame, words)
	}
	f.Differs = map[string]string{}
	for _, a := range addresses {
		part := f.On[a]
		if part == nil {
			continue
		}
		var rest []string
		holed := false
		j := 0
		words := diff.Tokens(text(part))
		f.Frame = ""
		for _, op := range diff.Script(frame, words) {
			switch op.Is {
			case diff.Same:
				f.Frame += strings.Join(words[j:j+op.N], "")
				j += op.N
				holed = false
			case diff.New:
				rest = append(rest, strings.TrimSpace(strings.Join(words[j:j+op.N], "")))
				j += op.N
				if !holed {
					f.Frame += "…"
					holed = true
				}
			}
		}
		if len(rest) > 0 {
			f.Same = false
		}
		f.Differs[a] = strings.Join(rest, " … ")
	}
}

// common are the words that two lists have in common, in order.
func common(a, b []string) (out []string) {
	i := 0
	for _, op := range diff.Script(a, b) {
		switch op.Is {
		case diff.Same:
			out = append(out, a[i:i+op.N]...)
			i += op.N
		case diff.Gone:
			i += op.N
		}
	}
	return out
}
