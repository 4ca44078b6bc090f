package source

import (
	"strings"

	"golang.org/x/net/html"
	"golang.org/x/net/html/atom"
)

// nature is what the standard's tree construction makes of an element by its name.
type nature uint16

const (
	isVoid     nature = 1 << iota
	isImplied         // made without a tag where the standard wants it
	formats           // opened again after a block has closed it
	ignorable         // a start tag that is dropped where it does not belong
	rawContent        // what stands in it is text, whatever it is
	unread            // raw content in which character references are not resolved
	setsMarker        // keeps formatting elements outside it closed
	endsBlock         // formatting elements that are closed are opened again behind it
)

// natures are those of every element that has one.
var natures = func() map[string]nature {
	all := map[string]nature{}
	for is, names := range map[nature]string{
		isVoid:     "area base br col embed hr img input link meta param source track wbr keygen basefont bgsound frame",
		isImplied:  "html head body tbody tr colgroup",
		formats:    "a b big code em font i nobr s small strike strong tt u",
		ignorable:  "html head body form caption col colgroup tbody td tfoot th thead tr frame frameset",
		rawContent: "iframe noembed noframes noscript plaintext script style textarea title xmp",
		unread:     "iframe noembed noframes noscript plaintext script style xmp",
		setsMarker: "applet object marquee template td th caption",
		endsBlock: `address article aside blockquote center details dialog dir div dl dd dt fieldset figcaption figure
			footer form h1 h2 h3 h4 h5 h6 header hgroup hr li listing main menu nav ol p plaintext pre search section
			summary table tbody td tfoot th thead tr ul xmp body option optgroup button select`,
	} {
		for name := range strings.FieldsSeq(names) {
			all[name] |= is
		}
	}
	return all
}()

// byAtom are the natures of the names that the library knows.
var byAtom = func() map[atom.Atom]nature {
	all := map[atom.Atom]nature{}
	for name, is := range natures {
		all[atom.Lookup([]byte(name))] = is
	}
	return all
}()

// natureOf is the nature of a node; 0 for what is no element.
func natureOf(h *html.Node) nature {
	switch {
	case h.Type != html.ElementNode:
		return 0
	case h.DataAtom != 0:
		return byAtom[h.DataAtom]
	}
	return natures[h.Data]
}

// tagName reads an element's name at the start of b, as the standard's tag name state does.
func tagName(b []byte) (string, nature) {
	n := 0
	upper := false
	for n < len(b) && !isSpace(b[n]) && b[n] != '/' && b[n] != '>' {
		upper = upper || 'A' <= b[n] && b[n] <= 'Z'
		n++
	}
	if upper {
		b = []byte(lower(b[:n]))
	}
	if a := atom.Lookup(b[:n]); a != 0 {
		return a.String(), byAtom[a] // no new string for a name that is known
	}
	name := string(b[:n])
	return name, natures[name]
}
