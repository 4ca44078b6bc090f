package page

import (
	"regexp"
	"slices"
	"strings"

	"mendry/internal/core/source"
)

// Setting is a setting of a set that the site's markup offers, such as the seconds between slides: a data attribute
// with a number, yes or no, or a word.
type Setting struct {
	Part  string `json:"part"` // the part that has the attribute
	Name  string `json:"name"`
	Value string `json:"value"`
	Is    string `json:"is"` // number, yes-no, word

	node *source.Node
}

// set is a run of alike items.
type set struct {
	parent *source.Node
	items  []*source.Node
	rows   []*source.Node // the children of parent that make up the set: the items, or rows of a grid with items in them
	run    bool           // rows are only some of parent's children
}

// sets are those of a page by the parent of their items; the traits say which nodes have to do with them.
type sets map[*source.Node][]*set

const compared = 3 // siblings that a further item is compared with

// setParents are elements that a set may stand in; setItems are elements that may be its items.
var (
	setParents = words("body main section article aside header footer nav div ul ol menu figure td fieldset center")
	setItems   = words("li div article section figure a img picture blockquote details button")
)

func (p *Page) findSets() sets {
	s := sets{}
	shapes := newShapes(len(p.Doc.Nodes))
	defer shapes.free()
	for _, n := range p.Doc.Nodes { // from the outside in, so that rows of a grid are seen before the items in them
		if !p.traits[n.Index].is(isSetParent) || len(n.Kids) < 2 || p.traits[n.Index].is(isGridRow) || insideForm(n) {
			continue
		}
		for _, found := range p.setsAmong(n, shapes) {
			if p.joinRows(found, shapes) {
				for _, row := range found.rows {
					p.traits[row.Index].bits |= isGridRow
				}
			}
			s[n] = append(s[n], found)
			p.mark(found)
		}
	}
	for n := range s {
		p.markHolders(n)
	}
	return s
}

// mark notes what a set's nodes are.
func (p *Page) mark(found *set) {
	for _, item := range found.items {
		p.traits[item.Index].bits |= isInSet
	}
	if found.run {
		p.traits[found.parent.Index].bits |= hasRuns
	} else {
		p.traits[found.parent.Index].bits |= isSetOf
	}
}

// beginning is the set among sets that begins with k.
func beginning(sets []*set, k *source.Node) *set {
	for _, found := range sets {
		if found.run && found.rows[0] == k {
			return found
		}
	}
	return nil
}

func insideForm(n *source.Node) bool {
	for ; n != nil; n = n.Parent {
		if n.Is("form") {
			return true
		}
	}
	return false
}

// setsAmong finds runs of alike items among n's children.
func (p *Page) setsAmong(n *source.Node, shapes *pageShapes) (found []*set) {
	var few [16]*source.Node
	run := few[:0]
	elements := 0
	flush := func() {
		if p.makesSet(run) {
			items := slices.Clone(run)
			found = append(found, &set{parent: n, items: items, rows: items})
		}
		run = run[:0]
	}
	for _, k := range n.Kids {
		switch {
		case k.IsText() && !k.Blank && !divides(k.HTML.Data):
			flush()
			elements++ // n holds more than the items
		case k.Tag() == "" || k.Is("hr") || p.traits[k.Index].is(isUnseen): // may stand between items
		default:
			elements++
			if !p.traits[k.Index].is(isSetItem) || !k.Placed {
				flush()
				continue
			}
			if len(run) > 0 && !p.alike(run, k, shapes) {
				flush()
			}
			run = append(run, k)
		}
	}
	flush()
	for _, f := range found {
		f.run = len(f.items) < elements
	}
	return found
}

// divides reports whether a text does no more than to stand between items.
func divides(s string) bool {
	for _, r := range s {
		if !strings.ContainsRune(" \n\t\r|·•/-–—", r) {
			return false
		}
	}
	return true
}

// makesSet reports whether alike siblings are what a person would call a set.
func (p *Page) makesSet(run []*source.Node) bool {
	if len(run) < 2 {
		return false
	}
	first := run[0]
	full, linked, pictures, things := 0, 0, 0, 0
	for _, k := range run {
		t := p.traits[k.Index]
		if t.text || t.heads > 0 || t.links > 0 || k.Is("img", "picture", "a") {
			full++
		}
		if t.links == 1 && p.onlyLinkOrMenu(k) || k.Is("a") {
			linked++
		}
		if t.heads > 0 || k.Is("img", "picture") {
			pictures++
		}
		if t.things > 1 || t.heads > 0 && t.text {
			things++
		}
	}
	if 2*full < len(run) {
		return false
	}
	switch first.Tag() {
	case "a", "img", "picture", "button", "details", "figure":
		return true
	case "li": // a list of words is a list; a list of links, pictures or cards is a set
		return 2*linked >= len(run) || 2*pictures >= len(run) || 2*things >= len(run)
	case "section":
		return things == len(run) && sameClass(run)
	case "blockquote", "article":
		return true
	}
	return (2*things >= len(run) || 2*pictures >= len(run) || 2*linked >= len(run)) && (len(run) > 2 || sameClass(run))
}

// onlyLinkOrMenu reports whether an item is one link, perhaps with a menu of its own below it.
func (p *Page) onlyLinkOrMenu(n *source.Node) bool {
	for _, k := range n.Kids {
		if k.IsText() && !k.Blank {
			return false
		}
		if k.Tag() != "" && !k.Is("a", "ul", "ol", "div", "span") {
			return false
		}
	}
	return true
}

func sameClass(run []*source.Node) bool {
	want := ""
	for i, n := range run {
		class := ""
		for _, a := range n.HTML.Attr {
			if a.Key == "class" {
				class = a.Val
			}
		}
		if i > 0 && class != want {
			return false
		}
		want = class
	}
	return want != "" || run[0].Is("article")
}

// alike reports whether n goes on with a run: it is built like one of its last items.
func (p *Page) alike(run []*source.Node, n *source.Node, shapes *pageShapes) bool {
	if run[0].Tag() != n.Tag() {
		return false
	}
	s := p.shapeOf(n, shapes)
	for i := len(run) - 1; i >= 0 && i >= len(run)-compared; i-- {
		if shapes.alike(s, p.shapeOf(run[i], shapes)) {
			return true
		}
	}
	return false
}

// joinRows makes one set of rows of a grid: items that hold nothing but alike items themselves. It reports whether it
// did.
func (p *Page) joinRows(s *set, shapes *pageShapes) bool {
	if !s.items[0].Is("div", "ul", "section") {
		return false
	}
	var all []*source.Node
	many := false
	for _, row := range s.items {
		inner := p.setsAmong(row, shapes)
		if len(inner) == 1 && !inner[0].run && !p.traits[row.Index].ownHead(row) {
			many = true
			all = append(all, inner[0].items...)
			continue
		}
		only := onlyElement(row)
		if only == nil {
			return false
		}
		all = append(all, only)
	}
	if !many || len(all) <= len(s.items) {
		return false
	}
	for _, n := range all[1:] {
		if !p.alike(all[:1], n, shapes) {
			return false
		}
	}
	s.items = all
	return true
}

// ownHead reports whether a heading is a child of n.
func (trait) ownHead(n *source.Node) bool {
	for _, k := range n.Kids {
		if k.Is("h1", "h2", "h3", "h4", "h5", "h6") {
			return true
		}
	}
	return false
}

func onlyElement(n *source.Node) (only *source.Node) {
	for _, k := range n.Kids {
		if k.Tag() == "" {
			continue
		}
		if only != nil {
			return nil
		}
		only = k
	}
	return only
}

const holdersAbove = 3 // elements around a set that may carry its settings

var (
	aNumber = regexp.MustCompile(`^-?\d{1,7}(\.\d{1,4})?$`)
	aYesNo  = regexp.MustCompile(`^(?i:true|false|yes|no|on|off)$`)
	aWord   = regexp.MustCompile(`^[a-z][a-z-]{1,23}$`)
	// wiring are data attributes by which scripts find their elements.
	wiring = regexp.MustCompile(`^data-(.*-)?(toggle|target|dismiss|src|srcset|id|url|href|key|title|index|parent|slide-to|spy|path|icon|type|name)$`)
)

// settingsAt are the settings that an element carries itself.
func (p *Page) settingsAt(n *source.Node) (all []Setting) {
	for _, a := range n.HTML.Attr {
		if !strings.HasPrefix(a.Key, "data-") || wiring.MatchString(a.Key) {
			continue
		}
		is := ""
		switch {
		case aNumber.MatchString(a.Val):
			is = "number"
		case aYesNo.MatchString(a.Val):
			is = "yes-no"
		case aWord.MatchString(a.Val):
			is = "word"
		}
		if is != "" {
			all = append(all, Setting{Name: a.Key, Value: a.Val, Is: is, node: n})
		}
	}
	return all
}

// settingsOf gathers the settings of a set from its element and the ones around it.
func (p *Page) settingsOf(n *source.Node) (all []Setting) {
	all = p.settingsAt(n)
	for up, i := n.Parent, 0; up != nil && i < holdersAbove; up, i = up.Parent, i+1 {
		if p.traits[up.Index].is(isHolder) {
			all = append(all, p.settingsAt(up)...)
		}
	}
	return all
}

// markHolders notes the elements around a set that carry settings and hold no other heading of a section.
func (p *Page) markHolders(n *source.Node) {
	for up, i := n.Parent, 0; up != nil && i < holdersAbove && !up.Is("body", "main", "html"); up, i = up.Parent, i+1 {
		if len(p.settingsAt(up)) > 0 {
			p.traits[up.Index].bits |= isHolder
		}
	}
}
