package change

import (
	"bytes"
	"fmt"
	"slices"

	"mendry/internal/core/page"
	"mendry/internal/core/source"
)

// say makes of the changes what they were: words that got another form are one, and no words that are gone beside others
// that are new; the cells of a column are the column.
func (c *comparison) say() {
	c.said = slices.Clone(c.Changes)
	c.forms()
	c.columns()
}

// forms brings together what is gone and what is new with the same words. Where nothing differs outside but what goes
// with their forms, the list around them or between them, nothing does.
func (c *comparison) forms() {
	cutOld, cutNew := slices.Clone(c.cutOld), slices.Clone(c.cutNew)
	recast := func(was, now *page.Part, spanWas, spanNow source.Span) {
		replaceSpan(cutOld, spanWas, formSpan(c.old.Doc, was, now))
		replaceSpan(cutNew, spanNow, formSpan(c.now.Doc, now, was))
	}
	for i := 0; i < len(c.said); i++ {
		d := &c.said[i]
		if was, now := wordsAlone(d.Was, nil), wordsAlone(d.Now, nil); was != nil && now != nil && FormOf(was) != FormOf(now) {
			spanWas, spanNow := copied(was), copied(now)
			if d.Kind == "section" { // what only gets something around it seems to move
				spanWas, spanNow = withLine(c.old.Doc, was.Start, was.End), withLine(c.now.Doc, now.Start, now.End)
			}
			if was.Text == now.Text {
				*d = Between(was, now)
				d.Say = becomesForm(was, now)
			}
			recast(was, now, spanWas, spanNow)
			continue
		}
		gone := wordsAlone(d.Was, d.Now)
		if gone == nil {
			continue
		}
		at := slices.IndexFunc(c.said, func(d Diff) bool {
			n := wordsAlone(d.Now, d.Was)
			return n != nil && n.Text == gone.Text
		})
		if at < 0 {
			continue
		}
		now := wordsAlone(c.said[at].Now, nil)
		was, is := d.Was[0], c.said[at].Now[0]
		*d = Between(gone, now)
		d.Say = becomesForm(gone, now)
		c.said = slices.Delete(c.said, at, at+1)
		if at < i {
			i--
		}
		recast(gone, now, withLine(c.old.Doc, was.Start, was.End), withLine(c.now.Doc, is.Start, is.End))
	}
	c.OutsideSame = c.OutsideSame || bytes.Equal(without(c.old.Doc.Bytes, cutOld), without(c.now.Doc.Bytes, cutNew))
}

// wordsAlone are the words of what is gone, or new, as a whole; nil where it is something else.
func wordsAlone(whole, other []*page.Part) *page.Part {
	if len(whole) != 1 || len(other) != 0 {
		return nil
	}
	part := whole[0]
	for !leaf(part) && len(part.Parts) == 1 {
		part = part.Parts[0]
	}
	if !leaf(part) || !part.Kind.HasWords() || part.Kind == page.Cell || part.Text == "" {
		return nil
	}
	return part
}

func becomesForm(was, now *page.Part) string {
	switch link := now.Node.Is("a"); {
	case link && !was.Node.Is("a"):
		return page.Quoted(was.Name) + " becomes a link"
	case !link && was.Node.Is("a"):
		return page.Quoted(was.Name) + " is no link any more"
	case FormOf(was) == FormOf(now) || FormOf(now) == "":
		return page.Quoted(was.Name) + " stands in something else now"
	}
	return fmt.Sprintf("%s becomes %s", page.Quoted(was.Name), FormOf(now).Say())
}

// formSpan is what goes with the form of words: the list around them where they stand in it alone, and where they
// stand between two that were one with them, or will be, what ends and begins these.
func formSpan(d *source.Doc, part, other *page.Part) source.Span {
	n := extent(part)
	if around := n.Parent; around != nil && n.Is("a") && other.Node.Is("p") && around.Is("p") && len(around.Kids) == 1 {
		n = around // a link that stands alone in a paragraph is a part by itself
	}
	if around := n.Parent; around != nil && amongItems(other) && !n.Is("li") {
		var before, after *source.Node
		for _, k := range around.Kids {
			switch {
			case k.Tag() == "":
			case k.Start() < n.Start():
				before = k
			case k.Start() > n.Start() && after == nil:
				after = k
			}
		}
		if before != nil && after != nil && before.Is("ul", "ol") && after.Is(before.Tag()) {
			start := before.InnerEnd()
			for _, k := range before.Kids {
				if k.Tag() != "" {
					start = k.End()
				}
			}
			return source.Span{Start: start, End: after.InnerStart()}
		}
	}
	return withLine(d, n.Start(), n.End())
}

func replaceSpan(in []source.Span, was, now source.Span) {
	if i := slices.Index(in, was); i >= 0 {
		in[i] = now
	}
}

// columns brings together the cells of a table that are gone, or new, one in each of its rows.
func (c *comparison) columns() {
	c.column("is gone", func(d Diff) *page.Part { return cellAlone(d.Was, d.Now) })
	c.column("is new", func(d Diff) *page.Part { return cellAlone(d.Now, d.Was) })
}

func (c *comparison) column(became string, cell func(Diff) *page.Part) {
	in := map[*page.Part][]int{} // by table, where its cells stand in said
	for i, d := range c.said {
		if it := cell(d); it != nil {
			in[it.Parent.Parent] = append(in[it.Parent.Parent], i)
		}
	}
	var rest []int
	for table, at := range in {
		rows := map[*page.Part]bool{}
		for _, r := range table.Parts {
			if r.Kind == page.Row {
				rows[r] = true
			}
		}
		n := len(rows)
		for _, i := range at {
			delete(rows, cell(c.said[i]).Parent)
		}
		if n < 2 || len(at) != n || len(rows) > 0 {
			continue
		}
		first := &c.said[at[0]]
		name := ""
		if head := cell(*first); head.Text != "" {
			name = " " + page.Quoted(page.Short(head.Text, 40))
		}
		first.Say = fmt.Sprintf("The column%s of %s %s", name, table.Name, became)
		rest = append(rest, at[1:]...)
	}
	slices.Sort(rest)
	for _, i := range slices.Backward(rest) {
		c.said = slices.Delete(c.said, i, i+1)
	}
}

// cellAlone is the cell that is gone, or new; nil where it is something else.
func cellAlone(whole, other []*page.Part) *page.Part {
	if len(whole) != 1 || len(other) != 0 || whole[0].Kind != page.Cell || whole[0].Parent == nil || whole[0].Parent.Parent == nil {
		return nil
	}
	return whole[0]
}
