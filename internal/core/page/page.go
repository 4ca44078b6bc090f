// Package page finds the parts of a page: the things on it that a person can point at and change.
package page

import (
	"bytes"
	"encoding/json"
	"path"
	"slices"
	"strconv"
	"strings"

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
	Tokens     []string   `json:"tokens,omitempty"` // codes of other programs in its words, sealed
	Parts      []*Part    `json:"parts"`

	Node   *source.Node `json:"-"`
	Parent *Part        `json:"-"`
	// Run are the neighbouring children of Node that make up the part, where it is not Node as a whole: words that
	// stand among blocks, or a set without an element of its own.
	Run []*source.Node `json:"-"`
	// Background says that the part is a picture named in Node's style attribute; its range is the address there.
	Background bool `json:"-"`
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
	markup string // the page's bytes as a string, so that parts share it
	whole  bool   // its characters are all whole
	codes  bool   // codes of other programs may stand in it

	// While the parts are looked for:
	traits []trait
	sets   sets
	slab   []Part // room for parts
	used   int    // how much of it is used
}

// Parse finds the parts of the HTML page b. contentType may be empty; see source.Parse. The error is a
// *source.Refusal.
func Parse(b []byte, contentType string) (*Page, error) {
	doc, err := source.Parse(b, contentType)
	if err != nil {
		return nil, err
	}
	return Of(doc), nil
}

// ParseMarkdown finds the parts of the Markdown page b. The error is a *source.Refusal.
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
	p := &Page{Doc: doc, at: make([]int32, len(doc.Nodes)), traits: traitsOf(doc)}
	if doc.Encoding.Name == "utf-8" {
		p.markup = unsafe.String(unsafe.SliceData(doc.Bytes), len(doc.Bytes)) // no copy: a Doc's bytes never change
	}
	p.whole = utf8.Valid(doc.Bytes)
	p.codes = text.MayHoldTokens(p.markup) || p.markup == ""
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
		part.ID = idOf(part.Kind, len(*of))
	}
	p.nameAll()
	p.facts()
	freeTraits(p.traits)
	p.traits, p.sets, p.slab = nil, nil, nil
	return p
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

// find looks for parts at and below n and puts them into parent. inWords says that n stands in words that are one
// part already.
func (p *Page) find(n *source.Node, parent *Part, inWords bool) {
	kind := p.classify(n, inWords)
	if kind == skip {
		return
	}
	if kind != "" {
		parent = p.take(n, kind, parent)
		if kind == Video || kind == Embed {
			return
		}
		inWords = inWords || kind.HasWords() && !(kind == Cell && p.traits[n.Index].mixed())
	}
	p.backgrounds(n, parent)
	if !inWords && (p.traits[n.Index].mixed() && !p.traits[n.Index].is(isNoRuns) || p.traits[n.Index].is(hasRuns)) {
		p.findAmongBlocks(n, parent)
		return
	}
	for _, k := range n.Kids {
		p.find(k, parent, inWords)
	}
}

// noRuns are elements whose own text is not shown, or not as words.
var noRuns = words("table thead tbody tfoot tr ul ol dl menu select html head frameset picture video audio")

// findAmongBlocks goes through children of which some are words and some are blocks: words between blocks are a part, and
// so is a set that has no element of its own.
func (p *Page) findAmongBlocks(n *source.Node, parent *Part) {
	from := 0 // where the run of words begins
	flush := func(to, next int) {
		run := trimBlank(n.Kids[from:to:to])
		from = next
		into := parent
		inWords := false
		if p.wordsIn(run) {
			into = p.takeRun(n, run, Words, parent)
			inWords = true
		}
		for _, k := range run {
			p.find(k, into, inWords)
		}
	}
	var runs []*set
	if p.traits[n.Index].is(hasRuns) {
		runs = p.sets[n]
	}
	for i := 0; i < len(n.Kids); i++ {
		k := n.Kids[i]
		if s := beginning(runs, k); s != nil {
			j := i
			for n.Kids[j] != s.rows[len(s.rows)-1] {
				j++
			}
			flush(i, j+1)
			set := p.takeRun(n, n.Kids[i:j+1:j+1], Set, parent)
			for _, item := range set.Run {
				p.find(item, set, false)
			}
			i = j
			continue
		}
		if t := &p.traits[k.Index]; t.is(isBlock|isControl) || t.mixed() {
			flush(i, i+1)
			p.find(k, parent, false)
		}
	}
	flush(len(n.Kids), len(n.Kids))
}

func trimBlank(run []*source.Node) []*source.Node {
	blank := func(n *source.Node) bool {
		return n.Tag() == "br" || n.Tag() == "" && (!n.IsText() || n.Blank)
	}
	for len(run) > 0 && blank(run[0]) {
		run = run[1:]
	}
	for len(run) > 0 && blank(run[len(run)-1]) {
		run = run[:len(run)-1]
	}
	return run
}

// wordsIn reports whether a run of inline nodes reads as words, and not as a single link or picture.
func (p *Page) wordsIn(run []*source.Node) bool {
	text := false
	links := 0
	for _, k := range run {
		if !k.Placed && k.Runs() == nil {
			return false
		}
		t := p.traits[k.Index]
		switch {
		case k.Is("button"), k.Is("a") && p.Doc.Value(k, "href") != "":
			links++
			text = text || t.text && len(run) > 1
		case t.text:
			text = true
		}
	}
	return text && !(links == 1 && len(run) == 1)
}

func (p *Page) attributesOf(n *source.Node) Attributes {
	if p.Doc.Encoding.Name == "utf-8" {
		return n.HTML.Attr
	}
	as := slices.Clone(n.HTML.Attr)
	for i := range as {
		as[i].Val = p.Doc.Read(as[i].Val)
	}
	return as
}

func (p *Page) take(n *source.Node, kind Kind, parent *Part) *Part {
	part := p.newPart() // filled in place: a part is large
	part.Kind, part.Node, part.Text = kind, n, p.text.of(n)
	part.Start, part.End, part.InnerStart, part.InnerEnd = n.Start(), n.End(), n.InnerStart(), n.InnerEnd()
	if len(n.HTML.Attr) > 0 {
		part.Attributes = p.attributesOf(n)
	}
	if kind == Set {
		part.Settings = p.settingsOf(n)
	}
	p.add(part, parent)
	p.at[n.Index] = int32(len(p.All))
	return part
}

// takeRun takes in neighbouring children of n as one part.
func (p *Page) takeRun(n *source.Node, run []*source.Node, kind Kind, parent *Part) *Part {
	first, last := run[0], run[len(run)-1]
	start, end := first.Start(), last.End()
	if first.IsText() {
		start += blanks(p.Doc.Bytes[start:end], false)
	}
	if last.IsText() {
		end -= blanks(p.Doc.Bytes[start:end], true)
	}
	part := p.newPart()
	part.Kind, part.Node, part.Run, part.Text = kind, n, run, p.text.between(first, last)
	part.Start, part.End, part.InnerStart, part.InnerEnd = start, end, start, end
	if kind == Set {
		part.Settings = p.settingsOf(n)
	}
	p.add(part, parent)
	return part
}

// blanks is the length of the white space at the beginning or end of b.
func blanks(b []byte, atEnd bool) int {
	if atEnd {
		return len(b) - len(bytes.TrimRight(b, " \t\r\n\f"))
	}
	return len(b) - len(bytes.TrimLeft(b, " \t\r\n\f"))
}

// Margins are the white space before and after the part in the text nodes that its run begins and ends with, as the
// tree has it.
func (p *Part) Margins() (before, after string) {
	if p.Run == nil {
		return "", ""
	}
	if first := p.Run[0]; first.IsText() {
		s := first.HTML.Data
		before = s[:len(s)-len(strings.TrimLeft(s, " \t\r\n\f"))]
	}
	if last := p.Run[len(p.Run)-1]; last.IsText() {
		s := last.HTML.Data
		after = s[len(strings.TrimRight(s, " \t\r\n\f")):]
	}
	return before, after
}

// newPart gives a part out of a slab.
func (p *Page) newPart() *Part {
	if p.used == len(p.slab) {
		p.slab, p.used = make([]Part, 24), 0
	}
	p.used++
	return &p.slab[p.used-1]
}

func (p *Page) add(part, parent *Part) {
	part.Parts, part.Parent = []*Part{}, parent
	if part.Placed() {
		part.HTML = p.htmlOf(part)
	}
	if p.codes && part.Kind.HasWords() {
		part.Tokens = tokensIn(part.HTML)
	}
	part.Locked = p.lock(part)
	p.All = append(p.All, part)
	if parent == nil {
		p.Parts = append(p.Parts, part)
	} else {
		parent.Parts = append(parent.Parts, part)
	}
}

// htmlOf is a part's markup.
func (p *Page) htmlOf(part *Part) string {
	switch {
	case part.Background:
	case p.Doc.Format == source.Markdown:
		return htmlOfTree(part.Nodes())
	}
	if p.markup != "" {
		return p.markup[part.Start:part.End]
	}
	return p.Doc.Markup(p.Doc.Bytes[part.Start:part.End])
}
