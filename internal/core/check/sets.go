package check

import (
	"fmt"
	"slices"
	"strconv"
	"strings"

	"mendry/internal/core/page"
)

// touchedSets are the sets that something was changed in, or that were changed themselves.
func (s *Subject) touchedSets() (sets []*page.Part) {
	changed := s.parts()
	for _, set := range s.After.OfKind(page.Set) {
		touched := slices.ContainsFunc(changed, func(p *page.Part) bool {
			return p == set || p.Start < set.End && p.End > set.Start && p.Start >= set.Start
		})
		for _, setting := range set.Settings {
			touched = touched || slices.ContainsFunc(changed, func(p *page.Part) bool { return p.ID == setting.Part })
		}
		for _, e := range s.Edits {
			put := e.Put
			touched = touched || put.End > put.Start && put.Start < set.End && put.End > set.Start
		}
		if touched && len(set.Items()) > 0 {
			sets = append(sets, set)
		}
	}
	return sets
}

// setsSlide: a set that slides has more items than it shows at once, or it stands still (common practice, no source).
func setsSlide(s *Subject) (fs []Finding) {
	for _, set := range s.touchedSets() {
		for _, setting := range set.Settings {
			say, _ := setting.Says()
			shown, err := strconv.Atoi(setting.Value)
			if say != page.HowManyShown || err != nil {
				continue
			}
			if items := len(set.Items()); items <= shown {
				fs = append(fs, Finding{Level: Stop, Part: set.ID, Words: set.Name, Say: fmt.Sprintf(
					"%d are shown at once, and there are %d: nothing slides. Show fewer, or add %s.",
					shown,
					items,
					more(shown-items+1),
				)})
			} else {
				fs = append(fs, Finding{Level: Fine, Part: set.ID, Words: set.Name, Say: fmt.Sprintf("%d of %d are shown at once, so it slides.", shown, items)})
			}
		}
	}
	return fs
}

func more(n int) string {
	if n == 1 {
		return "one more"
	}
	return fmt.Sprintf("%d more", n)
}

// itemsComplete: an item has what most of its neighbours have.
func itemsComplete(s *Subject) (fs []Finding) {
	for _, set := range s.touchedSets() {
		items := set.Items()
		if len(items) < 3 || s.After.Like(set) == "menu" {
			continue
		}
		have := map[page.Kind]int{}
		kinds := make([]map[page.Kind]bool, len(items))
		for i, item := range items {
			kinds[i] = kindsIn(item)
			for k := range kinds[i] {
				have[k]++
			}
		}
		for i, item := range items {
			if !s.touched(item) {
				continue
			}
			var lacks []string
			for _, k := range []page.Kind{page.Picture, page.Heading, page.Words, page.Link, page.Button} {
				if 3*have[k] >= 2*len(items) && !kinds[i][k] {
					lacks = append(lacks, called[k])
				}
			}
			if len(lacks) > 0 {
				fs = append(
					fs,
					Finding{
						Level: Look,
						Part:  item.ID,
						Words: item.Name,
						Say:   "Its neighbours have " + strings.Join(lacks, " and ") + ", and this one has not.",
					},
				)
			}
		}
	}
	return fs
}

var called = map[page.Kind]string{
	page.Picture: "a picture", page.Heading: "a heading", page.Words: "words", page.Link: "a link", page.Button: "a button",
}

func kindsIn(part *page.Part) map[page.Kind]bool {
	all := map[page.Kind]bool{}
	part.Walk(func(p *page.Part) { all[p.Kind] = true })
	return all
}

// touched reports whether a part, or something in it, was changed.
func (s *Subject) touched(part *page.Part) bool {
	if s.Changed == nil {
		return true
	}
	for _, p := range s.Changed {
		if p.Start >= part.Start && p.End <= part.End {
			return true
		}
	}
	for _, e := range s.Edits {
		if e.Put.End > e.Put.Start && e.Put.Start < part.End && e.Put.End > part.Start {
			return true
		}
	}
	return false
}

// itemsOnce: no item of a set says and shows what another one does.
func itemsOnce(s *Subject) (fs []Finding) {
	for _, set := range s.touchedSets() {
		seen := map[string]*page.Part{}
		for _, item := range set.Items() {
			key := item.Text + "\x00" + picturesIn(item)
			if first := seen[key]; key != "\x00" && first != nil && (s.touched(item) || s.touched(first)) {
				fs = append(
					fs,
					Finding{
						Level: Look,
						Part:  item.ID,
						Words: item.Name,
						Say:   "Another one beside it says and shows the same.",
					},
				)
			}
			seen[key] = item
		}
	}
	return fs
}

func picturesIn(part *page.Part) (all string) {
	part.Walk(func(p *page.Part) {
		if p.Kind == page.Picture {
			all += page.PictureAddress(p) + " "
		}
	})
	return all
}
