// Package page finds the parts of a page: the things on it that a person can point at and change.
package page

import (
	"fmt"
	"strings"
	"unicode/utf8"

	"mendry/internal/core/source"
)

// Kind is the kind of a part.
type Kind string

// The kinds of parts.
const (
	Section Kind = "section"
	Heading Kind = "heading"
	Words   Kind = "words"
	Picture Kind = "picture"
	Link    Kind = "link"
	Button  Kind = "button"
	Table   Kind = "table"
	Row     Kind = "row"
	Cell    Kind = "cell"
	Video   Kind = "video"
	Embed   Kind = "embed"
	Form    Kind = "form"
)

// HasWords reports whether a part of this kind has words of its own that can be changed.
func (k Kind) HasWords() bool {
	return k == Heading || k == Words || k == Link || k == Button || k == Cell
}

// Part is a thing on a page that can be pointed at. Offsets are bytes of the page.
type Part struct {
	ID         string            `json:"id"` // stable for the same bytes
	Kind       Kind              `json:"kind"`
	Name       string            `json:"name"`
	Start      int               `json:"start"`
	End        int               `json:"end"`
	InnerStart int               `json:"inner_start"`
	InnerEnd   int               `json:"inner_end"`
	Text       string            `json:"text"` // as rendered: blanks collapsed, line breaks kept
	HTML       string            `json:"html"` // as written, decoded
	Attributes map[string]string `json:"attributes"`
	Locked     string            `json:"locked"` // empty, or why it cannot be changed
	Shared     string            `json:"shared"` // empty, or where else it stands
	Parts      []*Part           `json:"parts"`

	Node   *source.Node `json:"-"`
	Parent *Part        `json:"-"`
}

// Facts are what a page says of itself in its head.
type Facts struct {
	Title       string `json:"title"`
	Description string `json:"description"`
	Lang        string `json:"lang"`
	Canonical   string `json:"canonical"`
	Image       string `json:"image"` // the share picture (Open Graph)
	Address     string `json:"address"`
}

// Page is a page with its parts.
type Page struct {
	Doc   *source.Doc
	Facts Facts
	Parts []*Part
	All   []*Part // every part, in document order
	byID  map[string]*Part
	at    map[*source.Node]*Part
}

// Parse finds the parts of the HTML page b. The error is a *source.Refusal.
func Parse(b []byte, contentType string) (*Page, error) {
	doc, err := source.Parse(b, contentType)
	if err != nil {
		return nil, err
	}
	p := &Page{Doc: doc, byID: map[string]*Part{}, at: map[*source.Node]*Part{}}
	p.find(doc.Root, nil)
	count := map[Kind]int{}
	for _, part := range p.All {
		count[part.Kind]++
		part.ID = fmt.Sprintf("%s-%d", part.Kind, count[part.Kind])
		p.byID[part.ID] = part
	}
	for _, part := range p.All {
		part.Name = p.name(part)
	}
	p.facts()
	return p, nil
}

// Part finds a part by its ID.
func (p *Page) Part(id string) (*Part, bool) {
	part, ok := p.byID[id]
	return part, ok
}

// find looks for parts at and below n and puts them into parent.
func (p *Page) find(n *source.Node, parent *Part) {
	kind := p.classify(n)
	if kind == skip {
		return
	}
	if kind != "" {
		parent = p.take(n, kind, parent)
	}
	for _, k := range n.Kids {
		p.find(k, parent)
	}
}

func (p *Page) take(n *source.Node, kind Kind, parent *Part) *Part {
	d := p.Doc
	part := &Part{
		Kind: kind, Start: n.Start, End: n.End, InnerStart: n.InnerStart, InnerEnd: n.InnerEnd,
		Text: p.Text(n), Attributes: map[string]string{}, Node: n, Parent: parent, Parts: []*Part{},
	}
	for _, a := range n.HTML.Attr {
		part.Attributes[a.Key] = d.Value(n, a.Key)
	}
	if n.Placed {
		part.HTML = d.Markup(d.Bytes[n.Start:n.End])
	}
	part.Locked = p.lock(part)
	p.at[n] = part
	p.All = append(p.All, part)
	if parent == nil {
		p.Parts = append(p.Parts, part)
	} else {
		parent.Parts = append(parent.Parts, part)
	}
	return part
}

// lock says why a part cannot be changed safely, or nothing.
func (p *Page) lock(part *Part) string {
	n := part.Node
	switch {
	case !n.Placed:
		return "The markup around it is broken, so its beginning and end cannot be told apart from its neighbours'."
	case n.Torn:
		return "The markup inside it is broken: tags are not closed in the order in which they were opened."
	case part.Kind == Form:
		return "Forms send what visitors fill in; they are kept as they are."
	case part.Kind == Embed || part.Kind == Video:
		return "What is shown here comes from elsewhere and is kept as it is."
	case part.Kind == Cell && hasBlocks(n):
		return "This cell holds several parts. Change them one by one."
	case part.Kind.HasWords() && p.Doc.Encoding.Name == "utf-8" && !utf8.Valid(p.Doc.Bytes[n.Start:n.End]):
		return "It holds broken characters; a change would alter them unseen."
	case part.Kind.HasWords() && sealed(part.HTML):
		return "It holds a code that another program fills in."
	}
	return ""
}

// sealed reports whether markup holds template marks or paired bracketed codes.
func sealed(markup string) bool {
	for _, mark := range []string{"{{", "{%", "<?", "[/"} {
		if strings.Contains(markup, mark) {
			return true
		}
	}
	return false
}

func (p *Page) facts() {
	d := p.Doc
	d.Root.Walk(func(n *source.Node) bool {
		switch n.Tag() {
		case "html":
			p.Facts.Lang = d.Value(n, "lang")
		case "title":
			if p.Facts.Title == "" {
				p.Facts.Title = collapse(p.raw(n))
			}
		case "meta":
			switch {
			case strings.EqualFold(d.Value(n, "name"), "description"):
				p.Facts.Description = d.Value(n, "content")
			case d.Value(n, "property") == "og:image":
				p.Facts.Image = d.Value(n, "content")
			}
		case "link":
			if strings.EqualFold(d.Value(n, "rel"), "canonical") {
				p.Facts.Canonical = d.Value(n, "href")
			}
		case "body":
			return false
		}
		return true
	})
}

// HeadNode finds the node that holds a page fact, nil where the page has none.
func (p *Page) HeadNode(fact string) *source.Node {
	d := p.Doc
	var found *source.Node
	d.Root.Walk(func(n *source.Node) bool {
		hit := false
		switch fact {
		case "title":
			hit = n.Is("title")
		case "lang":
			hit = n.Is("html")
		case "description":
			hit = n.Is("meta") && strings.EqualFold(d.Value(n, "name"), "description")
		case "image":
			hit = n.Is("meta") && d.Value(n, "property") == "og:image"
		case "canonical":
			hit = n.Is("link") && strings.EqualFold(d.Value(n, "rel"), "canonical")
		}
		if hit && found == nil {
			found = n
		}
		return !n.Is("body")
	})
	return found
}
