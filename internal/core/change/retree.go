package change

import (
	"strings"
	"unicode"

	"golang.org/x/net/html"

	"mendry/internal/core/diff"
	"mendry/internal/core/page"
)

// retextTree is Retext for a page whose bytes are not HTML: the words go into the text nodes of the tree. It returns
// the part's inner content as HTML.
func retextTree(part *page.Part, words string) string {
	box := &html.Node{Type: html.ElementNode, Data: "div"}
	for _, n := range part.Content() {
		box.AppendChild(clone(n.HTML))
	}
	t := &treeText{}
	t.read(box)
	at := 0
	for _, run := range diff.Words(string(t.signs), words) {
		rs := []rune(run.Text)
		switch run.Is {
		case diff.Same:
			for range rs {
				t.keep[at] = true
				at++
			}
		case diff.Gone:
			at += len(rs)
		case diff.New:
			t.put(at, run.Text)
		}
	}
	t.write(box)
	var b strings.Builder
	for c := box.FirstChild; c != nil; c = c.NextSibling {
		_ = html.Render(&b, c) // a strings.Builder never fails
	}
	return b.String()
}

// treeText is the text of a tree, sign by sign.
type treeText struct {
	signs []rune
	raw   []rune         // as they stand in the tree: a blank may be a line end there
	in    []*html.Node   // the text node or <br> that each sign comes from
	keep  []bool         // the signs that stay
	new   map[int]string // what is put before the sign at an index
	first *html.Node     // the first text node
	texts []*html.Node   // all of them
}

func (t *treeText) read(n *html.Node) {
	blank := rune(0)
	var blankIn *html.Node
	var walk func(*html.Node)
	walk = func(n *html.Node) {
		switch {
		case n.Type == html.TextNode:
			if t.first == nil {
				t.first = n
			}
			t.texts = append(t.texts, n)
			for _, r := range n.Data {
				if unicode.IsSpace(r) && r != '\u00a0' {
					switch {
					case r == '\n' && blank != '\n':
						blank, blankIn = '\n', n
					case blank == 0:
						blank, blankIn = ' ', n
					}
					continue
				}
				if blank != 0 && len(t.signs) > 0 && t.signs[len(t.signs)-1] != '\n' {
					t.add(' ', blank, blankIn)
				}
				blank = 0
				t.add(r, r, n)
			}
		case n.Data == "br":
			blank = 0
			t.add('\n', '\n', n)
		}
		for c := n.FirstChild; c != nil; c = c.NextSibling {
			walk(c)
		}
	}
	walk(n)
	t.keep = make([]bool, len(t.signs))
	t.new = map[int]string{}
}

func (t *treeText) add(r, raw rune, n *html.Node) {
	t.signs, t.raw, t.in = append(t.signs, r), append(t.raw, raw), append(t.in, n)
}

// put notes new text before sign i. What replaces words stands where the first of them stood.
func (t *treeText) put(i int, s string) {
	for i > 0 && !t.keep[i-1] {
		i--
	}
	t.new[i] += s
}

// write gives the text nodes the signs that stay and the new ones.
func (t *treeText) write(box *html.Node) {
	made := map[*html.Node]*strings.Builder{}
	into := func(n *html.Node) *strings.Builder {
		if made[n] == nil {
			made[n] = &strings.Builder{}
		}
		return made[n]
	}
	for _, n := range t.texts {
		into(n)
	}
	if t.first == nil {
		t.first = &html.Node{Type: html.TextNode}
		box.AppendChild(t.first)
	}
	var gone []*html.Node
	for i := 0; i <= len(t.signs); i++ {
		if s := t.new[i]; s != "" {
			switch {
			case i < len(t.signs) && !t.keep[i] && t.in[i].Type == html.TextNode: // in place of a word
				into(t.in[i]).WriteString(asBreaks(s))
			case i > 0 && t.in[i-1].Type == html.TextNode:
				into(t.in[i-1]).WriteString(asBreaks(s))
			case i < len(t.signs) && t.in[i].Type == html.TextNode:
				into(t.in[i]).WriteString(asBreaks(s))
			default:
				into(t.first).WriteString(asBreaks(s))
			}
		}
		if i == len(t.signs) {
			break
		}
		switch {
		case t.in[i].Type != html.TextNode && !t.keep[i]:
			gone = append(gone, t.in[i])
		case t.in[i].Type == html.TextNode && t.keep[i]:
			into(t.in[i]).WriteRune(t.raw[i])
		case t.in[i].Type == html.TextNode:
			into(t.in[i])
		}
	}
	for n, b := range made {
		setLines(n, b.String())
	}
	for _, n := range gone {
		n.Parent.RemoveChild(n)
	}
}

// newBreak stands for a line end that is new, until it becomes <br>.
const newBreak = "\x00"

func asBreaks(s string) string { return strings.ReplaceAll(s, "\n", newBreak) }

// setLines gives a text node text; new line ends in it become <br>.
func setLines(n *html.Node, s string) {
	lines := strings.Split(s, newBreak)
	n.Data = lines[0]
	after := n.NextSibling
	for _, line := range lines[1:] {
		n.Parent.InsertBefore(&html.Node{Type: html.ElementNode, Data: "br"}, after)
		n.Parent.InsertBefore(&html.Node{Type: html.TextNode, Data: line}, after)
	}
}
