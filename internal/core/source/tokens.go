package source

import (
	"sync"

	"mendry/internal/core/refusal"

	"golang.org/x/net/html"
)

type token struct {
	name       string
	start, end int
	kind       html.TokenType
	is         nature
	selfClosed bool
}

var errElements = refusal.New(refusal.Rule, "The page has more than 100,000 elements, or would have when it is shown. It cannot be edited safely.")

// tokenise cuts b into raw tokens; their ranges, laid end to end, are b. It tells pass how far it has come, every few
// thousand bytes. The tokens are those of golang.org/x/net/html's tokenizer, which a test holds; reading attributes
// twice would cost more than anything else here.
func tokenise(b []byte, from int, pass func(upTo int)) ([]token, error) {
	s := scanner{b: b, toks: (*spareTokens.Get().(*[]token))[:0]}
	at, foreign, elements, passed := from, 0, 0, from
	var open reopened
	for at < len(b) {
		if at-passed >= vetStep {
			passed = at
			pass(at)
		}
		t := s.next(at, foreign > 0)
		at = t.end
		switch t.kind {
		case html.StartTagToken:
			if elements += 1 + open.start(t); elements > MaxElements {
				return nil, errElements
			}
			if t.end-t.start > 4*MaxAttributes && attributes(b[t.start:t.end]) > MaxAttributes {
				return nil, refusal.New(refusal.Rule, "An element of the page has more than 1,000 attributes.")
			}
			switch {
			case t.name == "svg" || t.name == "math":
				if !t.selfClosed {
					foreign++
				}
			case foreign > 0 && t.name == "foreignobject":
				foreign = -foreign
			}
		case html.EndTagToken:
			if elements += open.end(t); elements > MaxElements {
				return nil, errElements
			}
			switch {
			case (t.name == "svg" || t.name == "math") && foreign > 0:
				foreign--
			case t.name == "foreignobject" && foreign < 0:
				foreign = -foreign
			}
		}
		if s.toks = append(s.toks, t); len(s.toks) > 4*MaxElements {
			return nil, errElements
		}
		if t.kind == html.StartTagToken && t.is&rawContent != 0 && foreign <= 0 && at < len(b) {
			if end := s.rawEnd(at, t.name); end > at {
				s.toks = append(s.toks, token{kind: html.TextToken, start: at, end: end})
				at = end
			}
		}
	}
	return s.toks, nil
}

// spareTokens are slices of tokens that a page before has done with.
var spareTokens = sync.Pool{New: func() any { return new([]token) }}

// freeTokens hands back the tokens of a page.
func freeTokens(toks []token) {
	toks = toks[:0]
	spareTokens.Put(&toks)
}

// attributes counts at least as many attributes as the start tag raw has.
func attributes(raw []byte) (n int) {
	for i, c := range raw {
		if (isSpace(c) || c == '/' || c == '"' || c == '\'') && i+1 < len(raw) && !isSpace(raw[i+1]) {
			n++
		}
	}
	return n
}

// reopened bounds what tree construction makes without a tag: formatting elements that nobody closed are opened again
// in every block that follows (HTML, 13.2.4.3). Elements that set a marker keep those outside them closed.
type reopened struct {
	counts []openNames // by marker
	all    int
}

// openNames are how many elements of each name are open.
type openNames []openName

type openName struct {
	name string
	n    int
}

// of is where elements of a name are counted.
func (o *openNames) of(name string) *int {
	for i := range *o {
		if (*o)[i].name == name {
			return &(*o)[i].n
		}
	}
	*o = append(*o, openName{name, 0})
	return &(*o)[len(*o)-1].n
}

// start takes in a start tag and returns how many elements could be opened again before it.
func (o *reopened) start(t token) int {
	n, is := o.all, t.is
	if is&(setsMarker|formats|endsBlock) == 0 {
		return 0
	}
	if len(o.counts) == 0 {
		o.counts = []openNames{nil}
	}
	switch {
	case is&setsMarker != 0:
		o.counts = append(o.counts, nil)
	case is&formats != 0:
		open := o.counts[len(o.counts)-1].of(t.name)
		if (t.name == "a" || t.name == "nobr") && *open > 0 {
			return 0 // it closes the one that is open
		}
		*open++
		o.all++
		return 0 // it opens the others again only where a block closed them, and that block was counted
	case is&endsBlock == 0:
		return 0
	}
	return n
}

// end is start for an end tag.
func (o *reopened) end(t token) int {
	is := t.is
	switch n := len(o.counts); {
	case is&(setsMarker|formats|endsBlock) == 0:
		return 0
	case is&setsMarker != 0 && n > 1:
		for _, k := range o.counts[n-1] {
			o.all -= k.n
		}
		o.counts = o.counts[:n-1]
	case is&formats != 0 && n > 0:
		if open := o.counts[n-1].of(t.name); *open > 0 {
			*open--
			o.all--
		}
	}
	if is&endsBlock != 0 {
		return o.all
	}
	return 0
}

var spaces = [256]bool{' ': true, '\n': true, '\t': true, '\r': true, '\f': true}

func isSpace(c byte) bool { return spaces[c] }
