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

// known is what a name is, found by its first eight letters or by the library's number for it.
type known struct {
	packed uint64
	atom   atom.Atom
	name   string
	is     nature
}

// byName and byAtom are open hash tables of the names that are known, a quarter full at most.
var byName, byAtom = func() (byName [1024]known, byAtom [512]known) {
	all := map[string]bool{}
	for name := range natures {
		all[name] = true
	}
	for name := range strings.FieldsSeq(`abbr article bdi bdo canvas cite code data datalist dfn del ins kbd label map mark
		meter output path picture progress q rp rt ruby samp slot span sub sup time var video audio optgroup textarea
		dl dt dd ul ol li p div img svg use defs line rect circle polygon`) {
		all[name] = true
	}
	for name := range all {
		k := known{atom: atom.Lookup([]byte(name)), name: name, is: natures[name]}
		if len(name) <= 8 {
			k.packed = pack([]byte(name))
			i := hashName(k.packed)
			for byName[i].name != "" {
				i = (i + 1) % len(byName)
			}
			byName[i] = k
		}
		if k.is != 0 && k.atom != 0 {
			i := hashAtom(k.atom)
			for byAtom[i].name != "" {
				i = (i + 1) % len(byAtom)
			}
			byAtom[i] = k
		}
	}
	return byName, byAtom
}()

func hashName(packed uint64) int { return int(packed * 0x9E3779B97F4A7C15 >> 54) }
func hashAtom(a atom.Atom) int   { return int(uint32(a) * 0x9E3779B9 >> 23) }

// pack puts a name of at most eight bytes into a number, capital letters as small ones.
func pack(name []byte) (packed uint64) {
	for _, c := range name {
		if 'A' <= c && c <= 'Z' {
			c += 'a' - 'A'
		}
		packed = packed<<8 | uint64(c)
	}
	return packed
}

// natureOf is the nature of a node; 0 for what is no element.
func natureOf(h *html.Node) nature {
	switch {
	case h.Type != html.ElementNode:
		return 0
	case h.DataAtom == 0:
		return natures[h.Data]
	}
	for i := hashAtom(h.DataAtom); byAtom[i].name != ""; i = (i + 1) % len(byAtom) {
		if byAtom[i].atom == h.DataAtom {
			return byAtom[i].is
		}
	}
	return 0
}

// tagName reads an element's name at the start of b, as the standard's tag name state does.
func tagName(b []byte) (string, nature) {
	n := 0
	for n < len(b) && !isSpace(b[n]) && b[n] != '/' && b[n] != '>' {
		n++
	}
	if n <= 8 {
		packed := pack(b[:n])
		for i := hashName(packed); byName[i].name != ""; i = (i + 1) % len(byName) {
			if byName[i].packed == packed {
				return byName[i].name, byName[i].is
			}
		}
	}
	name := lower(b[:n])
	return name, natures[name]
}
