package page

import (
	"crypto/sha256"
	"encoding/hex"
	"regexp"
	"slices"
	"strings"

	"mendry/internal/core/source"
)

// IconBy is how a site draws an icon.
type IconBy string

// An icon is a letter of a font by a class, a part of a sheet of drawings that is used, or a drawing of its own (SVG
// 2).
const (
	IconByFont    IconBy = "font"
	IconByUse     IconBy = "use"
	IconByDrawing IconBy = "drawing"
)

// Icon is a small drawing that stands for a word.
type Icon struct {
	By     IconBy
	Name   string // what it shows, as the site calls it
	Says   string // the class of a font's, what is used of a sheet, or the drawing's markup
	Markup string
	Node   *source.Node // nil of one that stands on no page

	class string // of a drawing: by which it is called
}

// Key names an icon among those of a site.
func (i Icon) Key() string {
	if i.By == IconByDrawing {
		sum := sha256.Sum256([]byte(i.Says))
		return string(i.By) + " " + hex.EncodeToString(sum[:8])
	}
	return string(i.By) + " " + i.Says
}

// Limits of what is taken for an icon.
const (
	mostIconBytes = 6000 // of a drawing with all that is in it
	mostIconNodes = 40
)

// Icons are the icons within a node, in order. drawn are classes of which the site's sheets say that they draw
// something; those that are called as icon fonts call theirs need not be among them.
func (p *Page) Icons(within *source.Node, drawn map[string]bool) (all []Icon) {
	if p.Doc.Format != source.HTML {
		return nil
	}
	within.Walk(func(n *source.Node) bool {
		if icon, ok := p.icon(n, drawn); ok {
			all = append(all, icon)
			return false
		}
		return !n.Is("svg", "script", "style", "template")
	})
	return all
}

// MayHoldIcon reports whether an icon may stand within a node, without asking what the site's sheets draw.
func MayHoldIcon(within *source.Node) (may bool) {
	within.Walk(func(n *source.Node) bool {
		may = may || n.Is("svg") || n.Is("i", "span", "b", "em") && len(n.Kids) == 0 && classOf(n) != ""
		return !may
	})
	return may
}

func (p *Page) icon(n *source.Node, drawn map[string]bool) (icon Icon, ok bool) {
	if !n.Placed || n.End()-n.Start() > mostIconBytes {
		return icon, false
	}
	icon.Node, icon.Markup = n, string(p.Doc.Bytes[n.Start():n.End()])
	switch {
	case n.Is("i", "span", "b", "em") && !slices.ContainsFunc(n.Kids, func(k *source.Node) bool { return !k.IsText() || !k.Blank }):
		for _, class := range strings.Fields(p.Doc.Value(n, "class")) {
			m := iconClass.FindStringSubmatch(class)
			if drawn[class] || m != nil && !iconSizes[m[1]] {
				icon.By, icon.Says, icon.Name = IconByFont, class, class[strings.IndexByte(class, '-')+1:]
				return icon, true
			}
		}
	case n.Is("svg"):
		return p.drawing(n, icon)
	}
	return icon, false
}

// keepsOut is what no drawing that is put elsewhere may hold: what runs, what is named, what comes from elsewhere.
var keepsOut = regexp.MustCompile(`(?i)<script|<foreignobject|<style|<image|<a[\s>]|\son\w+\s*=|\sid\s*=|href|url\(`)

func (p *Page) drawing(n *source.Node, icon Icon) (Icon, bool) {
	nodes, use, words := 0, (*source.Node)(nil), false
	n.Walk(func(k *source.Node) bool {
		nodes++
		if k.Is("use") && use == nil {
			use = k
		}
		words = words || k.Is("text", "symbol")
		return nodes <= mostIconNodes
	})
	if words || nodes > mostIconNodes {
		return icon, false
	}
	if use != nil {
		icon.By, icon.Says = IconByUse, useOf(p.Doc, use)
		_, icon.Name, _ = strings.Cut(icon.Says, "#")
		return icon, icon.Name != "" && n.InnerEnd() > n.InnerStart()
	}
	inner := strings.TrimSpace(string(p.Doc.Bytes[n.InnerStart():n.InnerEnd()]))
	if inner == "" || keepsOut.MatchString(icon.Markup) {
		return icon, false
	}
	icon.By, icon.Says = IconByDrawing, p.Doc.Value(n, "viewBox")+" "+inner
	icon.Name = first(p.Doc.Value(n, "aria-label"), titleIn(p.Doc, n))
	if icon.class = calledBy(p.Doc.Value(n, "class")); icon.class != "" && icon.Name == "" {
		_, name, _ := strings.Cut(icon.class, "-")
		icon.Name = strings.Trim(name, "-")
	}
	return icon, true
}

func titleIn(d *source.Doc, n *source.Node) string {
	for _, k := range n.Kids {
		if k.Is("title") && len(k.Kids) == 1 {
			return strings.TrimSpace(d.Text(k.Kids[0]))
		}
	}
	return ""
}

func useOf(d *source.Doc, use *source.Node) string {
	for _, a := range use.HTML.Attr {
		if a.Key == "href" {
			return a.Val
		}
	}
	return ""
}

var symbol = regexp.MustCompile(`(?i)<symbol\b[^>]*?\sid\s*=\s*["']?([^"'\s>]+)`)

// Symbols are the names of the drawings in a sheet of them (SVG 2, 5.5).
func Symbols(sheet []byte) (names []string) {
	for _, m := range symbol.FindAllSubmatch(sheet, -1) {
		names = append(names, string(m[1]))
	}
	return names
}

// Family is what the classes of a font's icons are called alike by, or the file of a sheet of drawings.
func (i Icon) Family() string {
	switch i.By {
	case IconByFont:
		if k := strings.IndexByte(i.Says, '-'); k > 0 {
			return i.Says[:k+1]
		}
	case IconByUse:
		file, _, _ := strings.Cut(i.Says, "#")
		return file + "#"
	}
	return ""
}

// As is the markup of icon i, which stands on d, as another one of its kind: what says how large it is and what it is
// called stays.
func (i Icon) As(d *source.Doc, other Icon) string {
	markup, n := i.Markup, i.Node
	switch i.By {
	case IconByFont:
		class, _ := d.Attribute(n, "class")
		at := class.Raw.Start - n.Start()
		raw := markup[at : class.Raw.End-n.Start()]
		for _, word := range strings.Fields(raw) {
			if word == i.Says {
				at += wordAt(raw, word)
				return markup[:at] + other.Says + markup[at+len(word):]
			}
		}
	case IconByUse:
		return strings.Replace(markup, i.Says, other.Says, 1)
	case IconByDrawing:
		return redrawn(d, n, other)
	}
	return markup
}

func wordAt(class, word string) int {
	at := 0
	for {
		k := strings.Index(class[at:], word)
		if k < 0 {
			return at
		}
		at += k
		end := at + len(word)
		if (at == 0 || strings.ContainsRune(" \t\r\n\f", rune(class[at-1]))) && (end == len(class) || strings.ContainsRune(" \t\r\n\f", rune(class[end]))) {
			return at
		}
		at = end
	}
}

// ofPlace are the attributes of a drawing that belong to its place: its size, its class and what it is called.
var ofPlace = regexp.MustCompile(`^(class|width|height|style|role|focusable|aria-.*|data-.*)$`)

var svgTag = regexp.MustCompile(`(?is)^<svg((?:[^>"']|"[^"]*"|'[^']*')*)>`)

var svgAttribute = regexp.MustCompile(`(?s)\s+([A-Za-z_:][\w:.-]*)(?:\s*=\s*("[^"]*"|'[^']*'|[^\s"'>]+))?`)

// redrawn is another drawing in the place of the one at n: what belongs to the place stays, and what the drawing is
// called by changes with it.
func redrawn(d *source.Doc, n *source.Node, other Icon) string {
	m := svgTag.FindStringSubmatchIndex(other.Markup)
	if m == nil {
		return other.Markup
	}
	theirs := map[string]string{}
	var order []string
	for _, a := range svgAttribute.FindAllStringSubmatch(strings.TrimSuffix(other.Markup[m[2]:m[3]], "/"), -1) {
		name := strings.ToLower(a[1])
		theirs[name] = a[0]
		order = append(order, name)
	}
	open := "<svg"
	for _, a := range d.Attributes(n) {
		whole := string(d.Bytes[a.Whole.Start:a.Whole.End])
		switch was := calledBy(d.Value(n, "class")); {
		case a.Name == "class" && was != "" && other.class != "":
			open += whole[:a.Raw.Start-a.Whole.Start] + strings.Replace(whole[a.Raw.Start-a.Whole.Start:], was, other.class, 1)
		case ofPlace.MatchString(a.Name):
			open += whole
		case theirs[a.Name] != "":
			open += theirs[a.Name]
		}
		delete(theirs, a.Name)
	}
	for _, name := range order {
		if !ofPlace.MatchString(name) {
			open += theirs[name]
		}
	}
	return open + ">" + other.Markup[m[1]:]
}

// calledBy is the class that says what a drawing shows: the first of several words.
func calledBy(classes string) string {
	for _, class := range strings.Fields(classes) {
		if _, name, ok := strings.Cut(class, "-"); ok && name != "" {
			return class
		}
	}
	return ""
}
