package page

import (
	"fmt"
	"slices"
	"sort"
	"strconv"
	"strings"

	"mendry/internal/core/refusal"
	"mendry/internal/core/source"
)

// Target finds a part again on a newer version of its page: by its place in the structure, by its words with what
// stands before and after them (the TextQuoteSelector of the W3C Web Annotation Data Model, 4.2.4), and by what it
// stands in.
type Target struct {
	Kind   Kind   `json:"kind"`
	Tag    string `json:"tag"`
	Path   string `json:"path"` // element names with their place among alike siblings, from the root
	Exact  string `json:"exact"`
	Prefix string `json:"prefix"`
	Suffix string `json:"suffix"`
	Name   string `json:"name"`
	// Around is what it stands among; nil in targets of an older Mendry.
	Around *Around `json:"around,omitempty"`
}

// Around is what a part stands among, each text by a short sum of it, and how it is told from others that say the
// same.
type Around struct {
	In     []string `json:"in,omitempty"`     // what else is in the row, item, section or words around it
	Before []string `json:"before,omitempty"` // what can be read before it, the nearest first
	After  []string `json:"after,omitempty"`
	Same   int      `json:"same"`             // parts of the page that said the same, this one among them
	Nth    int      `json:"nth,omitempty"`    // which of them it was, from 0
	Near   int      `json:"near,omitempty"`   // others of them that stood in mostly the same
	Alike  int      `json:"alike,omitempty"`  // others of them that stood in the very same, or in what reads the same
	Twins  int      `json:"twins,omitempty"`  // of those, the ones beside the very same
	Markup string   `json:"markup,omitempty"` // where it tells it from its twins: a sum of what it stands in, less the part
}

// Errors of Locate.
var (
	ErrGone      = refusal.New(refusal.Stale, "The part is no longer on the page. Load it again.")
	ErrElsewhere = refusal.New(refusal.Stale, "The part was changed elsewhere. Load the page again.")
	ErrTwoPlaces = refusal.New(refusal.Stale, "The part fits two places on the page. Load it again.")
)

// Sure says how sure it is that a part was found again.
type Sure int

// How sure: the part stands where it stood and says what it said, in the same thing and beside the same words; it says
// what it said in another place; it is a wrapper with some of its words changed.
const (
	Unsure Sure = iota
	SamePlaceOtherWords
	OtherPlaceSameWords
	SamePlaceSameWords
)

func (s Sure) String() string {
	return [...]string{"not found", "other words in it", "same words, another place", "same place, same words"}[s]
}

const (
	around    = 40  // signs of prefix and suffix
	longWords = 25  // letters that are not likely to stand on a page twice by chance
	mostIn    = 12  // texts that tell what a part stands in
	beside    = 3   // texts on either side
	most      = 400 // parts that say the same and are looked at
)

// TargetOf describes part so that it can be found again.
func (p *Page) TargetOf(part *Part) Target {
	before, after := p.context(part)
	t := Target{
		Kind: part.Kind, Tag: part.Nodes()[0].Tag(), Path: PathOf(part), Exact: key(part), Prefix: before, Suffix: after,
		Name: part.Name,
	}
	own := p.around(part)
	same := p.same(t)
	own.Same, own.Nth = len(same), max(slices.Index(same, part), 0)
	in, _ := p.unit(part)
	var twins []string
	for _, q := range same[:min(len(same), most)] {
		if q == part {
			continue
		}
		e := compare(own, p.around(q))
		if e.in {
			own.Near++
		}
		if of, _ := p.unit(q); e.unit || of == in {
			own.Alike++
		}
		if e.whole() {
			own.Twins++
			twins = append(twins, markupAround(q))
		}
	}
	if markup := markupAround(part); own.Twins > 0 && !slices.Contains(twins, markup) {
		own.Markup = markup
	}
	t.Around = own
	return t
}

// key is what a part is known by: its words, or the file of a picture.
func key(part *Part) string {
	if part.Kind == Picture {
		return first(part.Attributes.Get("src"), part.Attributes.Get("srcset"))
	}
	return part.Text
}

// PathOf is the part's place in the structure: the elements from the root with their number among alike siblings. A
// part that is a run of nodes has that of its first one, a background picture that of its element with "/style".
func PathOf(part *Part) string {
	n := part.Nodes()[0]
	var steps []string
	if part.Background {
		steps = append(steps, "style")
	}
	for ; n.Parent != nil; n = n.Parent {
		i := 1
		for _, s := range n.Parent.Kids {
			if s == n {
				break
			}
			if s.Tag() == n.Tag() {
				i++
			}
		}
		steps = append(steps, fmt.Sprintf("%s[%d]", n.Tag(), i))
	}
	slices.Reverse(steps)
	return "/" + strings.Join(steps, "/")
}

// follow finds the node at a path.
func (p *Page) follow(path string) *source.Node {
	n := p.Doc.Root
next:
	for _, step := range strings.Split(strings.TrimPrefix(strings.TrimSuffix(path, "/style"), "/"), "/") {
		tag, rest, ok := strings.Cut(step, "[")
		nth, err := strconv.Atoi(strings.TrimSuffix(rest, "]"))
		if !ok || err != nil {
			return nil
		}
		for _, k := range n.Kids {
			if k.Tag() != tag {
				continue
			}
			if nth--; nth == 0 {
				n = k
				continue next
			}
		}
		return nil
	}
	return n
}

// reading lists the parts with words in the order in which they are read, those inside others left out.
func (p *Page) reading() []*Part {
	p.readOnce.Do(func() {
		for _, q := range p.All {
			if !q.Kind.HasWords() || q.Text == "" || len(p.read) > 0 && q.Start < p.read[len(p.read)-1].End {
				continue
			}
			p.read = append(p.read, q)
		}
	})
	return p.read
}

// context is what can be read right before and after a part.
func (p *Page) context(part *Part) (before, after string) {
	read := p.reading()
	next := sort.Search(len(read), func(i int) bool { return read[i].Start >= part.End })
	if next < len(read) {
		after = read[next].Text
	}
	if last := sort.Search(len(read), func(i int) bool { return read[i].End > part.Start }) - 1; last >= 0 {
		before = read[last].Text
	}
	b, a := []rune(before), []rune(after)
	return string(b[max(0, len(b)-around):]), string(a[:min(len(a), around)])
}

// Annotation is a target in the W3C Web Annotation Data Model's JSON-LD (4.2, Selectors; 4.2.9, Refinement).
type Annotation struct {
	Context  string   `json:"@context"`
	Type     string   `json:"type"`
	Source   string   `json:"source"`
	Selector Selector `json:"selector"`
}

// Selector is an XPathSelector or a TextQuoteSelector.
type Selector struct {
	Type      string    `json:"type"`
	Value     string    `json:"value,omitempty"`
	Exact     string    `json:"exact,omitempty"`
	Prefix    string    `json:"prefix,omitempty"`
	Suffix    string    `json:"suffix,omitempty"`
	RefinedBy *Selector `json:"refinedBy,omitempty"`
}

// Annotation writes the target for a page whose address is the IRI of source.
func (t Target) Annotation(source string) Annotation {
	quote := Selector{Type: "TextQuoteSelector", Exact: t.Exact, Prefix: t.Prefix, Suffix: t.Suffix}
	a := Annotation{Context: "http://www.w3.org/ns/anno.jsonld", Type: "SpecificResource", Source: source, Selector: quote}
	steps := strings.Split(strings.TrimSuffix(t.Path, "/style"), "/")
	if last := steps[len(steps)-1]; strings.HasPrefix(last, "[") { // a text: XPath says so
		steps[len(steps)-1] = "text()" + last
	}
	a.Selector = Selector{Type: "XPathSelector", Value: strings.Join(steps, "/")}
	if t.Exact != "" {
		a.Selector.RefinedBy = &quote
	}
	return a
}
