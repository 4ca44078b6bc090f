package change

import (
	"regexp"
	"slices"
	"strconv"
	"strings"

	"golang.org/x/net/html"

	"mendry/internal/core/diff"
	"mendry/internal/core/page"
	"mendry/internal/core/source"
)

// Rewrite brings what an editor made of Editable's markup into the markup that is there: no more changes than was
// edited, and new marks are written as the page writes them. It returns the part's new inner markup for SetWords.
func Rewrite(p *page.Page, part *page.Part, edited string) (string, error) {
	return RewriteSeen(p, part, edited, Shown{p, part})
}

// Shown is a part as an editor was shown it.
type Shown struct {
	On   *page.Page
	Part *page.Part
}

// RewriteSeen is Rewrite for an editor that was shown the part as it is on another version of the page, and others
// beside it: sealed things and wrappers in what came from it are of the first of them, or of another.
func RewriteSeen(p *page.Page, part *page.Part, edited string, seen Shown, others ...Shown) (string, error) {
	if !part.Kind.HasWords() {
		return "", refuse("A %s has no words of its own; change the parts in it.", part.Kind)
	}
	if part.Locked != "" {
		return "", refuse("“%s” is locked. %s", part.Name, part.Locked)
	}
	old := inlineOf(p, part)
	shown := old
	if seen.Part != part {
		shown = inlineOf(seen.On, seen.Part)
	}
	for _, o := range others {
		in := inlineOf(o.On, o.Part)
		shown = &inline{sealed: slices.Concat(shown.sealed, in.sealed), kept: slices.Concat(shown.kept, in.kept)}
	}
	now, err := inlineFrom(edited, old, shown, true)
	if err != nil {
		return "", err
	}
	now.regain(old)
	base, mine := old.items(), now.items()
	if p.Doc.Format == source.Markdown {
		if len(now.kept) > len(old.kept) {
			return "", refuse("Markdown has no styles for single words.")
		}
		return now.asHTML(), nil
	}
	raw := p.Doc.Markup(p.Doc.Bytes[part.InnerStart:part.InnerEnd])
	if slices.Equal(base, mine) {
		return raw, nil
	}
	w := &rewriter{p: p, old: old, now: now}
	w.linkTags(base, mine, raw)
	hidden := hiddenIn(raw)
	inner := strings.Trim(raw, " \t\r\n\f")
	start := strings.Index(raw, inner)
	before, after := raw[:start], raw[start+len(inner):]
	pieces := piecesOf(inner)
	asBase, asMine := spelled(base, mine, pieces)
	tries := [][]given{}
	for _, order := range []order{theirsFirst, mineFirst, mineOnly} {
		tries = append(tries, mergeInto(asBase, asMine, pieces, order))
	}
	for _, order := range []order{theirsFirst, mineFirst, mineOnly} {
		tries = append(tries, mergeInto(base, mine, pieces, order))
	}
	for _, merged := range append(tries, allOf(mine)) {
		out := before + w.write(merged) + after
		if hiddenIn(out) == hidden && w.reads(part, out) {
			return out, nil
		}
	}
	return "", refuse("This cannot be written into the markup of %s without losing something of it. Change it piece by piece.", page.Quoted(part.Name))
}

// order is what becomes of two things that were put in at one place.
type order int

const (
	theirsFirst order = iota
	mineFirst
	mineOnly
)

// given is an item of the new markup, and whether it came from the editor or stands on the page.
type given struct {
	item string
	new  bool
}

func allOf(items []string) (all []given) {
	for _, s := range items {
		all = append(all, given{s, true})
	}
	return all
}

// mergeInto brings what became of base in mine into raw, the same words as they are written on the page.
func mergeInto(base, mine, raw []string, o order) (all []given) {
	at := 0
	keep := func(items []string, isNew bool) {
		for _, s := range items {
			all = append(all, given{s, isNew})
		}
	}
	for _, h := range diff.Merge(base, mine, raw) {
		keep(base[at:h.At], false)
		at = h.At + len(h.Base)
		both := h.Clash && len(h.Base) == 0
		if both && o == theirsFirst {
			keep(h.Theirs, false)
		}
		keep(h.Now, !slices.Equal(h.Now, h.Theirs))
		if both && o == mineFirst {
			keep(h.Theirs, false)
		}
	}
	keep(base[at:], false)
	return all
}

// piecesOf cuts inner markup into tags, words, signs, references and white space.
func piecesOf(raw string) (all []string) {
	for _, piece := range (&source.Doc{Bytes: []byte(raw), Format: source.HTML}).Pieces() {
		if strings.HasPrefix(piece, "<") && len(piece) > 1 {
			all = append(all, piece)
			continue
		}
		for piece != "" {
			n := wordLength(piece)
			switch c := piece[0]; {
			case c == '&':
				if end := strings.IndexByte(piece, ';'); end > 0 && html.UnescapeString(piece[:end+1]) != piece[:end+1] {
					n = end + 1
				}
			case c == ' ' || c == '\t' || c == '\n' || c == '\r' || c == '\f':
				n = len(piece) - len(strings.TrimLeft(piece, " \t\r\n\f"))
			}
			all = append(all, piece[:n])
			piece = piece[n:]
		}
	}
	return all
}

// hiddenIn counts what an editor does not see.
func hiddenIn(raw string) (n int) {
	for _, mark := range []string{"<!--", "<script", "<style", "<?"} {
		n += strings.Count(strings.ToLower(raw), mark)
	}
	return n
}

type rewriter struct {
	p        *page.Page
	old, now *inline
	tags     map[string]string // how the links are written that lead elsewhere now, by their items
}

// linkTags finds the links whose words stayed and whose target did not: they keep what else their tags say, such as a
// class.
func (w *rewriter) linkTags(base, mine []string, raw string) {
	was, now := linksAmong(base), linksAmong(mine)
	var tags []string
	for _, piece := range piecesOf(raw) {
		if strings.HasPrefix(strings.ToLower(piece), "<a") && strings.Trim(attributeIn(piece, "href"), `"'`) != "" {
			tags = append(tags, piece)
		}
	}
	if len(tags) != len(was) {
		return
	}
	has := func(links []givenLink, item string) bool {
		return slices.ContainsFunc(links, func(l givenLink) bool { return l.item == item })
	}
	w.tags = map[string]string{}
	for _, l := range now {
		if has(was, l.item) {
			continue
		}
		for i, old := range was {
			if old.words == l.words && !has(now, old.item) {
				f := strings.Split(strings.TrimSuffix(l.item, ">"), "\x00")
				tag := tags[i]
				for k, name := range []string{"href", "title", "target"} {
					tag = withAttribute(tag, name, f[k+1])
				}
				w.tags[l.item] = tag
			}
		}
	}
}

// givenLink is a link among items, with its words.
type givenLink struct{ item, words string }

func linksAmong(items []string) (all []givenLink) {
	open := false
	for _, s := range items {
		switch {
		case strings.HasPrefix(s, "<a\x00"):
			all, open = append(all, givenLink{item: s}), true
		case s == "</a>":
			open = false
		case open:
			all[len(all)-1].words += s
		}
	}
	return all
}

// attributeIn is an attribute's value in a start tag as it is written, quotes and all; empty where there is none.
func attributeIn(tag, name string) string {
	if m := ofLinks[name].FindStringSubmatch(tag); m != nil {
		return m[1]
	}
	return ""
}

// withAttribute is a link's start tag with another value of an attribute; an empty value takes it away.
func withAttribute(tag, name, value string) string {
	at := ofLinks[name].FindStringSubmatchIndex(tag)
	quoted := `"` + escapeAttribute(value) + `"`
	switch {
	case at == nil && value == "":
		return tag
	case at == nil:
		return strings.TrimSuffix(tag, ">") + " " + name + "=" + quoted + ">"
	case value == "":
		return tag[:at[0]] + tag[at[1]:]
	case html.UnescapeString(strings.Trim(tag[at[2]:at[3]], `"'`)) == value:
		return tag
	}
	return tag[:at[2]] + quoted + tag[at[3]:]
}

// ofLinks find the attributes of a link that an editor can change.
var ofLinks = map[string]*regexp.Regexp{}

func init() {
	for _, name := range []string{"href", "title", "target"} {
		ofLinks[name] = regexp.MustCompile(`(?i)[\s"']` + name + `\s*=\s*("[^"]*"|'[^']*'|[^\s"'>]+)`)
	}
}

// opened is an element that is open while markup is written.
type opened struct{ name, as string } // as is how it is written

// write writes items as markup.
func (w *rewriter) write(items []given) string {
	var b strings.Builder
	var open []opened
	for _, g := range items {
		s := g.item
		switch {
		case !strings.HasPrefix(s, "<"):
			if s = strings.TrimPrefix(s, typed); g.new {
				s = strings.ReplaceAll(EscapeText(s), "\u00a0", "&nbsp;")
			}
		case g.new:
			s = w.newTag(s, &open)
		default:
			s = rawTag(s, &open)
		}
		b.WriteString(s)
	}
	return b.String()
}

// newTag writes a tag that the editor gave.
func (w *rewriter) newTag(s string, open *[]opened) string {
	name := strings.Trim(s, "</>")
	if strings.HasPrefix(s, "</") {
		if n := len(*open) - 1; n >= 0 && (*open)[n].name == name {
			as := (*open)[n].as
			*open = (*open)[:n]
			return as
		}
		return "</" + w.written(name) + ">"
	}
	switch {
	case s == "<br>":
		return w.lineBreak()
	case strings.HasPrefix(s, "<seal-"):
		i, _ := strconv.Atoi(strings.TrimPrefix(name, "seal-"))
		return w.now.sealed[i].open
	case strings.HasPrefix(s, "<keep-"):
		i, _ := strconv.Atoi(strings.TrimPrefix(name, "keep-"))
		*open = append(*open, opened{name, w.now.kept[i].end})
		return w.now.kept[i].open
	case strings.HasPrefix(s, "<a\x00"):
		f := strings.Split(strings.TrimSuffix(s, ">"), "\x00")
		*open = append(*open, opened{"a", "</a>"})
		if tag, ok := w.tags[s]; ok {
			return tag
		}
		return way{name: "a", href: f[1], title: f[2], target: f[3]}.tag()
	}
	as := w.written(name)
	*open = append(*open, opened{name, "</" + as + ">"})
	return "<" + as + ">"
}

// rawTag passes on a tag that stands on the page; its end is written as its beginning, whichever side that came from.
func rawTag(s string, open *[]opened) string {
	z := html.NewTokenizer(strings.NewReader(s))
	kind := z.Next()
	tag, _ := z.TagName()
	name := string(tag)
	known := first(ways[name], name)
	switch kind {
	case html.StartTagToken:
		if !void[name] {
			*open = append(*open, opened{known, "</" + name + ">"})
		}
	case html.EndTagToken:
		if n := len(*open) - 1; n >= 0 && (*open)[n].name == known {
			as := (*open)[n].as
			*open = (*open)[:n]
			if as != "</"+name+">" {
				return as
			}
		} else if n >= 0 && strings.HasPrefix((*open)[n].name, "keep-") {
			*open = (*open)[:n]
		}
	}
	return s
}

var void = map[string]bool{"br": true, "img": true, "wbr": true, "input": true, "hr": true}

// written is the element by which the page marks words in a way: the one that stands on it more often. A page that
// marks no words in this way is taken by its other one: who writes <i> writes <b>.
func (w *rewriter) written(name string) string {
	pairs := map[string][2]string{"strong": {"strong", "b"}, "em": {"em", "i"}}
	own, ok := pairs[name]
	if !ok {
		return name
	}
	n := w.more(own)
	if n == 0 {
		n = w.more(pairs[map[string]string{"strong": "em", "em": "strong"}[name]])
	}
	if n < 0 {
		return own[1]
	}
	return own[0]
}

// AsWritten is cleaned markup with bold and italic written by the elements that the page writes them by, and tables dressed
// as those of the page are.
func AsWritten(p *page.Page, markup string) string {
	if p.Doc.Format == source.Markdown {
		return markup
	}
	w := &rewriter{p: p}
	var pairs []string
	for _, name := range []string{"strong", "em"} {
		own := w.written(name)
		pairs = append(pairs, "<"+name+">", "<"+own+">", "</"+name+">", "</"+own+">")
	}
	pairs = append(pairs, "<table>", (&work{p: p}).startTag(nil, nil, "", "table"))
	return strings.NewReplacer(pairs...).Replace(markup)
}

// more is by how much the first of two elements stands on the page more often than the second.
func (w *rewriter) more(of [2]string) (n int) {
	for _, node := range w.p.Doc.Nodes {
		switch node.Tag() {
		case of[0]:
			n++
		case of[1]:
			if len(node.Kids) > 0 { // an empty one is a drawing
				n--
			}
		}
	}
	return n
}

// lineBreak is a line break as the page writes it.
func (w *rewriter) lineBreak() string {
	for _, n := range w.p.Doc.Nodes {
		if n.Placed && n.Is("br", "img", "meta", "link", "hr") {
			if at := w.p.Doc.Bytes[n.Start():n.End()]; len(at) > 3 && at[len(at)-2] == '/' {
				if at[len(at)-3] == ' ' {
					return "<br />"
				}
				return "<br/>"
			}
			return "<br>"
		}
	}
	return "<br>"
}

// reads reports whether the markup, in the part's place, reads as the editor has it.
func (w *rewriter) reads(part *page.Part, markup string) bool {
	r, err := Apply(w.p, []Op{{Op: SetWords, Part: part.ID, HTML: markup}})
	if err != nil {
		return false
	}
	for _, q := range r.Page.All {
		if q.Kind == part.Kind && q.Start == part.Start {
			return slices.Equal(w.alike(inlineOf(r.Page, q)), w.alike(w.now))
		}
	}
	return false
}

// alike lists words with one number for all sealed things, and for all wrappers, that are written alike.
func (w *rewriter) alike(in *inline) []string {
	number := func(all []sealed, s sealed) int {
		return slices.IndexFunc(all, func(o sealed) bool { return o.open == s.open && o.end == s.end })
	}
	out := &inline{runs: slices.Clone(in.runs), sealed: in.sealed, kept: in.kept}
	for i := range out.runs {
		r := &out.runs[i]
		if r.seal >= 0 {
			r.seal = number(w.now.sealed, in.sealed[r.seal])
		}
		r.ways = slices.Clone(r.ways)
		for k := range r.ways {
			if r.ways[k].name == "keep" {
				r.ways[k].number = number(w.now.kept, in.kept[r.ways[k].number])
			}
		}
	}
	out.orderBy(w.old)
	return out.items()
}

// asHTML writes the words as HTML, for a page that is not kept as HTML.
func (in *inline) asHTML() string {
	var b strings.Builder
	for _, s := range in.items() {
		switch {
		case !strings.HasPrefix(s, "<"):
			s = EscapeText(strings.TrimPrefix(s, typed))
		case strings.HasPrefix(s, "<seal-"):
			i, _ := strconv.Atoi(strings.Trim(s, "<seal->"))
			var n strings.Builder
			_ = html.Render(&n, in.sealed[i].node) // a strings.Builder never fails
			s = n.String()
		case strings.HasPrefix(s, "<keep-") || strings.HasPrefix(s, "</keep-"):
			s = ""
		case strings.HasPrefix(s, "<a\x00"):
			f := strings.Split(strings.TrimSuffix(s, ">"), "\x00")
			s = way{name: "a", href: f[1], title: f[2]}.tag()
		}
		b.WriteString(s)
	}
	return b.String()
}
