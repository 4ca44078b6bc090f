package byhand

import (
	"fmt"
	"path"
	"slices"

	"mendry/internal/core/change"
	"mendry/internal/core/page"
)

// slips brings together what is not in its place yet and what stands elsewhere instead: a value that was put into the
// wrong row is no difference of somebody else's. It returns the differences that are none.
func slips(items []Item, found []Found, after *page.Page, others []change.Diff) []change.Diff {
	for i, it := range items {
		if it.Act != Alter || found[i].Seen != NotYet || it.Kind == "facts" {
			continue
		}
		at := slices.IndexFunc(others, func(d change.Diff) bool { return len(d.Was) == 1 && len(d.Now) == 1 && misplaced(it, d) })
		if at < 0 {
			continue
		}
		d := others[at]
		says, belongs := d.After, d.Before
		if it.Kind == "picture" {
			says, belongs = path.Base(d.Now[0].Attributes.Get("src")), path.Base(d.Was[0].Attributes.Get("src"))
		}
		found[i] = Found{Seen: Different, Slip: true, Say: fmt.Sprintf(
			"It stands elsewhere, %s: “%s” in the place of “%s”. Put that back there, and it here.", where(after, d.Was), page.Short(says, shown), page.Short(belongs, shown),
		)}
		others = slices.Delete(others, at, at+1)
	}
	return others
}

// misplaced reports whether a difference is what an item asked for, in another place.
func misplaced(it Item, d change.Diff) bool {
	was, now := it.Was[0], it.Now[0]
	if it.Kind == "picture" {
		src := now.Attributes.Get("src")
		return d.Kind == "picture" && was.Attributes.Get("src") != src && path.Base(d.Now[0].Attributes.Get("src")) == path.Base(src)
	}
	return d.Kind == "words" && was.Text != now.Text && squeeze(d.After) == squeeze(now.Text)
}

// rightOf tells of each value of an item whether it stands on the page that visitors get, by the differences there from
// the page as it is to be.
func rightOf(it Item, ds []change.Diff) (right []bool) {
	if it.Act != Alter || it.Kind == "facts" || len(it.Values) < 2 || len(ds) == 0 || len(ds[0].Now) != 1 {
		return nil
	}
	left, _ := values(ds[0].Now[0], it.Now[0]) // what is still to be done there
	for _, v := range it.Values {
		right = append(right, !slices.ContainsFunc(left, func(l Value) bool { return l.Name == v.Name }))
	}
	return right
}
