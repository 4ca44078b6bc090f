package page

import (
	"fmt"
	"hash/fnv"
	"io"
	"slices"
	"strings"

	"mendry/internal/core/source"
)

// Sample is what a section is a good beginning for, where a page gets a new one.
type Sample string

// What sections are samples of.
const (
	SampleWords     Sample = "words"     // words alone
	SampleBeside    Sample = "beside"    // a picture beside words
	SampleTwo       Sample = "two"       // two columns
	SampleThree     Sample = "three"     // three columns
	SampleWide      Sample = "wide"      // a wide and a narrow column
	SampleQuestions Sample = "questions" // questions and answers
	SampleVoices    Sample = "voices"    // what customers said
	SampleVideo     Sample = "video"     // a film with its cover
	SampleCall      Sample = "call"      // a call to act
	SamplePosts     Sample = "posts"     // dated posts
)

// Lent is a section that a page can lend to other pages of its site.
type Lent struct {
	Part   *Part
	Look   string // what it is built of: alike ones have the same
	Holds  string // what is in it, in words
	Sample Sample // empty where it is none
}

// Bounds of what is lent: less is a line, more is a page.
const (
	leastLent = 2        // parts
	mostLent  = 60 << 10 // bytes
)

// Lends lists the sections that a page can lend, in their order: sections, and sets that stand by themselves; none
// that belong to the frame of all pages, to a set or to a form, and none that is all of the page.
func (p *Page) Lends() (all []Lent) {
	if p.Doc.Format != source.HTML {
		return nil
	}
	whole := p.wholeText()
	for _, part := range p.All {
		if part.Kind != Section && part.Kind != Set && !isBand(part) || !p.lends(part, whole) {
			continue
		}
		all = append(all, Lent{part, p.lookOf(part), p.holds(part), p.sampleOf(part)})
	}
	return all
}

// wholeText is how much a page says, but for what frames all pages.
func (p *Page) wholeText() (n int) {
	for _, part := range p.All {
		if part.Kind.HasWords() && !inFrame(part.Node) && (part.Parent == nil || !part.Parent.Kind.HasWords()) {
			n += len(part.Text)
		}
	}
	return n
}

// inFrame reports whether a node belongs to what stands around the contents of all pages: a header, a menu or a footer
// that is not a section's own.
func inFrame(n *source.Node) bool {
	for ; n != nil; n = n.Parent {
		if n.Is("nav") || frames(n) != "" || n.Is("header", "footer") && !inside(n, "main", "article", "section") {
			return true
		}
	}
	return false
}

func (p *Page) lends(part *Part, whole int) bool {
	parts, sections := 0, 0 // it and what stands in it
	part.Walk(func(k *Part) {
		if parts++; k.Kind == Section || k.Kind == Set {
			sections++
		}
	})
	switch {
	case part.Locked != "" || !part.Placed() || part.Run != nil || part.Node.Is("main", "body", "aside") || inFrame(part.Node):
		return false
	case parts < leastLent || part.End-part.Start > mostLent:
		return false
	case part.Node.Parent != nil && slices.Contains(Columns(part.Node.Parent), part.Node):
		return false // a column is lent with its row
	case part.Kind == Section && sections > 3 && 5*len(part.Text) > 4*whole:
		return false
	}
	up := part.Parent
	if isBand(part) {
		up = up.Parent
	}
	for ; up != nil; up = up.Parent {
		if up.Kind == Set || up.Kind == Item || up.Kind == Form || up.Kind == Table ||
			up.Kind == Section && part.Kind == Set {
			return false
		}
		if up.Kind == Section && up.Text == part.Text && !up.Node.Is("main", "body") {
			return false // the one around it has all of that, and what stands behind it
		}
	}
	return true
}

// isBand reports whether a part is one of several sections that are built alike and stand among the others: an item of
// a set that has no element of its own.
func isBand(part *Part) bool {
	return part.Kind == Item && part.Run == nil && part.Parent != nil && part.Parent.Kind == Set &&
		part.Parent.Run != nil &&
		part.Node.Is("div", "section", "article")
}

// lookOf tells what a part is built of: its tags and classes but for states; of neighbours that are built alike, one.
func (p *Page) lookOf(part *Part) string {
	h := fnv.New64a()
	p.look(h, part.Node)
	return fmt.Sprintf("%016x", h.Sum64())
}

func (p *Page) look(to io.Writer, n *source.Node) {
	fmt.Fprintf(to, "<%s %s", n.HTML.Data, lasting(classOf(n)))
	last := ""
	for _, k := range n.Kids {
		if k.Tag() == "" || k.Is("br", "b", "strong", "i", "em", "span", "script", "link") && onlyElement(k) == nil {
			continue
		}
		h := fnv.New64a()
		p.look(h, k)
		if now := fmt.Sprintf("%x", h.Sum64()); now != last {
			io.WriteString(to, now)
			last = now
		}
	}
	io.WriteString(to, ">")
}

// holds says in words what is in a part, such as "a heading, words, 2 pictures and 4 questions".
func (p *Page) holds(part *Part) string {
	counts := map[Kind]int{}
	var sets []string
	var walk func(k *Part)
	walk = func(k *Part) {
		for _, in := range k.Parts {
			if in.Kind == Set {
				sets = append(sets, fmt.Sprintf("%d %s", len(in.Items()), p.Like(in)))
				continue
			}
			counts[in.Kind]++
			if !in.Kind.HasWords() {
				walk(in)
			}
		}
	}
	if part.Kind == Set {
		return fmt.Sprintf("%d %s", len(part.Items()), p.Like(part))
	}
	walk(part)
	var all []string
	for _, k := range []struct {
		kind      Kind
		one, many string
	}{
		{Heading, "a heading", "headings"}, {Words, "words", ""}, {Picture, "a picture", "pictures"}, {Button, "a button", "buttons"},
		{Table, "a table", "tables"}, {Video, "a film", "films"}, {Embed, "something embedded", "embedded things"}, {Form, "a form", "forms"},
	} {
		switch n := counts[k.kind]; {
		case n == 1 || n > 1 && k.many == "":
			all = append(all, k.one)
		case n > 1:
			all = append(all, fmt.Sprintf("%d %s", n, k.many))
		}
	}
	all = append(all, sets...)
	if len(all) > 1 {
		return strings.Join(all[:len(all)-1], ", ") + " and " + all[len(all)-1]
	}
	return strings.Join(all, "")
}

const (
	longestCall = 240 // signs of a call to act
	mostSample  = 12  // parts of a picture beside words
)

// sampleOf tells what a section is a sample of.
func (p *Page) sampleOf(part *Part) Sample {
	counts := map[Kind]int{}
	like := map[string]bool{}
	total, alone := 0, 0
	part.Walk(func(k *Part) {
		counts[k.Kind]++
		total++
		if k.Kind == Link && k.Parent != nil && !k.Parent.Kind.HasWords() {
			alone++
		}
		if k.Kind == Set {
			like[p.Like(k)] = true
		}
	})
	counts[part.Kind]--
	columns := p.columnsOf(part)
	switch {
	case like["questions"] && len(like) == 1:
		return SampleQuestions
	case like["voices"] && len(like) == 1:
		return SampleVoices
	case like["posts"] && len(like) == 1:
		return SamplePosts
	case counts[Form]+counts[Table] > 0:
		return ""
	case counts[Video]+counts[Embed] == 1 && counts[Set] == 0 && part.Kind != Set:
		return SampleVideo
	case part.Kind == Set:
		return ""
	case counts[Picture] == 1 && counts[Set] == 0 && counts[Words] > 0 && total <= mostSample && len(columns) == 2 &&
		holdsPicture(columns[0]) != holdsPicture(columns[1]):
		return SampleBeside
	case len(columns) == 2:
		return SampleTwo
	case len(columns) == 3:
		return SampleThree
	case counts[Set]+counts[Picture] > 0:
		return ""
	case counts[Button] > 0 && len(part.Text) < longestCall,
		counts[Heading] == 1 && alone == 1 && counts[Words] > 0 && len(part.Text) < longestCall:
		return SampleCall
	case counts[Heading] > 0 && counts[Words] > 0 && counts[Section]+counts[Button] == 0:
		return SampleWords
	}
	return ""
}

func holdsPicture(n *source.Node) (is bool) {
	n.Walk(func(k *source.Node) bool {
		is = is || k.Is("img", "picture")
		return !is
	})
	return is
}

// columnsOf are the columns of the only row in a section: the two or three elements in an element that is called a row
// of columns, or that are called columns themselves; nil where there is none, or several.
func (p *Page) columnsOf(part *Part) []*source.Node {
	var found []*source.Node
	rows := 0
	part.Node.Walk(func(n *source.Node) bool {
		if kids := Columns(n); kids != nil {
			rows++
			found = kids
			return false
		}
		return true
	})
	if rows != 1 {
		return nil
	}
	return found
}

// Around is the part beside which a new section stands where one is asked for at a part: the section or set that it is
// in, or the part itself where it stands among the contents of the page; nil in what frames all pages, and where
// nothing can stand beside.
func (p *Page) Around(part *Part) *Part {
	if p.Doc.Format != source.HTML || inFrame(part.Node) {
		return nil
	}
	around := part
	for up := part.Parent; up != nil; up = up.Parent {
		switch {
		case up.Kind == Set && isBand(around): // beside one of several
		case up.Kind == Set, up.Kind == Table, up.Kind == Form, up.Kind.HasWords(), isBand(up):
			around = up
		}
	}
	for up := around; up != nil; up = up.Parent {
		if up.Kind == Section && !up.Node.Is("main", "body") && !wraps(up) {
			around = up
			break
		}
	}
	if around.Locked != "" || !around.Placed() || around.Background {
		return nil
	}
	return around
}

// wraps reports whether a section is no more than what holds sections.
func wraps(part *Part) bool {
	n := 0
	for _, k := range part.Parts {
		if k.Kind == Section {
			n++
		}
	}
	return n > 1 && part.Parent == nil
}
