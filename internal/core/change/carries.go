package change

import (
	"bytes"
	"fmt"
	"regexp"
	"slices"
	"strings"

	"mendry/internal/core/diff"
	"mendry/internal/core/page"
	"mendry/internal/core/source"
)

// Carries tells whether what was made of a page is made of a newer version of it in the same way, so that what was said
// of the one holds for the other: before became after, and now, as others edited it, becomes made. The same bytes have
// to go and come, in what reads the same: a price whose row got another name is another price. What is empty is a yes;
// else it is why not, a sentence.
func Carries(before, after, now, made *page.Page) string {
	was, is := alterations(before.Doc.Bytes, after.Doc.Bytes), alterations(now.Doc.Bytes, made.Doc.Bytes)
	if !slices.EqualFunc(was, is, func(a, b alteration) bool { return a.gone == b.gone && a.new == b.new }) {
		return "What is kept is no longer the same change of the page."
	}
	for i := range was {
		a, b := surroundings(after, was[i].at), surroundings(made, is[i].at)
		switch {
		case !bytes.Equal(a.in, b.in):
			return fmt.Sprintf("%s reads differently now, beside what was changed there.", page.Quoted(b.name))
		case a.within != b.within:
			return fmt.Sprintf("What %s stands in is made differently now.", page.Quoted(b.name))
		case a.before != b.before && a.after != b.after:
			return fmt.Sprintf("%s stands among other words now.", page.Quoted(b.name))
		}
	}
	return ""
}

// alteration is a stretch of bytes that went and what came instead, and where that stands.
type alteration struct {
	gone, new string
	at        source.Span
}

var pieces = regexp.MustCompile(`<[^<>]*>|[^<\s]+|\s+|<`)

// alterations are what makes one page's bytes another's: tags, words and white space are the units.
func alterations(from, to []byte) (all []alteration) {
	a, b := pieces.FindAllString(string(from), -1), pieces.FindAllString(string(to), -1)
	piece, at := 0, 0 // in to
	for _, e := range diff.Edits(a, b) {
		at += len(strings.Join(b[piece:e.At], ""))
		new := strings.Join(e.New, "")
		all = append(all, alteration{strings.Join(a[e.From:e.To], ""), new, source.Span{Start: at, End: at + len(new)}})
		piece, at = e.At+len(e.New), at+len(new)
	}
	return all
}

// surrounding is what a stretch of a page stands in and among, for readers.
type surrounding struct {
	name          string
	in            []byte // the row, the item or the words that hold it
	within        string // the tags that hold it, from the outside in
	before, after string // the words that are read before that and after it
}

func surroundings(p *page.Page, at source.Span) surrounding {
	name, unit := unitAt(p, at)
	a := surrounding{name: name, in: p.Doc.Bytes[unit.Start:unit.End]}
	for _, n := range p.Doc.Nodes {
		if n.Placed && n.Start() < unit.Start && n.End() >= unit.End && n.InnerStart() > n.Start() && n.InnerStart() <= unit.Start {
			a.within += string(p.Doc.Bytes[n.Start():n.InnerStart()])
		}
	}
	a.before, a.after = wordsAround(p, unit)
	return a
}

// unitAt is the row, the item or the words that hold a stretch, and their name; the stretch itself where nothing does.
func unitAt(p *page.Page, at source.Span) (name string, unit source.Span) {
	in := at // of what went, the byte on both sides: it stood between the parts that it touches. Markdown has no tags to tell
	if at.Start == at.End && p.Doc.Format == source.HTML {
		in = source.Span{Start: at.Start - 1, End: at.End + 1}
	}
	name = "the page"
	for _, part := range p.All { // an outer one comes before what is in it
		if part.Start > in.Start || part.End < in.End || part.Background {
			continue
		}
		name = part.Name
		if part.Kind == page.Row || part.Kind == page.Item || part.Kind.HasWords() || part.Kind == page.Picture {
			return name, source.Span{Start: part.Start, End: part.End}
		}
	}
	return name, at
}

// wordsAround are the words that are read before a stretch and after it.
func wordsAround(p *page.Page, at source.Span) (before, after string) {
	for _, part := range p.All {
		switch {
		case !part.Kind.HasWords() || part.Text == "":
		case part.End <= at.Start:
			before = part.Text
		case part.Start >= at.End:
			return before, part.Text
		}
	}
	return before, ""
}
