package page

import (
	"fmt"
	"sort"
	"strings"
	"unicode/utf8"

	"mendry/internal/core/source"
)

// Like says in words what the items of a set are.
func (p *Page) Like(set *Part) string {
	items := set.Items()
	inMenu, paged, slider := false, false, inSlider(set)
	for n, i := set.Node, 0; n != nil; n, i = n.Parent, i+1 {
		inMenu = inMenu || n.Is("nav") || role(n, "navigation")
		if i > holdersAbove {
			continue
		}
		paged = paged || (classSays(n)|wordsSay(p.Doc.Value(n, "aria-label")))&saysPaging != 0
	}
	if _, levels := entriesOf(set.Node, nil, nil); levels > 1 {
		inMenu = true
	}
	is := map[string]int{}
	for _, item := range items {
		is[p.itemLike(item)]++
	}
	most := len(items)/2 + 1
	switch {
	case len(items) > 0 && items[0].Half != "" && !slider:
		return "tabs"
	case inMenu && !paged && (is["link"] >= most || is["picture"] == 0):
		return "menu"
	case is["picture"] >= most:
		return "pictures"
	case is["link"] >= most:
		return "links"
	case is["icon"] >= most:
		return "icons"
	case is["voice"] >= most, classSays(set.Node)&saysVoices != 0:
		return "voices"
	case classSays(set.Node)&saysSliding != 0:
		return p.slides(items)
	case is["question"] >= most:
		return "questions"
	case slider, len(set.Settings) > 0:
		return p.slides(items)
	case is["entry"] >= most:
		return "entries"
	}
	return p.tell(items[:min(len(items), told)])
}

// slides is what the items of a sliding set are: posts where they are dated, else slides.
func (p *Page) slides(items []*Part) string {
	if p.tell(items[:min(len(items), told)]) == "posts" {
		return "posts"
	}
	return "slides"
}

// OneShows reports whether one item of a set is shown at a time, so that one of them has to be: a tab or a slide.
func (p *Page) OneShows(set *Part) bool {
	if items := set.Items(); len(items) > 0 && items[0].Half != "" {
		return true
	}
	return inSlider(set)
}

// inSlider reports whether a set slides, by the classes of its element and of those around it.
func inSlider(set *Part) bool {
	for n, i := set.Node, 0; n != nil && i <= holdersAbove; n, i = n.Parent, i+1 {
		if classSays(n)&saysSliding != 0 {
			return true
		}
	}
	return false
}

// itemLike is what one item is: a picture, link, icon, voice, question or entry, or nothing of these.
func (p *Page) itemLike(item *Part) string {
	switch {
	case item.Kind == Picture || item.Text == "" && pictured(item) != "":
		return "picture"
	case item.Kind == Link || item.Kind == Button || item.Run == nil && item.Node.Is("a", "button"),
		len(item.Parts) == 1 && (item.Parts[0].Kind == Link || item.Parts[0].Kind == Button) && item.Parts[0].Text == item.Text:
		return "link"
	case item.Text == "" && len(item.Parts) == 0:
		return "icon"
	case item.Run != nil && item.Run[0].Is("dt") && !Asks(firstLine(item.Text)):
		return "entry"
	case item.Node.Is("blockquote") && item.Run == nil || holdsTag(item, "blockquote"):
		return "voice"
	case item.Kind == Words:
		return "entry"
	case item.Node.Is("details") && item.Run == nil,
		strings.Contains(firstLine(item.Text), "?"),
		item.Run == nil && opensItself(item.Node, classSays),
		item.Run != nil && opensSomething(item.Run[0], classSays):
		return "question"
	}
	return ""
}

// told is how many items are read to tell what they are of: reading takes longer than looking, and a set is one of
// alike things.
const told = 2

// tell says what items are by what they say: prices, posts with a day and a link, or cards.
func (p *Page) tell(items []*Part) string {
	priced, dated := 0, 0
	for _, item := range items {
		if !holdsTag(item, "img") && prices(item.Text) {
			priced++
		}
		if p.dates(item) {
			dated++
		}
	}
	switch {
	case 2*priced > len(items):
		return "prices"
	case 2*dated > len(items):
		return "posts"
	}
	return "cards"
}

// prices reports whether words hold a price: a number beside the sign of a currency.
func prices(s string) bool {
	for i, r := range s {
		if !strings.ContainsRune("£€$¥", r) {
			continue
		}
		before, after := strings.TrimRight(s[:i], " \u00a0"), strings.TrimLeft(s[i+utf8.RuneLen(r):], " \u00a0")
		if after != "" && isDigit(after[0]) || before != "" && isDigit(before[len(before)-1]) {
			return true
		}
	}
	return false
}

func firstLine(s string) string {
	line, _, _ := strings.Cut(s, "\n")
	return line
}

// dates reports whether an item says when it is of: with a time, and a link to more.
func (p *Page) dates(item *Part) bool {
	if item.Run != nil {
		return false
	}
	linked, dated := false, false
	item.Node.Walk(func(n *source.Node) bool {
		linked = linked || n.Is("a") && p.leads(n)
		dated = dated || n.Is("time")
		return true
	})
	return linked && (dated || ofDay(item.Text))
}

// near is how many bytes before a year a day of it is looked for, as in "12 September 2026" and "September 12, 2026".
const near = 16

// ofDay reports whether words hold a day of a year of this century.
func ofDay(s string) bool {
	for from := 0; ; {
		i := strings.Index(s[from:], "20")
		if i < 0 {
			return false
		}
		at := from + i
		from = at + 2
		if at+4 > len(s) || !isDigit(s[at+2]) || !isDigit(s[at+3]) || at > 0 && isDigit(s[at-1]) ||
			at+4 < len(s) && isDigit(s[at+4]) {
			continue
		}
		rest := s[at+4:]
		if len(rest) >= 6 && rest[0] == '-' && rest[3] == '-' ||
			strings.ContainsAny(s[max(0, at-near):at], "0123456789") {
			return true
		}
	}
}

func isDigit(b byte) bool { return '0' <= b && b <= '9' }

func holdsTag(part *Part, tag string) bool {
	found := false
	for _, top := range part.Nodes() {
		top.Walk(func(n *source.Node) bool {
			found = found || n.Is(tag)
			return !found
		})
	}
	return found
}

// setName names a set by what its items are, how many they are, and the heading above: "4 cards under “Our coaches”".
func (p *Page) setName(set *Part) string {
	heading := ""
	if title := p.TitleOf(set); title != nil {
		heading = title.Text
	}
	n := len(set.Items())
	switch like := p.Like(set); {
	case like == "menu":
		return fmt.Sprintf("Menu, %d entries", n)
	case heading != "":
		return fmt.Sprintf("%d %s under “%s”", n, like, Short(heading, 32))
	default:
		return fmt.Sprintf("%d %s", n, like)
	}
}

const headingsBack = 24 // headings before a set that are looked at, such as those of the items of other sets

// TitleOf is the heading that a part stands under: the last one before it that is not in something else, such as an
// item or another section; nil where there is none.
func (p *Page) TitleOf(part *Part) *Part {
	heads := p.Headings()
	at := sort.Search(len(heads), func(i int) bool { return heads[i].order >= part.order })
	for i := at - 1; i >= 0 && i >= at-headingsBack; i-- {
		if heads[i].Text != "" && standsOver(heads[i], part) {
			return heads[i]
		}
	}
	return nil
}

// standsOver reports whether a heading before a part is of what the part stands in.
func standsOver(heading, part *Part) bool {
	in := heading.Parent
	if in != nil && in.Kind == Section && !holds(in, part) && headOnly(in) {
		if beside := childHolding(in.Parent, part); beside == nil || partBefore(in.Parent, beside) != in {
			return false
		}
		in = in.Parent
	}
	if in != nil && !holds(in, part) {
		return false
	}
	below := childHolding(in, part)
	return below == nil || below == part || below.Run != nil || !below.Node.Is("footer", "nav", "header", "aside")
}

func holds(part, other *Part) bool { return part.Start <= other.Start && part.End >= other.End }

// headOnly reports whether a section holds a heading and words alone, as what stands above a set.
func headOnly(section *Part) bool {
	for _, k := range section.Parts {
		if k.Kind != Heading && k.Kind != Words {
			return false
		}
	}
	return true
}

// childHolding is the part of in, or of the page where that is nil, that is the set or holds it.
func childHolding(in, set *Part) *Part {
	for up := set; up != nil; up = up.Parent {
		if up.Parent == in {
			return up
		}
	}
	return nil
}

// partBefore is the part before another one in what both stand in; nil where it is the first.
func partBefore(in, part *Part) (before *Part) {
	if in == nil {
		return nil
	}
	for _, k := range in.Parts {
		if k == part {
			return before
		}
		before = k
	}
	return nil
}
