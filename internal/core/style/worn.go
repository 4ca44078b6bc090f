package style

import (
	"regexp"
	"slices"
	"strings"

	"golang.org/x/net/html"
)

// Worn is what elements that are alike carry, and how many of them do.
type Worn struct {
	Elements   int
	Classes    map[string]int
	Attributes map[[2]string]int // by name and value
	Styles     map[[2]string]int // by property and value
	Others     map[string]bool   // classes that elements carry which are not like these
}

// Add adds an element.
func (w *Worn) Add(n *html.Node) {
	if w.Classes == nil {
		w.Classes, w.Attributes, w.Styles = map[string]int{}, map[[2]string]int{}, map[[2]string]int{}
	}
	w.Elements++
	for _, a := range n.Attr {
		switch {
		case a.Key == "class":
			for _, class := range uniq(strings.Fields(a.Val)) {
				w.Classes[class]++
			}
		case a.Key == "style":
			for _, d := range Declarations(a.Val) {
				if d.Property != "" {
					w.Styles[[2]string{d.Property, d.Value}]++
				}
			}
		case strings.HasPrefix(a.Key, "data-"):
			w.Attributes[[2]string{a.Key, a.Val}]++
		}
	}
}

// AddOther adds an element that is not like them.
func (w *Worn) AddOther(n *html.Node) {
	if w.Others == nil {
		w.Others = map[string]bool{}
	}
	for _, class := range classes(n) {
		w.Others[class] = true
	}
}

func uniq(words []string) []string { return slices.Compact(slices.Sorted(slices.Values(words))) }

// compound is a selector of one element: its tag, classes and attributes (Selectors Level 4, 3.1).
type compound struct {
	tag        string
	classes    []string
	attributes [][2]string
}

var (
	isCompound = regexp.MustCompile(`^([a-z][a-z0-9]*|\*)?((?:\.-?[A-Za-z_][\w-]*|\[[a-z][\w-]*(?:=(?:"[^"]*"|'[^']*'|[\w-]+))?\])+)$`)
	piece      = regexp.MustCompile(`\.(-?[A-Za-z_][\w-]*)|\[([a-z][\w-]*)(?:=(?:"([^"]*)"|'([^']*)'|([\w-]+)))?\]`)
	inSelector = regexp.MustCompile(`\.(-?[A-Za-z_][\w-]*)`)
)

func readCompound(written string) *compound {
	m := isCompound.FindStringSubmatch(written)
	if m == nil {
		return nil
	}
	c := &compound{tag: strings.TrimPrefix(m[1], "*")}
	for _, p := range piece.FindAllStringSubmatch(m[2], -1) {
		if p[1] != "" {
			c.classes = append(c.classes, p[1])
		} else {
			c.attributes = append(c.attributes, [2]string{p[2], p[3] + p[4] + p[5]})
		}
	}
	return c
}
