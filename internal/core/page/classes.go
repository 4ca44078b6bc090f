package page

import (
	"strings"
	"sync"

	"mendry/internal/core/source"
)

// classBits are what the words of a class attribute tell of an element.
type classBits uint32

const (
	saysState   classBits = 1 << iota // in which state it is
	saysShown                         // that it is the one of its likes that is shown
	saysSliding                       // something slides in it
	saysNoTrack                       // it belongs to something that slides, and is not what slides
	saysTrack                         // it is what moves with all slides in it
	saysTurning                       // it turns to another slide
	saysArrow                         // it turns to the slide beside
	saysTabs                          // tabs stand in it
	saysPanels                        // panels stand in it, or it is one
	saysOpener                        // it opens an answer, or holds what does
	saysDivider                       // it stands between items
	saysNoEntry                       // it stands among the entries of a menu and is none
	saysItem                          // it is an item
	saysSection                       // it is a section
	saysColumn                        // it is a column
	saysMenu                          // its entries lead somewhere
	saysVoices                        // voices stand in it
	saysPaging                        // it leads to the further pages of a list
	saysRow                           // its children stand side by side
)

// classWords are the words by which sites call things in classes (common practice, no source; held against the
// templates of the tests).
var classWords = func() map[string]classBits {
	all := map[string]classBits{}
	for bit, list := range map[classBits]string{
		saysState:             "collapsed visited disabled",
		saysState | saysShown: "active current selected open opened shown expanded",
		saysSliding:           "carousel slider slides slideshow swiper marquee slick splide glide flickity owl",
		saysNoTrack:           "dots dotnav nav arrows arrow controls control indicators indicator prev next pagination button buttons scrollbar thumbs thumbnav caption captions",
		saysTrack:             "track wrapper inner viewport stage list slides container",
		saysTurning:           "prev previous next arrow arrows dot dots dotnav slidenav bullet bullets indicator indicators",
		saysArrow:             "prev previous next arrow slidenav",
		saysTabs:              "tab tabs tablist tabbar switcher pills tabbed",
		saysPanels:            "content contents panel panels pane panes switcher tabpanel tabpanels",
		saysOpener:            "accordion question faq toggle",
		saysDivider:           "divider separator sep spacer",
		saysNoEntry:           "brand logo header heading title",
		saysItem:              "card article post entry item box media comment story quote testimonial member service project product feature event",
		saysSection:           "section",
		saysColumn:            "col column cell tile parent vertical",
		saysMenu:              "tab tabs nav menu breadcrumb breadcrumbs pagination pager",
		saysVoices:            "voices testimonials reviews quotes",
		saysPaging:            "pagination pager paging",
		saysRow:               "row columns cols grid split beside halves thirds flex media sides twocol threecol duo trio pair",
	} {
		for _, word := range strings.Fields(list) {
			all[word] |= bit
		}
	}
	return all
}()

// wholeStates are classes that say in which state an element is, but only as a whole.
var wholeStates = words("on here show in first last odd even hidden")

const longestWord = 12 // letters of the longest of classWords

// wordsSay are what the words of a class attribute tell, as parted by blanks, hyphens and underscores. Case does not
// matter.
func wordsSay(class string) (says classBits) {
	for i := 0; i < len(class); {
		from := i
		upper := false
		for i < len(class) && class[i] > ' ' && class[i] != '-' && class[i] != '_' {
			upper = upper || 'A' <= class[i] && class[i] <= 'Z'
			i++
		}
		if word := class[from:i]; word != "" && len(word) <= longestWord {
			if upper {
				word = strings.ToLower(word)
			}
			says |= classWords[word]
		}
		i++
	}
	return says
}

// classSays is what an element's class tells.
func classSays(n *source.Node) classBits {
	if class := classOf(n); class != "" {
		return wordsSay(class)
	}
	return 0
}

// IsState reports whether a class says in which state an element is, such as "current" or "menu-item--active", and not
// what it is.
func IsState(class string) bool { return wholeStates[class] || wordsSay(class)&saysState != 0 }

// IsShown reports whether a class says that an element is the one of its likes that is shown.
func IsShown(class string) bool {
	return class == "on" || class == "here" || class == "show" || class == "in" || wordsSay(class)&saysShown != 0
}

// classOf is an element's class attribute.
func classOf(n *source.Node) string {
	for i := range n.HTML.Attr {
		if n.HTML.Attr[i].Key == "class" {
			return n.HTML.Attr[i].Val
		}
	}
	return ""
}

// classed is what is known of a class attribute.
type classed struct {
	says    classBits
	lasting string   // its classes but for those that say in which state an element is
	hashes  []uint32 // of these
}

// knownClasses are the class attributes of a page.
type knownClasses struct {
	of  map[string]int32 // where in all
	all []classed
}

var spareClasses = sync.Pool{New: func() any { return &knownClasses{of: map[string]int32{}} }}

func (k *knownClasses) free() {
	clear(k.of)
	clear(k.all)
	k.all = k.all[:0]
	spareClasses.Put(k)
}

// classed remembers what is known of an element's class: pages use the same ones over and over. It holds until the
// next call.
func (f *finder) classed(n *source.Node) *classed {
	class := classOf(n)
	if class == "" {
		return &noClass
	}
	at, known := f.classes.of[class]
	if !known {
		c := classed{says: wordsSay(class), lasting: class}
		if c.says&saysState != 0 || holdsWholeState(class) {
			c.lasting = lasting(class)
		}
		var few [16]uint32
		c.hashes = f.shapes.keep(foldWords(few[:0], c.lasting))
		at = int32(len(f.classes.all))
		f.classes.of[class], f.classes.all = at, append(f.classes.all, c)
	}
	return &f.classes.all[at]
}

var noClass classed

const longestState = 6 // letters of the longest of wholeStates

func holdsWholeState(class string) bool {
	for i := 0; i < len(class); {
		from := i
		for i < len(class) && class[i] > ' ' {
			i++
		}
		if i > from && i-from <= longestState && wholeStates[class[from:i]] {
			return true
		}
		i++
	}
	return false
}

// says is what an element's class tells.
func (f *finder) says(n *source.Node) classBits { return f.classed(n).says }

// lasting are the classes of an attribute but for those that say in which state an element is.
func lasting(class string) string {
	all := strings.Fields(class)
	kept := all[:0]
	for _, c := range all {
		if !IsState(c) {
			kept = append(kept, c)
		}
	}
	return strings.Join(kept, " ")
}
