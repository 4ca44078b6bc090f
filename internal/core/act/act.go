// Package act is what a person does to a page on the bench: one file an act. An act is asked for as JSON, an object
// whose "do" names it; it turns what is asked and the draft into kept steps, says what they are called, and whether
// typing on goes on in an earlier one. A new act is a file here, a schema in the interface's description and an
// editor.
package act

import (
	"bytes"
	"encoding/json"
	"maps"
	"reflect"
	"slices"
	"strings"

	"mendry/internal/core/change"
	"mendry/internal/core/page"
	"mendry/internal/core/picture"
	"mendry/internal/core/refusal"
	"mendry/internal/core/style"
	"mendry/internal/core/thread"
)

// Act is something that a person does to a page. Its fields are what is asked.
type Act interface {
	// do does it to the draft under way. The error is a refusal, or a fault of what the act asked of the rest.
	do(w *work) error
}

var registry = map[string]func() Act{}

// register makes an act known by its name.
func register(name string, empty func() Act) struct{} {
	registry[name] = empty
	return struct{}{}
}

// Names lists the names of all acts, in order.
func Names() []string { return slices.Sorted(maps.Keys(registry)) }

// Read reads an act from JSON. Fields that it does not have are refused, and so is an act without one that it needs:
// those whose tag does not say omitempty.
func Read(b []byte) (Act, error) {
	var named struct {
		Do string `json:"do"`
	}
	if err := json.Unmarshal(b, &named); err != nil || registry[named.Do] == nil {
		return nil, refusal.New(refusal.Rule, "There is no such change. Load the page again.")
	}
	a := registry[named.Do]()
	var fields map[string]json.RawMessage
	if err := json.Unmarshal(b, &fields); err != nil {
		return nil, err
	}
	delete(fields, "do")
	for f := range reflect.TypeOf(a).Elem().Fields() {
		name, optional, _ := strings.Cut(f.Tag.Get("json"), ",")
		if _, there := fields[name]; !there && optional == "" {
			return nil, refusal.New(refusal.Rule, "The change “%s” does not say its %s. Load the page again.", named.Do, name)
		}
	}
	rest, err := json.Marshal(fields)
	if err != nil {
		return nil, err
	}
	d := json.NewDecoder(bytes.NewReader(rest))
	d.DisallowUnknownFields()
	if err := d.Decode(a); err != nil {
		return nil, refusal.New(refusal.Rule, "The change “%s” could not be read. Load the page again.", named.Do)
	}
	return a, nil
}

// Rest answers what acts ask of outside the page.
type Rest interface {
	// Picture is the file that a pick becomes on the site, in the folder of the picture at src on the page. Names that
	// others of the same change take are not free; those of the change that it is made instead of are. The error is a
	// refusal where there is none.
	Picture(p Pick, src string, others []File, instead int64) (File, error)
	// Download is the file to download that a file of the request becomes: under the address at which it replaces what
	// stands there, where keep says so, or in the folder of that address under a name of its own; an empty address
	// leaves the folder to the site's habit. Names that the change which it is made instead of takes are free. The
	// error is a refusal where there is none.
	Download(attachment int64, href string, keep bool, instead int64) (Brought, error)
	// Replaced is the file that a pick becomes under the address at which a picture stands now, in its format. The
	// error is a refusal where it cannot take its place.
	Replaced(p Pick, src string, instead int64) (Brought, error)
	// Plays looks at the address of a film on another site. The error is a refusal where nothing answers there.
	Plays(address string) (Plays, error)
	// Sides are the site's own classes that lay a picture at the left, at the right or in the centre of a page's
	// words.
	Sides(p *page.Page) map[string]string
	// Known looks at a picture of the site by its address on the page; false where it cannot be seen.
	Known(src string) (picture.Info, bool)
	// Behind is the picture that a style sheet of the site puts behind a part of a page, and how the page would name
	// it; false where none does.
	Behind(p *page.Page, part *page.Part) (b style.Behind, src string, ok bool)
	// PutsBehind reports whether the site puts pictures behind what stands on its pages.
	PutsBehind(p *page.Page) bool
	// Address is how a page would name what a style sheet names.
	Address(b style.Behind, src string) string
	// Wording finds a wording that a part had on the live page: the page then, and the part on it. part is of the
	// draft.
	Wording(d *thread.Draft, part *page.Part, version string) (*page.Page, *page.Part, error)
	// Version is a version of the page that stood on its host, and since when in words. The error is a refusal where
	// it is not known.
	Version(id int64) (*page.Page, string, error)
	// Looks are the looks that the site has for a part, by its style sheets and by what parts like it carry.
	Looks(p *page.Page, part *page.Part) ([]style.Choice, error)
	// Icons are the icons in a part, and those of the site that may take their place.
	Icons(p *page.Page, part *page.Part) (Icons, error)
	// Row tells how the site lays out the row of a column.
	Row(p *page.Page, column *page.Part) Row
	// Here is the public path of the page.
	Here() string
	// Lender finds a section of a page of the site, as it is live. The error is a refusal where there is none, or
	// where the page is no longer the one of that hash.
	Lender(page int64, of, section string) (Lender, error)
	// Went finds a change of the page that is live, and what was done to the page since. The error is a refusal where
	// it is not live, or where that is not known.
	Went(change int64) (Went, error)
}

// Kind is what a change is of.
type Kind string

// The kinds of changes.
const (
	OfWords   Kind = "words"
	OfPicture Kind = "picture"
	OfSection Kind = "section"
	OfFacts   Kind = "facts"
	OfFile    Kind = "file"
	OfVideo   Kind = "video"
)

// Brings reports whether changes of the kind may bring files.
func (k Kind) Brings() bool { return k.Shown() || k == OfFile }

// Shown reports whether a change of the kind is shown by a picture, which it brings.
func (k Kind) Shown() bool { return k == OfPicture || k == OfVideo }

// Change is a kept step with what is said of it.
type Change struct {
	ID          int64 // below zero: not kept yet
	Kind        Kind
	Name        string // of the part
	Say         string
	BeforeWords string // as rendered
	AfterWords  string
	BeforeHTML  string // of a picture: where it was, as the page named it
	AfterHTML   string
	Pictures    []File      // that it brings, the one that it is of first
	Files       []Brought   // to download, that it brings
	Made        *Picture    // how they are made
	Put         *PutPicture // how it was put in, of one that was not there before
	Film        *PutVideo   // how a film was put in
	Shape       *Shape      // of the place of a picture
	Step        change.Step
	Hides       bool  // it takes a part out whose place is remembered
	Shows       int64 // the change that had hidden what it brings back; 0 for none
	TakesBack   int64 // the live change that it takes back; 0 for none
}

// What becomes of a change.
type What int

// A change is new, has another wording, is taken out, or finds its part by other words, since those were changed
// before it: then its Change holds the step alone.
const (
	New What = iota
	Reworded
	Dropped
	Aimed
)

// Effect is what an act does to one change. Those of a change that is new carry an ID below zero.
type Effect struct {
	What   What
	Change Change
}

// Done is what an act did: changes in order, the draft with them, and the part that it made, to go on in.
type Done struct {
	Effects []Effect
	Draft   *thread.Draft
	Made    string
	Keys    map[string]string // of a run: the parts that its blocks are, by what the editor knows them by
}

// Do does an act to a draft, of which nothing is changed. Where all stays as it is, nothing is moved. The error is a
// refusal, or a fault of the rest.
func Do(d *thread.Draft, a Act, rest Rest) (*Done, error) {
	if d.Conflict != nil {
		return nil, refusal.New(refusal.Rule, "%s", d.ConflictSay())
	}
	w := &work{draft: d, rest: rest, last: -1}
	if err := a.do(w); err != nil {
		return nil, err
	}
	if w.mayWorsen() {
		if err := w.noWorse(d.Page(), w.lenders...); err != nil {
			return nil, err
		}
	}
	return &Done{w.effects, w.draft, w.made, w.keys}, nil
}

// mayWorsen reports whether anything was done that can make a page worse: but what cannot, and what takes back.
func (w *work) mayWorsen() bool {
	for _, e := range w.effects {
		if e.What != New && e.What != Reworded {
			continue
		}
		for _, t := range e.Change.Step {
			switch t.Op.Op {
			case change.SetWords, change.SetFact, change.PutBack, change.SetNoscript:
			default:
				return true
			}
		}
	}
	return false
}

// noWorse refuses what makes the page worse than it was before; from are pages that something of it came from.
func (w *work) noWorse(before *page.Page, from ...*page.Page) error {
	if why := page.Worse(before, w.draft.Page(), from...); why != "" {
		return refuse("That is left as it is. %s", why)
	}
	return nil
}
