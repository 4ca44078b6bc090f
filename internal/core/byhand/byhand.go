// Package byhand is publishing where Mendry may only read: a list of what a person puts where, made from a page as it
// is and as it is to be, and what of it stands on the page that visitors get.
package byhand

import (
	"cmp"
	"path"
	"slices"

	"mendry/internal/core/change"
	"mendry/internal/core/page"
)

// Act is what a person does for an item.
type Act string

// The acts.
const (
	Alter   Act = "change"
	PutIn   Act = "put in"
	TakeOut Act = "take out"
	Move    Act = "move"
)

// Value is one thing of an item that is typed in or chosen: what stands there, and what becomes of it.
type Value struct {
	Name   string // "words", "leads to", "picture", "alternative text", or the name of a page fact
	Before string
	After  string
}

// Item is one thing to do on a page. Its name is the one that its part has now.
type Item struct {
	change.Diff
	Act    Act
	Where  string // how to find its place, in words; empty for the page as a whole
	Values []Value
	Markup string // what becomes of it as markup, where words alone do not tell all of it
}

// List is what makes of a page, before, the page after, in the order in which it stands there.
func List(before, after *page.Page) []Item {
	var items []Item
	for _, d := range change.Compare(before, after).Changes {
		it := Item{Diff: d, Act: Alter}
		switch {
		case d.Kind == "facts":
			it.Values = []Value{{d.Name, d.Before, d.After}}
		case d.Kind == "section" && d.Before == d.After:
			it.Act = Move
			it.Where = where(before, d.Was)
			it.Values = []Value{{"words", textOf(d.Was), textOf(d.Was)}}
			if len(d.Now) > 0 {
				it.Values = append(it.Values, Value{Name: "to", After: where(after, d.Now)})
			}
		case len(d.Was) == 0:
			it.Act, it.Where, it.Markup = PutIn, where(after, d.Now), d.After
			it.Values = []Value{{"words", "", textOf(d.Now)}}
		case len(d.Now) == 0:
			it.Act, it.Where = TakeOut, where(before, d.Was)
			it.Values = []Value{{"words", textOf(d.Was), ""}}
		default:
			it.Name, it.Where = d.Was[0].Name, where(before, d.Was)
			it.Values, it.Markup = values(d.Was[0], d.Now[0])
		}
		items = append(items, it)
	}
	return inOrder(items)
}

// inOrder puts page facts first, then what has a place on the page as it is to be, and what is taken out where it
// stood.
func inOrder(items []Item) []Item {
	var all, out []Item
	for _, it := range items {
		if it.Act == TakeOut {
			out = append(out, it)
		} else {
			all = append(all, it)
		}
	}
	start := func(ps []*page.Part) int {
		if len(ps) == 0 {
			return -1
		}
		return ps[0].Start
	}
	slices.SortStableFunc(all, func(a, b Item) int { return cmp.Compare(start(a.Now), start(b.Now)) })
	for _, it := range out {
		at := 0
		for i, o := range all {
			if len(o.Was) == 0 && o.Kind != "facts" {
				continue
			}
			if start(o.Was) < start(it.Was) {
				at = i + 1
			}
		}
		all = slices.Insert(all, at, it)
	}
	return all
}

// attributes are those that a person sets, with what they are called.
var attributes = []struct{ key, name string }{
	{"href", "leads to"}, {"src", "picture"}, {"alt", "alternative text"}, {"title", "title"},
}

// values are what differs in a part, and its markup where they do not tell all.
func values(was, now *page.Part) (vs []Value, markup string) {
	if was.Text != now.Text {
		vs = append(vs, Value{"words", was.Text, now.Text})
	}
	for _, a := range attributes {
		b, n := was.Attributes.Get(a.key), now.Attributes.Get(a.key)
		if b == n {
			continue
		}
		if a.key == "src" {
			b, n = path.Base(b), path.Base(n)
		}
		vs = append(vs, Value{a.name, b, n})
	}
	if len(now.Node.Kids) > 1 || len(vs) == 0 {
		markup = now.HTML
	}
	return vs, markup
}

func textOf(ps []*page.Part) string {
	text := ""
	for _, p := range ps {
		if text != "" && p.Text != "" {
			text += "\n"
		}
		text += p.Text
	}
	return text
}

// Mark is what a person says of an item or of a difference.
type Mark string

// The marks.
const (
	Put    Mark = "put"    // put in: to be looked at
	Taken  Mark = "taken"  // right as it stands there
	Theirs Mark = "theirs" // a difference that is somebody else's, and known
)
