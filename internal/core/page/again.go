package page

import (
	"hash/fnv"
	"slices"
	"sort"
	"strconv"
	"strings"
)

// sum is a short sum of a text.
func sum(text string) string {
	h := fnv.New32a()
	_, _ = h.Write([]byte(text)) // never fails
	return strconv.FormatUint(uint64(h.Sum32()), 36)
}

// around is what a part stands among, without what tells it from others.
func (p *Page) around(part *Part) *Around {
	read := p.reading()
	a := &Around{}
	_, a.In = p.unit(part)
	next := sort.Search(len(read), func(i int) bool { return read[i].Start >= part.End })
	for i := next; i < len(read) && i < next+beside; i++ {
		a.After = append(a.After, sum(read[i].Text))
	}
	last := sort.Search(len(read), func(i int) bool { return read[i].End > part.Start }) - 1
	for i := last; i >= 0 && i > last-beside; i-- {
		a.Before = append(a.Before, sum(read[i].Text))
	}
	return a
}

// holder is the row, item or section that a part is in, nil where it is in none.
func holder(part *Part) *Part {
	for up := part.Parent; up != nil; up = up.Parent {
		if up.Kind == Row || up.Kind == Item || up.Kind == Section || up.Kind == Form {
			return up
		}
	}
	return nil
}

// markupAround is a sum of the markup around a part in what it is in: it tells apart what reads the same.
func markupAround(part *Part) string {
	if in := holder(part); in != nil {
		return sum(strings.Replace(in.HTML, part.HTML, "", 1))
	}
	return ""
}

// unit is the row, item, section or words around a part, the innermost that holds any other words, and what those are.
func (p *Page) unit(part *Part) (up *Part, in []string) {
	read := p.reading()
	for up = part.Parent; up != nil; up = up.Parent {
		if up.Kind.HasWords() {
			if up.Text != part.Text {
				return up, []string{sum(up.Text)}
			}
			continue
		}
		if up.Kind != Row && up.Kind != Item && up.Kind != Section && up.Kind != Form {
			continue // what holds alike things is known by none of them
		}
		for i := sort.Search(len(read), func(i int) bool { return read[i].Start >= up.Start }); i < len(read) && read[i].End <= up.End; i++ {
			if q := read[i]; q.End <= part.Start || q.Start >= part.End {
				if in = append(in, sum(q.Text)); len(in) == mostIn {
					return up, in
				}
			}
		}
		if len(in) > 0 {
			return up, in
		}
	}
	return nil, nil
}

// evidence is what speaks for a part being the one that was meant.
type evidence struct {
	before, after         bool // the same words stand right there
	nearBefore, nearAfter bool // they stand near there
	unit                  bool // it stands in the same thing
	in                    bool // it stands in what is mostly the same thing
	beside                bool // there was something that could speak for it
}

// whole reports whether all speaks for it.
func (e evidence) whole() bool { return e.before && e.after && e.unit }

// firm reports whether it stands in the same thing and right beside the same words on one side.
func (e evidence) firm() bool { return e.unit && e.beside && (e.before || e.after) }

// some reports whether it stands in mostly the same thing and near the same words on one side.
func (e evidence) some() bool { return e.in && e.beside && (e.nearBefore || e.nearAfter) }

// compare holds what a part stands among now against what it stood among.
func compare(was, now *Around) (e evidence) {
	right := func(a, b []string) bool {
		return len(a) == 0 && len(b) == 0 || len(a) > 0 && len(b) > 0 && a[0] == b[0]
	}
	near := func(a, b []string) bool {
		return len(a) == 0 && len(b) == 0 || len(a) > 0 && slices.Contains(b, a[0]) || len(b) > 0 && slices.Contains(a, b[0])
	}
	e.before, e.after = right(was.Before, now.Before), right(was.After, now.After)
	e.nearBefore, e.nearAfter = near(was.Before, now.Before), near(was.After, now.After)
	e.unit = slices.Equal(was.In, now.In)
	e.beside = len(was.In) > 0 || e.nearBefore && len(was.Before) > 0 || e.nearAfter && len(was.After) > 0
	switch {
	case len(was.In) == 0 || len(now.In) == 0:
		e.in = e.unit
	case was.In[0] == now.In[0]:
		e.in = true // its name is the same
	default:
		both := 0
		for _, s := range was.In {
			if slices.Contains(now.In, s) {
				both++
			}
		}
		fewer, more := min(len(was.In), len(now.In)), max(len(was.In), len(now.In))
		e.in = both > 1 && 5*both >= 3*fewer || both == fewer && more-fewer <= 2
	}
	return e
}

// same lists the parts of t's kind that say what it says.
func (p *Page) same(t Target) (all []*Part) {
	background := strings.HasSuffix(t.Path, "/style")
	for _, q := range p.All {
		if oneKind(q.Kind, t.Kind) && q.Background == background && key(q) == t.Exact && q.Nodes()[0].Tag() == t.Tag {
			all = append(all, q)
		}
	}
	return all
}

// named is what a part stands in, in words: the first of the row, item or section around it that are not its own.
func (p *Page) named(part *Part) string {
	for up := part.Parent; up != nil; up = up.Parent {
		if up.Kind == Set || up.Kind == Table {
			continue
		}
		for _, q := range p.reading() {
			if q.Start >= up.Start && q.End <= up.End && (q.End <= part.Start || q.Start >= part.End) {
				return Short(q.Text, around)
			}
		}
	}
	return ""
}

// Saying says in words where parts stand that say what t says: of each, what it stands in. Empty where there are none.
func (p *Page) Saying(t Target) string {
	var in []string
	for _, q := range p.same(t) {
		where := first(p.named(q), q.Name)
		if len(in) < 3 && !slices.Contains(in, Quoted(where)) {
			in = append(in, Quoted(where))
		}
	}
	return strings.Join(in, ", ")
}

// there finds the part that stands where t stood; of several, as a set and its first item, the one that says the same.
func (p *Page) there(t Target) (part *Part) {
	at := p.follow(t.Path)
	if at == nil || at.Tag() != t.Tag {
		return nil
	}
	background := strings.HasSuffix(t.Path, "/style")
	for _, q := range p.All {
		if oneKind(q.Kind, t.Kind) && q.Background == background && q.Nodes()[0] == at && (part == nil || key(q) == t.Exact) {
			part = q
		}
	}
	return part
}

// Locate finds the part that t describes. The error is ErrGone, ErrTwoPlaces, or, with the part that stands in its
// place, ErrElsewhere.
func (p *Page) Locate(t Target) (*Part, error) {
	part, _, err := p.Find(t)
	return part, err
}

// Find is Locate that says how sure it is. Words alone never do: what stands before and after the part, and what it
// stands in, have to speak for it, in its old place too and where only one part says what it said.
func (p *Page) Find(t Target) (*Part, Sure, error) {
	there := p.there(t)
	same := p.same(t)
	part, e, err := p.choose(t, same, there)
	switch {
	case err != nil:
		return nil, Unsure, err
	case part != nil && part == there && (e.some() || e.whole()):
		return part, SamePlaceSameWords, nil
	case part != nil:
		return part, OtherPlaceSameWords, nil
	}
	if t.Kind.Whole() && len(same) == 0 {
		if part := p.wrapper(t, there); part != nil {
			return part, SamePlaceOtherWords, nil
		}
	}
	if there == nil || slices.Contains(same, there) {
		return nil, Unsure, ErrGone
	}
	return there, Unsure, ErrElsewhere
}

// choose finds the one among parts that say what t says for which enough speaks; nil where none is sure. The error is
// ErrTwoPlaces.
func (p *Page) choose(t Target, same []*Part, there *Part) (*Part, evidence, error) {
	var none evidence
	if len(same) == 0 || len(same) > most {
		return nil, none, nil
	}
	was := t.Around
	es := make([]evidence, len(same))
	var whole, firm, some []int
	for i, q := range same {
		if was == nil { // of an older Mendry, which noted less
			before, after := p.context(q)
			es[i] = evidence{before: before == t.Prefix, after: after == t.Suffix, unit: true, beside: t.Prefix+t.Suffix != ""}
		} else {
			es[i] = compare(was, p.around(q))
		}
		if es[i].whole() {
			whole = append(whole, i)
		}
		if es[i].firm() {
			firm = append(firm, i)
		}
		if es[i].some() {
			some = append(some, i)
		}
	}
	only := func(is []int) bool { return len(is) == 1 }
	take := func(i int) (*Part, evidence, error) { return same[i], es[i], nil }
	switch {
	case was == nil:
		if only(whole) {
			return take(whole[0])
		}
	case len(same) == was.Same:
		switch {
		case only(whole) && was.Twins == 0:
			return take(whole[0])
		case was.Markup != "" && es[was.Nth].firm() && markupAround(same[was.Nth]) != was.Markup:
			if i, found := alone(firm, func(i int) bool { return markupAround(same[i]) == was.Markup }); found {
				return take(i)
			}
			return take(was.Nth)
		case es[was.Nth].whole(), es[was.Nth].some():
			return take(was.Nth) // none of those that say the same came or went
		case only(some) && was.Near == 0:
			return take(some[0])
		}
	case len(same) > was.Same:
		switch {
		case only(firm) && was.Alike == 0:
			return take(firm[0])
		case len(firm) == 0 && only(some) && was.Near == 0:
			return take(some[0])
		}
		return nil, none, ErrTwoPlaces
	default: // one of those that said the same is gone, and it may be this one
		if only(firm) && was.Alike == 0 {
			return take(firm[0])
		}
		return nil, none, nil
	}
	if len(same) > 1 {
		return nil, none, ErrTwoPlaces
	}
	// It is alone, and was. It may stand in something that was named anew, if what is beside it speaks for it.
	e, long := es[0], len([]rune(t.Exact)) >= longWords
	switch {
	case was == nil:
	case e.in && same[0] == there && was.Same == 1: // in its old place, in what it stood in
		return take(0)
	case long && (e.in || e.nearBefore || e.nearAfter), e.before && e.after && e.beside:
		return take(0)
	case len(was.In) > 0 && p.says(was.In[0]): // what it stood in is somewhere else
	case e.beside && e.nearBefore && e.nearAfter:
		return take(0)
	}
	return nil, none, nil
}

// alone finds the one for which something holds, if it holds for one alone.
func alone(is []int, holds func(int) bool) (one int, found bool) {
	for _, i := range is {
		if holds(i) {
			if found {
				return 0, false
			}
			one, found = i, true
		}
	}
	return one, found
}

// says reports whether a text of a sum stands on the page.
func (p *Page) says(is string) bool {
	return slices.ContainsFunc(p.reading(), func(q *Part) bool { return sum(q.Text) == is })
}

// wrapper finds a wrapper of which some words were changed: it has the name that it had, stands beside the same words
// on one side, or in its old place between the same words, and shares more than half of its words.
func (p *Page) wrapper(t Target, there *Part) *Part {
	var fit []*Part
	for _, q := range p.All {
		if !oneKind(q.Kind, t.Kind) || q.Background || q.Nodes()[0].Tag() != t.Tag || !alike(q.Text, t.Exact) {
			continue
		}
		before, after := p.context(q)
		named := q.Name == t.Name && (before == t.Prefix || after == t.Suffix)
		if named || q == there && before == t.Prefix && after == t.Suffix {
			fit = append(fit, q)
		}
	}
	if len(fit) == 1 {
		return fit[0]
	}
	return nil
}

// oneKind reports whether a part of one kind may be what was one of the other: a section becomes an item as soon as
// one built alike stands beside it.
func oneKind(a, b Kind) bool {
	grouping := func(k Kind) bool { return k == Section || k == Item || k == Set }
	return a == b || grouping(a) && grouping(b)
}

// alike reports whether two texts share more than half of their words: a wrapper stays itself while words in it
// change.
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
