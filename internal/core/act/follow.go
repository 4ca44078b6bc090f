package act

import (
	"regexp"
	"slices"
	"strings"

	"golang.org/x/net/html"

	"mendry/internal/core/change"
	"mendry/internal/core/page"
	"mendry/internal/core/text"
)

// followed lets links reach what they show: where new words of a part show another phone number or mail address than
// the link in them reached and showed before, the link's address is changed with them.
func followed(part *page.Part, ops []change.Op) []change.Op {
	if len(ops) != 1 || ops[0].Op != change.SetWords {
		return ops
	}
	markup := ops[0].HTML
	if part.Node.Is("a") && part.Run == nil {
		href := part.Attributes.Get("href")
		if to, follows := follow(href, part.Text, plainOf(markup)); follows {
			return append(ops, change.Op{Op: change.SetAttribute, Part: part.ID, Name: "href", Value: &to})
		}
		return ops
	}
	if !reaches.MatchString(markup) {
		return ops
	}
	had := anchorsIn(part.HTML)
	var b strings.Builder
	from := 0
	for _, a := range anchorsIn(markup) {
		i := slices.IndexFunc(had, func(was anchor) bool { return was.href == a.href })
		if i < 0 {
			continue
		}
		if to, follows := follow(a.href, had[i].words, a.words); follows {
			b.WriteString(markup[from:a.at.start] + `"` + html.EscapeString(to) + `"`)
			from = a.at.end
		}
	}
	if from == 0 {
		return ops
	}
	op := ops[0]
	op.HTML = b.String() + markup[from:]
	return []change.Op{op}
}

// follow is where a link leads that reached what it showed, and shows something else now.
func follow(href, was, now string) (to string, follows bool) {
	had, agreed := text.Contact(href, was)
	shown, agrees := text.Contact(href, now)
	half := text.PhoneKey(had) != "" && text.PhoneKey(shown) == "" // while it is typed
	if had == "" || !agreed || agrees || half {
		return "", false
	}
	return text.Following(href, shown), true
}

// anchor is a link in markup: its words, and where the value of its address stands, quotes and all.
type anchor struct {
	href, words string
	at          struct{ start, end int }
}

var (
	reaches   = regexp.MustCompile(`(?i)href\s*=\s*["']?\s*(?:tel|sms|mailto):`)
	hrefValue = regexp.MustCompile(`(?i)\shref\s*=\s*("[^"]*"|'[^']*'|[^\s"'>]+)`)
)

// anchorsIn lists the links in markup that say where they lead.
func anchorsIn(markup string) (all []anchor) {
	z := html.NewTokenizer(strings.NewReader(markup))
	at, open := 0, false
	for {
		kind := z.Next()
		if kind == html.ErrorToken {
			return all
		}
		raw := string(z.Raw())
		switch t := z.Token(); {
		case kind == html.TextToken && open:
			all[len(all)-1].words += t.Data
		case kind == html.StartTagToken && t.Data == "a":
			if m := hrefValue.FindStringSubmatchIndex(raw); m != nil {
				a := anchor{href: html.UnescapeString(strings.Trim(raw[m[2]:m[3]], `"'`))}
				a.at.start, a.at.end = at+m[2], at+m[3]
				all, open = append(all, a), true
			}
		case kind == html.EndTagToken && t.Data == "a":
			open = false
		}
		at += len(raw)
	}
}

func plainOf(markup string) string {
	plain, _ := text.Plain(markup)
	return plain
}
