package change

import (
	"mendry/internal/core/page"
	"mendry/internal/core/source"
)

// Run is neighbouring blocks of one flow of text, which are edited as one: headings, paragraphs, quotes and items of
// lists, and between them sealed blocks that an editor does not know.
type Run struct {
	Blocks []Block
}

// Block is one block of a run.
type Block struct {
	Part *page.Part // nil where a sealed block is no part by itself
	Form Form       // empty for a sealed block
	Name string     // what a sealed block is called
	node *source.Node
}

// Sealed reports whether an editor moves or leaves the block as a whole.
func (b Block) Sealed() bool { return b.Form == "" }

// Runs lists the runs of a page in document order. Blocks of words that stand alone among other things are runs of
// one; links, buttons, table cells and words without an element of their own are in none.
func Runs(p *page.Page) (runs []Run) {
	p.Doc.Root.Walk(func(n *source.Node) bool {
		if n.HTML.Namespace != "" {
			return false
		}
		if len(n.Kids) > 0 && !n.Is("ul", "ol", "p", "table", "tr") {
			runs = append(runs, runsAmong(p, n)...)
		}
		return true
	})
	return runs
}

// RunWith finds the run that a part is in, by its place in Runs; -1 where it is in none.
func RunWith(runs []Run, id string) int {
	for i, r := range runs {
		for _, b := range r.Blocks {
			if b.Part != nil && b.Part.ID == id {
				return i
			}
		}
	}
	return -1
}

// runsAmong finds the runs among the children of a node.
func runsAmong(p *page.Page, n *source.Node) (runs []Run) {
	var now []Block
	end := func() {
		for len(now) > 0 && now[len(now)-1].Sealed() {
			now = now[:len(now)-1]
		}
		if len(now) > 0 {
			runs = append(runs, Run{now})
		}
		now = nil
	}
	for _, k := range n.Kids {
		blocks, goes := blocksOf(p, k)
		if !goes {
			end()
			continue
		}
		if len(now) == 0 {
			for len(blocks) > 0 && blocks[0].Sealed() {
				blocks = blocks[1:]
			}
		}
		now = append(now, blocks...)
	}
	end()
	return runs
}

// blocksOf are the blocks that a child of a flow makes: none for what is not seen, one, or those of a list. It reports
// false where the flow ends at it.
func blocksOf(p *page.Page, n *source.Node) (blocks []Block, goes bool) {
	switch {
	case n.IsText():
		return nil, n.Blank
	case n.Tag() == "" || n.Is("script", "style", "template", "noscript", "link", "meta"):
		return nil, true
	case n.Is("ul", "ol"):
		if blocks := itemsOf(p, n); blocks != nil {
			return blocks, true
		}
	case n.Is("blockquote"):
		if part := only(p, n); part != nil && FormOf(part) == Quote && part.Locked == "" {
			return []Block{{Part: part, Form: Quote, node: n}}, true
		}
	case n.Is("a", "span", "br", "button", "input", "select", "label", "form", "section", "article", "header", "footer", "nav", "aside", "main", "head", "title", "body"):
		return nil, false
	}
	part, is := p.At(n)
	if is {
		if form := FormOf(part); form != "" && part.Locked == "" && (part.Kind == page.Heading || part.Kind == page.Words) {
			return []Block{{Part: part, Form: form, node: n}}, true
		}
		if part.Kind.Whole() && part.Kind != page.Table && !(part.Kind == page.Section && n.Is("figure")) {
			return nil, false
		}
	} else {
		for _, q := range p.Within(n) {
			if q.Kind.Whole() && q.Kind != page.Table && q.Kind != page.Row {
				return nil, false // it has a life of its own
			}
		}
		part = nil
	}
	return []Block{{Part: part, Name: nameOf(p, n, part), node: n}}, true
}

// itemsOf are the items of a list; nil where it is not one of words alone.
func itemsOf(p *page.Page, list *source.Node) (blocks []Block) {
	for _, k := range list.Kids {
		if k.Tag() == "" {
			continue
		}
		part, ok := p.At(k)
		if !ok || part.Locked != "" || FormOf(part) == "" || part.Kind != page.Words {
			return nil
		}
		blocks = append(blocks, Block{Part: part, Form: FormOf(part), node: k})
	}
	return blocks
}

// only is the part that is the one element in n; nil where there is none.
func only(p *page.Page, n *source.Node) *page.Part {
	var found *page.Part
	for _, k := range n.Kids {
		if k.Tag() == "" {
			continue
		}
		part, ok := p.At(k)
		if found != nil || !ok {
			return nil
		}
		found = part
	}
	return found
}

// nameOf is what a sealed block is called: by its part, by the first part in it, or by its tag.
func nameOf(p *page.Page, n *source.Node, part *page.Part) string {
	if part != nil {
		return part.Name
	}
	if in := p.Within(n); len(in) > 0 {
		return in[0].Name
	}
	if n.Is("hr") {
		return "rule"
	}
	return page.Short(p.TextOf(n)+" <"+n.Tag()+">", 48)
}
