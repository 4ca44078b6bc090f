package page

import (
	"bytes"
	"slices"
	"strings"

	"mendry/internal/core/source"
)

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
	p.findIn(n, n.Kids, parent, inWords)
}

// findIn looks for parts in neighbouring children of n, of which several may be one item.
func (p *Page) findIn(n *source.Node, kids []*source.Node, parent *Part, inWords bool) {
	for i := 0; i < len(kids); i++ {
		if !p.traits[kids[i].Index].is(isGroup) || parent == nil || parent.Kind != Set {
			p.find(kids[i], parent, inWords)
			continue
		}
		from, last := i, p.groups[kids[i]]
		for kids[i] != last {
			i++
		}
		item := p.takeRun(n, kids[from:i+1:i+1], Item, parent)
		item.inSet = true
		for _, k := range item.Run {
			p.find(k, item, inWords)
		}
	}
}

// noRuns are elements whose own text is not shown, or not as words.
var noRuns = words("table thead tbody tfoot tr ul ol dl menu select html head frameset picture video audio")

// findAmongBlocks goes through children of which some are words and some are blocks: words between blocks are a part,
// and so is a set that has no element of its own.
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
			p.findIn(n, set.Run, set, false)
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
		case k.Is("button"), k.Is("a") && p.leads(k):
			links++
			text = text || t.text && len(run) > 1
		case t.text:
			text = true
		}
	}
	return text && !(links == 1 && len(run) == 1)
}

func (p *Page) attributesOf(n *source.Node) Attributes {
	if p.Doc.Encoding.Plain() {
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
	part.Kind, part.Node = kind, n
	part.inSet = p.traits[n.Index].is(isInSet) && parent != nil && parent.Kind == Set
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
	part := p.newPart()
	part.Kind, part.Node, part.Run = kind, n, run
	if kind == Set {
		part.Settings = p.settingsOf(n)
	}
	p.add(part, parent)
	return part
}

// measure says where a part stands in the page's bytes, and what is written there.
func (p *Page) measure(part *Part) {
	n := part.Node
	switch {
	case part.Background:
		at := p.backgroundIn(n)
		part.Start, part.End, part.InnerStart, part.InnerEnd = at.Start, at.End, at.Start, at.End
	case part.Run != nil:
		first, last := part.Run[0], part.Run[len(part.Run)-1]
		start, end := first.Start(), last.End()
		if first.IsText() {
			start += blanks(p.Doc.Bytes[start:end], false)
		}
		if last.IsText() {
			end -= blanks(p.Doc.Bytes[start:end], true)
		}
		part.Text = p.text.between(first, last)
		part.Start, part.End, part.InnerStart, part.InnerEnd = start, end, start, end
	default:
		part.Text = p.text.of(n)
		part.Start, part.End, part.InnerStart, part.InnerEnd = n.Start(), n.End(), n.InnerStart(), n.InnerEnd()
	}
	if part.Placed() {
		part.HTML = p.htmlOf(part)
	}
	if p.codes && part.Kind.HasWords() {
		part.Tokens = tokensIn(part.HTML)
	}
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
	part.Parts, part.Parent, part.order = []*Part{}, parent, int32(len(p.All))
	p.measure(part)
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
