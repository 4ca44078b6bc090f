package change

import (
	"fmt"
	"slices"
	"strings"
	"unicode"

	"mendry/internal/core/page"
	"mendry/internal/core/source"
)

// looks are the ways in which words can look, by element; a link is one way for each target.
var looks = map[string]string{
	"b": "bold", "strong": "bold", "i": "italic", "em": "italic", "u": "underlined", "s": "struck out", "del": "struck out",
	"code": "code", "sub": "lowered", "sup": "raised", "mark": "marked", "small": "small",
}

// styled is a sign of a part's words with the ways in which it looks.
type styled struct {
	sign rune
	ways []string
}

func styledOf(part *page.Part) (all []styled) {
	var walk func(n *source.Node, ways []string)
	walk = func(n *source.Node, ways []string) {
		if n.IsText() {
			for _, r := range n.HTML.Data {
				if !unicode.IsSpace(r) {
					all = append(all, styled{r, ways})
				} else if len(all) > 0 && all[len(all)-1].sign != ' ' {
					all = append(all, styled{' ', ways})
				}
			}
			return
		}
		if way := looks[n.Tag()]; way != "" && !slices.Contains(ways, way) {
			ways = append(slices.Clip(ways), way)
		}
		if n.Is("a") {
			for _, a := range n.HTML.Attr {
				if a.Key == "href" {
					ways = append(slices.Clip(ways), "a link to "+a.Val)
				}
			}
		}
		if n.Is("span") {
			for _, a := range n.HTML.Attr {
				if a.Key == "class" && a.Val != "" {
					ways = append(slices.Clip(ways), "in the style “"+a.Val+"”")
				}
			}
		}
		for _, k := range n.Kids {
			walk(k, ways)
		}
	}
	for _, n := range part.Content() {
		walk(n, nil)
	}
	return all
}

// formatting says how words look that stayed the same: "“Larkspur” is now italic and no longer bold". It is empty
// where they look as before.
func formatting(old, now *page.Part) string {
	a, b := styledOf(old), styledOf(now)
	if len(a) != len(b) {
		return ""
	}
	var says []string
	for i := 0; i < len(a); {
		gain, lose := differ(a[i], b[i])
		if len(gain)+len(lose) == 0 || a[i].sign == ' ' {
			i++
			continue
		}
		j := i
		var words strings.Builder
		for ; j < len(a); j++ {
			g, l := differ(a[j], b[j])
			if a[j].sign != ' ' && (!slices.Equal(g, gain) || !slices.Equal(l, lose)) {
				break
			}
			words.WriteRune(a[j].sign)
		}
		says = append(says, fmt.Sprintf("“%s” is %s", page.Short(words.String(), 40), waysOf(gain, lose)))
		i = j
	}
	if len(says) > 3 {
		says = append(says[:3], "and more")
	}
	return strings.Join(says, "; ")
}

func differ(a, b styled) (gain, lose []string) {
	for _, w := range b.ways {
		if !slices.Contains(a.ways, w) {
			gain = append(gain, w)
		}
	}
	for _, w := range a.ways {
		if !slices.Contains(b.ways, w) {
			lose = append(lose, w)
		}
	}
	return gain, lose
}

func waysOf(gain, lose []string) string {
	switch {
	case len(lose) == 0:
		return "now " + strings.Join(gain, " and ")
	case len(gain) == 0:
		return "no longer " + strings.Join(lose, " and ")
	}
	return "now " + strings.Join(gain, " and ") + ", no longer " + strings.Join(lose, " and ")
}
