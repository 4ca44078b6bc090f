package page

import (
	"slices"
	"strings"

	"golang.org/x/net/html"

	"mendry/internal/core/source"
)

// skip marks nodes that hold nothing a visitor sees as parts.
const skip Kind = "-"

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
	if t.is(isUnseen) {
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
	if t.is(isTextBlock) && !t.mixed() && !inWords {
		if p.onlyLink(n) || !t.text {
			return p.item(n, "")
		}
		return Words
	}
	if t.is(isSectionTag) || t.is(isHolder) || (tag == "div" || tag == "li" || tag == "figure") && p.sectionLike(n, t) {
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
		return ""
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
// a picture, and at least one thing more.
func (p *Page) sectionLike(n *source.Node, t *trait) bool {
	if n.Is("div") && n.Parent != nil && n.Parent.Is("div", "section", "article", "li") && p.wrapsOne(n.Parent) {
		return false // the wrapper around it is the section
	}
	return t.heads > 0 && t.things > 1
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
