package source

import (
	"bytes"

	"golang.org/x/net/html"
	"golang.org/x/net/html/atom"
)

type token struct {
	kind       html.TokenType
	name       string
	start, end int
	selfClosed bool
}

var errElements = &Refusal{"The page has more than 100,000 elements, or would have when it is shown. It cannot be edited safely."}

// tokenise cuts b into raw tokens; their ranges, laid end to end, are b. It tells pass how far it has come, every few
// thousand bytes. The tokens are those of golang.org/x/net/html's tokenizer, which a test holds; reading attributes twice
// would cost more than anything else here.
func tokenise(b []byte, from int, pass func(upTo int)) ([]token, error) {
	s := scanner{b: b, toks: make([]token, 0, 2*bytes.Count(b, []byte{'<'})+8)}
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
			if elements += 1 + open.start(t.name); elements > MaxElements {
				return nil, errElements
			}
			if t.end-t.start > 4*MaxAttributes && attributes(b[t.start:t.end]) > MaxAttributes {
				return nil, &Refusal{"An element of the page has more than 1,000 attributes."}
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
			if elements += open.end(t.name); elements > MaxElements {
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
		if t.kind == html.StartTagToken && rawNames[t.name] && foreign <= 0 && at < len(b) {
			if end := s.rawEnd(at, t.name); end > at {
				s.toks = append(s.toks, token{kind: html.TextToken, start: at, end: end})
				at = end
			}
		}
	}
	return s.toks, nil
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
	counts []map[string]int // by marker
	all    int
}

// role is what a tag does to the formatting elements that are open.
type role uint8

const (
	setsMarker role = 1 << iota
	formats
	endsBlock
)

var roles = func() map[string]role {
	all := map[string]role{}
	for r, names := range map[role]map[string]bool{setsMarker: set("applet object marquee template td th caption"), formats: formatting, endsBlock: blockTags} {
		for name := range names {
			all[name] |= r
		}
	}
	return all
}()

// start takes in a start tag and returns how many elements could be opened again before it.
func (o *reopened) start(name string) int {
	n := o.all
	is := roles[name]
	if is == 0 {
		return 0
	}
	if len(o.counts) == 0 {
		o.counts = []map[string]int{{}}
	}
	switch {
	case is&setsMarker != 0:
		o.counts = append(o.counts, map[string]int{})
	case is&formats != 0:
		if (name == "a" || name == "nobr") && o.counts[len(o.counts)-1][name] > 0 {
			return 0 // it closes the one that is open
		}
		o.counts[len(o.counts)-1][name]++
		o.all++
		return 0 // it opens the others again only where a block closed them, and that block was counted
	case is&endsBlock == 0:
		return 0
	}
	return n
}

// end is start for an end tag.
func (o *reopened) end(name string) int {
	is := roles[name]
	switch n := len(o.counts); {
	case is == 0:
		return 0
	case is&setsMarker != 0 && n > 1:
		for _, k := range o.counts[n-1] {
			o.all -= k
		}
		o.counts = o.counts[:n-1]
	case n > 0 && o.counts[n-1][name] > 0:
		o.counts[n-1][name]--
		o.all--
	}
	if is&endsBlock != 0 {
		return o.all
	}
	return 0
}

// blockTags are the start tags behind which closed formatting elements are opened again.
var blockTags = set(`address article aside blockquote center details dialog dir div dl dd dt fieldset figcaption figure footer form
	h1 h2 h3 h4 h5 h6 header hgroup hr li listing main menu nav ol p plaintext pre search section summary table tbody td tfoot th thead tr ul xmp
	body option optgroup button select`)

// tagName reads an element's name at the start of b, as the standard's tag name state does.
func tagName(b []byte) string {
	n := 0
	upper := false
	for n < len(b) && !isSpace(b[n]) && b[n] != '/' && b[n] != '>' {
		upper = upper || 'A' <= b[n] && b[n] <= 'Z'
		n++
	}
	if upper {
		b = []byte(lower(b[:n]))
	}
	if a := atom.Lookup(b[:n]); a != 0 {
		return a.String() // no new string for a name that is known
	}
	return string(b[:n])
}

func isSpace(c byte) bool { return c == ' ' || c == '\n' || c == '\t' || c == '\r' || c == '\f' }
