// Package check holds the rules of the trade. One file a rule; the registry is Rules.
package check

import (
	"fmt"
	"slices"
	"strings"
	"time"

	"mendry/internal/core/change"
	"mendry/internal/core/page"
	"mendry/internal/core/source"
	"mendry/internal/core/style"
)

// Level says what a finding means for publishing.
type Level string

// The levels: stop blocks publishing, look asks, fine is said so that it can be shown that it was looked at.
const (
	Stop Level = "stop"
	Look Level = "look"
	Fine Level = "fine"
)

// Finding is what a rule has to say about a part.
type Finding struct {
	Rule  string `json:"rule"`
	Level Level  `json:"level"`
	Part  string `json:"part"`
	Words string `json:"words"`
	Say   string `json:"say"`
	Mend  string `json:"mend,omitempty"`  // the part's words as they would be right
	Learn string `json:"learn,omitempty"` // the word that may be right on this site
}

// Site answers what a rule must know of the rest of the site.
type Site interface {
	// Has reports whether a page or file stands at a public path.
	Has(path string) bool
	// HasPlace reports whether the page at a public path has an element with this id.
	HasPlace(path, id string) bool
	// Titled gives the public paths of the other pages with a title.
	Titled(title string) []string
	// Answers tries an address on another site; it says what is wrong with it, or nothing.
	Answers(address string) string
}

// Subject is what is checked: a page as it would be published.
type Subject struct {
	Before   *page.Page // as it is live; nil for a new page
	After    *page.Page
	Changed  []*page.Part // parts of After that changes touched; nil for the whole page
	Edits    []Edit       // the changes from Before to After, in order
	Address  string       // the page's public path
	Public   string       // the site's public address
	Media    string       // the media type that the host gives to the page
	Styles   *style.Sheet // the page's style sheets; nil where they are not known
	Spelling Spelling     // nil where spelling is not looked at
	Unread   string       // why spelling is not looked at, as a sentence; empty where nobody asked for it
	Site     Site         // nil where nothing is known of other pages
	Files    Files        // nil where nothing is known of files to download
	Pictures Pictures     // nil where nothing is known of pictures and their places
	On       time.Time    // the day of publishing, in the site's zone

	all bool // the whole page is looked at, for what is told of it beside the changes
}

// Edit is one change on the way from Before to After.
type Edit struct {
	Before, After *page.Page
	Was, Now      *page.Part    // nil where there was or is none
	Fact          string        // the page fact that it changes; empty for a part
	Put           source.Span   // bytes of After that were put in, where no part was there before
	WasAt, NowAt  source.Span   // bytes that were swapped as a whole: a block that took another form, a table
	Spots         []change.Spot // start tags that it sets attributes in, where they are several
	Say           string
	Sure          page.Sure // how sure it was that its part was found again
}

// Rule is one rule of the trade.
type Rule struct {
	Name  string
	Check func(*Subject) []Finding
	When  When
}

// When says where else than on what is to be published a rule is run.
type When int

const (
	// Whole rules need nothing but the page, so that all of it can be looked at: what a change made worse elsewhere is
	// told then, and what was so before.
	Whole When = 1 << iota
	// Typing rules are run while somebody writes: they are about words, and ask nobody.
	Typing
	// Worse rules are Whole rules of which only what a change made worse is told: what takes something away touches
	// nothing that is left, and what was so before is often meant.
	Worse
)

// Rules are all rules, in the order in which their findings are shown.
var Rules = []Rule{
	{"date-exists", datesExist, Whole | Typing},
	{"date-past", datesPast, Whole | Typing},
	{"link-leads", linksLead, 0},
	{"link-target", linkTargets, Whole | Typing},
	{"link-answers", linksAnswer, 0},
	{"file-said", downloads, 0},
	{"video-asked", videos, 0},
	{"contacts-agree", contactsAgree, Whole | Typing},
	{"picture-alternative", pictureAlternative, Whole},
	{"picture-says", pictureSays, 0},
	{"picture-shape", pictureShape, 0},
	{"picture-sharp", pictureSharp, 0},
	{"picture-weight", pictureWeight, 0},
	{"picture-narrow", pictureNarrow, 0},
	{"share-picture", sharePicture, 0},
	{"link-words", linkWords, Whole | Typing},
	{"link-out", linksOut, 0},
	{"codes-whole", codesWhole, 0},
	{"codes-closed", codesClosed, Whole | Typing},
	{"fillers-gone", fillersGone, Whole | Typing},
	{"picture-comes", picturesFilled, 0},
	{"set-slides", setsSlide, Worse},
	{"item-complete", itemsComplete, Worse},
	{"item-once", itemsOnce, Worse},
	{"signs-whole", signsWhole, Whole | Typing},
	{"slips", slips, Whole | Typing},
	{"nothing-empty", nothingEmpty, Whole},
	{"headings-in-order", headingsInOrder, Whole},
	{"names-once", namesOnce, Whole},
	{"page-facts", pageFacts, 0},
	{"contrast", contrast, 0},
	{"spelling", spelling, Typing},
	{"values-agree", valuesAgree, Typing},
	{"found-again", foundAgain, 0},
	{"encoding-agrees", encodingAgrees, 0},
	{"outside-same", outsideSame, 0},
	{"old-faults", nil, 0},
}

// WhileTyping runs the rules that are about words on what changes touched. What is fine is not said.
func WhileTyping(s *Subject) []Finding {
	all := []Finding{}
	for _, r := range Rules {
		if r.When&Typing == 0 {
			continue
		}
		for _, f := range r.Check(s) {
			if f.Rule = r.Name; f.Level != Fine {
				all = append(all, f)
			}
		}
	}
	return all
}

// Run runs every rule. What a change touched or made worse is told by each rule; what was so before, elsewhere on the
// page, once for the page.
func Run(s *Subject) []Finding { return every(s, Whole|Worse) }

// Touched runs every rule on what the changes touched alone: for pages that were changed only together with others,
// whose own words nobody asked about.
func Touched(s *Subject) []Finding { return every(s, 0) }

// every runs every rule, and those of a kind on the whole page too.
func every(s *Subject, beside When) []Finding {
	all := []Finding{}
	var old []Finding
	for _, r := range Rules {
		if r.Check == nil {
			continue
		}
		fs := r.Check(s)
		if r.When&beside != 0 && s.Before != nil && s.Changed != nil {
			worse, was := elsewhere(r, s, fs)
			fs = append(fs, worse...)
			if r.When&Worse == 0 {
				old = append(old, was...)
			}
			if len(worse) > 0 {
				fs = slices.DeleteFunc(fs, func(f Finding) bool { return f.Level == Fine })
			}
		}
		for _, f := range fs {
			f.Rule = r.Name
			all = append(all, f)
		}
	}
	if len(old) > 0 {
		all = append(all, oldFaults(old))
	}
	return all
}

// elsewhere runs a rule on the whole page as it is and as it was: what is new where nothing was touched was made worse
// by a change, the rest was so before.
func elsewhere(r Rule, s *Subject, told []Finding) (worse, old []Finding) {
	type key struct{ words, say string }
	count := func(fs []Finding) map[key]int {
		n := map[key]int{}
		for _, f := range fs {
			n[key{f.Words, f.Say}]++
		}
		return n
	}
	whole := *s
	whole.Changed, whole.Edits, whole.all = nil, nil, true
	now := r.Check(&whole)
	whole.After, whole.Before = s.Before, nil
	had, known := count(r.Check(&whole)), count(told)
	for _, f := range now {
		k := key{f.Words, f.Say}
		switch {
		case f.Level == Fine:
		case known[k] > 0:
			known[k]--
		case had[k] > 0:
			had[k]--
			old = append(old, f)
		default:
			worse = append(worse, f)
		}
	}
	return worse, old
}

const namedFaults = 3 // so many of a page's old faults are told one by one

func oldFaults(old []Finding) Finding {
	var say strings.Builder
	for i, f := range old {
		if i == namedFaults {
			fmt.Fprintf(&say, " And %d more.", len(old)-i)
			break
		}
		say.WriteString(" " + f.Say)
	}
	return Finding{Rule: "old-faults", Level: Look, Part: old[0].Part, Words: old[0].Words, Say: "This was so before, where nothing was changed:" + say.String()}
}

// parts are the parts that the subject is about: the changed ones and what lies in them.
func (s *Subject) parts() []*page.Part {
	if s.Changed == nil {
		return s.After.All
	}
	var all []*page.Part
	seen := map[*page.Part]bool{}
	for _, changed := range s.Changed {
		changed.Walk(func(p *page.Part) {
			if !seen[p] {
				seen[p] = true
				all = append(all, p)
			}
		})
	}
	return all
}

// spoken are the parts whose own words are read, each word once.
func (s *Subject) spoken() (ps []*page.Part) {
	for _, p := range s.parts() {
		inner := p.Parent != nil && p.Parent.Kind.HasWords() && p.Parent.Locked == ""
		if p.Kind.HasWords() && !inner {
			ps = append(ps, p)
		}
	}
	return ps
}
