package change

import (
	"bytes"
	"fmt"
	"slices"
	"strings"

	"mendry/internal/core/page"
	"mendry/internal/core/source"
)

// wrappers tells of sections, items, rows and the like that stay, but for what their own tag says: where a card leads,
// how a figure lies. What stands in both as one pair is in such as are one as well.
func (c *comparison) wrappers() {
	seen := map[*page.Part]bool{}
	for _, pair := range c.stayed {
		for was, now := pair[0].Parent, pair[1].Parent; was != nil && now != nil; was, now = was.Parent, now.Parent {
			if was.Kind != now.Kind || was.Node.Tag() != now.Node.Tag() || seen[was] || seen[now] {
				break // what is above them was looked at, or is something else
			}
			seen[was], seen[now] = true, true
			if !was.Kind.Whole() || was.Run != nil || now.Run != nil || !was.Node.Placed || !now.Node.Placed {
				continue
			}
			a, b := tagOf(was), tagOf(now)
			if bytes.Equal(c.old.Doc.Bytes[a.Start:a.End], c.now.Doc.Bytes[b.Start:b.End]) {
				continue
			}
			c.Tags = append(c.Tags, Diff{
				Kind: "section", Part: now.ID, Name: now.Name, Before: string(c.old.Doc.Bytes[a.Start:a.End]), After: string(c.now.Doc.Bytes[b.Start:b.End]),
				Say: now.Name + ": " + attributesSay(was.Attributes, now.Attributes), Was: []*page.Part{was}, Now: []*page.Part{now},
			})
			c.cutOld, c.cutNew = append(c.cutOld, a), append(c.cutNew, b)
		}
	}
}

func tagOf(p *page.Part) source.Span {
	return source.Span{Start: p.Node.Start(), End: p.Node.InnerStart()}
}

// attributesSay says what differs between the attributes of two tags.
func attributesSay(was, now page.Attributes) string {
	var says []string
	for _, a := range was {
		v, ok := now.Lookup(a.Key)
		switch {
		case ok && v == a.Val:
		case a.Key == "href" && ok:
			says = append(says, fmt.Sprintf("leads to %s instead of %s", v, a.Val))
		case a.Key == "class":
			says = append(says, classesSay(a.Val, v))
		case !ok:
			says = append(says, fmt.Sprintf("%s “%s” is gone", a.Key, page.Short(a.Val, 40)))
		default:
			says = append(says, fmt.Sprintf("%s “%s” becomes “%s”", a.Key, page.Short(a.Val, 40), page.Short(v, 40)))
		}
	}
	for _, a := range now {
		if _, had := was.Lookup(a.Key); had {
			continue
		}
		if a.Key == "class" {
			says = append(says, classesSay("", a.Val))
			continue
		}
		says = append(says, strings.TrimSpace(fmt.Sprintf("%s “%s” is new", a.Key, page.Short(a.Val, 40))))
	}
	if len(says) == 0 {
		return "the same, written otherwise"
	}
	return strings.Join(says, ", ")
}

func classesSay(was, now string) string {
	var gone, new []string
	for _, op := range []struct {
		of, not string
		to      *[]string
	}{{was, now, &gone}, {now, was, &new}} {
		for _, class := range strings.Fields(op.of) {
			if !slices.Contains(strings.Fields(op.not), class) {
				*op.to = append(*op.to, class)
			}
		}
	}
	switch g, n := strings.Join(gone, " "), strings.Join(new, " "); {
	case g == "" && n == "":
		return "its classes in another order"
	case g == "":
		return fmt.Sprintf("class “%s” is new", page.Short(n, 40))
	case n == "":
		return fmt.Sprintf("class “%s” is gone", page.Short(g, 40))
	default:
		return fmt.Sprintf("class “%s” becomes “%s”", page.Short(g, 40), page.Short(n, 40))
	}
}

// stays notes that parts of both pages are one.
func (c *comparison) stays(was, now *page.Part) {
	c.stayed = append(c.stayed, [2]*page.Part{was, now})
}
