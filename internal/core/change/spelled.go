package change

import (
	"slices"
	"strings"

	"golang.org/x/net/html"

	"mendry/internal/core/diff"
)

// spelled writes the items of base, and those that mine kept of it, as raw spells them: a tag with its attributes, a
// sign as its reference, a blank as its line break. What is left to merge is then what mine changed, and a letter
// typed between a tag and a reference takes neither with it.
func spelled(base, mine, raw []string) (asBase, asMine []string) {
	asBase = slices.Clone(base)
	i, j := 0, 0
	script := diff.Script(base, raw)
	for k := 0; k < len(script); {
		gone, put := 0, 0
		for ; k < len(script) && script[k].Is != diff.Same; k++ {
			if script[k].Is == diff.Gone {
				gone += script[k].N
			} else {
				put += script[k].N
			}
		}
		spell(asBase[i:i+gone], raw[j:j+put])
		i, j = i+gone, j+put
		for ; k < len(script) && script[k].Is == diff.Same; k++ {
			i, j = i+script[k].N, j+script[k].N
		}
	}
	asMine = slices.Clone(mine)
	i, j = 0, 0
	for _, op := range diff.Script(base, mine) {
		switch op.Is {
		case diff.Gone:
			i += op.N
		case diff.New:
			j += op.N
		default:
			copy(asMine[j:j+op.N], asBase[i:i+op.N])
			i, j = i+op.N, j+op.N
		}
	}
	return asBase, asMine
}

// spell pairs items with pieces of markup from both ends, as long as they say the same.
func spell(items, raw []string) {
	n := min(len(items), len(raw))
	first := 0
	for ; first < n && spells(raw[first], items[first]); first++ {
		items[first] = raw[first]
	}
	for last := 1; last <= n-first && spells(raw[len(raw)-last], items[len(items)-last]); last++ {
		items[len(items)-last] = raw[len(raw)-last]
	}
}

// spells reports whether a piece of markup is how an item can be written.
func spells(raw, item string) bool {
	tag := strings.HasPrefix(raw, "<") && len(raw) > 1
	switch {
	case item == " ":
		return strings.Trim(raw, " \t\r\n\f") == ""
	case !strings.HasPrefix(item, "<"):
		return !tag && html.UnescapeString(raw) == strings.TrimPrefix(item, typed)
	case !tag || strings.HasPrefix(item, "<seal-"):
		return false
	}
	z := html.NewTokenizer(strings.NewReader(raw))
	kind := z.Next()
	if (kind == html.EndTagToken) != strings.HasPrefix(item, "</") || kind != html.EndTagToken && kind != html.StartTagToken {
		return false
	}
	b, _ := z.TagName()
	name := string(b)
	item, _, _ = strings.Cut(strings.Trim(item, "</>"), "\x00")
	return strings.HasPrefix(item, "keep-") || item == first(ways[name], name)
}
