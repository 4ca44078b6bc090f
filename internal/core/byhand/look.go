package byhand

import (
	"strings"

	"mendry/internal/core/change"
	"mendry/internal/core/diff"
	"mendry/internal/core/page"
	"mendry/internal/core/record"
)

// Seen is what stands of an item on the page that visitors get.
type Seen string

// What may stand there.
const (
	Right     Seen = "right"
	NotYet    Seen = "not yet"   // what stood there before
	Different Seen = "different" // neither
)

// Found is what was seen of an item.
type Found struct {
	Seen  Seen
	Say   string     // what differs, in words; empty where it is right or not yet there
	Runs  []diff.Run // of Different words: from what was to be there to what is
	Slip  bool       // it was put in elsewhere, where something else belongs
	Right []bool     // which of the item's values stand there; nil where that cannot be told
}

// Look tells what of the items of List(before, after) stands on a page, and what else differs there that is none of
// them. A program may write the same words in other markup: that is no difference.
func Look(items []Item, before, after, live *page.Page) ([]Found, []change.Diff) {
	var wasMarkup, isMarkup []*page.Part // of items that nobody sees in words: their markup counts
	for _, it := range items {
		if it.Alike() {
			wasMarkup, isMarkup = append(wasMarkup, it.Was...), append(isMarkup, it.Now...)
		}
	}
	toAfter, toBefore := differ(after, live, isMarkup), differ(before, live, wasMarkup)
	found, ours := make([]Found, len(items)), map[*page.Part]bool{}
	for i, it := range items {
		a, b := of(toAfter, it, it.Now), of(toBefore, it, it.Was)
		found[i].Seen = seen(it, a, b, toAfter)
		if found[i].Seen == Different && len(a) > 0 {
			found[i].Say, found[i].Runs, found[i].Right = a[0].Say, a[0].Words, rightOf(it, a)
		}
		for _, d := range append(a, b...) {
			for _, p := range d.Now {
				ours[p] = true
			}
		}
	}
	var others []change.Diff
	for _, d := range toAfter {
		if !ofItems(items, d, ours) {
			others = append(others, d)
		}
	}
	return found, slips(items, found, after, others)
}

// seen judges an item by what differs in its parts: a from the page as it is to be, b from the page as it was.
func seen(it Item, a, b, toAfter []change.Diff) Seen {
	switch {
	case it.Act == TakeOut && len(b) == 0:
		return NotYet
	case it.Act == TakeOut:
		for _, d := range b { // altered instead of taken out
			for _, n := range toAfter {
				if overlap(d.Now, n.Now) {
					return Different
				}
			}
		}
		return Right
	case len(a) == 0:
		return Right
	case it.Act == PutIn && !whollyGone(it.Now, a), it.Act != PutIn && len(b) > 0:
		return Different
	}
	return NotYet
}

// whollyGone reports whether a difference says of all that was to be put in that it is not there.
func whollyGone(ps []*page.Part, ds []change.Diff) bool {
	for _, d := range ds {
		if len(d.Now) == 0 && says(d.Was, ps) {
			return true
		}
		if len(d.Now) == 0 && len(d.Was) > 0 && d.Was[0].Start <= ps[0].Start && d.Was[len(d.Was)-1].End >= ps[len(ps)-1].End {
			return true
		}
	}
	return false
}

// differ lists what visitors see differently on another version of a page, and every difference of some parts.
func differ(want, live *page.Page, whole []*page.Part) (ds []change.Diff) {
	for _, d := range change.Compare(want, live).Changes {
		if !d.Alike() || overlap(d.Was, whole) {
			ds = append(ds, d)
		}
	}
	return ds
}

// of lists the differences that an item has to do with; ps are its parts on the page that the live one was compared
// with.
func of(ds []change.Diff, it Item, ps []*page.Part) (mine []change.Diff) {
	for _, d := range ds {
		switch {
		case it.Kind == "facts":
			if d.Kind == "facts" && d.Part == it.Part {
				mine = append(mine, d)
			}
		case len(ps) > 0:
			twin := it.Act != Alter && len(d.Now) == 0 && says(d.Was, ps) // which of two that are alike is gone, nobody can tell
			if overlap(d.Was, ps) || twin {
				mine = append(mine, d)
			}
		case it.Act == TakeOut && len(d.Was) == 0 && says(d.Now, it.Was): // it still stands there
			mine = append(mine, d)
		case it.Act == PutIn && len(d.Was) == 0 && says(d.Now, it.Now): // it stands there, maybe elsewhere
			mine = append(mine, d)
		}
	}
	return mine
}

func overlap(as, bs []*page.Part) bool {
	for _, a := range as {
		for _, b := range bs {
			if a.Start < b.End && b.Start < a.End {
				return true
			}
		}
	}
	return false
}

// says reports whether parts say what others do.
func says(ps, like []*page.Part) bool {
	return len(ps) > 0 && len(like) > 0 && squeeze(textOf(ps)) == squeeze(textOf(like))
}

func squeeze(s string) string { return strings.Join(strings.Fields(s), " ") }

// ofItems reports whether a difference from the page as it is to be is one that an item accounts for. What no item is
// about stands on the page as it was too, so that a difference there is somebody else's.
func ofItems(items []Item, d change.Diff, ours map[*page.Part]bool) bool {
	if len(d.Was) == 0 {
		for _, p := range d.Now {
			if ours[p] {
				return true
			}
		}
	}
	for _, it := range items {
		if it.Kind == "facts" && d.Kind == "facts" && d.Part == it.Part || overlap(d.Was, it.Now) ||
			len(d.Was) == 0 && says(d.Now, it.Was) {
			return true
		}
	}
	return false
}

// Same reports whether visitors see the same on two versions of a page.
func Same(a, b *page.Page) bool { return len(differ(a, b, nil)) == 0 }

// Key tells a difference from others of its page, and is the same at every look (SHA-256, hexadecimal).
func Key(d change.Diff) string {
	return record.Sum([]byte(d.Kind + "\x00" + d.Before + "\x00" + d.After))
}
