package text

import (
	"strings"

	"golang.org/x/net/html"
)

// spoken is where the words of an element go: into one in out that says that they are in another language or run the
// other way, or into out itself.
func (c *cleaner) spoken(out, n *html.Node) *html.Node {
	var as []html.Attribute
	if c.foreign(n) {
		as = append(as, html.Attribute{Key: "lang", Val: attributeOf(n, "lang")})
	}
	if c.turned(n) {
		as = append(as, html.Attribute{Key: "dir", Val: strings.ToLower(attributeOf(n, "dir"))})
	}
	if len(as) == 0 || !c.allow.Marks {
		return out
	}
	e := newElement("span", as...)
	out.AppendChild(e)
	return e
}

// turned reports whether an element's words run the other way than those around it (HTML, 3.2.6.4). Programs say of all
// words that they run from left to right: that tells something within those that do not, and nothing elsewhere.
func (c *cleaner) turned(n *html.Node) bool {
	way := strings.ToLower(attributeOf(n, "dir"))
	around := "ltr"
	for up := n.Parent; up != nil; up = up.Parent {
		if said := strings.ToLower(attributeOf(up, "dir")); said == "ltr" || said == "rtl" {
			around = said
			break
		}
	}
	return (way == "ltr" || way == "rtl") && way != around
}

// unmarked is how much more words count of which no language is said: those who mark some words mark the foreign ones.
const unmarked = 4

// languages notes in which language most of a fragment is: that is the page's affair, and only words in another one
// keep theirs.
func (c *cleaner) languages(root *html.Node) {
	letters := map[string]int{}
	var walk func(n *html.Node, lang string)
	walk = func(n *html.Node, lang string) {
		if l := attributeOf(n, "lang"); l != "" {
			lang = primary(l)
		}
		if n.Type == html.TextNode {
			letters[lang] += len(strings.TrimSpace(n.Data))
		}
		for k := n.FirstChild; k != nil; k = k.NextSibling {
			walk(k, lang)
		}
	}
	walk(root, "")
	letters[""] *= unmarked
	most := -1
	for lang, n := range letters {
		if n > most || n == most && lang < c.lang {
			most, c.lang = n, lang
		}
	}
}

// foreign reports whether an element's words are in another language than most of the fragment. Word processors say
// one of all words that they dress: where the others say none, that tells nothing.
func (c *cleaner) foreign(n *html.Node) bool {
	lang := attributeOf(n, "lang")
	dressed := attributeOf(n, "style") != "" || attributeOf(n, "class") != ""
	return language.MatchString(lang) && primary(lang) != c.lang && (c.lang != "" || !dressed)
}

func primary(lang string) string {
	p, _, _ := strings.Cut(strings.ToLower(lang), "-")
	return p
}
