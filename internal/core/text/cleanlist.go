package text

import (
	"regexp"
	"slices"
	"strings"

	"golang.org/x/net/html"
)

// inList is the attribute under which a paragraph of a pasted list is known until it is made an item.
const inList = "data-list"

var (
	listStyle = regexp.MustCompile(`(?i)mso-list\s*:\s*l\d+\s+level(\d)`)
	bulleted  = regexp.MustCompile(`^[\s\x{a0}]*[·•▪◦‣*§o–—\-\x{f0b7}\x{f0a7}][\s\x{a0}]+`)
	numbered  = regexp.MustCompile(`^[\s\x{a0}]*(?:\d{1,3}|[a-zA-Z]|[ivxIVX]{1,5})[.)][\s\x{a0}]+`)
)

// listMark notes that a paragraph is one of a list that a word processor wrote as paragraphs.
func listMark(n *html.Node) []html.Attribute {
	style := attributeOf(n, "style")
	if m := listStyle.FindStringSubmatch(style); m != nil {
		return []html.Attribute{{Key: inList, Val: m[1]}}
	}
	if strings.Contains(attributeOf(n, "class"), "ListParagraph") {
		return []html.Attribute{{Key: inList, Val: "1"}}
	}
	return nil
}

var (
	typedBullet = regexp.MustCompile(`^[\s\x{a0}]*[•·▪◦‣*–—-][\s\x{a0}]+\S`)
	typedNumber = regexp.MustCompile(`^[\s\x{a0}]*(\d{1,3})[.)][\s\x{a0}]+\S`)
)

// typedLists notes which paragraphs are items of a list that somebody typed: at least two in a row with bullets, or
// with numbers that count from 1. Lines of one paragraph may be such items too.
func (c *cleaner) typedLists(out *html.Node) {
	for k := out.FirstChild; k != nil; k = k.NextSibling {
		if k.Data == "p" && holds(k, "br") {
			c.linesApart(out, k)
		}
	}
	for k := out.FirstChild; k != nil; {
		items, numbered := typedRun(k)
		if len(items) < 2 || numbered == 1 {
			k = k.NextSibling
			continue
		}
		for _, p := range items {
			p.Attr = []html.Attribute{{Key: inList, Val: "1"}}
		}
		k = items[len(items)-1].NextSibling
	}
}

// typedRun are the paragraphs from k on that are typed as items of one list; numbered is the last number, 0 for
// bullets.
func typedRun(k *html.Node) (items []*html.Node, numbered int) {
	for ; k != nil; k = k.NextSibling {
		if k.Type == html.TextNode && strings.TrimSpace(k.Data) == "" {
			continue
		}
		if k.Data != "p" || attributeOf(k, inList) != "" {
			return items, numbered
		}
		text := plain(k)
		m := typedNumber.FindStringSubmatch(text)
		switch {
		case m != nil && atoi(m[1]) == numbered+1 && (numbered > 0 || len(items) == 0):
			numbered++
		case m == nil && numbered == 0 && typedBullet.MatchString(text):
		default:
			return items, numbered
		}
		items = append(items, k)
	}
	return items, numbered
}

// linesApart makes paragraphs of the lines of one, where those are typed as items of a list.
func (c *cleaner) linesApart(out, p *html.Node) {
	lines := [][]*html.Node{nil}
	for k := p.FirstChild; k != nil; k = k.NextSibling {
		if k.Data == "br" && k.Type == html.ElementNode {
			lines = append(lines, nil)
			continue
		}
		lines[len(lines)-1] = append(lines[len(lines)-1], k)
	}
	typed := 0
	for _, line := range lines {
		words := ""
		for _, k := range line {
			words += plain(k)
		}
		if typedBullet.MatchString(words) || typedNumber.MatchString(words) {
			typed++
		}
	}
	if typed < 2 || typed < len(lines)-1 {
		return
	}
	before := p
	for _, line := range lines[1:] {
		q := newElement("p")
		for _, k := range line {
			p.RemoveChild(k)
			q.AppendChild(k)
		}
		out.InsertBefore(q, before.NextSibling)
		before = q
	}
	for k := p.FirstChild; k != nil; {
		next := k.NextSibling
		if k.Data == "br" && k.Type == html.ElementNode {
			p.RemoveChild(k)
		}
		k = next
	}
}

// lists makes lists of paragraphs that were written as lists.
func (c *cleaner) lists(out *html.Node) {
	var stack []*html.Node // open lists, by level
	for k := out.FirstChild; k != nil; {
		next := k.NextSibling
		level := attributeOf(k, inList)
		if k.Data != "p" || level == "" {
			if k.Type == html.ElementNode {
				stack = nil
			}
			k = next
			continue
		}
		depth := int(level[0] - '0')
		depth = max(1, min(depth, len(stack)+1))
		tag := c.takeMark(k)
		stack = stack[:min(len(stack), depth)]
		if len(stack) == depth && stack[depth-1].Data != tag {
			stack = stack[:depth-1]
		}
		if len(stack) < depth {
			l := newElement(tag)
			if depth == 1 {
				out.InsertBefore(l, k)
			} else {
				stack[depth-2].LastChild.AppendChild(l)
			}
			stack = append(stack, l)
		}
		out.RemoveChild(k)
		k.Data, k.Attr = "li", nil
		stack[depth-1].AppendChild(k)
		k = next
	}
}

// takeMark takes the typed bullet or number off a paragraph and says which list it belongs to.
func (c *cleaner) takeMark(p *html.Node) string {
	text := plain(p)
	tag, cut := "ul", ""
	switch {
	case bulleted.MatchString(text):
		cut = bulleted.FindString(text)
	case numbered.MatchString(text):
		cut, tag = numbered.FindString(text), "ol"
	}
	if cut == "" {
		return tag
	}
	c.drop("typed bullet or number")
	left := len(cut)
	var walk func(*html.Node)
	walk = func(n *html.Node) {
		if n.Type == html.TextNode {
			take := min(left, len(n.Data))
			n.Data, left = n.Data[take:], left-take
		}
		for k := n.FirstChild; k != nil && left > 0; k = k.NextSibling {
			walk(k)
		}
	}
	walk(p)
	return tag
}

func plain(n *html.Node) string {
	if n.Type == html.TextNode {
		return n.Data
	}
	s := ""
	for k := n.FirstChild; k != nil; k = k.NextSibling {
		s += plain(k)
	}
	return s
}

// tidy takes out what is empty, joins equal marks that meet, and trims blocks.
func (c *cleaner) tidy(n *html.Node) {
	for k := n.FirstChild; k != nil; {
		next := k.NextSibling
		if k.Type == html.ElementNode {
			c.tidy(k)
			k.Attr = withoutNotes(k.Attr)
			switch {
			case k.Data == "br" || k.Data == "td" || k.Data == "th" || k.Data == "tr":
			case k.FirstChild == nil || strings.TrimSpace(plain(k)) == "" && !holds(k, "br") && k.Data != "table":
				if blockNames[k.Data] {
					c.drop("empty paragraph")
				} else if s := plain(k); s != "" {
					n.InsertBefore(&html.Node{Type: html.TextNode, Data: s}, k)
				}
				n.RemoveChild(k)
			case k.PrevSibling != nil && !blockNames[k.Data] && k.PrevSibling.Type == html.ElementNode && k.PrevSibling.Data == k.Data && slices.Equal(k.Attr, k.PrevSibling.Attr):
				for k.FirstChild != nil {
					w := k.FirstChild
					k.RemoveChild(w)
					k.PrevSibling.AppendChild(w)
				}
				n.RemoveChild(k)
			}
		}
		k = next
	}
	if blockNames[n.Data] && n.Data != "table" && n.Data != "tr" && n.Data != "tbody" {
		trim(n)
	}
}

func withoutNotes(as []html.Attribute) (kept []html.Attribute) {
	for _, a := range as {
		if a.Key != open && a.Key != inList {
			kept = append(kept, a)
		}
	}
	return kept
}

func holds(n *html.Node, tag string) bool {
	for k := n.FirstChild; k != nil; k = k.NextSibling {
		if k.Data == tag || holds(k, tag) {
			return true
		}
	}
	return false
}

// trim takes blanks and line breaks off the ends of a block, and blanks beside line breaks and doubled blanks out of
// it.
func trim(n *html.Node) {
	var texts []*html.Node
	var walk func(*html.Node)
	walk = func(k *html.Node) {
		for x := k.FirstChild; x != nil; x = x.NextSibling {
			if x.Type == html.TextNode || x.Data == "br" || x.Data == "ul" || x.Data == "ol" {
				texts = append(texts, x)
			}
			if x.Data != "ul" && x.Data != "ol" {
				walk(x)
			}
		}
	}
	walk(n)
	fresh := true
	for _, t := range texts {
		if t.Type != html.TextNode {
			fresh = true
			continue
		}
		if fresh {
			t.Data = strings.TrimLeft(t.Data, " ")
		}
		if t.Data != "" {
			fresh = strings.HasSuffix(t.Data, " ")
		}
	}
	end := true
	for i := len(texts) - 1; i >= 0; i-- {
		t := texts[i]
		if t.Type != html.TextNode {
			if t.Data == "br" && end && t.Parent != nil && onlyAtEnd(texts, i) {
				t.Parent.RemoveChild(t)
				continue
			}
			end = true
			continue
		}
		if end {
			t.Data = strings.TrimRight(t.Data, " ")
		}
		if t.Data != "" {
			end = false
		} else if t.Parent != nil {
			t.Parent.RemoveChild(t)
		}
	}
}

// onlyAtEnd reports whether nothing to read follows texts[i].
func onlyAtEnd(texts []*html.Node, i int) bool {
	for _, t := range texts[i+1:] {
		if t.Parent != nil && (t.Type == html.TextNode && strings.TrimSpace(t.Data) != "" || t.Data == "ul" || t.Data == "ol") {
			return false
		}
	}
	return true
}

// flatten makes one run of words of blocks, a line break between them.
func (c *cleaner) flatten(out *html.Node) *html.Node {
	var lines [][]*html.Node
	var walk func(*html.Node)
	walk = func(n *html.Node) {
		var line []*html.Node
		flush := func() {
			if len(line) > 0 {
				lines = append(lines, line)
			}
			line = nil
		}
		for k := n.FirstChild; k != nil; k = k.NextSibling {
			if k.Type == html.ElementNode && blockNames[k.Data] {
				flush()
				walk(k)
				continue
			}
			line = append(line, k)
		}
		flush()
	}
	walk(out)
	flat := newElement("body")
	for i, line := range lines {
		if i > 0 {
			flat.AppendChild(newElement("br"))
		}
		for _, k := range line {
			k.Parent.RemoveChild(k)
			flat.AppendChild(k)
		}
	}
	return flat
}
