// Package page finds the parts of a page: the things on it that a person can point at and change.
package page

import (
	"encoding/json"
	"path"
	"strconv"
	"strings"
	"sync"
	"unicode/utf8"
	"unsafe"

	"golang.org/x/net/html"

	"mendry/internal/core/source"
	"mendry/internal/core/text"
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
	Set     Kind = "set"
	Item    Kind = "item"
	Video   Kind = "video"
	Embed   Kind = "embed"
	Form    Kind = "form"
)

var kinds = [...]Kind{Section, Heading, Words, Picture, Link, Button, Table, Row, Cell, Set, Item, Video, Embed, Form}

// index is the kind's place in kinds, or -1.
func (k Kind) index() int {
	for i := range kinds {
		if kinds[i] == k {
			return i
		}
	}
	return -1
}

// HasWords reports whether a part of this kind has words of its own that can be changed.
func (k Kind) HasWords() bool {
	return k == Heading || k == Words || k == Link || k == Button || k == Cell
}

// Whole reports whether a part of this kind is made of other parts.
func (k Kind) Whole() bool {
	return k == Section || k == Table || k == Row || k == Set || k == Item || k == Form
}

// Part is a thing on a page that can be pointed at. Offsets are bytes of the page.
type Part struct {
	ID         string     `json:"id"` // stable for the same bytes
	Kind       Kind       `json:"kind"`
	Name       string     `json:"name"`
	Start      int        `json:"start"`
	End        int        `json:"end"`
	InnerStart int        `json:"inner_start"`
	InnerEnd   int        `json:"inner_end"`
	Text       string     `json:"text"` // as rendered: blanks collapsed, line breaks kept
	HTML       string     `json:"html"` // as written, decoded; of a Markdown page, as the HTML that it makes
	Attributes Attributes `json:"attributes"`
	Locked     string     `json:"locked"` // empty, or why it cannot be changed
	Shared     string     `json:"shared"` // empty, or where else it stands
	Settings   []Setting  `json:"settings,omitempty"`
	Half       string     `json:"half,omitempty"`   // of an item that stands in two places: its tab or dot, or the panel or slide of that
	Tokens     []string   `json:"tokens,omitempty"` // codes of other programs in its words, sealed
	Parts      []*Part    `json:"parts"`

	Node   *source.Node `json:"-"`
	Parent *Part        `json:"-"`
	// Run are the neighbouring children of Node that make up the part, where it is not Node as a whole: words that
	// stand among blocks, or a set without an element of its own.
	Run []*source.Node `json:"-"`
	// Background says that the part is a picture named in Node's style attribute; its range is the address there.
	Background bool `json:"-"`

	order int32 // its place in Page.All
	inSet bool  // it is an item of the set that it stands in
}

// Attributes are those of a part's element. Their JSON form is an object.
type Attributes []html.Attribute

// Get is the value of an attribute, empty where there is none.
func (as Attributes) Get(name string) string {
	v, _ := as.Lookup(name)
	return v
}

// Lookup is Get that tells whether there is such an attribute; the first of a name counts.
func (as Attributes) Lookup(name string) (string, bool) {
	for i := range as {
		if as[i].Key == name {
			return as[i].Val, true
		}
	}
	return "", false
}

// MarshalJSON writes the attributes as an object.
func (as Attributes) MarshalJSON() ([]byte, error) {
	all := make(map[string]string, len(as))
	for i := len(as) - 1; i >= 0; i-- {
		all[as[i].Key] = as[i].Val
	}
	return json.Marshal(all)
}

// Nodes are the nodes that the part is made of.
func (p *Part) Nodes() []*source.Node {
	if p.Run != nil {
		return p.Run
	}
	return []*source.Node{p.Node}
}

// IsLink reports whether the part is a link, also one that looks like a button.
func (p *Part) IsLink() bool { return (p.Kind == Link || p.Kind == Button) && p.Node.Is("a") }

// Content are the nodes in the part.
func (p *Part) Content() []*source.Node {
	if p.Run != nil {
		return p.Run
	}
	return p.Node.Kids
}

// Placed reports whether the part's range stands for it alone.
func (p *Part) Placed() bool { return p.Background || p.Run != nil || p.Node.Placed }

// Facts are what a page says of itself in its head, or in its front matter.
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

	byKind [len(kinds)][]*Part
	at     []int32 // the place of its part in All, counted from one, by source.Node.Index
	text   *rendered
	markup string       // the page's bytes as a string, so that parts share it
	whole  bool         // its characters are all whole
	codes  bool         // codes of other programs may stand in it
	marks  []text.Token // template marks in its bytes, in order

	orphans int // bars of tabs with another number of panels, dots with another number of slides

	// While the parts are looked for:
	traits []trait
	sets   sets
	groups map[*source.Node]*source.Node // items that are several neighbours: the last by the first
	halves map[*source.Node]*source.Node // of items that stand in two places, the other one
	slab   []Part                        // room for parts
	used   int                           // how much of it is used

	readOnce  sync.Once
	read      []*Part // see reading
	orderOnce sync.Once
	orderly   order // see Worse
	headOnce  sync.Once
	heads     []*Part // see Headings
}

// Parse finds the parts of the HTML page b, which must not be changed afterwards. contentType may be empty; see
// source.Parse. The error is a *refusal.Refusal.
func Parse(b []byte, contentType string) (*Page, error) {
	doc, err := source.Parse(b, contentType)
	if err != nil {
		return nil, err
	}
	return Of(doc), nil
}

// ParseMarkdown finds the parts of the Markdown page b, which must not be changed afterwards. The error is a
// *refusal.Refusal.
func ParseMarkdown(b []byte) (*Page, error) {
	doc, err := source.ParseMarkdown(b)
	if err != nil {
		return nil, err
	}
	return Of(doc), nil
}

// ParseFile finds the parts of the page that a file holds, by its name Markdown or HTML.
func ParseFile(file string, b []byte, contentType string) (*Page, error) {
	if IsMarkdown(file) {
		return ParseMarkdown(b)
	}
	return Parse(b, contentType)
}

// IsMarkdown reports whether a file holds Markdown, by its name.
func IsMarkdown(file string) bool {
	ext := strings.ToLower(path.Ext(file))
	return ext == ".md" || ext == ".markdown"
}

// Again reads bytes as the kind of page that p is.
func (p *Page) Again(b []byte) (*Page, error) {
	if p.Doc.Format == source.Markdown {
		return ParseMarkdown(b)
	}
	return Parse(b, "text/html; charset="+p.Doc.Encoding.Name)
}

// besides is from how many bytes on it pays to read the words while the sets are looked for.
const besides = 96 << 10

// Of finds the parts of a page that has been read.
func Of(doc *source.Doc) *Page {
	p := &Page{Doc: doc, at: make([]int32, len(doc.Nodes)), traits: traitsOf(doc.Nodes)}
	if doc.Encoding.Plain() {
		p.markup = unsafe.String(unsafe.SliceData(doc.Bytes), len(doc.Bytes)) // no copy: a Doc's bytes never change
	}
	p.whole = utf8.Valid(doc.Bytes)
	if p.codes = text.MayHoldTokens(p.markup) || p.markup == ""; p.codes && doc.Format == source.HTML {
		p.marks = text.Marks(string(doc.Bytes)) // offsets of bytes: marks are ASCII in every encoding that is read
	}
	if len(doc.Bytes) < besides {
		p.sets, p.text = p.findSets(), render(doc, p.traits)
	} else {
		read := make(chan *rendered)
		go func() { read <- render(doc, p.traits) }()
		p.sets = p.findSets()
		p.text = <-read
	}
	p.All = make([]*Part, 0, len(doc.Nodes)/6+8)
	p.find(doc.Root, nil, false)
	p.sortByKind()
	for _, of := range p.byKind {
		for i, part := range of {
			part.ID = idOf(part.Kind, i+1)
		}
	}
	p.joinHalves()
	p.nameAll()
	p.facts()
	freeTraits(p.traits)
	p.traits, p.sets, p.groups, p.halves, p.slab = nil, nil, nil, nil, nil
	return p
}

// joinHalves says of items that stand in two places what the other one is.
func (p *Page) joinHalves() {
	for n, other := range p.halves {
		one, found := p.At(n)
		two, both := p.At(other)
		if found && both {
			one.Half = two.ID
		}
	}
}

// ItemOf is the item of a set that a part is, or is the other half of, with that half; nil where it is none.
func (p *Page) ItemOf(part *Part) (item, half *Part) {
	other, _ := p.Part(part.Half)
	switch {
	case part.inSet:
		return part, other
	case other != nil && other.inSet:
		return other, part
	}
	return nil, nil
}

// Walk calls f for a part and all in it, in document order.
func (p *Part) Walk(f func(*Part)) {
	f(p)
	for _, k := range p.Parts {
		k.Walk(f)
	}
}

// Items are the items of a set.
func (p *Part) Items() (items []*Part) {
	for _, k := range p.Parts {
		if k.inSet {
			items = append(items, k)
		}
	}
	return items
}

// sortByKind makes lists of the parts of each kind.
func (p *Page) sortByKind() {
	var many [len(kinds)]int
	for _, part := range p.All {
		many[part.Kind.index()]++
	}
	room := make([]*Part, len(p.All))
	for i, n := range many {
		p.byKind[i], room = room[:0:n], room[n:]
	}
	for _, part := range p.All {
		of := &p.byKind[part.Kind.index()]
		*of = append(*of, part)
	}
}

// usualIDs are those of the first parts of every kind, so that pages share them.
var usualIDs = func() (ids [len(kinds)][512]string) {
	for i, kind := range kinds {
		for n := range ids[i] {
			ids[i][n] = string(kind) + "-" + strconv.Itoa(n)
		}
	}
	return ids
}()

// idOf is the ID of the nth part of a kind.
func idOf(kind Kind, n int) string {
	if n < len(usualIDs[0]) {
		return usualIDs[kind.index()][n]
	}
	return string(kind) + "-" + strconv.Itoa(n)
}

// Part finds a part by its ID.
func (p *Page) Part(id string) (*Part, bool) {
	kind, number, _ := strings.Cut(id, "-")
	i := Kind(kind).index()
	if i < 0 {
		return nil, false
	}
	of := p.byKind[i]
	n, err := strconv.Atoi(number)
	if err != nil || n < 1 || n > len(of) || of[n-1].ID != id {
		return nil, false
	}
	return of[n-1], true
}

// OfKind lists the parts of a kind, in document order.
func (p *Page) OfKind(kind Kind) []*Part {
	if i := kind.index(); i >= 0 {
		return p.byKind[i]
	}
	return nil
}

// At finds the part that is node n.
func (p *Page) At(n *source.Node) (*Part, bool) {
	at := p.at[n.Index]
	if at == 0 {
		return nil, false
	}
	return p.All[at-1], true
}

// TextOf is what a visitor reads of a node.
func (p *Page) TextOf(n *source.Node) string { return p.text.of(n) }
