package change

import (
	"bytes"
	"cmp"
	"slices"

	"mendry/internal/core/page"
	"mendry/internal/core/source"
)

// Outside reports whether two versions of a page are the same, byte for byte, but for one part: was, on before, and
// what stands in its place, now, on after. Either may be nil. The line of its own that a part had or got goes with it.
func Outside(before, after *page.Page, was, now *page.Part) bool {
	for _, a := range spans(before, was) {
		for _, b := range spans(after, now) {
			if bytes.Equal(without(before.Doc.Bytes, a), without(after.Doc.Bytes, b)) {
				return true
			}
		}
	}
	return false
}

// spans are the ranges that a part may stand for: itself, and with the white space that sets it off.
func spans(p *page.Page, part *page.Part) [][]source.Span {
	if part == nil {
		return [][]source.Span{nil}
	}
	own := source.Span{Start: part.Start, End: part.End}
	if p.Doc.Format == source.Markdown { // a block goes with the blank lines that set it off, in a quote with its signs
		for own.Start > 0 && p.Doc.Bytes[own.Start-1] != '\n' {
			own.Start-- // the mark of an item, the blanks before it
		}
		all := [][]source.Span{{{Start: part.Start, End: part.End}}, {own}}
		for _, blank := range []string{" \t\r\n", " \t\r\n>"} {
			start := len(bytes.TrimRight(p.Doc.Bytes[:own.Start], blank))
			end := len(p.Doc.Bytes) - len(bytes.TrimLeft(p.Doc.Bytes[own.End:], blank))
			all = append(all, []source.Span{{Start: start, End: own.End}}, []source.Span{{Start: own.Start, End: end}}, []source.Span{{Start: part.Start, End: end}})
		}
		return all
	}
	all := apart(p, own)
	if whole := WholeSpan(part); whole != own { // what holds nothing else goes with a picture
		all = append(all, apart(p, whole)...)
	}
	if part.Run == nil && !part.Background && FormOf(part) != "" { // a quote or a list that holds nothing else goes with it
		if n := extent(part); n != part.Node {
			all = append(all, apart(p, source.Span{Start: n.Start(), End: n.End()})...)
		}
	}
	return all
}

// apart are a range of an HTML page by itself and with the white space before it, after it, and both.
func apart(p *page.Page, own source.Span) [][]source.Span {
	gap := len(GapBefore(p.Doc, own.Start))
	after := len(p.Doc.Bytes) - len(bytes.TrimLeft(p.Doc.Bytes[own.End:], " \t\r\n"))
	return [][]source.Span{{own}, {{Start: own.Start - gap, End: own.End}}, {{Start: own.Start, End: after}}, {{Start: own.Start - gap, End: after}}}
}

// OutsideFact is Outside for a page fact.
func OutsideFact(before, after *page.Page, fact string) bool {
	if b, a := before.Doc, after.Doc; b.Format == source.Markdown && b.Front == (source.Span{}) && a.Front != b.Front { // the first of its facts
		front := source.Span{Start: bom(b), End: bom(b) + len(a.Bytes) - len(b.Bytes)}
		own, ok := after.FrontFactLine(fact)
		return ok && own == a.Front && a.Front.End < front.End && bytes.Equal(b.Bytes, without(a.Bytes, []source.Span{front}))
	}
	return bytes.Equal(without(before.Doc.Bytes, headSpan(before, fact)), without(after.Doc.Bytes, headSpan(after, fact)))
}

// OutsideSpan is Outside for bytes that were put in.
func OutsideSpan(before, after *page.Page, put source.Span) bool {
	return bytes.Equal(before.Doc.Bytes, without(after.Doc.Bytes, []source.Span{put}))
}

// OutsideSwap is Outside for bytes that took the place of others.
func OutsideSwap(before, after *page.Page, was, now source.Span) bool {
	return bytes.Equal(without(before.Doc.Bytes, []source.Span{was}), without(after.Doc.Bytes, []source.Span{now}))
}

// Spot is a place on a page that a change may alter, before and after.
type Spot struct{ Was, Now source.Span }

// OutsideSpots reports whether two pages are the same bytes outside of some places.
func OutsideSpots(before, after *page.Page, spots []Spot) bool {
	var was, now []source.Span
	for _, s := range spots {
		was, now = append(was, s.Was), append(now, s.Now)
	}
	inOrder := func(a, b source.Span) int { return cmp.Compare(a.Start, b.Start) }
	slices.SortFunc(was, inOrder)
	slices.SortFunc(now, inOrder)
	return bytes.Equal(without(before.Doc.Bytes, was), without(after.Doc.Bytes, now))
}

// without is b less the given spans, which are in order.
func without(b []byte, cut []source.Span) []byte {
	var edits []source.Edit
	for _, s := range cut {
		edits = append(edits, source.Edit{Span: s})
	}
	out, _, err := source.Splice(b, edits)
	if err != nil { // cuts that overlap say nothing of the rest
		return b
	}
	return out
}
