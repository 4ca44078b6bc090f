package change

import (
	"strings"

	"mendry/internal/core/page"
	"mendry/internal/core/source"
)

// NoscriptOf is the noscript element right behind a picture, in which pages that load pictures late keep a copy of it
// for browsers without scripts (HTML, 4.12.2); nil where there is none. What stands in it is text to a browser with
// scripts, and so it is here.
func NoscriptOf(part *page.Part) *source.Node {
	if !part.Held() {
		return nil
	}
	for n := part.Node; n.Parent != nil; n = n.Parent {
		past := false
		for _, k := range n.Parent.Kids {
			switch {
			case k == n:
				past = true
			case !past, k.IsText() && k.Blank, k.Tag() == "" && !k.IsText():
			case k.Is("noscript") && len(k.Kids) == 1 && k.Kids[0].IsText():
				return k
			default:
				past = false
			}
		}
		if !n.Parent.Is("picture", "a", "span") {
			return nil
		}
	}
	return nil
}

// setNoscript gives the copy of a picture for browsers without scripts other markup.
func (w *work) setNoscript(part *page.Part, markup string) ([]source.Edit, error) {
	n := NoscriptOf(part)
	if n == nil || !n.Placed {
		return nil, refuse("“%s” has no copy for browsers without scripts.", part.Name)
	}
	if strings.Contains(strings.ToLower(markup), "</noscript") {
		return nil, refuse("A copy for browsers without scripts cannot hold its own end.")
	}
	raw, err := w.encode(markup)
	if err != nil {
		return nil, err
	}
	w.plan.SetText(n.Kids[0].HTML, strings.ReplaceAll(markup, "\r\n", "\n"))
	return []source.Edit{
		source.Narrow(
			w.p.Doc.Bytes,
			source.Edit{Span: source.Span{Start: n.InnerStart(), End: n.InnerEnd()}, New: raw},
		),
	}, nil
}

// copied widens the bytes of a picture by those of its copy for browsers without scripts.
func copied(part *page.Part) source.Span {
	s := source.Span{Start: part.Start, End: part.End}
	if n := NoscriptOf(part); part.Kind == page.Picture && n != nil {
		s.End = n.End()
	}
	return s
}
