package change

import (
	"fmt"
	"hash/fnv"
	"io"
	"slices"
	"strconv"
	"strings"
	"unicode"
	"unicode/utf8"

	"golang.org/x/net/html"

	"mendry/internal/core/page"
	"mendry/internal/core/source"
	"mendry/internal/core/text"
)

// inline is the words of a part as an editor sees them: runs of text with the ways in which they look, line breaks,
// and sealed things that can be moved or left.
type inline struct {
	runs   []run
	sealed []sealed // by the number in a run
	kept   []sealed // wrappers that an editor does not know, by number

	// Of words that came from an editor:
	seen             *inline        // what it was shown
	sealedAs, keptAs map[string]int // numbers by the names under which they came back
}

// run is a stretch of text with its ways, outermost first; or a line break, or a sealed thing.
type run struct {
	text   string
	ways   []way
	seal   int // number of the sealed thing, -1 for none
	breaks bool
}

// way is how words look: a mark such as "strong", a link, or a wrapper that is kept.
type way struct {
	name   string // strong, em, u, s, code, sub, sup, a, keep
	number int    // of a kept wrapper
	href   string
	title  string
	target string
}

func (w way) open() string {
	switch w.name {
	case "keep":
		return "<keep-" + strconv.Itoa(w.number) + ">"
	case "a":
		return "<a\x00" + w.href + "\x00" + w.title + "\x00" + w.target + ">"
	}
	return "<" + w.name + ">"
}

func (w way) close() string {
	if w.name == "keep" {
		return "</keep-" + strconv.Itoa(w.number) + ">"
	}
	return "</" + w.name + ">"
}

// sealed is markup that an editor passes on as it is.
type sealed struct {
	open, end string // a wrapper's tags; of a sealed thing, open is all of it
	label     string
	node      *html.Node
}

// id names the thing at place i of its list to an editor: by its place, and by what it is, since lists differ between
// versions of a page.
func (s sealed) id(i int) string {
	h := fnv.New32a()
	_, _ = io.WriteString(h, s.open+"\x00"+s.end) // a hash never fails
	return fmt.Sprintf("%d-%08x", i, h.Sum32())
}

// ways by element, as an editor knows them.
var ways = map[string]string{
	"b": "strong", "strong": "strong", "i": "em", "em": "em", "u": "u", "s": "s", "del": "s", "strike": "s", "code": "code", "sub": "sub", "sup": "sup",
}

// inlineOf reads the words of a part.
func inlineOf(p *page.Page, part *page.Part) *inline {
	in := &inline{}
	for _, n := range part.Content() {
		in.read(p, n, nil)
	}
	in.tidy()
	return in
}

func (in *inline) read(p *page.Page, n *source.Node, ws []way) {
	d := p.Doc
	switch {
	case n.IsText():
		in.readText(d.Text(n), ws)
		return
	case n.Tag() == "" || n.Is("script", "style", "template", "noscript"):
		return // not seen by an editor; it stays where it is
	case n.Is("br"):
		in.runs = append(in.runs, run{seal: -1, breaks: true, ways: ws})
		return
	}
	w := way{name: ways[n.Tag()]}
	if n.Is("a") && d.Value(n, "href") != "" {
		w = way{name: "a", href: d.Value(n, "href"), title: d.Value(n, "title"), target: d.Value(n, "target")}
	}
	if !n.Placed { // opened again by the parser: it has no tag here
		for _, k := range n.Kids {
			in.read(p, k, ws)
		}
		return
	}
	whole := d.Markup(d.Bytes[n.Start():n.End()])
	if n.HTML.Namespace != "" || !hasText(n) {
		in.seal(sealed{open: whole, label: labelOf(p, n), node: n.HTML}, ws)
		return
	}
	if w.name == "" || w.name != "a" && slices.ContainsFunc(ws, func(o way) bool { return o.name == w.name }) {
		// An editor knows a mark once: the same one in it stays as a wrapper does.
		w = way{name: "keep", number: len(in.kept)}
		in.kept = append(in.kept, sealed{open: d.Markup(d.Bytes[n.Start():n.InnerStart()]), end: d.Markup(d.Bytes[n.InnerEnd():n.End()]), label: n.Tag(), node: n.HTML})
	}
	for _, k := range n.Kids {
		in.read(p, k, append(slices.Clip(ws), w))
	}
}

func hasText(n *source.Node) bool {
	found := false
	n.Walk(func(k *source.Node) bool {
		found = found || k.IsText() && strings.TrimSpace(k.HTML.Data) != "" || k.Is("br")
		return !found
	})
	return found
}

func labelOf(p *page.Page, n *source.Node) string {
	switch {
	case n.Is("img"):
		return page.Short(first(p.Doc.Value(n, "alt"), "picture"), 24)
	case n.Is("input", "select", "textarea", "button"):
		return "form field"
	}
	return first(page.Short(p.Doc.Value(n, "aria-label"), 24), page.Short(p.Doc.Value(n, "title"), 24), n.Tag())
}

func (in *inline) seal(s sealed, ws []way) {
	in.runs = append(in.runs, run{seal: len(in.sealed), ways: ws})
	in.sealed = append(in.sealed, s)
}

// readText takes in text; codes of other programs in it are sealed.
func (in *inline) readText(s string, ws []way) {
	at := 0
	for _, t := range text.Tokens(s) {
		in.add(s[at:t.Start], ws)
		code := s[t.Start:t.End]
		in.seal(sealed{open: EscapeText(code), label: page.Short(code, 40), node: textNode(code)}, ws)
		at = t.End
	}
	in.add(s[at:], ws)
}

func (in *inline) add(s string, ws []way) {
	if s != "" {
		in.runs = append(in.runs, run{text: s, ways: ws, seal: -1})
	}
}

// tidy collapses white space as a page does, and joins runs that look alike.
func (in *inline) tidy() {
	var out []run
	blank := true // a blank here would not be seen
	for _, r := range in.runs {
		if r.breaks || r.seal >= 0 {
			if r.breaks {
				trimRun(out)
			}
			blank = r.breaks
			out = append(out, r)
			continue
		}
		var b strings.Builder
		for _, c := range r.text {
			if unicode.IsSpace(c) && c != '\u00a0' {
				if !blank {
					b.WriteByte(' ')
				}
				blank = true
				continue
			}
			blank = false
			b.WriteRune(c)
		}
		if b.Len() == 0 {
			continue
		}
		if n := len(out) - 1; n >= 0 && out[n].seal < 0 && !out[n].breaks && slices.Equal(out[n].ways, r.ways) {
			out[n].text += b.String()
			continue
		}
		out = append(out, run{text: b.String(), ways: r.ways, seal: -1})
	}
	trimRun(out)
	in.runs = slices.DeleteFunc(out, func(r run) bool { return r.text == "" && r.seal < 0 && !r.breaks })
	for n := len(in.runs); n > 0 && in.runs[n-1].breaks; n = len(in.runs) {
		in.runs = in.runs[:n-1]
	}
}

func trimRun(rs []run) {
	if n := len(rs) - 1; n >= 0 && rs[n].seal < 0 && !rs[n].breaks {
		rs[n].text = strings.TrimRight(rs[n].text, " ")
	}
}

// plainOrder is the order in which ways stand around words that had none before.
var plainOrder = []string{"a", "keep", "strong", "em", "u", "s", "code", "sub", "sup"}

// orderBy puts the ways of every run in the order in which they stand on the page already: that of words with the same
// ways; else by where each of them stands first.
func (in *inline) orderBy(old *inline) {
	rank := map[way]int{}
	for _, r := range old.runs {
		for depth, w := range r.ways {
			if _, ok := rank[w.kind()]; !ok {
				rank[w.kind()] = depth
			}
		}
	}
	of := func(w way) int {
		if depth, ok := rank[w.kind()]; ok {
			return depth
		}
		return 100 + slices.Index(plainOrder, w.name)
	}
	for i := range in.runs {
		r := &in.runs[i]
		if as, ok := old.nested(r.ways); ok {
			r.ways = as
			continue
		}
		r.ways = slices.Clone(r.ways)
		slices.SortStableFunc(r.ways, func(a, b way) int { return of(a) - of(b) })
	}
}

// kind is a way without where a link leads.
func (w way) kind() way { return way{name: w.name, number: w.number} }

// nested finds words with these ways: in this order, or else in another.
func (in *inline) nested(ws []way) (as []way, ok bool) {
	for _, r := range in.runs {
		switch {
		case len(r.ways) != len(ws):
		case slices.Equal(r.ways, ws):
			return ws, true
		case !ok && !slices.ContainsFunc(ws, func(w way) bool { return !slices.Contains(r.ways, w) }):
			as, ok = r.ways, true
		}
	}
	return as, ok
}

// items lists the words with their tags, as what is merged as a whole.
func (in *inline) items() (all []string) {
	n := nesting{end: func(w way) { all = append(all, w.close()) }, begin: func(w way) { all = append(all, w.open()) }}
	for _, r := range in.runs {
		n.to(r.ways)
		switch {
		case r.breaks:
			all = append(all, "<br>")
		case r.seal >= 0:
			all = append(all, "<seal-"+strconv.Itoa(r.seal)+">")
		default:
			all = append(all, wordsAndBlanks(r.text)...)
		}
	}
	n.to(nil)
	return all
}

// nesting goes from the ways of one run to those of the next.
type nesting struct {
	open       []way
	end, begin func(way)
}

func (n *nesting) to(ws []way) {
	same := 0
	for same < len(n.open) && same < len(ws) && n.open[same] == ws[same] {
		same++
	}
	for i := len(n.open) - 1; i >= same; i-- {
		n.end(n.open[i])
	}
	for _, w := range ws[same:] {
		n.begin(w)
	}
	n.open = ws
}

// typed begins a sign that could be taken for a tag.
const typed = "\x01"

// wordsAndBlanks cuts text into words, blanks and single signs. What may be written as a reference stands alone.
func wordsAndBlanks(s string) (all []string) {
	for s != "" {
		n := wordLength(s)
		if w := s[:n]; w == "<" {
			all = append(all, typed+w)
		} else {
			all = append(all, w)
		}
		s = s[n:]
	}
	return all
}

// wordLength is the length of the word, blank or sign that s begins with.
func wordLength(s string) int {
	n := 0
	for n < len(s) && (s[n]|0x20 >= 'a' && s[n]|0x20 <= 'z' || s[n] >= '0' && s[n] <= '9') {
		n++
	}
	if n == 0 {
		_, n = utf8.DecodeRuneInString(s)
	}
	return n
}
