package page

import (
	"bytes"
	"sort"
	"unicode/utf8"

	"mendry/internal/core/source"
	"mendry/internal/core/text"
)

// lock says why a part cannot be changed safely, or nothing.
func (p *Page) lock(part *Part) string {
	n := part.Node
	words := part.Kind.HasWords()
	switch {
	case p.crossed(part):
		return "A code of another program begins or ends outside it, or stands in its tag in a way that no browser reads; it is kept as it is."
	case !part.Placed():
		return "The markup around it is broken, so its beginning and end cannot be told apart from its neighbours'."
	case p.torn(part):
		return "The markup inside it is broken: tags are not closed in the order in which they were opened."
	case part.Kind == Form:
		return "Forms send what visitors fill in; they are kept as they are."
	case part.Kind == Cell && p.traits[n.Index].mixed():
		return "This cell holds several parts. Change them one by one."
	case words && part.Run == nil && p.traits[n.Index].control:
		return "A field that visitors fill in stands in these words; they are kept as they are."
	case words && !p.whole && p.Doc.Encoding.Name == "utf-8" && !utf8.Valid(p.Doc.Bytes[part.Start:part.End]):
		return "It holds broken characters; a change would alter them unseen."
	case p.Doc.Format == source.Markdown && words && n.Is("pre"):
		return "A block of code is kept as it is."
	case p.Doc.Format == source.Markdown && words && raw(part):
		return "Markup of its own stands in these words; they are kept as they are."
	}
	return ""
}

// crossed reports whether a template mark lies over an edge of a part, or the part in a mark. One that lies whole in
// an attribute of its tag, or whole among its words, does not.
func (p *Page) crossed(part *Part) bool {
	if len(p.marks) == 0 {
		return false
	}
	for _, edge := range [...]int{part.Start, part.InnerStart, part.InnerEnd, part.End} {
		i := sort.Search(len(p.marks), func(i int) bool { return p.marks[i].End >= edge })
		if i == len(p.marks) {
			continue
		}
		m := p.marks[i]
		if m.Start < edge && edge < m.End {
			return true
		}
		// A mark that ended a tag with its own ">": what is left of the tag is read as words.
		if m.End == edge && (edge == part.InnerStart && m.Start > part.Start || edge == part.Start && part.Kind.HasWords() && p.inTag(m)) {
			return true
		}
	}
	return false
}

// inTag reports whether a mark stands in a tag.
func (p *Page) inTag(m text.Token) bool {
	before := p.Doc.Bytes[max(0, m.Start-longTag):m.Start]
	return bytes.LastIndexByte(before, '<') > bytes.LastIndexByte(before, '>')
}

const longTag = 4096 // bytes before a mark in which the beginning of its tag is looked for

// torn reports whether the part, or for words anything in it, could not be brought together with its bytes.
func (p *Page) torn(part *Part) bool {
	if part.Background {
		return false
	}
	for _, n := range part.Nodes() {
		if n.Torn {
			return true
		}
	}
	return false
}

// raw reports whether HTML stands in the Markdown of a part.
func raw(part *Part) bool {
	found := false
	for _, n := range part.Nodes() {
		n.Walk(func(k *source.Node) bool {
			found = found || k.HTML.Type == rawNode
			return !found
		})
	}
	return found
}

// tokensIn lists the codes of other programs in markup.
func tokensIn(markup string) (codes []string) {
	for _, t := range text.Tokens(markup) {
		codes = append(codes, markup[t.Start:t.End])
	}
	return codes
}
