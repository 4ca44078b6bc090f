package change

import (
	"bytes"
	"fmt"
	"slices"
	"strings"

	"mendry/internal/core/diff"
	"mendry/internal/core/page"
	"mendry/internal/core/source"
)

// Difference is what two versions of a page differ in, part by part.
type Difference struct {
	Same        bool   `json:"same"`
	OutsideSame bool   `json:"outside_same"` // nothing differs but what All lists, byte for byte
	Changes     []Diff `json:"changes"`
	Tags        []Diff `json:"-"` // of what stays, but for what its own tag says
	Touched     int    `json:"-"` // bytes of the old page that stand in changed parts
	said        []Diff // the changes, told as what they were
}

// All tells everything that differs as what it was: as few things as can be, and also what only the tags of sections,
// items and the like say. Changes are told part by part.
func (d Difference) All() []Diff { return slices.Concat(d.said, d.Tags) }

// Diff is one part that differs.
type Diff struct {
	Kind   string     `json:"kind"` // words, picture, section, facts
	Part   string     `json:"part"` // of the new page; of the old one for what is gone
	Name   string     `json:"name"`
	Before string     `json:"before"`
	After  string     `json:"after"`
	Say    string     `json:"say"`
	Words  []diff.Run `json:"words,omitempty"`
	// Was and Now are the parts that it stands in, side by side, of the old page and of the new one: of what is new
	// there is no Was, of what is gone no Now, and of a fact neither.
	Was []*page.Part `json:"-"`
	Now []*page.Part `json:"-"`
}

// Alike reports whether visitors see the same in both parts of a Diff: only the markup differs.
func (d Diff) Alike() bool {
	if len(d.Was) != 1 || len(d.Now) != 1 || d.Kind == "section" {
		return false
	}
	was, now := d.Was[0], d.Now[0]
	for _, name := range []string{"href", "src", "srcset", "alt", "title"} {
		if was.Attributes.Get(name) != now.Attributes.Get(name) {
			return false
		}
	}
	return was.Text == now.Text && formatting(was, now) == ""
}

// leaf is a part that is compared as a whole.
func leaf(p *page.Part) bool {
	if p.Kind.Whole() {
		return false
	}
	for a := p.Parent; a != nil; a = a.Parent {
		if a.Kind.HasWords() && !(a.Kind == page.Cell && a.Locked != "") {
			return false // inside words that are compared already
		}
	}
	return !(p.Kind == page.Cell && p.Locked != "")
}

func leaves(p *page.Page) (ls []*page.Part) {
	for _, part := range p.All {
		if leaf(part) && part.Placed() {
			ls = append(ls, part)
		}
	}
	return ls
}

// Compare tells what became of old in now.
func Compare(old, now *page.Page) Difference { return CompareWith(old, now, nil) }

// CompareWith is Compare that knows pictures by their content: file names the content of a picture by its address, so
// that the same picture under another name is told from a new one; empty where it is not known.
func CompareWith(old, now *page.Page, file func(address string) string) Difference {
	c := comparison{old: old, now: now, file: file}
	c.Changes = []Diff{}
	if bytes.Equal(old.Doc.Bytes, now.Doc.Bytes) {
		c.Same, c.OutsideSame = true, true
		return c.Difference
	}
	if c.single() {
		c.say()
		return c.Difference
	}
	c.facts(old, now)
	for _, f := range c.Changes {
		c.cutOld, c.cutNew = append(c.cutOld, headSpan(old, f.Part)...), append(c.cutNew, headSpan(now, f.Part)...)
	}
	c.parts()
	c.wrappers()
	c.OutsideSame = bytes.Equal(without(old.Doc.Bytes, c.cutOld), without(now.Doc.Bytes, c.cutNew))
	c.Touched = touched(c.cutOld)
	c.say()
	return c.Difference
}

// comparison is a Compare under way; the cuts are the byte ranges of what differs.
type comparison struct {
	Difference
	old, now       *page.Page
	file           func(string) string
	cutOld, cutNew []source.Span
	stayed         [][2]*page.Part // parts that are one on both pages, whatever became of their words
}

func (c *comparison) parts() {
	a, b := leaves(c.old), leaves(c.now)
	script := diff.Script(keys(a), keys(b))
	gone, new := map[*page.Part]bool{}, map[*page.Part]bool{}
	i, j := 0, 0
	for k := 0; k < len(script); k++ {
		if script[k].Is == diff.Same {
			for range script[k].N {
				c.stays(a[i], b[j])
				i, j = i+1, j+1
			}
			continue
		}
		g, n := 0, 0
		for ; k < len(script) && script[k].Is != diff.Same; k++ {
			if script[k].Is == diff.Gone {
				g += script[k].N
			} else {
				n += script[k].N
			}
		}
		k--
		c.stretch(a[i:i+g], b[j:j+n], gone, new)
		i, j = i+g, j+n
	}
	taken := c.wholes(a, gone, &c.cutOld, c.old)
	added := c.wholes(b, new, &c.cutNew, c.now)
	for _, g := range taken {
		if n := sameHTML(added, g); n != nil {
			c.Changes = append(c.Changes, Diff{Kind: "section", Part: n.ID, Name: n.Name, Before: g.HTML, After: n.HTML, Say: n.Name + " moves", Was: []*page.Part{g}, Now: []*page.Part{n}})
			continue
		}
		c.Changes = append(c.Changes, Diff{Kind: "section", Part: g.ID, Name: g.Name, Before: g.HTML, Say: g.Name + " is gone", Was: []*page.Part{g}})
	}
	for _, n := range added {
		if sameHTML(taken, n) == nil {
			c.Changes = append(c.Changes, Diff{Kind: "section", Part: n.ID, Name: n.Name, After: n.HTML, Say: n.Name + " is new", Now: []*page.Part{n}})
		}
	}
}

func keys(ps []*page.Part) []string {
	ks := make([]string, len(ps))
	for i, p := range ps {
		ks[i] = string(p.Kind) + "\x00" + p.HTML
	}
	return ks
}

func sameHTML(ps []*page.Part, like *page.Part) *page.Part {
	for _, p := range ps {
		if p.HTML == like.HTML {
			return p
		}
	}
	return nil
}

// stretch pairs what is gone with what is new between two parts that stayed; what finds no pair goes into the sets.
func (c *comparison) stretch(a, b []*page.Part, gone, new map[*page.Part]bool) {
	from := 0
	for i, pair := range pairs(a, b) {
		g := a[i]
		if pair < 0 {
			gone[g] = true
			continue
		}
		for ; from < pair; from++ {
			new[b[from]] = true
		}
		from = pair + 1
		c.stays(g, b[pair])
		f := Between(g, b[pair])
		if c.file != nil && f.Kind == "picture" {
			was, is := c.file(g.Attributes.Get("src")), c.file(b[pair].Attributes.Get("src"))
			if was != "" && was == is && g.Attributes.Get("src") != b[pair].Attributes.Get("src") {
				f.Say = fmt.Sprintf("%s: the same picture, now named %s", g.Name, b[pair].Attributes.Get("src"))
			}
		}
		c.Changes = append(c.Changes, f)
		c.cutOld = append(c.cutOld, copied(g))
		c.cutNew = append(c.cutNew, copied(b[pair]))
	}
	for ; from < len(b); from++ {
		new[b[from]] = true
	}
}

// mostTable bounds the table of pairs; longer stretches are paired in order.
const mostTable = 40_000

// pairs tells for each part of a which of b it became, -1 where none: in order, as many as can be, and of those the
// ones that share most words.
func pairs(a, b []*page.Part) []int {
	to := make([]int, len(a))
	for i := range to {
		to[i] = -1
	}
	if len(a) == len(b) || len(a)*len(b) > mostTable {
		inOrder(a, b, to)
		return to
	}
	best := make([][]float64, len(a)+1) // of a[i:] and b[j:]
	for i := range best {
		best[i] = make([]float64, len(b)+1)
	}
	weigh := func(g, n *page.Part) float64 {
		if g.Kind != n.Kind || !like(g, n) {
			return 0
		}
		return 1 + share(g.Text, n.Text)/float64(len(a)+len(b))
	}
	for i := len(a) - 1; i >= 0; i-- {
		for j := len(b) - 1; j >= 0; j-- {
			best[i][j] = max(best[i+1][j], best[i][j+1])
			if w := weigh(a[i], b[j]); w > 0 {
				best[i][j] = max(best[i][j], w+best[i+1][j+1])
			}
		}
	}
	for i, j := 0, 0; i < len(a) && j < len(b); {
		w := weigh(a[i], b[j])
		switch {
		case w > 0 && best[i][j] == w+best[i+1][j+1]:
			to[i] = j
			i, j = i+1, j+1
		case best[i][j] == best[i+1][j]:
			i++
		default:
			j++
		}
	}
	return to
}

// inOrder pairs each part with the next that it could have become.
func inOrder(a, b []*page.Part, to []int) {
	from := 0
	for i, g := range a {
		for k := from; k < len(b); k++ {
			if b[k].Kind == g.Kind && (len(a) == len(b) || like(g, b[k])) {
				to[i], from = k, k+1
				break
			}
		}
	}
}

// share is the share of words that two texts have in common, from 0 to 1 (Dice).
func share(a, b string) float64 {
	in, n, both := map[string]int{}, 0, 0
	for w := range strings.FieldsSeq(a) {
		in[w]++
		n++
	}
	for w := range strings.FieldsSeq(b) {
		if n++; in[w] > 0 {
			in[w]--
			both++
		}
	}
	if n == 0 {
		return 0
	}
	return 2 * float64(both) / float64(n)
}

// like reports whether two parts could be one part before and after an edit: the same element in alike surroundings.
func like(a, b *page.Part) bool {
	return a.Node.Tag() == b.Node.Tag() && (a.Parent == nil) == (b.Parent == nil) &&
		(a.Parent == nil || a.Parent.Name == b.Parent.Name || a.Parent.Node.Tag() == b.Parent.Node.Tag())
}

// wholes gathers leaves of a set into the largest parts that are in it as a whole, and cuts their bytes.
func (c *comparison) wholes(all []*page.Part, in map[*page.Part]bool, cut *[]source.Span, p *page.Page) (ws []*page.Part) {
	whole := func(q *page.Part) bool {
		n := 0
		for _, l := range all {
			if l.Start >= q.Start && l.End <= q.End {
				if !in[l] {
					return false
				}
				n++
			}
		}
		return n > 0
	}
	for _, l := range all {
		if !in[l] || len(ws) > 0 && l.End <= ws[len(ws)-1].End {
			continue
		}
		top := l
		for q := l.Parent; q != nil && whole(q); q = q.Parent {
			top = q
		}
		ws = append(ws, top)
		*cut = append(*cut, withLine(p.Doc, top.Start, top.End))
	}
	return ws
}

func touched(cut []source.Span) (n int) {
	for _, s := range cut {
		n += s.End - s.Start
	}
	return n
}

func (d *Difference) facts(old, now *page.Page) {
	for _, f := range []struct{ name, before, after string }{
		{"title", old.Facts.Title, now.Facts.Title},
		{"description", old.Facts.Description, now.Facts.Description},
		{"lang", old.Facts.Lang, now.Facts.Lang},
		{"canonical", old.Facts.Canonical, now.Facts.Canonical},
		{"image", old.Facts.Image, now.Facts.Image},
	} {
		if f.before != f.after {
			d.Changes = append(d.Changes, Diff{
				Kind: "facts", Part: f.name, Name: "Page " + f.name, Before: f.before, After: f.after,
				Say: Becomes("Page "+f.name, f.before, f.after), Words: diff.Words(f.before, f.after),
			})
		}
	}
}

// headSpan is where a page fact stands.
func headSpan(p *page.Page, fact string) []source.Span {
	if p.Doc.Format == source.Markdown {
		if line, ok := p.FrontFactLine(fact); ok {
			return []source.Span{line}
		}
		return nil
	}
	n := p.HeadNode(fact)
	if n == nil {
		return nil
	}
	if fact == "lang" {
		return []source.Span{{Start: n.Start(), End: n.InnerStart()}}
	}
	return []source.Span{{Start: n.Start(), End: n.End()}}
}

// Between describes what became of one part.
func Between(old, now *page.Part) Diff {
	if old.Kind == page.Picture {
		f := Diff{Kind: "picture", Part: now.ID, Name: now.Name, Before: old.HTML, After: now.HTML, Was: []*page.Part{old}, Now: []*page.Part{now}}
		switch {
		case old.Attributes.Get("src") != now.Attributes.Get("src"):
			f.Say = fmt.Sprintf("%s: new picture %s", old.Name, now.Attributes.Get("src"))
		case old.Attributes.Get("alt") != now.Attributes.Get("alt"):
			f.Say = Becomes("Alternative text", old.Attributes.Get("alt"), now.Attributes.Get("alt"))
			f.Words = diff.Words(old.Attributes.Get("alt"), now.Attributes.Get("alt"))
		default:
			f.Say = old.Name + ": other settings"
		}
		return f
	}
	f := Diff{Kind: "words", Part: now.ID, Name: old.Name, Before: old.Text, After: now.Text, Was: []*page.Part{old}, Now: []*page.Part{now}}
	switch {
	case old.Text != now.Text:
		f.Say, f.Words = Becomes(old.Name, old.Text, now.Text), diff.Words(old.Text, now.Text)
	case old.Attributes.Get("href") != now.Attributes.Get("href"):
		f.Say = fmt.Sprintf("%s: leads to %s instead of %s", old.Name, now.Attributes.Get("href"), old.Attributes.Get("href"))
	default:
		if f.Say = formatting(old, now); f.Say == "" {
			f.Say = old.Name + ": same words, other markup"
		} else {
			f.Say = old.Name + ": " + f.Say
		}
	}
	return f
}

// Becomes says what changed in one line, without a paragraph for a word.
func Becomes(name, before, after string) string {
	if name == before || page.Short(before, 48) == name {
		return fmt.Sprintf("“%s” becomes “%s”", page.Short(before, 60), page.Short(after, 60))
	}
	switch {
	case before == "":
		return fmt.Sprintf("%s: now %s", name, page.Short(after, 80))
	case after == "":
		return fmt.Sprintf("%s: %s is taken out", name, page.Short(before, 80))
	case len(before)+len(after) < 80:
		return fmt.Sprintf("%s: %s becomes %s", name, before, after)
	}
	gone, now := "", ""
	for _, r := range diff.Words(before, after) {
		switch r.Is {
		case diff.Gone:
			gone += " " + r.Text
		case diff.New:
			now += " " + r.Text
		}
	}
	switch gone, now := page.Short(gone, 60), page.Short(now, 60); {
	case gone == "":
		return fmt.Sprintf("%s: “%s” is new", name, now)
	case now == "":
		return fmt.Sprintf("%s: “%s” is taken out", name, gone)
	default:
		return fmt.Sprintf("%s: “%s” becomes “%s”", name, gone, now)
	}
}
