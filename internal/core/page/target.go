package page

import (
	"errors"
	"fmt"
	"strings"

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
	ErrGone      = errors.New("the part is no longer on the page")
	ErrElsewhere = errors.New("the part was changed elsewhere")
	ErrTwoPlaces = errors.New("the part fits two places on the page")
)

const around = 40 // signs of prefix and suffix

// TargetOf describes part so that it can be found again.
func (p *Page) TargetOf(part *Part) Target {
	before, after := p.context(part)
	return Target{
		Kind: part.Kind, Tag: part.Node.Tag(), Path: pathOf(part.Node), Exact: key(part), Prefix: before, Suffix: after,
		Name: part.Name,
	}
}

// key is what a part is known by: its words, or the file of a picture.
func key(part *Part) string {
	if part.Kind == Picture {
		return part.Attributes["src"]
	}
	return part.Text
}

func pathOf(n *source.Node) string {
	var steps []string
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
	var b strings.Builder
	for i := len(steps) - 1; i >= 0; i-- {
		b.WriteByte('/')
		b.WriteString(steps[i])
	}
	return b.String()
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
	var same []*Part
	var there *Part
	for _, q := range p.All {
		if q.Kind != t.Kind || q.Node.Tag() != t.Tag {
			continue
		}
		atPath := pathOf(q.Node) == t.Path
		if atPath {
			there = q
		}
		if key(q) == t.Exact {
			if atPath {
				return q, nil
			}
			same = append(same, q)
		}
	}
	if len(same) > 0 {
		return p.likeliest(t, same)
	}
	if there == nil {
		return nil, ErrGone
	}
	if t.Kind == Section || t.Kind == Table || t.Kind == Row {
		if alike(there.Text, t.Exact) {
			return there, nil
		}
	}
	return there, ErrElsewhere
}

// likeliest chooses among parts with the same words by what stands around them.
func (p *Page) likeliest(t Target, same []*Part) (*Part, error) {
	if len(same) == 1 && (t.Exact != "" || len(t.Prefix)+len(t.Suffix) > 0) {
		return same[0], nil
	}
	var best *Part
	most, ties := 0, 0
	for _, q := range same {
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
