package page

import (
	"slices"
	"strings"

	"golang.org/x/net/html"

	"mendry/internal/core/source"
)

// skip marks nodes that hold nothing a visitor sees as parts.
const skip Kind = "-"

// Level is the level of a heading's element, from 1 to 6.
func Level(heading *source.Node) int { return int(heading.Tag()[1] - '0') }

// IsSheet reports whether a node links a style sheet.
func (p *Page) IsSheet(n *source.Node) bool {
	return n.Is("link") && slices.Contains(strings.Fields(strings.ToLower(p.Doc.Value(n, "rel"))), "stylesheet")
}

func words(s string) map[string]bool {
	m := map[string]bool{}
	for _, w := range strings.Fields(s) {
		m[w] = true
	}
	return m
}

// blocks are the elements that make a block of their own by the standard's default style sheet (HTML, 15.3).
var blocks = words(`address article aside blockquote body center dd details dialog dir div dl dt fieldset figcaption
	figure footer form frameset h1 h2 h3 h4 h5 h6 header hgroup hr html legend li main menu nav ol optgroup option p pre
	search section summary table tbody td tfoot th thead tr ul caption`)

var unseen = words("script style template noscript head title meta link base svg math select datalist")

// textBlocks are the elements whose use is to hold running words.
var textBlocks = words("p li blockquote dt dd figcaption caption address pre summary legend div span td th center small label")

var sectionTags = words("section article aside header footer nav main")

// classify tells which part n is, "" where it is none.
func (p *Page) classify(n *source.Node, inWords bool) Kind {
	tag := n.Tag()
	if tag == "" {
		return ""
	}
	t := &p.traits[n.Index]
	if t.is(isUnseen | isDivider) {
		return skip
	}
	switch tag {
	case "h1", "h2", "h3", "h4", "h5", "h6":
		return Heading
	case "img":
		return Picture
	case "source":
		if n.Parent.Is("picture") {
			return Picture
		}
		return skip
	case "video", "audio":
		return Video
	case "iframe", "object", "embed":
		return Embed
	case "form":
		return Form
	case "table":
		return Table
	case "tr":
		return Row
	case "td", "th":
		return Cell
	case "button":
		return Button
	case "a":
		return p.classifyLink(n)
	}
	if t.is(isGridRow) {
		return ""
	}
	if t.is(isSetOf) {
		return Set
	}
	if t.is(isInSet) && t.mixed() {
		return Item
	}
	if t.is(isTextBlock) && !t.mixed() && !inWords && (!t.is(hasRuns) || loose(n)) {
		switch {
		case !t.text && t.is(isColumn) && p.isPart(n, t):
			return p.item(n, Section) // a picture alone
		case p.onlyLink(n), !t.text:
			return p.item(n, "")
		}
		return Words
	}
	if t.is(isSectionTag) || t.is(isHolder) || (tag == "div" || tag == "li" || tag == "figure") && p.sectionLike(n, t) || tag == "div" && t.is(isColumn) && p.isPart(n, t) {
		return p.item(n, Section)
	}
	return p.item(n, "")
}

// item is Item where n is an item of a set.
func (p *Page) item(n *source.Node, kind Kind) Kind {
	if p.traits[n.Index].is(isInSet) {
		return Item
	}
	return kind
}

func (p *Page) classifyLink(n *source.Node) Kind {
	if !p.leads(n) {
		return p.item(n, "")
	}
	if p.traits[n.Index].block {
		return p.item(n, Section)
	}
	if p.looksLikeButton(n) {
		return Button
	}
	return Link
}

// leads reports whether an element is a link: without a target it is a place on the page (HTML, 4.6.1).
func (p *Page) leads(n *source.Node) bool {
	return slices.ContainsFunc(n.HTML.Attr, func(a html.Attribute) bool { return a.Key == "href" })
}

func (p *Page) looksLikeButton(n *source.Node) bool {
	if strings.EqualFold(p.Doc.Value(n, "role"), "button") {
		return true
	}
	for _, class := range strings.Fields(strings.ToLower(p.Doc.Value(n, "class"))) {
		if class == "btn" || strings.Contains(class, "button") || strings.HasPrefix(class, "btn-") {
			return true
		}
	}
	return false
}

// onlyLink reports whether all that n holds is one link: then the link is the part.
func (p *Page) onlyLink(n *source.Node) bool {
	links := 0
	for _, k := range n.Kids {
		switch {
		case k.Is("button"), k.Is("a") && p.leads(k):
			links++
		case k.Blank:
		case k.HTML.Type == html.CommentNode:
		default:
			return false
		}
	}
	return links == 1
}

// sectionLike reports whether a plain wrapper is something that a person would call a section: it holds a heading or
// a picture, and at least one thing more, and is not merely what another section is made of.
func (p *Page) sectionLike(n *source.Node, t *trait) bool {
	if t.things > 0 && frames(n) != "" {
		return true
	}
	if t.heads == 0 || t.things < 2 {
		return false
	}
	up := n.Parent
	if up == nil || up.Is("body") || !n.Is("div") {
		return true
	}
	switch {
	case (sectionTags[up.Tag()] || up.Is("div", "li")) && p.wrapsOne(up):
		return false // the wrapper around it is the section
	case p.traits[up.Index].is(isInSet):
		return false // what stands in an item beside its picture
	case p.isHead(n):
		return false // the heading of what stands below it
	}
	return up.Is("main") || !p.wrapsSet(n)
}

// framing are the identifiers and classes of the wrappers that pages from before HTML 5 have for a header and a footer
// (common practice, no source).
var framing = map[string]string{
	"header": "header", "head": "header", "site-header": "header", "page-header": "header", "masthead": "header",
	"footer": "footer", "foot": "footer", "site-footer": "footer", "page-footer": "footer",
}

// frames tells what an element is around the contents of its page, "header" or "footer", by its identifier or a class;
// it stands in the body, or in one wrapper there. It is empty for others.
func frames(n *source.Node) string {
	up := n.Parent
	if !n.Is("div") || up == nil || !up.Is("body") && (up.Parent == nil || !up.Is("div") || !up.Parent.Is("body")) {
		return ""
	}
	for _, a := range n.HTML.Attr {
		if a.Key != "id" && a.Key != "class" {
			continue
		}
		for _, word := range strings.Fields(a.Val) {
			if as := framing[strings.ToLower(word)]; as != "" {
				return as
			}
		}
	}
	return ""
}

// isHead reports whether n is the first of several things in its parent and holds headings and words alone.
func (p *Page) isHead(n *source.Node) bool {
	all := p.elements(n.Parent)
	if len(all) < 2 || all[0] != n || classSays(n)&saysColumn != 0 {
		return false
	}
	for _, k := range all[1:] {
		if k.Tag() == n.Tag() && classOf(k) == classOf(n) {
			return false // one of several columns
		}
	}
	plain := true
	n.Walk(func(k *source.Node) bool {
		plain = plain && !p.traits[k.Index].is(isSetOf|hasRuns|isInSet) && (k == n || k.Tag() == "" || k.Is("h1", "h2", "h3", "h4", "h5", "h6", "p", "div", "span", "b", "strong", "em", "i", "small", "br", "hr", "a"))
		return plain
	})
	return plain
}

// wrapsSet reports whether all that n holds, through wrappers, is one set.
func (p *Page) wrapsSet(n *source.Node) bool {
	for !loose(n) {
		t := &p.traits[n.Index]
		if t.is(isSetOf) {
			return true
		}
		only := onlyElement(n)
		if only == nil {
			return false
		}
		n = only
	}
	return false
}

// wrapsOne reports whether n only wraps one other wrapper: then n, with its background and space, is the section.
func (p *Page) wrapsOne(n *source.Node) bool {
	elements := 0
	wrapper := false
	for _, k := range n.Kids {
		if k.IsText() && !k.Blank {
			return false
		}
		if k.Tag() != "" {
			elements++
			wrapper = sectionTags[k.Tag()] || k.Is("div")
		}
	}
	return elements == 1 && wrapper
}
