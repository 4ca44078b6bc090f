package page

import (
	"fmt"
	"slices"
	"strconv"
	"strings"

	"mendry/internal/core/refusal"
	"mendry/internal/core/source"
)

// Target finds a part again on a newer version of its page: by its place in the structure and by its words with what
// stands before and after them (the TextQuoteSelector of the W3C Web Annotation Data Model, 4.2.4).
type Target struct {
	Kind   Kind   `json:"kind"`
	Tag    string `json:"tag"`
	Path   string `json:"path"` // element names with their place among alike siblings, from the root
	Exact  string `json:"exact"`
	Prefix string `json:"prefix"`
	Suffix string `json:"suffix"`
	Name   string `json:"name"`
}

// Errors of Locate.
var (
	ErrGone      = refusal.New(refusal.Stale, "The part is no longer on the page. Load it again.")
	ErrElsewhere = refusal.New(refusal.Stale, "The part was changed elsewhere. Load the page again.")
	ErrTwoPlaces = refusal.New(refusal.Stale, "The part fits two places on the page. Load it again.")
)

// Sure says how sure it is that a part was found again.
type Sure int

// How sure: the part stands where it stood and says what it said; it says what it said in another place; it is a
// wrapper in its old place with some of its words changed.
const (
	Unsure Sure = iota
	SamePlaceOtherWords
	OtherPlaceSameWords
	SamePlaceSameWords
)

func (s Sure) String() string {
	return [...]string{"not found", "same place, other words in it", "same words, another place", "same place, same words"}[s]
}

const around = 40 // signs of prefix and suffix

// TargetOf describes part so that it can be found again.
func (p *Page) TargetOf(part *Part) Target {
	before, after := p.context(part)
	return Target{
		Kind: part.Kind, Tag: part.Nodes()[0].Tag(), Path: PathOf(part), Exact: key(part), Prefix: before, Suffix: after,
		Name: part.Name,
	}
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

// context is what can be read right before and after a part: of the parts beside it that have words.
func (p *Page) context(part *Part) (before, after string) {
	for _, q := range p.All {
		if !q.Kind.HasWords() || q.Text == "" {
			continue
		}
		if q.End <= part.Start {
			before = q.Text
		} else if q.Start >= part.End {
			after = q.Text
			break
		}
	}
	b, a := []rune(before), []rune(after)
	return string(b[max(0, len(b)-around):]), string(a[:min(len(a), around)])
}

// Locate finds the part that t describes. The error is ErrGone, ErrTwoPlaces, or, with the part that stands in its
// place, ErrElsewhere.
func (p *Page) Locate(t Target) (*Part, error) {
	part, _, err := p.Find(t)
	return part, err
}

// Find is Locate that says how sure it is.
func (p *Page) Find(t Target) (*Part, Sure, error) {
	at := p.follow(t.Path)
	background := strings.HasSuffix(t.Path, "/style")
	var same []*Part
	var there *Part
	for _, q := range p.All {
		if !oneKind(q.Kind, t.Kind) || q.Background != background || q.Nodes()[0].Tag() != t.Tag {
			continue
		}
		atPath := at != nil && q.Nodes()[0] == at
		if atPath {
			there = q
		}
		if key(q) == t.Exact {
			if atPath {
				return q, SamePlaceSameWords, nil
			}
			same = append(same, q)
		}
	}
	if len(same) > 0 {
		part, err := p.likeliest(t, same)
		return part, OtherPlaceSameWords, err
	}
	if there == nil {
		return nil, Unsure, ErrGone
	}
	if t.Kind.Whole() && alike(there.Text, t.Exact) {
		return there, SamePlaceOtherWords, nil
	}
	return there, Unsure, ErrElsewhere
}

// oneKind reports whether a part of one kind may be what was one of the other: a section becomes an item as soon as one
// built alike stands beside it.
func oneKind(a, b Kind) bool {
	grouping := func(k Kind) bool { return k == Section || k == Item || k == Set }
	return a == b || grouping(a) && grouping(b)
}

// likeliest chooses among parts with the same words by what stands around them.
func (p *Page) likeliest(t Target, same []*Part) (*Part, error) {
	if len(same) == 1 && (t.Exact != "" || len(t.Prefix)+len(t.Suffix) > 0) {
		return same[0], nil
	}
	var best *Part
	most, ties := 0, 0
	for _, q := range same[:min(len(same), 200)] {
		before, after := p.context(q)
		fit := 0
		if before != "" && before == t.Prefix {
			fit++
		}
		if after != "" && after == t.Suffix {
			fit++
		}
		switch {
		case fit > most:
			best, most, ties = q, fit, 0
		case fit == most:
			ties++
		}
	}
	if best == nil || ties > 0 {
		return nil, ErrTwoPlaces
	}
	return best, nil
}

// alike reports whether two texts share more than half of their words: a wrapper stays itself while words in it change.
func alike(a, b string) bool {
	in := map[string]int{}
	wa, wb := strings.Fields(a), strings.Fields(b)
	for _, w := range wa {
		in[w]++
	}
	n := 0
	for _, w := range wb {
		if in[w] > 0 {
			in[w]--
			n++
		}
	}
	return 2*n > max(len(wa), len(wb))
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
