package change

import (
	"bytes"
	"cmp"
	"strings"

	"mendry/internal/core/page"
	"mendry/internal/core/source"
)

// single tells a difference that is one act on one part, or on some that stand side by side: put in, taken out or
// moved. It goes by the bytes alone, so that what an act does to the parts around it (a section becomes an item, a set
// grows) is no change of theirs. It reports false where the difference is something else.
func (c *comparison) single() bool {
	old, now := c.old.Doc.Bytes, c.now.Doc.Bytes
	from := commonPrefix(old, now)
	back := commonSuffix(old[from:], now[from:])
	gone, new := source.Span{Start: from, End: len(old) - back}, source.Span{Start: from, End: len(now) - back}
	switch {
	case gone.Start == gone.End:
		if ps := slid(c.now, new, commonSuffix(now[:new.Start], now[new.Start:new.End])); ps != nil {
			return c.put(Diff{Now: ps, After: markupOf(c.now, ps), Say: "is new"})
		}
	case new.Start == new.End:
		if ps := slid(c.old, gone, commonSuffix(old[:gone.Start], old[gone.Start:gone.End])); ps != nil {
			return c.put(Diff{Was: ps, Before: markupOf(c.old, ps), Say: "is gone"})
		}
	case gone.End-gone.Start == new.End-new.Start && c.rotation(gone):
		return true
	default:
		return c.moved(gone, new)
	}
	return false
}

// mostMoved is how many parts are tried as the one that moved.
const mostMoved = 60

// moved tells a part that stands elsewhere, with other white space to set it off.
func (c *comparison) moved(gone, new source.Span) bool {
	within := func(q *page.Part, s source.Span) bool {
		return q.End > s.Start && q.Start < s.End && !q.Background && q.Placed()
	}
	tried := 0
	for _, was := range c.old.All {
		if !within(was, gone) {
			continue
		}
		for _, is := range c.now.All {
			if !within(is, new) || is.HTML != was.HTML || tried == mostMoved {
				continue
			}
			tried++
			if Outside(c.old, c.now, was, is) {
				return c.put(Diff{
					Was: []*page.Part{was}, Now: []*page.Part{is}, Before: was.HTML, After: was.HTML,
					Say: cmp.Or(c.framed(was, is), "moves"),
				})
			}
		}
	}
	return false
}

// framed says what a picture stands in now that stays in its place; empty where that is the same, or the picture
// moves.
func (c *comparison) framed(was, is *page.Part) string {
	if !is.Held() || !bytes.Equal(c.old.Doc.Bytes[:WholeSpan(was).Start], c.now.Doc.Bytes[:WholeSpan(is).Start]) {
		return ""
	}
	linkWas, captionWas := c.frameOf(c.old, was)
	link, caption := c.frameOf(c.now, is)
	var says []string
	switch {
	case linkWas == link:
	case link == "":
		says = append(says, "leads nowhere now")
	default:
		says = append(says, "leads to "+link+" now")
	}
	switch {
	case captionWas == caption:
	case caption == "":
		says = append(says, "has no caption any more")
	default:
		says = append(says, "has the caption "+page.Quoted(page.Short(caption, 60))+" now")
	}
	return strings.Join(says, " and ")
}

// frameOf is where the link around a picture leads, and the caption of its figure; empty where there is none.
func (c *comparison) frameOf(p *page.Page, part *page.Part) (link, caption string) {
	holder := page.Holder(part)
	for n := part.Node; n != nil; n = n.Parent {
		if n.Is("a") {
			link = p.Doc.Value(n, "href")
		}
		for _, k := range n.Kids {
			if q, ok := p.At(k); ok && n.Is("figure") && k.Is("figcaption") {
				caption = q.Text
			}
		}
		if n == holder {
			break
		}
	}
	return link, caption
}

// put notes the one change, of parts that stand side by side; Say is what became of them.
func (c *comparison) put(d Diff) bool {
	ps := d.Was
	if len(ps) == 0 {
		ps = d.Now
	}
	d.Kind, d.Part, d.Name = "section", ps[0].ID, ps[0].Name
	if len(d.Now) > 0 {
		d.Part = d.Now[0].ID
	}
	if n := len(ps); n > 1 {
		d.Name = page.Quoted(ps[0].Name) + " to " + page.Quoted(ps[n-1].Name)
	}
	d.Say = d.Name + " " + d.Say
	c.Changes = append(c.Changes, d)
	c.OutsideSame = true
	if len(d.Was) > 0 {
		c.Touched = ps[len(ps)-1].End - ps[0].Start
	}
	return true
}

func markupOf(p *page.Page, ps []*page.Part) string {
	return p.Doc.Markup(p.Doc.Bytes[ps[0].Start:ps[len(ps)-1].End])
}

// rotation tells a stretch of the old page that became the same with its beginning at its end: something in it moved.
func (c *comparison) rotation(at source.Span) bool {
	old, now := c.old.Doc.Bytes, c.now.Doc.Bytes
	was, is := old[at.Start:at.End], now[at.Start:at.End]
	k := bytes.Index(append(bytes.Clone(was), was...), is)
	if k <= 0 || k >= len(was) {
		return false
	}
	// was is x y, is is y x; both may begin earlier by what all of them end with.
	x, y := was[:k], was[k:]
	slide := min(commonSuffix(x, y), commonSuffix(old[:at.Start], y))
	for _, moved := range []source.Span{{Start: at.Start, End: at.Start + k}, {Start: at.Start + k, End: at.End}} {
		ps := slid(c.old, moved, slide)
		if ps == nil {
			continue
		}
		shift := len(y)
		if moved.Start > at.Start {
			shift = -len(x)
		}
		d := Diff{Was: ps, Before: markupOf(c.old, ps), After: markupOf(c.old, ps), Say: "moves"}
		for _, q := range c.now.All {
			if q.Start == ps[0].Start+shift && q.Node.Tag() == ps[0].Node.Tag() {
				d.Now = []*page.Part{q}
				break
			}
		}
		return c.put(d)
	}
	return false
}

// slid finds the part, or the parts side by side, that stand at a range with nothing else but white space, where the
// range may begin earlier by as much as slide says; nil where there are none.
func slid(p *page.Page, at source.Span, slide int) []*page.Part {
	b := p.Doc.Bytes
	for d := 0; d <= slide; d++ {
		start, end := at.Start-d, at.End-d
		start += len(b[start:end]) - len(bytes.TrimLeft(b[start:end], " \t\r\n\f"))
		if start >= end {
			return nil
		}
		end = start + len(bytes.TrimRight(b[start:end], " \t\r\n\f"))
		if ps := side(p, start, end); ps != nil {
			return ps
		}
		if ps := holding(p, start, end); ps != nil {
			return ps
		}
	}
	return nil
}

// side lists the parts of one parent that fill a range from its first byte to its last; nil where there are none.
func side(p *page.Page, start, end int) (ps []*page.Part) {
	for _, q := range p.All {
		switch {
		case q.Start < start || q.Background || !q.Placed():
			continue
		case q.Start > start && len(ps) == 0:
			return nil
		case len(ps) == 0 && q.End <= end, len(ps) > 0 && q.Start >= ps[len(ps)-1].End && q.End <= end:
			if len(ps) > 0 && len(bytes.TrimSpace(p.Doc.Bytes[ps[len(ps)-1].End:q.Start])) > 0 {
				return nil
			}
			ps = append(ps, q)
		}
		if len(ps) > 0 && ps[len(ps)-1].End == end {
			return ps
		}
		if q.Start >= end {
			return nil
		}
	}
	return nil
}

// holding lists the parts of an element that is no part itself and stands at a range: the second row of a grid, say.
func holding(p *page.Page, start, end int) (ps []*page.Part) {
	for _, n := range p.Doc.Nodes {
		if n.Start() != start || n.End() != end || !n.Placed || n.Tag() == "" {
			continue
		}
		for _, q := range p.All {
			if q.Start >= start && q.End <= end && (len(ps) == 0 || q.Start >= ps[len(ps)-1].End) {
				ps = append(ps, q)
			}
		}
		return ps
	}
	return nil
}

func commonPrefix(a, b []byte) int {
	n := 0
	for n < len(a) && n < len(b) && a[n] == b[n] {
		n++
	}
	return n
}

func commonSuffix(a, b []byte) int {
	n := 0
	for n < len(a) && n < len(b) && a[len(a)-1-n] == b[len(b)-1-n] {
		n++
	}
	return n
}
