package page

import (
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
func (p *Page) classify(n *source.Node) Kind {
	tag := n.Tag()
	if tag == "" {
		return ""
	}
	if n.HTML.Namespace != "" || unseen[tag] {
		return skip
	}
	switch tag {
	case "h1", "h2", "h3", "h4", "h5", "h6":
		return Heading
	case "img":
		return Picture
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
		if p.Doc.Value(n, "href") == "" {
			return ""
		}
		if hasBlocks(n) {
			return Section
		}
		if p.looksLikeButton(n) {
			return Button
		}
		return Link
	}
	if textBlocks[tag] && !hasBlocks(n) && !p.insideWords(n) {
		if p.onlyLink(n) || !p.ownText(n) {
			return ""
		}
		return Words
	}
	if sectionTags[tag] || (tag == "div" || tag == "li" || tag == "figure") && p.sectionLike(n) {
		return Section
	}
	return ""
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

func hasBlocks(n *source.Node) bool {
	for _, k := range n.Kids {
		if blocks[k.Tag()] || hasBlocks(k) {
			return true
		}
	}
	return false
}

func (p *Page) insideWords(n *source.Node) bool {
	for a := n.Parent; a != nil; a = a.Parent {
		if part := p.at[a]; part != nil && part.Kind.HasWords() {
			return true
		}
	}
	return false
}

// ownText reports whether there is text to read in n.
func (p *Page) ownText(n *source.Node) bool {
	found := false
	n.Walk(func(k *source.Node) bool {
		if unseen[k.Tag()] {
			return false
		}
		if k.IsText() && strings.TrimSpace(k.HTML.Data) != "" {
			found = true
		}
		return !found
	})
	return found
}

// onlyLink reports whether all that n holds is one link: then the link is the part.
func (p *Page) onlyLink(n *source.Node) bool {
	links := 0
	for _, k := range n.Kids {
		switch {
		case k.Is("a", "button"):
			links++
		case k.IsText() && strings.TrimSpace(k.HTML.Data) == "":
		case k.HTML.Type == html.CommentNode:
		default:
			return false
		}
	}
	return links == 1
}

// sectionLike reports whether a plain wrapper is something that a person would call a section: it holds a heading or
// a picture, and at least one thing more.
func (p *Page) sectionLike(n *source.Node) bool {
	if n.Is("div") && n.Parent != nil && n.Parent.Is("div", "section", "article", "li") && p.wrapsOne(n.Parent) {
		return false // the wrapper around it is the section
	}
	heads, things := 0, 0
	n.Walk(func(k *source.Node) bool {
		if unseen[k.Tag()] {
			return false
		}
		switch k.Tag() {
		case "h1", "h2", "h3", "h4", "h5", "h6", "img", "picture":
			heads++
			things++
			return false
		case "p", "ul", "ol", "table", "form", "video", "iframe", "a", "blockquote", "dl", "figcaption":
			things++
			return k.Is("a")
		}
		return true
	})
	return heads > 0 && things > 1
}

// wrapsOne reports whether n only wraps one other wrapper: then n, with its background and space, is the section.
func (p *Page) wrapsOne(n *source.Node) bool {
	elements := 0
	wrapper := false
	for _, k := range n.Kids {
		if k.IsText() && strings.TrimSpace(k.HTML.Data) != "" {
			return false
		}
		if k.Tag() != "" {
			elements++
			wrapper = sectionTags[k.Tag()] || k.Is("div")
		}
	}
	return elements == 1 && wrapper
}
