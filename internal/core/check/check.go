// Package check holds the rules of the trade. One file a rule; the registry is Rules.
package check

import (
	"time"

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
}

// Subject is what is checked: a page as it would be published.
type Subject struct {
	Before   *page.Page // as it is live; nil for a new page
	After    *page.Page
	Changed  []*page.Part // parts of After that changes touched; nil for the whole page
	Edits    []Edit       // the changes from Before to After, in order
	Address  string       // the page's public path
	Public   string       // the site's public address
	Styles   *style.Sheet // the page's style sheets; nil where they are not known
	Spelling Spelling     // nil where spelling is not looked at
	Unread   string       // why spelling is not looked at, as a sentence; empty where nobody asked for it
	Site     Site         // nil where nothing is known of other pages
	On       time.Time    // the day of publishing, in the site's zone
}

// Edit is one change on the way from Before to After.
type Edit struct {
	Before, After *page.Page
	Was, Now      *page.Part  // nil where there was or is none
	Fact          string      // the page fact that it changes; empty for a part
	Put           source.Span // bytes of After that were put in, where no part was there before
	WasAt, NowAt  source.Span // bytes that were swapped as a whole: a block that took another form, a table
	Say           string
	Sure          page.Sure // how sure it was that its part was found again
}

// Rule is one rule of the trade.
type Rule struct {
	Name  string
	Check func(*Subject) []Finding
}

// Rules are all rules, in the order in which their findings are shown.
var Rules = []Rule{
	{"date-exists", datesExist},
	{"date-past", datesPast},
	{"link-leads", linksLead},
	{"picture-alternative", pictureAlternative},
	{"link-words", linkWords},
	{"link-out", linksOut},
	{"codes-whole", codesWhole},
	{"fillers-gone", fillersGone},
	{"signs-whole", signsWhole},
	{"slips", slips},
	{"headings-in-order", headingsInOrder},
	{"contrast", contrast},
	{"spelling", spelling},
	{"values-agree", valuesAgree},
	{"found-again", foundAgain},
	{"outside-same", outsideSame},
}

// Run runs every rule.
func Run(s *Subject) []Finding {
	all := []Finding{}
	for _, r := range Rules {
		for _, f := range r.Check(s) {
			f.Rule = r.Name
			all = append(all, f)
		}
	}
	return all
}

// parts are the parts that the subject is about: the changed ones and what lies in them.
func (s *Subject) parts() []*page.Part {
	if s.Changed == nil {
		return s.After.All
	}
	var all []*page.Part
	seen := map[*page.Part]bool{}
	var take func(*page.Part)
	take = func(p *page.Part) {
		if !seen[p] {
			seen[p] = true
			all = append(all, p)
		}
		for _, k := range p.Parts {
			take(k)
		}
	}
	for _, p := range s.Changed {
		take(p)
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
