package change

import (
	"fmt"
	"slices"
	"strings"

	"golang.org/x/net/html"

	"mendry/internal/core/diff"
	"mendry/internal/core/page"
)

// Clash is a part that two sides changed, and differently.
type Clash struct {
	Part   string `json:"part"` // of the base page; empty where the place is in no part
	Name   string `json:"name"`
	Base   string `json:"base"`
	Mine   string `json:"mine"`
	Theirs string `json:"theirs"`
}

// Clashes is the error of a Merge that a person has to decide.
type Clashes struct {
	All []Clash `json:"conflicts"`
}

func (c *Clashes) Error() string {
	var names []string
	for _, k := range c.All {
		names = append(names, "“"+first(k.Name, "the page")+"”")
	}
	return fmt.Sprintf("both sides changed %s, and differently", strings.Join(names, ", "))
}

func first(ss ...string) string {
	for _, s := range ss {
		if s != "" {
			return s
		}
	}
	return ""
}

// Merge brings together what two sides made of a page, part by part. The error is *Clashes where both changed the same
// part differently, or a *refusal.Refusal where the result would not be what either side made.
func Merge(base, mine, theirs *page.Page) (*page.Page, error) {
	pieces := base.Doc.Pieces()
	at := make([]int, len(pieces)+1) // byte offsets
	for i, p := range pieces {
		at[i+1] = at[i] + len(p)
	}
	m := merging{base: base, by: map[*page.Part]*sides{}}
	var out strings.Builder
	from := 0
	for _, h := range diff.Merge(pieces, mine.Doc.Pieces(), theirs.Doc.Pieces()) {
		to := h.At + len(h.Base)
		m.hunk(h, at[h.At], at[to])
		out.WriteString(strings.Join(pieces[from:h.At], ""))
		out.WriteString(strings.Join(h.Now, ""))
		from = to
	}
	if all := m.clashes(); len(all) > 0 {
		return nil, &Clashes{all}
	}
	out.WriteString(strings.Join(pieces[from:], ""))
	now, err := base.Again([]byte(out.String()))
	if err != nil {
		return nil, refuse("The merged page could not be read: %v", err)
	}
	return now, madeOf(now, base, mine, theirs)
}

// sides is what was done to one part of the base.
type sides struct {
	mine, theirs bool
	differ       bool
	m, t         []diff.Hunk[string]
}

type merging struct {
	base  *page.Page
	by    map[*page.Part]*sides
	order []*page.Part
}

// hunk notes which part a stretch of the base belongs to.
func (m *merging) hunk(h diff.Hunk[string], start, end int) {
	base, mine, theirs := strings.Join(h.Base, ""), strings.Join(h.Mine, ""), strings.Join(h.Theirs, "")
	part := partAt(m.base, start, end)
	s := m.by[part]
	if s == nil {
		s = &sides{}
		m.by[part] = s
		m.order = append(m.order, part)
	}
	if mine != base {
		s.mine = true
		s.m = append(s.m, h)
	}
	if theirs != base {
		s.theirs = true
		s.t = append(s.t, h)
	}
	if mine != theirs {
		s.differ = true
	}
	if h.Clash && (part == nil || !leaf(part)) {
		s.differ, s.mine, s.theirs = true, true, true
	}
}

// partAt is the innermost part that holds a stretch of a page whole.
func partAt(in *page.Page, start, end int) (inner *page.Part) {
	for _, p := range in.All {
		if p.Placed() && p.Start <= start && end <= p.End && (start < end || p.Start < start && start < p.End || p.InnerStart == start && p.InnerEnd == start) {
			if inner == nil || p.End-p.Start <= inner.End-inner.Start {
				inner = p
			}
		}
		if p.Start > end {
			break
		}
	}
	for inner != nil && inner.Parent != nil && !leaf(inner) && inner.Parent.Kind.HasWords() && leaf(inner.Parent) {
		inner = inner.Parent // a link among words belongs to the words
	}
	return inner
}

// clashes lists the parts that both sides changed differently. Between parts, only stretches that meet clash.
func (m *merging) clashes() (all []Clash) {
	for _, part := range m.order {
		s := m.by[part]
		if !s.mine || !s.theirs || !s.differ {
			continue
		}
		if part == nil || !leaf(part) {
			for _, h := range s.m {
				if h.Clash {
					c := Clash{Base: strings.Join(h.Base, ""), Mine: strings.Join(h.Mine, ""), Theirs: strings.Join(h.Theirs, "")}
					if part != nil {
						c.Part, c.Name = part.ID, part.Name
					}
					all = append(all, c)
				}
			}
			continue
		}
		all = append(all, Clash{Part: part.ID, Name: part.Name, Base: part.Text, Mine: said(part, s.m, true), Theirs: said(part, s.t, false)})
	}
	return all
}

// said is what a side made of a part, in short.
func said(part *page.Part, hs []diff.Hunk[string], mine bool) string {
	var words []string
	for _, h := range hs {
		side := h.Theirs
		if mine {
			side = h.Mine
		}
		words = append(words, strings.TrimSpace(strings.Join(side, "")))
	}
	return page.Short(strings.Join(words, " … "), 200)
}

// madeOf checks that a merged page is read as what the two sides made, and that nothing came to be between the two:
// its tree is the merged trees, or every part of it is one that a side had.
func madeOf(now, base, mine, theirs *page.Page) error {
	var want []string
	from, clash := 0, false
	tree := items(base)
	for _, h := range diff.Merge(tree, items(mine), items(theirs)) {
		clash = clash || h.Clash
		want = append(append(want, tree[from:h.At]...), h.Now...)
		from = h.At + len(h.Base)
	}
	if want = append(want, tree[from:]...); !clash && slices.Equal(want, items(now)) {
		return nil
	}
	known := map[string]bool{}
	for _, side := range []*page.Page{base, mine, theirs} {
		for _, k := range keys(leaves(side)) {
			known[k] = true
		}
	}
	for _, l := range leaves(now) {
		if !known[string(l.Kind)+"\x00"+l.HTML] {
			return refuse("The two versions cannot be brought together safely: “%s” would be what neither side made.", l.Name)
		}
	}
	return nil
}

// items lists a page's tree: where elements begin and end, and words.
func items(p *page.Page) (all []string) {
	var walk func(n *html.Node)
	walk = func(n *html.Node) {
		switch n.Type {
		case html.ElementNode:
			tag := html.Token{Type: html.StartTagToken, Data: n.Data, Attr: n.Attr}
			all = append(all, tag.String())
		case html.TextNode:
			all = append(all, strings.Fields(n.Data)...)
		default:
			all = append(all, n.Data)
		}
		for c := n.FirstChild; c != nil; c = c.NextSibling {
			walk(c)
		}
		if n.Type == html.ElementNode {
			all = append(all, "</"+n.Data+">")
		}
	}
	walk(p.Doc.Root.HTML)
	return all
}
